//! Names and what they stand for: signals, variables, parameters, routines, in layers; how a thing is laid out in bits.

use crate::tree::{DataKind, Domain, Ident, Item, PortDirection, Routine};
use base::Span;
use design::{REAL_WIDTH, SignalId, SubprogramId, VariableId};
use front::Layers;
use logic::{LogicVector, Shape};
use std::sync::Arc;

/// Widest vector or memory, in bits.
pub(super) const MAX_BITS: u64 = 65_536;

#[derive(Clone, Debug)]
pub(super) struct SignalSymbol {
    pub(super) id: SignalId,
    pub(super) kind: DataKind,
    pub(super) direction: Option<PortDirection>,
    pub(super) layout: Layout,
    pub(super) span: Span,
    /// It is a signal of the module around, as an inout port.
    pub(super) outside: bool,
}

/// How a thing is laid out in bits.
#[derive(Clone, Debug)]
pub(super) struct Layout {
    /// Of the innermost vector.
    pub(super) shape: Shape,
    pub(super) signed: bool,
    /// Bounds around it, the outermost first: those of arrays, then those of packed vectors.
    pub(super) dimensions: Vec<Shape>,
    /// How many of those are of packed vectors.
    pub(super) packed: usize,
    /// Fields of a structure, the first one the most significant.
    pub(super) fields: Option<Arc<Vec<FieldLayout>>>,
    /// What the innermost vector holds.
    pub(super) domain: Domain,
}

/// A field of a structure.
#[derive(Clone, Debug)]
pub(super) struct FieldLayout {
    pub(super) name: String,
    /// Its lowest bit.
    pub(super) low: u32,
    pub(super) layout: Layout,
}

impl Layout {
    pub(super) fn vector(shape: Shape, signed: bool) -> Self {
        Layout { shape, signed, dimensions: Vec::new(), packed: 0, fields: None, domain: Domain::Bits }
    }

    /// A real number or a text.
    pub(super) fn of(domain: Domain) -> Self {
        let width = if domain == Domain::Text { TEXT_WIDTH } else { REAL_WIDTH };
        let shape = Shape::vector(i32::try_from(width).unwrap_or(1) - 1, 0);
        Layout { domain, ..Layout::vector(shape, domain == Domain::Real) }
    }

    /// What it holds as a whole.
    pub(super) fn whole_domain(&self) -> Domain {
        if self.dimensions.is_empty() && self.fields.is_none() { self.domain } else { Domain::Bits }
    }

    /// All of its bits.
    pub(super) fn width(&self) -> u32 {
        self.dimensions.iter().fold(self.shape.width(), |w, d| w.saturating_mul(d.width()))
    }

    /// The layout of one element by the outermost bounds.
    pub(super) fn element(&self) -> Option<Layout> {
        let (_, rest) = self.dimensions.split_first()?;
        Some(Layout { dimensions: rest.to_vec(), packed: self.packed.min(rest.len()), ..self.clone() })
    }

    /// True for something that arithmetic can take as one number.
    pub(super) fn is_number(&self) -> bool {
        self.dimensions.len() == self.packed
    }
}

/// Bits of a `string`: 128 characters.
pub(super) const TEXT_WIDTH: u32 = 8 * 128;
/// How the type of a `string` is named.
pub(super) const TEXT_TYPE: &str = "string";

/// The value of a parameter from outside.
#[derive(Clone, Debug)]
pub(super) struct Override {
    pub(super) name: String,
    pub(super) value: LogicVector,
    pub(super) domain: Domain,
}

#[derive(Clone, Debug)]
pub(super) enum Symbol<'a> {
    Signal(SignalSymbol),
    Variable {
        id: VariableId,
        layout: Layout,
        span: Span,
    },
    Parameter {
        value: LogicVector,
        layout: Layout,
        span: Span,
    },
    /// A named event: one bit that changes when it happens.
    Event {
        id: SignalId,
        span: Span,
    },
    Routine {
        id: SubprogramId,
        routine: &'a Routine,
    },
    Instance(Span),
}

impl Symbol<'_> {
    pub(super) fn span(&self) -> Span {
        match self {
            Symbol::Signal(s) => s.span,
            Symbol::Variable { span, .. } | Symbol::Parameter { span, .. } | Symbol::Instance(span) => *span,
            Symbol::Event { span, .. } => *span,
            Symbol::Routine { routine, .. } => routine.name.span,
        }
    }
}

/// The names in sight.
pub(super) type Symbols<'a> = Layers<Symbol<'a>>;

/// What is asked of names here.
pub(super) trait Names<'a> {
    /// The signal of that name.
    fn signal(&self, name: &str) -> Option<SignalSymbol>;

    /// The function or task of that name with its tree; inside a function its name is its result, too.
    fn declared_routine(&self, name: &str) -> Option<(SubprogramId, &'a Routine)>;

    /// The same without the tree.
    fn routine(&self, name: &str) -> Option<SubprogramId> {
        self.declared_routine(name).map(|(id, _)| id)
    }
}

impl<'a> Names<'a> for Symbols<'a> {
    fn signal(&self, name: &str) -> Option<SignalSymbol> {
        match self.get(name) {
            Some(Symbol::Signal(s)) => Some(s.clone()),
            _ => None,
        }
    }

    fn declared_routine(&self, name: &str) -> Option<(SubprogramId, &'a Routine)> {
        self.all(name).find_map(|symbol| match symbol {
            Symbol::Routine { id, routine } => Some((*id, *routine)),
            _ => None,
        })
    }
}

/// The names that the items declare as ports.
pub(super) fn declared_ports(items: &[Item]) -> impl Iterator<Item = &Ident> {
    items.iter().flat_map(|item| match item {
        Item::Declaration(d) if d.direction.is_some() => d.names.iter().map(|n| &n.name).collect(),
        _ => Vec::new(),
    })
}
