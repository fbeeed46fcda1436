//! Every route × every role × signed out, against a table written down here by hand.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use actix_web::cookie::Cookie;
use actix_web::dev::{Service, ServiceResponse};
use actix_web::http::Method;
use actix_web::{App, test as at, web};
use server::{AppState, ROUTES, configure, hash_password, open_api};
use std::collections::BTreeSet;
use store::{FileKind, HandInId, NewFile, NewHandIn, Role, Store};

const EXERCISE: &str = include_str!("../../../demo/hopper-interlock/exercise.toml");
const PASSWORD: &str = "lemon-peel";

/// Statuses for: signed out, signed in but no member, student, assistant, instructor.
const TABLE: &[(&str, &str, [u16; 5])] = &[
    ("GET", "/api/health", [200, 200, 200, 200, 200]),
    ("GET", "/api/openapi.json", [200, 200, 200, 200, 200]),
    ("GET", "/api/me", [200, 200, 200, 200, 200]),
    // Without a body there is nothing to sign in with.
    ("POST", "/api/sign-in", [422, 422, 422, 422, 422]),
    ("POST", "/api/set-up", [422, 422, 422, 422, 422]),
    ("GET", "/api/password-links/{token}", [404, 404, 404, 404, 404]),
    ("POST", "/api/password-links/{token}", [422, 422, 422, 422, 422]),
    ("GET", "/api/join-codes/{code}", [404, 404, 404, 404, 404]),
    ("POST", "/api/join", [422, 422, 422, 422, 422]),
    ("GET", "/api/sessions", [401, 200, 200, 200, 200]),
    ("DELETE", "/api/sessions/{session}", [401, 404, 404, 404, 404]),
    ("PUT", "/api/me/password", [401, 422, 422, 422, 422]),
    ("POST", "/api/courses", [401, 422, 422, 422, 422]),
    ("PUT", "/api/courses/{course}", [401, 404, 403, 403, 422]),
    ("GET", "/api/courses/{course}/people", [401, 404, 403, 200, 200]),
    ("POST", "/api/courses/{course}/people", [401, 404, 403, 403, 422]),
    ("PUT", "/api/courses/{course}/people/{person}", [401, 404, 403, 403, 422]),
    ("DELETE", "/api/courses/{course}/people/{person}", [401, 404, 403, 403, 404]),
    ("POST", "/api/courses/{course}/password-links", [401, 404, 403, 422, 422]),
    ("POST", "/api/courses/{course}/roster", [401, 404, 403, 403, 422]),
    ("POST", "/api/courses/{course}/join-codes", [401, 404, 403, 403, 422]),
    ("DELETE", "/api/courses/{course}/join-codes/{code}", [401, 404, 403, 403, 404]),
    ("GET", "/api/courses/{course}/pass-sheet", [401, 404, 200, 200, 200]),
    ("GET", "/api/courses/{course}/pass-sheet.csv", [401, 404, 403, 200, 200]),
    ("PUT", "/api/courses/{course}/counting", [401, 404, 403, 403, 422]),
    ("GET", "/api/courses/{course}/audit", [401, 404, 403, 403, 200]),
    ("POST", "/api/courses/{course}/exercises", [401, 404, 403, 403, 422]),
    ("GET", "/api/courses/{course}/exercises/{exercise}", [401, 404, 200, 200, 200]),
    ("PUT", "/api/courses/{course}/exercises/{exercise}", [401, 404, 403, 403, 422]),
    ("PUT", "/api/courses/{course}/exercises/{exercise}/terms", [401, 404, 403, 403, 422]),
    ("GET", "/api/courses/{course}/exercises/{exercise}/publish", [401, 404, 403, 403, 200]),
    ("POST", "/api/courses/{course}/exercises/import", [401, 404, 403, 403, 422]),
    ("GET", "/api/courses/{course}/exercises/{exercise}/export", [401, 404, 403, 403, 200]),
    ("PUT", "/api/courses/{course}/exercises/{exercise}/place", [401, 404, 403, 403, 422]),
    ("POST", "/api/courses/{course}/exercises/{exercise}/copy", [401, 404, 403, 403, 200]),
    ("GET", "/api/courses/{course}/exercises/{exercise}/own-check", [401, 404, 403, 403, 200]),
    ("POST", "/api/courses/{course}/exercises/{exercise}/publish", [401, 404, 403, 403, 422]),
    ("DELETE", "/api/courses/{course}/exercises/{exercise}/draft", [401, 404, 403, 403, 422]),
    ("PUT", "/api/courses/{course}/exercises/{exercise}/archived", [401, 404, 403, 403, 422]),
    ("GET", "/api/courses/{course}/exercises/{exercise}/revisions", [401, 404, 403, 200, 200]),
    // Without a revision to begin with there is nothing to compare.
    ("GET", "/api/courses/{course}/exercises/{exercise}/difference", [401, 404, 403, 422, 422]),
    ("POST", "/api/courses/{course}/workings", [401, 404, 403, 422, 422]),
    ("GET", "/api/courses/{course}/exercises/{exercise}/workings", [401, 404, 403, 200, 200]),
    ("PUT", "/api/courses/{course}/exercises/{exercise}/workings", [401, 404, 403, 403, 422]),
    ("GET", "/api/courses/{course}/exercises/{exercise}/hand-ins", [401, 404, 200, 200, 200]),
    ("POST", "/api/courses/{course}/exercises/{exercise}/hand-ins", [401, 404, 422, 422, 422]),
    ("GET", "/api/courses/{course}/exercises/{exercise}/bench", [401, 404, 403, 200, 200]),
    ("POST", "/api/courses/{course}/exercises/{exercise}/hand-ins/zip", [401, 404, 403, 422, 422]),
    ("GET", "/api/courses/{course}/hand-ins/{hand_in}", [401, 404, 200, 200, 200]),
    ("GET", "/api/courses/{course}/hand-ins/{hand_in}/bench", [401, 404, 200, 200, 200]),
    ("GET", "/api/courses/{course}/hand-ins/{hand_in}/rows-to-try", [401, 404, 200, 200, 200]),
    ("GET", "/api/courses/{course}/hand-ins/{hand_in}/structure", [401, 404, 200, 200, 200]),
    ("GET", "/api/courses/{course}/hand-ins/{hand_in}/structure/levels", [401, 404, 200, 200, 200]),
    ("POST", "/api/courses/{course}/hand-ins/{hand_in}/recheck", [401, 404, 403, 202, 202]),
    ("POST", "/api/courses/{course}/hand-ins/{hand_in}/sign-off", [401, 404, 403, 204, 204]),
    // Without an attempt to hold it against there is nothing to compare.
    ("GET", "/api/courses/{course}/hand-ins/{hand_in}/difference", [401, 404, 422, 422, 422]),
    ("PUT", "/api/courses/{course}/hand-ins/{hand_in}/decision", [401, 404, 403, 403, 422]),
    ("DELETE", "/api/courses/{course}/hand-ins/{hand_in}/decision", [401, 404, 403, 403, 204]),
    ("POST", "/api/courses/{course}/dumps", [401, 404, 403, 422, 422]),
    ("GET", "/api/courses/{course}/dumps/{dump}/window", [401, 404, 403, 422, 422]),
    ("GET", "/api/courses/{course}/dumps/{dump}/edge", [401, 404, 403, 422, 422]),
    ("DELETE", "/api/runs/{run}", [401, 204, 204, 204, 204]),
    ("GET", "/api/divider", [401, 422, 422, 422, 422]),
    ("GET", "/api/finding-codes", [401, 200, 200, 200, 200]),
    ("POST", "/api/courses/{course}/exercises/{exercise}/try", [401, 404, 422, 422, 422]),
    ("POST", "/api/courses/{course}/exercises/{exercise}/waves", [401, 404, 422, 422, 422]),
    ("PUT", "/api/courses/{course}/exercises/{exercise}/waves", [401, 404, 403, 422, 422]),
    // Last: it ends the sessions.
    ("POST", "/api/sign-out", [401, 204, 204, 204, 204]),
];

