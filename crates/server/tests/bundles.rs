//! Hand-ins of many students in a zip, over HTTP: looked at, kept all or none, and sent again without harm.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use actix_web::cookie::Cookie;
use actix_web::dev::{Service, ServiceResponse};
use actix_web::{App, test as at, web};
use serde_json::{Value, json};
use server::{AppState, configure, hash_password};
use std::io::{Cursor, Write};
use std::sync::Arc;
use store::{Role, Store};
use zip::{ZipWriter, write::SimpleFileOptions};

const EXERCISE: &str = include_str!("../../../demo/hopper-interlock/exercise.toml");
const RIGHT: &str = include_str!("../../../demo/hopper-interlock/plain.v");
const WIRING: &str = include_str!("../../../demo/hopper-interlock/wiring_right.csv");
const LIST: &str = "/api/courses/1/exercises/1/hand-ins";

fn zip(files: &[(&str, &str)]) -> Vec<u8> {
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    for (name, text) in files {
        zip.start_file(*name, SimpleFileOptions::default()).unwrap();
        zip.write_all(text.as_bytes()).unwrap();
    }
    zip.finish().unwrap().into_inner()
}

fn world() -> (Arc<AppState>, tempfile::TempDir) {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(folder.path()).unwrap();
    let hash = hash_password("lemon-peel").unwrap();
    let instructor = store.add_person("Ines Quillaby", "ines", &hash, 1).unwrap();
    let course = store.add_course("Packhouse Controls", instructor, 1).unwrap();
    store.add_exercise(course, "Hopper", EXERCISE, instructor, 1).unwrap();
    for (name, sign_in) in [("Abel Zestwick", "abel"), ("Otis Marmalade", "otis"), ("Milo Segmentine", "milo")] {
        let id = store.add_person(name, sign_in, &hash, 1).unwrap();
        store.set_member(course, id, Role::Student, "Evening").unwrap();
    }
    (AppState::new(store, None, None), folder)
}

async fn come_in<S, B>(app: &S, name: &str) -> Cookie<'static>
where
    S: Service<actix_http::Request, Response = ServiceResponse<B>, Error = actix_web::Error>,
    B: actix_web::body::MessageBody,
{
    let body = json!({ "name": name, "password": "lemon-peel" });
    let post = at::TestRequest::post().uri("/api/sign-in").set_json(body).to_request();
    let response = at::call_service(app, post).await;
    response.response().cookies().next().unwrap().into_owned()
}

