//! A port that an exercise asks for.

use logic::Shape;

/// A port of the exercise.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ExercisePort {
    /// Its name.
    pub name: String,
    /// True for inputs of the design.
    pub is_input: bool,
    /// Scalar or vector.
    pub shape: Shape,
}

impl ExercisePort {
    /// Its name and, for a vector, those of its bits.
    pub fn names(&self) -> Vec<String> {
        let bits = self.bit_names().filter(|n| *n != self.name);
        std::iter::once(self.name.clone()).chain(bits).collect()
    }

    /// Names of its bits, most significant first.
    pub fn bit_names(&self) -> impl Iterator<Item = String> + '_ {
        (0..self.shape.width()).rev().map(|p| self.shape.bit_name(&self.name, p))
    }
}
