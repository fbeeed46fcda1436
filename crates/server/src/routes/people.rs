//! The people of a course as staff manages them, and rosters.

use super::blocking;
use crate::caller::{Caller, new_token};
use crate::problem::Problem;
use crate::rosters;
use crate::state::AppState;
use crate::wire::{JoinCodeAsk, JoinCodeInfo, LinksAsk, PasswordLink, PeopleView, PersonEdit, PersonLine, RosterView};
use actix_web::{HttpResponse, web};
use actix_web::{delete, get, post, put};
use course::{PersonName, sort_key};
use store::{CourseId, CoursePerson, JoinCode, PersonData, PersonId, Role};

/// Seconds that a link to set a password holds: two weeks.
const LINK_SECONDS: i64 = 14 * 24 * 3600;
/// Links that are made at once.
const MOST_LINKS: usize = 500;

fn line(p: CoursePerson) -> PersonLine {
    PersonLine {
        id: p.id,
        known: PersonEdit {
            name: p.name,
            family: p.family,
            sign_in: p.sign_in,
            number: p.number,
            section: p.section,
            role: p.role.key().into(),
            looks_after: p.looks_after,
            active: p.is_active,
        },
        has_password: p.has_password,
        hand_ins: p.hand_ins,
        is_ours: p.is_ours,
    }
}

/// The people of a course; join codes for instructors only.
#[utoipa::path(params(("course" = i64, Path)),
    responses((status = 200, body = PeopleView)))]
#[get("/courses/{course}/people")]
pub(super) async fn list(
    state: web::Data<AppState>,
    caller: Caller,
    course: web::Path<CourseId>,
) -> Result<web::Json<PeopleView>, Problem> {
    let course = course.into_inner();
    let view = blocking(&state, move |s| {
        let mut people = s.store.people(course)?;
        people.sort_by_cached_key(|p| (p.role, sort_key(&p.name, &p.family), p.id));
        let codes = match caller.role {
            Some(Role::Instructor) => s.store.join_codes(course, s.now())?,
            _ => Vec::new(),
        };
        let title = s.store.courses_of(caller.person)?.into_iter().find(|(c, _)| c.id == course);
        let code = |c: JoinCode| JoinCodeInfo {
            id: c.id,
            code: c.code,
            section: c.section,
            uses_left: c.uses_left,
            expires_at: c.expires_at,
        };
        Ok(PeopleView {
            title: title.map(|(c, _)| c.title).unwrap_or_default(),
            people: people.into_iter().map(line).collect(),
            join_codes: codes.into_iter().map(code).collect(),
        })
    });
    view.await.map(web::Json)
}

fn role(word: &str) -> Result<Role, Problem> {
    [Role::Instructor, Role::Assistant, Role::Student]
        .into_iter()
        .find(|r| r.key() == word)
        .ok_or_else(|| Problem::bad_input("The role has to be instructor, assistant or student."))
}

/// What staff typed of a person, made tidy.
pub(super) fn tidy(
    (name, family, sign_in): (&str, &str, &str),
    (number, section): (&str, &str),
) -> Result<PersonData, Problem> {
    let name = if family.trim().is_empty() { PersonName::of_whole(name) } else { with_family(name, family) };
    if name.whole.is_empty() {
        return Err(Problem::bad_input("A name is missing; give one."));
    }
    if [name.whole.as_str(), number, section].iter().any(|t| t.chars().count() > 120) {
        return Err(Problem::bad_input("A field has more than 120 characters; shorten it."));
    }
    Ok(PersonData {
        name: name.whole,
        family: name.family,
        sign_in: course::valid_sign_in(sign_in).map_err(|e| Problem::bad_input(e.to_string()))?,
        number: number.trim().to_owned(),
        section: section.trim().to_owned(),
    })
}

/// A whole name with the part of it that is the family name.
fn with_family(name: &str, family: &str) -> PersonName {
    let (whole, family) = (PersonName::of_whole(name).whole, PersonName::of_whole(family).whole);
    if whole.is_empty() || whole == family { PersonName::of_parts("", &family) } else { PersonName { whole, family } }
}

fn data_of(edit: &PersonEdit) -> Result<PersonData, Problem> {
    tidy((&edit.name, &edit.family, &edit.sign_in), (&edit.number, &edit.section))
}

/// Adds a person by hand.
#[utoipa::path(params(("course" = i64, Path)), request_body = PersonEdit,
    responses((status = 204)))]
#[post("/courses/{course}/people")]
pub(super) async fn add(
    state: web::Data<AppState>,
    caller: Caller,
    course: web::Path<CourseId>,
    body: web::Json<PersonEdit>,
) -> Result<HttpResponse, Problem> {
    let (data, role) = (data_of(&body)?, role(&body.role)?);
    blocking(&state, move |s| s.store.add_to_course(course.into_inner(), (role, &data), Some(caller.person), s.now()))
        .await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Changes what is known of a person and what they are in the course.
#[utoipa::path(params(("course" = i64, Path), ("person" = i64, Path)),
    request_body = PersonEdit, responses((status = 204)))]
#[put("/courses/{course}/people/{person}")]
pub(super) async fn change(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, PersonId)>,
    body: web::Json<PersonEdit>,
) -> Result<HttpResponse, Problem> {
    let (data, role) = (data_of(&body)?, role(&body.role)?);
    let (course, person) = path.into_inner();
    let body = body.into_inner();
    blocking(&state, move |s| {
        let what = (&data, role, body.looks_after.as_slice(), body.active);
        s.store.change_person(course, person, what, (caller.person, s.now()))
    })
    .await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Erases a student with all work.
#[utoipa::path(params(("course" = i64, Path), ("person" = i64, Path)),
    responses((status = 204)))]
