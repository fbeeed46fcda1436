//! A course gets its people over the API: from the empty data to students who have set a password or joined by code.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use actix_web::cookie::Cookie;
use actix_web::dev::{Service, ServiceResponse};
use actix_web::{App, test as at, web};
use serde_json::{Value, json};
use server::{AppState, configure};
use store::Store;

const PASSWORD: &str = "lemon-peel-1";

/// A browser with its cookie.
struct Browser<S> {
    app: S,
    cookie: Option<Cookie<'static>>,
}

impl<S, B> Browser<S>
where
    S: Service<actix_http::Request, Response = ServiceResponse<B>, Error = actix_web::Error>,
    B: actix_web::body::MessageBody + 'static,
{
    async fn send(&mut self, request: at::TestRequest) -> (u16, Value) {
        let request = match &self.cookie {
            Some(cookie) => request.cookie(cookie.clone()),
            None => request,
        };
        let response = match at::try_call_service(&self.app, request.to_request()).await {
            Ok(response) => response.map_into_boxed_body(),
            Err(error) => ServiceResponse::new(at::TestRequest::default().to_http_request(), error.error_response()),
        };
        if let Some(cookie) = response.response().cookies().next() {
            self.cookie = Some(cookie.into_owned()).filter(|c| !c.value().is_empty());
        }
        let status = response.status().as_u16();
        let bytes = at::read_body(response).await;
        (status, serde_json::from_slice(&bytes).unwrap_or(Value::Null))
    }

    async fn get(&mut self, uri: &str) -> (u16, Value) {
        self.send(at::TestRequest::get().uri(uri)).await
    }

    async fn post(&mut self, uri: &str, body: Value) -> (u16, Value) {
        self.send(at::TestRequest::post().uri(uri).set_json(body)).await
    }

    async fn put(&mut self, uri: &str, body: Value) -> (u16, Value) {
        self.send(at::TestRequest::put().uri(uri).set_json(body)).await
    }

    async fn delete(&mut self, uri: &str) -> (u16, Value) {
        self.send(at::TestRequest::delete().uri(uri)).await
    }

    async fn roster(&mut self, apply: bool, text: &str) -> (u16, Value) {
        let uri = format!("/api/courses/1/roster?apply={apply}");
        self.send(at::TestRequest::post().uri(&uri).set_payload(text.to_owned())).await
    }

    fn sign_out(&mut self) {
        self.cookie = None;
    }
}

macro_rules! begun {
    ($folder:ident, $browser:ident) => {
        let $folder = tempfile::tempdir().unwrap();
        let state = AppState::new(Store::open($folder.path()).unwrap(), None, None);
        let app = at::init_service(App::new().app_data(web::Data::from(state.clone())).configure(configure)).await;
        let mut $browser = Browser { app, cookie: None };
        let set_up = json!({"name": "Ines Quillaby", "family": "Quillaby", "sign_in": "ines", "password": PASSWORD,
            "course": "Packhouse Controls"});
        assert!($browser.get("/api/me").await.1["needs_set_up"].as_bool().unwrap());
        let (status, start) = $browser.post("/api/set-up", set_up.clone()).await;
        assert_eq!((status, &start["me"]["courses"][0]["role"]), (200, &json!("instructor")));
        assert_eq!($browser.post("/api/set-up", set_up).await.0, 422, "once is all");
    };
}

fn person(name: &str, sign_in: &str, role: &str) -> Value {
    json!({"name": name, "family": "", "sign_in": sign_in, "number": "", "section": "A", "role": role, "looks_after": [],
        "active": true})
}

fn detail(answer: &(u16, Value)) -> (u16, &str) {
    (answer.0, answer.1["detail"].as_str().unwrap_or(""))
}

