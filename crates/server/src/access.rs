//! Who may call what: a route as it is declared.

use store::Role;
use utoipa::openapi::path::HttpMethod;

/// Who may call a route.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Access {
    /// Everybody.
    Public,
    /// Everybody who is signed in.
    SignedIn,
    /// Members of the course in the path with one of these roles.
    Member(&'static [Role]),
}

/// A route of the API.
#[derive(Clone, Debug)]
pub struct Route {
    /// HTTP method, in capitals.
    pub method: &'static str,
    /// Path with `{…}` for variable segments.
    pub path: String,
    /// Who may call it.
    pub access: Access,
}

impl Route {
    /// The route of a handler, whose method and path stand there.
    pub(crate) fn of<P: utoipa::Path>(access: Access) -> Self {
        let method = match P::methods().first() {
            Some(HttpMethod::Post) => "POST",
            Some(HttpMethod::Put) => "PUT",
            Some(HttpMethod::Delete) => "DELETE",
            _ => "GET",
        };
        Self { method, path: format!("{SCOPE}{}", P::path()), access }
    }
}

/// Where all of them begin.
pub(crate) const SCOPE: &str = "/api";
pub(crate) const PUBLIC: Access = Access::Public;
pub(crate) const SIGNED_IN: Access = Access::SignedIn;
pub(crate) const EVERYBODY: Access = Access::Member(&[Role::Instructor, Role::Assistant, Role::Student]);
pub(crate) const STAFF: Access = Access::Member(&[Role::Instructor, Role::Assistant]);
pub(crate) const INSTRUCTOR: Access = Access::Member(&[Role::Instructor]);
