//! What every lowering does alike: expressions are pushed and resized, and a fault in a unit that is instantiated often is
//! told once.

use base::{Diagnostic, Span};
use design::{Design, Expr, ExprId, ExprKind};
use logic::LogicVector;
use std::collections::BTreeSet;
use std::ops::Deref;

/// What was found so far, each fault of a place once.
#[derive(Clone, Debug, Default)]
pub struct Findings {
    list: Vec<Diagnostic>,
    told: BTreeSet<(base::Code, Span)>,
    /// Names whose fault was told: what follows from it is not told again.
    names: BTreeSet<String>,
}

/// A state of the findings that can be gone back to.
#[derive(Clone, Debug)]
pub struct Mark {
    length: usize,
    told: BTreeSet<(base::Code, Span)>,
    names: BTreeSet<String>,
}

impl Deref for Findings {
    type Target = [Diagnostic];

    fn deref(&self) -> &[Diagnostic] {
        &self.list
    }
}

impl Findings {
    /// Findings of earlier steps, which were told already.
    pub fn after(list: Vec<Diagnostic>) -> Self {
        Self { list, ..Self::default() }
    }

    /// Tells one unless it was told of the same place.
    pub fn report(&mut self, diagnostic: Diagnostic) {
        let fresh = diagnostic.span.is_none_or(|span| self.told.insert((diagnostic.code, span)));
        if fresh {
            self.list.push(diagnostic);
        }
    }

    /// Where it stands now.
    pub fn mark(&self) -> Mark {
        Mark { length: self.list.len(), told: self.told.clone(), names: self.names.clone() }
    }

    /// What was found since.
    pub fn since(&self, mark: &Mark) -> &[Diagnostic] {
        self.list.get(mark.length..).unwrap_or(&[])
    }

    /// Forgets what was found since; it may be told again.
    pub fn go_back(&mut self, mark: Mark) {
        self.list.truncate(mark.length);
        self.told = mark.told;
        self.names = mark.names;
    }

    /// Notes a name whose fault is told; false where it was noted before.
    pub fn note_name(&mut self, name: &str) -> bool {
        self.names.insert(name.to_owned())
    }

    /// Was a fault of this name told?
    pub fn knows_name(&self, name: &str) -> bool {
        self.names.contains(name)
    }

    /// All of them.
    pub fn into_list(self) -> Vec<Diagnostic> {
        self.list
    }
}

/// A lowering at work.
pub trait Lower {
    /// The design that is being made.
    fn design(&mut self) -> &mut Design;

    /// What was found so far.
    fn findings(&mut self) -> &mut Findings;

    /// Tells a finding, each fault of a place once.
    fn report(&mut self, diagnostic: Diagnostic) {
        self.findings().report(diagnostic);
    }

    /// A new expression of a width in bits.
    fn push(&mut self, kind: ExprKind, width: u32, span: Span) -> ExprId {
        self.design().exprs.push(Expr { kind, width, span })
    }

    /// A constant.
    fn constant_expr(&mut self, value: LogicVector, span: Span) -> ExprId {
        let width = value.width();
        self.push(ExprKind::Const(value), width, span)
    }

    /// A value with another width in bits; itself where it has that.
    fn resize(&mut self, value: ExprId, width: u32, signed: bool, span: Span) -> ExprId {
        if self.design().exprs[value].width == width {
            return value;
        }
        self.push(ExprKind::Resize { value, signed }, width, span)
    }
}
