//! Which product of the expected function covers a row: what a wrong row is an example of.

use exercise::Exercise;
use logic::{Effort, Form, Notation, minimise};
use serde::{Deserialize, Serialize};

/// A product of the smallest cover of an expected output.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct CoverTerm {
    /// The output bit.
    pub output: String,
    /// A character for each input: 0, 1 or -.
    pub cube: String,
    /// The product in a notation.
    pub text: String,
}

/// Inputs up to which covers are worked out.
const MAX_INPUTS: u32 = 8;
/// Outputs up to which they are.
const MAX_OUTPUTS: usize = 16;

/// The products of a smallest cover for each expected output; empty where there are too many inputs or outputs.
pub fn cover_terms(exercise: &Exercise, notation: Notation) -> Vec<CoverTerm> {
    let table = exercise.table();
    let inputs = table.input_count();
    if inputs == 0 || inputs > MAX_INPUTS || table.outputs.len() > MAX_OUTPUTS {
        return Vec::new();
    }
    let terms = table.outputs.iter().flat_map(|output| {
        let found = minimise(&output.ones, &output.dont_care, &Effort::default());
        let cover = found.covers.into_iter().next().unwrap_or_default();
        cover.into_iter().map(|cube| CoverTerm {
            output: output.name.clone(),
            cube: cube.text(inputs),
            text: Form::product(inputs, cube).text(&table.inputs, notation),
        })
    });
    terms.collect()
}