struct World {
    state: std::sync::Arc<AppState>,
    hand_in: HandInId,
    other_hand_in: HandInId,
    _folder: tempfile::TempDir,
}

fn world() -> World {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(folder.path()).unwrap();
    let hash = hash_password(PASSWORD).unwrap();
    let person = |sign_in: &str| store.add_person(sign_in, sign_in, &hash, 1).unwrap();
    let instructor = person("instructor");
    let course = store.add_course("Packhouse Controls", instructor, 1).unwrap();
    let (assistant, student, other) = (person("assistant"), person("student"), person("other"));
    person("outsider");
    store.set_member(course, assistant, Role::Assistant, "").unwrap();
    store.set_member(course, student, Role::Student, "A").unwrap();
    store.set_member(course, other, Role::Student, "A").unwrap();
    let exercise = store.add_exercise(course, "Hopper interlock", EXERCISE, instructor, 1).unwrap();
    let hand_in = |student| {
        let bytes = include_bytes!("../../../demo/hopper-interlock/plain.v").to_vec();
        let files = vec![NewFile { kind: FileKind::Design, name: "plain.v".into(), bytes }];
        let new = NewHandIn { exercise, student, submitted_by: student, top: None, files };
        let (id, _) = store.add_hand_in(course, &new, 2).unwrap();
        server::check_now(&store, &worker::Pool::within(worker::Limits::default()), course, id, 3).unwrap();
        id
    };
    let (hand_in, other_hand_in) = (hand_in(student), hand_in(other));
    World { state: AppState::new(store, None, None), hand_in, other_hand_in, _folder: folder }
}

