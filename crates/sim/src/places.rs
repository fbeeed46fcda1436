//! What compiled instructions assign and call.

use crate::code::{self, Block};
use base::Id;
use design::Storage;
use std::collections::BTreeSet;

/// What an instruction assigns, and what it calls.
pub(crate) fn places_of(instr: &code::Instr) -> Vec<(Option<&design::Target>, Option<usize>)> {
    use code::{Instr as I, Op};
    pub(crate) fn called(code: &[Op]) -> Vec<(Option<&design::Target>, Option<usize>)> {
        let mut found = Vec::new();
        for op in code {
            match op {
                Op::Call(s, ..) => found.push((None, Some(s.index()))),
                Op::Lazy(arms, _) => {
                    found.extend(called(&arms.0));
                    found.extend(called(&arms.1));
                }
                _ => {}
            }
        }
        found
    }
    match instr {
        I::Assign { places, value, .. } => {
            places.iter().map(|p| (Some(&p.target), None)).chain(called(value)).collect()
        }
        I::JumpUnless(code, _) => called(code),
        I::Call { subprogram, outs, .. } => {
            let own = std::iter::once((None, Some(subprogram.index())));
            own.chain(outs.iter().map(|(_, p)| (Some(&p.target), None))).collect()
        }
        _ => Vec::new(),
    }
}

/// Variables that a subprogram uses as its own.
pub(crate) fn locals_of(subprogram: &design::Subprogram, block: &Block) -> Vec<usize> {
    let mut found: BTreeSet<usize> = subprogram.parameters.iter().map(|(v, _)| v.index()).collect();
    found.extend(subprogram.result.map(Id::index));
    for (place, _) in block.instrs.iter().flat_map(places_of) {
        if let Some(Storage::Variable(v)) = place.map(|t| t.storage) {
            found.insert(v.index());
        }
    }
    found.into_iter().collect()
}
