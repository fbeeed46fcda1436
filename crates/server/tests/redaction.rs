//! What students get holds no key, no repair, nothing hidden and nothing that is not revealed yet: random exercises and wrong
//! hand-ins, under all terms, through every route that students may read.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use actix_web::cookie::Cookie;
use actix_web::dev::{Service, ServiceResponse};
use actix_web::{App, test as at, web};
use serde_json::{Value, json};
use server::{Access, AppState, ROUTES, configure, hash_password};
use std::fmt::Write;
use store::{FileKind, NewFile, NewHandIn, Role, Store};

const PASSWORD: &str = "lemon-peel";
const DAY: i64 = 86_400;
/// Stands in the solution and in the testbench of every exercise.
const HIDDEN: &str = "kumquat_of_the_key";

/// An exercise of four inputs with a random key; the key as the column of its output, and a design that is wrong on some
/// rows.
struct Case {
    text: String,
    key: String,
    wrong: String,
}

fn case(seed: u64, shows_answers: bool) -> Case {
    let mut random = base::Random::new(seed);
    let column = (random.word() >> 20) as u16 & 0x7ffe | 0x4002;
    let spoilt = column ^ (1 << (random.word() >> 40 & 15)) ^ (1 << (random.word() >> 50 & 15));
    let spoilt = if spoilt == column { column ^ 1 } else { spoilt };
    let bit = |column: u16, row: u32| u32::from(column >> row & 1);
    let key: String = (0..16).map(|row| if bit(column, row) == 1 { '1' } else { '0' }).collect();
    let mut rows = String::new();
    let mut arms = String::new();
    for row in 0..16 {
        let _ = writeln!(rows, "{row:04b} | {}", bit(column, row));
        let _ = writeln!(arms, "4'd{row}: y = {};", bit(spoilt, row));
    }
    let answers = if shows_answers { "shown" } else { "hidden" };
    let text = format!(
        "format = \"zesty-gate/exercise/1\"\ntitle = \"Sorter {seed}\"\n[[port]]\nname = \"x\"\ndir = \"in\"\nrange = \"3:0\"\n\
         [[port]]\nname = \"y\"\ndir = \"out\"\n[behaviour]\nkind = \"table\" # {HIDDEN}\nrows = \"\"\"\n{rows}\"\"\"\n\
         [students]\nanswers = \"{answers}\"\n[[attachment]]\nname = \"key.v\"\nuse = \"reference\"\ntext = \"// {HIDDEN}\"\n\
         [[attachment]]\nname = \"begin.v\"\nuse = \"starter\"\ntext = \"// begin_here\"\n"
    );
    let wrong = format!("module m(input [3:0] x, output reg y);\nalways @* case (x)\n{arms}endcase\nendmodule\n");
    Case { text, key, wrong }
}

