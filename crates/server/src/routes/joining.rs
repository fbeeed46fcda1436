//! How people come in: the first set-up, links with which a password is set, codes with which a course is joined, and one's own
//! sessions and password.

use super::session::{opened, slowed, start_of};
use super::{blocking, people};
use crate::caller::{Caller, token_hash};
use crate::password;
use crate::problem::Problem;
use crate::state::AppState;
use crate::terms;
use crate::wire::{JoinAsk, JoinTarget, LinkOwner, NewPassword, SessionInfo, SetUp, Start};
use actix_web::{HttpMessage, HttpRequest, HttpResponse, web};
use actix_web::{delete, get, post, put};

/// The shortest password.
const SHORTEST: usize = 10;

/// A password that may be set, as its hash.
async fn hashed(state: &web::Data<AppState>, password: String, sign_in: &str) -> Result<String, Problem> {
    if password.chars().count() < SHORTEST {
        return Err(Problem::bad_input(format!("The password has fewer than {SHORTEST} characters; make it longer.")));
    }
    if password.len() > 1000 {
        return Err(Problem::bad_input("The password has more than 1000 bytes; make it shorter."));
    }
    if password.eq_ignore_ascii_case(sign_in) {
        return Err(Problem::bad_input("The password is the sign-in name; choose another."));
    }
    let _permit = state.hashing.acquire().await.map_err(Problem::our_fault)?;
    let work = web::block(move || password::hash_password(&password)).await;
    work.map_err(Problem::our_fault)?.map_err(Problem::our_fault)
}

/// Makes the first person with the first course; only while there is nobody.
#[utoipa::path(request_body = SetUp,
    responses((status = 200, body = Start)))]
#[post("/set-up")]
pub(super) async fn set_up(
    state: web::Data<AppState>,
    request: HttpRequest,
    body: web::Json<SetUp>,
) -> Result<HttpResponse, Problem> {
    let body = body.into_inner();
    let data = people::tidy((&body.name, &body.family, &body.sign_in), ("", ""))?;
    let title = super::courses::title(&body.course)?;
    let zone = body.zone.as_deref().map(terms::zone_typed).transpose()?;
    if blocking(&state, |s| s.store.person_count()).await? > 0 {
        return Err(Problem::bad_input("Zesty Gate is set up already; sign in."));
    }
    let hash = hashed(&state, body.password, &data.sign_in).await?;
    let name = data.name.clone();
    let person = blocking(&state, move |s| {
        let now = s.now();
        let person = s.store.set_up((&data.name, &data.family), &data.sign_in, &hash, now)?;
        let course = s.store.add_course(&title, person, now)?;
        if let Some(zone) = zone {
            s.store.set_zone(course, zone.name(), person, now)?;
        }
        Ok(person)
    })
    .await?;
    opened(&state, &request, (person, name)).await
}

/// Whose link it is.
#[utoipa::path(params(("token" = String, Path)),
    responses((status = 200, body = LinkOwner)))]
#[get("/password-links/{token}")]
pub(super) async fn link_owner(
    state: web::Data<AppState>,
    request: HttpRequest,
    token: web::Path<String>,
) -> Result<web::Json<LinkOwner>, Problem> {
    let hash = token_hash(&token);
    let found = blocking(&state, move |s| s.store.password_link(&hash, s.now())).await;
    let (name, sign_in) = slowed(&state, &request, "password link", found).await?;
    Ok(web::Json(LinkOwner { name, sign_in }))
}

/// Sets a password by a link and signs in.
#[utoipa::path(params(("token" = String, Path)), request_body = NewPassword,
    responses((status = 200, body = Start)))]
#[post("/password-links/{token}")]
pub(super) async fn use_link(
    state: web::Data<AppState>,
    request: HttpRequest,
    token: web::Path<String>,
    body: web::Json<NewPassword>,
) -> Result<HttpResponse, Problem> {
    let link = token_hash(&token);
    let found = blocking(&state, move |s| s.store.password_link(&link, s.now())).await;
    let (_, sign_in) = slowed(&state, &request, "password link", found).await?;
    let hash = hashed(&state, body.into_inner().password, &sign_in).await?;
    let who = blocking(&state, move |s| s.store.use_password_link(&link, &hash, s.now())).await?;
    opened(&state, &request, who).await
}

