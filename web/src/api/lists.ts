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

/** Rules, what each looks at, and a design that breaks it. */
export const RULE_EXAMPLES: { rule: string; meaning: string; code: string }[] = [
{"code":"module m(input [1:0] a, b, output reg [1:0] y);\n  always @* if (a[0]) y = b;\nendmodule\n","meaning":"Storage that a level opens: an output that keeps its level on some inputs.","rule":"latch"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y[0] = ~(a[0] & y[1]);\n  assign y[1] = ~(b[0] & y[0]);\nendmodule\n","meaning":"A level that depends on itself without a flip-flop between.","rule":"comb-loop"},
{"code":"module m(input [1:0] a, b, output reg [1:0] y);\n  always @* case (a)\n    2'd0: y = b;\n    default: y = a;\n  endcase\nendmodule\n","meaning":"A `case` statement, in either language.","rule":"construct:case"},
{"code":"module m(input [1:0] a, b, output reg [1:0] y);\n  always @* if (a[0]) y = b; else y = a;\nendmodule\n","meaning":"An `if` statement within a process or `always` block.","rule":"construct:if"},
{"code":"library ieee;\nuse ieee.std_logic_1164.all;\nuse ieee.numeric_std.all;\nentity m is\n  port (a, b : in std_logic_vector(1 downto 0);\n        y : out std_logic_vector(1 downto 0));\nend entity;\narchitecture rtl of m is\nbegin\n  y <= a when b(0) = '1' else b;\nend architecture;\n","meaning":"A concurrent assignment with `when` and `else`, in VHDL.","rule":"construct:when-else"},
{"code":"library ieee;\nuse ieee.std_logic_1164.all;\nuse ieee.numeric_std.all;\nentity m is\n  port (a, b : in std_logic_vector(1 downto 0);\n        y : out std_logic_vector(1 downto 0));\nend entity;\narchitecture rtl of m is\nbegin\n  with b(0) select y <= a when '1', b when others;\nend architecture;\n","meaning":"A selected assignment, in VHDL.","rule":"construct:with-select"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = a[0] ? b : a;\nendmodule\n","meaning":"The operator `?:`, in Verilog.","rule":"construct:conditional"},
{"code":"module m(input [1:0] a, b, output reg [1:0] y);\n  integer i;\n  always @* for (i = 0; i < 2; i = i + 1) y[i] = a[i];\nendmodule\n","meaning":"A `for` loop; loops that only unroll hardware in `generate` are told apart.","rule":"construct:for"},
{"code":"module m(input [1:0] a, b, output reg [1:0] y);\n  integer i;\n  always @* begin\n    i = 0;\n    while (i < 2) begin y[i] = a[i]; i = i + 1; end\n  end\nendmodule\n","meaning":"A `while` or `repeat` loop.","rule":"construct:while"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  genvar k;\n  generate for (k = 0; k < 2; k = k + 1) begin : bits\n    assign y[k] = a[k];\n  end endgenerate\nendmodule\n","meaning":"A `generate` construct, in either language.","rule":"construct:generate"},
{"code":"module m(input [1:0] a, b, output reg [1:0] y);\n  always @* y = a & b;\nendmodule\n","meaning":"A process in VHDL, an `always` block in Verilog.","rule":"construct:process"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  function [1:0] both(input [1:0] p, q); both = p & q; endfunction\n  assign y = both(a, b);\nendmodule\n","meaning":"A function that the design declares.","rule":"construct:function"},
{"code":"module m(input [1:0] a, b, output reg [1:0] y);\n  task both(input [1:0] p, q, output [1:0] r); r = p & q; endtask\n  always @* both(a, b, y);\nendmodule\n","meaning":"A procedure in VHDL, a task in Verilog.","rule":"construct:procedure"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = a & b;\nendmodule\n","meaning":"A concurrent assignment: `assign` in Verilog.","rule":"construct:assignment"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  and g0(y[0], a[0], b[0]);\n  and g1(y[1], a[1], b[1]);\nendmodule\n","meaning":"A gate primitive of Verilog, as `and g0(y, a, b);`.","rule":"construct:gate"},
{"code":"module m(input [1:0] a, b, output reg [1:0] y);\n  initial y = 2'd0;\n  always @* y = a & b;\nendmodule\n","meaning":"An `initial` block.","rule":"construct:initial"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign #5 y = a & b;\nendmodule\n","meaning":"A delay: `#5` in Verilog, `after` in VHDL.","rule":"construct:delay"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = a & b;\nendmodule\n","meaning":"The operator in any of its spellings: `and`, `&`, `&&`. Sums in ranges and heads of loops don't count.","rule":"operator:and"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = a | b;\nendmodule\n","meaning":"The operator in any of its spellings: `or`, `|`, `||`. Sums in ranges and heads of loops don't count.","rule":"operator:or"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = a ^ b;\nendmodule\n","meaning":"The operator in any of its spellings: `xor`, `^`. Sums in ranges and heads of loops don't count.","rule":"operator:xor"},
{"code":"library ieee;\nuse ieee.std_logic_1164.all;\nuse ieee.numeric_std.all;\nentity m is\n  port (a, b : in std_logic_vector(1 downto 0);\n        y : out std_logic_vector(1 downto 0));\nend entity;\narchitecture rtl of m is\nbegin\n  y <= a nand b;\nend architecture;\n","meaning":"The operator in any of its spellings: `nand`, `~&`. Sums in ranges and heads of loops don't count.","rule":"operator:nand"},
{"code":"library ieee;\nuse ieee.std_logic_1164.all;\nuse ieee.numeric_std.all;\nentity m is\n  port (a, b : in std_logic_vector(1 downto 0);\n        y : out std_logic_vector(1 downto 0));\nend entity;\narchitecture rtl of m is\nbegin\n  y <= a nor b;\nend architecture;\n","meaning":"The operator in any of its spellings: `nor`, `~|`. Sums in ranges and heads of loops don't count.","rule":"operator:nor"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = a ~^ b;\nendmodule\n","meaning":"The operator in any of its spellings: `xnor`, `~^`, `^~`. Sums in ranges and heads of loops don't count.","rule":"operator:xnor"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = ~a;\nendmodule\n","meaning":"The operator in any of its spellings: `not`, `~`, `!`. Sums in ranges and heads of loops don't count.","rule":"operator:not"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = a + b;\nendmodule\n","meaning":"The operator in any of its spellings: `+`. Sums in ranges and heads of loops don't count.","rule":"operator:+"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = a - b;\nendmodule\n","meaning":"The operator in any of its spellings: `-`. Sums in ranges and heads of loops don't count.","rule":"operator:-"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = a * b;\nendmodule\n","meaning":"The operator in any of its spellings: `*`. Sums in ranges and heads of loops don't count.","rule":"operator:*"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = a / 2'd2;\nendmodule\n","meaning":"The operator in any of its spellings: `/`. Sums in ranges and heads of loops don't count.","rule":"operator:/"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = a % 2'd2;\nendmodule\n","meaning":"The operator in any of its spellings: `mod`, `%`. Sums in ranges and heads of loops don't count.","rule":"operator:mod"},
{"code":"library ieee;\nuse ieee.std_logic_1164.all;\nuse ieee.numeric_std.all;\nentity m is\n  port (a, b : in std_logic_vector(1 downto 0);\n        y : out std_logic_vector(1 downto 0));\nend entity;\narchitecture rtl of m is\nbegin\n  y <= std_logic_vector(unsigned(a) rem 2);\nend architecture;\n","meaning":"The operator in any of its spellings: `rem`. Sums in ranges and heads of loops don't count.","rule":"operator:rem"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = 2 ** a[0];\nendmodule\n","meaning":"The operator in any of its spellings: `**`. Sums in ranges and heads of loops don't count.","rule":"operator:**"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = a << 1;\nendmodule\n","meaning":"The operator in any of its spellings: `<<`, `<<<`, `sll`. Sums in ranges and heads of loops don't count.","rule":"operator:<<"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = a >> 1;\nendmodule\n","meaning":"The operator in any of its spellings: `>>`, `>>>`, `srl`. Sums in ranges and heads of loops don't count.","rule":"operator:>>"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = {1'b0, a == b};\nendmodule\n","meaning":"The operator in any of its spellings: `==`, `=`, `!=`, `/=`, `===`. Sums in ranges and heads of loops don't count.","rule":"operator:=="},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  assign y = {1'b0, a < b};\nendmodule\n","meaning":"The operator in any of its spellings: `<`, `<=`, `>`, `>=`. Sums in ranges and heads of loops don't count.","rule":"operator:<"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  and g0(y[0], a[0], b[0]);\n  and g1(y[1], a[1], b[1]);\nendmodule\n","meaning":"A gate of this kind, written as a primitive or as an operator.","rule":"gate:and"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  or g0(y[0], a[0], b[0]);\n  or g1(y[1], a[1], b[1]);\nendmodule\n","meaning":"A gate of this kind, written as a primitive or as an operator.","rule":"gate:or"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  xor g0(y[0], a[0], b[0]);\n  xor g1(y[1], a[1], b[1]);\nendmodule\n","meaning":"A gate of this kind, written as a primitive or as an operator.","rule":"gate:xor"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  nand g0(y[0], a[0], b[0]);\n  nand g1(y[1], a[1], b[1]);\nendmodule\n","meaning":"A gate of this kind, written as a primitive or as an operator.","rule":"gate:nand"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  nor g0(y[0], a[0], b[0]);\n  nor g1(y[1], a[1], b[1]);\nendmodule\n","meaning":"A gate of this kind, written as a primitive or as an operator.","rule":"gate:nor"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  xnor g0(y[0], a[0], b[0]);\n  xnor g1(y[1], a[1], b[1]);\nendmodule\n","meaning":"A gate of this kind, written as a primitive or as an operator.","rule":"gate:xnor"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  not g0(y[0], a[0]);\n  not g1(y[1], a[1]);\nendmodule\n","meaning":"A gate of this kind, written as a primitive or as an operator.","rule":"gate:not"},
{"code":"module m(input [1:0] a, b, output [1:0] y);\n  buf g0(y[0], a[0]);\n  buf g1(y[1], a[1]);\nendmodule\n","meaning":"A gate of this kind, written as a primitive or as an operator.","rule":"gate:buf"},
{"code":"module m(input a, b, c, output y);\n  assign y = (a & c) | (b & c);\nendmodule\n","meaning":"Gates as they are written, each once; inverters at the inputs don't count.","rule":"max_gates"},
{"code":"module m(input a, b, c, output y);\n  assign y = (a & c) | (b & c);\nendmodule\n","meaning":"Inputs, inverted or not, at gates: each place counts.","rule":"max_literals"},
{"code":"module m(input a, b, c, output y);\n  assign y = ((a & c) | (b & c)) & c;\nendmodule\n","meaning":"Gates one after the other on the longest way from an input to the output.","rule":"max_levels"},
{"code":"module m(input a, b, c, output y);\n  assign y = (a | b) & c;\nendmodule\n","meaning":"A sum of products: one OR of ANDs of inputs.","rule":"form:sop"},
{"code":"module m(input a, b, c, output y);\n  assign y = (a & c) | (b & c);\nendmodule\n","meaning":"A product of sums: one AND of ORs of inputs.","rule":"form:pos"},
{"code":"module m(input a, b, c, output y);\n  assign y = (a & c) | (b & c);\nendmodule\n","meaning":"Two levels of NAND gates; inputs may be inverted.","rule":"form:nand-nand"},
{"code":"module m(input a, b, c, output y);\n  assign y = (a | b) & c;\nendmodule\n","meaning":"Two levels of NOR gates; inputs may be inverted.","rule":"form:nor-nor"},
{"code":"module m(input a, b, c, output y);\n  assign y = ~(~(a & c) & ~(b & c)) & c;\nendmodule\n","meaning":"NAND gates only; an inverter is a NAND with joined inputs.","rule":"form:nand-only"},
{"code":"module m(input a, b, c, output y);\n  assign y = ~(~(a | b) | ~c) & c;\nendmodule\n","meaning":"NOR gates only; an inverter is a NOR with joined inputs.","rule":"form:nor-only"},
];
