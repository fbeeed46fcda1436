//! The combinational blocks of a first course, each in several habits of both languages: what is right passes with a
//! proof, and a usual slip does not.

#![allow(clippy::too_many_lines, reason = "a lab is one test with its solutions")]

mod common;

use common::{lab, way};

#[test]
fn a_multiplexer_of_four_words() {
    lab(
        "in s 1:0, in a 3:0, in b 3:0, in c 3:0, in d 3:0, out y 3:0",
        "",
        "module mux(input [1:0] s, input [3:0] a, b, c, d, output [3:0] y);
           assign y = s[1] ? (s[0] ? d : c) : (s[0] ? b : a); endmodule",
        &[
            way(
                "mux_case.v",
                "module mux4(s, a, b, c, d, y);
  input  [1:0] s;
  input  [3:0] a, b, c, d;
  output [3:0] y;
  reg    [3:0] y;
  always @(s or a or b or c or d)
  begin
    case (s)
      2'b00 : y = a;
      2'b01 : y = b;
      2'b10 : y = c;
      2'b11 : y = d;
    endcase
  end
endmodule
",
                ("2'b10 : y = c", "2'b10 : y = b"),
            ),
            way(
                "mux_if.sv",
                "module mux4 (
    input  logic [1:0] s,
    input  logic [3:0] a, b, c, d,
    output logic [3:0] y
);
    always_comb begin
        if      (s == 2'd0) y = a;
        else if (s == 2'd1) y = b;
        else if (s == 2'd2) y = c;
        else                y = d;
    end
endmodule : mux4
",
                ("s == 2'd2", "s == 2'd3"),
            ),
            way(
                "mux_gates.v",
                "module mux4(input [1:0] s, input [3:0] a, b, c, d, output [3:0] y);
  wire [3:0] m0 = ({4{~s[1] & ~s[0]}}) & a;
  wire [3:0] m1 = ({4{~s[1] &  s[0]}}) & b;
  wire [3:0] m2 = ({4{ s[1] & ~s[0]}}) & c;
  wire [3:0] m3 = ({4{ s[1] &  s[0]}}) & d;
  assign y = m0 | m1 | m2 | m3;
endmodule
",
                ("m2 = ({4{ s[1] & ~s[0]}})", "m2 = ({4{ s[1] &  s[0]}})"),
            ),
            way(
                "mux_tree.v",
                "module mux2 #(parameter W = 4) (input sel, input [W-1:0] i0, i1, output [W-1:0] o);
  assign o = sel ? i1 : i0;
endmodule
module mux4(input [1:0] s, input [3:0] a, b, c, d, output [3:0] y);
  wire [3:0] lo, hi;
  mux2 #(.W(4)) u0 (.sel(s[0]), .i0(a), .i1(b), .o(lo));
  mux2 #(4)     u1 (s[0], c, d, hi);
  mux2          u2 (.o(y), .sel(s[1]), .i1(hi), .i0(lo));
endmodule
",
                (".i1(hi), .i0(lo)", ".i1(lo), .i0(hi)"),
            ),
            way(
                "mux_select.vhd",
                "library ieee;
use ieee.std_logic_1164.all;

entity mux4 is
  port (
    s          : in  std_logic_vector(1 downto 0);
    a, b, c, d : in  std_logic_vector(3 downto 0);
    y          : out std_logic_vector(3 downto 0)
  );
end entity mux4;

architecture dataflow of mux4 is
begin
  with s select
    y <= a when \"00\",
         b when \"01\",
         c when \"10\",
         d when others;
end architecture dataflow;
",
                ("c when \"10\"", "d when \"10\""),
            ),
            way(
                "mux_when.vhd",
                "library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity mux4 is
  port (s: in std_logic_vector(1 downto 0);
        a, b, c, d: in std_logic_vector(3 downto 0);
        y: out std_logic_vector(3 downto 0));
end mux4;
architecture arch of mux4 is
  type words is array (0 to 3) of std_logic_vector(3 downto 0);
  signal w : words;
begin
  w <= (a, b, c, d);
  y <= w(to_integer(unsigned(s)));
end arch;
",
                ("(a, b, c, d)", "(a, c, b, d)"),
            ),
        ],
    );
}

#[test]
fn a_decoder_with_active_low_outputs_and_an_enable() {
    lab(
        "in en, in a 2:0, out y_n 7:0",
        "",
        "module dec(input en, input [2:0] a, output [7:0] y_n); assign y_n = ~((8'd1 << a) & {8{en}}); endmodule",
        &[
            way(
                "dec_case.v",
                "module decoder(input en, input [2:0] a, output reg [7:0] y_n);
  always @(*) begin
    y_n = 8'hFF;
    if (en)
      case (a)
        3'd0: y_n[0] = 1'b0;
        3'd1: y_n[1] = 1'b0;
        3'd2: y_n[2] = 1'b0;
        3'd3: y_n[3] = 1'b0;
        3'd4: y_n[4] = 1'b0;
        3'd5: y_n[5] = 1'b0;
        3'd6: y_n[6] = 1'b0;
        default: y_n[7] = 1'b0;
      endcase
  end
endmodule
",
                ("3'd5: y_n[5]", "3'd5: y_n[6]"),
            ),
            way(
                "dec_words.v",
                "module decoder(en, a, y_n);
input en;
input [2:0] a;
output [7:0] y_n;
reg [7:0] y_n;
always @ (en or a)
if (!en) y_n = 8'b11111111;
else case (a)
3'b000: y_n = 8'b11111110;
3'b001: y_n = 8'b11111101;
3'b010: y_n = 8'b11111011;
3'b011: y_n = 8'b11110111;
3'b100: y_n = 8'b11101111;
3'b101: y_n = 8'b11011111;
3'b110: y_n = 8'b10111111;
3'b111: y_n = 8'b01111111;
endcase
endmodule
",
                ("8'b11110111", "8'b11110011"),
            ),
            way(
                "dec_loop.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity decoder is
  port(en : in std_logic; a : in std_logic_vector(2 downto 0); y_n : out std_logic_vector(7 downto 0));
end;
architecture loop_style of decoder is
begin
  process(en, a)
  begin
    for i in y_n'range loop
      if en = '1' and to_integer(unsigned(a)) = i then
        y_n(i) <= '0';
      else
        y_n(i) <= '1';
      end if;
    end loop;
  end process;
end;
",
                ("en = '1' and", "en = '0' and"),
            ),
            way(
                "dec_generate.vhd",
                "library IEEE;
use IEEE.STD_LOGIC_1164.ALL;
use IEEE.NUMERIC_STD.ALL;
entity decoder is
    Port ( en : in STD_LOGIC;
           a : in STD_LOGIC_VECTOR (2 downto 0);
           y_n : out STD_LOGIC_VECTOR (7 downto 0));
end decoder;
architecture Behavioral of decoder is
begin
  G1: for k in 0 to 7 generate
    y_n(k) <= not en when unsigned(a) = k else '1';
  end generate G1;
end Behavioral;
",
                ("not en when", "en when"),
            ),
            way(
                "dec_gates.v",
                "module decoder(input en, input [2:0] a, output [7:0] y_n);
  wire [2:0] b;
  not inv [2:0] (b, a);
  nand n0(y_n[0], en, b[2], b[1], b[0]),
       n1(y_n[1], en, b[2], b[1], a[0]),
       n2(y_n[2], en, b[2], a[1], b[0]),
       n3(y_n[3], en, b[2], a[1], a[0]),
       n4(y_n[4], en, a[2], b[1], b[0]),
       n5(y_n[5], en, a[2], b[1], a[0]),
       n6(y_n[6], en, a[2], a[1], b[0]),
       n7(y_n[7], en, a[2], a[1], a[0]);
endmodule
",
                ("n4(y_n[4], en, a[2], b[1], b[0])", "n4(y_n[4], en, a[2], a[1], b[0])"),
            ),
        ],
    );
}

#[test]
fn a_priority_encoder_says_whether_it_saw_anything() {
    lab(
        "in r 3:0, out code 1:0, out valid",
        "",
        "module enc(input [3:0] r, output [1:0] code, output valid);
           assign code = r[3] ? 3 : r[2] ? 2 : r[1] ? 1 : 0; assign valid = |r; endmodule",
        &[
            way(
                "enc_casez.v",
                "module prio(input [3:0] r, output reg [1:0] code, output reg valid);
  always @* begin
    valid = 1;
    casez (r)
      4'b1???: code = 2'd3;
      4'b01??: code = 2'd2;
      4'b001?: code = 2'd1;
      4'b0001: code = 2'd0;
      default: begin code = 2'd0; valid = 0; end
    endcase
  end
endmodule
",
                ("4'b001?: code = 2'd1", "4'b001?: code = 2'd2"),
            ),
            way(
                "enc_for.sv",
                "module prio(input logic [3:0] r, output logic [1:0] code, output logic valid);
  always_comb begin
    code = '0;
    valid = 1'b0;
    for (int i = 0; i < 4; i++)
      if (r[i]) begin
        code = i[1:0];
        valid = 1'b1;
      end
  end
endmodule
",
                ("i < 4", "i < 3"),
            ),
            way(
                "enc_equations.v",
                "module prio(input [3:0] r, output [1:0] code, output valid);
  assign code[1] = r[3] | r[2];
  assign code[0] = r[3] | (~r[2] & r[1]);
  assign valid = ~(r == 4'b0000);
endmodule
",
                ("(~r[2] & r[1])", "(r[2] & r[1])"),
            ),
            way(
                "enc_elsif.vhd",
                "library ieee;
use ieee.std_logic_1164.all;
entity prio is
port (
  r     : in std_logic_vector(3 downto 0);
  code  : out std_logic_vector(1 downto 0);
  valid : out std_logic
);
end prio;
architecture behaviour of prio is
begin
  encode : process (r) is
  begin
    valid <= '1';
    if r(3) = '1' then code <= \"11\";
    elsif r(2) = '1' then code <= \"10\";
    elsif r(1) = '1' then code <= \"01\";
    else
      code <= \"00\";
      valid <= r(0);
    end if;
  end process encode;
end behaviour;
",
                ("code <= \"10\"", "code <= \"01\""),
            ),
            way(
                "enc_match.vhd",
                "library ieee;
use ieee.std_logic_1164.all;
entity prio is
  port (r : in std_logic_vector(3 downto 0); code : out std_logic_vector(1 downto 0); valid : out std_logic);
end entity;
architecture rtl of prio is
begin
  process (all) begin
    case? r is
      when \"1---\" => code <= \"11\";
      when \"01--\" => code <= \"10\";
      when \"001-\" => code <= \"01\";
      when others => code <= \"00\";
    end case?;
  end process;
  valid <= or r;
end architecture;
",
                ("valid <= or r", "valid <= and r"),
            ),
        ],
    );
}

#[test]
fn a_comparator_of_two_words() {
    lab(
        "in a 3:0, in b 3:0, out gt, out eq, out lt",
        "",
        "module cmp(input [3:0] a, b, output gt, eq, lt); assign gt = a > b, eq = a == b, lt = a < b; endmodule",
        &[
            way(
                "cmp_chain.v",
                "module comparator(a, b, gt, eq, lt);
  input [3:0] a, b;
  output gt, eq, lt;
  wire [3:0] x = a ~^ b;
  assign eq = x[3] & x[2] & x[1] & x[0];
  assign gt = (a[3] & ~b[3])
            | (x[3] & a[2] & ~b[2])
            | (x[3] & x[2] & a[1] & ~b[1])
            | (x[3] & x[2] & x[1] & a[0] & ~b[0]);
  assign lt = ~(gt | eq);
endmodule
",
                ("(x[3] & a[2] & ~b[2])", "(x[3] & a[2] & b[2])"),
            ),
            way(
                "cmp_if.v",
                "module comparator(input [3:0] a, input [3:0] b, output reg gt, output reg eq, output reg lt);
  always @(a, b)
    if (a > b)      {gt, eq, lt} = 3'b100;
    else if (a < b) {gt, eq, lt} = 3'b001;
    else            {gt, eq, lt} = 3'b010;
endmodule
",
                ("a > b", "a >= b"),
            ),
            way(
                "cmp_cell.vhd",
                "library ieee; use ieee.std_logic_1164.all;
entity cell is
  port (a, b, g_in, l_in : in std_logic; g_out, l_out : out std_logic);
end cell;
architecture logic of cell is
begin
  g_out <= g_in or (not l_in and a and not b);
  l_out <= l_in or (not g_in and not a and b);
end logic;

library ieee; use ieee.std_logic_1164.all;
entity comparator is
  port (a, b : in std_logic_vector(3 downto 0); gt, eq, lt : out std_logic);
end comparator;
architecture structure of comparator is
  component cell is
    port (a, b, g_in, l_in : in std_logic; g_out, l_out : out std_logic);
  end component;
  signal g, l : std_logic_vector(4 downto 0);
begin
  g(4) <= '0';
  l(4) <= '0';
  chain : for i in 3 downto 0 generate
    c : cell port map (a => a(i), b => b(i), g_in => g(i+1), l_in => l(i+1), g_out => g(i), l_out => l(i));
  end generate;
  gt <= g(0);
  lt <= l(0);
  eq <= g(0) nor l(0);
end structure;
",
                ("eq <= g(0) nor l(0)", "eq <= g(0) xor l(0)"),
            ),
            way(
                "cmp_numeric.vhd",
                "library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity comparator is
  port (a, b : in std_logic_vector(3 downto 0); gt, eq, lt : out std_logic);
end;
architecture a1 of comparator is
  signal ua, ub : unsigned(3 downto 0);
begin
  ua <= unsigned(a);
  ub <= unsigned(b);
  gt <= '1' when ua > ub else '0';
  eq <= '1' when ua = ub else '0';
  lt <= '1' when ua < ub else '0';
end;
",
                (
                    "signal ua, ub : unsigned(3 downto 0);\nbegin\n  ua <= unsigned(a);\n  ub <= unsigned(b);",
                    "signal ua, ub : signed(3 downto 0);\nbegin\n  ua <= signed(a);\n  ub <= signed(b);",
                ),
            ),
            way(
                "cmp_subtract.sv",
                "module comparator(input logic [3:0] a, b, output logic gt, eq, lt);
  logic [4:0] d;
  assign d  = {1'b0, a} - {1'b0, b};
  assign lt = d[4];
  assign eq = ~|d;
  assign gt = ~lt && !eq;
endmodule
",
                ("assign lt = d[4]", "assign lt = d[3]"),
            ),
        ],
    );
}

#[test]
fn the_parity_of_a_byte() {
    lab(
        "in d 7:0, in odd, out p",
        "",
        "module par(input [7:0] d, input odd, output p); assign p = ^d ^ odd; endmodule",
        &[
            way(
                "par_reduce.v",
                "module parity(input [7:0] d, input odd, output p);\n  assign p = odd ? ~^d : ^d;\nendmodule\n",
                ("~^d : ^d", "^d : ~^d"),
            ),
            way(
                "par_function.v",
                "module parity(input [7:0] d, input odd, output p);
  function even;
    input [7:0] v;
    integer i;
    begin
      even = 0;
      for (i = 0; i < 8; i = i + 1) even = even ^ v[i];
    end
  endfunction
  assign p = even(d) ^ odd;
endmodule
",
                ("i = 0; i < 8", "i = 1; i < 8"),
            ),
            way(
                "par_tree.v",
                "module parity(input [7:0] d, input odd, output p);
  wire w1, w2, w3, w4, w5, w6, w7;
  xor (w1, d[0], d[1]);
  xor (w2, d[2], d[3]);
  xor (w3, d[4], d[5]);
  xor (w4, d[6], d[7]);
  xor (w5, w1, w2);
  xor (w6, w3, w4);
  xor (w7, w5, w6);
  xor (p, w7, odd);
endmodule
",
                ("xor (w6, w3, w4)", "or (w6, w3, w4)"),
            ),
            way(
                "par_variable.vhd",
                "library ieee; use ieee.std_logic_1164.all;
entity parity is port (d : in std_logic_vector(7 downto 0); odd : in std_logic; p : out std_logic); end parity;
architecture v of parity is
begin
  process (d, odd)
    variable t : std_logic;
  begin
    t := odd;
    for i in d'low to d'high loop
      t := t xor d(i);
    end loop;
    p <= t;
  end process;
end v;
",
                ("t := odd", "t := not odd"),
            ),
            way(
                "par_function.vhd",
                "library ieee; use ieee.std_logic_1164.all;
package tools is
  function ones_are_odd(v : std_logic_vector) return std_logic;
end package;
package body tools is
  function ones_are_odd(v : std_logic_vector) return std_logic is
    variable r : std_logic := '0';
  begin
    for k in v'range loop
      r := r xor v(k);
    end loop;
    return r;
  end function;
end package body;
library ieee; use ieee.std_logic_1164.all;
use work.tools.all;
entity parity is port (d : in std_logic_vector(7 downto 0); odd : in std_logic; p : out std_logic); end parity;
architecture f of parity is
begin
  p <= ones_are_odd(d & odd);
end f;
",
                ("ones_are_odd(d & odd)", "ones_are_odd(d & not odd)"),
            ),
        ],
    );
}

#[test]
fn a_digit_on_seven_segments() {
    lab(
        "in n 3:0, out seg 6:0",
        "",
        // Segments a to g, a the most significant, high is lit; 6 and 9 with their tails, other codes dark (common practice).
        "module digit(input [3:0] n, output reg [6:0] seg);
           always @* case (n) 0: seg = 7'h7E; 1: seg = 7'h30; 2: seg = 7'h6D; 3: seg = 7'h79; 4: seg = 7'h33;
             5: seg = 7'h5B; 6: seg = 7'h5F; 7: seg = 7'h70; 8: seg = 7'h7F; 9: seg = 7'h7B; default: seg = 0; endcase
         endmodule",
        &[
            way(
                "seg_case.v",
                "module seg7(input [3:0] n, output reg [6:0] seg);
  // abcdefg
  always @(n)
    case (n)
      4'h0: seg = 7'b1111110;
      4'h1: seg = 7'b0110000;
      4'h2: seg = 7'b1101101;
      4'h3: seg = 7'b1111001;
      4'h4: seg = 7'b0110011;
      4'h5: seg = 7'b1011011;
      4'h6: seg = 7'b1011111;
      4'h7: seg = 7'b1110000;
      4'h8: seg = 7'b1111111;
      4'h9: seg = 7'b1111011;
      default: seg = 7'b0000000;
    endcase
endmodule
",
                ("4'h7: seg = 7'b1110000", "4'h7: seg = 7'b1110010"),
            ),
            way(
                "seg_rom.v",
                "module seg7(input [3:0] n, output [6:0] seg);
  reg [6:0] rom [0:15];
  integer k;
  initial begin
    for (k = 0; k < 16; k = k + 1) rom[k] = 7'd0;
    rom[0] = 7'h7e; rom[1] = 7'h30; rom[2] = 7'h6d; rom[3] = 7'h79; rom[4] = 7'h33;
    rom[5] = 7'h5b; rom[6] = 7'h5f; rom[7] = 7'h70; rom[8] = 7'h7f; rom[9] = 7'h7b;
  end
  assign seg = rom[n];
endmodule
",
                ("rom[4] = 7'h33", "rom[4] = 7'h32"),
            ),
            way(
                "seg_products.sv",
                "module seg7(input logic [3:0] n, output logic [6:0] seg);
  logic a, b, c, d;
  assign {a, b, c, d} = n;
  // Sums of minterms, a segment each.
  function automatic logic is(input logic [3:0] v, input logic [15:0] rows);
    return rows[v];
  endfunction
  assign seg[6] = is(n, 16'b0000_0011_1110_1101);
  assign seg[5] = is(n, 16'b0000_0011_1001_1111);
  assign seg[4] = is(n, 16'b0000_0011_1111_1011);
  assign seg[3] = is(n, 16'b0000_0011_0110_1101);
  assign seg[2] = is(n, 16'b0000_0001_0100_0101);
  assign seg[1] = is(n, 16'b0000_0011_0111_0001);
  assign seg[0] = is(n, 16'b0000_0011_0111_1100);
endmodule
",
                ("seg[2] = is(n, 16'b0000_0001_0100_0101)", "seg[2] = is(n, 16'b0000_0001_0100_0111)"),
            ),
            way(
                "seg_select.vhd",
                "library ieee; use ieee.std_logic_1164.all;
entity seg7 is
  port (n : in std_logic_vector(3 downto 0);
        seg : out std_logic_vector(6 downto 0));
end seg7;
architecture sel of seg7 is
begin
  with n select seg <=
    \"1111110\" when \"0000\",
    \"0110000\" when \"0001\",
    \"1101101\" when \"0010\",
    \"1111001\" when \"0011\",
    \"0110011\" when \"0100\",
    \"1011011\" when \"0101\",
    \"1011111\" when \"0110\",
    \"1110000\" when \"0111\",
    \"1111111\" when \"1000\",
    \"1111011\" when \"1001\",
    (others => '0') when others;
end sel;
",
                ("\"1111011\" when \"1001\"", "\"1110011\" when \"1001\""),
            ),
            way(
                "seg_hex.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity seg7 is
  port (n : in std_logic_vector(3 downto 0); seg : out std_logic_vector(6 downto 0));
end;
architecture table of seg7 is
  type rom_t is array (natural range <>) of std_logic_vector(7 downto 0);
  constant ROM : rom_t(0 to 9) := (x\"7E\", x\"30\", x\"6D\", x\"79\", x\"33\", x\"5B\", x\"5F\", x\"70\", x\"7F\", x\"7B\");
begin
  process (n)
    variable i : integer range 0 to 15;
  begin
    i := to_integer(unsigned(n));
    if i <= 9 then
      seg <= ROM(i)(6 downto 0);
    else
      seg <= \"0000000\";
    end if;
  end process;
end;
",
                ("if i <= 9", "if i < 9"),
            ),
        ],
    );
}

#[test]
fn binary_to_gray_and_back() {
    lab(
        "in back, in x 3:0, out y 3:0",
        "",
        "module gray(input back, input [3:0] x, output [3:0] y);
           assign y = back ? x ^ (x >> 1) ^ (x >> 2) ^ (x >> 3) : x ^ (x >> 1); endmodule",
        &[
            way(
                "gray_loop.v",
                "module gray(input back, input [3:0] x, output reg [3:0] y);
  integer i;
  always @* begin
    y[3] = x[3];
    for (i = 2; i >= 0; i = i - 1)
      y[i] = back ? y[i+1] ^ x[i] : x[i+1] ^ x[i];
  end
endmodule
",
                ("y[i+1] ^ x[i]", "y[i+1] & x[i]"),
            ),
            way(
                "gray_two.v",
                "module b2g(input [3:0] b, output [3:0] g);
  assign g = {b[3], b[3] ^ b[2], b[2] ^ b[1], b[1] ^ b[0]};
endmodule
module g2b(input [3:0] g, output [3:0] b);
  assign b[3] = g[3];
  assign b[2] = b[3] ^ g[2];
  assign b[1] = b[2] ^ g[1];
  assign b[0] = b[1] ^ g[0];
endmodule
module gray(input back, input [3:0] x, output [3:0] y);
  wire [3:0] p, q;
  b2g one(.b(x), .g(p));
  g2b two(.g(x), .b(q));
  assign y = back ? q : p;
endmodule
",
                ("back ? q : p", "back ? p : q"),
            ),
            way(
                "gray.vhd",
                "library ieee; use ieee.std_logic_1164.all;
entity gray is
  port (back : in std_logic; x : in std_logic_vector(3 downto 0); y : out std_logic_vector(3 downto 0));
end gray;
architecture rtl of gray is
  signal g, b : std_logic_vector(3 downto 0);
begin
  g <= x xor ('0' & x(3 downto 1));
  b(3) <= x(3);
  l : for i in 2 downto 0 generate
    b(i) <= b(i + 1) xor x(i);
  end generate l;
  y <= g when back = '0' else b;
end rtl;
",
                ("back = '0'", "back = '1'"),
            ),
            way(
                "gray_shift.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity gray is
  port (back : in std_logic; x : in std_logic_vector(3 downto 0); y : out std_logic_vector(3 downto 0));
end gray;
architecture rtl of gray is
begin
  process (back, x)
    variable v : unsigned(3 downto 0);
  begin
    v := unsigned(x);
    if back = '1' then
      v := v xor shift_right(v, 1);
      v := v xor shift_right(v, 2);
    else
      v := v xor (v srl 1);
    end if;
    y <= std_logic_vector(v);
  end process;
end rtl;
",
                ("shift_right(v, 2)", "shift_right(v, 1)"),
            ),
        ],
    );
}

#[test]
fn a_barrel_rotator() {
    lab(
        "in x 7:0, in n 2:0, in left, out y 7:0",
        "",
        "module rot(input [7:0] x, input [2:0] n, input left, output [7:0] y);
           wire [15:0] two = {x, x}; wire [15:0] r = two >> n; wire [15:0] l = two << n;
           assign y = left ? l[15:8] : r[7:0]; endmodule",
        &[
            way(
                "rot_stages.v",
                "module rotator(input [7:0] x, input [2:0] n, input left, output [7:0] y);
  wire [2:0] k = left ? -n : n;
  wire [7:0] s1 = k[0] ? {x[0], x[7:1]} : x;
  wire [7:0] s2 = k[1] ? {s1[1:0], s1[7:2]} : s1;
  assign y = k[2] ? {s2[3:0], s2[7:4]} : s2;
endmodule
",
                ("left ? -n : n", "left ? ~n : n"),
            ),
            way(
                "rot_case.v",
                "module rotator(x, n, left, y);
  input [7:0] x; input [2:0] n; input left; output reg [7:0] y;
  always @* begin
    case ({left, n})
      4'd0, 4'd8: y = x;
      4'd1, 4'd15: y = {x[0], x[7:1]};
      4'd2, 4'd14: y = {x[1:0], x[7:2]};
      4'd3, 4'd13: y = {x[2:0], x[7:3]};
      4'd4, 4'd12: y = {x[3:0], x[7:4]};
      4'd5, 4'd11: y = {x[4:0], x[7:5]};
      4'd6, 4'd10: y = {x[5:0], x[7:6]};
      4'd7, 4'd9:  y = {x[6:0], x[7]};
    endcase
  end
endmodule
",
                ("4'd6, 4'd10: y = {x[5:0], x[7:6]}", "4'd6, 4'd10: y = {x[7:6], x[5:0]}"),
            ),
            way(
                "rot_indexed.sv",
                "module rotator(input logic [7:0] x, input logic [2:0] n, input logic left, output logic [7:0] y);
  logic [2:0] at;
  always_comb
    for (int i = 0; i < 8; i++) begin
      at = left ? 3'(i - n) : 3'(i + n);
      y[i] = x[at];
    end
endmodule
",
                ("3'(i - n)", "3'(i + n)"),
            ),
            way(
                "rot.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity rotator is
  port (x : in std_logic_vector(7 downto 0); n : in std_logic_vector(2 downto 0); left : in std_logic;
        y : out std_logic_vector(7 downto 0));
end entity;
architecture rtl of rotator is
begin
  y <= std_logic_vector(rotate_left(unsigned(x), to_integer(unsigned(n)))) when left = '1' else
       std_logic_vector(rotate_right(unsigned(x), to_integer(unsigned(n))));
end architecture;
",
                ("rotate_left(", "shift_left("),
            ),
        ],
    );
}

#[test]
fn adding_and_subtracting_with_flags() {
    lab(
        "in a 3:0, in b 3:0, in sub, out s 3:0, out carry, out over",
        "",
        "module as(input [3:0] a, b, input sub, output [3:0] s, output carry, over);
           wire [3:0] m = b ^ {4{sub}}; assign {carry, s} = a + m + sub;
           assign over = (a[3] == m[3]) & (s[3] != a[3]); endmodule",
        &[
            way(
                "as_ripple.v",
                "module full_adder(input a, b, ci, output s, co);
  assign s = a ^ b ^ ci;
  assign co = (a & b) | (ci & (a | b));
endmodule
module addsub(input [3:0] a, b, input sub, output [3:0] s, output carry, over);
  wire [4:0] c;
  assign c[0] = sub;
  genvar i;
  generate
    for (i = 0; i < 4; i = i + 1) begin : stage
      full_adder fa(a[i], b[i] ^ sub, c[i], s[i], c[i+1]);
    end
  endgenerate
  assign carry = c[4];
  assign over = c[4] ^ c[3];
endmodule
",
                ("c[4] ^ c[3]", "c[4] ^ c[2]"),
            ),
            way(
                "as_if.v",
                "module addsub(input [3:0] a, b, input sub, output reg [3:0] s, output reg carry, output reg over);
  always @* begin
    if (sub) begin
      {carry, s} = {1'b0, a} + {1'b0, ~b} + 5'd1;
      over = (a[3] ^ b[3]) & (a[3] ^ s[3]);
    end else begin
      {carry, s} = a + b;
      over = ~(a[3] ^ b[3]) & (a[3] ^ s[3]);
    end
  end
endmodule
",
                ("{1'b0, ~b}", "{1'b1, ~b}"),
            ),
            way(
                "as_wide.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity addsub is
  port (a, b : in std_logic_vector(3 downto 0); sub : in std_logic;
        s : out std_logic_vector(3 downto 0); carry, over : out std_logic);
end addsub;
architecture rtl of addsub is
  signal m : std_logic_vector(3 downto 0);
  signal c : unsigned(0 downto 0);
  signal t : unsigned(4 downto 0);
begin
  m <= b when sub = '0' else not b;
  c(0) <= sub;
  t <= resize(unsigned(a), 5) + resize(unsigned(m), 5) + c;
  s <= std_logic_vector(t(3 downto 0));
  carry <= t(4);
  over <= '1' when a(3) = m(3) and t(3) /= a(3) else '0';
end rtl;
",
                ("else not b", "else b"),
            ),
            way(
                "as_old.vhd",
                "library ieee;
use ieee.std_logic_1164.all;
use ieee.std_logic_unsigned.all;
entity addsub is
  port (a, b : in std_logic_vector(3 downto 0); sub : in std_logic;
        s : out std_logic_vector(3 downto 0); carry, over : out std_logic);
end addsub;
architecture old of addsub is
  signal r, x : std_logic_vector(4 downto 0);
  signal m : std_logic_vector(3 downto 0);
begin
  m <= b xor (sub & sub & sub & sub);
  x <= ('0' & a) + ('0' & m);
  r <= x + sub;
  s <= r(3 downto 0);
  carry <= r(4);
  over <= (a(3) xnor m(3)) and (a(3) xor r(3));
end old;
",
                ("(a(3) xnor m(3))", "(a(3) xor m(3))"),
            ),
        ],
    );
}

#[test]
fn a_decimal_adder() {
    lab(
        "in a 3:0, in b 3:0, in ci, out s 3:0, out co",
        "",
        "module bcd(input [3:0] a, b, input ci, output [3:0] s, output co);
           wire [4:0] t = a + b + ci; assign co = t > 9; wire [4:0] u = t + 6; assign s = co ? u[3:0] : t[3:0]; endmodule",
        &[
            way(
                "bcd_add.v",
                "module bcd_adder(input [3:0] a, b, input ci, output reg [3:0] s, output reg co);
  reg [4:0] sum;
  always @* begin
    sum = a + b + ci;
    if (sum > 9) begin
      sum = sum + 5'd6;
      co = 1'b1;
    end else
      co = 1'b0;
    s = sum[3:0];
  end
endmodule
",
                ("sum > 9", "sum >= 9"),
            ),
            way(
                "bcd_two_adders.v",
                "module add4(input [3:0] x, y, input c, output [3:0] z, output k);
  assign {k, z} = x + y + c;
endmodule
module bcd_adder(input [3:0] a, b, input ci, output [3:0] s, output co);
  wire [3:0] z;
  wire k, unused;
  add4 first(.x(a), .y(b), .c(ci), .z(z), .k(k));
  assign co = k | (z[3] & z[2]) | (z[3] & z[1]);
  add4 second(.x(z), .y({1'b0, co, co, 1'b0}), .c(1'b0), .z(s), .k());
endmodule
",
                ("(z[3] & z[1])", "(z[3] & z[0])"),
            ),
            way(
                "bcd.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity bcd_adder is
  port (a, b : in std_logic_vector(3 downto 0); ci : in std_logic; s : out std_logic_vector(3 downto 0); co : out std_logic);
end bcd_adder;
architecture rtl of bcd_adder is
begin
  process (a, b, ci)
    variable t : natural range 0 to 37;
  begin
    t := to_integer(unsigned(a)) + to_integer(unsigned(b));
    if ci = '1' then
      t := t + 1;
    end if;
    co <= '0';
    if t > 9 then
      t := t + 6;
      co <= '1';
    end if;
    s <= std_logic_vector(to_unsigned(t mod 16, 4));
  end process;
end rtl;
",
                ("t := t + 6", "t := t + 5"),
            ),
        ],
    );
}

#[test]
fn counting_ones_and_zeros_before_them() {
    lab(
        "in x 7:0, out ones 3:0, out zeros 3:0",
        "",
        "module count(input [7:0] x, output [3:0] ones, zeros);
           assign ones = x[0] + x[1] + x[2] + x[3] + x[4] + x[5] + x[6] + x[7];
           assign zeros = x[7] ? 0 : x[6] ? 1 : x[5] ? 2 : x[4] ? 3 : x[3] ? 4 : x[2] ? 5 : x[1] ? 6 : x[0] ? 7 : 8;
         endmodule",
        &[
            way(
                "count_loops.v",
                "module counts(input [7:0] x, output reg [3:0] ones, output reg [3:0] zeros);
  integer i;
  reg seen;
  always @(x) begin
    ones = 0;
    zeros = 0;
    seen = 0;
    for (i = 7; i >= 0; i = i - 1) begin
      if (x[i]) ones = ones + 1;
      seen = seen | x[i];
      if (!seen) zeros = zeros + 1;
    end
  end
endmodule
",
                ("if (!seen) zeros", "if (seen) zeros"),
            ),
            way(
                "count_disable.v",
                "module counts(input [7:0] x, output reg [3:0] ones, output reg [3:0] zeros);
  integer i;
  always @* begin
    ones = 4'd0;
    for (i = 0; i < 8; i = i + 1)
      ones = ones + {3'b000, x[i]};
    zeros = 4'd8;
    begin : search
      for (i = 7; i >= 0; i = i - 1)
        if (x[i]) begin
          zeros = 7 - i;
          disable search;
        end
    end
  end
endmodule
",
                ("zeros = 7 - i", "zeros = 8 - i"),
            ),
            way(
                "count_break.sv",
                "module counts(input logic [7:0] x, output logic [3:0] ones, zeros);
  always_comb begin
    ones = $countones(x);
    zeros = 0;
    for (int i = 7; i >= 0; i--) begin
      if (x[i]) break;
      zeros++;
    end
  end
endmodule
",
                ("int i = 7", "int i = 6"),
            ),
            way(
                "count.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity counts is
  port (x : in std_logic_vector(7 downto 0); ones, zeros : out std_logic_vector(3 downto 0));
end counts;
architecture rtl of counts is
  function count(v : std_logic_vector) return natural is
    variable n : natural := 0;
  begin
    for i in v'range loop
      if v(i) = '1' then
        n := n + 1;
      end if;
    end loop;
    return n;
  end function;
begin
  ones <= std_logic_vector(to_unsigned(count(x), 4));
  process (x)
    variable n : unsigned(3 downto 0);
  begin
    n := (others => '0');
    for i in x'range loop
      exit when x(i) = '1';
      n := n + 1;
    end loop;
    zeros <= std_logic_vector(n);
  end process;
end rtl;
",
                ("exit when x(i) = '1'", "exit when x(i) = '0'"),
            ),
        ],
    );
}

#[test]
fn a_product_of_two_signed_words() {
    lab(
        "in a 3:0, in b 3:0, out p 7:0",
        "",
        "module mul(input signed [3:0] a, b, output signed [7:0] p); assign p = a * b; endmodule",
        &[
            way(
                "mul_signed.v",
                "module product(input signed [3:0] a, input signed [3:0] b, output signed [7:0] p);\n  assign p = a * b;\nendmodule\n",
                ("input signed [3:0] b", "input [3:0] b"),
            ),
            way(
                "mul_extend.v",
                "module product(input [3:0] a, b, output [7:0] p);
  wire [7:0] wide_a = {{4{a[3]}}, a};
  wire [7:0] wide_b = {{4{b[3]}}, b};
  assign p = wide_a * wide_b;
endmodule
",
                ("{{4{b[3]}}, b}", "{4'b0000, b}"),
            ),
            way(
                "mul_shift_add.v",
                "module product(input [3:0] a, b, output reg [7:0] p);
  reg [7:0] part;
  integer k;
  always @* begin
    p = 0;
    part = {{4{a[3]}}, a};
    for (k = 0; k < 3; k = k + 1) begin
      if (b[k]) p = p + part;
      part = part << 1;
    end
    if (b[3]) p = p - part;
  end
endmodule
",
                ("p = p - part", "p = p + part"),
            ),
            way(
                "mul.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity product is
  port (a, b : in std_logic_vector(3 downto 0); p : out std_logic_vector(7 downto 0));
end product;
architecture rtl of product is
begin
  p <= std_logic_vector(signed(a) * signed(b));
end rtl;
",
                ("signed(a) * signed(b)", "unsigned(a) * unsigned(b)"),
            ),
            way(
                "mul_magnitude.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity product is
  port (a, b : in std_logic_vector(3 downto 0); p : out std_logic_vector(7 downto 0));
end product;
architecture rtl of product is
  signal ma, mb : unsigned(3 downto 0);
  signal m : unsigned(7 downto 0);
begin
  ma <= unsigned(abs(signed(a)));
  mb <= unsigned(abs(signed(b)));
  m <= ma * mb;
  p <= std_logic_vector(-signed(m)) when (a(3) xor b(3)) = '1' else std_logic_vector(m);
end rtl;
",
                ("a(3) xor b(3)", "a(3) or b(3)"),
            ),
        ],
    );
}