#[actix_web::test]
async fn a_roster_is_looked_at_then_done_and_done_again_without_harm() {
    begun!(folder, b);
    let roster = "Login;Name;Vorname;Gruppe\nximena;Cratewood;Ximena;Evening\nmilo;Segmentine;Milo;Morning\nmilo;Other;Milo;Morning\n";
    let (status, seen) = b.roster(false, roster).await;
    let states = |view: &Value| -> Vec<String> {
        view["lines"].as_array().unwrap().iter().map(|l| l["state"].as_str().unwrap().to_owned()).collect()
    };
    assert_eq!((status, states(&seen)), (200, vec!["new".into(), "new".into(), "left_out".into()]));
    assert_eq!(b.get("/api/courses/1/people").await.1["people"].as_array().unwrap().len(), 1);
    assert_eq!(b.roster(true, roster).await.1["applied"], true);
    let (_, again) = b.roster(true, &roster.replace("Evening", "Night")).await;
    assert_eq!(states(&again), ["changed", "same", "left_out"]);
    assert_eq!(again["lines"][0]["what"], "section Evening → Night");
    let (_, view) = b.get("/api/courses/1/people").await;
    let people = view["people"].as_array().unwrap();
    assert_eq!(people.len(), 3);
    assert_eq!(people[1]["known"]["name"], "Ximena Cratewood");
    assert_eq!((&people[1]["known"]["section"], &people[1]["has_password"]), (&json!("Night"), &json!(false)));
    assert_eq!(detail(&b.roster(true, "").await), (422, "The file is empty; export the list again, as CSV."));
    assert!(detail(&b.roster(true, "ximena,Ximena\n").await).1.starts_with("The first line has to name the columns"));
    drop(folder);
}

#[actix_web::test]
async fn a_link_sets_a_password_once() {
    begun!(folder, b);
    b.post("/api/courses/1/people", person("Milo Segmentine", "milo", "student")).await;
    let (status, links) = b.post("/api/courses/1/password-links", json!({"people": [2]})).await;
    assert_eq!((status, &links[0]["sign_in"]), (200, &json!("milo")));
    let link = format!("/api/password-links/{}", links[0]["token"].as_str().unwrap());
    let teacher = b.cookie.take();
    // Without a password nobody comes in, not even with an empty one.
    assert_eq!(b.post("/api/sign-in", json!({"name": "milo", "password": ""})).await.0, 401);
    assert_eq!(b.get(&link).await.1["name"], "Milo Segmentine");
    let short = b.post(&link, json!({"before": null, "password": "lemon"})).await;
    assert_eq!(detail(&short), (422, "The password has fewer than 10 characters; make it longer."));
    let (status, start) = b.post(&link, json!({"before": null, "password": "grapefruit-7"})).await;
    assert_eq!((status, &start["me"]["courses"][0]["role"]), (200, &json!("student")));
    assert_eq!(b.get(&link).await.0, 404);
    assert_eq!(b.get("/api/courses/1/people").await.0, 403);
    // A new link for somebody with a password is made by staff of the only course, and ends the sessions when used.
    let student = std::mem::replace(&mut b.cookie, teacher);
    let (_, links) = b.post("/api/courses/1/password-links", json!({"people": [2]})).await;
    let link = format!("/api/password-links/{}", links[0]["token"].as_str().unwrap());
    b.sign_out();
    b.post(&link, json!({"before": null, "password": "clementine-9"})).await;
    b.cookie = student;
    assert!(b.get("/api/me").await.1["me"].is_null());
    drop(folder);
}