async fn ask<S, B>(app: &S, cookie: &Cookie<'static>, request: at::TestRequest) -> (u16, String)
where
    S: Service<actix_http::Request, Response = ServiceResponse<B>, Error = actix_web::Error>,
    B: actix_web::body::MessageBody,
{
    let response = at::call_service(app, request.cookie(cookie.clone()).to_request()).await;
    let status = response.status().as_u16();
    (status, String::from_utf8_lossy(&at::read_body(response).await).into_owned())
}

/// Every text of a JSON value, names of fields among them.
fn texts(value: &Value, found: &mut Vec<String>) {
    match value {
        Value::String(text) => found.push(text.clone()),
        Value::Array(list) => list.iter().for_each(|v| texts(v, found)),
        Value::Object(fields) => fields.values().for_each(|v| texts(v, found)),
        _ => {}
    }
}

#[actix_web::test]
async fn no_answer_to_a_student_holds_what_is_not_revealed() {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(folder.path()).unwrap();
    let hash = hash_password(PASSWORD).unwrap();
    let now = jiff::Timestamp::now().as_second();
    let instructor = store.add_person("Ines", "ines", &hash, 1).unwrap();
    let course = store.add_course("Packhouse Controls", instructor, 1).unwrap();
    let student = store.add_person("Milo", "milo", &hash, 1).unwrap();
    let other = store.add_person("Abel", "abel", &hash, 1).unwrap();
    for person in [student, other] {
        store.set_member(course, person, Role::Student, "A").unwrap();
    }
    let pool = worker::Pool::within(worker::Limits::default());
    let mut cases = Vec::new();
    for (k, (shown, due)) in [
        ("all", now + DAY),
        ("stages", now + DAY),
        ("after_due", now + DAY),
        ("after_due", now - DAY),
        ("stages", now - DAY),
    ]
    .into_iter()
    .cycle()
    .take(10)
    .enumerate()
    {
        let case = case(k as u64 * 77 + 5, k % 2 == 1);
        let exercise = store.add_exercise(course, "Sorter", &case.text, instructor, 1).unwrap();
        let hand_in = |person, text: &str| {
            let files = vec![NewFile { kind: FileKind::Design, name: "m.v".into(), bytes: text.into() }];
            let new = NewHandIn { exercise, student: person, submitted_by: person, top: None, files };
            let (id, _) = store.add_hand_in(course, &new, now - 2 * DAY).unwrap();
            server::check_now(&store, &pool, course, id, now).unwrap();
            id
        };
        let foreign = hand_in(other, &format!("// of_the_other_{k}\n{}", case.wrong));
        let own = hand_in(student, &case.wrong);
        cases.push((case, exercise, own, foreign, shown, due));
    }
    let state = AppState::new(store, None, None);
    let app = at::init_service(App::new().app_data(web::Data::from(state)).configure(configure)).await;
    let mut cookies = Vec::new();
    for name in ["ines", "milo"] {
        let body = json!({ "name": name, "password": PASSWORD });
        let request = at::TestRequest::post().uri("/api/sign-in").set_json(body).to_request();
        let response = at::call_service(&app, request).await;
        cookies.push(response.response().cookies().next().unwrap().into_owned());
    }
    let (staff, milo) = (cookies[0].clone(), cookies[1].clone());
    let (mut read, mut begun) = (0, 0);
    for (case, exercise, own, foreign, shown, due) in &cases {
        let due_text = jiff::Timestamp::from_second(*due).unwrap().to_string();
        let terms = json!({"release": null, "due": due_text, "attempts": null, "refuses_late": false, "shown": shown,
            "extensions": []});
        let request = at::TestRequest::put().uri(&format!("/api/courses/1/exercises/{exercise}/terms")).set_json(terms);
        assert_eq!(ask(&app, &staff, request).await.0, 204);
        let is_over = *due < now;
        let for_students = ROUTES.iter().filter(|r| r.method == "GET" && r.path.contains("{course}"));
        let mut answers = Vec::new();
        for route in
            for_students.filter(|r| matches!(r.access, Access::Member(roles) if roles.contains(&Role::Student)))
        {
            for hand_in in [own, foreign] {
                let uri = route.path.replace("{course}", "1").replace("{exercise}", &exercise.to_string());
                let mut uri = uri.replace("{hand_in}", &hand_in.to_string());
                if uri.ends_with("/difference") {
                    // Neither side of it may be another's.
                    let against = format!("/api/courses/1/hand-ins/{own}/difference?from={foreign}");
                    assert_eq!(ask(&app, &milo, at::TestRequest::get().uri(&against)).await.0, 404);
                    uri += &format!("?from={own}");
                }
                let (status, text) = ask(&app, &milo, at::TestRequest::get().uri(&uri)).await;
                assert!(status < 500, "{uri}: {text}");
                assert!(hand_in == own || !route.path.contains("{hand_in}") || status == 404, "{uri} is another's");
                answers.push((uri, text));
            }
        }
        let body = json!({ "files": [{ "name": "m.v", "text": case.wrong }], "top": null });
        let uri = format!("/api/courses/1/exercises/{exercise}/try");
        let tried = ask(&app, &milo, at::TestRequest::post().uri(&uri).set_json(body)).await;
        answers.push((uri, tried.1));
        for (uri, text) in answers {
            read += 1;
            begun += usize::from(text.contains("begin_here"));
            assert!(!text.contains(HIDDEN) && !text.contains("of_the_other"), "{uri}: {text}");
            let mut found = Vec::new();
            texts(&serde_json::from_str(&text).unwrap_or(Value::Null), &mut found);
            assert!(!found.iter().any(|t| t.contains(&case.key)), "{uri} holds the key: {text}");
            let value: Value = serde_json::from_str(&text).unwrap_or(Value::Null);
            let verdict = &value["verdict"];
            if verdict.is_null() {
                continue;
            }
            let hides = match *shown {
                "stages" => true,
                "after_due" => !is_over,
                _ => false,
            };
            let near = verdict["near_misses"].as_array().unwrap();
            if hides {
                assert!(near.is_empty() && value["actual"] == json!([]), "{uri}: {text}");
                let of_text = |f: &Value| ["files", "names", "language"].contains(&f["stage"].as_str().unwrap());
                assert!(verdict["findings"].as_array().unwrap().iter().all(of_text), "{uri}: {text}");
                assert!(!text.contains("rows are wrong"), "{uri}: {text}");
            }
            if case.text.contains("\"hidden\"") {
                assert!(near.iter().all(|n| n["after"].is_null()), "{uri} holds a repair: {text}");
            }
            if *shown == "after_due" && !is_over {
                assert_eq!(
                    (&verdict["verdict"], &verdict["rows"]["passed"]),
                    (&json!("cannot_tell"), &json!(0)),
                    "{uri}"
                );
            }
        }
    }
    assert!(read > 100, "{read} answers were read");
    assert_eq!(begun, 2 * cases.len(), "the starter file is on the page of the exercise");
}
