//! What a rule looks at.

use design::{Design, Gates, Netlist, Use};
use elab::Unit;
use std::ops::Range;

/// A place in an exercise file with what is wrong there.
pub(crate) type Spot<'t> = (&'t str, Range<usize>);

/// What a rule looks at.
pub(crate) struct Looked<'a> {
    pub(crate) design: &'a Design,
    pub(crate) netlist: &'a Netlist,
    pub(crate) gates: &'a Gates,
    /// What the units of the hierarchy are written with.
    pub(crate) uses: &'a [Use],
    /// Where the top is named.
    pub(crate) top: &'a Unit,
}
