//! What a rule looks at.

use design::{Design, Gates, Netlist, Use};
use elab::Unit;
use std::ops::Range;

/// A place in an exercise file with what is wrong there.
pub(super) type Spot<'t> = (&'t str, Range<usize>);

/// What a rule looks at.
pub(crate) struct Looked<'a> {
    pub design: &'a Design,
    pub netlist: &'a Netlist,
    pub gates: &'a Gates,
    /// What the units of the hierarchy are written with.
    pub uses: &'a [Use],
    /// Where the top is named.
    pub top: &'a Unit,
}