macro_rules! app {
    ($world:expr) => {
        at::init_service(App::new().app_data(web::Data::from($world.state.clone())).configure(configure)).await
    };
}

async fn call<S, B>(app: &S, request: at::TestRequest) -> ServiceResponse<actix_web::body::BoxBody>
where
    S: Service<actix_http::Request, Response = ServiceResponse<B>, Error = actix_web::Error>,
    B: actix_web::body::MessageBody + 'static,
{
    match at::try_call_service(app, request.to_request()).await {
        Ok(response) => response.map_into_boxed_body(),
        Err(error) => ServiceResponse::new(at::TestRequest::default().to_http_request(), error.error_response()),
    }
}

async fn sign_in<S, B>(app: &S, name: &str) -> Cookie<'static>
where
    S: Service<actix_http::Request, Response = ServiceResponse<B>, Error = actix_web::Error>,
    B: actix_web::body::MessageBody + 'static,
{
    let body = serde_json::json!({ "name": name, "password": PASSWORD });
    let response = call(app, at::TestRequest::post().uri("/api/sign-in").set_json(body)).await;
    assert_eq!(response.status(), 200, "{name}");
    let cookie = response.response().cookies().next().unwrap().into_owned();
    assert!(cookie.http_only().unwrap() && cookie.same_site() == Some(actix_web::cookie::SameSite::Strict));
    cookie
}

#[actix_web::test]
async fn every_route_answers_every_role_as_the_table_says() {
    let world = world();
    let app = app!(world);
    let mut cookies = vec![None];
    for name in ["outsider", "student", "assistant", "instructor"] {
        cookies.push(Some(sign_in(&app, name).await));
    }
    for (method, path, statuses) in TABLE {
        let uri = path
            .replace("{course}", "1")
            .replace("{exercise}", "1")
            .replace("{dump}", "1")
            .replace("{person}", "99")
            .replace("{code}", "99")
            .replace("{token}", "none")
            .replace("{session}", "00")
            .replace("{hand_in}", &world.hand_in.to_string());
        for (cookie, wanted) in cookies.iter().zip(statuses) {
            let mut request =
                at::TestRequest::default().method(Method::from_bytes(method.as_bytes()).unwrap()).uri(&uri);
            if let Some(cookie) = cookie {
                request = request.cookie(cookie.clone());
            }
            let response = call(&app, request).await;
            let who = cookie.as_ref().map_or("signed out", |_| "signed in");
            assert_eq!(response.status().as_u16(), *wanted, "{method} {path} {who}");
            if *wanted >= 400 {
                let kind = response.headers().get("content-type").unwrap();
                assert_eq!(kind, "application/problem+json", "{method} {path}");
            }
        }
    }
}

