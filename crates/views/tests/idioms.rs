//! Idioms of working engineers that find their way into labs: pipelines of arrays, functions over types of one's own,
//! streams, nested structures, attributes of dimensions. Each is held against a plain design that says the same.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]
#![allow(clippy::too_many_lines, reason = "a list of designs")]

use base::Budget;
use elab::HandInFile;
use views::equivalence;

fn files(name: &str, text: &str) -> Vec<HandInFile> {
    vec![HandInFile { name: name.into(), bytes: text.as_bytes().to_vec() }]
}

const VHDL: &str = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;\n";

/// Each design does what the first one says; one with a `!` before its name does not, and is wrong without being
/// refused. VHDL gets its usual first line.
fn all_equal(plain: &str, designs: &[(&str, &str)]) {
    let reference = files("plain.sv", plain);
    let mut wrong = Vec::new();
    for (name, text) in designs {
        let (differs, name) = name.strip_prefix('!').map_or((false, *name), |name| (true, name));
        let text = if name.ends_with(".vhd") { format!("{VHDL}{text}") } else { (*text).to_owned() };
        match equivalence((&files(name, &text), None), (&reference, None), &Budget::hand_in()) {
            Ok(found) if found.equal == Some(!differs) => {}
            Ok(found) => wrong.push(format!("{name}: {:?} {:?}\n{text}", found.equal, found.counterexample)),
            Err(told) => wrong.push(format!("{name}: {told}\n{text}")),
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n---\n"));
}

#[test]
fn a_delay_line_of_words() {
    all_equal(
        "module m(input clk, rst, input [3:0] d, output [3:0] q); reg [3:0] a, b, c;
           always @(posedge clk) if (rst) begin a <= 0; b <= 0; c <= 0; end else begin a <= d; b <= a; c <= b; end
           assign q = c; endmodule",
        &[
            ("joined.vhd", "entity m is port (clk, rst : in std_logic; d : in unsigned(3 downto 0); q : out unsigned(3 downto 0)); end;
              architecture a of m is type line_t is array (0 to 2) of unsigned(3 downto 0); signal r : line_t;
              begin process (clk) begin if rising_edge(clk) then
                if rst = '1' then r <= (others => (others => '0')); else r <= d & r(0 to 1); end if; end if; end process;
                q <= r(2); end;"),
            ("joined_down.vhd", "entity m is generic (n : positive := 3); port (clk, rst : in std_logic; d : in std_logic_vector(3 downto 0); q : out std_logic_vector(3 downto 0)); end;
              architecture a of m is type line_t is array (natural range <>) of std_logic_vector(3 downto 0); signal r : line_t(n - 1 downto 0);
              begin process (clk) begin if rising_edge(clk) then
                if rst = '1' then r <= (others => x\"0\"); else r <= r(n - 2 downto 0) & d; end if; end if; end process;
                q <= r(r'high); end;"),
            ("!wrong_end.vhd", "entity m is port (clk, rst : in std_logic; d : in unsigned(3 downto 0); q : out unsigned(3 downto 0)); end;
              architecture a of m is type line_t is array (0 to 2) of unsigned(3 downto 0); signal r : line_t;
              begin process (clk) begin if rising_edge(clk) then
                if rst = '1' then r <= (others => (others => '0')); else r <= d & r(0 to 1); end if; end if; end process;
                q <= r(1); end;"),
            ("numbers.vhd", "entity m is port (clk, rst : in std_logic; d : in unsigned(3 downto 0); q : out unsigned(3 downto 0)); end;
              architecture a of m is subtype small is integer range 0 to 15; type line_t is array (1 to 3) of small; signal r : line_t := (others => 0);
              begin process (clk) begin if rising_edge(clk) then
                if rst = '1' then r <= (0, 0, 0); else r <= to_integer(d) & r(1 to 2); end if; end if; end process;
                q <= to_unsigned(r(3), 4); end;"),
            ("records.vhd", "entity m is port (clk, rst : in std_logic; d : in unsigned(3 downto 0); q : out unsigned(3 downto 0)); end;
              architecture a of m is type item is record v : unsigned(3 downto 0); end record; type line_t is array (0 to 2) of item;
                constant none : item := (v => \"0000\"); signal r : line_t := (others => none); signal now : item;
              begin now.v <= d;
                process (clk) begin if rising_edge(clk) then
                if rst = '1' then r <= (none, none, none); else r <= now & r(0) & r(1); end if; end if; end process;
                q <= r(2).v; end;"),
            ("loop.vhd", "entity m is port (clk, rst : in std_logic; d : in unsigned(3 downto 0); q : out unsigned(3 downto 0)); end;
              architecture a of m is type line_t is array (0 to 2) of unsigned(3 downto 0);
              begin process (clk) variable r : line_t := (others => (others => '0')); begin if rising_edge(clk) then
                if rst = '1' then r := (others => (others => '0')); else
                  for i in r'high downto r'low + 1 loop r(i) := r(i - 1); end loop; r(0) := d; end if;
                q <= r(r'right); end if; end process; end;"),
            ("generate.vhd", "entity reg is port (clk, rst : in std_logic; d : in unsigned(3 downto 0); q : out unsigned(3 downto 0)); end;
              architecture a of reg is begin process (clk) begin if rising_edge(clk) then if rst = '1' then q <= \"0000\"; else q <= d; end if; end if; end process; end;
              library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
              entity m is port (clk, rst : in std_logic; d : in unsigned(3 downto 0); q : out unsigned(3 downto 0)); end;
              architecture a of m is type line_t is array (0 to 3) of unsigned(3 downto 0); signal w : line_t;
              begin w(0) <= d; g : for i in 1 to 3 generate r : entity work.reg port map (clk, rst, w(i - 1), w(i)); end generate; q <= w(3); end;"),
            ("unpacked.sv", "module m(input logic clk, rst, input logic [3:0] d, output logic [3:0] q); logic [3:0] r [3];
              always_ff @(posedge clk) if (rst) r <= '{default: '0}; else begin r[0] <= d; for (int i = 1; i < 3; i++) r[i] <= r[i-1]; end
              assign q = r[2]; endmodule"),
            ("packed.sv", "module m(input logic clk, rst, input logic [3:0] d, output logic [3:0] q); logic [2:0][3:0] r;
              always_ff @(posedge clk) if (rst) r <= '0; else r <= {r[1:0], d};
              assign q = r[2]; endmodule"),
            ("wide.v", "module m(clk, rst, d, q); input clk, rst; input [3:0] d; output [3:0] q; reg [11:0] r;
              always @(posedge clk) r <= rst ? 12'h000 : {r[7:0], d}; assign q = r[11-:4]; endmodule"),
            ("blocking.v", "module m(input clk, rst, input [3:0] d, output reg [3:0] q); reg [3:0] a, b;
              always @(posedge clk) begin if (rst) {q, b, a} = 0; else begin q = b; b = a; a = d; end end endmodule"),
            ("!blocking_wrong.v", "module m(input clk, rst, input [3:0] d, output reg [3:0] q); reg [3:0] a, b;
              always @(posedge clk) begin if (rst) {q, b, a} = 0; else begin a = d; b = a; q = b; end end endmodule"),
        ],
    );
}

#[test]
fn bits_in_the_other_order() {
    all_equal(
        "module m(input [7:0] a, output [7:0] r, s); assign r = {a[0], a[1], a[2], a[3], a[4], a[5], a[6], a[7]};
           assign s = {a[3:0], a[7:4]}; endmodule",
        &[
            ("stream.sv", "module m(input logic [7:0] a, output logic [7:0] r, s); assign r = {<<{a}}; assign s = {<<4{a}}; endmodule"),
            ("stream_of_two.sv", "module m(input logic [7:0] a, output logic [7:0] r, s); logic [3:0] h, l;
              assign {h, l} = {>>{a}}; always_comb begin r = {<<1{h, l}}; s = {<<4{h, l}}; end endmodule"),
            ("loop.sv", "module m(input logic [7:0] a, output logic [7:0] r, s);
              always_comb begin foreach (r[i]) r[i] = a[7 - i]; for (int i = 0; i < 8; i += 4) s[i +: 4] = a[(4 - i) +: 4]; end endmodule"),
            ("other_range.v", "module m(a, r, s); input [7:0] a; output [7:0] r, s; wire [0:7] t; genvar i;
              generate for (i = 0; i < 8; i = i + 1) begin : g assign t[7 - i] = a[7 - i]; end endgenerate
              assign r = t; assign s = {a[3:0], t[7], t[6], t[5], t[4]}; endmodule"),
            ("function.v", "module m(input [7:0] a, output [7:0] r, s);
              function [7:0] turn(input [7:0] x); integer i; for (i = 0; i < 8; i = i + 1) turn[i] = x[7 - i]; endfunction
              assign r = turn(a); assign s = {turn(r) & 8'h0f, 4'h0} | (a >> 4); endmodule"),
            ("function.vhd", "entity m is port (a : in std_logic_vector(7 downto 0); r, s : out std_logic_vector(7 downto 0)); end;
              architecture x of m is
                function turn(v : std_logic_vector) return std_logic_vector is variable o : std_logic_vector(v'reverse_range);
                begin for i in v'range loop o(i) := v(i); end loop; return o; end;
              begin r <= turn(a); s <= a(3 downto 0) & a(7 downto 4); end;"),
            ("rotate.vhd", "entity m is port (a : in unsigned(7 downto 0); r, s : out unsigned(7 downto 0)); end;
              architecture x of m is begin s <= rotate_left(a, 4);
                process (all) begin for i in a'range loop r(a'high - i) <= a(i); end loop; end process; end;"),
            ("alias.vhd", "entity m is port (a : in std_logic_vector(7 downto 0); r, s : out std_logic_vector(7 downto 0)); end;
              architecture x of m is alias high : std_logic_vector(3 downto 0) is a(7 downto 4); alias low : std_logic_vector(3 downto 0) is a(3 downto 0);
              begin s <= low & high; g : for i in 0 to 7 generate r(i) <= a(7 - i); end generate; end;"),
        ],
    );
}

#[test]
fn sums_over_a_table_of_two_dimensions() {
    all_equal(
        "module m(input [1:0] s, output [3:0] sum, same); assign sum = s == 0 ? 3 : s == 1 ? 7 : s == 2 ? 11 : 15;
           assign same = s == 0 ? 3 : s == 1 ? 7 : s == 2 ? 3 : 15; endmodule",
        &[
            ("matrix.vhd", "entity m is port (s : in unsigned(1 downto 0); sum, same : out unsigned(3 downto 0)); end;
              architecture a of m is type matrix is array (0 to 3, 0 to 1) of unsigned(3 downto 0);
                constant t : matrix := ((x\"1\", x\"2\"), (x\"3\", x\"4\"), (x\"5\", x\"6\"), (x\"7\", x\"8\"));
              begin process (s) variable c, d : unsigned(3 downto 0); begin c := (others => '0'); d := (others => '0');
                for j in 0 to t'length(2) - 1 loop c := c + t(to_integer(s), j); end loop;
                for j in t'range(2) loop d := d xor t(to_integer(s), j); end loop;
                sum <= c; same <= d; end process; end;"),
            ("of_arrays.vhd", "entity m is port (s : in unsigned(1 downto 0); sum, same : out unsigned(3 downto 0)); end;
              architecture a of m is type pair is array (0 to 1) of integer range 0 to 15; type matrix is array (0 to 3) of pair;
                constant t : matrix := (0 => (1, 2), 1 => (3, 4), 2 => (5, 6), 3 => (7, 8));
              begin sum <= to_unsigned(t(to_integer(s))(0) + t(to_integer(s))(1), 4);
                same <= to_unsigned(t(to_integer(s))(0), 4) xor to_unsigned(t(to_integer(s))(1), 4); end;"),
            ("parameter.sv", "module m(input logic [1:0] s, output logic [3:0] sum, same);
              localparam logic [3:0] T [4][2] = '{'{1, 2}, '{3, 4}, '{5, 6}, '{7, 8}};
              assign sum = T[s][0] + T[s][1]; assign same = T[s][0] ^ T[s][1]; endmodule"),
            ("packed.sv", "module m(input logic [1:0] s, output logic [3:0] sum, same);
              localparam logic [3:0][1:0][3:0] T = {4'd8, 4'd7, 4'd6, 4'd5, 4'd4, 4'd3, 4'd2, 4'd1};
              always_comb begin sum = '0; same = '0; for (int j = 0; j < 2; j++) begin sum += T[s][j]; same ^= T[s][j]; end end endmodule"),
        ],
    );
}

#[test]
fn assertions_beside_a_design_say_nothing_of_it() {
    all_equal(
        "module m(input clk, rst, push, pop, output [1:0] n, output full); reg [1:0] c; assign n = c; assign full = c == 3;
           always @(posedge clk) if (rst) c <= 0; else if (push & ~pop & ~full) c <= c + 1; else if (pop & ~push & |c) c <= c - 1; endmodule",
        &[
            ("properties.sv", "module m(input logic clk, rst, push, pop, output logic [1:0] n, output logic full);
              always_ff @(posedge clk) if (rst) n <= '0; else case ({push, pop}) 2'b10: if (!full) n <= n + 1'b1; 2'b01: if (n != 0) n <= n - 1'b1; default: ; endcase
              assign full = &n;
              property stays; @(posedge clk) disable iff (rst) (push && full && !pop) |=> $stable(n); endproperty
              sequence two; push ##1 push; endsequence
              assert property (stays) else $error(\"it overflowed\");
              never_x: assert property (@(posedge clk) !$isunknown(n));
              seen: cover property (@(posedge clk) two);
              assume property (@(posedge clk) !(push && pop)); endmodule"),
            ("immediate.sv", "module m(input logic clk, rst, push, pop, output logic [1:0] n, output logic full);
              assign full = n == 2'd3;
              always_ff @(posedge clk) if (rst) n <= 0; else begin
                assert (n <= 3) else $error(\"too many\");
                if (push && !pop && !full) n <= n + 1; else if (!push && pop && n > 0) n <= n - 1; end endmodule"),
            ("report.vhd", "entity m is port (clk, rst, push, pop : in std_logic; n : out unsigned(1 downto 0); full : out std_logic); end;
              architecture a of m is signal c : integer range 0 to 3;
              begin process (clk) begin if rising_edge(clk) then
                if rst = '1' then c <= 0; elsif push = '1' and pop = '0' and c < 3 then c <= c + 1; elsif pop = '1' and push = '0' and c > 0 then c <= c - 1; end if;
                assert c <= 3 report \"too many\" severity failure; end if; end process;
                assert n'length = 2 report \"the width\" severity error;
                n <= to_unsigned(c, 2); full <= '1' when c = 3 else '0'; end;"),
        ],
    );
}

#[test]
fn a_type_that_packages_share() {
    all_equal(
        "module m(input [3:0] a, b, input [1:0] op, output [4:0] y, output zero); reg [4:0] r; assign y = r, zero = r == 0;
           always @* case (op) 0: r = a + b; 1: r = a - b; 2: r = a & b; 3: r = a | b; endcase endmodule",
        &[
            ("package.sv", "package alu_pkg; typedef enum logic [1:0] {ADD, SUB, ANDD, ORR} op_t;
                typedef struct packed {logic zero; logic [4:0] y;} result_t;
                function automatic result_t work(op_t op, logic [3:0] a, b);
                  result_t r; unique case (op) ADD: r.y = a + b; SUB: r.y = a - b; ANDD: r.y = a & b; ORR: r.y = a | b; endcase
                  r.zero = r.y == '0; return r; endfunction endpackage
              module m import alu_pkg::*; (input logic [3:0] a, b, input logic [1:0] op, output logic [4:0] y, output logic zero);
                result_t r; assign r = work(op_t'(op), a, b); assign {zero, y} = r; endmodule"),
            ("scoped.sv", "package alu_pkg; localparam int N = 4; typedef logic [N:0] wide_t; parameter logic [1:0] SUB = 2'd1; endpackage
              module m(input logic [alu_pkg::N-1:0] a, b, input logic [1:0] op, output alu_pkg::wide_t y, output logic zero);
                alu_pkg::wide_t x; always_comb begin x = {1'b0, b}; if (op == alu_pkg::SUB) x = -x;
                  if (op[1]) y = op[0] ? a | b : a & b; else y = a + x; end
                assign zero = ~|y; endmodule"),
            ("package.vhd", "package alu is type op_t is (add, sub, andd, orr);
                type result is record y : unsigned(4 downto 0); zero : std_logic; end record;
                function work(op : op_t; a, b : unsigned) return result; end package;
              package body alu is function work(op : op_t; a, b : unsigned) return result is variable r : result;
                variable x : unsigned(4 downto 0) := resize(a, 5); variable z : unsigned(4 downto 0) := resize(b, 5);
                begin case op is when add => r.y := x + z; when sub => r.y := x - z; when andd => r.y := x and z; when orr => r.y := x or z; end case;
                  r.zero := '0'; if r.y = 0 then r.zero := '1'; end if; return r; end; end package body;
              library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all; use work.alu.all;
              entity m is port (a, b : in unsigned(3 downto 0); op : in unsigned(1 downto 0); y : out unsigned(4 downto 0); zero : out std_logic); end;
              architecture x of m is signal r : result; begin r <= work(op_t'val(to_integer(op)), a, b); y <= r.y; zero <= r.zero; end;"),
            ("!no_carry.vhd", "entity m is port (a, b : in unsigned(3 downto 0); op : in unsigned(1 downto 0); y : out unsigned(4 downto 0); zero : out std_logic); end;
              architecture x of m is signal r : unsigned(4 downto 0); begin
                with op select r <= ('0' & (a + b)) when \"00\", ('0' & a) - b when \"01\", '0' & (a and b) when \"10\", '0' & (a or b) when others;
                y <= r; zero <= '1' when r = 0 else '0'; end;"),
            ("selected.vhd", "entity m is port (a, b : in unsigned(3 downto 0); op : in unsigned(1 downto 0); y : out unsigned(4 downto 0); zero : out std_logic); end;
              architecture x of m is signal r : unsigned(4 downto 0); begin
                with to_integer(op) select r <= ('0' & a) + b when 0, ('0' & a) - b when 1, '0' & (a and b) when 2, '0' & (a or b) when others;
                y <= r; zero <= '1' when r = 0 else '0'; end;"),
        ],
    );
}

#[test]
fn names_within_the_turns_of_a_generate() {
    all_equal(
        "module m(input [3:0] a, b, input ci, output [3:0] s, output co); assign {co, s} = a + b + ci; endmodule",
        &[
            ("the_turn_before.v", "module m(input [3:0] a, b, input ci, output [3:0] s, output co); genvar i;
              generate for (i = 0; i < 4; i = i + 1) begin : st wire c;
                if (i == 0) begin : f assign {c, s[i]} = a[i] + b[i] + ci; end
                else begin : r assign {c, s[i]} = a[i] + b[i] + st[i-1].c; end end endgenerate
              assign co = st[3].c; endmodule"),
            ("the_turn_after.v", "module m(input [3:0] a, b, input ci, output [3:0] s, output co); genvar i;
              generate for (i = 3; i >= 0; i = i - 1) begin : st wire c; wire [1:0] t;
                assign t = a[i] + b[i] + c; assign s[i] = t[0];
                if (i == 0) assign c = ci; else assign c = st[i-1].t[1]; end endgenerate
              assign co = st[3].t[1]; endmodule"),
            ("driven_from_outside.sv", "module m(input logic [3:0] a, b, input logic ci, output logic [3:0] s, output logic co);
              for (genvar i = 0; i < 4; i++) begin : st logic [1:0] t; logic c; assign t = a[i] + b[i] + c; assign s[i] = t[0]; end
              assign st[0].c = ci; assign st[1].c = st[0].t[1]; assign st[2].c = st[1].t[1]; assign st[3].c = st[2].t[1];
              always_comb co = st[3].t[1]; endmodule"),
            ("instances_within.v", "module fa(input x, y, z, output s, c); assign {c, s} = x + y + z; endmodule
              module m(input [3:0] a, b, input ci, output [3:0] s, output co); genvar i;
              generate for (i = 0; i < 4; i = i + 1) begin : st wire k;
                if (i == 0) begin : first fa u(a[i], b[i], ci, s[i], k); end
                else begin : later fa u(a[i], b[i], st[i-1].k, s[i], k); end end endgenerate
              assign co = st[3].k; endmodule"),
            ("a_label_of_a_branch.v", "module m #(parameter FAST = 1) (input [3:0] a, b, input ci, output [3:0] s, output co);
              generate if (FAST) begin : g wire [4:0] t; assign t = a + b + ci; end
                else if (a) begin : g wire [4:0] t; assign t = 0; end else begin : g wire [4:0] t; assign t = 1; end endgenerate
              assign {co, s} = g.t; endmodule"),
            ("!the_wrong_turn.v", "module m(input [3:0] a, b, input ci, output [3:0] s, output co); genvar i;
              generate for (i = 0; i < 4; i = i + 1) begin : st wire c;
                if (i == 0) begin : f assign {c, s[i]} = a[i] + b[i] + ci; end
                else begin : r assign {c, s[i]} = a[i] + b[i] + st[i-1].c; end end endgenerate
              assign co = st[2].c; endmodule"),
        ],
    );
    all_equal(
        "module m(input [5:0] a, output [2:0] y); assign y = {a[5] ^ a[2], a[4] ^ a[1], a[3] ^ a[0]}; endmodule",
        &[
            ("nested.v", "module m(input [5:0] a, output [2:0] y); genvar i, j;
              generate for (i = 0; i < 2; i = i + 1) begin : row for (j = 0; j < 3; j = j + 1) begin : col wire w;
                if (i == 0) assign w = a[j]; else assign w = row[i-1].col[j].w ^ a[3*i + j]; end end endgenerate
              assign y = {row[1].col[2].w, row[1].col[1].w, row[1].col[0].w}; endmodule"),
            ("in_an_instance.v", "module half(input [2:0] p, q); genvar i; generate for (i = 0; i < 3; i = i + 1) begin : b wire x = p[i] ^ q[i]; end endgenerate endmodule
              module m(input [5:0] a, output [2:0] y); half u(a[5:3], a[2:0]); assign y = {u.b[2].x, u.b[1].x, u.b[0].x}; endmodule"),
            ("named_block.v", "module m(input [5:0] a, output [2:0] y); generate begin : inner wire [2:0] t; assign t = a[5:3] ^ a[2:0]; end endgenerate
              assign y = inner.t; endmodule"),
        ],
    );
}

#[test]
fn loops_that_end_by_what_they_find() {
    all_equal(
        "module m(input [5:0] a, output [2:0] first, n); assign first = a[0] ? 0 : a[1] ? 1 : a[2] ? 2 : a[3] ? 3 : a[4] ? 4 : a[5] ? 5 : 6;
           assign n = a[0] + a[1] + a[2] + a[3] + a[4] + a[5]; endmodule",
        &[
            ("break.sv", "module m(input logic [5:0] a, output logic [2:0] first, n);
              always_comb begin int i; for (i = 0; i < 6; i++) if (a[i]) break; first = i; n = $countones(a); end endmodule"),
            ("condition.v", "module m(input [5:0] a, output reg [2:0] first, n); integer i;
              always @* begin n = 0; for (i = 0; i < 6; i = i + 1) n = n + a[i];
                for (i = 0; i < 6 && !a[i]; i = i + 1) ; first = i; end endmodule"),
            ("found.v", "module m(input [5:0] a, output reg [2:0] first, n); integer i; reg found;
              always @(a) begin i = 0; found = 0; n = 0;
                while (!found && i < 6) if (a[i]) found = 1; else i = i + 1;
                first = i; for (i = 5; i >= 0; i = i - 1) if (a[i]) n = n + 1'b1; end endmodule"),
            ("disable.v", "module m(input [5:0] a, output reg [2:0] first, n); integer i, k;
              always @* begin begin : search for (i = 0; i < 6; i = i + 1) if (a[i]) disable search; end first = i;
                n = 0; for (k = 0; k < 6; k = k + 1) begin : one if (!a[k]) disable one; n = n + 1; end end endmodule"),
            ("shift_out.v", "module m(input [5:0] a, output reg [2:0] first, n); reg [5:0] t;
              always @* begin t = a; n = 0; while (t != 0) begin n = n + t[0]; t = t >> 1; end
                first = 6; t = a; repeat (6) begin if (t[5]) first = 5; else if (first < 6) first = first; t = t << 1; end
                casez (a) 6'b?????1: first = 0; 6'b????10: first = 1; 6'b???100: first = 2; 6'b??1000: first = 3; 6'b?10000: first = 4; 6'b100000: first = 5; default: first = 6; endcase end endmodule"),
            ("function.sv", "module m(input logic [5:0] a, output logic [2:0] first, n);
              function automatic int unsigned find(input logic [5:0] x); for (int i = 0; i < 6; i++) if (x[i]) return i; return 6; endfunction
              function automatic int ones(input logic [5:0] x); int c = 0; while (x) begin x &= x - 1; c++; end return c; endfunction
              assign first = find(a), n = ones(a); endmodule"),
            ("exit.vhd", "entity m is port (a : in std_logic_vector(5 downto 0); first, n : out unsigned(2 downto 0)); end;
              architecture x of m is begin process (a) variable f, c : natural range 0 to 7; begin f := 0; c := 0;
                while f < 6 loop exit when a(f) = '1'; f := f + 1; end loop;
                for i in a'range loop next when a(i) /= '1'; c := c + 1; end loop;
                first <= to_unsigned(f, 3); n <= to_unsigned(c, 3); end process; end;"),
            ("loop.vhd", "entity m is port (a : in std_logic_vector(5 downto 0); first, n : out unsigned(2 downto 0)); end;
              architecture x of m is
                function find(v : std_logic_vector) return natural is variable k : natural := 0;
                begin loop if k = 6 then return 6; end if; if v(k) = '1' then return k; end if; k := k + 1; end loop; end;
              begin first <= to_unsigned(find(a), 3);
                process (all) variable t : unsigned(5 downto 0); variable c : unsigned(2 downto 0); begin t := unsigned(a); c := \"000\";
                  while t /= 0 loop if t(0) then c := c + 1; end if; t := shift_right(t, 1); end loop; n <= c; end process; end;"),
            ("!one_too_far.sv", "module m(input logic [5:0] a, output logic [2:0] first, n);
              always_comb begin int i; for (i = 0; i < 5; i++) if (a[i]) break; first = i; n = $countones(a); end endmodule"),
        ],
    );
    all_equal(
        "module m(input [7:0] a, input [2:0] k, output [7:0] y, z); assign y = (a << k) | (a >> (4'd8 - k)); assign z = a >> k; endmodule",
        &[
            ("repeat.sv", "module m(input logic [7:0] a, input logic [2:0] k, output logic [7:0] y, z);
              always_comb begin y = a; repeat (k) y = {y[6:0], y[7]}; z = a; for (int i = 0; i < k; i++) z = z >> 1; end endmodule"),
            ("count.v", "module m(input [7:0] a, input [2:0] k, output reg [7:0] y, z); reg [2:0] i;
              always @* begin y = a; z = a; for (i = k; i != 0; i = i - 1) begin y = {y[6:0], y[7]}; z = {1'b0, z[7:1]}; end end endmodule"),
            ("running.vhd", "entity m is port (a : in unsigned(7 downto 0); k : in unsigned(2 downto 0); y, z : out unsigned(7 downto 0)); end;
              architecture x of m is begin process (a, k) variable t, u : unsigned(7 downto 0); begin t := a; u := a;
                for i in 1 to to_integer(k) loop t := t(6 downto 0) & t(7); u := '0' & u(7 downto 1); end loop; y <= t; z <= u; end process; end;"),
            ("!one_less.sv", "module m(input logic [7:0] a, input logic [2:0] k, output logic [7:0] y, z);
              always_comb begin y = a; repeat (k) y = {y[6:0], y[7]}; z = a; for (int i = 1; i < k; i++) z = z >> 1; end endmodule"),
        ],
    );
}

#[test]
fn variables_of_functions_begin_with_their_values() {
    all_equal(
        "module m(input [5:0] a, output [2:0] n, output any); assign n = a[0] + a[1] + a[2] + a[3] + a[4] + a[5], any = |a; endmodule",
        &[
            ("automatic.sv", "module m(input logic [5:0] a, output logic [2:0] n, output logic any);
              function automatic int ones(input logic [5:0] x); int c = 0; bit seen; for (int i = 0; i < 6; i++) begin c += x[i]; seen |= x[i]; end
                if (!seen) return 0; return c; endfunction
              function automatic bit some(input logic [5:0] x); if (x != 0) some = 1; endfunction
              assign n = ones(a), any = some(a); endmodule"),
            ("twice.sv", "module m(input logic [5:0] a, output logic [2:0] n, output logic any);
              function automatic logic [2:0] ones(input logic [2:0] x); logic [2:0] c = 3'd0; foreach (x[i]) c = c + x[i]; return c; endfunction
              assign n = ones(a[5:3]) + ones(a[2:0]); assign any = ones(a[5:3]) != 0 || ones(a[2:0]) > 0; endmodule"),
            ("task.v", "module m(input [5:0] a, output reg [2:0] n, output reg any);
              task automatic count(input [5:0] x, output [2:0] c); integer i; reg [2:0] s = 3'b000;
                begin for (i = 0; i < 6; i = i + 1) s = s + x[i]; c = s; end endtask
              always @* begin count(a, n); any = n != 0; end endmodule"),
            ("from_a_parameter.sv", "module m #(parameter START = 0) (input logic [5:0] a, output logic [2:0] n, output logic any);
              function automatic int ones(input logic [5:0] x); int c = START; int d = c + 1; for (int i = 0; i < 6; i++) d += x[i]; return d - 1; endfunction
              assign n = ones(a), any = ones(a) > START; endmodule"),
            ("variable.vhd", "entity m is port (a : in std_logic_vector(5 downto 0); n : out unsigned(2 downto 0); any : out std_logic); end;
              architecture x of m is
                function ones(v : std_logic_vector) return natural is variable c, d : natural := 0; begin for i in v'range loop if v(i) = '1' then c := c + 1; end if; end loop; return c + d; end;
              begin n <= to_unsigned(ones(a(5 downto 3)) + ones(a(2 downto 0)), 3); any <= '1' when ones(a) > 0 else '0'; end;"),
        ],
    );
}

#[test]
fn a_memory_whose_file_is_not_named_begins_unknown_and_is_no_fault() {
    let memory = |more: &str| {
        format!(
            "module m #(parameter FILE = \"\") (input clk, we, input [1:0] a, input [3:0] d, output [3:0] q);\n  \
             reg [3:0] mem [0:3];\n  {more}\n  always @(posedge clk) if (we) mem[a] <= d;\n  assign q = mem[a];\nendmodule\n"
        )
    };
    let (plain, guarded) = (memory(""), memory("initial if (FILE != \"\") $readmemh(FILE, mem);"));
    let found =
        equivalence((&files("a.v", &guarded), None), (&files("b.v", &plain), None), &Budget::hand_in()).unwrap();
    assert_ne!(found.equal, Some(false), "{:?}", found.counterexample);
    let otherwise = memory("initial begin if (FILE == \"\") mem[0] = 0; else $readmemb(FILE, mem); end");
    assert!(equivalence((&files("a.v", &otherwise), None), (&files("b.v", &plain), None), &Budget::hand_in()).is_ok());
    // Where it is named, it has to be there.
    let named = memory("initial if (FILE == \"\") $readmemh(\"rom.hex\", mem);");
    let told = equivalence((&files("a.v", &named), None), (&files("b.v", &plain), None), &Budget::hand_in())
        .unwrap_err()
        .to_string();
    assert!(told.contains("rom.hex"), "{told}");
}
