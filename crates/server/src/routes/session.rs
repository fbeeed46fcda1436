//! Signing in and out, and who is signed in.

use super::blocking;
use crate::caller::{COOKIE, Caller, SESSION_SECONDS, new_token, session_cookie, token_hash};
use crate::password;
use crate::problem::Problem;
use crate::state::AppState;
use crate::terms;
use crate::wire::{CourseRef, Me, SignIn, Start};
use actix_web::cookie::Cookie;
use actix_web::{HttpMessage, HttpRequest, HttpResponse, web};
use actix_web::{get, post};
use store::{Account, PersonId};

pub(super) async fn start_of(state: &web::Data<AppState>, who: Option<(PersonId, String)>) -> Result<Start, Problem> {
    let Some((person, name)) = who else {
        let needs_set_up = blocking(state, |s| s.store.person_count()).await? == 0;
        return Ok(Start { me: None, demo: state.demo.clone(), needs_set_up });
    };
    let me = blocking(state, move |s| {
        let course = |(c, role): (store::Course, store::Role)| CourseRef {
            id: c.id,
            title: c.title,
            role: role.key().into(),
            zone: terms::zone_named(&c.zone).name().to_owned(),
        };
        let courses = s.store.courses_of(person)?.into_iter().map(course).collect();
        let (sign_in, teaches) = (s.store.account_of(person)?.sign_in, s.store.teaches(person)?);
        Ok(Me { name, sign_in, teaches, courses })
    })
    .await?;
    Ok(Start { me: Some(me), demo: state.demo.clone(), needs_set_up: false })
}

/// The address that a request comes from; behind a proxy the one that the proxy saw.
pub(super) fn address(state: &AppState, request: &HttpRequest) -> String {
    let peer = request.peer_addr().map_or_else(String::new, |a| a.ip().to_string());
    if !state.is_behind_proxy() {
        return peer;
    }
    // What the proxy itself added is the last; earlier entries are the sender's own words.
    let forwarded = request.headers().get_all("x-forwarded-for").last().and_then(|v| v.to_str().ok());
    let seen = forwarded.and_then(|list| list.rsplit(',').next()).map(str::trim).filter(|a| !a.is_empty());
    seen.map_or(peer, |seen| seen.chars().take(64).collect())
}

/// Slows down who asks for things that aren't there, such as join codes.
pub(super) async fn slowed<T>(
    state: &web::Data<AppState>,
    request: &HttpRequest,
    what: &str,
    found: Result<T, Problem>,
) -> Result<T, Problem> {
    let address = address(state, request);
    let guess = format!("{what}, from {address}");
    let waiting = state.throttle.enter(&guess, &address, state.now()).ok_or_else(Problem::too_many_tries)?;
    if found.is_err() {
        // Only guesses wait, and only after some: a code is typed wrong now and then.
        state.throttle.failed(&guess, &address, state.now());
        tokio::time::sleep(waiting.time).await;
    }
    found
}

/// Checks a password, slowed down by earlier wrong ones.
pub(super) async fn verified(
    state: &web::Data<AppState>,
    request: &HttpRequest,
    (sign_in, password): (&str, String),
    account: Option<Account>,
) -> Result<(PersonId, String), Problem> {
    let address = address(state, request);
    let waiting = state.throttle.enter(sign_in, &address, state.now()).ok_or_else(Problem::too_many_tries)?;
    tokio::time::sleep(waiting.time).await;
    let _permit = state.hashing.acquire().await.map_err(Problem::our_fault)?;
    let hash = account.as_ref().map(|a| a.password_hash.clone()).filter(|hash| !hash.is_empty());
    let fits = web::block(move || password::verify(&password, hash.as_deref())).await.map_err(Problem::our_fault)?;
    match account.filter(|_| fits) {
        Some(account) => {
            state.throttle.succeeded(sign_in);
            Ok((account.id, account.name))
        }
        None => {
            if state.throttle.failed(sign_in, &address, state.now()) {
                let subject = format!("{sign_in}, from {address}");
                blocking(state, move |s| s.store.note_refused_sign_ins(&subject, s.now())).await?;
            }
            Err(Problem::wrong_password())
        }
    }
}

/// Opens a session and gives it to the browser with what its page begins with.
pub(super) async fn opened(
    state: &web::Data<AppState>,
    request: &HttpRequest,
    who: (PersonId, String),
) -> Result<HttpResponse, Problem> {
    let (token, hash) = new_token();
    let agent = request.headers().get("user-agent").and_then(|v| v.to_str().ok()).unwrap_or("");
    let (agent, person) = (agent.chars().take(200).collect::<String>(), who.0);
    blocking(state, move |s| {
        let now = s.now();
        s.store.open_session(&hash, person, now, now + SESSION_SECONDS, &agent)
    })
    .await?;
    let start = start_of(state, Some(who)).await?;
    Ok(HttpResponse::Ok().cookie(session_cookie(&token)).json(start))
}

/// Who is signed in.
#[utoipa::path(responses((status = 200, body = Start)))]
#[get("/me")]
pub(super) async fn who_am_i(state: web::Data<AppState>, request: HttpRequest) -> Result<web::Json<Start>, Problem> {
    let who = request.extensions().get::<Caller>().map(|c| (c.person, c.name.clone()));
    start_of(&state, who).await.map(web::Json)
}

/// Signs in and sets the session cookie.
#[utoipa::path(request_body = SignIn,
    responses((status = 200, body = Start)))]
#[post("/sign-in")]
pub(super) async fn open_session(
    state: web::Data<AppState>,
    request: HttpRequest,
    body: web::Json<SignIn>,
) -> Result<HttpResponse, Problem> {
    let SignIn { name, password } = body.into_inner();
    if name.len() > 200 || password.len() > 1000 {
        return Err(Problem::wrong_password());
    }
    // Names are kept in small letters; those of earlier versions are found whatever their letters.
    let asked = course::valid_sign_in(&name).unwrap_or_else(|_| name.trim().to_owned());
    let account = blocking(&state, move |s| s.store.account(&asked)).await?;
    let who = verified(&state, &request, (name.trim(), password), account).await?;
    opened(&state, &request, who).await
}

/// Ends the session.
#[utoipa::path(responses((status = 204)))]
#[post("/sign-out")]
pub(super) async fn sign_out(state: web::Data<AppState>, request: HttpRequest) -> Result<HttpResponse, Problem> {
    if let Some(cookie) = request.cookie(COOKIE) {
        let hash = token_hash(cookie.value());
        blocking(&state, move |s| s.store.close_session(&hash)).await?;
    }
    let mut gone = Cookie::build(COOKIE, "").path("/").http_only(true).finish();
    gone.make_removal();
    Ok(HttpResponse::NoContent().cookie(gone).finish())
}