#[test]
fn the_table_the_gate_and_the_document_name_the_same_routes() {
    let tested: BTreeSet<(String, String)> = TABLE.iter().map(|(m, p, _)| ((*m).into(), (*p).into())).collect();
    let gated: BTreeSet<(String, String)> = ROUTES.iter().map(|r| (r.method.into(), r.path.clone())).collect();
    assert_eq!(tested, gated);
    let document = open_api();
    let mut documented = BTreeSet::new();
    for (path, methods) in document["paths"].as_object().unwrap() {
        for method in methods.as_object().unwrap().keys() {
            documented.insert((method.to_uppercase(), path.clone()));
        }
    }
    assert_eq!(documented, gated);
}

/// What a route answers is in the document, with its content type.
#[test]
fn every_failure_of_the_table_is_documented() {
    let document = open_api();
    for (method, path, wanted) in TABLE {
        let responses = &document["paths"][path][method.to_lowercase()]["responses"];
        for status in wanted.iter().filter(|s| **s >= 400) {
            let response = &responses[status.to_string()];
            let content = response["content"].as_object();
            let kinds: Vec<&String> = content.into_iter().flat_map(|c| c.keys()).collect();
            assert_eq!(kinds, ["application/problem+json"], "{method} {path} {status}");
        }
        let good: Vec<&String> = responses.as_object().unwrap().keys().filter(|s| s.starts_with('2')).collect();
        assert_eq!(good.len(), 1, "{method} {path}: one status when all goes well");
    }
}

/// RFC 9110 15.5.6: 405 comes with the methods that the address takes.
#[actix_web::test]
async fn another_method_is_told_which_ones_are_taken() {
    let world = world();
    let app = app!(world);
    for (method, path, allow) in [
        ("DELETE", "/api/me", "GET"),
        ("PATCH", "/api/courses/1", "PUT"),
        ("POST", "/api/courses/1/exercises/1", "GET, PUT"),
        ("PUT", "/api/courses/1/hand-ins/1/sign-off", "POST"),
    ] {
        let method = Method::from_bytes(method.as_bytes()).unwrap();
        let response = call(&app, at::TestRequest::default().method(method).uri(path)).await;
        assert_eq!(response.status(), 405, "{path}");
        assert_eq!(response.headers().get("allow").unwrap(), allow, "{path}");
        assert_eq!(response.headers().get("content-type").unwrap(), "application/problem+json");
    }
    let cookie = sign_in(&app, "instructor").await;
    for path in ["/api/nothing", "/api/courses/1/exercises/one", "/api/courses/one/people"] {
        let response = call(&app, at::TestRequest::get().uri(path).cookie(cookie.clone())).await;
        assert_eq!(response.status(), 404, "{path}");
        assert_eq!(response.headers().get("content-type").unwrap(), "application/problem+json", "{path}");
    }
}

#[actix_web::test]
async fn a_student_sees_neither_the_key_nor_anothers_work() {
    let world = world();
    let app = app!(world);
    let cookie = sign_in(&app, "student").await;
    let get = |uri: String| at::TestRequest::get().uri(&uri).cookie(cookie.clone());
    let other = call(&app, get(format!("/api/courses/1/hand-ins/{}", world.other_hand_in))).await;
    assert_eq!(other.status(), 404);
    let other = call(&app, get(format!("/api/courses/1/hand-ins/{}/bench", world.other_hand_in))).await;
    assert_eq!(other.status(), 404);
    let read = |response: ServiceResponse| async move {
        serde_json::from_slice::<serde_json::Value>(&at::read_body(response).await).unwrap()
    };
    let page = read(call(&app, get("/api/courses/1/exercises/1".into())).await).await;
    assert!(page["text"].is_null());
    assert!(page["outputs"].as_array().unwrap().iter().all(|o| o["values"] == ""));
    let own = read(call(&app, get(format!("/api/courses/1/hand-ins/{}", world.hand_in))).await).await;
    assert_eq!(own["expected"].as_array().unwrap().len(), 0);
    assert_eq!(own["verdict"]["verdict"], "pass");
    let sheet = read(call(&app, get("/api/courses/1/pass-sheet".into())).await).await;
    assert_eq!(sheet["students"].as_array().unwrap().len(), 1);
    let list = read(call(&app, get("/api/courses/1/exercises/1/hand-ins".into())).await).await;
    assert_eq!(list.as_array().unwrap().len(), 1);
}

