//! Constructs of both languages that labs use now and then: each design is held against a plain one that says the same.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]
#![allow(clippy::too_many_lines, reason = "a list of designs")]

use base::Budget;
use elab::HandInFile;
use views::equivalence;

fn files(name: &str, text: &str) -> Vec<HandInFile> {
    vec![HandInFile { name: name.into(), bytes: text.as_bytes().to_vec() }]
}

/// Each design (file, text) does what the first text says; returns those that don't, with what was said.
fn faults(plain: &str, designs: &[(&str, &str)]) -> Vec<String> {
    let reference = files("plain.sv", plain);
    let judge = |(name, text): &(&str, &str)| {
        let hand_in = files(name, text);
        match equivalence((&hand_in, None), (&reference, None), &Budget::hand_in()) {
            Ok(found) if found.equal == Some(true) => None,
            Ok(found) => Some(format!("{name}: {:?}\n{text}", found.counterexample)),
            Err(told) => Some(format!("{name}: {told}\n{text}")),
        }
    };
    designs.iter().filter_map(judge).collect()
}

fn all_equal(plain: &str, designs: &[(&str, &str)]) {
    let list = faults(plain, designs);
    assert!(list.is_empty(), "{}", list.join("\n---\n"));
}

#[test]
fn verilog_choices_and_loops() {
    all_equal(
        "module m(input [3:0] a, input [3:0] b, input [1:0] s, output reg [3:0] y);
           always @* case (s) 0: y = a & b; 1: y = a | b; 2: y = a ^ b; 3: y = ~a; endcase endmodule",
        &[
            ("casex.v", "module m(input [3:0] a, b, input [1:0] s, output reg [3:0] y);
               always @* casex ({s, 1'bx}) 3'b00x: y = a & b; 3'b01x: y = a | b; 3'b10x: y = a ^ b; 3'b11x: y = ~a; endcase endmodule"),
            ("casetrue.v", "module m(input [3:0] a, b, input [1:0] s, output reg [3:0] y);
               always @* case (1'b1) (s == 0): y = a & b; (s == 1): y = a | b; (s == 2): y = a ^ b; default: y = ~a; endcase endmodule"),
            ("while.v", "module m(input [3:0] a, b, input [1:0] s, output reg [3:0] y); integer i;
               always @* begin i = 0; while (i < 4) begin
                 y[i] = s == 0 ? a[i] & b[i] : s == 1 ? a[i] | b[i] : s == 2 ? a[i] ^ b[i] : ~a[i]; i = i + 1; end end endmodule"),
            ("repeat.v", "module m(input [3:0] a, b, input [1:0] s, output [3:0] y); reg [3:0] r, p, q;
               always @* begin p = a; q = b; r = 0; repeat (4) begin
                 case (s) 0: r = {p[0] & q[0], r[3:1]}; 1: r = {p[0] | q[0], r[3:1]}; 2: r = {p[0] ^ q[0], r[3:1]}; 3: r = {~p[0], r[3:1]}; endcase
                 p = p >> 1; q = q >> 1; end end
               assign y = r; endmodule"),
            ("task.v", "module m(input [3:0] a, b, input [1:0] s, output reg [3:0] y);
               task pick(input [1:0] k, output [3:0] r); begin
                 r = 4'b0; if (k == 2'd0) r = a & b; else if (k == 2'd1) r = a | b; else if (k == 2'd2) r = a ^ b; else r = ~a; end endtask
               always @(a, b, s) pick(s, y); endmodule"),
            ("generate_case.v", "module f #(parameter OP = 0) (input x, z, output r);
               generate case (OP) 0: and g(r, x, z); 1: or g(r, x, z); 2: xor g(r, x, z); default: not g(r, x); endcase endgenerate endmodule
               module m(input [3:0] a, b, input [1:0] s, output [3:0] y); wire [3:0] w [0:3]; genvar i, k;
               generate for (k = 0; k < 4; k = k + 1) begin : ops for (i = 0; i < 4; i = i + 1) begin : bits
                 f #(.OP(k)) u(a[i], b[i], w[k][i]); end end endgenerate
               assign y = w[s]; endmodule"),
            ("primitive.v", "primitive choose(o, k1, k0, x, z); output o; input k1, k0, x, z;
               table 0 0 1 1 : 1; 0 0 0 ? : 0; 0 0 ? 0 : 0; 0 1 1 ? : 1; 0 1 ? 1 : 1; 0 1 0 0 : 0;
                 1 0 0 1 : 1; 1 0 1 0 : 1; 1 0 0 0 : 0; 1 0 1 1 : 0; 1 1 0 ? : 1; 1 1 1 ? : 0; endtable endprimitive
               module m(input [3:0] a, b, input [1:0] s, output [3:0] y);
               choose c3(y[3], s[1], s[0], a[3], b[3]), c2(y[2], s[1], s[0], a[2], b[2]),
                      c1(y[1], s[1], s[0], a[1], b[1]), c0(y[0], s[1], s[0], a[0], b[0]); endmodule"),
            ("defparam.v", "module g(input [3:0] x, z, output [3:0] r); parameter KIND = 9;
               assign r = KIND == 0 ? x & z : KIND == 1 ? x | z : KIND == 2 ? x ^ z : ~x; endmodule
               module m(input [3:0] a, b, input [1:0] s, output [3:0] y); wire [3:0] w0, w1, w2, w3;
               g u0(a, b, w0); g u1(a, b, w1); g u2(a, b, w2); g u3(a, b, w3);
               defparam u0.KIND = 0, u1.KIND = 1; defparam u2.KIND = 2;
               assign y = s[1] ? (s[0] ? w3 : w2) : s[0] ? w1 : w0; endmodule"),
            ("tristate.v", "module m(input [3:0] a, b, input [1:0] s, output [3:0] y); tri [3:0] bus;
               assign bus = s == 0 ? a & b : 4'bz; assign bus = s == 1 ? a | b : 4'bz;
               assign bus = s == 2 ? a ^ b : 4'bz; assign bus = s == 3 ? ~a : 4'bz; assign y = bus; endmodule"),
            ("bufif.v", "module m(input [3:0] a, b, input [1:0] s, output [3:0] y);
               bufif1 b0 [3:0] (y, a & b, s == 0); bufif1 b1 [3:0] (y, a | b, s == 1);
               bufif0 b2 [3:0] (y, a ^ b, s != 2); notif1 b3 [3:0] (y, a, &s); endmodule"),
            ("wor.v", "module m(input [3:0] a, b, input [1:0] s, output [3:0] y); wor [3:0] w;
               assign w = {4{s == 0}} & a & b, w = {4{s == 1}} & (a | b); assign w = {4{s == 2}} & (a ^ b);
               assign w = {4{s == 3}} & ~a; assign y = w; endmodule"),
            ("local.v", "module m(input [3:0] a, b, input [1:0] s, output reg [3:0] y);
               always @* begin : work reg [3:0] t; integer k; t = 0;
                 for (k = 3; k >= 0; k = k - 1) begin : bit_k reg p; p = s[0] ? a[k] | b[k] : a[k] & b[k];
                   t[k] = s[1] ? (s[0] ? !a[k] : a[k] != b[k]) : p; end
                 y = t; end endmodule"),
            ("function_case.v", "module m(input [3:0] a, b, input [1:0] s, output [3:0] y);
               function [3:0] alu; input [3:0] x, z; input [1:0] k; case (k) 2'h0: alu = x & z; 2'h1: alu = x | z;
                 2'h2: alu = x ^ z; default: alu = 4'hf - x; endcase endfunction
               assign y = alu(a, b, s); endmodule"),
            ("macro.v", "`define PICK(K, V) ({4{s == K}} & (V))
               `define OR3(X, Y, Z) ((X) | (Y) | (Z))
               module m(input [3:0] a, b, input [1:0] s, output [3:0] y);
               assign y = `OR3(`PICK(0, a & b), `PICK(1, a | b), `PICK(2, a ^ b)) | `PICK(3, ~a); endmodule"),
            ("ifdef.v", "`define FAST
               module m(input [3:0] a, b, input [1:0] s, output [3:0] y);
               `ifdef SLOW
                 assign y = a;
               `elsif FAST
                 assign y = (s == 3) ? ~a : (s == 2) ? a ^ b : (s[0]) ? a | b : a & b;
               `else
                 assign y = b;
               `endif
               endmodule"),
        ],
    );
}

#[test]
fn verilog_selects_and_numbers() {
    all_equal(
        "module m(input [7:0] a, input [2:0] n, output [7:0] y, output [3:0] h, output p);
           assign y = {a[3:0], a[7:4]} ^ 8'hA5; assign h = a[7:4] + a[3:0]; assign p = a[n]; endmodule",
        &[
            ("parts.v", "module m(input [7:0] a, input [2:0] n, output [7:0] y, output [3:0] h, output p);
               assign y[7 -: 4] = a[0 +: 4] ^ 4'b1010; assign y[0 +: 4] = a[7 -: 4] ^ 4'd5;
               wire [4:0] t = a[7:4] + a[3:0]; assign h = t; assign p = a >> n; endmodule"),
            ("offset.v", "module m(input [7:0] a, input [2:0] n, output [7:0] y, output [3:0] h, output p);
               wire [11:4] b = a; assign y = {b[7:4], b[11:8]} ^ 165; assign h = b[11:8] + b[7:4]; assign p = b[n + 4]; endmodule"),
            ("signed.v", "module m(input [7:0] a, input [2:0] n, output [7:0] y, output [3:0] h, output p);
               wire signed [7:0] s = a; wire [7:0] r = s >>> 4; assign y = {a[3:0], r[3:0]} ^ -8'sd91;
               assign h = $signed(a[7:4]) + $signed(a[3:0]); assign p = |(a & (8'b1 << n)); endmodule"),
            ("memory.v", "module m(input [7:0] a, input [2:0] n, output [7:0] y, output [3:0] h, output p);
               reg bits [7:0]; reg [3:0] nibble [1:0]; integer i;
               always @* begin for (i = 0; i < 8; i = i + 1) bits[i] = a[i]; nibble[0] = a[3:0]; nibble[1] = a[7:4]; end
               assign p = bits[n]; assign y = {nibble[0], nibble[1]} ^ 8'b1010_0101; assign h = nibble[0] + nibble[1]; endmodule"),
            ("shuffle.v", "module m(input [7:0] a, input [2:0] n, output [7:0] y, output [3:0] h, output p);
               wire [3:0] lo, hi; assign {hi, lo} = a; assign y = {lo, hi} ^ {2{4'd5}} ^ {4'hF, 4'h0};
               assign h = hi - ~lo - 1; wire [7:0] w = a >> {1'b0, n}; assign p = w % 2; endmodule"),
            ("packed.sv", "module m(input logic [7:0] a, input logic [2:0] n, output logic [7:0] y, output logic [3:0] h, output logic p);
               typedef struct packed { logic [3:0] hi; logic [3:0] lo; } pair_t; pair_t q, r;
               always_comb begin q = a; r.hi = q.lo; r.lo = q.hi; y = r ^ 8'hA5; h = q.hi + q.lo; end
               assign p = a[n]; endmodule"),
            ("matrix.sv", "module m(input logic [7:0] a, input logic [2:0] n, output logic [7:0] y, output logic [3:0] h, output logic p);
               logic [1:0][3:0] q; assign q = a; assign y = {q[0], q[1]} ^ 8'hA5; assign h = 4'(q[0] + q[1]);
               assign p = a[n]; endmodule"),
            ("union.sv", "module m(input logic [7:0] a, input logic [2:0] n, output logic [7:0] y, output logic [3:0] h, output logic p);
               function automatic logic [7:0] turn(logic [7:0] v); return {v[3:0], v[7:4]}; endfunction
               localparam logic [7:0] MASK = 8'(165);
               assign y = turn(a) ^ MASK, h = a[7:4] + a[3:0], p = a[n]; endmodule"),
        ],
    );
}

#[test]
fn systemverilog_of_a_first_course() {
    all_equal(
        "module m(input [3:0] d, input [1:0] k, output reg [3:0] y, output odd, output reg [2:0] c);
           always @* case (k) 0: y = d; 1: y = d << 1; 2: y = d >> 1; default: y = {d[0], d[1], d[2], d[3]}; endcase
           assign odd = d[0]; always @* c = d[0] + d[1] + d[2] + d[3]; endmodule",
        &[
            ("package.sv", "package kinds; typedef enum logic [1:0] {KEEP, UP, DOWN, TURN} kind_t;
                 function automatic logic [3:0] turned(input logic [3:0] v); for (int i = 0; i < 4; i++) turned[i] = v[3 - i]; endfunction
               endpackage
               module m import kinds::*; (input logic [3:0] d, input logic [1:0] k, output logic [3:0] y, output logic odd, output logic [2:0] c);
               always_comb unique case (kind_t'(k)) KEEP: y = d; UP: y = d << 1; DOWN: y = d >> 1; TURN: y = turned(d); endcase
               assign odd = d[0]; always_comb begin c = 0; foreach (d[i]) c += d[i]; end endmodule"),
            ("priority.sv", "module m(input logic [3:0] d, input logic [1:0] k, output logic [3:0] y, output logic odd, output logic [2:0] c);
               always_comb begin priority if (k == 0) y = d; else if (k == 1) y = {d[2:0], 1'b0}; else if (k == 2) y = {1'b0, d[3:1]};
                 else y = {d[0], d[1], d[2], d[3]}; end
               assign odd = d inside {1, 3, [5:5], 7, 9, 11, [13:13], 15} && 1; assign c = 3'($countones(d)); endmodule"),
            ("inside.sv", "module m(input logic [3:0] d, input logic [1:0] k, output logic [3:0] y, output logic odd, output logic [2:0] c);
               logic [3:0] w [4]; assign w = '{d, {d[2:0], 1'b0}, {1'b0, d[3:1]}, {d[0], d[1], d[2], d[3]}}; assign y = w[k];
               assign odd = d[0]; int n; always_comb begin n = 0; for (int i = 0; i < $bits(d); ++i) if (d[i]) n++; c = n[2:0]; end endmodule"),
            ("do_while.sv", "module m(input logic [3:0] d, input logic [1:0] k, output logic [3:0] y, output logic odd, output logic [2:0] c);
               always_comb begin automatic int i = 0; c = '0; do begin c = c + {2'b0, d[i]}; i++; end while (i < 4); end
               always_comb case (k) 2'd0: y = d; 2'd1: y = d * 2; 2'd2: y = d / 2; default: y = {d[0], d[1], d[2], d[3]}; endcase
               assign odd = d % 2 == 1; endmodule"),
            ("implicit.sv", "module part(input logic [3:0] d, input logic [1:0] k, output logic [3:0] y);
               wire [3:0] r = {d[0], d[1], d[2], d[3]}; assign y = k[1] ? k[0] ? r : d >> 1 : k[0] ? d << 1 : d; endmodule
               module m(input logic [3:0] d, input logic [1:0] k, output logic [3:0] y, output logic odd, output logic [2:0] c);
               part p(.*); assign odd = d[0]; assign c = d[0] + d[1] + d[2] + d[3]; endmodule"),
            ("ternary_chain.sv", "module m(input var logic [3:0] d, input var logic [1:0] k, output var logic [3:0] y, output logic odd, output logic [2:0] c);
               always_comb begin : pick y = 'x; case (k) 2'b00: y = d; 2'b01: y = d + d; 2'b10: y = d >>> 1; 2'b11: {y[0], y[1], y[2], y[3]} = d; endcase end : pick
               assign odd = d[0]; always_comb begin c = 3'd0; for (int unsigned i = 0; i < 4; i += 1) c = c + 3'(d[i]); end endmodule"),
        ],
    );
}

#[test]
fn vhdl_choices_and_types() {
    const HEAD: &str = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;\n";
    let plain = "module m(input [3:0] a, input [3:0] b, input [1:0] s, output reg [3:0] y, output z);
        always @* case (s) 0: y = a + b; 1: y = a - b; 2: y = a & b; 3: y = a | b; endcase assign z = y == 0; endmodule";
    let entity = "entity m is port (a, b : in std_logic_vector(3 downto 0); s : in std_logic_vector(1 downto 0);
        y : out std_logic_vector(3 downto 0); z : out std_logic); end m;\n";
    let bodies: &[(&str, &str)] = &[
        ("block", "architecture x of m is signal r : unsigned(3 downto 0); begin
            b1 : block signal ua, ub : unsigned(3 downto 0); begin ua <= unsigned(a); ub <= unsigned(b);
              with s select r <= ua + ub when \"00\", ua - ub when \"01\", ua and ub when \"10\", ua or ub when others; end block b1;
            y <= std_logic_vector(r); z <= '1' when r = 0 else '0'; end x;"),
        ("generate_if", "architecture x of m is type words is array (natural range <>) of unsigned(3 downto 0); signal w : words(0 to 3); begin
            g : for k in w'range generate
              g0 : if k = 0 generate w(k) <= unsigned(a) + unsigned(b); end generate;
              g1 : if k = 1 generate w(k) <= unsigned(a) - unsigned(b); end generate;
              g2 : if k = 2 generate w(k) <= unsigned(a and b); end generate;
              g3 : if k > 2 generate w(k) <= unsigned(a or b); end generate;
            end generate g;
            y <= std_logic_vector(w(to_integer(unsigned(s)))); z <= '1' when w(to_integer(unsigned(s))) = \"0000\" else '0'; end x;"),
        ("generate_2008", "architecture x of m is type words is array (0 to 3) of std_logic_vector(3 downto 0); signal w : words; begin
            g : for k in 0 to 3 generate
              c : case k generate
                when 0 => w(k) <= std_logic_vector(unsigned(a) + unsigned(b));
                when 1 => w(k) <= std_logic_vector(unsigned(a) - unsigned(b));
                when others => i : if k = 2 generate w(k) <= a and b; else generate w(k) <= a or b; end generate i;
              end generate c;
            end generate g;
            y <= w(to_integer(unsigned(s))); z <= nor y; end x;"),
        ("procedure", "architecture x of m is
            procedure work(signal p, q : in std_logic_vector(3 downto 0); k : in natural; variable r : out unsigned) is begin
              case k is when 0 => r := unsigned(p) + unsigned(q); when 1 => r := unsigned(p) - unsigned(q);
                when 2 => r := unsigned(p) and unsigned(q); when others => r := unsigned(p) or unsigned(q); end case;
            end procedure;
            begin process (a, b, s) variable t : unsigned(3 downto 0); begin
              work(a, b, to_integer(unsigned(s)), t); y <= std_logic_vector(t);
              if t = 0 then z <= '1'; else z <= '0'; end if; end process; end x;"),
        ("record", "architecture x of m is
            type operands is record left, right : unsigned(3 downto 0); op : std_logic_vector(1 downto 0); end record;
            signal o : operands; signal r : unsigned(3 downto 0); begin
            o <= (left => unsigned(a), right => unsigned(b), op => s);
            process (o) begin
              if o.op = \"00\" then r <= o.left + o.right; elsif o.op = \"01\" then r <= o.left - o.right;
              elsif o.op(0) = '0' then r <= o.left and o.right; else r <= o.left or o.right; end if; end process;
            y <= std_logic_vector(r); z <= '1' when r = \"0000\" else '0'; end x;"),
        ("enumeration", "architecture x of m is type op_t is (add, subtract, both, either); signal op : op_t; signal r : std_logic_vector(3 downto 0); begin
            op <= op_t'val(to_integer(unsigned(s)));
            process (all) begin case op is
              when add => r <= std_logic_vector(unsigned(a) + unsigned(b));
              when subtract => r <= std_logic_vector(unsigned(a) - unsigned(b));
              when both => r <= a and b; when either => r <= a or b; end case; end process;
            y <= r; z <= not (r(3) or r(2) or r(1) or r(0)); end x;"),
        ("integers", "architecture x of m is begin
            process (a, b, s) variable i, j, k : integer range -16 to 31; begin
              i := to_integer(unsigned(a)); j := to_integer(unsigned(b));
              if s = \"00\" then k := (i + j) mod 16; elsif s = \"01\" then k := (i - j) mod 16;
              else k := 0; for n in 0 to 3 loop
                if (s(0) = '0' and a(n) = '1' and b(n) = '1') or (s(0) = '1' and (a(n) = '1' or b(n) = '1')) then k := k + 2 ** n; end if; end loop; end if;
              y <= std_logic_vector(to_unsigned(k, 4)); if k = 0 then z <= '1'; else z <= '0'; end if; end process; end x;"),
        ("alias", "architecture x of m is alias op1 : std_logic is s(1); alias op0 : std_logic is s(0);
            signal r : std_logic_vector(3 downto 0); signal sum : unsigned(3 downto 0); signal m2 : std_logic_vector(3 downto 0); begin
            m2 <= b when op0 = '0' else not b;
            sum <= unsigned(a) + unsigned(m2) + (\"\" & op0);
            r <= std_logic_vector(sum) when op1 = '0' else a and b when op0 = '0' else a or b;
            y <= r; z <= '1' when r = (r'range => '0') else '0'; end x;"),
        ("overload", "architecture x of m is
            function \"+\"(l, r : std_logic_vector) return std_logic_vector is variable c : std_logic := '0'; variable t : std_logic_vector(l'length - 1 downto 0);
              alias p : std_logic_vector(l'length - 1 downto 0) is l; alias q : std_logic_vector(r'length - 1 downto 0) is r; begin
              for i in t'reverse_range loop t(i) := p(i) xor q(i) xor c; c := (p(i) and q(i)) or (c and (p(i) or q(i))); end loop; return t; end function;
            constant ONE : std_logic_vector(3 downto 0) := (0 => '1', others => '0'); signal r : std_logic_vector(3 downto 0); begin
            r <= a + b when s = \"00\" else a + not b + ONE when s = \"01\" else a and b when s = \"10\" else a or b;
            y <= r; z <= '1' when r = x\"0\" else '0'; end x;"),
        ("sequential_2008", "architecture x of m is begin
            process (all) variable r : std_logic_vector(3 downto 0); begin
              with s select r := std_logic_vector(unsigned(a) + unsigned(b)) when \"00\", std_logic_vector(unsigned(a) - unsigned(b)) when \"01\",
                a and b when \"10\", a or b when others;
              y <= r; z <= '1' when r = \"0000\" else '0'; end process; end x;"),
        ("configuration", "architecture x of m is
            component unit is generic (n : integer := 8); port (p, q : in std_logic_vector(n - 1 downto 0); k : in std_logic; r : out std_logic_vector(n - 1 downto 0)); end component;
            signal u, v, r : std_logic_vector(3 downto 0); begin
            arithmetic : unit generic map (n => 4) port map (p => a, q => b, k => s(0), r => u);
            logic_part : block begin v <= (a and b) when s(0) = '0' else (a or b); end block;
            r <= u when s(1) = '0' else v; y <= r; z <= '1' when unsigned(r) = 0 else '0'; end x;
            library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
            entity unit is generic (n : integer := 8); port (p, q : in std_logic_vector(n - 1 downto 0); k : in std_logic; r : out std_logic_vector(n - 1 downto 0)); end unit;
            architecture rtl of unit is begin r <= std_logic_vector(unsigned(p) - unsigned(q)) when k = '1' else std_logic_vector(unsigned(p) + unsigned(q)); end rtl;"),
        ("loops", "architecture x of m is begin process (a, b, s) variable r : std_logic_vector(3 downto 0); variable c, bb : std_logic; variable i : natural; begin
            c := s(0); i := 0; r := \"0000\";
            while i < 4 loop
              bb := b(i) xor s(0);
              case s(1) is
                when '0' => r(i) := a(i) xor bb xor c; c := (a(i) and bb) or (a(i) and c) or (bb and c);
                when others => if s(0) = '1' then r(i) := a(i) or b(i); else r(i) := a(i) and b(i); end if;
              end case;
              i := i + 1;
            end loop;
            y <= r; z <= '1';
            for k in 3 downto 0 loop next when r(k) = '0'; z <= '0'; exit; end loop; end process; end x;"),
        ("type_marks", "architecture x of m is subtype nibble is unsigned(3 downto 0); subtype code is integer range 0 to 3;
            signal k : code; signal p, q, r : nibble; begin
            p <= nibble(a); q <= nibble(b); k <= to_integer(unsigned(s));
            r <= p + q when k = 0 else p - q when k = 1 else p and q when k = 2 else p or q;
            y <= std_logic_vector(r); z <= '1' when r = to_unsigned(0, r'length) else '0'; end x;"),
    ];
    let texts: Vec<(String, String)> =
        bodies.iter().map(|(name, body)| (format!("{name}.vhd"), format!("{HEAD}{entity}{body}"))).collect();
    let designs: Vec<(&str, &str)> = texts.iter().map(|(n, t)| (n.as_str(), t.as_str())).collect();
    all_equal(plain, &designs);
}

#[test]
fn vhdl_ports_of_other_types() {
    all_equal(
        "module m(input [3:0] n, input up, output [3:0] y); assign y = up ? n + 1 : n - 1; endmodule",
        &[
            ("integer.vhd", "library ieee; use ieee.std_logic_1164.all;
               entity m is port (n : in integer range 0 to 15; up : in std_logic; y : out integer range 0 to 15); end;
               architecture x of m is begin y <= (n + 1) mod 16 when up = '1' else (n + 15) mod 16; end;"),
            ("bit.vhd", "entity m is port (n : in bit_vector(3 downto 0); up : in bit; y : out bit_vector(3 downto 0)); end;
               architecture x of m is begin process (n, up) variable c : bit; begin c := '1';
               for i in 0 to 3 loop y(i) <= n(i) xor c; if up = '1' then c := c and n(i); else c := c and not n(i); end if; end loop; end process; end;"),
            ("unsigned.vhd", "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
               entity m is port (n : in unsigned(3 downto 0); up : in std_ulogic; y : out unsigned(3 downto 0)); end;
               architecture x of m is begin y <= n + 1 when up else n - 1; end;"),
            ("boolean.vhd", "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
               entity m is port (n : in std_logic_vector(3 downto 0); up : in boolean; y : out std_logic_vector(3 downto 0)); end;
               architecture x of m is begin process (n, up) begin
               if up then y <= std_logic_vector(unsigned(n) + 1); else y <= std_logic_vector(unsigned(n) - 1); end if; end process; end;"),
            ("arith.vhd", "library ieee; use ieee.std_logic_1164.all; use ieee.std_logic_arith.all; use ieee.std_logic_unsigned.all;
               entity m is port (n : in std_logic_vector(3 downto 0); up : in std_logic; y : out std_logic_vector(3 downto 0)); end;
               architecture x of m is begin y <= n + 1 when up = '1' else conv_std_logic_vector(conv_integer(n) + 15, 4); end;"),
        ],
    );
}

#[test]
fn a_primitive_is_its_table() {
    // IEEE 1364-2005 8.2: the multiplexer, with the rows where the choice is unknown and both inputs agree.
    let text = "primitive multiplexer(mux, control, dataA, dataB);
  output mux;
  input control, dataA, dataB;
  table
    // control dataA dataB  mux
       0  1  0 : 1 ;
       0  1  1 : 1 ;
       0  1  x : 1 ;
       0  0  0 : 0 ;
       0  0  1 : 0 ;
       0  0  x : 0 ;
       1  0  1 : 1 ;
       1  1  1 : 1 ;
       1  x  1 : 1 ;
       1  0  0 : 0 ;
       1  1  0 : 0 ;
       1  x  0 : 0 ;
       x  0  0 : 0 ;
       x  1  1 : 1 ;
  endtable
endprimitive
module m(input s, a, b, output y); multiplexer u(y, s, a, b); endmodule
";
    let ansi = "primitive p(output o, input s, a, b); table 01? : 1; 00b : 0; 1?1 : 1; 1?0 : 0; endtable endprimitive
module m(input s, a, b, output y); p (y, s, a, b); endmodule
";
    all_equal(
        "module m(input s, a, b, output y); assign y = s ? b : a; endmodule",
        &[("mux.v", text), ("ansi.v", ansi)],
    );
    let bench = "module tb; reg s, a, b; wire y; multiplexer u(y, s, a, b);
  initial begin s = 1'bx; a = 1; b = 1; #1 $write(\"%b\", y); b = 0; #1 $write(\"%b\", y); s = 1'bz; b = 1; #1 $write(\"%b\", y);
    s = 0; b = 1'bx; #1 $display(\"%b\", y); end endmodule
";
    let (table, _) = text.split_once("module m(").unwrap();
    let both = files("tb.v", &format!("{table}{bench}"));
    let found = elab::run_simulation(&both, &elab::SimulationRequest::default(), &Budget::hand_in()).unwrap();
    assert_eq!(found.output.trim(), "1x11");
}

#[test]
fn a_primitive_with_a_state_is_said_to_be_left_out() {
    let text =
        "primitive latch(q, en, d); output q; reg q; input en, d; table 1 1 : ? : 1; 1 0 : ? : 0; 0 ? : ? : -; endtable
endprimitive
module m(input en, d, output q); latch u(q, en, d); endmodule
";
    let told = equivalence((&files("l.v", text), None), (&files("l.v", text), None), &Budget::hand_in()).unwrap_err();
    assert!(told.to_string().contains("primitive"), "{told}");
}

/// IEEE 1076-2008 11.7.2 and 7.3: an instance is the architecture that it or its binding names, else the last one.
#[test]
fn vhdl_instances_are_the_architecture_that_is_named() {
    let parts = "entity pair is port (a, b : in bit; y : out bit); end;
architecture both of pair is begin y <= a and b; end;
architecture one of pair is begin y <= a or b; end;
architecture last of pair is begin y <= '0'; end;
";
    let top = |declared: &str, x: &str, y: &str| {
        format!(
            "{parts}entity m is port (a, b : in bit; x, y : out bit); end;\narchitecture r of m is\n{declared}\nbegin\n  \
             u1 : {x} port map (a, b, x);\n  u2 : {y} port map (a => a, b => b, y => y);\nend;\n"
        )
    };
    let component = "component pair is port (a, b : in bit; y : out bit); end component;";
    let other = "component gate is port (a, b : in bit; y : out bit); end component;";
    let designs = [
        top("", "entity work.pair(both)", "entity work.pair(one)"),
        top(
            &format!("{component} for u1 : pair use entity work.pair(both); for u2 : pair use entity work.pair(one);"),
            "pair",
            "pair",
        ),
        top(
            &format!(
                "{component} for u1 : pair use entity work.pair(both); end for; for others : pair use entity work.pair(one);"
            ),
            "component pair",
            "pair",
        ),
        top(&format!("{other} for all : gate use entity work.pair(one);"), "entity work.pair(both)", "gate"),
    ];
    let list: Vec<(&str, &str)> = designs.iter().map(|d| ("m.vhd", d.as_str())).collect();
    all_equal("module m(input a, b, output x, y); assign x = a & b, y = a | b; endmodule", &list);
    let zero = top(component, "pair", "entity work.pair");
    all_equal("module m(input a, b, output x, y); assign x = 0, y = 0; endmodule", &[("m.vhd", &zero)]);
    let wrong = top("", "entity work.pair(bth)", "entity work.pair(one)");
    let told =
        equivalence((&files("m.vhd", &wrong), None), (&files("m.vhd", &wrong), None), &Budget::hand_in()).unwrap_err();
    assert!(told.to_string().contains("no architecture `bth`"), "{told}");
}

/// IEEE 1800-2017 6.24.1 (casts), 7.3.1 (packed unions) and 20.6.2 (`$bits` of a type).
#[test]
fn types_of_ones_own_are_cast_to_and_measured() {
    all_equal(
        "module m(input [3:0] a, input [3:0] b, output [4:0] y); assign y = a + b; endmodule",
        &[
            (
                "struct.sv",
                "module m(input logic [3:0] a, b, output logic [4:0] y);
               typedef struct packed { logic c; logic [3:0] s; } sum_t; sum_t r;
               assign r = sum_t'({1'b0, a} + {1'b0, b}); assign y = {r.c, r.s}; endmodule",
            ),
            (
                "union.sv",
                "module m(input logic [3:0] a, b, output logic [4:0] y);
               typedef union packed { logic [4:0] w; struct packed { logic c; logic [3:0] s; } f; } u_t; u_t u;
               assign u.w = a + b; assign y = {u.f.c, u.f.s}; endmodule",
            ),
            (
                "bits.sv",
                "module m(input logic [3:0] a, b, output logic [4:0] y);
               typedef struct packed { logic c; logic [3:0] s; } sum_t; localparam int W = $bits(sum_t);
               assign y = {{(W - 4){1'b0}}, a} + b; endmodule",
            ),
            (
                "up.sv",
                "module m(input logic [3:0] a, b, output logic [4:0] y);
               typedef logic [0:4] up_t; assign y = up_t'(a) + up_t'(b); endmodule",
            ),
            (
                "int.sv",
                "module m(input logic [3:0] a, b, output logic [4:0] y);
               typedef int number_t; number_t s; always_comb begin s = number_t'(a) + number_t'(b); y = s[4:0]; end
               endmodule",
            ),
        ],
    );
    all_equal(
        "module m(input [3:0] a, output [7:0] y); assign y = {{4{a[3]}}, a}; endmodule",
        &[(
            "sign.sv",
            "module m(input logic [3:0] a, output logic [7:0] y);
               typedef logic signed [3:0] nibble_t; assign y = nibble_t'(a); endmodule",
        )],
    );
}

const SUM: &str = "module m(input [3:0] a, input [3:0] b, output [4:0] y); assign y = a + b; endmodule";
const SUM_VHDL: &str = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity m is port (a, b : in std_logic_vector(3 downto 0); y : out std_logic_vector(4 downto 0)); end;
architecture r of m is ";

/// IEEE 1076-2008 9.2.5 and 9.3.6: the operand of a conversion has a type of its own, so a literal in it is of the kind of
/// what stands beside it.
#[test]
fn a_literal_beside_a_vector_is_of_its_kind_within_a_conversion() {
    let bodies = [
        "begin y <= std_logic_vector(unsigned(\"0\" & a) + unsigned(b)); end;",
        "begin y <= std_logic_vector(unsigned('0' & a) + unsigned(\"0\" & b)); end;",
        "signal s : signed(5 downto 0); begin s <= signed(\"00\" & a) + signed(\"00\" & b);
           y <= std_logic_vector(s(4 downto 0)); end;",
        "signal p : std_logic_vector(8 downto 0); begin p <= \"0\" & a & b;
           y <= std_logic_vector(unsigned(p(8 downto 4)) + unsigned(p(3 downto 0))); end;",
        "begin y <= std_logic_vector(unsigned(a & \"\") + (\"0\" & unsigned(b))); end;",
    ];
    let texts: Vec<String> = bodies.iter().map(|body| format!("{SUM_VHDL}{body}")).collect();
    let designs: Vec<(&str, &str)> = texts.iter().map(|text| ("m.vhd", text.as_str())).collect();
    all_equal(SUM, &designs);
}

/// IEEE 1800-2017 12.7.1 (several loop variables), 13.5.4 (arguments by name) and 6.8 (`var`).
#[test]
fn loops_with_several_variables_and_arguments_by_name() {
    all_equal(
        SUM,
        &[
            (
                "named.sv",
                "module m(input logic [3:0] a, b, output logic [4:0] y);
               function automatic logic [4:0] add(input logic [3:0] p, q = 0); return {1'b0, p} + q; endfunction
               always_comb y = add(.q(b), .p(a)); endmodule",
            ),
            (
                "for.sv",
                "module m(input logic [3:0] a, b, output logic [4:0] y);
               always_comb begin y = 0; for (int i = 0, k = 1; i < 4; i++, k = k * 2) y = y + a[i] * k + b[i] * k; end
               endmodule",
            ),
            (
                "var.sv",
                "module m(input logic [3:0] a, b, output logic [4:0] y);
               var logic [4:0] t; assign t = a + b; assign y = t; endmodule : m",
            ),
        ],
    );
}

/// A delay in a block that runs again and again, and a block that only prints, are nothing that hardware does (IEEE 1364.1
/// ignores delays); the older template of a VHDL edge (IEEE 1076.6) is one.
#[test]
fn what_hardware_does_not_do_is_passed_over() {
    let plain = "module m(input clk, input d, output reg q); always @(posedge clk) q <= d; endmodule";
    all_equal(
        plain,
        &[
            ("late.v", "module m(input clk, input d, output reg q); always @(posedge clk) #1 q = d; endmodule"),
            (
                "talks.v",
                "module m(input clk, input d, output reg q); always @(posedge clk) q <= d;
               initial begin #10 $display(\"ten\"); #10 if (q) $display(\"one\"); end endmodule",
            ),
            (
                "edge.vhd",
                "library ieee; use ieee.std_logic_1164.all;
               entity m is port (clk, d : in std_logic; q : out std_logic); end;
               architecture r of m is begin process (clk) begin
                 if clk'event and clk = '1' and clk'last_value = '0' then q <= d; end if; end process; end;",
            ),
        ],
    );
}

/// IEEE 1076-2008 5.3.2.2 (ports without bounds), 11.3 (a process that waits at its end) and 12.4 (use clauses among
/// declarations).
#[test]
fn ports_without_bounds_processes_that_wait_at_their_end_and_late_use_clauses() {
    let open = "begin u : entity work.add(q) port map (a, b, y); end;
library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity add is port (x, z : in std_logic_vector; s : out std_logic_vector); end;
architecture q of add is begin s <= std_logic_vector(resize(unsigned(x), s'length) + unsigned(z)); end;";
    let waits = "begin process is begin
   y <= std_logic_vector(resize(unsigned(a), 5) + unsigned(b)); wait on a, b; end process; end;";
    let late = "use work.p.all; begin y <= add(a, b); end;
library ieee; use ieee.std_logic_1164.all;
package p is function add(x, z : std_logic_vector(3 downto 0)) return std_logic_vector; end;
library ieee; use ieee.numeric_std.all;
package body p is function add(x, z : std_logic_vector(3 downto 0)) return std_logic_vector is begin
  return std_logic_vector(resize(unsigned(x), 5) + unsigned(z)); end; end;";
    let first = "begin process begin
   wait on a, b; y <= std_logic_vector(resize(unsigned(a), 5) + unsigned(b)); end process; end;";
    // Arrays of one element type convert into each other (9.3.6).
    let related = "type v4 is array (3 downto 0) of std_logic; signal v : v4; begin v <= v4(a);
   y <= std_logic_vector(unsigned('0' & std_logic_vector(v)) + unsigned(b)); end;";
    let texts = [open, waits, late, first, related].map(|body| format!("{SUM_VHDL}{body}"));
    let designs: Vec<(&str, &str)> = texts.iter().map(|text| ("m.vhd", text.as_str())).collect();
    let faults: Vec<String> = designs
        .iter()
        .filter_map(|(name, text)| {
            let (hand_in, reference) = (files(name, text), files("plain.sv", SUM));
            match equivalence((&hand_in, Some("m")), (&reference, None), &Budget::hand_in()) {
                Ok(found) if found.equal == Some(true) => None,
                Ok(found) => Some(format!("{:?}\n{text}", found.counterexample)),
                Err(told) => Some(format!("{told}\n{text}")),
            }
        })
        .collect();
    assert!(faults.is_empty(), "{}", faults.join("\n---\n"));
}

/// IEEE 1800-2017 9.2.2.2.1 (`always_comb` waits for what its functions read), 6.20.6 (`const`) and 3.14.2.2 (`timeunit`).
#[test]
fn what_functions_read_constants_and_time_units() {
    all_equal(
        SUM,
        &[
            (
                "void.sv",
                "module m(input logic [3:0] a, b, output logic [4:0] y);
               function void sum(output logic [4:0] r); r = a + b; endfunction always_comb sum(y); endmodule",
            ),
            (
                "const.sv",
                "module m(input logic [3:0] a, b, output logic [4:0] y);
               const logic [3:0] K = 0; assign y = a + b + K; endmodule",
            ),
            (
                "unit.sv",
                "timeunit 1ns; module m(input logic [3:0] a, b, output logic [4:0] y);
               timeunit 1ns; timeprecision 1ps; assign y = a + b; endmodule",
            ),
        ],
    );
}