async fn send<S, B>(app: &S, cookie: &Cookie<'static>, apply: bool, bytes: Vec<u8>) -> (u16, Value)
where
    S: Service<actix_http::Request, Response = ServiceResponse<B>, Error = actix_web::Error>,
    B: actix_web::body::MessageBody,
{
    let post = at::TestRequest::post().uri(&format!("{LIST}/zip?apply={apply}")).set_payload(bytes);
    let response = match at::try_call_service(app, post.cookie(cookie.clone()).to_request()).await {
        Ok(response) => response,
        // The gate refuses before any handler is asked.
        Err(refused) => return (refused.error_response().status().as_u16(), Value::Null),
    };
    let status = response.status().as_u16();
    (status, serde_json::from_slice(&at::read_body(response).await).unwrap_or(Value::Null))
}

async fn count<S, B>(app: &S, cookie: &Cookie<'static>) -> usize
where
    S: Service<actix_http::Request, Response = ServiceResponse<B>, Error = actix_web::Error>,
    B: actix_web::body::MessageBody,
{
    let get = at::TestRequest::get().uri(LIST).cookie(cookie.clone()).to_request();
    let list: Value = serde_json::from_slice(&at::read_body(at::call_service(app, get).await).await).unwrap();
    list.as_array().unwrap().len()
}

macro_rules! app {
    ($state:expr) => {
        at::init_service(App::new().app_data(web::Data::from($state)).configure(configure)).await
    };
}

#[actix_web::test]
async fn a_zip_is_looked_at_before_it_is_kept_and_sent_again_without_harm() {
    let (state, _folder) = world();
    let app = app!(state);
    let ines = come_in(&app, "ines").await;
    let sent = zip(&[
        ("lab/abel/plain.v", RIGHT),
        ("lab/abel/wiring.csv", WIRING),
        ("lab/Otis Marmalade_77/plain.v", RIGHT),
        ("lab/readme.txt", "who reads this"),
    ]);
    let (status, seen) = send(&app, &ines, false, sent.clone()).await;
    assert_eq!((status, seen["applied"].clone()), (200, json!(false)));
    let lines: Vec<(&str, &str, Option<i64>)> = seen["lines"]
        .as_array()
        .unwrap()
        .iter()
        .map(|l| (l["name"].as_str().unwrap(), l["state"].as_str().unwrap(), l["attempt"].as_i64()))
        .collect();
    assert_eq!(lines, [("Abel Zestwick", "new", Some(1)), ("Otis Marmalade", "new", Some(1))]);
    assert_eq!(seen["left_over"][0]["path"], "readme.txt");
    assert_eq!(seen["missing"], json!(["Milo Segmentine"]));
    assert_eq!(count(&app, &ines).await, 0, "looking keeps nothing");
    let (_, done) = send(&app, &ines, true, sent.clone()).await;
    assert_eq!((done["applied"].clone(), count(&app, &ines).await), (json!(true), 2));
    // Once more: the files are there already.
    let (_, again) = send(&app, &ines, true, sent).await;
    assert!(again["lines"].as_array().unwrap().iter().all(|l| l["state"] == "same" && l["attempt"] == 1), "{again}");
    assert_eq!(count(&app, &ines).await, 2);
    // Another text is another attempt, and the rest stays.
    let other = zip(&[("abel/plain.v", &RIGHT.replace("full", "full ")), ("otis/plain.v", RIGHT)]);
    let (_, next) = send(&app, &ines, true, other).await;
    assert_eq!((next["lines"][0]["attempt"].clone(), next["lines"][1]["state"].clone()), (json!(2), json!("same")));
    assert_eq!(count(&app, &ines).await, 3);
}

#[actix_web::test]
async fn what_is_no_hand_in_is_refused_by_name_and_the_others_are_kept() {
    let (state, _folder) = world();
    let app = app!(state);
    let ines = come_in(&app, "ines").await;
    let many: Vec<(String, &str)> = (0..65).map(|k| (format!("milo/part{k}.v"), RIGHT)).collect();
    let mut files = vec![("abel/wiring.csv", WIRING), ("otis/plain.v", RIGHT)];
    files.extend(many.iter().map(|(name, text)| (name.as_str(), *text)));
    let (_, view) = send(&app, &ines, true, zip(&files)).await;
    let by_name = |name: &str| view["lines"].as_array().unwrap().iter().find(|l| l["name"] == name).unwrap().clone();
    assert_eq!(by_name("Otis Marmalade")["why"], "");
    assert_eq!(by_name("Abel Zestwick")["why"], "There is no design file.");
    assert!(by_name("Milo Segmentine")["why"].as_str().unwrap().contains("65 files"));
    assert_eq!(count(&app, &ines).await, 1);
}

#[actix_web::test]
async fn broken_archives_end_in_a_sentence_and_students_send_none() {
    let (state, _folder) = world();
    let app = app!(state);
    let ines = come_in(&app, "ines").await;
    for (bytes, words) in [
        (b"no zip at all".to_vec(), "This is no zip"),
        (b"PK\x03\x04broken".to_vec(), "can't be read"),
        (Vec::new(), "This is no zip"),
    ] {
        let (status, problem) = send(&app, &ines, true, bytes).await;
        assert_eq!(status, 422);
        assert!(problem["detail"].as_str().unwrap().contains(words), "{problem}");
    }
    let empty = zip(&[]);
    let (status, view) = send(&app, &ines, true, empty).await;
    assert_eq!((status, view["missing"].as_array().unwrap().len()), (200, 3));
    let abel = come_in(&app, "abel").await;
    assert_eq!(send(&app, &abel, true, zip(&[("abel/plain.v", RIGHT)])).await.0, 403);
    assert_eq!(count(&app, &ines).await, 0);
}
