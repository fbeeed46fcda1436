//! The worker's side: questions from standard input, answers to standard output.

use crate::answer::answer_within;
use crate::question::{Answer, Question};
use serde::{Deserialize, Serialize};
use std::io::{BufRead, Write};
use std::sync::Arc;
use std::sync::atomic::AtomicBool;
use std::time::Duration;

/// A question on its way, with the time it may take.
#[derive(Serialize, Deserialize)]
pub(crate) struct Asked<Q> {
    pub(crate) time_ms: u64,
    pub(crate) question: Q,
}

/// Limits the address space of this process; what would take more ends it. False where the system has no such limit.
pub fn limit_memory(mebibytes: u64) -> bool {
    let bytes = mebibytes.saturating_mul(1 << 20);
    rlimit::setrlimit(rlimit::Resource::AS, bytes, bytes).is_ok()
}

/// Answers questions until the input ends.
///
/// # Errors
/// When input or output fail.
pub fn serve(input: impl BufRead, mut output: impl Write) -> std::io::Result<()> {
    for line in input.lines() {
        let found = match serde_json::from_str::<Asked<Question>>(&line?) {
            Ok(asked) => {
                let time = Duration::from_millis(asked.time_ms);
                answer_within(asked.question, time, &Arc::new(AtomicBool::new(false)))
            }
            Err(error) => Answer::Refused(format!("The question can't be read: {error}.")),
        };
        serde_json::to_writer(&mut output, &found)?;
        output.write_all(b"\n")?;
        output.flush()?;
    }
    Ok(())
}
