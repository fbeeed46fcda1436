//! The workings over HTTP: working out, editing, saving, and what happens when two people save.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use actix_web::cookie::Cookie;
use actix_web::dev::{Service, ServiceResponse};
use actix_web::{App, test as at, web};
use serde_json::{Value, json};
use server::{AppState, configure, hash_password};
use store::Store;

const EXERCISE: &str = include_str!("../../../demo/weight-grader/exercise.toml");
const PASSWORD: &str = "lemon-peel";

macro_rules! world {
    ($app:ident, $cookie:ident) => {
        let folder = tempfile::tempdir().unwrap();
        let store = Store::open(folder.path()).unwrap();
        let instructor = store.add_person("ines", "ines", &hash_password(PASSWORD).unwrap(), 1).unwrap();
        let course = store.add_course("Packhouse Controls", instructor, 1).unwrap();
        store.add_exercise(course, "Weight grader", EXERCISE, instructor, 1).unwrap();
        let state = AppState::new(store, None, None);
        let $app = at::init_service(App::new().app_data(web::Data::from(state)).configure(configure)).await;
        let body = json!({ "name": "ines", "password": PASSWORD });
        let response = at::call_service(&$app, at::TestRequest::post().uri("/api/sign-in").set_json(body).to_request()).await;
        let $cookie: Cookie<'static> = response.response().cookies().next().unwrap().into_owned();
    };
}

