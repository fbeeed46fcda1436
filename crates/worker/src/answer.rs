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
use views::{At, DrawnDesign, NotShown, StructureRequest, WavesRequest};

/// Drawn designs that are kept, with as many nodes all together at most: a cursor that moves asks for one again and again.
const MOST_DRAWN: usize = 6;
const MOST_NODES: usize = 200_000;

/// What a drawing depends on.
#[derive(PartialEq, Eq)]
struct Drawing {
    exercise: SentExercise,
    files: Vec<SentFile>,
    top: Option<String>,
    view: views::StructureView,
    output: Option<String>,
}

/// The exercise asked about last and the designs drawn last: most questions follow one about the same.
#[derive(Default)]
struct Known {
    last: Option<(SentExercise, Arc<Exercise>)>,
    /// The newest last.
    drawn: Vec<(Drawing, Arc<DrawnDesign>)>,
}

impl Known {
    fn load(&mut self, sent: SentExercise) -> Result<Arc<Exercise>, Answer> {
        if let Some((text, exercise)) = &self.last
            && *text == sent
        {
            return Ok(Arc::clone(exercise));
        }
        let exercise = Arc::new(sent.load().map_err(|e| Answer::NoExercise(e.to_string()))?);
        self.last = Some((sent, Arc::clone(&exercise)));
        Ok(exercise)
    }

    fn draw(&mut self, drawing: Drawing, exercise: &Exercise, budget: &Budget) -> Result<Arc<DrawnDesign>, NotShown> {
        if let Some(at) = self.drawn.iter().position(|(known, _)| *known == drawing) {
            let found = self.drawn.remove(at);
            let design = Arc::clone(&found.1);
            self.drawn.push(found);
            return Ok(design);
        }
        let request = StructureRequest {
            exercise: Some(exercise),
            top: drawing.top.as_deref(),
            view: drawing.view,
            output: drawing.output.as_deref(),
        };
        let files = files(drawing.files.clone());
        let design = Arc::new(DrawnDesign::new(&files, &request, budget)?);
        self.drawn.push((drawing, Arc::clone(&design)));
        let nodes = |list: &[(Drawing, Arc<DrawnDesign>)]| list.iter().map(|(_, d)| d.size()).sum::<usize>();
        while self.drawn.len() > MOST_DRAWN || (self.drawn.len() > 1 && nodes(&self.drawn) > MOST_NODES) {
            self.drawn.remove(0);
        }
        Ok(design)
    }
}

thread_local! {
    static KNOWN: std::cell::RefCell<Known> = std::cell::RefCell::default();
}

fn files(sent: Vec<SentFile>) -> Vec<HandInFile> {
    sent.into_iter().map(SentFile::into_file).collect()
}

/// A fault of ours is no refusal.
fn refused(why: NotShown) -> Answer {
    match why {
        NotShown::Ours(fault) => Answer::Ours(fault.to_string()),
        why => Answer::Refused(why.to_string()),
    }
}

/// The drawn design of a question, with its exercise.
fn drawn(
    exercise: SentExercise,
    files: Vec<SentFile>,
    ask: &DrawingAsk,
    budget: &Budget,
) -> Result<(Arc<Exercise>, Arc<DrawnDesign>), Answer> {
    KNOWN.with(|known| {
        let mut known = known.borrow_mut();
        let loaded = known.load(exercise.clone())?;
        let (top, view, output) = (ask.top.clone(), ask.view, ask.output.clone());
        let design = known.draw(Drawing { exercise, files, top, view, output }, &loaded, budget).map_err(refused)?;
        Ok((loaded, design))
    })
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
            Question::ToldApart { exercise, hand_in } => {
                let exercise = load(exercise)?;
                Answer::ToldApart(check::told_apart(&exercise, &hand_in.into_hand_in(), budget))
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
                let waves = views::waves(&exercise, &files(sent), &request, budget).map_err(refused)?;
                Answer::Waves(Box::new(waves))
            }
            Question::Drawing { exercise, files: sent, ask } => {
                let (_, design) = drawn(exercise, sent, &ask, budget)?;
                Answer::Drawing(Box::new(design.structure().map_err(refused)?))
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
                let (exercise, design) = drawn(exercise, sent, &ask, budget)?;
                let at = ask.moment.as_ref().map_or(At::Row(&ask.row), At::Moment);
                Answer::Levels(Box::new(design.levels(&exercise, at).map_err(refused)?))
            }
        })
    };
    found().unwrap_or_else(|other| other)
}
