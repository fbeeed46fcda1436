//! How people come in: one-time links with which a password is set, and codes with which students join a course.

use crate::audit::{record, record_about};
use crate::error::StoreError;
use crate::people::Role;
use crate::roster::PersonData;
use crate::{CourseId, PersonId, Store, Timestamp};
use rusqlite::{Row, Transaction, params};

/// A code with which students join a course.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct JoinCode {
    /// Key.
    pub id: i64,
    /// The code.
    pub code: String,
    /// The section that one joins; empty for none.
    pub section: String,
    /// How many may still join with it.
    pub uses_left: i64,
    /// When it ends.
    pub expires_at: Timestamp,
}

fn join_code(row: &Row<'_>) -> rusqlite::Result<JoinCode> {
    Ok(JoinCode {
        id: row.get(0)?,
        code: row.get(1)?,
        section: row.get(2)?,
        uses_left: row.get(3)?,
        expires_at: row.get(4)?,
    })
}

/// The course and section that a code leads to, while it holds.
fn leads_to(t: &Transaction<'_>, code: &str, at: Timestamp) -> Result<(i64, CourseId, String, String), StoreError> {
    StoreError::optional(t.query_row(
        "SELECT j.id, j.course_id, j.section, c.title FROM join_codes j JOIN courses c ON c.id = j.course_id
         WHERE j.code = ? AND j.uses_left > 0 AND j.expires_at > ?",
        params![code, at],
        |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?)),
    ))?
    .ok_or(StoreError::NotFound("join code"))
}

impl Store {
    /// Makes a one-time link for each of these people of a course; earlier links of theirs end. `hashes` are those of the
    /// secrets.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when one of them is not in the course.
    pub fn make_password_links(
        &self,
        course: CourseId,
        links: &[(PersonId, [u8; 32])],
        until: Timestamp,
        (by, at): (PersonId, Timestamp),
    ) -> Result<(), StoreError> {
        self.write(|t| {
            for (person, hash) in links {
                let found = crate::roster::member_of(t, course, *person)?;
                if found.has_password && !found.is_ours {
                    return Err(StoreError::Refused(
                        "A link would open an account that is used elsewhere, too: who teaches, or is in another course, changes \
                         the password after signing in.",
                    ));
                }
                t.execute("DELETE FROM password_links WHERE person_id = ?", [person])?;
                t.execute(
                    "INSERT INTO password_links (token_hash, person_id, made_by, expires_at) VALUES (?, ?, ?, ?)",
                    params![hash.as_slice(), person, by, until],
                )?;
                record_about(t, (Some(course), Some(by)), "password link", (Some(*person), &found.name), at)?;
            }
            Ok(())
        })
    }

    /// Whose link this is, while it holds: name and sign-in name.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when it was used or ended.
    pub fn password_link(&self, hash: &[u8], at: Timestamp) -> Result<(String, String), StoreError> {
        self.read(|c| {
            StoreError::optional(c.query_row(
                "SELECT p.name, p.sign_in FROM password_links l JOIN people p ON p.id = l.person_id
                 WHERE l.token_hash = ? AND l.expires_at > ?",
                params![hash, at],
                |r| Ok((r.get(0)?, r.get(1)?)),
            ))?
            .ok_or(StoreError::NotFound("password link"))
        })
    }

    /// Sets a password by a link, which ends with it, as do all sessions of the person.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the link was used or ended.
    pub fn use_password_link(
        &self,
        hash: &[u8],
        password_hash: &str,
        at: Timestamp,
    ) -> Result<(PersonId, String), StoreError> {
        self.write(|t| {
            let found: (PersonId, String) = StoreError::optional(t.query_row(
                "SELECT p.id, p.name FROM password_links l JOIN people p ON p.id = l.person_id
                 WHERE l.token_hash = ? AND l.expires_at > ?",
                params![hash, at],
                |r| Ok((r.get(0)?, r.get(1)?)),
            ))?
            .ok_or(StoreError::NotFound("password link"))?;
            t.execute("DELETE FROM password_links WHERE person_id = ?", [found.0])?;
            t.execute("DELETE FROM sessions WHERE person_id = ?", [found.0])?;
            t.execute("UPDATE people SET password_hash = ? WHERE id = ?", params![password_hash, found.0])?;
            record_about(t, (None, Some(found.0)), "password set", (Some(found.0), &found.1), at)?;
            Ok(found)
        })
    }

