//! The pass sheet and the audit trail of a course.

use super::blocking;
use super::hand_ins::{cell, under_terms};
use crate::caller::Caller;
use crate::problem::Problem;
use crate::state::AppState;
use crate::terms::{self, Own};
use crate::wire::{AuditLine, Counting, CourseEdit, CourseRef, ExerciseHead, PassSheet, StudentLine};
use actix_web::{HttpResponse, web};
use actix_web::{get, post, put};
use std::collections::BTreeMap;
use store::{CourseId, ExerciseId, PersonId, Role, StoreError};

/// Students × exercises; a student gets only the own line.
#[utoipa::path(params(("course" = i64, Path)),
    responses((status = 200, body = PassSheet)))]
#[get("/courses/{course}/pass-sheet")]
pub(super) async fn pass_sheet(
    state: web::Data<AppState>,
    caller: Caller,
    course: web::Path<CourseId>,
) -> Result<web::Json<PassSheet>, Problem> {
    let (course, person, sees) = (course.into_inner(), caller.person, caller.sees());
    blocking(&state, move |s| sheet(s, course, person, sees)).await.map(web::Json)
}

/// The pass sheet as far as the caller sees it.
fn sheet(s: &AppState, course: CourseId, person: PersonId, sees: Option<PersonId>) -> Result<PassSheet, StoreError> {
    let terms: BTreeMap<ExerciseId, store::StoredTerms> = s.store.all_terms(course)?.into_iter().collect();
    let exercises = heads(s, course, sees.is_none(), &terms)?;
    let (exercises, archived): (Vec<_>, Vec<_>) = exercises.into_iter().partition(|(_, is_archived)| !is_archived);
    let mut exercises: Vec<ExerciseHead> = exercises.into_iter().map(|(head, _)| head).collect();
    let archived = archived.into_iter().map(|(head, _)| head).collect();
    let mut members = s.store.members(course)?;
    let sections: BTreeMap<PersonId, String> = members.iter().map(|m| (m.id, m.section.clone())).collect();
    let own = |stored: &store::StoredTerms, student: PersonId| {
        Own::of(stored, (student, sections.get(&student).map_or("", String::as_str)), 0, s.now())
    };
    if let Some(student) = sees {
        // A student reads the own due times.
        for head in &mut exercises {
            if let Some(stored) = terms.get(&head.id) {
                head.due_at = own(stored, student).due;
            }
        }
        exercises.retain(|head| head.release_at.is_none_or(|at| at <= s.now()));
    }
    let column: BTreeMap<ExerciseId, usize> = exercises.iter().enumerate().map(|(i, e)| (e.id, i)).collect();
    let mut cells: BTreeMap<PersonId, Vec<Option<crate::wire::Cell>>> = BTreeMap::new();
    for standing in s.store.standings(course, sees)? {
        let line = cells.entry(standing.student).or_insert_with(|| vec![None; exercises.len()]);
        let Some(i) = column.get(&standing.exercise) else { continue };
        let cell = cell(&standing);
        line[*i] = Some(match terms.get(&standing.exercise) {
            Some(stored) => under_terms(cell, &standing, &own(stored, standing.student), sees.is_none()),
            None => cell,
        });
    }
    members.sort_by_cached_key(|m| (m.section.clone(), course::sort_key(&m.name, &m.family), m.id));
    let students = members
        .into_iter()
        .filter(|m| m.role == Role::Student && sees.is_none_or(|id| id == m.id))
        .map(|m| {
            let cells = cells.remove(&m.id).unwrap_or_else(|| vec![None; exercises.len()]);
            StudentLine::new((m.id, m.name, m.section), cells)
        })
        .collect();
    let title = s.store.courses_of(person)?.into_iter().find(|(c, _)| c.id == course).map(|(c, _)| c.title);
    let counts_newest = s.store.counts_newest(course)?;
    let waiting = if sees.is_none() { s.store.waiting(course)? } else { 0 };
    Ok(PassSheet { title: title.unwrap_or_default(), counts_newest, exercises, archived, students, waiting })
}

