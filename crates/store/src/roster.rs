//! The people of a course as staff manages them: adding, renaming, moving, deactivating, erasing.

use crate::audit::{record, record_about};
use crate::error::StoreError;
use crate::people::Role;
use crate::{CourseId, PersonId, Store, Timestamp};
use rusqlite::{Row, Transaction, params};

/// A person of a course with all that staff sees.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct CoursePerson {
    /// The person.
    pub id: PersonId,
    /// Name for people.
    pub name: String,
    /// Family name, by which people are sorted; empty where none was given.
    pub family: String,
    /// Name to sign in with.
    pub sign_in: String,
    /// The number that the school knows them by; empty for none.
    pub number: String,
    /// What they are in the course.
    pub role: Role,
    /// Their section; empty for none.
    pub section: String,
    /// Sections that an assistant looks after; none for all.
    pub looks_after: Vec<String>,
    /// May come in; one who may not keeps all work.
    pub is_active: bool,
    /// Has set a password.
    pub has_password: bool,
    /// Hand-ins in the course.
    pub hand_ins: u64,
    /// Their account is this course's staff's to change: they teach nowhere and are in no other course.
    pub is_ours: bool,
}

/// What staff says of a person.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct PersonData {
    /// Name for people.
    pub name: String,
    /// Family name; empty where none is given.
    pub family: String,
    /// Name to sign in with.
    pub sign_in: String,
    /// The school's number; empty for none.
    pub number: String,
    /// Section; empty for none.
    pub section: String,
}

fn course_person(row: &Row<'_>) -> rusqlite::Result<CoursePerson> {
    let role: String = row.get(5)?;
    let sections: Option<String> = row.get(7)?;
    Ok(CoursePerson {
        id: row.get(0)?,
        name: row.get(1)?,
        family: row.get(2)?,
        sign_in: row.get(3)?,
        number: row.get(4)?,
        role: Role::from_key(&role),
        section: row.get(6)?,
        looks_after: sections.map(|s| s.split('\n').map(str::to_owned).collect()).unwrap_or_default(),
        is_active: row.get(8)?,
        has_password: row.get(9)?,
        hand_ins: row.get::<_, i64>(10)?.unsigned_abs(),
        is_ours: row.get(11)?,
    })
}

const PERSON: &str = "SELECT p.id, p.name, p.family, p.sign_in, p.number, m.role, m.section,
     (SELECT group_concat(s.section, char(10)) FROM assistant_sections s
       WHERE s.course_id = m.course_id AND s.person_id = m.person_id),
     m.active, p.password_hash <> '',
     (SELECT count(*) FROM hand_ins h JOIN exercises e ON e.id = h.exercise_id
       WHERE h.student_id = p.id AND e.course_id = m.course_id),
     NOT EXISTS (SELECT 1 FROM members o WHERE o.person_id = p.id AND (o.course_id <> m.course_id OR o.role = 'instructor'))
     FROM members m JOIN people p ON p.id = m.person_id";

pub(crate) fn member_of(t: &Transaction<'_>, course: CourseId, person: PersonId) -> Result<CoursePerson, StoreError> {
    let sql = format!("{PERSON} WHERE m.course_id = ? AND m.person_id = ?");
    StoreError::optional(t.query_row(&sql, params![course, person], course_person))?
        .ok_or(StoreError::NotFound("person in this course"))
}

fn account(t: &Transaction<'_>, sign_in: &str) -> Result<Option<PersonId>, StoreError> {
    StoreError::optional(t.query_row("SELECT id FROM people WHERE sign_in = ?", [sign_in], |r| r.get(0)))
}

fn set_data(t: &Transaction<'_>, course: CourseId, person: PersonId, data: &PersonData) -> Result<(), StoreError> {
    t.execute(
        "UPDATE people SET name = ?, family = ?, sign_in = ?, number = ? WHERE id = ?",
        params![data.name, data.family, data.sign_in, data.number, person],
    )?;
    t.execute(
        "UPDATE members SET section = ? WHERE course_id = ? AND person_id = ?",
        params![data.section, course, person],
    )?;
    Ok(())
}

fn add(
    t: &Transaction<'_>,
    course: CourseId,
    (role, data): (Role, &PersonData),
    (by, at): (Option<PersonId>, Timestamp),
) -> Result<PersonId, StoreError> {
    let person = match account(t, &data.sign_in)? {
        Some(person) => person,
        None => {
            t.execute(
                "INSERT INTO people (name, family, sign_in, number, password_hash, created_at) VALUES (?, ?, ?, ?, '', ?)",
                params![data.name, data.family, data.sign_in, data.number, at],
            )?;
            PersonId(t.last_insert_rowid())
        }
    };
    t.execute(
        "INSERT INTO members (course_id, person_id, role, section) VALUES (?, ?, ?, ?)
         ON CONFLICT (course_id, person_id) DO UPDATE SET section = excluded.section, active = 1",
        params![course, person, role.key(), data.section],
    )?;
    if role == Role::Instructor {
        t.execute("UPDATE people SET teaches = 1 WHERE id = ?", [person])?;
    }
    let subject = format!("{} ({}), {}", data.name, data.sign_in, role.key());
    record_about(t, (Some(course), by), "person added", (Some(person), &subject), at)?;
    Ok(person)
}

