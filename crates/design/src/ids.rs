//! Ids of what a design is made of: each names a place in one of its arenas.

use base::id_type;

id_type!(
    /// An expression node.
    ExprId,
    "e"
);
id_type!(
    /// An instance, generate block or named block.
    ScopeId,
    "scope"
);
id_type!(
    /// A declared type.
    TypeId,
    "t"
);
id_type!(
    /// A signal, net or Verilog variable: seen by several processes, changed through events.
    SignalId,
    "s"
);
id_type!(
    /// A variable of one process or subprogram: changes at once, seen by nobody else.
    VariableId,
    "v"
);
id_type!(
    /// A function, procedure or task.
    SubprogramId,
    "f"
);
id_type!(
    /// A process.
    ProcessId,
    "p"
);