#[actix_web::test]
async fn waves_are_asked_for_by_the_window_and_only_by_who_opened_them() {
    let world = world();
    let app = app!(world);
    let cookie = sign_in(&app, "instructor").await;
    let read = |response: ServiceResponse| async move {
        serde_json::from_slice::<serde_json::Value>(&at::read_body(response).await).unwrap()
    };
    let post = |body: &'static str| {
        at::TestRequest::post().uri("/api/courses/1/dumps").cookie(cookie.clone()).set_payload(body)
    };
    let dump = "$timescale 1 ns $end $scope module t $end $var wire 1 ! a $end $upscope $end $enddefinitions $end\n#0 0! #5 1! #9 0! #20";
    let opened = read(call(&app, post(dump)).await).await;
    assert_eq!((opened["end"].as_u64(), opened["lanes"][0]["name"].as_str()), (Some(20_000_000), Some("a")));
    let get = |uri: String, cookie: &Cookie<'static>| at::TestRequest::get().uri(&uri).cookie(cookie.clone());
    let base = format!("/api/courses/1/dumps/{}", opened["id"]);
    let uri = format!("{base}/window?from=6000000&to=20000000&columns=100&lanes=0");
    let window = read(call(&app, get(uri.clone(), &cookie)).await).await;
    assert_eq!(window["lanes"][0]["times"], serde_json::json!([5_000_000, 9_000_000]));
    assert_eq!(window["lanes"][0]["values"], serde_json::json!(["1", "0"]));
    let edge = format!("{base}/edge?lane=0&time=9000000&forward=false");
    assert_eq!(read(call(&app, get(edge, &cookie)).await).await["time"], 5_000_000);
    let other = sign_in(&app, "assistant").await;
    assert_eq!(call(&app, get(uri, &other)).await.status(), 404);
    let broken = read(call(&app, post("$timescale 1 ns $end\n$var wire")).await).await;
    assert_eq!(broken["detail"], "Line 2: The `$var` section has no `$end`; the file seems to be cut off.");
}

