//! Who calls: the session cookie and the person behind it.

use crate::problem::Problem;
use actix_web::cookie::{Cookie, SameSite};
use actix_web::dev::Payload;
use actix_web::{FromRequest, HttpMessage, HttpRequest};
use sha2::{Digest, Sha256};
use std::future::{Ready, ready};
use store::{PersonId, Role};

pub(crate) const COOKIE: &str = "zesty_session";

/// How long a session lasts, in seconds: two weeks.
pub(crate) const SESSION_SECONDS: i64 = 14 * 24 * 3600;

/// The signed-in person behind a request, with the role in the course of its path.
#[derive(Clone, Debug)]
pub(crate) struct Caller {
    pub(crate) person: PersonId,
    pub(crate) name: String,
    pub(crate) role: Option<Role>,
}

impl Caller {
    pub(crate) fn is_staff(&self) -> bool {
        matches!(self.role, Some(Role::Instructor | Role::Assistant))
    }

    /// The student whose work may be seen: everybody's (`None`) for staff, else only one's own.
    pub(crate) fn sees(&self) -> Option<PersonId> {
        if self.is_staff() { None } else { Some(self.person) }
    }
}

impl FromRequest for Caller {
    type Error = Problem;
    type Future = Ready<Result<Self, Problem>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        ready(request.extensions().get::<Caller>().cloned().ok_or_else(Problem::signed_out))
    }
}

/// A fresh secret for a browser, and its hash for the store.
pub(crate) fn new_token() -> (String, [u8; 32]) {
    let bytes: [u8; 32] = rand::random();
    let token = hex::encode(bytes);
    let hash = token_hash(&token);
    (token, hash)
}

pub(crate) fn token_hash(token: &str) -> [u8; 32] {
    Sha256::digest(token.as_bytes()).into()
}

pub(crate) fn session_cookie(token: &str) -> Cookie<'static> {
    Cookie::build(COOKIE, token.to_owned())
        .path("/")
        .http_only(true)
        .same_site(SameSite::Strict)
        .max_age(actix_web::cookie::time::Duration::seconds(SESSION_SECONDS))
        .finish()
}
