//! A few read-only connections, handed out one at a time.

use crate::error::StoreError;
use rusqlite::{Connection, OpenFlags};
use std::path::Path;
use std::sync::{Condvar, Mutex, PoisonError};

pub(crate) struct Pool {
    free: Mutex<Vec<Connection>>,
    returned: Condvar,
}

impl Pool {
    pub(crate) fn open(path: &Path, count: usize) -> Result<Self, StoreError> {
        let connect = || -> Result<Connection, StoreError> {
            let connection = Connection::open_with_flags(path, OpenFlags::SQLITE_OPEN_READ_ONLY)?;
            connection.pragma_update(None, "query_only", true)?;
            // In KiB: a course's hand-ins and verdicts stay in memory, so that the pass sheet isn't read from the file.
            connection.pragma_update(None, "cache_size", -32_000)?;
            connection.busy_timeout(std::time::Duration::from_secs(5))?;
            Ok(connection)
        };
        let free = (0..count).map(|_| connect()).collect::<Result<_, _>>()?;
        Ok(Self { free: Mutex::new(free), returned: Condvar::new() })
    }

    pub(crate) fn with<T>(&self, f: impl FnOnce(&Connection) -> Result<T, StoreError>) -> Result<T, StoreError> {
        let mut free = self.free.lock().unwrap_or_else(PoisonError::into_inner);
        let connection = loop {
            match free.pop() {
                Some(connection) => break connection,
                None => free = self.returned.wait(free).unwrap_or_else(PoisonError::into_inner),
            }
        };
        drop(free);
        let guard = Borrowed { pool: self, connection: Some(connection) };
        match &guard.connection {
            Some(connection) => f(connection),
            None => Err(StoreError::NotFound("connection")),
        }
    }
}

/// Gives the connection back even when the query panics.
struct Borrowed<'p> {
    pool: &'p Pool,
    connection: Option<Connection>,
}

impl Drop for Borrowed<'_> {
    fn drop(&mut self) {
        if let Some(connection) = self.connection.take() {
            self.pool.free.lock().unwrap_or_else(PoisonError::into_inner).push(connection);
            self.pool.returned.notify_one();
        }
    }
}