#[actix_web::test]
async fn a_student_runs_the_own_design_without_what_is_expected() {
    let world = world();
    let app = app!(world);
    let read = |response: ServiceResponse| async move {
        serde_json::from_slice::<serde_json::Value>(&at::read_body(response).await).unwrap()
    };
    let ask = |hand_in: Option<HandInId>| serde_json::json!({ "files": [], "hand_in": hand_in, "unit": null, "stimulus": null, "until_ns": null, "picture": true });
    let roles = |waves: &serde_json::Value| -> BTreeSet<String> {
        let lanes = waves["waves"]["lanes"].as_array().unwrap().iter();
        lanes.map(|l| l["role"].as_str().unwrap().to_owned()).collect()
    };
    let set = |list: &[&str]| list.iter().map(|s| (*s).to_owned()).collect::<BTreeSet<_>>();
    let uri = "/api/courses/1/exercises/1/waves";
    let post = |cookie: &Cookie<'static>, body| at::TestRequest::post().uri(uri).cookie(cookie.clone()).set_json(body);
    let student = sign_in(&app, "student").await;
    let own = read(call(&app, post(&student, ask(Some(world.hand_in)))).await).await;
    assert_eq!(roles(&own), set(&["input", "output"]));
    assert_eq!(call(&app, post(&student, ask(Some(world.other_hand_in)))).await.status(), 404);
    assert_eq!(call(&app, post(&student, ask(None))).await.status(), 403);
    let instructor = sign_in(&app, "instructor").await;
    let all = read(call(&app, post(&instructor, ask(Some(world.hand_in)))).await).await;
    assert_eq!(roles(&all), set(&["expected", "input", "output"]));
    assert!(
        all["picture"].as_str().unwrap().contains(">expected ")
            && !own["picture"].as_str().unwrap().contains("expected")
    );
    let keep = |stimulus: serde_json::Value| {
        let body = serde_json::json!({ "stimulus": stimulus, "usual": false, "arrangement": null });
        at::TestRequest::put().uri(uri).cookie(instructor.clone()).set_json(body)
    };
    let mut stimulus = all["waves"]["stimulus"].clone();
    let input = stimulus["inputs"][0]["input"].clone();
    stimulus["inputs"][0]["line"] = "hold 1".into();
    assert_eq!(call(&app, keep(stimulus.clone())).await.status(), 204);
    let again = read(call(&app, post(&student, ask(Some(world.hand_in)))).await).await;
    assert_eq!((&again["saved"], &again["waves"]["stimulus"]), (&true.into(), &stimulus));
    stimulus["inputs"][0]["line"] = "hold 2".into();
    let refused = read(call(&app, keep(stimulus)).await).await;
    assert_eq!(refused["detail"], format!("`{}`: 2 doesn't fit into 1 bit.", input.as_str().unwrap()));
}

#[actix_web::test]
async fn a_run_without_an_end_is_ended_by_who_began_it_and_by_nobody_else() {
    let world = world();
    let app = app!(world);
    let (own, other) = (sign_in(&app, "student").await, sign_in(&app, "instructor").await);
    let bench = "module tb; reg c; initial c = 0; always #1 c = ~c; endmodule";
    let ask = serde_json::json!({ "files": [{ "name": "tb.v", "text": bench }], "hand_in": null, "unit": null,
        "stimulus": null, "until_ns": null, "picture": false });
    let post = at::TestRequest::post()
        .uri("/api/courses/1/exercises/1/waves")
        .cookie(own.clone())
        .insert_header(("x-run", "first"))
        .set_json(ask);
    let stop = |cookie: &Cookie<'static>| at::TestRequest::delete().uri("/api/runs/first").cookie(cookie.clone());
    let run = call(&app, post);
    tokio::pin!(run);
    let pause = std::time::Duration::from_millis(300);
    // Somebody else's run of the same name is another one.
    tokio::select! {
        _ = &mut run => panic!("a testbench without an end has ended"),
        () = async {
            tokio::time::sleep(pause).await;
            assert_eq!(call(&app, stop(&other)).await.status(), 204);
            tokio::time::sleep(pause).await;
        } => {}
    }
    assert_eq!(call(&app, stop(&own)).await.status(), 204);
    // Far less than the four seconds after which the server would end it by itself.
    let answer = tokio::time::timeout(std::time::Duration::from_secs(2), run).await.unwrap();
    let body: serde_json::Value = serde_json::from_slice(&at::read_body(answer).await).unwrap();
    assert_eq!(body["waves"]["end"], "stopped");
    // Over: stopping it again harms nothing.
    assert_eq!(call(&app, stop(&own)).await.status(), 204);
    let long = at::TestRequest::post().uri("/api/courses/1/exercises/1/try").cookie(own.clone());
    assert_eq!(call(&app, long.insert_header(("x-run", "x".repeat(65)))).await.status(), 422);
}

