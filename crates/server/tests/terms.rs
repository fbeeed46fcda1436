//! When exercises are worked at, and what a student reads of a verdict before and after the due time.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use actix_web::cookie::Cookie;
use actix_web::dev::{Service, ServiceResponse};
use actix_web::{App, test as at, web};
use serde_json::{Value, json};
use server::{AppState, configure, hash_password};
use store::{FileKind, NewFile, NewHandIn, Role, Store};

const EXERCISE: &str = include_str!("../../../demo/hopper-interlock/exercise.toml");
/// Wrong in two rows.
const WRONG: &str = "module h(input full, gate, run, output motor, output [1:0] stops);\n\
    assign motor = run & ~full & ~gate; assign stops[1] = full & gate; assign stops[0] = full | gate; endmodule\n";
const PASSWORD: &str = "lemon-peel";
const DAY: i64 = 86_400;

async fn ask<S, B>(app: &S, cookie: &Cookie<'static>, request: at::TestRequest) -> (u16, Value)
where
    S: Service<actix_http::Request, Response = ServiceResponse<B>, Error = actix_web::Error>,
    B: actix_web::body::MessageBody,
{
    let response = at::call_service(app, request.cookie(cookie.clone()).to_request()).await;
    let status = response.status().as_u16();
    (status, serde_json::from_slice(&at::read_body(response).await).unwrap_or(Value::Null))
}

macro_rules! world {
    ($app:ident, $staff:ident, $student:ident, $hand_in:ident, $now:ident) => {
        let folder = tempfile::tempdir().unwrap();
        let store = Store::open(folder.path()).unwrap();
        let hash = hash_password(PASSWORD).unwrap();
        let $now = jiff::Timestamp::now().as_second();
        let instructor = store.add_person("Ines", "ines", &hash, 1).unwrap();
        let course = store.add_course("Packhouse Controls", instructor, 1).unwrap();
        let student = store.add_person("Milo", "milo", &hash, 1).unwrap();
        store.set_member(course, student, Role::Student, "A").unwrap();
        let exercise = store.add_exercise(course, "Hopper interlock", EXERCISE, instructor, 1).unwrap();
        let files = vec![NewFile { kind: FileKind::Design, name: "h.v".into(), bytes: WRONG.into() }];
        let new = NewHandIn { exercise, student, submitted_by: student, top: None, files };
        let ($hand_in, _) = store.add_hand_in(course, &new, $now).unwrap();
        let pool = worker::Pool::within(worker::Limits::default());
        server::check_now(&store, &pool, course, $hand_in, $now).unwrap();
        let state = AppState::new(store, None, None);
        let $app = at::init_service(App::new().app_data(web::Data::from(state)).configure(configure)).await;
        let mut cookies = Vec::new();
        for name in ["ines", "milo"] {
            let body = json!({ "name": name, "password": PASSWORD });
            let request = at::TestRequest::post().uri("/api/sign-in").set_json(body).to_request();
            let response = at::call_service(&$app, request).await;
            cookies.push(response.response().cookies().next().unwrap().into_owned());
        }
        let $student: Cookie<'static> = cookies.pop().unwrap();
        let $staff: Cookie<'static> = cookies.pop().unwrap();
    };
}

/// A time with an offset of its own.
fn stamp(at: i64) -> String {
    jiff::Timestamp::from_second(at).unwrap().to_string()
}

fn terms(release: Option<i64>, due: Option<i64>, shown: &str) -> Value {
    json!({"release": release.map(stamp), "due": due.map(stamp), "attempts": null, "refuses_late": true, "shown": shown, "extensions": []})
}

fn put(body: Value) -> at::TestRequest {
    at::TestRequest::put().uri("/api/courses/1/exercises/1/terms").set_json(body)
}

fn get(uri: &str) -> at::TestRequest {
    at::TestRequest::get().uri(uri)
}

#[actix_web::test]
async fn before_its_release_an_exercise_is_not_there_for_students() {
    world!(app, staff, student, hand_in, now);
    assert_eq!(ask(&app, &staff, put(terms(Some(now + DAY), None, "all"))).await.0, 204);
    for path in ["/api/courses/1/exercises/1"] {
        assert_eq!(ask(&app, &student, get(path)).await.0, 404);
        assert_eq!(ask(&app, &staff, get(path)).await.0, 200);
    }
    let (_, sheet) = ask(&app, &student, get("/api/courses/1/pass-sheet")).await;
    assert_eq!(sheet["exercises"], json!([]));
    assert_eq!(sheet["students"][0]["cells"], json!([]));
    let body = json!({ "files": [{ "name": "h.v", "text": WRONG }], "top": null });
    let attempt = at::TestRequest::post().uri("/api/courses/1/exercises/1/try").set_json(body);
    assert_eq!(ask(&app, &student, attempt).await.0, 404);
    let _ = hand_in;
}

#[actix_web::test]
async fn a_verdict_that_is_held_back_shows_nothing_before_the_due_time_and_all_after_it() {
    world!(app, staff, student, hand_in, now);
    let page = format!("/api/courses/1/hand-ins/{hand_in}");
    assert_eq!(ask(&app, &staff, put(terms(None, Some(now + DAY), "after_due"))).await.0, 204);
    let (_, own) = ask(&app, &student, get(&page)).await;
    let text = own.to_string();
    assert_eq!((own["cell"]["state"].as_str(), own["shown_after"].as_i64()), (Some("held_back"), Some(now + DAY)));
    assert_eq!((&own["verdict"]["verdict"], &own["verdict"]["findings"]), (&json!("cannot_tell"), &json!([])));
    assert!(own["verdict"]["near_misses"] == json!([]) && own["actual"] == json!([]), "{text}");
    assert!(!text.contains("rows are wrong") && !text.contains("2 of 8"), "{text}");
    let (_, sheet) = ask(&app, &student, get("/api/courses/1/pass-sheet")).await;
    assert_eq!(sheet["students"][0]["cells"][0]["state"], "held_back");
    let body = json!({ "files": [{ "name": "h.v", "text": WRONG }], "top": null });
    let attempt = at::TestRequest::post().uri("/api/courses/1/exercises/1/try").set_json(body);
    let (_, tried) = ask(&app, &student, attempt).await;
    assert_eq!((&tried["verdict"]["verdict"], &tried["actual"]), (&json!("cannot_tell"), &json!([])));
    // Staff reads all at any time.
    let (_, seen) = ask(&app, &staff, get(&page)).await;
    assert_eq!((&seen["verdict"]["verdict"], &seen["cell"]["state"]), (&json!("partly"), &json!("partly")));
    // Over, for everybody; an extension holds it back longer for one section.
    assert_eq!(ask(&app, &staff, put(terms(None, Some(now - 10), "after_due"))).await.0, 204);
    let (_, own) = ask(&app, &student, get(&page)).await;
    assert_eq!((&own["verdict"]["verdict"], &own["cell"]["late"]), (&json!("partly"), &json!(true)));
    let mut longer = terms(None, Some(now - 10), "after_due");
    longer["extensions"] = json!([{"person": null, "section": "A", "due": stamp(now + DAY)}]);
    assert_eq!(ask(&app, &staff, put(longer)).await.0, 204);
    let (_, own) = ask(&app, &student, get(&page)).await;
    assert_eq!((&own["cell"]["state"], &own["cell"]["late"]), (&json!("held_back"), &json!(false)));
}

#[actix_web::test]
async fn where_only_stages_are_shown_no_finding_of_the_behaviour_is() {
    world!(app, staff, student, hand_in, now);
    assert_eq!(ask(&app, &staff, put(terms(None, Some(now + DAY), "stages"))).await.0, 204);
    let (_, own) = ask(&app, &student, get(&format!("/api/courses/1/hand-ins/{hand_in}"))).await;
    assert_eq!(own["headline"], "Not right yet: the stage `behaviour` does not pass.");
    let states: Vec<&str> =
        own["verdict"]["stages"].as_array().unwrap().iter().map(|s| s["state"].as_str().unwrap()).collect();
    assert_eq!(states[..4], ["pass", "pass", "pass", "fail"]);
    assert!(own["verdict"]["findings"] == json!([]) && own["verdict"]["near_misses"] == json!([]));
    assert_eq!(own["actual"], json!([]));
}

#[actix_web::test]
async fn late_hand_ins_and_further_attempts_are_refused_where_the_terms_say_so() {
    world!(app, staff, student, hand_in, now);
    let hand_in_form = || {
        let body = format!(
            "--x\r\ncontent-disposition: form-data; name=\"files\"; filename=\"h.v\"\r\n\r\n{WRONG}\r\n--x--\r\n"
        );
        at::TestRequest::post()
            .uri("/api/courses/1/exercises/1/hand-ins")
            .insert_header(("content-type", "multipart/form-data; boundary=x"))
            .set_payload(body)
    };
    assert_eq!(ask(&app, &staff, put(terms(None, Some(now - 10), "all"))).await.0, 204);
    let (status, told) = ask(&app, &student, hand_in_form()).await;
    assert!(status == 422 && told["detail"].as_str().unwrap().contains("The due time is over"), "{told}");
    let mut once = terms(None, Some(now + DAY), "all");
    once["attempts"] = json!(1);
    assert_eq!(ask(&app, &staff, put(once)).await.0, 204);
    let (_, page) = ask(&app, &student, get("/api/courses/1/exercises/1")).await;
    assert_eq!(page["own_terms"]["attempts_left"], 0);
    let (status, told) = ask(&app, &student, hand_in_form()).await;
    assert!(status == 422 && told["detail"].as_str().unwrap().contains("The only attempt is used"), "{told}");
    assert_eq!(ask(&app, &staff, put(terms(None, None, "all"))).await.0, 204);
    assert_eq!(ask(&app, &student, hand_in_form()).await.0, 201);
    let faults = [
        (terms(Some(now), Some(now), "all"), "due before it is released"),
        (terms(None, None, "after_due"), "only where there is one"),
        (terms(None, None, "some"), "`all`, `stages` or `after_due`"),
    ];
    for (body, wanted) in faults {
        let (status, told) = ask(&app, &staff, put(body)).await;
        assert!(status == 422 && told["detail"].as_str().unwrap().contains(wanted), "{told}");
    }
    let mut stranger = terms(None, Some(now + DAY), "all");
    stranger["extensions"] = json!([{"person": 99, "section": "", "due": stamp(now + 2 * DAY)}]);
    assert_eq!(ask(&app, &staff, put(stranger)).await.0, 404);
    let _ = hand_in;
}

/// Central Europe is an hour before UTC in winter and two in summer (tz database of IANA).
#[actix_web::test]
async fn times_are_typed_and_said_on_the_clock_of_the_course() {
    world!(app, staff, student, hand_in, now);
    let _ = (hand_in, now);
    let course = |zone: &str| {
        let body = json!({ "title": "Packhouse Controls", "copy_of": null, "zone": zone });
        at::TestRequest::put().uri("/api/courses/1").set_json(body)
    };
    let (status, told) = ask(&app, &staff, course("Packhouse/North")).await;
    assert!(status == 422 && told["detail"].as_str().unwrap().contains("is no time zone"), "{told}");
    assert_eq!(ask(&app, &staff, course("Europe/Vienna")).await.0, 204);
    let typed = |release: &str, due: &str| {
        let mut body = terms(None, None, "all");
        (body["release"], body["due"]) = (json!(release), json!(due));
        put(body)
    };
    let (status, told) = ask(&app, &staff, typed("2027-03-28T02:30", "2027-04-28T17:00")).await;
    assert!(status == 422 && told["detail"].as_str().unwrap().contains("put forward"), "{told}");
    let mut slip = terms(None, None, "all");
    slip["due_at"] = json!(5);
    assert_eq!(ask(&app, &staff, put(slip)).await.0, 422);
    assert_eq!(ask(&app, &staff, typed("2020-01-12T08:00", "2099-07-12T17:00")).await.0, 204);
    let (_, page) = ask(&app, &staff, get("/api/courses/1/exercises/1")).await;
    let shown = &page["terms"];
    assert_eq!((&shown["zone"], &shown["due"]), (&json!("Europe/Vienna"), &json!("2099-07-12T17:00")));
    let second = |text: &str| text.parse::<jiff::Timestamp>().unwrap().as_second();
    assert_eq!(shown["release_at"], second("2020-01-12T07:00:00Z"));
    assert_eq!(shown["due_at"], second("2099-07-12T15:00:00Z"));
    // Another zone says the same moment on another clock.
    assert_eq!(ask(&app, &staff, course("America/St_Johns")).await.0, 204);
    let (_, own) = ask(&app, &student, get("/api/courses/1/exercises/1")).await;
    assert_eq!(own["own_terms"]["due_at"], second("2099-07-12T15:00:00Z"));
    assert_eq!(own["own_terms"]["due"], "2099-07-12T12:30");
    let (_, audit) = ask(&app, &staff, get("/api/courses/1/audit")).await;
    assert!(audit.to_string().contains("time zone set"), "{audit}");
}

#[actix_web::test]
async fn a_decision_of_staff_is_read_by_the_student_with_its_reason() {
    world!(app, staff, student, hand_in, now);
    let page = format!("/api/courses/1/hand-ins/{hand_in}");
    let decide = |kind: &str, marks: Value, reason: &str| {
        let body = json!({ "kind": kind, "marks": marks, "reason": reason });
        at::TestRequest::put().uri(&format!("/api/courses/1/hand-ins/{hand_in}/decision")).set_json(body)
    };
    for (kind, marks, reason, told) in [
        ("pass", Value::Null, "  ", "no reason"),
        ("fine", Value::Null, "It works.", "no outcome"),
        ("pass", json!(10.5), "It works.", "from 0 to 10"),
        ("pass", Value::Null, &"x".repeat(501), "at most 500"),
    ] {
        let (status, answer) = ask(&app, &staff, decide(kind, marks, reason)).await;
        assert!(status == 422 && answer["detail"].as_str().unwrap().contains(told), "{answer}");
    }
    assert_eq!(ask(&app, &staff, decide("pass", Value::Null, "Shown at the\nbench.")).await.0, 204);
    let (_, own) = ask(&app, &student, get(&page)).await;
    assert_eq!((&own["cell"]["state"], &own["cell"]["by_hand"]), (&json!("passed"), &json!(true)));
    assert_eq!((&own["decision"]["reason"], &own["decision"]["by"]), (&json!("Shown at the bench."), &json!("Ines")));
    assert_eq!(own["verdict"]["verdict"], "partly", "the check's own stays to be read");
    // Before the due time nothing of it is shown where verdicts are held back.
    assert_eq!(ask(&app, &staff, put(terms(None, Some(now + DAY), "after_due"))).await.0, 204);
    let (_, own) = ask(&app, &student, get(&page)).await;
    assert_eq!((&own["cell"]["state"], &own["decision"]), (&json!("held_back"), &Value::Null));
    assert_eq!(own["cell"]["by_hand"], json!(false));
    let uri = format!("/api/courses/1/hand-ins/{hand_in}/decision");
    assert_eq!(ask(&app, &staff, at::TestRequest::delete().uri(&uri)).await.0, 204);
    let (_, seen) = ask(&app, &staff, get(&page)).await;
    assert_eq!((&seen["cell"]["state"], &seen["decision"]), (&json!("partly"), &Value::Null));
}

#[actix_web::test]
async fn only_marks_changed_are_counted_anew_without_a_check() {
    world!(app, staff, student, hand_in, now);
    let _ = now;
    let save = |version: i64, marks: &str| {
        let text = EXERCISE.replace("behaviour = 6\nwiring = 3\nbench = 1", marks);
        let body = json!({ "text": text, "version": version });
        at::TestRequest::put().uri("/api/courses/1/exercises/1").set_json(body)
    };
    let page = format!("/api/courses/1/hand-ins/{hand_in}");
    let mut version = 1;
    for (marks, counted) in [("behaviour = 8", json!([6.0, 8.0])), ("behaviour = 4\nlanguage = 1", json!([4.0, 5.0]))] {
        let (status, saved) = ask(&app, &staff, save(version, marks)).await;
        assert_eq!(status, 200, "{saved}");
        let (_, preview) = ask(&app, &staff, get("/api/courses/1/exercises/1/publish")).await;
        assert_eq!((&preview["changes_checks"], &preview["changes_marks"]), (&json!(false), &json!(true)));
        assert_eq!((&preview["stale"], &preview["recounted"]), (&json!(0), &json!(1)));
        let body = json!({ "version": saved["version"] });
        let publish = at::TestRequest::post().uri("/api/courses/1/exercises/1/publish").set_json(body);
        let (_, published) = ask(&app, &staff, publish).await;
        version = published["version"].as_i64().unwrap();
        let (_, own) = ask(&app, &student, get(&page)).await;
        assert_eq!(json!([own["cell"]["marks"], own["cell"]["out_of"]]), counted);
        assert_eq!(own["cell"]["stale"], false);
        let why = own["verdict"]["marks"]["parts"].to_string();
        assert!(why.contains("6 of 8 rows"), "{why}");
    }
}

#[actix_web::test]
async fn attempts_of_one_student_are_held_against_each_other_and_no_others() {
    world!(app, staff, student, hand_in, now);
    let _ = now;
    let fixed = WRONG.replace("full | gate", "full ^ gate");
    let body = format!(
        "--x\r\ncontent-disposition: form-data; name=\"files\"; filename=\"better.v\"\r\n\r\n{fixed}\r\n--x--\r\n"
    );
    let send = at::TestRequest::post()
        .uri("/api/courses/1/exercises/1/hand-ins")
        .insert_header(("content-type", "multipart/form-data; boundary=x"))
        .set_payload(body);
    let (_, kept) = ask(&app, &student, send).await;
    let uri = format!("/api/courses/1/hand-ins/{}/difference?from={hand_in}", kept["id"]);
    for who in [&student, &staff] {
        let (status, found) = ask(&app, who, get(&uri)).await;
        assert_eq!((status, &found[0]["name"], &found[0]["state"]), (200, &json!("h.v → better.v"), &json!("changed")));
        let gone: Vec<&str> = found[0]["lines"]
            .as_array()
            .unwrap()
            .iter()
            .filter(|l| l["kind"] == "gone")
            .map(|l| l["text"].as_str().unwrap())
            .collect();
        assert!(gone.len() == 1 && gone[0].contains("full | gate"), "{found}");
    }
    let nobodys = format!("/api/courses/1/hand-ins/{hand_in}/difference?from=999");
    assert_eq!(ask(&app, &student, get(&nobodys)).await.0, 404);
}
