//! What evidence of a row is taken from.

use elab::ActualTable;
use exercise::Exercise;
use std::collections::BTreeMap;
use verdict::Evidence;

/// What a finding's evidence is taken from.
pub(crate) struct EvidenceSource<'a> {
    pub(crate) exercise: &'a Exercise,
    pub(crate) actual: &'a ActualTable,
}

impl EvidenceSource<'_> {
    pub(crate) fn at(&self, row: u64) -> Evidence {
        let expected = &self.exercise.expected;
        Evidence {
            row: Some(logic::row_text(expected.input_count(), row)),
            cycle: None,
            expected: expected.outputs.iter().map(|o| (o.name.clone(), o.value(row).to_char().to_string())).collect(),
            actual: self.actual.columns.iter().map(|c| (c.name.clone(), c.level(row).to_string())).collect(),
            trace: Vec::new(),
            state: BTreeMap::new(),
            path: Vec::new(),
        }
    }
}