impl Store {
    /// The people of a course with all that staff sees; sorting is the caller's.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn people(&self, course: CourseId) -> Result<Vec<CoursePerson>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(&format!("{PERSON} WHERE m.course_id = ?"))?;
            let rows = statement.query_map([course], course_person)?;
            Ok(rows.collect::<Result<_, _>>()?)
        })
    }

    /// Which of these sign-in names have an account, in lower case.
    ///
    /// # Errors
    /// When the data can't be read.
    pub fn accounts_among(&self, sign_ins: &[String]) -> Result<Vec<String>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached("SELECT 1 FROM people WHERE sign_in = ?")?;
            let mut found = Vec::new();
            for name in sign_ins {
                if statement.exists([name])? {
                    found.push(name.to_lowercase());
                }
            }
            Ok(found)
        })
    }

    /// Adds a person to a course; one who has an account keeps it as it is.
    ///
    /// # Errors
    /// [`StoreError::Taken`] when the sign-in name is in the course already.
    pub fn add_to_course(
        &self,
        course: CourseId,
        (role, data): (Role, &PersonData),
        by: Option<PersonId>,
        at: Timestamp,
    ) -> Result<PersonId, StoreError> {
        self.write(|t| {
            if let Some(person) = account(t, &data.sign_in)? {
                let sql = "SELECT active FROM members WHERE course_id = ? AND person_id = ?";
                let active: Option<bool> =
                    StoreError::optional(t.query_row(sql, params![course, person], |r| r.get(0)))?;
                if active == Some(true) {
                    return Err(StoreError::Taken(format!("the sign-in name {}", data.sign_in)));
                }
            }
            add(t, course, (role, data), (by, at))
        })
    }

    /// Brings the students of a course in line with a roster, all or nothing: `new` are added, `changed` get their data.
    ///
    /// # Errors
    /// When the data can't be written.
    pub fn apply_roster(
        &self,
        course: CourseId,
        new: &[PersonData],
        changed: &[(PersonId, PersonData)],
        (by, at): (Option<PersonId>, Timestamp),
    ) -> Result<(), StoreError> {
        self.write(|t| {
            for data in new {
                add(t, course, (Role::Student, data), (by, at))?;
            }
            for (person, data) in changed {
                member_of(t, course, *person)?;
                set_data(t, course, *person, data)?;
                t.execute(
                    "UPDATE members SET active = 1 WHERE course_id = ? AND person_id = ?",
                    params![course, person],
                )?;
            }
            let subject = format!("{} new, {} changed", new.len(), changed.len());
            record(t, Some(course), by, "roster", &subject, at)
        })
    }

    /// Changes what is known of a person of a course, and what they are in it.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when they are not in the course, [`StoreError::Taken`] when the sign-in name is somebody
    /// else's, [`StoreError::Refused`] when the course would be left without an instructor.
    pub fn change_person(
        &self,
        course: CourseId,
        person: PersonId,
        (data, role, looks_after, is_active): (&PersonData, Role, &[String], bool),
        (by, at): (PersonId, Timestamp),
    ) -> Result<(), StoreError> {
        self.write(|t| {
            let before = member_of(t, course, person)?;
            if account(t, &data.sign_in)?.is_some_and(|other| other != person) {
                return Err(StoreError::Taken(format!("the sign-in name {}", data.sign_in)));
            }
            let is_same = before.name == data.name
                && before.family == data.family
                && before.sign_in == data.sign_in
                && before.number == data.number;
            if !is_same && !before.is_ours && person != by {
                return Err(StoreError::Refused(
                    "They teach, or are in another course, too: name and number are theirs to change; section, role and state can \
                     be changed here.",
                ));
            }
            if before.role == Role::Instructor && (role != Role::Instructor || !is_active) {
                keeps_an_instructor(t, course, person)?;
            }
            set_data(t, course, person, data)?;
            t.execute(
                "UPDATE members SET role = ?, active = ? WHERE course_id = ? AND person_id = ?",
                params![role.key(), is_active, course, person],
            )?;
            t.execute("DELETE FROM assistant_sections WHERE course_id = ? AND person_id = ?", params![course, person])?;
            for section in looks_after.iter().filter(|_| role == Role::Assistant) {
                t.execute(
                    "INSERT INTO assistant_sections (course_id, person_id, section) VALUES (?, ?, ?) ON CONFLICT DO NOTHING",
                    params![course, person, section],
                )?;
            }
            if role == Role::Instructor {
                t.execute("UPDATE people SET teaches = 1 WHERE id = ?", [person])?;
            }
            if !is_active {
                t.execute("DELETE FROM sessions WHERE person_id = ?", [person])?;
            }
            let subject = changes(&before, (data, role, is_active));
            record_about(t, (Some(course), Some(by)), "person changed", (Some(person), &subject), at)
        })
    }

    /// Erases a person: account, sessions, hand-ins with their files and verdicts. What stays is the audit trail, in which the
    /// name becomes `erased person`, and sign-offs that they gave.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when they are not in the course, [`StoreError::Refused`] when they teach, or are in another
    /// course as well.
    pub fn erase_person(
        &self,
        course: CourseId,
        person: PersonId,
        (by, at): (PersonId, Timestamp),
    ) -> Result<(), StoreError> {
        self.write(|t| {
            let before = member_of(t, course, person)?;
            if before.role != Role::Student {
                return Err(StoreError::Refused("Only students can be erased; make the person a student first."));
            }
            let elsewhere: bool = t.query_row(
                "SELECT EXISTS (SELECT 1 FROM members WHERE person_id = ? AND course_id <> ?)",
                params![person, course],
                |r| r.get(0),
            )?;
            if elsewhere {
                return Err(StoreError::Refused(
                    "They are in another course, too; take their work there into account and deactivate them here instead.",
                ));
            }
            erase(t, person, &before)?;
            let label = format!("erased person {person}");
            record(t, Some(course), Some(by), "person erased", &label, at)
        })
    }
}

