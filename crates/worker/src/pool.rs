//! The asking side: starts workers, keeps them between questions, ends those that take too long.

use crate::answer::answer_within;
use crate::question::{Answer, Question};
use crate::serving::Asked;
use std::io::{BufRead, BufReader, Write};
use std::path::PathBuf;
use std::process::{Child, ChildStdin, Command, Stdio};
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};
use std::sync::mpsc::{Receiver, RecvTimeoutError, channel};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

/// What a question may take.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Limits {
    /// Time on the clock.
    pub time: Duration,
    /// Address space of a worker, in mebibytes.
    pub memory: u64,
}

impl Default for Limits {
    /// 20 seconds and 2 GiB: a hundred times what the largest exercise of a course takes.
    fn default() -> Self {
        Self { time: Duration::from_secs(20), memory: 2_048 }
    }
}

/// Between two looks at whether a question is still wanted.
const LOOK: Duration = Duration::from_millis(10);
/// How much longer than its time a worker may take to say that it is over.
const GRACE: Duration = Duration::from_millis(500);
/// Workers that wait for the next question.
const MOST_IDLE: usize = 4;

/// Why there is no answer.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum LostKind {
    /// The time was over.
    TimeOver,
    /// The worker ended by itself: out of memory, or a fault of ours.
    Died,
    /// The asker no longer wants it.
    Cancelled,
    /// No worker could be started.
    NotStarted,
}

/// A question that found no answer. Its number stands in the log.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("{}", self.sentence())]
pub struct Lost {
    /// Why.
    pub kind: LostKind,
    /// Its number.
    pub number: u64,
}

impl Lost {
    /// What is told of it, with the number.
    pub fn sentence(&self) -> String {
        let why = match self.kind {
            LostKind::TimeOver => "it took longer than it may",
            LostKind::Died => "it needed more memory than it may, or the checker itself failed",
            LostKind::Cancelled => "it was no longer wanted",
            LostKind::NotStarted => "no process could be started for it",
        };
        format!("This was stopped: {why} (number {:06}).", self.number)
    }
}

struct Worker {
    child: Child,
    input: ChildStdin,
    answers: Receiver<std::io::Result<String>>,
}

impl Worker {
    fn start(program: &PathBuf, memory: u64) -> std::io::Result<Self> {
        let mut child = Command::new(program)
            .args(["worker", "--memory", &memory.to_string()])
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::inherit())
            .spawn()?;
        let (Some(input), Some(output)) = (child.stdin.take(), child.stdout.take()) else {
            return Err(std::io::Error::other("no pipes"));
        };
        let (sender, answers) = channel();
        std::thread::Builder::new().name("answers".into()).spawn(move || {
            for line in BufReader::new(output).lines() {
                if sender.send(line).is_err() {
                    return;
                }
            }
        })?;
        Ok(Self { child, input, answers })
    }

    fn end(mut self) {
        // It may have ended by itself.
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// Starts workers of a program and asks them.
pub struct Pool {
    program: Option<PathBuf>,
    limits: Limits,
    idle: Mutex<Vec<Worker>>,
    number: AtomicU64,
}

impl Pool {
    /// Workers of the program at that path, which has the hidden subcommand `worker`.
    pub fn new(program: PathBuf, limits: Limits) -> Self {
        Self { program: Some(program), limits, idle: Mutex::default(), number: AtomicU64::new(1) }
    }

    /// No processes: questions are answered on the asking thread, and end only when they look at their budget. For programs
    /// that hold no students' files of strangers, and for tests of what lies above.
    pub fn within(limits: Limits) -> Self {
        Self { program: None, limits, idle: Mutex::default(), number: AtomicU64::new(1) }
    }

    /// What its questions may take.
    pub fn limits(&self) -> Limits {
        self.limits
    }

    /// Asks, and waits for the answer: no longer than `time`, and no longer than `cancel` is unset.
    ///
    /// # Errors
    /// When there is no answer.
    pub fn ask(&self, question: Question, time: Duration, cancel: &Arc<AtomicBool>) -> Result<Answer, Lost> {
        let found = match &self.program {
            _ if cancel.load(Ordering::Relaxed) => Err(LostKind::Cancelled),
            Some(program) => self.ask_worker(program, &question, time, cancel),
            None => Ok(answer_within(question, time, cancel)),
        };
        found.map_err(|kind| {
            let number = self.number.fetch_add(1, Ordering::Relaxed);
            if kind != LostKind::Cancelled {
                tracing::error!("question {number:06} found no answer: {kind:?}");
            }
            Lost { kind, number }
        })
    }

    fn ask_worker(
        &self,
        program: &PathBuf,
        question: &Question,
        time: Duration,
        cancel: &AtomicBool,
    ) -> Result<Answer, LostKind> {
        let asked = Asked { time_ms: u64::try_from(time.as_millis()).unwrap_or(u64::MAX), question };
        let mut line = serde_json::to_vec(&asked).map_err(|_| LostKind::Died)?;
        line.push(b'\n');
        // The worker ends by itself when the time is over, with what it has; one that doesn't is ended.
        let end = Instant::now() + time + time / 4 + GRACE;
        let kept = self.idle.lock().unwrap_or_else(PoisonError::into_inner).pop();
        let mut worker = match kept {
            Some(worker) => worker,
            None => Worker::start(program, self.limits.memory).map_err(|_| LostKind::NotStarted)?,
        };
        // A worker that waited may have been ended from outside: then a fresh one is asked.
        if worker.input.write_all(&line).and_then(|()| worker.input.flush()).is_err() {
            worker.end();
            worker = Worker::start(program, self.limits.memory).map_err(|_| LostKind::NotStarted)?;
            if worker.input.write_all(&line).and_then(|()| worker.input.flush()).is_err() {
                worker.end();
                return Err(LostKind::Died);
            }
        }
        loop {
            let left = end.saturating_duration_since(Instant::now());
            match worker.answers.recv_timeout(LOOK.min(left)) {
                Ok(Ok(text)) => {
                    let answer = serde_json::from_str(&text).map_err(|_| LostKind::Died);
                    if answer.is_ok() {
                        self.keep(worker);
                    } else {
                        worker.end();
                    }
                    return answer;
                }
                Ok(Err(_)) | Err(RecvTimeoutError::Disconnected) => {
                    worker.end();
                    return Err(LostKind::Died);
                }
                Err(RecvTimeoutError::Timeout) => {
                    let cancelled = cancel.load(Ordering::Relaxed);
                    if cancelled || left.is_zero() {
                        worker.end();
                        return Err(if cancelled { LostKind::Cancelled } else { LostKind::TimeOver });
                    }
                }
            }
        }
    }

    fn keep(&self, worker: Worker) {
        let mut idle = self.idle.lock().unwrap_or_else(PoisonError::into_inner);
        if idle.len() < MOST_IDLE {
            idle.push(worker);
        } else {
            drop(idle);
            worker.end();
        }
    }
}

impl Drop for Pool {
    fn drop(&mut self) {
        for worker in self.idle.get_mut().unwrap_or_else(PoisonError::into_inner).drain(..) {
            worker.end();
        }
    }
}
