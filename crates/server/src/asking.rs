//! Questions that a page waits for, put to a worker.

use crate::problem::Problem;
use crate::runs::Run;
use crate::state::AppState;
use actix_web::web;
use std::time::Duration;
use worker::{Answer, LostKind, Question};

impl Run<'_> {
    /// Asks a worker and waits for its answer, no longer than `patience`.
    pub(crate) async fn ask(
        &self,
        state: &web::Data<AppState>,
        question: Question,
        patience: Duration,
    ) -> Result<Answer, Problem> {
        let _turn = state.tries.acquire().await.map_err(Problem::our_fault)?;
        let (state, cancel) = (state.clone(), self.cancel());
        let work = web::block(move || state.asked.ask(question, patience, &cancel));
        match work.await.map_err(Problem::our_fault)? {
            Ok(Answer::Refused(why)) => Err(Problem::bad_input(why)),
            Ok(Answer::NoExercise(why)) => Err(Problem::our_fault(why)),
            // Its number stands in the log already.
            Ok(Answer::Ours(told)) => Err(Problem::told_fault(told)),
            Ok(answer) => Ok(answer),
            Err(lost) if lost.kind == LostKind::NotStarted => Err(Problem::told_fault(lost.sentence())),
            Err(lost) => Err(Problem::bad_input(lost.sentence())),
        }
    }
}