#[actix_web::test]
async fn requests_from_other_sites_are_refused() {
    let world = world();
    let app = app!(world);
    let cookie = sign_in(&app, "instructor").await;
    let uri = format!("/api/courses/1/hand-ins/{}/sign-off", world.hand_in);
    let post = || at::TestRequest::post().uri(&uri).cookie(cookie.clone()).insert_header(("Host", "lab.example"));
    let cross = call(&app, post().insert_header(("Sec-Fetch-Site", "cross-site"))).await;
    assert_eq!(cross.status(), 403);
    let cross = call(&app, post().insert_header(("Origin", "https://elsewhere.example"))).await;
    assert_eq!(cross.status(), 403);
    let same = call(&app, post().insert_header(("Origin", "http://lab.example"))).await;
    assert_eq!(same.status(), 204);
}

#[actix_web::test]
async fn a_faulty_exercise_file_is_refused_with_its_line_and_nothing_is_saved() {
    let world = world();
    let app = app!(world);
    let cookie = sign_in(&app, "instructor").await;
    let body = serde_json::json!({ "text": EXERCISE.replace("name = \"gate\"", "name = \"2x\""), "version": 1 });
    let put = at::TestRequest::put().uri("/api/courses/1/exercises/1").cookie(cookie.clone()).set_json(body);
    let response = call(&app, put).await;
    assert_eq!(response.status(), 422);
    let problem: serde_json::Value = serde_json::from_slice(&at::read_body(response).await).unwrap();
    assert!(problem["detail"].as_str().unwrap().contains("line 20"), "{problem}");
    let page = call(&app, at::TestRequest::get().uri("/api/courses/1/exercises/1").cookie(cookie)).await;
    let page: serde_json::Value = serde_json::from_slice(&at::read_body(page).await).unwrap();
    assert_eq!(page["revision"], 1);
}

#[actix_web::test]
async fn the_bench_shows_the_image_and_is_dark_without_power() {
    let world = world();
    let app = app!(world);
    let cookie = sign_in(&app, "student").await;
    let bench = |query: &'static str| {
        let uri = format!("/api/courses/1/hand-ins/{}/bench?{query}", world.hand_in);
        call(&app, at::TestRequest::get().uri(&uri).cookie(cookie.clone()))
    };
    let read = |response: ServiceResponse| async move {
        assert_eq!(response.status(), 200);
        serde_json::from_slice::<serde_json::Value>(&at::read_body(response).await).unwrap()
    };
    let lit = |view: &serde_json::Value| view["lamps"].as_array().unwrap().iter().filter(|l| *l == "lit").count();
    // full = 0, gate = 0, run = 1: the motor runs.
    let view = read(bench("row=1").await).await;
    assert_eq!((lit(&view), view["refusal"].is_null()), (1, true), "{view}");
    assert_eq!(view["image"]["design"], "hopper");
    assert_eq!(view["image"]["fingerprint"].as_str().unwrap().len(), 16);
    let dark = read(bench("row=1&power=false").await).await;
    assert_eq!((lit(&dark), &dark["switches"]), (0, &view["switches"]));
    assert!(dark["refusal"].as_str().unwrap().contains("no power"));
    // What nobody sends by itself is borne.
    for query in ["row=99999999", "ticks=4000000000&state=1:2:zz", "state=:::&switches=xyz&power=true"] {
        read(bench(query).await).await;
    }
    // Another wiring plan makes the image older than what it was made from.
    let text = EXERCISE.replace("motor = \"H7\"", "motor = \"H6\"");
    assert_ne!(text, EXERCISE);
    let staff = sign_in(&app, "instructor").await;
    let body = serde_json::json!({ "text": text, "version": 1 });
    let saved = at::TestRequest::put().uri("/api/courses/1/exercises/1").cookie(staff.clone()).set_json(body);
    assert_eq!(call(&app, saved).await.status(), 200);
    assert_eq!(lit(&read(bench("row=1").await).await), 1, "a draft changes nothing yet");
    let publish = at::TestRequest::post().uri("/api/courses/1/exercises/1/publish").cookie(staff);
    assert_eq!(call(&app, publish.set_json(serde_json::json!({ "version": 2 }))).await.status(), 200);
    let old = read(bench("row=1").await).await;
    assert_eq!(lit(&old), 0);
    assert!(old["refusal"].as_str().unwrap().contains("older"), "{}", old["refusal"]);
}
