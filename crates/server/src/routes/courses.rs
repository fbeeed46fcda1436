//! The pass sheet and the audit trail of a course.

use super::blocking;
use super::hand_ins::cell;
use crate::app::AppState;
use crate::caller::Caller;
use crate::problem::Problem;
use crate::wire::{AuditLine, ExerciseHead, PassSheet, ProblemBody, StudentLine};
use actix_web::web;
use std::collections::BTreeMap;
use store::{CourseId, Role};

/// Students × exercises; a student gets only the own line.
#[utoipa::path(get, path = "/api/courses/{course}/pass-sheet", params(("course" = i64, Path)),
    responses((status = 200, body = PassSheet), (status = 404, body = ProblemBody)))]
pub(super) async fn pass_sheet(
    state: web::Data<AppState>,
    caller: Caller,
    course: web::Path<CourseId>,
) -> Result<web::Json<PassSheet>, Problem> {
    let (course, person, sees) = (course.into_inner(), caller.person, caller.sees());
    blocking(&state, move |s| {
        let exercises = s.store.exercises(course)?;
        let column: BTreeMap<i64, usize> = exercises.iter().enumerate().map(|(i, e)| (e.id, i)).collect();
        let mut cells: BTreeMap<i64, Vec<Option<crate::wire::Cell>>> = BTreeMap::new();
        for standing in s.store.standings(course, sees)? {
            let line = cells.entry(standing.student).or_insert_with(|| vec![None; exercises.len()]);
            if let Some(i) = column.get(&standing.exercise) {
                line[*i] = Some(cell(&standing));
            }
        }
        let students = s
            .store
            .members(course)?
            .into_iter()
            .filter(|m| m.role == Role::Student && sees.is_none_or(|id| id == m.id))
            .map(|m| StudentLine {
                cells: cells.remove(&m.id).unwrap_or_else(|| vec![None; exercises.len()]),
                id: m.id,
                name: m.name,
                section: m.section,
            })
            .collect();
        let title = s.store.courses_of(person)?.into_iter().find(|(c, _)| c.id == course).map(|(c, _)| c.title);
        let exercises = exercises.into_iter().map(|e| ExerciseHead { id: e.id, title: e.revision.title }).collect();
        Ok(PassSheet { title: title.unwrap_or_default(), exercises, students })
    })
    .await
    .map(web::Json)
}

/// Who changed what, newest first.
#[utoipa::path(get, path = "/api/courses/{course}/audit", params(("course" = i64, Path)),
    responses((status = 200, body = [AuditLine])))]
pub(super) async fn audit(
    state: web::Data<AppState>,
    course: web::Path<CourseId>,
) -> Result<web::Json<Vec<AuditLine>>, Problem> {
    let entries = blocking(&state, move |s| s.store.audit(*course, 500)).await?;
    let line = |a: store::AuditEntry| AuditLine { person: a.person, action: a.action, subject: a.subject, at: a.at };
    Ok(web::Json(entries.into_iter().map(line).collect()))
}
