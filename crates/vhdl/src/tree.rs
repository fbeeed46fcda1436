//! The tree of a VHDL file, with the place of everything.

use base::Span;

/// A name as written, in lower case, with its place.
#[derive(Clone, Debug, PartialEq)]
pub struct Ident {
    /// In lower case.
    pub name: String,
    /// Where.
    pub span: Span,
}

/// A unit of a file.
#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Unit {
    Entity(Entity),
    Architecture(Architecture),
    Package(Package),
    PackageBody(Package),
}

/// What stands before a unit.
#[derive(Clone, Debug, Default, PartialEq)]
pub(crate) struct ContextClause {
    pub(crate) libraries: Vec<Ident>,
    /// The parts of each use clause: `ieee`, `numeric_std`, `all`.
    pub(crate) uses: Vec<Vec<Ident>>,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Entity {
    pub(crate) name: Ident,
    pub(crate) context: ContextClause,
    pub(crate) generics: Vec<Object>,
    pub(crate) ports: Vec<Object>,
    pub(crate) header: Span,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Architecture {
    pub(crate) name: Ident,
    pub(crate) entity: Ident,
    pub(crate) context: ContextClause,
    pub(crate) declarations: Vec<Declaration>,
    pub(crate) statements: Vec<Concurrent>,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Package {
    pub(crate) name: Ident,
    pub(crate) context: ContextClause,
    pub(crate) declarations: Vec<Declaration>,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Mode {
    In,
    Out,
    InOut,
    Buffer,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum ObjectKind {
    Constant,
    Signal,
    Variable,
}

/// A declared object: a port, generic, parameter, signal, constant or variable.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Object {
    pub(crate) kind: ObjectKind,
    pub(crate) name: Ident,
    /// The spelling of its declaration.
    pub(crate) spelling: String,
    pub(crate) mode: Mode,
    pub(crate) ty: SubtypeIndication,
    pub(crate) value: Option<Expr>,
}

/// A type mark with an optional constraint.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct SubtypeIndication {
    pub(crate) mark: Ident,
    pub(crate) constraint: Option<Constraint>,
    pub(crate) span: Span,
}

impl SubtypeIndication {
    /// A type of vectors or texts that says no bounds.
    pub(crate) fn has_no_bounds(&self) -> bool {
        const OPEN: [&str; 7] =
            ["std_logic_vector", "std_ulogic_vector", "unsigned", "signed", "bit_vector", "u_unsigned", "u_signed"];
        self.constraint.is_none() && OPEN.contains(&self.mark.name.as_str())
    }
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Constraint {
    /// `(3 downto 0)`, one for each dimension.
    Index(Vec<Range>),
    /// `range 0 to 9`
    Range(Range),
}

/// A range, or a name whose range is meant.
#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Range {
    Bounds {
        left: Box<Expr>,
        down: bool,
        right: Box<Expr>,
    },
    /// `a'range`, or a type mark; a single value where a choice may stand.
    Of(Box<Expr>),
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) enum TypeDefinition {
    Enumeration(Vec<Ident>),
    Range(Range),
    Array { indices: Vec<Range>, unconstrained: bool, element: SubtypeIndication },
    Record(Vec<(Ident, SubtypeIndication)>),
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Declaration {
    /// `use work.pack.all;` among the declarations.
    Use(ContextClause),
    Object(Object),
    Type {
        name: Ident,
        definition: TypeDefinition,
    },
    Subtype {
        name: Ident,
        ty: SubtypeIndication,
    },
    Alias {
        name: Ident,
        ty: Option<SubtypeIndication>,
        target: Expr,
    },
    Component(Component),
    Subprogram(Subprogram),
    File(FileObject),
    /// `for u1, u2 : adder use entity work.adder(ripple);`; without labels for all instances that have none of their own.
    Binding {
        labels: Vec<Ident>,
        component: Ident,
        entity: Ident,
        architecture: Option<Ident>,
    },
    /// What is legal and says nothing about logic: attributes, use clauses.
    Ignored,
    /// Legal, but not read yet.
    Unread(&'static str, Span),
}

/// `file f : text open read_mode is "rows.txt";`
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct FileObject {
    pub(crate) name: Ident,
    pub(crate) path: Option<Expr>,
    pub(crate) is_written: bool,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Component {
    pub(crate) name: Ident,
    pub(crate) generics: Vec<Object>,
    pub(crate) ports: Vec<Object>,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Subprogram {
    pub(crate) name: Ident,
    pub(crate) parameters: Vec<Object>,
    pub(crate) result: Option<SubtypeIndication>,
    /// Absent for a declaration only.
    pub(crate) body: Option<(Vec<Declaration>, Vec<Stmt>)>,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Association {
    pub(crate) formal: Option<Expr>,
    /// `None` for `open`.
    pub(crate) actual: Option<Expr>,
    pub(crate) span: Span,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Concurrent {
    /// `target <= a when c else b;` — the last alternative has no condition.
    Assign {
        label: Option<Ident>,
        target: Expr,
        alternatives: Vec<(Waveform, Option<Expr>)>,
        span: Span,
    },
    /// `with s select target <= a when "00", b when others;`
    Select {
        label: Option<Ident>,
        subject: Expr,
        target: Expr,
        alternatives: Vec<(Waveform, Vec<Range>)>,
        matching: bool,
        span: Span,
    },
    Process {
        label: Option<Ident>,
        sensitivity: Sensitivity,
        declarations: Vec<Declaration>,
        body: Vec<Stmt>,
        span: Span,
    },
    Instance {
        label: Ident,
        unit: Ident,
        is_entity: bool,
        /// `entity work.adder(ripple)`
        architecture: Option<Ident>,
        generics: Vec<Association>,
        ports: Vec<Association>,
        span: Span,
    },
    For {
        label: Ident,
        variable: Ident,
        range: Range,
        declarations: Vec<Declaration>,
        body: Vec<Concurrent>,
        span: Span,
    },
    /// Conditions with their statements; the last may be without.
    If {
        label: Ident,
        arms: Vec<(Option<Expr>, Vec<Declaration>, Vec<Concurrent>)>,
        span: Span,
    },
    Block {
        label: Ident,
        declarations: Vec<Declaration>,
        body: Vec<Concurrent>,
        span: Span,
    },
    Call {
        name: Expr,
        span: Span,
    },
    /// `case n generate`: choices with what they hold; none for `others`.
    Case {
        label: Ident,
        subject: Expr,
        arms: Vec<(Vec<Range>, Vec<Declaration>, Vec<Concurrent>)>,
        span: Span,
    },
    /// A concurrent assertion.
    Message(Stmt),
}

/// A value with an optional delay, and values that follow it.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Waveform {
    pub(crate) value: Expr,
    pub(crate) delay: Option<Expr>,
    pub(crate) transport: bool,
    /// Shorter pulses than this are lost.
    pub(crate) reject: Option<Expr>,
    /// Later values with their delays.
    pub(crate) later: Vec<(Expr, Expr)>,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Sensitivity {
    None,
    All,
    Names(Vec<Expr>),
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Stmt {
    pub(crate) kind: StmtKind,
    pub(crate) span: Span,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) enum StmtKind {
    /// Signal (`<=`) or variable (`:=`) assignment; several alternatives as in VHDL-2008.
    Assign {
        target: Expr,
        signal: bool,
        alternatives: Vec<(Waveform, Option<Expr>)>,
    },
    If(Vec<(Option<Expr>, Vec<Stmt>)>),
    Case {
        subject: Expr,
        arms: Vec<(Vec<Range>, Vec<Stmt>, Span)>,
        matching: bool,
    },
    For {
        label: Option<Ident>,
        variable: Ident,
        range: Range,
        body: Vec<Stmt>,
    },
    While {
        label: Option<Ident>,
        condition: Option<Expr>,
        body: Vec<Stmt>,
    },
    Exit {
        label: Option<Ident>,
        condition: Option<Expr>,
    },
    Next {
        label: Option<Ident>,
        condition: Option<Expr>,
    },
    Return(Option<Expr>),
    Call(Expr),
    Wait {
        on: Vec<Expr>,
        until: Option<Expr>,
        timeout: Option<Expr>,
    },
    Null,
    /// Assert (with a condition) and report.
    Message {
        condition: Option<Expr>,
        report: Option<Expr>,
        severity: Option<Expr>,
    },
    /// `with s select target <= a when "00", …` inside a process (VHDL-2008).
    Select {
        subject: Expr,
        target: Expr,
        signal: bool,
        alternatives: Vec<(Waveform, Vec<Range>)>,
        matching: bool,
    },
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Expr {
    pub(crate) kind: ExprKind,
    pub(crate) span: Span,
}

#[derive(Clone, Debug, PartialEq)]
pub(crate) enum ExprKind {
    Name(String),
    /// `library.package.name` and record fields.
    Select(Box<Expr>, Ident),
    /// `a(1)`, `f(x, y)`, `unsigned(v)`, `a(3 downto 0)`: only lowering can tell.
    Call(Box<Expr>, Vec<Association>, Option<Box<Range>>),
    Attribute(Box<Expr>, Ident),
    /// A dimension of an array, from 1, whose bounds an attribute asks for: `m'length(2)`.
    Dimension(Box<Expr>, u32),
    Qualified(Box<Expr>, Box<Expr>),
    Integer(i64),
    Real(f64),
    /// A time such as `10 ns`, in femtoseconds.
    Physical(u64),
    Character(char),
    Text(String),
    Bits {
        base: u32,
        signed: bool,
        length: Option<u32>,
        digits: String,
    },
    /// Choices (none for positional) and value.
    Aggregate(Vec<(Vec<Range>, Expr)>),
    Unary(&'static str, Box<Expr>),
    Binary(&'static str, Box<Expr>, Box<Expr>),
    Others,
    Open,
}
