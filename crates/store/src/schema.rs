//! Tables and their numbered migrations. A migration that has shipped is never edited: the next one changes it.

use crate::error::StoreError;
use rusqlite::Connection;
use rusqlite_migration::{M, Migrations};

const FIRST: &str = "
CREATE TABLE people (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL,
    sign_in TEXT NOT NULL UNIQUE COLLATE NOCASE,
    password_hash TEXT NOT NULL,
    created_at INTEGER NOT NULL
) STRICT;
CREATE TABLE sessions (
    token_hash BLOB PRIMARY KEY,
    person_id INTEGER NOT NULL REFERENCES people(id) ON DELETE CASCADE,
    created_at INTEGER NOT NULL,
    expires_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TABLE courses (
    id INTEGER PRIMARY KEY,
    title TEXT NOT NULL,
    created_at INTEGER NOT NULL
) STRICT;
CREATE TABLE members (
    course_id INTEGER NOT NULL REFERENCES courses(id) ON DELETE CASCADE,
    person_id INTEGER NOT NULL REFERENCES people(id) ON DELETE CASCADE,
    role TEXT NOT NULL CHECK (role IN ('instructor', 'assistant', 'student')),
    section TEXT NOT NULL DEFAULT '',
    PRIMARY KEY (course_id, person_id)
) STRICT, WITHOUT ROWID;
CREATE TABLE exercises (
    id INTEGER PRIMARY KEY,
    course_id INTEGER NOT NULL REFERENCES courses(id) ON DELETE CASCADE,
    position INTEGER NOT NULL
) STRICT;
CREATE INDEX exercises_by_course ON exercises(course_id, position);
CREATE TABLE revisions (
    id INTEGER PRIMARY KEY,
    exercise_id INTEGER NOT NULL REFERENCES exercises(id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    title TEXT NOT NULL,
    text TEXT NOT NULL,
    author_id INTEGER NOT NULL REFERENCES people(id),
    created_at INTEGER NOT NULL,
    UNIQUE (exercise_id, number)
) STRICT;
CREATE TABLE blobs (
    hash BLOB PRIMARY KEY,
    bytes BLOB NOT NULL
) STRICT;
CREATE TABLE hand_ins (
    id INTEGER PRIMARY KEY,
    exercise_id INTEGER NOT NULL REFERENCES exercises(id),
    student_id INTEGER NOT NULL REFERENCES people(id),
    attempt INTEGER NOT NULL,
    top TEXT,
    submitted_by INTEGER NOT NULL REFERENCES people(id),
    submitted_at INTEGER NOT NULL,
    UNIQUE (exercise_id, student_id, attempt)
) STRICT;
CREATE TABLE hand_in_files (
    hand_in_id INTEGER NOT NULL REFERENCES hand_ins(id),
    position INTEGER NOT NULL,
    kind TEXT NOT NULL CHECK (kind IN ('design', 'wiring')),
    name TEXT NOT NULL,
    blob_hash BLOB NOT NULL REFERENCES blobs(hash),
    PRIMARY KEY (hand_in_id, position)
) STRICT, WITHOUT ROWID;
CREATE TABLE verdicts (
    id INTEGER PRIMARY KEY,
    hand_in_id INTEGER NOT NULL REFERENCES hand_ins(id),
    revision_id INTEGER NOT NULL REFERENCES revisions(id),
    kind TEXT NOT NULL,
    rows_passed INTEGER NOT NULL,
    rows_total INTEGER NOT NULL,
    headline TEXT NOT NULL,
    json TEXT NOT NULL,
    actual TEXT,
    created_at INTEGER NOT NULL
) STRICT;
CREATE INDEX verdicts_by_hand_in ON verdicts(hand_in_id, id);
CREATE TABLE sign_offs (
    hand_in_id INTEGER PRIMARY KEY REFERENCES hand_ins(id),
    by_id INTEGER NOT NULL REFERENCES people(id),
    created_at INTEGER NOT NULL
) STRICT;
CREATE TABLE audit (
    id INTEGER PRIMARY KEY,
    course_id INTEGER REFERENCES courses(id),
    person_id INTEGER REFERENCES people(id),
    action TEXT NOT NULL,
    subject TEXT NOT NULL,
    created_at INTEGER NOT NULL
) STRICT;
CREATE INDEX audit_by_course ON audit(course_id, id);
-- Hand-ins and their files are immutable.
CREATE TRIGGER hand_ins_stay BEFORE UPDATE ON hand_ins BEGIN SELECT RAISE(ABORT, 'a hand-in is immutable'); END;
CREATE TRIGGER hand_in_files_stay BEFORE UPDATE ON hand_in_files
    BEGIN SELECT RAISE(ABORT, 'a hand-in is immutable'); END;
CREATE TRIGGER audit_stays BEFORE UPDATE ON audit BEGIN SELECT RAISE(ABORT, 'the audit trail is immutable'); END;
";

/// Hand-ins may hold prepared answers. SQLite can't change a CHECK, so the table is made anew.
const ANSWERS: &str = "
DROP TRIGGER hand_in_files_stay;
CREATE TABLE hand_in_files_2 (
    hand_in_id INTEGER NOT NULL REFERENCES hand_ins(id),
    position INTEGER NOT NULL,
    kind TEXT NOT NULL CHECK (kind IN ('design', 'wiring', 'answers')),
    name TEXT NOT NULL,
    blob_hash BLOB NOT NULL REFERENCES blobs(hash),
    PRIMARY KEY (hand_in_id, position)
) STRICT, WITHOUT ROWID;
INSERT INTO hand_in_files_2 SELECT hand_in_id, position, kind, name, blob_hash FROM hand_in_files;
DROP TABLE hand_in_files;
ALTER TABLE hand_in_files_2 RENAME TO hand_in_files;
CREATE TRIGGER hand_in_files_stay BEFORE UPDATE ON hand_in_files
    BEGIN SELECT RAISE(ABORT, 'a hand-in is immutable'); END;
";

/// What an exercise keeps beside its revisions: the stimulus of its waves and how their lanes are arranged.
const SETTINGS: &str = "
CREATE TABLE exercise_settings (
    exercise_id INTEGER NOT NULL REFERENCES exercises(id) ON DELETE CASCADE,
    name TEXT NOT NULL,
    text TEXT NOT NULL,
    PRIMARY KEY (exercise_id, name)
) STRICT, WITHOUT ROWID;
";

/// A verdict keeps the image that was made with it, and its marks.
const IMAGES: &str = "
ALTER TABLE verdicts ADD COLUMN image TEXT;
ALTER TABLE verdicts ADD COLUMN marks REAL;
ALTER TABLE verdicts ADD COLUMN marks_out_of REAL;
";

/// A course says which of a student's attempts counts.
const COUNTS: &str = "
ALTER TABLE courses ADD COLUMN counts TEXT NOT NULL DEFAULT 'best' CHECK (counts IN ('best', 'newest'));
";

/// People as staff manages them: family names and numbers, who may make courses, who is deactivated; sections of assistants,
/// links to set a password, join codes; when a session was seen last.
const PEOPLE: &str = "
ALTER TABLE people ADD COLUMN family TEXT NOT NULL DEFAULT '';
ALTER TABLE people ADD COLUMN number TEXT NOT NULL DEFAULT '';
ALTER TABLE people ADD COLUMN teaches INTEGER NOT NULL DEFAULT 0;
UPDATE people SET teaches = 1 WHERE id IN (SELECT person_id FROM members WHERE role = 'instructor');
ALTER TABLE audit ADD COLUMN about_id INTEGER;
ALTER TABLE members ADD COLUMN active INTEGER NOT NULL DEFAULT 1;
ALTER TABLE sessions ADD COLUMN seen_at INTEGER NOT NULL DEFAULT 0;
ALTER TABLE sessions ADD COLUMN agent TEXT NOT NULL DEFAULT '';
CREATE TABLE assistant_sections (
    course_id INTEGER NOT NULL REFERENCES courses(id) ON DELETE CASCADE,
    person_id INTEGER NOT NULL REFERENCES people(id) ON DELETE CASCADE,
    section TEXT NOT NULL,
    PRIMARY KEY (course_id, person_id, section)
) STRICT, WITHOUT ROWID;
CREATE TABLE password_links (
    token_hash BLOB PRIMARY KEY,
    person_id INTEGER NOT NULL REFERENCES people(id) ON DELETE CASCADE,
    made_by INTEGER NOT NULL REFERENCES people(id),
    expires_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TABLE join_codes (
    id INTEGER PRIMARY KEY,
    course_id INTEGER NOT NULL REFERENCES courses(id) ON DELETE CASCADE,
    code TEXT NOT NULL UNIQUE COLLATE NOCASE,
    section TEXT NOT NULL DEFAULT '',
    uses_left INTEGER NOT NULL,
    expires_at INTEGER NOT NULL,
    made_by INTEGER NOT NULL REFERENCES people(id),
    created_at INTEGER NOT NULL
) STRICT;
";

/// What authors work at is a draft until it is published; a revision knows what of it is checked.
const DRAFTS: &str = "
ALTER TABLE exercises ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
ALTER TABLE exercises ADD COLUMN archived INTEGER NOT NULL DEFAULT 0;
ALTER TABLE revisions ADD COLUMN checks TEXT NOT NULL DEFAULT '';
CREATE TABLE exercise_drafts (
    exercise_id INTEGER PRIMARY KEY REFERENCES exercises(id) ON DELETE CASCADE,
    title TEXT NOT NULL,
    text TEXT NOT NULL,
    author_id INTEGER NOT NULL REFERENCES people(id),
    saved_at INTEGER NOT NULL
) STRICT;
";

/// When exercises are worked at, and more time for some.
const TERMS: &str = "
CREATE TABLE exercise_terms (
    exercise_id INTEGER PRIMARY KEY REFERENCES exercises(id) ON DELETE CASCADE,
    release_at INTEGER,
    due_at INTEGER,
    attempts INTEGER,
    refuses_late INTEGER NOT NULL DEFAULT 0,
    shown TEXT NOT NULL DEFAULT 'all' CHECK (shown IN ('all', 'stages', 'after_due'))
) STRICT;
CREATE TABLE extensions (
    id INTEGER PRIMARY KEY,
    exercise_id INTEGER NOT NULL REFERENCES exercises(id) ON DELETE CASCADE,
    person_id INTEGER REFERENCES people(id) ON DELETE CASCADE,
    section TEXT NOT NULL DEFAULT '',
    due_at INTEGER NOT NULL
) STRICT;
";

/// Checks that are to be made, which were in memory before. What is done stays until nothing waits, so that nobody's second
/// check comes before everybody's first.
const JOBS: &str = "
CREATE TABLE jobs (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    hand_in_id INTEGER NOT NULL REFERENCES hand_ins(id) ON DELETE CASCADE,
    student_id INTEGER NOT NULL,
    asked_at INTEGER NOT NULL,
    claimed_at INTEGER,
    claims INTEGER NOT NULL DEFAULT 0,
    again INTEGER NOT NULL DEFAULT 0,
    done_at INTEGER
) STRICT;
CREATE UNIQUE INDEX jobs_open ON jobs(hand_in_id) WHERE done_at IS NULL;
CREATE INDEX jobs_by_student ON jobs(student_id);
INSERT INTO jobs (hand_in_id, student_id, asked_at)
    SELECT id, student_id, submitted_at FROM hand_ins h
    WHERE NOT EXISTS (SELECT 1 FROM verdicts v WHERE v.hand_in_id = h.id) ORDER BY id;
";

/// Marks can be counted anew from a verdict, and staff may decide otherwise than the check. What is checked of a revision is
/// said anew, now that marks are no part of it.
const MARKING: &str = "
ALTER TABLE verdicts ADD COLUMN shares TEXT NOT NULL DEFAULT '';
ALTER TABLE revisions ADD COLUMN marking TEXT NOT NULL DEFAULT '';
UPDATE revisions SET checks = '';
CREATE TABLE overrides (
    hand_in_id INTEGER PRIMARY KEY REFERENCES hand_ins(id) ON DELETE CASCADE,
    kind TEXT NOT NULL CHECK (kind IN ('pass', 'partly', 'fail')),
    marks REAL,
    reason TEXT NOT NULL,
    by_id INTEGER NOT NULL REFERENCES people(id),
    created_at INTEGER NOT NULL
) STRICT;
";

/// A course says its times on the clock of a zone; empty for the machine's own.
const ZONES: &str = "
ALTER TABLE courses ADD COLUMN zone TEXT NOT NULL DEFAULT '';
";

/// All migrations in order; one that has shipped stays as it is.
fn all() -> [&'static str; 11] {
    [FIRST, ANSWERS, SETTINGS, IMAGES, COUNTS, PEOPLE, DRAFTS, TERMS, JOBS, MARKING, ZONES]
}

/// Sets the connection's habits and brings the tables up to date.
pub(crate) fn prepare(connection: &mut Connection) -> Result<(), StoreError> {
    connection.busy_timeout(std::time::Duration::from_secs(5))?;
    connection.pragma_update(None, "journal_mode", "WAL")?;
    connection.pragma_update(None, "synchronous", "FULL")?;
    connection.pragma_update(None, "foreign_keys", true)?;
    Migrations::new(all().into_iter().map(M::up).collect()).to_latest(connection)?;
    Ok(())
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]
mod tests {
    use super::*;
    use crate::{CourseId, ExerciseId, HandInId, PersonId};

    /// A course with a hand-in as the first version kept it.
    const DATA: &str = "
        INSERT INTO people VALUES (1, 'Ines Quillaby', 'ines', 'hash', 1), (2, 'Milo Segmentine', 'milo', 'hash', 1);
        INSERT INTO sessions VALUES (x'01', 2, 1, 99);
        INSERT INTO courses (id, title, created_at) VALUES (1, 'Packhouse Controls', 1);
        INSERT INTO members (course_id, person_id, role, section) VALUES (1, 1, 'instructor', ''), (1, 2, 'student', 'A');
        INSERT INTO exercises (id, course_id, position) VALUES (1, 1, 1);
        INSERT INTO revisions (id, exercise_id, number, title, text, author_id, created_at) VALUES
            (1, 1, 1, 'Hopper', 'text 1', 1, 1), (2, 1, 2, 'Hopper', 'text 2', 1, 2);
        INSERT INTO blobs VALUES (x'aa', CAST('module a; endmodule' AS BLOB));
        INSERT INTO hand_ins VALUES (1, 1, 2, 1, NULL, 2, 3);
        INSERT INTO hand_in_files VALUES (1, 0, 'design', 'a.v', x'aa');
        INSERT INTO verdicts (id, hand_in_id, revision_id, kind, rows_passed, rows_total, headline, json, actual, created_at)
            VALUES (1, 1, 1, 'pass', 8, 8, 'All 8 rows are right.', '{}', NULL, 4);
        INSERT INTO sign_offs VALUES (1, 1, 5);
        INSERT INTO audit (course_id, person_id, action, subject, created_at) VALUES (1, 1, 'sign-off', 'exercise 1, Milo', 5);
    ";

    #[test]
    fn data_of_every_earlier_version_is_brought_up_to_date() {
        for known in 1..all().len() {
            let folder = tempfile::tempdir().unwrap();
            let path = crate::backup::data_file(folder.path());
            let mut old = Connection::open(&path).unwrap();
            let earlier = all()[..known].iter().map(|sql| M::up(sql)).collect();
            Migrations::new(earlier).to_latest(&mut old).unwrap();
            // The columns that came later have values of their own where they are there already.
            let insert = |text: &str| old.execute_batch(text);
            let data = match known {
                0..=5 => DATA.to_owned(),
                _ => DATA
                    .replace("INTO people VALUES", "INTO people (id, name, sign_in, password_hash, created_at) VALUES")
                    .replace(
                        "INTO sessions VALUES",
                        "INTO sessions (token_hash, person_id, created_at, expires_at) VALUES",
                    ),
            };
            insert(&data).unwrap();
            drop(old);
            let store = crate::Store::open(folder.path()).unwrap();
            let standing = store.standings(CourseId(1), None).unwrap();
            assert_eq!(standing.len(), 1, "version {known}");
            // Made for revision 1, and 2 is the newest: it was stale and stays so.
            assert!(standing[0].stale && standing[0].signed_off.is_some(), "version {known}");
            assert_eq!(store.hand_in(CourseId(1), HandInId(1)).unwrap().files[0].bytes, b"module a; endmodule");
            assert_eq!(store.working(CourseId(1), ExerciseId(1)).unwrap().published, Some(2));
            let people = store.people(CourseId(1)).unwrap();
            assert!(people.len() == 2 && people.iter().all(|p| p.is_active && p.has_password), "{people:?}");
            assert_eq!(store.session(b"\x01", 50).unwrap().map(|s| s.0), Some(PersonId(2)), "nobody is signed out");
            assert_eq!(store.audit(CourseId(1), 9).unwrap().len(), 1);
            if known <= 5 {
                assert!(store.teaches(PersonId(1)).unwrap() && !store.teaches(PersonId(2)).unwrap());
            }
        }
    }
}