    /// Makes a join code.
    ///
    /// # Errors
    /// [`StoreError::Taken`] when another course has this code.
    pub fn make_join_code(
        &self,
        course: CourseId,
        code: &JoinCode,
        (by, at): (PersonId, Timestamp),
    ) -> Result<(), StoreError> {
        self.write(|t| {
            let fresh = t.execute(
                "INSERT INTO join_codes (course_id, code, section, uses_left, expires_at, made_by, created_at)
                 VALUES (?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO NOTHING",
                params![course, code.code, code.section, code.uses_left, code.expires_at, by, at],
            )?;
            if fresh == 0 {
                return Err(StoreError::Taken("this join code".into()));
            }
            let subject = format!("for {} people", code.uses_left);
            record(t, Some(course), Some(by), "join code made", &subject, at)
        })
    }

    /// The join codes of a course that still hold.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn join_codes(&self, course: CourseId, at: Timestamp) -> Result<Vec<JoinCode>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(
                "SELECT id, code, section, uses_left, expires_at FROM join_codes
                 WHERE course_id = ? AND uses_left > 0 AND expires_at > ? ORDER BY id",
            )?;
            let rows = statement.query_map(params![course, at], join_code)?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
    }

    /// Ends a join code.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the course has no such code.
    pub fn end_join_code(&self, course: CourseId, id: i64, (by, at): (PersonId, Timestamp)) -> Result<(), StoreError> {
        self.write(|t| {
            if t.execute("DELETE FROM join_codes WHERE id = ? AND course_id = ?", params![id, course])? == 0 {
                return Err(StoreError::NotFound("join code"));
            }
            record(t, Some(course), Some(by), "join code ended", "", at)
        })
    }

    /// The title of the course that a code leads to.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the code doesn't hold.
    pub fn course_of_code(&self, code: &str, at: Timestamp) -> Result<String, StoreError> {
        self.write(|t| leads_to(t, code, at).map(|(.., title)| title))
    }

    /// Joins a course by code: `who` is somebody with an account, or a new person with a password hash.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the code doesn't hold, [`StoreError::Taken`] when the sign-in name is in use.
    pub fn join(
        &self,
        code: &str,
        who: Result<PersonId, (&PersonData, &str)>,
        at: Timestamp,
    ) -> Result<(CourseId, PersonId), StoreError> {
        self.write(|t| {
            let (id, course, section, _) = leads_to(t, code, at)?;
            let person = match who {
                Ok(person) => person,
                Err((data, password_hash)) => {
                    let sql = "SELECT EXISTS (SELECT 1 FROM people WHERE sign_in = ?)";
                    if t.query_row(sql, [&data.sign_in], |r| r.get(0))? {
                        return Err(StoreError::Taken(format!("the sign-in name {}", data.sign_in)));
                    }
                    t.execute(
                        "INSERT INTO people (name, family, sign_in, number, password_hash, created_at)
                         VALUES (?, ?, ?, ?, ?, ?)",
                        params![data.name, data.family, data.sign_in, data.number, password_hash, at],
                    )?;
                    PersonId(t.last_insert_rowid())
                }
            };
            let sql = "SELECT active FROM members WHERE course_id = ? AND person_id = ?";
            let known: Option<bool> = StoreError::optional(t.query_row(sql, params![course, person], |r| r.get(0)))?;
            if known == Some(false) {
                return Err(StoreError::Refused("You are deactivated in this course; ask the instructor."));
            }
            let fresh = t.execute(
                "INSERT INTO members (course_id, person_id, role, section) VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING",
                params![course, person, Role::Student.key(), section],
            )?;
            if fresh > 0 {
                t.execute("UPDATE join_codes SET uses_left = uses_left - 1 WHERE id = ?", [id])?;
                let name: String = t.query_row("SELECT name FROM people WHERE id = ?", [person], |r| r.get(0))?;
                record_about(t, (Some(course), Some(person)), "joined by code", (Some(person), &name), at)?;
            }
            Ok((course, person))
        })
    }
}