/// What differs, in a few words.
fn changes(before: &CoursePerson, (data, role, is_active): (&PersonData, Role, bool)) -> String {
    let mut list = Vec::new();
    let mut differs = |what: &str, old: &str, new: &str| {
        if old != new {
            let shown = |text: &str| if text.is_empty() { "none".to_owned() } else { text.to_owned() };
            list.push(format!("{what} {} → {}", shown(old), shown(new)));
        }
    };
    differs("name", &before.name, &data.name);
    differs("sign-in", &before.sign_in, &data.sign_in);
    differs("number", &before.number, &data.number);
    differs("section", &before.section, &data.section);
    differs("role", before.role.key(), role.key());
    let word = |active: bool| if active { "active" } else { "deactivated" };
    differs("state", word(before.is_active), word(is_active));
    format!("{}: {}", before.name, if list.is_empty() { "sections".into() } else { list.join(", ") })
}

fn keeps_an_instructor(t: &Transaction<'_>, course: CourseId, person: PersonId) -> Result<(), StoreError> {
    let others: bool = t.query_row(
        "SELECT EXISTS (SELECT 1 FROM members WHERE course_id = ? AND person_id <> ? AND role = 'instructor' AND active = 1)",
        params![course, person],
        |r| r.get(0),
    )?;
    if others {
        Ok(())
    } else {
        Err(StoreError::Refused("A course needs an instructor; make somebody else one first."))
    }
}

fn erase(t: &Transaction<'_>, person: PersonId, before: &CoursePerson) -> Result<(), StoreError> {
    let own = "(SELECT id FROM hand_ins WHERE student_id = ?)";
    for table in ["verdicts", "sign_offs", "overrides", "hand_in_files"] {
        t.execute(&format!("DELETE FROM {table} WHERE hand_in_id IN {own}"), [person])?;
    }
    t.execute("DELETE FROM hand_ins WHERE student_id = ?", [person])?;
    t.execute("DELETE FROM blobs WHERE hash NOT IN (SELECT blob_hash FROM hand_in_files)", [])?;
    for table in ["sessions", "password_links", "members", "assistant_sections", "extensions"] {
        t.execute(&format!("DELETE FROM {table} WHERE person_id = ?"), [person])?;
    }
    // The trail can't be changed, but for this.
    let label = format!("erased person {person}");
    t.execute_batch("DROP TRIGGER audit_stays")?;
    t.execute("UPDATE audit SET subject = ? WHERE about_id = ?", params![label, person])?;
    // Entries of earlier versions don't say whom they are about.
    let sql = "UPDATE audit SET subject = replace(subject, ?2, ?1) WHERE about_id IS NULL AND instr(subject, ?2) > 0";
    t.execute(sql, params![label, before.name])?;
    t.execute_batch(
        "CREATE TRIGGER audit_stays BEFORE UPDATE ON audit BEGIN SELECT RAISE(ABORT, 'the audit trail is immutable'); END",
    )?;
    t.execute(
        "UPDATE people SET name = ?1, family = '', sign_in = ?1, number = '', password_hash = '' WHERE id = ?2",
        params![label, person],
    )?;
    Ok(())
}