/// The exercises of a course as somebody sees them, each with whether it is put aside.
fn heads(
    s: &AppState,
    course: CourseId,
    is_staff: bool,
    terms: &BTreeMap<ExerciseId, store::StoredTerms>,
) -> Result<Vec<(ExerciseHead, bool)>, StoreError> {
    let times = |id: ExerciseId| terms.get(&id).map_or((None, None), |t| (t.release_at, t.due_at));
    let head = |w: store::Working| {
        let (release_at, due_at) = times(w.id);
        let state = match (w.published, &w.draft) {
            (None, _) => "unpublished",
            (Some(_), Some(_)) => "changed",
            (Some(_), None) => "published",
        };
        (ExerciseHead { id: w.id, title: w.title, due_at, release_at, state: state.into() }, w.is_archived)
    };
    if is_staff {
        return Ok(s.store.workings(course)?.into_iter().map(head).collect());
    }
    let seen = |e: store::Exercise| {
        let (release_at, due_at) = times(e.id);
        ExerciseHead { id: e.id, title: e.revision.title, due_at, release_at, state: "published".into() }
    };
    Ok(s.store.exercises(course)?.into_iter().map(|e| (seen(e), false)).collect())
}

/// The sheet as a table: a line a student, for each exercise its state, what is right, marks, attempt and sign-off.
fn table(sheet: &PassSheet) -> Result<String, csv::Error> {
    let mut out = csv::Writer::from_writer(Vec::new());
    let mut head = vec!["student".to_owned(), "section".to_owned()];
    for exercise in &sheet.exercises {
        let of = ["state", "right", "of", "marks", "marks out of", "attempt", "signed off"];
        head.extend(of.map(|what| base::plain_field(&format!("{}: {what}", exercise.title))));
    }
    head.extend(["marks".to_owned(), "marks out of".to_owned()]);
    out.write_record(&head)?;
    let number = |value: Option<f64>| value.map_or_else(String::new, |v| v.to_string());
    for student in &sheet.students {
        let mut line = vec![base::plain_field(&student.name), base::plain_field(&student.section)];
        for cell in &student.cells {
            let Some(c) = cell else {
                line.extend(std::iter::repeat_n(String::new(), 7));
                continue;
            };
            let state = if c.stale { format!("{} (stale)", c.state) } else { c.state.clone() };
            let counts = [state, c.passed.to_string(), c.total.to_string(), number(c.marks), number(c.out_of)];
            line.extend(counts);
            line.extend([c.attempt.to_string(), c.signed_off.as_deref().map(base::plain_field).unwrap_or_default()]);
        }
        line.extend([number(student.marks), number(student.out_of)]);
        out.write_record(&line)?;
    }
    let bytes = out.into_inner().map_err(|e| csv::Error::from(e.into_error()))?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}

/// The pass sheet as a table for a spreadsheet (CSV).
#[utoipa::path(params(("course" = i64, Path)),
    responses((status = 200, content_type = "text/csv", body = String)))]
#[get("/courses/{course}/pass-sheet.csv")]
pub(super) async fn pass_sheet_csv(
    state: web::Data<AppState>,
    caller: Caller,
    course: web::Path<CourseId>,
) -> Result<HttpResponse, Problem> {
    let (course, person) = (course.into_inner(), caller.person);
    let sheet = blocking(&state, move |s| sheet(s, course, person, None)).await?;
    let text = table(&sheet).map_err(Problem::our_fault)?;
    let name = "attachment; filename=\"pass-sheet.csv\"";
    Ok(HttpResponse::Ok()
        .content_type("text/csv; charset=utf-8")
        .insert_header(("content-disposition", name))
        .body(text))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::wire::Cell;

    fn cell(state: &str, marks: Option<f64>) -> Option<Cell> {
        Some(Cell {
            hand_in: store::HandInId(1),
            state: state.into(),
            passed: 14,
            total: 16,
            attempt: 2,
            stale: false,
            signed_off: None,
            marks,
            out_of: marks.map(|_| 6.0),
            late: false,
            by_hand: false,
        })
    }

    #[test]
    fn the_table_sums_marks_and_holds_no_formula() {
        let student = |name: &str, cells: Vec<Option<Cell>>| {
            StudentLine::new((PersonId(1), name.into(), "Evening".into()), cells)
        };
        let exercise = |title: &str| ExerciseHead {
            id: ExerciseId(1),
            title: title.into(),
            due_at: None,
            release_at: None,
            state: "published".into(),
        };
        let sheet = PassSheet {
            title: String::new(),
            counts_newest: false,
            archived: Vec::new(),
            exercises: vec![exercise("Hopper"), exercise("Bar"), exercise("Grader")],
            waiting: 0,
            students: vec![
                student("Ximena, C.", vec![cell("partly", Some(4.1)), None, cell("passed", Some(5.2))]),
                student("=1+1", vec![None, cell("failed", None), None]),
            ],
        };
        let text = table(&sheet).unwrap();
        let lines: Vec<csv::StringRecord> =
            csv::Reader::from_reader(text.as_bytes()).records().collect::<Result<_, _>>().unwrap();
        assert!(text.starts_with("student,section,Hopper: state,Hopper: right,Hopper: of,Hopper: marks,"));
        let head = ["Ximena, C.", "Evening", "partly", "14", "16", "4.1", "6", "2", ""];
        assert_eq!(lines[0].iter().take(9).collect::<Vec<_>>(), head);
        assert_eq!(lines[0].iter().rev().take(2).collect::<Vec<_>>(), ["12", "9.3"]);
        assert_eq!(&lines[1][0], "'=1+1");
        assert_eq!(lines[1].iter().rev().take(2).collect::<Vec<_>>(), ["", ""]);
    }
}