async fn ask<S, B>(app: &S, cookie: &Cookie<'static>, request: at::TestRequest) -> (u16, Value)
where
    S: Service<actix_http::Request, Response = ServiceResponse<B>, Error = actix_web::Error>,
    B: actix_web::body::MessageBody,
{
    let response = at::call_service(app, request.cookie(cookie.clone()).to_request()).await;
    let status = response.status().as_u16();
    (status, serde_json::from_slice(&at::read_body(response).await).unwrap_or(Value::Null))
}

const ONE: &str = "/api/courses/1/exercises/1/workings";

#[actix_web::test]
async fn the_workings_hold_table_maps_forms_and_steps() {
    world!(app, cookie);
    let (status, view) = ask(&app, &cookie, at::TestRequest::get().uri(ONE)).await;
    assert_eq!(status, 200);
    assert_eq!(view["columns"][0]["values"], "1111000000------");
    let small = &view["derivation"]["outputs"][0];
    assert_eq!(small["sop"]["covers"][0]["cubes"], json!(["00--"]));
    assert_eq!(small["sop_steps"]["chart_primes"], json!(["00--", "-01-"]));
    assert!(view["exports"].as_array().unwrap().iter().any(|e| e["kind"] == "vhdl"));
}

#[actix_web::test]
async fn an_edit_is_carried_out_and_saved_as_a_revision_others_can_collide_with() {
    world!(app, cookie);
    let (_, view) = ask(&app, &cookie, at::TestRequest::get().uri(ONE)).await;
    let request = json!({
        "exercise": 1, "draft": view["draft"], "notation": "operators", "shared": true,
        "edit": { "kind": "cell", "output": "light", "row": 3, "value": "-" },
    });
    let post = at::TestRequest::post().uri("/api/courses/1/workings").set_json(request);
    let (status, worked) = ask(&app, &cookie, post).await;
    assert_eq!((status, worked["problem"].clone()), (200, Value::Null));
    assert_eq!(worked["draft"]["behaviour"]["dont_cares"][0]["text"], "3, 10, 11, 12, 13, 14, 15");
    assert_eq!(worked["derivation"]["shared"]["optimal"], true);
    let save = |version: i64| {
        at::TestRequest::put().uri(ONE).set_json(json!({ "version": version, "draft": worked["draft"] }))
    };
    let (status, saved) = ask(&app, &cookie, save(1)).await;
    assert_eq!((status, saved["version"].as_i64()), (200, Some(2)));
    let (status, problem) = ask(&app, &cookie, save(1)).await;
    assert_eq!((status, problem["title"].as_str()), (409, Some("Changed meanwhile")));
    let (_, page) = ask(&app, &cookie, at::TestRequest::get().uri("/api/courses/1/exercises/1")).await;
    let text = page["text"].as_str().unwrap();
    assert!(text.contains("[wiring]") && text.contains("light = [0, 1, 2]"), "{text}");
}

#[actix_web::test]
async fn a_faulty_draft_is_answered_with_its_field_and_never_saved() {
    world!(app, cookie);
    let (_, view) = ask(&app, &cookie, at::TestRequest::get().uri(ONE)).await;
    let mut draft = view["draft"].clone();
    draft["behaviour"]["terms"][1]["text"] = json!("4, 5, 16");
    let request = json!({ "exercise": 1, "draft": draft, "notation": "prime", "shared": false, "edit": null });
    let (status, worked) =
        ask(&app, &cookie, at::TestRequest::post().uri("/api/courses/1/workings").set_json(request)).await;
    assert_eq!((status, worked["problem"]["field"].as_str()), (200, Some("terms.middle")));
    assert_eq!(worked["draft"], draft);
    let put = at::TestRequest::put().uri(ONE).set_json(json!({ "version": 1, "draft": draft }));
    let (status, problem) = ask(&app, &cookie, put).await;
    assert_eq!(status, 422);
    assert_eq!(problem["detail"], "Column 7: there is no row 16: the inputs have rows 0 to 15 only.");
}

#[actix_web::test]
async fn a_draft_is_published_with_its_consequences_said_first() {
    world!(app, cookie);
    let exercise = "/api/courses/1/exercises/1";
    let text = |title: &str, rows: &str| {
        let text = EXERCISE.replacen("title = \"", &format!("title = \"{title} "), 1);
        text.replacen("[0, 1, 2, 3]", rows, 1)
    };
    let put = |version: i64, text: String| {
        at::TestRequest::put().uri(exercise).set_json(json!({ "text": text, "version": version }))
    };
    let publish = || at::TestRequest::get().uri("/api/courses/1/exercises/1/publish");
    let (_, nothing) = ask(&app, &cookie, publish()).await;
    assert_eq!((nothing["has_draft"].as_bool(), nothing["version"].as_i64()), (Some(false), Some(1)));
    // Other words only.
    let (status, saved) = ask(&app, &cookie, put(1, text("Weighty", "[0, 1, 2, 3]"))).await;
    assert_eq!((status, saved["version"].as_i64()), (200, Some(2)));
    let (_, seen) = ask(&app, &cookie, publish()).await;
    assert_eq!((seen["changes_checks"].as_bool(), seen["is_first"].as_bool()), (Some(false), Some(false)));
    let (_, view) = ask(&app, &cookie, at::TestRequest::get().uri(ONE)).await;
    assert_eq!((view["standing"]["published"].as_i64(), view["standing"]["editor"].as_str()), (Some(1), Some("ines")));
    // Other rows.
    ask(&app, &cookie, put(2, text("Weighty", "[0, 1, 2]"))).await;
    let (_, seen) = ask(&app, &cookie, publish()).await;
    assert_eq!(seen["changes_checks"].as_bool(), Some(true));
    let (status, _) = ask(&app, &cookie, put(2, text("Late", "[0]"))).await;
    assert_eq!(status, 409, "somebody saved meanwhile");
    let version = seen["version"].as_i64().unwrap();
    let post = |version: i64| {
        at::TestRequest::post().uri("/api/courses/1/exercises/1/publish").set_json(json!({ "version": version }))
    };
    assert_eq!(ask(&app, &cookie, post(version - 1)).await.0, 409);
    assert_eq!(ask(&app, &cookie, post(version)).await.0, 200);
    let (_, list) = ask(&app, &cookie, at::TestRequest::get().uri("/api/courses/1/exercises/1/revisions")).await;
    assert_eq!(list.as_array().unwrap().iter().map(|r| r["number"].as_i64().unwrap()).collect::<Vec<_>>(), [2, 1]);
    let uri = "/api/courses/1/exercises/1/difference?from=1&to=2";
    let (_, difference) = ask(&app, &cookie, at::TestRequest::get().uri(uri)).await;
    let lines: Vec<(&str, &str)> = difference["lines"]
        .as_array()
        .unwrap()
        .iter()
        .map(|l| (l["kind"].as_str().unwrap(), l["text"].as_str().unwrap()))
        .collect();
    assert!(
        lines.contains(&("gone", "light = [0, 1, 2, 3]")) && lines.contains(&("new", "light = [0, 1, 2]")),
        "{lines:?}"
    );
}

#[actix_web::test]
async fn an_exercise_that_was_begun_is_staff_s_alone_until_it_is_published() {
    world!(app, cookie);
    let add =
        at::TestRequest::post().uri("/api/courses/1/exercises").set_json(json!({ "text": EXERCISE, "version": null }));
    let (status, made) = ask(&app, &cookie, add).await;
    assert_eq!((status, made["id"].as_i64()), (200, Some(2)));
    let (_, sheet) = ask(&app, &cookie, at::TestRequest::get().uri("/api/courses/1/pass-sheet")).await;
    assert_eq!(sheet["exercises"][1]["state"], "unpublished");
    let (status, page) = ask(&app, &cookie, at::TestRequest::get().uri("/api/courses/1/exercises/2")).await;
    assert_eq!((status, page["revision"].as_i64()), (200, Some(0)));
    // A student of the course finds nothing there.
    let body = json!({"name": "Milo", "family": "", "sign_in": "milo", "number": "", "section": "", "role": "student",
        "looks_after": [], "active": true});
    ask(&app, &cookie, at::TestRequest::post().uri("/api/courses/1/people").set_json(body)).await;
    let links = at::TestRequest::post().uri("/api/courses/1/password-links").set_json(json!({ "people": [2] }));
    let (_, links) = ask(&app, &cookie, links).await;
    let link = format!("/api/password-links/{}", links[0]["token"].as_str().unwrap());
    let body = json!({ "before": null, "password": "grapefruit-7" });
    let response = at::call_service(&app, at::TestRequest::post().uri(&link).set_json(body).to_request()).await;
    let student: Cookie<'static> = response.response().cookies().next().unwrap().into_owned();
    let (_, own) = ask(&app, &student, at::TestRequest::get().uri("/api/courses/1/pass-sheet")).await;
    assert_eq!(own["exercises"].as_array().unwrap().len(), 1);
    for path in ["/api/courses/1/exercises/2", "/api/courses/1/exercises/2/hand-ins"] {
        let (status, found) = ask(&app, &student, at::TestRequest::get().uri(path)).await;
        assert!(status == 404 || found == json!([]), "{path} {status}");
    }
    // Put aside, the other one is gone for students, too.
    let aside = |archived: bool| {
        at::TestRequest::put().uri("/api/courses/1/exercises/1/archived").set_json(json!({ "archived": archived }))
    };
    assert_eq!(ask(&app, &cookie, aside(true)).await.0, 204);
    assert_eq!(ask(&app, &student, at::TestRequest::get().uri("/api/courses/1/exercises/1")).await.0, 404);
    let (_, sheet) = ask(&app, &cookie, at::TestRequest::get().uri("/api/courses/1/pass-sheet")).await;
    assert_eq!((sheet["archived"][0]["id"].as_i64(), sheet["exercises"][0]["id"].as_i64()), (Some(1), Some(2)));
    assert_eq!(ask(&app, &cookie, aside(false)).await.0, 204);
    let discard = at::TestRequest::delete().uri("/api/courses/1/exercises/2/draft").set_json(json!({ "version": 1 }));
    assert_eq!(ask(&app, &cookie, discard).await.0, 204);
    assert_eq!(ask(&app, &cookie, at::TestRequest::get().uri("/api/courses/1/exercises/2")).await.0, 404);
}

/// A reference that is attached is what is expected, is checked against the exercise's own rules, and no student gets it.
#[actix_web::test]
async fn a_reference_is_attached_in_the_form_and_checked_by_the_exercise_itself() {
    world!(app, cookie);
    let make = json!({ "text": "format = \"zesty-gate/exercise/1\"\ntitle = \"Parity\"\n[[port]]\nname = \"a\"\ndir = \"in\"\nrange = \"1:0\"\n\
        [[port]]\nname = \"y\"\ndir = \"out\"\n[behaviour]\nkind = \"expressions\"\n[behaviour.outputs]\ny = \"a[1]\"\n", "version": 0 });
    let (status, made) =
        ask(&app, &cookie, at::TestRequest::post().uri("/api/courses/1/exercises").set_json(make)).await;
    assert_eq!(status, 200, "{made}");
    let of = |what: &str| format!("/api/courses/1/exercises/{}/{what}", made["id"]);
    let (_, view) = ask(&app, &cookie, at::TestRequest::get().uri(&of("workings"))).await;
    let (_, none) = ask(&app, &cookie, at::TestRequest::get().uri(&of("own-check"))).await;
    assert_eq!(none, Value::Null);
    let mut draft = view["draft"].clone();
    draft["behaviour"]["kind"] = json!("reference");
    let text = "module parity(input [1:0] a, output y);\nassign y = a[1] ^ a[0];\nendmodule\n";
    draft["parts"]["attachments"] = json!([{ "name": "parity.v", "purpose": "reference", "text": text }]);
    draft["parts"]["rules"]["forbid"] = json!(["gate:xor"]);
    let put = json!({ "version": made["version"], "draft": draft });
    let (status, saved) = ask(&app, &cookie, at::TestRequest::put().uri(&of("workings")).set_json(put)).await;
    assert_eq!(status, 200, "{saved}");
    let (_, again) = ask(&app, &cookie, at::TestRequest::get().uri(&of("workings"))).await;
    assert_eq!(again["columns"][0]["values"], "0110");
    let (status, own) = ask(&app, &cookie, at::TestRequest::get().uri(&of("own-check"))).await;
    assert_eq!((status, own["verdict"].as_str()), (200, Some("partly")), "{own}");
    assert!(own["findings"][0].as_str().unwrap().contains("XOR"), "{own}");
    draft["parts"]["rules"]["forbid"] = json!([]);
    let put = json!({ "version": saved["version"], "draft": draft });
    let (status, saved) = ask(&app, &cookie, at::TestRequest::put().uri(&of("workings")).set_json(put)).await;
    assert_eq!(status, 200, "{saved}");
    let (_, own) = ask(&app, &cookie, at::TestRequest::get().uri(&of("own-check"))).await;
    // AND and OR for XOR, and the other bit.
    assert_eq!((&own["verdict"], &own["faults_tried"], &own["faults_told"]), (&json!("pass"), &json!(3), &json!(3)));
    assert_eq!(own["faults_missed"], json!([]));
}

/// Another exercise is made of one, put before it, taken out as a zip and brought in again.
#[actix_web::test]
async fn exercises_are_copied_moved_taken_out_and_brought_in() {
    world!(app, cookie);
    let (status, copy) = ask(&app, &cookie, at::TestRequest::post().uri("/api/courses/1/exercises/1/copy")).await;
    assert_eq!((status, copy["id"].as_i64()), (200, Some(2)));
    let titles = || at::TestRequest::get().uri("/api/courses/1/pass-sheet");
    let in_order = |sheet: &Value| -> Vec<i64> {
        sheet["exercises"].as_array().unwrap().iter().map(|e| e["id"].as_i64().unwrap()).collect()
    };
    assert_eq!(in_order(&ask(&app, &cookie, titles()).await.1), [1, 2]);
    for (earlier, order) in [(true, [2, 1]), (true, [2, 1]), (false, [1, 2])] {
        let request = at::TestRequest::put().uri("/api/courses/1/exercises/2/place");
        assert_eq!(ask(&app, &cookie, request.set_json(json!({ "earlier": earlier }))).await.0, 204);
        assert_eq!(in_order(&ask(&app, &cookie, titles()).await.1), order);
    }
    let get = at::TestRequest::get().uri("/api/courses/1/exercises/2/export").cookie(cookie.clone());
    let response = at::call_service(&app, get.to_request()).await;
    assert_eq!(response.headers().get("content-type").unwrap(), "application/zip");
    let zip = at::read_body(response).await;
    let post = at::TestRequest::post().uri("/api/courses/1/exercises/import").set_payload(zip);
    let (status, made) = ask(&app, &cookie, post).await;
    assert_eq!((status, made["id"].as_i64()), (200, Some(3)), "{made}");
    let (_, page) = ask(&app, &cookie, at::TestRequest::get().uri("/api/courses/1/exercises/3")).await;
    assert!(page["title"].as_str().unwrap().ends_with("(copy)"), "{}", page["title"]);
    let post = at::TestRequest::post().uri("/api/courses/1/exercises/import").set_payload("title = \"no exercise\"");
    let (status, told) = ask(&app, &cookie, post).await;
    assert_eq!(status, 422);
    assert!(told["detail"].as_str().unwrap().starts_with("In the exercise file, line"), "{told}");
}
