// Made from the Rust lists by `cargo xtask types`; don't edit.

/** The words that name code rules. */
export const CODE_NAMES = ["binary", "gray", "gray-to-binary", "bcd", "excess-3", "one-hot", "thermometer", "even-parity", "odd-parity", "seven-segment"];

/** What rules may forbid or require, beside `instance:` with a name. */
export const RULE_WORDS = ["latch", "comb-loop", "construct:case", "construct:if", "construct:when-else", "construct:with-select", "construct:conditional", "construct:for", "construct:while", "construct:generate", "construct:process", "construct:function", "construct:procedure", "construct:assignment", "construct:gate", "construct:initial", "construct:delay", "operator:and", "operator:or", "operator:xor", "operator:nand", "operator:nor", "operator:xnor", "operator:not", "operator:+", "operator:-", "operator:*", "operator:/", "operator:mod", "operator:rem", "operator:**", "operator:<<", "operator:>>", "operator:==", "operator:<", "gate:and", "gate:or", "gate:xor", "gate:nand", "gate:nor", "gate:xnor", "gate:not", "gate:buf"];

/** The same as they are said, in the same order. */
export const RULE_NAMES = ["latch", "combinational loop", "`case`", "`if`", "`when-else`", "`with-select`", "conditional operator (`?:`)", "`for`", "`while`", "`generate`", "process or `always` block", "`function`", "`procedure`", "`assignment`", "gate primitive", "`initial`", "`delay`", "operator `and`", "operator `or`", "operator `xor`", "operator `nand`", "operator `nor`", "operator `xnor`", "operator `not`", "operator `+`", "operator `-`", "operator `*`", "operator `/`", "operator `mod`", "operator `rem`", "operator `**`", "operator `<<`", "operator `>>`", "operator `==`", "operator `<`", "AND gate", "OR gate", "XOR gate", "NAND gate", "NOR gate", "XNOR gate", "NOT gate", "BUF gate"];

/** Forms that an output may have to be built in. */
export const FORM_WORDS = ["sop", "pos", "nand-nand", "nor-nor", "nand-only", "nor-only"];

/** What a prepared answer may ask for. */
export const ASK_WORDS = ["table", "minterms", "maxterms", "any", "sop", "pos", "canonical-sop", "canonical-pos", "nand-only", "nor-only", "nand-nand", "nor-nor"];

/** Stages that marks go to. */
export const STAGE_WORDS = ["names", "language", "structure", "behaviour", "wiring", "bench"];

/** Boards that ship. */
export const BOARD_NAMES = ["pith-8"];
