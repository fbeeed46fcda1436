//! A parameter (or generic) of a top with its value.

use logic::LogicVector;

/// A parameter (or generic) of the top with the value that an exercise is about.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Parameter {
    /// Its name.
    pub name: String,
    /// Its value.
    pub value: i64,
}

impl Parameter {
    /// As elaboration takes it.
    pub fn given(&self) -> (String, LogicVector) {
        (self.name.clone(), LogicVector::from_u64(32, self.value.unsigned_abs()))
    }
}
