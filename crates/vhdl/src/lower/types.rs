//! Types as elaboration sees them.

use design::{Design, LevelSet, Type, TypeId, TypeKind};
use logic::Shape;

/// Width in which whole numbers are computed: VHDL's integers have 32 bits, two more keep sums and signs.
pub(super) const INTEGER_BITS: u32 = 34;

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum VectorKind {
    StdLogic,
    Unsigned,
    Signed,
    Bit,
}

impl VectorKind {
    pub(super) fn word(self) -> &'static str {
        match self {
            VectorKind::StdLogic => "std_logic_vector",
            VectorKind::Unsigned => "unsigned",
            VectorKind::Signed => "signed",
            VectorKind::Bit => "bit_vector",
        }
    }
}

#[derive(Clone, Debug, PartialEq)]
pub(super) enum Ty {
    Logic,
    Bit,
    Boolean,
    Integer {
        low: i64,
        high: i64,
    },
    /// Without bounds while a parameter has none of its own.
    Vector {
        kind: VectorKind,
        bounds: Option<(i32, i32)>,
    },
    Enumeration {
        name: String,
        literals: Vec<String>,
    },
    Array {
        name: String,
        element: Box<Ty>,
        bounds: Option<(i64, i64)>,
    },
    Record {
        name: String,
        fields: Vec<(String, Ty)>,
    },
    /// Femtoseconds in 64 bits.
    Time,
    /// A number of double precision.
    Real,
}

/// The values of `severity_level`, the lightest first.
pub(super) const SEVERITIES: [&str; 4] = ["note", "warning", "error", "failure"];

/// The values of `file_open_status`.
pub(super) const OPEN_STATES: [&str; 4] = ["open_ok", "status_error", "name_error", "mode_error"];

impl Ty {
    pub(super) const INTEGER: Ty = Ty::Integer { low: -2_147_483_648, high: 2_147_483_647 };

    /// What sums, differences and products of integers are: they may leave the range of `integer`, and are looked at where
    /// they are assigned.
    pub(super) const SUM: Ty = Ty::Integer { low: -(1 << (INTEGER_BITS - 1)), high: (1 << (INTEGER_BITS - 1)) - 1 };

    pub(super) fn vector(kind: VectorKind, width: u32) -> Ty {
        Ty::Vector { kind, bounds: Some((i32::try_from(width).unwrap_or(i32::MAX) - 1, 0)) }
    }

    /// The 256 characters of ISO 8859-1, held as their codes.
    pub(super) fn character() -> Ty {
        let name = |code: u8| match char::from(code) {
            c if c.is_control() => format!("c{code}"),
            c => format!("'{c}'"),
        };
        Ty::Enumeration { name: "character".into(), literals: (0..=255).map(name).collect() }
    }

    /// How grave a message is (IEEE 1076-2008 16.3).
    pub(super) fn severity() -> Ty {
        Ty::Enumeration { name: "severity_level".into(), literals: SEVERITIES.map(str::to_owned).to_vec() }
    }

    /// How opening a file went (IEEE 1076-2008 16.3).
    pub(super) fn open_status() -> Ty {
        Ty::Enumeration { name: "file_open_status".into(), literals: OPEN_STATES.map(str::to_owned).to_vec() }
    }

    /// Texts: arrays of characters, counted from 1.
    pub(super) fn string(bounds: Option<(i64, i64)>) -> Ty {
        Ty::Array { name: "string".into(), element: Box::new(Ty::character()), bounds }
    }

    /// True for a text.
    pub(super) fn is_string(&self) -> bool {
        matches!(self, Ty::Array { name, .. } if name == "string")
    }

    /// Bits of a value; `None` for a type without bounds.
    pub(super) fn width(&self) -> Option<u32> {
        match self {
            Ty::Logic | Ty::Bit | Ty::Boolean => Some(1),
            Ty::Time => Some(64),
            Ty::Real => Some(design::REAL_WIDTH),
            Ty::Integer { .. } => Some(INTEGER_BITS),
            Ty::Vector { bounds, .. } => bounds.map(|(l, r)| Shape::vector(l, r).width()),
            Ty::Enumeration { literals, .. } => Some((literals.len().max(2) - 1).ilog2() + 1),
            Ty::Array { element, bounds, .. } => {
                let (l, r) = (*bounds)?;
                let count = u32::try_from(l.abs_diff(r)).ok()?.checked_add(1)?;
                element.stored_width()?.checked_mul(count)
            }
            Ty::Record { fields, .. } => fields.iter().try_fold(0u32, |sum, (_, t)| sum.checked_add(t.stored_width()?)),
        }
    }

    /// Bits of a signal or variable: integers take what their range needs.
    pub(super) fn stored_width(&self) -> Option<u32> {
        match self {
            Ty::Integer { low, high } => {
                let bits = |n: i64| 64 - if n < 0 { (!n).leading_zeros() } else { n.leading_zeros() };
                Some((bits(*low).max(bits(*high)) + u32::from(*low < 0)).max(1))
            }
            other => other.width(),
        }
    }

