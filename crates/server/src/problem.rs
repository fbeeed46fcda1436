//! The one place that maps failures to HTTP statuses: problem+json (RFC 9457) with what to do.

use crate::wire::ProblemBody;
use actix_web::http::StatusCode;
use actix_web::http::header::ALLOW;
use actix_web::{HttpResponse, ResponseError};
use std::fmt;
use store::StoreError;

/// A failure as the browser gets it.
#[derive(Debug)]
pub(crate) struct Problem {
    status: StatusCode,
    title: &'static str,
    detail: String,
    /// The methods that the address takes.
    allow: Option<String>,
}

impl Problem {
    pub(crate) fn new(status: StatusCode, title: &'static str, detail: impl Into<String>) -> Self {
        Self { status, title, detail: detail.into(), allow: None }
    }

    pub(crate) fn bad_input(detail: impl Into<String>) -> Self {
        Self::new(StatusCode::UNPROCESSABLE_ENTITY, "This can't be used", detail)
    }

    pub(crate) fn signed_out() -> Self {
        Self::new(StatusCode::UNAUTHORIZED, "Not signed in", "Sign in to go on.")
    }

    pub(crate) fn not_allowed() -> Self {
        Self::new(
            StatusCode::FORBIDDEN,
            "Not allowed",
            "Your role in this course doesn't allow this; ask the instructor.",
        )
    }

    /// Something that could be there and is not, as a whole sentence.
    pub(crate) fn absent(detail: &str) -> Self {
        Self::new(StatusCode::NOT_FOUND, "Not there", detail)
    }

    pub(crate) fn not_found(what: &str) -> Self {
        Self::new(
            StatusCode::NOT_FOUND,
            "Not there",
            format!("This {what} doesn't exist, or you may not see it; go back and choose another."),
        )
    }

    pub(crate) fn no_such_page() -> Self {
        Self::not_found("address")
    }

    /// The address is there, for other methods; the answer lists them (RFC 9110 15.5.6).
    pub(crate) fn wrong_method(allowed: &[&str]) -> Self {
        let allowed = allowed.join(", ");
        let detail = format!("This address takes {allowed}.");
        let problem = Self::new(StatusCode::METHOD_NOT_ALLOWED, "Not possible here", detail);
        Self { allow: Some(allowed), ..problem }
    }

    pub(crate) fn dump_too_large() -> Self {
        Self::too_large("A waveform file is at most 192 MiB; dump a shorter time or fewer signals.")
    }

    pub(crate) fn cross_site() -> Self {
        Self::new(StatusCode::FORBIDDEN, "Came from elsewhere", "Open Zesty Gate itself and try again there.")
    }

    pub(crate) fn too_many_tries() -> Self {
        Self::new(
            StatusCode::TOO_MANY_REQUESTS,
            "Too many tries",
            "Several tries wait already; try again in a few seconds.",
        )
    }

    pub(crate) fn wrong_password() -> Self {
        let detail = "The name or the password is wrong; check both and try again.";
        Self::new(StatusCode::UNAUTHORIZED, "Not signed in", detail)
    }

    pub(crate) fn too_large(detail: impl Into<String>) -> Self {
        Self::new(StatusCode::PAYLOAD_TOO_LARGE, "Too large", detail)
    }

    /// The same where a number stands in the log already; the sentence says it.
    pub(crate) fn told_fault(sentence: impl Into<String>) -> Self {
        Self::new(StatusCode::INTERNAL_SERVER_ERROR, "Our fault", sentence.into())
    }

    /// A failure that is nobody's but ours: logged, told without detail.
    pub(crate) fn our_fault(what: impl fmt::Display) -> Self {
        let number = format!("{:06x}", rand::random::<u32>() & 0xff_ffff);
        tracing::error!(number, "{what}");
        let detail = format!(
            "Something failed on the server; nothing was changed. Try again, then tell the instructor the number {number}."
        );
        Self::new(StatusCode::INTERNAL_SERVER_ERROR, "Our fault", detail)
    }
}

impl fmt::Display for Problem {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}: {}", self.title, self.detail)
    }
}

impl ResponseError for Problem {
    fn status_code(&self) -> StatusCode {
        self.status
    }

    fn error_response(&self) -> HttpResponse {
        let body =
            ProblemBody { title: self.title.to_owned(), status: self.status.as_u16(), detail: self.detail.clone() };
        let mut response = HttpResponse::build(self.status);
        if let Some(allow) = &self.allow {
            response.insert_header((ALLOW, allow.as_str()));
        }
        response.content_type("application/problem+json").body(serde_json::to_string(&body).unwrap_or_default())
    }
}

impl From<StoreError> for Problem {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::NotFound(what) => Self::not_found(what),
            StoreError::Refused(why) => Self::bad_input(why),
            StoreError::Taken(what) => Self::bad_input(format!("{what} is there already; choose another.")),
            other => Self::our_fault(other),
        }
    }
}
