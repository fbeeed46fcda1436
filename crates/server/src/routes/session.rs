//! Signing in and out, and who is signed in.

use super::blocking;
use crate::caller::{COOKIE, Caller, SESSION_SECONDS, new_token, session_cookie, token_hash};
use crate::password;
use crate::problem::Problem;
use crate::state::AppState;
use crate::wire::{CourseRef, Me, ProblemBody, SignIn, Start};
use actix_web::cookie::Cookie;
use actix_web::{HttpMessage, HttpRequest, HttpResponse, web};
use store::PersonId;

async fn start_of(state: &web::Data<AppState>, who: Option<(PersonId, String)>) -> Result<Start, Problem> {
    let me = match who {
        Some((person, name)) => {
            let courses = blocking(state, move |s| s.store.courses_of(person)).await?;
            let courses = courses
                .into_iter()
                .map(|(c, role)| CourseRef { id: c.id, title: c.title, role: role.key().into() })
                .collect();
            Some(Me { name, courses })
        }
        None => None,
    };
    Ok(Start { me, demo: state.demo.clone() })
}

/// Who is signed in.
#[utoipa::path(get, path = "/api/me", responses((status = 200, body = Start)))]
pub(super) async fn start(state: web::Data<AppState>, request: HttpRequest) -> Result<web::Json<Start>, Problem> {
    let who = request.extensions().get::<Caller>().map(|c| (c.person, c.name.clone()));
    start_of(&state, who).await.map(web::Json)
}

/// Signs in and sets the session cookie.
#[utoipa::path(post, path = "/api/sign-in", request_body = SignIn,
    responses((status = 200, body = Start), (status = 401, body = ProblemBody), (status = 429, body = ProblemBody)))]
pub(super) async fn sign_in(
    state: web::Data<AppState>,
    request: HttpRequest,
    body: web::Json<SignIn>,
) -> Result<HttpResponse, Problem> {
    let peer = request.peer_addr().map_or_else(String::new, |a| a.ip().to_string());
    let key = format!("{peer} {}", body.name.to_lowercase());
    if body.name.len() > 200 || body.password.len() > 1000 {
        return Err(Problem::wrong_password());
    }
    state.sign_ins.check_key(&key).map_err(|_| Problem::too_many_tries())?;
    let _permit = state.hashing.acquire().await.map_err(Problem::our_fault)?;
    let SignIn { name, password } = body.into_inner();
    let (token, hash) = new_token();
    let found = blocking(&state, move |s| {
        let account = s.store.account(&name)?;
        if !password::verify(&password, account.as_ref().map(|a| a.password_hash.as_str())) {
            return Ok(None);
        }
        let Some(account) = account else { return Ok(None) };
        let now = s.now();
        s.store.open_session(&hash, account.id, now, now + SESSION_SECONDS)?;
        Ok(Some((account.id, account.name)))
    })
    .await?;
    let who = found.ok_or_else(Problem::wrong_password)?;
    let start = start_of(&state, Some(who)).await?;
    Ok(HttpResponse::Ok().cookie(session_cookie(&token)).json(start))
}

/// Ends the session.
#[utoipa::path(post, path = "/api/sign-out", responses((status = 204)))]
pub(super) async fn sign_out(state: web::Data<AppState>, request: HttpRequest) -> Result<HttpResponse, Problem> {
    if let Some(cookie) = request.cookie(COOKIE) {
        let hash = token_hash(cookie.value());
        blocking(&state, move |s| s.store.close_session(&hash)).await?;
    }
    let mut gone = Cookie::build(COOKIE, "").path("/").http_only(true).finish();
    gone.make_removal();
    Ok(HttpResponse::NoContent().cookie(gone).finish())
}
