//! The exercise: its file, its form as pages edit it, the expected behaviour, rules, weights and questions. Knows no hand-in.

mod attachment;
mod behaviour;
mod checked;
mod clocked;
mod divider;
mod exercise;
mod expected;
mod fault;
mod files;
mod form;
mod question;
mod raw;
mod rules;
mod weights;
mod wide;
mod widths;

pub use attachment::{Attachment, Use};
pub use checked::{checked_part, marking_part};
pub use clocked::{Clocked, ClockedInfo, ClockedRule, Mistaken, RateRule, ResetSpec, clocked};
pub use divider::{DividerError, DividerPlan, divider_plans};
pub use exercise::{Exercise, ExerciseError, WiringPlan, shows_answers};
pub use expected::Expected;
pub use fault::NotBeside;
pub use files::{FilesError, apart, retitled, together};
pub use form::parts::{
    AnswerForm, AttachmentForm, ClockForm, NamedText, PartsForm, RateForm, RulesForm, SequenceForm, StateForm, WayForm,
    WiringForm,
};
pub use form::{BehaviourForm, CodeForm, ExerciseForm, FieldProblem, FormEdit, PortForm, Worked};
pub use question::{Ask, Question};
pub use rules::{FormRule, Matter, MatterError, RequiredForm, RuleExample, Rules, rule_examples};
pub use weights::Weights;
pub use wide::{Wide, inputs_text, value_text, wide};
