//! One file with everything, taken while others work, and put back again.

use crate::error::StoreError;
use crate::schema;
use rusqlite::backup::Backup;
use rusqlite::{Connection, OpenFlags};
use std::path::{Path, PathBuf};
use std::time::Duration;

/// The data file in a folder.
pub(crate) fn data_file(folder: &Path) -> PathBuf {
    folder.join("zesty-gate.sqlite")
}

/// Pages that are copied before others get their turn.
const PAGES: i32 = 256;
/// The pause between them.
const PAUSE: Duration = Duration::from_millis(2);

fn copy(from: &Connection, to: &mut Connection) -> Result<(), StoreError> {
    Backup::new(from, to)?.run_to_completion(PAGES, PAUSE, None)?;
    Ok(())
}

/// Opens a file that has to be there, for reading.
fn existing(path: &Path) -> Result<Connection, StoreError> {
    if !path.is_file() {
        return Err(StoreError::NotFound("data file"));
    }
    let connection = Connection::open_with_flags(path, OpenFlags::SQLITE_OPEN_READ_ONLY)?;
    connection.busy_timeout(Duration::from_secs(10))?;
    Ok(connection)
}

fn people(connection: &Connection) -> Result<u64, StoreError> {
    let count: i64 = connection.query_row("SELECT count(*) FROM people", [], |row| row.get(0))?;
    Ok(count.unsigned_abs())
}

/// Writes all data of a folder into one file, while the folder may be in use; says how many people it holds. An existing
/// file is replaced only once the new one is whole.
///
/// # Errors
/// When there is no data, or the file can't be written.
pub fn backup(folder: &Path, out: &Path) -> Result<u64, StoreError> {
    let from = existing(&data_file(folder))?;
    // A name that nobody else has: what stands beside the file is not ours to replace.
    let mut beside = out.as_os_str().to_owned();
    beside.push(format!(".{}.part", std::process::id()));
    let beside = PathBuf::from(beside);
    let written = (|| {
        let mut to = Connection::open(&beside)?;
        copy(&from, &mut to)?;
        // One file, without a journal beside it.
        to.pragma_update(None, "journal_mode", "DELETE")?;
        check(&to)?;
        people(&to)
    })();
    let place = |e| StoreError::Folder(out.display().to_string(), e);
    match written {
        Ok(count) => std::fs::rename(&beside, out).map_err(place).map(|()| count),
        Err(error) => {
            // What is not whole is of no use.
            let _ = std::fs::remove_file(&beside);
            Err(error)
        }
    }
}

/// The file is whole.
fn check(connection: &Connection) -> Result<(), StoreError> {
    let told: String = connection.query_row("PRAGMA quick_check(1)", [], |row| row.get(0))?;
    if told == "ok" { Ok(()) } else { Err(StoreError::Damaged(told)) }
}

/// Puts a backup into a folder; says how many people it holds, and where the data that was there before is kept now.
///
/// # Errors
/// When the file is no backup or is damaged; the folder's data is untouched then.
pub fn restore(input: &Path, folder: &Path) -> Result<(u64, Option<PathBuf>), StoreError> {
    let from = existing(input)?;
    check(&from)?;
    // An empty file is data to SQLite, but not ours.
    people(&from)?;
    // A copy is brought up to date first, so that a file of another program touches nothing.
    let place = |e| StoreError::Folder(folder.display().to_string(), e);
    std::fs::create_dir_all(folder).map_err(place)?;
    let trial = folder.join("restoring.part");
    let tried = (|| {
        let mut copied = Connection::open(&trial)?;
        copy(&from, &mut copied)?;
        schema::prepare(&mut copied)?;
        let count = people(&copied)?;
        let there = data_file(folder);
        let before = if there.is_file() { Some(keep(folder)?) } else { None };
        let mut to = Connection::open(&there)?;
        to.busy_timeout(Duration::from_secs(10))?;
        copy(&copied, &mut to)?;
        schema::prepare(&mut to)?;
        Ok((count, before))
    })();
    for ending in ["", "-wal", "-shm", "-journal"] {
        let _ = std::fs::remove_file(folder.join(format!("restoring.part{ending}")));
    }
    tried
}

/// Keeps what is there under a name of its own.
fn keep(folder: &Path) -> Result<PathBuf, StoreError> {
    let name = |n: u32| folder.join(format!("before-restore-{n}.sqlite"));
    let free = (1..10_000).map(name).find(|path| !path.exists()).ok_or(StoreError::NotFound("free name"))?;
    backup(folder, &free)?;
    Ok(free)
}
