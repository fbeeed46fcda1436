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

    pub(crate) fn from_key(key: &str) -> Self {
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
    /// The zone in whose time it says its times; empty for the machine's own.
    pub zone: String,
}

/// A session of a person.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Session {
    /// The first bytes of the hash of its secret, by which it is named.
    pub key: Vec<u8>,
    /// When it was opened.
    pub opened_at: Timestamp,
    /// When it was used last, to the minute.
    pub seen_at: Timestamp,
    /// What the browser calls itself.
    pub agent: String,
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
    /// Family name, by which people are sorted; empty where none was given.
    pub family: String,
}

fn member(row: &Row<'_>) -> rusqlite::Result<Member> {
    let role: String = row.get(2)?;
    let (section, family) = (row.get(3)?, row.get(4)?);
    Ok(Member { id: row.get(0)?, name: row.get(1)?, role: Role::from_key(&role), section, family })
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
            Ok(PersonId(t.last_insert_rowid()))
        })
    }

    /// Says by which name a person is sorted.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn set_family_name(&self, person: PersonId, family: &str) -> Result<(), StoreError> {
        self.write(|t| {
            t.execute("UPDATE people SET family = ? WHERE id = ?", params![family, person])?;
            Ok(())
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

    /// The account of a person.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none.
    pub fn account_of(&self, person: PersonId) -> Result<Account, StoreError> {
        self.read(|c| {
            StoreError::optional(c.query_row(
                "SELECT id, name, sign_in, password_hash FROM people WHERE id = ?",
                [person],
                |r| Ok(Account { id: r.get(0)?, name: r.get(1)?, sign_in: r.get(2)?, password_hash: r.get(3)? }),
            ))?
            .ok_or(StoreError::NotFound("person"))
        })
    }

    /// Sets somebody's password; all sessions and links of theirs end.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn set_password(&self, person: PersonId, password_hash: &str, at: Timestamp) -> Result<(), StoreError> {
        self.write(|t| {
            t.execute("UPDATE people SET password_hash = ? WHERE id = ?", params![password_hash, person])?;
            t.execute("DELETE FROM sessions WHERE person_id = ?", [person])?;
            t.execute("DELETE FROM password_links WHERE person_id = ?", [person])?;
            record(t, None, Some(person), "password set", "", at)
        })
    }

    /// Notes in the trail of each course of an account, or in that of the installation, that sign-ins were refused.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn note_refused_sign_ins(&self, subject: &str, at: Timestamp) -> Result<(), StoreError> {
        let sign_in = subject.split(", from ").next().unwrap_or(subject);
        self.write(|t| {
            let mut statement =
                t.prepare("SELECT m.course_id FROM members m JOIN people p ON p.id = m.person_id WHERE p.sign_in = ?")?;
            let courses: Vec<CourseId> = statement.query_map([sign_in], |r| r.get(0))?.collect::<Result<_, _>>()?;
            for course in &courses {
                record(t, Some(*course), None, "sign-ins refused", subject, at)?;
            }
            if courses.is_empty() {
                record(t, None, None, "sign-ins refused", subject, at)?;
            }
            Ok(())
        })
    }

    /// Opens a session; `token_hash` is the SHA-256 of the secret that the browser keeps, `agent` what the browser calls
    /// itself.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn open_session(
        &self,
        token_hash: &[u8],
        person: PersonId,
        at: Timestamp,
        until: Timestamp,
        agent: &str,
    ) -> Result<(), StoreError> {
        self.write(|t| {
            t.execute("DELETE FROM sessions WHERE expires_at < ?", [at])?;
            t.execute(
                "INSERT INTO sessions (token_hash, person_id, created_at, expires_at, seen_at, agent)
                 VALUES (?, ?, ?, ?, ?, ?)",
                params![token_hash, person, at, until, at, agent],
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

    /// The sessions of a person that last, the newest first.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn sessions(&self, person: PersonId, at: Timestamp) -> Result<Vec<Session>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(
                "SELECT substr(token_hash, 1, 8), created_at, seen_at, agent FROM sessions
                 WHERE person_id = ? AND expires_at > ? ORDER BY created_at DESC, token_hash",
            )?;
            let rows = statement.query_map(params![person, at], |r| {
                Ok(Session { key: r.get(0)?, opened_at: r.get(1)?, seen_at: r.get(2)?, agent: r.get(3)? })
            })?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
    }

    /// Ends the sessions of a person whose key this is.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the person has no such session.
    pub fn revoke_session(&self, person: PersonId, key: &[u8]) -> Result<(), StoreError> {
        self.write(|t| {
            let sql = "DELETE FROM sessions WHERE person_id = ? AND substr(token_hash, 1, 8) = ?";
            if t.execute(sql, params![person, key])? == 0 { Err(StoreError::NotFound("session")) } else { Ok(()) }
        })
    }

    /// Notes that a session was used; at most once a minute this writes.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn see_session(&self, token_hash: &[u8], at: Timestamp) -> Result<(), StoreError> {
        let sql = "SELECT seen_at FROM sessions WHERE token_hash = ?";
        let seen: Option<i64> =
            self.read(|c| StoreError::optional(c.query_row(sql, params![token_hash], |r| r.get(0))))?;
        if seen.is_none_or(|seen| at - seen < 60) {
            return Ok(());
        }
        self.write(|t| {
            t.execute("UPDATE sessions SET seen_at = ? WHERE token_hash = ?", params![at, token_hash])?;
            Ok(())
        })
    }

    /// Makes the first person, who may make courses; only while there is nobody.
    ///
    /// # Errors
    /// [`StoreError::Refused`] when somebody is there already.
    pub fn set_up(
        &self,
        (name, family): (&str, &str),
        sign_in: &str,
        password_hash: &str,
        at: Timestamp,
    ) -> Result<PersonId, StoreError> {
        self.write(|t| {
            if t.query_row("SELECT EXISTS (SELECT 1 FROM people)", [], |r| r.get(0))? {
                return Err(StoreError::Refused("Zesty Gate is set up already; sign in."));
            }
            t.execute(
                "INSERT INTO people (name, family, sign_in, password_hash, teaches, created_at) VALUES (?, ?, ?, ?, 1, ?)",
                params![name, family, sign_in, password_hash, at],
            )?;
            let person = PersonId(t.last_insert_rowid());
            record(t, None, Some(person), "set up", name, at)?;
            Ok(person)
        })
    }

    /// May this person make courses?
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn teaches(&self, person: PersonId) -> Result<bool, StoreError> {
        let sql = "SELECT teaches FROM people WHERE id = ?";
        self.read(|c| Ok(StoreError::optional(c.query_row(sql, [person], |r| r.get(0)))?.unwrap_or(false)))
    }

    /// Gives a course another title.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn rename_course(&self, course: CourseId, title: &str, by: PersonId, at: Timestamp) -> Result<(), StoreError> {
        self.write(|t| {
            t.execute("UPDATE courses SET title = ? WHERE id = ?", params![title, course])?;
            record(t, Some(course), Some(by), "course renamed", title, at)
        })
    }

    /// The zone in whose time a course says its times; empty for the machine's own.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such course.
    pub fn zone(&self, course: CourseId) -> Result<String, StoreError> {
        self.read(|c| {
            let found = c.query_row("SELECT zone FROM courses WHERE id = ?", [course], |r| r.get(0));
            StoreError::optional(found)?.ok_or(StoreError::NotFound("course"))
        })
    }

    /// Sets that zone. What was set stays when it is, and is said on another clock.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn set_zone(&self, course: CourseId, zone: &str, by: PersonId, at: Timestamp) -> Result<(), StoreError> {
        self.write(|t| {
            let sql = "UPDATE courses SET zone = ?1 WHERE id = ?2 AND zone <> ?1";
            if t.execute(sql, params![zone, course])? > 0 {
                record(t, Some(course), Some(by), "time zone set", zone, at)?;
            }
            Ok(())
        })
    }

    /// Copies a course without its people: the newest revision of every exercise and what is kept beside it.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn copy_course(
        &self,
        from: CourseId,
        title: &str,
        instructor: PersonId,
        at: Timestamp,
    ) -> Result<CourseId, StoreError> {
        let course = self.add_course(title, instructor, at)?;
        let exercises = self.exercises(from)?;
        self.write(|t| {
            t.execute(
                "UPDATE courses SET (counts, zone) = (SELECT counts, zone FROM courses WHERE id = ?) WHERE id = ?",
                params![from, course],
            )?;
            for exercise in &exercises {
                t.execute(
                    "INSERT INTO exercises (course_id, position) SELECT ?, position FROM exercises WHERE id = ?",
                    params![course, exercise.id],
                )?;
                let copy = t.last_insert_rowid();
                t.execute(
                    "INSERT INTO revisions (exercise_id, number, title, text, author_id, created_at)
                     VALUES (?, 1, ?, ?, ?, ?)",
                    params![copy, exercise.revision.title, exercise.revision.text, instructor, at],
                )?;
                t.execute(
                    "INSERT INTO exercise_settings (exercise_id, name, text)
                     SELECT ?, name, text FROM exercise_settings WHERE exercise_id = ?",
                    params![copy, exercise.id],
                )?;
            }
            record(t, Some(course), Some(instructor), "course copied", &format!("{} exercises", exercises.len()), at)
        })?;
        Ok(course)
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
            let course = CourseId(t.last_insert_rowid());
            t.execute(
                "INSERT INTO members (course_id, person_id, role) VALUES (?, ?, 'instructor')",
                params![course, instructor],
            )?;
            t.execute("UPDATE people SET teaches = 1 WHERE id = ?", [instructor])?;
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

    /// The courses with this title, ignoring case.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn courses_titled(&self, title: &str) -> Result<Vec<CourseId>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached("SELECT id FROM courses WHERE title = ? COLLATE NOCASE")?;
            let rows = statement.query_map([title], |r| r.get(0))?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
    }

    /// The courses of a person, with what they are in each.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn courses_of(&self, person: PersonId) -> Result<Vec<(Course, Role)>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(
                "SELECT c.id, c.title, m.role, c.zone FROM members m JOIN courses c ON c.id = m.course_id
                 WHERE m.person_id = ? AND m.active = 1 ORDER BY c.id",
            )?;
            let rows = statement.query_map([person], |r| {
                let role: String = r.get(2)?;
                Ok((Course { id: r.get(0)?, title: r.get(1)?, zone: r.get(3)? }, Role::from_key(&role)))
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
            let mut statement =
                c.prepare_cached("SELECT role FROM members WHERE course_id = ? AND person_id = ? AND active = 1")?;
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
                "SELECT p.id, p.name, m.role, m.section, p.family FROM members m JOIN people p ON p.id = m.person_id
                 WHERE m.course_id = ? AND m.active = 1
                 ORDER BY m.section, CASE p.family WHEN '' THEN p.name ELSE p.family END COLLATE NOCASE, p.name, p.id",
            )?;
            let rows = statement.query_map([course], member)?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
    }
}