/// The course that a code leads to.
#[utoipa::path(params(("code" = String, Path)),
    responses((status = 200, body = JoinTarget)))]
#[get("/join-codes/{code}")]
pub(super) async fn join_target(
    state: web::Data<AppState>,
    request: HttpRequest,
    code: web::Path<String>,
) -> Result<web::Json<JoinTarget>, Problem> {
    let code = code.trim().to_owned();
    let found = blocking(&state, move |s| s.store.course_of_code(&code, s.now())).await;
    Ok(web::Json(JoinTarget { title: slowed(&state, &request, "join code", found).await? }))
}

/// Joins a course by code: as a new person, or as the one who is signed in.
#[utoipa::path(request_body = JoinAsk,
    responses((status = 200, body = Start)))]
#[post("/join")]
pub(super) async fn join(
    state: web::Data<AppState>,
    request: HttpRequest,
    body: web::Json<JoinAsk>,
) -> Result<HttpResponse, Problem> {
    let JoinAsk { code, person } = body.into_inner();
    let code = code.trim().to_owned();
    let (asked, known) = (code.clone(), request.extensions().get::<Caller>().map(|c| (c.person, c.name.clone())));
    let found = blocking(&state, move |s| s.store.course_of_code(&asked, s.now())).await;
    slowed(&state, &request, "join code", found).await?;
    let Some(new) = person else {
        let who = known.ok_or_else(Problem::signed_out)?;
        let own = who.0;
        blocking(&state, move |s| s.store.join(&code, Ok(own), s.now())).await?;
        return Ok(HttpResponse::Ok().json(start_of(&state, Some(who)).await?));
    };
    let data = people::tidy((&new.name, &new.family, &new.sign_in), ("", ""))?;
    let hash = hashed(&state, new.password, &data.sign_in).await?;
    let name = data.name.clone();
    let (_, person) = blocking(&state, move |s| s.store.join(&code, Err((&data, &hash)), s.now())).await?;
    opened(&state, &request, (person, name)).await
}

/// One's own sessions.
#[utoipa::path(responses((status = 200, body = [SessionInfo])))]
#[get("/sessions")]
pub(super) async fn sessions(
    state: web::Data<AppState>,
    caller: Caller,
    request: HttpRequest,
) -> Result<web::Json<Vec<SessionInfo>>, Problem> {
    let own = request.cookie(crate::caller::COOKIE).map(|c| token_hash(c.value()));
    let list = blocking(&state, move |s| s.store.sessions(caller.person, s.now())).await?;
    let info = |s: store::Session| SessionInfo {
        is_this: own.is_some_and(|own| own.starts_with(&s.key)),
        key: hex::encode(&s.key),
        opened_at: s.opened_at,
        seen_at: s.seen_at,
        agent: s.agent,
    };
    Ok(web::Json(list.into_iter().map(info).collect()))
}

/// Ends one of one's own sessions.
#[utoipa::path(params(("session" = String, Path)),
    responses((status = 204)))]
#[delete("/sessions/{session}")]
pub(super) async fn revoke(
    state: web::Data<AppState>,
    caller: Caller,
    session: web::Path<String>,
) -> Result<HttpResponse, Problem> {
    let key = hex::decode(session.as_str()).map_err(|_| Problem::not_found("session"))?;
    blocking(&state, move |s| s.store.revoke_session(caller.person, &key)).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Changes one's own password; other sessions end.
#[utoipa::path(request_body = NewPassword,
    responses((status = 200, body = Start)))]
#[put("/me/password")]
pub(super) async fn change_password(
    state: web::Data<AppState>,
    caller: Caller,
    request: HttpRequest,
    body: web::Json<NewPassword>,
) -> Result<HttpResponse, Problem> {
    let NewPassword { before, password } = body.into_inner();
    let (before, person) = (before.unwrap_or_default(), caller.person);
    let account = blocking(&state, move |s| s.store.account_of(person)).await?;
    let sign_in = account.sign_in.clone();
    super::session::verified(&state, &request, (&sign_in, before), Some(account)).await?;
    let hash = hashed(&state, password, &sign_in).await?;
    blocking(&state, move |s| s.store.set_password(person, &hash, s.now())).await?;
    opened(&state, &request, (person, caller.name)).await
}
