//! Questions about students' files, answered in processes of their own: whatever a file does there, it ends within a limit
//! of time and of memory, and takes nobody else's question with it.
//!
//! A worker is the program itself, started with a hidden subcommand. It reads a question a line from standard input and
//! writes an answer a line to standard output, both JSON; it is kept for the next question. A [`Pool`] starts workers,
//! ends those that take too long or are no longer wanted, and says so as a [`Lost`] answer with a number that stands in
//! the log.

mod answer;
mod pool;
mod question;
mod sent;
mod serving;

pub use answer::answer;
pub use pool::{Limits, Lost, LostKind, Pool};
pub use question::{Answer, DrawingAsk, Question, WavesAsk};
pub use sent::{SentChecked, SentExercise, SentFile, SentHandIn};
pub use serving::{limit_memory, serve};