#[actix_web::test]
async fn students_join_by_code_until_it_is_used_up_or_ended() {
    begun!(folder, b);
    let ask = |uses: i64| json!({"section": "Evening", "uses": uses, "days": 7});
    assert_eq!(b.post("/api/courses/1/join-codes", ask(0)).await.0, 422);
    assert_eq!(b.post("/api/courses/1/join-codes", ask(1)).await.0, 204);
    let (_, view) = b.get("/api/courses/1/people").await;
    let code = view["join_codes"][0]["code"].as_str().unwrap().to_owned();
    let teacher = b.cookie.take();
    let new = |sign_in: &str| json!({"code": code, "person": {"name": "Tam Osei", "family": "", "sign_in": sign_in, "password": "grapefruit-7"}});
    let (status, target) = b.get(&format!("/api/join-codes/{}", code.to_uppercase())).await;
    assert_eq!((status, &target["title"]), (200, &json!("Packhouse Controls")));
    assert_eq!(detail(&b.post("/api/join", new("ines")).await).0, 422, "somebody else's name");
    let (status, start) = b.post("/api/join", new("tam")).await;
    assert_eq!((status, &start["me"]["courses"][0]["role"]), (200, &json!("student")));
    b.sign_out();
    assert_eq!(b.post("/api/join", new("tam2")).await.0, 404, "used up");
    b.cookie = teacher;
    assert_eq!(b.post("/api/courses/1/join-codes", ask(5)).await.0, 204);
    let (_, view) = b.get("/api/courses/1/people").await;
    let id = view["join_codes"][0]["id"].as_i64().unwrap();
    let code = view["join_codes"][0]["code"].as_str().unwrap().to_owned();
    assert_eq!(b.delete(&format!("/api/courses/1/join-codes/{id}")).await.0, 204);
    assert_eq!(b.get(&format!("/api/join-codes/{code}")).await.0, 404);
    drop(folder);
}

#[actix_web::test]
async fn people_are_changed_deactivated_and_erased() {
    begun!(folder, b);
    b.post("/api/courses/1/people", person("Milo Segmentine", "milo", "student")).await;
    let taken = b.post("/api/courses/1/people", person("Another", "MILO", "student")).await;
    assert_eq!(detail(&taken).0, 422);
    let mut edit = person("Milo Segmentine-Rind", "milo", "assistant");
    edit["looks_after"] = json!(["A", "B"]);
    assert_eq!(b.put("/api/courses/1/people/2", edit.clone()).await.0, 204);
    let (_, view) = b.get("/api/courses/1/people").await;
    assert_eq!(view["people"][1]["known"]["looks_after"], json!(["A", "B"]));
    // The last instructor stays one.
    let own = b.put("/api/courses/1/people/1", person("Ines Quillaby", "ines", "student")).await;
    assert_eq!(detail(&own), (422, "A course needs an instructor; make somebody else one first."));
    assert!(detail(&b.delete("/api/courses/1/people/2").await).1.starts_with("Only students can be erased"));
    let (_, links) = b.post("/api/courses/1/password-links", json!({"people": [2]})).await;
    let link = format!("/api/password-links/{}", links[0]["token"].as_str().unwrap());
    let teacher = b.cookie.take();
    b.post(&link, json!({"before": null, "password": "grapefruit-7"})).await;
    let assistant = std::mem::replace(&mut b.cookie, teacher);
    edit["role"] = json!("student");
    edit["active"] = json!(false);
    assert_eq!(b.put("/api/courses/1/people/2", edit).await.0, 204);
    let teacher = std::mem::replace(&mut b.cookie, assistant);
    assert!(b.get("/api/me").await.1["me"].is_null(), "a deactivated person's sessions end");
    b.cookie = teacher;
    assert_eq!(b.delete("/api/courses/1/people/2").await.0, 204);
    assert_eq!(b.get("/api/courses/1/people").await.1["people"].as_array().unwrap().len(), 1);
    let (_, trail) = b.get("/api/courses/1/audit").await;
    let text = trail.to_string();
    assert!(!text.contains("Milo") && text.contains("erased person 2") && text.contains("person erased"), "{text}");
    drop(folder);
}

#[actix_web::test]
async fn an_account_that_is_used_elsewhere_is_not_taken_over() {
    begun!(folder, b);
    // Rowan teaches another course.
    b.post("/api/courses/1/people", person("Rowan Pith", "rowan", "instructor")).await;
    let (_, links) = b.post("/api/courses/1/password-links", json!({"people": [2]})).await;
    let link = format!("/api/password-links/{}", links[0]["token"].as_str().unwrap());
    let ines = b.cookie.take();
    b.post(&link, json!({"before": null, "password": "grapefruit-7"})).await;
    assert_eq!(b.post("/api/courses", json!({"title": "Evening class", "copy_of": null})).await.0, 200);
    let (_, me) = b.get("/api/me").await;
    assert_eq!(me["me"]["courses"].as_array().unwrap().len(), 2);
    b.cookie = ines;
    let told = b.post("/api/courses/1/password-links", json!({"people": [2]})).await;
    assert!(detail(&told).1.starts_with("A link would open an account that is used elsewhere"), "{told:?}");
    let renamed = b.put("/api/courses/1/people/2", person("Somebody Else", "rowan", "student")).await;
    assert!(detail(&renamed).1.contains("name and number are theirs"), "{renamed:?}");
    drop(folder);
}