/// A title as it is kept.
pub(super) fn title(text: &str) -> Result<String, Problem> {
    let text = text.split_whitespace().collect::<Vec<_>>().join(" ");
    match text.chars().count() {
        0 => Err(Problem::bad_input("The course has no title; give it one.")),
        1..=120 => Ok(text),
        _ => Err(Problem::bad_input("The title has more than 120 characters; shorten it.")),
    }
}

/// Makes a course, empty or with the exercises of another one.
#[utoipa::path(request_body = CourseEdit,
    responses((status = 200, body = CourseRef)))]
#[post("/courses")]
pub(super) async fn make(
    state: web::Data<AppState>,
    caller: Caller,
    body: web::Json<CourseEdit>,
) -> Result<web::Json<CourseRef>, Problem> {
    let (title, copy_of, person) = (title(&body.title)?, body.copy_of, caller.person);
    let zone = body.zone.as_deref().map(terms::zone_typed).transpose()?;
    let (teaches, role) = blocking(&state, move |s| {
        let role = copy_of.map(|from| s.store.role(from, person)).transpose()?.flatten();
        Ok((s.store.teaches(person)?, role))
    })
    .await?;
    if !teaches || (copy_of.is_some() && role != Some(Role::Instructor)) {
        return Err(Problem::not_allowed());
    }
    let made = title.clone();
    let (id, zone) = blocking(&state, move |s| {
        let id = match copy_of {
            Some(from) => s.store.copy_course(from, &made, person, s.now())?,
            None => s.store.add_course(&made, person, s.now())?,
        };
        if let Some(zone) = zone {
            s.store.set_zone(id, zone.name(), person, s.now())?;
        }
        Ok((id, terms::zone(s, id)?.name().to_owned()))
    })
    .await?;
    Ok(web::Json(CourseRef { id, title, role: Role::Instructor.key().into(), zone }))
}

/// Gives a course another title, and another time zone.
#[utoipa::path(params(("course" = i64, Path)), request_body = CourseEdit,
    responses((status = 204)))]
#[put("/courses/{course}")]
pub(super) async fn rename(
    state: web::Data<AppState>,
    caller: Caller,
    course: web::Path<CourseId>,
    body: web::Json<CourseEdit>,
) -> Result<HttpResponse, Problem> {
    let title = title(&body.title)?;
    let zone = body.zone.as_deref().map(terms::zone_typed).transpose()?;
    blocking(&state, move |s| {
        s.store.rename_course(*course, &title, caller.person, s.now())?;
        zone.map_or(Ok(()), |zone| s.store.set_zone(*course, zone.name(), caller.person, s.now()))
    })
    .await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Says which of a student's attempts counts.
#[utoipa::path(params(("course" = i64, Path)), request_body = Counting,
    responses((status = 204)))]
#[put("/courses/{course}/counting")]
pub(super) async fn count(
    state: web::Data<AppState>,
    caller: Caller,
    course: web::Path<CourseId>,
    body: web::Json<Counting>,
) -> Result<HttpResponse, Problem> {
    let (person, newest) = (caller.person, body.newest);
    blocking(&state, move |s| s.store.count_newest(*course, newest, person, s.now())).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Who changed what, newest first.
#[utoipa::path(params(("course" = i64, Path)),
    responses((status = 200, body = [AuditLine])))]
#[get("/courses/{course}/audit")]
pub(super) async fn audit(
    state: web::Data<AppState>,
    course: web::Path<CourseId>,
) -> Result<web::Json<Vec<AuditLine>>, Problem> {
    let entries = blocking(&state, move |s| s.store.audit(*course, 500)).await?;
    let line = |a: store::AuditEntry| AuditLine { person: a.person, action: a.action, subject: a.subject, at: a.at };
    Ok(web::Json(entries.into_iter().map(line).collect()))
}
