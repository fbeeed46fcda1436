//! Answers a question with the checker.

use crate::question::{Answer, DrawingAsk, Question};
use crate::sent::{SentExercise, SentFile};
use base::Budget;
use elab::HandInFile;
use exercise::Exercise;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{RecvTimeoutError, channel};
use std::time::Duration;
use views::{At, StructureRequest, WavesRequest};

/// The exercise asked about last: most questions follow one about the same.
#[derive(Default)]
struct Known {
    last: Option<(SentExercise, Arc<Exercise>)>,
}

impl Known {
    fn load(&mut self, sent: SentExercise) -> Result<Arc<Exercise>, Answer> {
        if let Some((text, exercise)) = &self.last
            && *text == sent
        {
            return Ok(Arc::clone(exercise));
        }
        let exercise = Arc::new(sent.load().map_err(Answer::NoExercise)?);
        self.last = Some((sent, Arc::clone(&exercise)));
        Ok(exercise)
    }
}

thread_local! {
    static KNOWN: std::cell::RefCell<Known> = std::cell::RefCell::default();
}

fn files(sent: Vec<SentFile>) -> Vec<HandInFile> {
    sent.into_iter().map(SentFile::into_file).collect()
}

fn drawn<T>(
    exercise: &Exercise,
    ask: &DrawingAsk,
    work: impl FnOnce(&StructureRequest<'_>, At<'_>) -> Result<T, String>,
) -> Result<T, Answer> {
    let request = StructureRequest {
        exercise: Some(exercise),
        top: ask.top.as_deref(),
        view: ask.view,
        output: ask.output.as_deref(),
    };
    let at = ask.moment.as_ref().map_or(At::Row(&ask.row), At::Moment);
    work(&request, at).map_err(Answer::Refused)
}

/// Answers a question; when the time is over the work is told to end, and answers with what it has.
pub(crate) fn answer_within(question: Question, time: Duration, cancel: &Arc<AtomicBool>) -> Answer {
    let (done, wait) = channel::<()>();
    let flag = Arc::clone(cancel);
    let watch = std::thread::spawn(move || {
        if wait.recv_timeout(time) == Err(RecvTimeoutError::Timeout) {
            flag.store(true, Ordering::Relaxed);
        }
    });
    let found = answer(question, cancel);
    drop(done);
    let _ = watch.join();
    found
}

/// Answers a question; `cancel` ends it early.
pub fn answer(question: Question, cancel: &Arc<AtomicBool>) -> Answer {
    // The one budget of the question; it ends when the time is over.
    let budget = &Budget::hand_in().with_cancel(Arc::clone(cancel));
    let load = |sent| KNOWN.with(|known| known.borrow_mut().load(sent));
    let found = || -> Result<Answer, Answer> {
        Ok(match question {
            Question::Check { exercise, hand_in } => {
                let exercise = load(exercise)?;
                let checked = check::check_within(&exercise, &hand_in.into_hand_in(), budget);
                Answer::Checked(Box::new(checked.into()))
            }
            Question::Waves { exercise, files: sent, ask } => {
                let exercise = load(exercise)?;
                let request = WavesRequest {
                    unit: ask.unit,
                    stimulus: ask.stimulus,
                    saved: ask.saved,
                    until: ask.until,
                    steps: ask.steps,
                };
                let waves = views::waves(&exercise, &files(sent), &request, budget).map_err(Answer::Refused)?;
                Answer::Waves(Box::new(waves))
            }
            Question::Drawing { exercise, files: sent, ask } => {
                let (exercise, files) = (load(exercise)?, files(sent));
                let drawing = drawn(&exercise, &ask, |request, _| views::structure(&files, request, budget))?;
                Answer::Drawing(Box::new(drawing))
            }
            Question::Bench { exercise, image, hand_in, mut ask } => {
                let exercise = load(exercise)?;
                ask.row = ask.row.filter(|r| *r < exercise.rows());
                let image = board::Image::from_json(&image).map_err(|e| Answer::Refused(e.to_string()))?;
                let now = hand_in.into_hand_in().fingerprint(&exercise);
                match bench::run_image(&exercise, &image, &now, &ask, budget) {
                    Ok(shown) => Answer::Bench(shown.map(Box::new)),
                    Err(_) => Answer::Restless,
                }
            }
            Question::Levels { exercise, files: sent, ask } => {
                let (exercise, files) = (load(exercise)?, files(sent));
                let levels =
                    drawn(&exercise, &ask, |request, at| views::structure_levels(&files, request, at, budget))?;
                Answer::Levels(Box::new(levels))
            }
        })
    };
    found().unwrap_or_else(|other| other)
}