#[actix_web::test]
async fn a_course_is_copied_without_its_people_by_who_teaches() {
    begun!(folder, b);
    let exercise = include_str!("../../../demo/hopper-interlock/exercise.toml");
    b.post("/api/courses/1/exercises", json!({"text": exercise, "version": null})).await;
    assert_eq!(b.post("/api/courses/1/exercises/1/publish", json!({"version": 1})).await.0, 200);
    b.post("/api/courses/1/people", person("Milo Segmentine", "milo", "student")).await;
    let (status, made) = b.post("/api/courses", json!({"title": "Next term", "copy_of": 1})).await;
    assert_eq!((status, &made["title"]), (200, &json!("Next term")));
    let sheet = b.get(&format!("/api/courses/{}/pass-sheet", made["id"])).await.1;
    assert_eq!((sheet["exercises"].as_array().unwrap().len(), sheet["students"].as_array().unwrap().len()), (1, 0));
    assert_eq!(b.put(&format!("/api/courses/{}", made["id"]), json!({"title": "", "copy_of": null})).await.0, 422);
    let (_, links) = b.post("/api/courses/1/password-links", json!({"people": [2]})).await;
    b.sign_out();
    let link = format!("/api/password-links/{}", links[0]["token"].as_str().unwrap());
    b.post(&link, json!({"before": null, "password": "grapefruit-7"})).await;
    assert_eq!(b.post("/api/courses", json!({"title": "Mine", "copy_of": null})).await.0, 403);
    drop(folder);
}

#[actix_web::test]
async fn sessions_are_listed_and_revoked_and_the_password_changed() {
    begun!(folder, b);
    let first = b.cookie.take();
    b.post("/api/sign-in", json!({"name": "Ines", "password": PASSWORD})).await;
    let (_, list) = b.get("/api/sessions").await;
    assert_eq!(list.as_array().unwrap().len(), 2);
    let other = list.as_array().unwrap().iter().find(|s| s["is_this"] == false).unwrap()["key"].clone();
    assert_eq!(b.delete(&format!("/api/sessions/{}", other.as_str().unwrap())).await.0, 204);
    let second = std::mem::replace(&mut b.cookie, first);
    assert!(b.get("/api/me").await.1["me"].is_null());
    b.cookie = second;
    let wrong = b.put("/api/me/password", json!({"before": "no", "password": "grapefruit-7"})).await;
    assert_eq!(wrong.0, 401);
    assert_eq!(b.put("/api/me/password", json!({"before": PASSWORD, "password": "grapefruit-7"})).await.0, 200);
    b.sign_out();
    assert_eq!(b.post("/api/sign-in", json!({"name": "ines", "password": PASSWORD})).await.0, 401);
    assert_eq!(b.post("/api/sign-in", json!({"name": "ines", "password": "grapefruit-7"})).await.0, 200);
    drop(folder);
}

#[actix_web::test]
async fn wrong_guesses_are_noted_and_lock_nobody_out() {
    begun!(folder, b);
    let teacher = b.cookie.take();
    for _ in 0..6 {
        assert_eq!(b.post("/api/sign-in", json!({"name": "ines", "password": "guess"})).await.0, 401);
    }
    assert_eq!(b.post("/api/sign-in", json!({"name": "ines", "password": PASSWORD})).await.0, 200);
    b.cookie = teacher;
    let trail = b.get("/api/courses/1/audit").await.1.to_string();
    assert!(trail.contains("sign-ins refused"), "{trail}");
    drop(folder);
}
