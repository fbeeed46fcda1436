//! People, their sessions, courses and who is what in them.

use crate::audit::record;
use crate::error::StoreError;
use crate::{CourseId, PersonId, Store, Timestamp};
use rusqlite::{Row, params};

/// What a person is in a course.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Role {
    /// Sets exercises, sees everything.
    Instructor,
    /// Signs off, sees everything, sets nothing.
    Assistant,
    /// Hands in, sees own work.
    Student,
}

impl Role {
    /// The word stored and shown.
    pub fn key(self) -> &'static str {
        match self {
            Role::Instructor => "instructor",
            Role::Assistant => "assistant",
            Role::Student => "student",
        }
    }

    fn from_key(key: &str) -> Self {
        match key {
            "instructor" => Role::Instructor,
            "assistant" => Role::Assistant,
            _ => Role::Student,
        }
    }
}

/// A person who can sign in.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Account {
    /// Key.
    pub id: PersonId,
    /// Name for people.
    pub name: String,
    /// Name to sign in with.
    pub sign_in: String,
    /// Argon2id hash of the password, in PHC form.
    pub password_hash: String,
}

/// A course.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Course {
    /// Key.
    pub id: CourseId,
    /// Title.
    pub title: String,
}

/// A member of a course.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Member {
    /// The person.
    pub id: PersonId,
    /// Name for people.
    pub name: String,
    /// What they are in the course.
    pub role: Role,
    /// Their section; empty for none.
    pub section: String,
}

fn member(row: &Row<'_>) -> rusqlite::Result<Member> {
    let role: String = row.get(2)?;
    Ok(Member { id: row.get(0)?, name: row.get(1)?, role: Role::from_key(&role), section: row.get(3)? })
}

impl Store {
    /// Adds a person.
    ///
    /// # Errors
    /// [`StoreError::Taken`] when the sign-in name is in use.
    pub fn add_person(
        &self,
        name: &str,
        sign_in: &str,
        password_hash: &str,
        at: Timestamp,
    ) -> Result<PersonId, StoreError> {
        self.write(|t| {
            let taken: bool =
                t.query_row("SELECT EXISTS (SELECT 1 FROM people WHERE sign_in = ?)", [sign_in], |r| r.get(0))?;
            if taken {
                return Err(StoreError::Taken(format!("the sign-in name {sign_in}")));
            }
            t.execute(
                "INSERT INTO people (name, sign_in, password_hash, created_at) VALUES (?, ?, ?, ?)",
                params![name, sign_in, password_hash, at],
            )?;
            Ok(t.last_insert_rowid())
        })
    }

    /// How many people there are.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn person_count(&self) -> Result<u64, StoreError> {
        self.read(|c| Ok(c.query_row("SELECT count(*) FROM people", [], |r| r.get::<_, i64>(0))?.unsigned_abs()))
    }

    /// The person with a sign-in name, ignoring case.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn account(&self, sign_in: &str) -> Result<Option<Account>, StoreError> {
        self.read(|c| {
            StoreError::optional(c.query_row(
                "SELECT id, name, sign_in, password_hash FROM people WHERE sign_in = ?",
                [sign_in],
                |r| Ok(Account { id: r.get(0)?, name: r.get(1)?, sign_in: r.get(2)?, password_hash: r.get(3)? }),
            ))
        })
    }

    /// Opens a session; `token_hash` is the SHA-256 of the secret that the browser keeps.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn open_session(
        &self,
        token_hash: &[u8],
        person: PersonId,
        at: Timestamp,
        until: Timestamp,
    ) -> Result<(), StoreError> {
        self.write(|t| {
            t.execute("DELETE FROM sessions WHERE expires_at < ?", [at])?;
            t.execute(
                "INSERT INTO sessions (token_hash, person_id, created_at, expires_at) VALUES (?, ?, ?, ?)",
                params![token_hash, person, at, until],
            )?;
            Ok(())
        })
    }

    /// Whose session this is, while it lasts: key and name.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn session(&self, token_hash: &[u8], at: Timestamp) -> Result<Option<(PersonId, String)>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(
                "SELECT p.id, p.name FROM sessions s JOIN people p ON p.id = s.person_id
                 WHERE s.token_hash = ? AND s.expires_at > ?",
            )?;
            StoreError::optional(statement.query_row(params![token_hash, at], |r| Ok((r.get(0)?, r.get(1)?))))
        })
    }

    /// Ends a session.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn close_session(&self, token_hash: &[u8]) -> Result<(), StoreError> {
        self.write(|t| {
            t.execute("DELETE FROM sessions WHERE token_hash = ?", [token_hash])?;
            Ok(())
        })
    }

    /// Adds a course with its first instructor.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn add_course(&self, title: &str, instructor: PersonId, at: Timestamp) -> Result<CourseId, StoreError> {
        self.write(|t| {
            t.execute("INSERT INTO courses (title, created_at) VALUES (?, ?)", params![title, at])?;
            let course = t.last_insert_rowid();
            t.execute(
                "INSERT INTO members (course_id, person_id, role) VALUES (?, ?, 'instructor')",
                params![course, instructor],
            )?;
            record(t, Some(course), Some(instructor), "course made", title, at)?;
            Ok(course)
        })
    }

    /// Adds a person to a course, or changes what they are in it.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn set_member(&self, course: CourseId, person: PersonId, role: Role, section: &str) -> Result<(), StoreError> {
        self.write(|t| {
            t.execute(
                "INSERT INTO members (course_id, person_id, role, section) VALUES (?, ?, ?, ?)
                 ON CONFLICT (course_id, person_id) DO UPDATE SET role = excluded.role, section = excluded.section",
                params![course, person, role.key(), section],
            )?;
            Ok(())
        })
    }

    /// The courses of a person, with what they are in each.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn courses_of(&self, person: PersonId) -> Result<Vec<(Course, Role)>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(
                "SELECT c.id, c.title, m.role FROM members m JOIN courses c ON c.id = m.course_id
                 WHERE m.person_id = ? ORDER BY c.id",
            )?;
            let rows = statement.query_map([person], |r| {
                let role: String = r.get(2)?;
                Ok((Course { id: r.get(0)?, title: r.get(1)? }, Role::from_key(&role)))
            })?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
    }

    /// What a person is in a course; `None` when they are no member or there is no such course.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn role(&self, course: CourseId, person: PersonId) -> Result<Option<Role>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached("SELECT role FROM members WHERE course_id = ? AND person_id = ?")?;
            let role = statement.query_row(params![course, person], |r| r.get::<_, String>(0));
            Ok(StoreError::optional(role)?.map(|r| Role::from_key(&r)))
        })
    }

    /// The members of a course by section and name.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn members(&self, course: CourseId) -> Result<Vec<Member>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(
                "SELECT p.id, p.name, m.role, m.section FROM members m JOIN people p ON p.id = m.person_id
                 WHERE m.course_id = ? ORDER BY m.section, p.name, p.id",
            )?;
            let rows = statement.query_map([course], member)?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
    }
}