#[delete("/courses/{course}/people/{person}")]
pub(super) async fn erase(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, PersonId)>,
) -> Result<HttpResponse, Problem> {
    let (course, person) = path.into_inner();
    blocking(&state, move |s| s.store.erase_person(course, person, (caller.person, s.now()))).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Makes one-time links with which people set a password; assistants make them for students.
#[utoipa::path(params(("course" = i64, Path)), request_body = LinksAsk,
    responses((status = 200, body = [PasswordLink])))]
#[post("/courses/{course}/password-links")]
pub(super) async fn links(
    state: web::Data<AppState>,
    caller: Caller,
    course: web::Path<CourseId>,
    body: web::Json<LinksAsk>,
) -> Result<web::Json<Vec<PasswordLink>>, Problem> {
    let (course, asked) = (course.into_inner(), body.into_inner().people);
    if asked.is_empty() || asked.len() > MOST_LINKS {
        return Err(Problem::bad_input(format!("Choose 1 to {MOST_LINKS} people.")));
    }
    let people = blocking(&state, move |s| s.store.people(course)).await?;
    let (mut made, mut hashes) = (Vec::new(), Vec::new());
    let expires_at = state.now() + LINK_SECONDS;
    for id in asked {
        let person = people.iter().find(|p| p.id == id).ok_or_else(|| Problem::not_found("person"))?;
        if caller.role != Some(Role::Instructor) && person.role != Role::Student {
            return Err(Problem::not_allowed());
        }
        let (token, hash) = new_token();
        hashes.push((id, hash));
        let (name, sign_in) = (person.name.clone(), person.sign_in.clone());
        made.push(PasswordLink { person: id, name, sign_in, token, expires_at });
    }
    blocking(&state, move |s| s.store.make_password_links(course, &hashes, expires_at, (caller.person, s.now())))
        .await?;
    Ok(web::Json(made))
}

/// What is asked of a roster.
#[derive(serde::Deserialize, utoipa::IntoParams)]
pub(super) struct RosterAsk {
    /// Do it; else only look.
    #[serde(default)]
    apply: bool,
}

/// Reads a roster (CSV) and says what it would do, or does it.
#[utoipa::path(params(("course" = i64, Path), RosterAsk),
    request_body(content = String, content_type = "text/csv"),
    responses((status = 200, body = RosterView)))]
#[post("/courses/{course}/roster")]
pub(super) async fn roster(
    state: web::Data<AppState>,
    caller: Caller,
    course: web::Path<CourseId>,
    ask: web::Query<RosterAsk>,
    body: web::Bytes,
) -> Result<web::Json<RosterView>, Problem> {
    let (course, apply) = (course.into_inner(), ask.apply);
    let roster = course::read_roster(&body).map_err(|e| Problem::bad_input(e.to_string()))?;
    let view = blocking(&state, move |s| {
        rosters::bring_in_line(&s.store, (course, Some(caller.person)), &roster, apply, s.now())
    });
    view.await.map(web::Json)
}

/// Makes a join code.
#[utoipa::path(params(("course" = i64, Path)), request_body = JoinCodeAsk,
    responses((status = 204)))]
#[post("/courses/{course}/join-codes")]
pub(super) async fn make_code(
    state: web::Data<AppState>,
    caller: Caller,
    course: web::Path<CourseId>,
    body: web::Json<JoinCodeAsk>,
) -> Result<HttpResponse, Problem> {
    let ask = body.into_inner();
    if !(1..=1_000).contains(&ask.uses) || !(1..=120).contains(&ask.days) {
        return Err(Problem::bad_input("A code is for 1 to 1000 people and holds for 1 to 120 days."));
    }
    if ask.section.chars().count() > 120 {
        return Err(Problem::bad_input("The section has more than 120 characters; shorten it."));
    }
    let expires_at = state.now() + ask.days * 24 * 3600;
    let section = ask.section.trim().to_owned();
    let code = JoinCode { id: 0, code: new_code(), section, uses_left: ask.uses, expires_at };
    blocking(&state, move |s| s.store.make_join_code(course.into_inner(), &code, (caller.person, s.now()))).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Ten letters and digits that are not taken for each other: some 48 bits, too many to guess.
fn new_code() -> String {
    let signs = b"abcdefghjkmnpqrstuvwxyz23456789";
    let bytes: [u8; 10] = std::array::from_fn(|_| signs[rand::random_range(0..signs.len())]);
    let text: String = bytes.iter().map(|b| char::from(*b)).collect();
    format!("{}-{}", &text[..5], &text[5..])
}

/// Ends a join code.
#[utoipa::path(params(("course" = i64, Path), ("code" = i64, Path)),
    responses((status = 204)))]
#[delete("/courses/{course}/join-codes/{code}")]
pub(super) async fn end_code(
    state: web::Data<AppState>,
    caller: Caller,
    path: web::Path<(CourseId, i64)>,
) -> Result<HttpResponse, Problem> {
    let (course, code) = path.into_inner();
    blocking(&state, move |s| s.store.end_join_code(course, code, (caller.person, s.now()))).await?;
    Ok(HttpResponse::NoContent().finish())
}