    /// It in a sentence: `a std_logic`, `an unsigned of 4 bits`.
    pub(super) fn describe(&self) -> String {
        let article = |name: &str| if name.starts_with(['a', 'e', 'i', 'o', 'u']) { "an" } else { "a" };
        match self {
            Ty::Logic => "a std_logic".into(),
            Ty::Bit => "a bit".into(),
            Ty::Boolean => "a boolean".into(),
            Ty::Time => "a time".into(),
            Ty::Real => "a real".into(),
            Ty::Integer { .. } => "an integer".into(),
            Ty::Vector { kind, .. } => match self.width() {
                Some(1) => format!("{} {} of 1 bit", article(kind.word()), kind.word()),
                Some(n) => format!("{} {} of {n} bits", article(kind.word()), kind.word()),
                None => format!("{} {}", article(kind.word()), kind.word()),
            },
            Ty::Enumeration { name, .. } | Ty::Array { name, .. } | Ty::Record { name, .. } => {
                format!("{} {name}", article(name))
            }
        }
    }

    /// The same family, whatever the bounds.
    pub(super) fn fits(&self, other: &Ty) -> bool {
        match (self, other) {
            (Ty::Integer { .. }, Ty::Integer { .. }) => true,
            (Ty::Vector { kind: a, .. }, Ty::Vector { kind: b, .. }) => a == b,
            (Ty::Array { name: a, .. }, Ty::Array { name: b, .. }) => a == b,
            (a, b) => a == b,
        }
    }

    pub(super) fn vector_kind(&self) -> Option<VectorKind> {
        match self {
            Ty::Vector { kind, .. } => Some(*kind),
            _ => None,
        }
    }

    /// The type of an element of an array or vector.
    pub(super) fn element(&self) -> Option<Ty> {
        match self {
            Ty::Vector { kind: VectorKind::Bit, .. } => Some(Ty::Bit),
            Ty::Vector { .. } => Some(Ty::Logic),
            Ty::Array { element, .. } => Some((**element).clone()),
            _ => None,
        }
    }

    /// Left and right bound of an array or vector.
    pub(super) fn bounds(&self) -> Option<(i64, i64)> {
        match self {
            Ty::Vector { bounds, .. } => bounds.map(|(l, r)| (i64::from(l), i64::from(r))),
            Ty::Array { bounds, .. } => *bounds,
            _ => None,
        }
    }

    /// The same with other bounds.
    pub(super) fn with_bounds(&self, left: i64, right: i64) -> Ty {
        match self {
            Ty::Vector { kind, .. } => {
                let clip = |n: i64| i32::try_from(n).unwrap_or(if n < 0 { i32::MIN } else { i32::MAX });
                Ty::Vector { kind: *kind, bounds: Some((clip(left), clip(right))) }
            }
            Ty::Array { name, element, .. } => {
                Ty::Array { name: name.clone(), element: element.clone(), bounds: Some((left, right)) }
            }
            other => other.clone(),
        }
    }

    /// Its type in the design.
    pub(super) fn intern(&self, design: &mut Design) -> TypeId {
        let (kind, name) = match self {
            Ty::Logic => (TypeKind::Logic { shape: Shape::SCALAR, signed: false, levels: LevelSet::Nine }, "std_logic"),
            Ty::Bit => (TypeKind::Logic { shape: Shape::SCALAR, signed: false, levels: LevelSet::Two }, "bit"),
            Ty::Boolean => (TypeKind::Enumeration { literals: vec!["false".into(), "true".into()] }, "boolean"),
            Ty::Integer { low, high } => (TypeKind::Integer { low: *low, high: *high }, "integer"),
            Ty::Vector { kind, bounds } => {
                let shape = bounds.map_or(Shape::SCALAR, |(l, r)| Shape::vector(l, r));
                let levels = if *kind == VectorKind::Bit { LevelSet::Two } else { LevelSet::Nine };
                (TypeKind::Logic { shape, signed: *kind == VectorKind::Signed, levels }, kind.word())
            }
            Ty::Enumeration { name, literals } => (TypeKind::Enumeration { literals: literals.clone() }, name.as_str()),
            Ty::Array { name, element, bounds } => {
                let element = element.intern(design);
                let (left, right) = bounds.unwrap_or((0, 0));
                (TypeKind::Array { element, left, right }, name.as_str())
            }
            Ty::Time => (TypeKind::Logic { shape: Shape::vector(63, 0), signed: true, levels: LevelSet::Two }, "time"),
            Ty::Real => (TypeKind::Real, "real"),
            Ty::Record { name, fields } => {
                let fields = fields.iter().map(|(n, t)| (n.clone(), t.intern(design))).collect();
                (TypeKind::Record { fields }, name.as_str())
            }
        };
        let name = Some(name.to_owned());
        design.intern_type(Type { kind, name })
    }
}
