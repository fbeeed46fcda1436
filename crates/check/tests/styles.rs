//! Designs as students write them, in many habits of both languages: what is right passes, and the usual slip in each
//! does not.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use verdict::{ProofKind, VerdictKind};

/// A design, the slip in it (what is written for what), and where the slip is.
struct Style {
    file: &'static str,
    text: &'static str,
    slip: (&'static str, &'static str),
}

const fn style(file: &'static str, text: &'static str, slip: (&'static str, &'static str)) -> Style {
    Style { file, text, slip }
}

fn exercise(text: &str, reference: &'static str) -> Exercise {
    Exercise::load(text, &|_| Ok(reference.into())).unwrap_or_else(|e| panic!("{e}"))
}

fn hold(exercise: &Exercise, styles: &[Style]) {
    for Style { file, text, slip } in styles {
        let judged = |text: &str| {
            let files = vec![HandInFile { name: (*file).into(), bytes: text.into() }];
            check(exercise, &HandIn { files, ..HandIn::default() }).verdict
        };
        let found = judged(text);
        assert_eq!(found.verdict, VerdictKind::Pass, "{file}: {}", found.headline());
        assert_eq!(found.proof.kind, ProofKind::Proved, "{file}");
        let spoilt = text.replacen(slip.0, slip.1, 1);
        assert_ne!(spoilt, *text, "{file}: the slip is not in it");
        let found = judged(&spoilt);
        assert!(matches!(found.verdict, VerdictKind::Partly | VerdictKind::Fail), "{file}: {}", found.headline());
        assert!(!found.near_misses.is_empty(), "{file}: {} is not explained", found.headline());
    }
}

const ALU: &str = r##"format = "zesty-gate/exercise/1"
title = "Small ALU"
[[port]]
name = "op"
dir = "in"
range = "1:0"
[[port]]
name = "a"
dir = "in"
range = "3:0"
[[port]]
name = "b"
dir = "in"
range = "3:0"
[[port]]
name = "y"
dir = "out"
range = "3:0"
[[port]]
name = "zero"
dir = "out"
[behaviour]
kind = "reference"
files = ["alu_ref.v"]
"##;

const ALU_REFERENCE: &str = r##"module alu(input [1:0] op, input [3:0] a, b, output reg [3:0] y, output zero);
  always @* case (op) 0: y = a + b; 1: y = a - b; 2: y = a & b; 3: y = a | b; endcase
  assign zero = y == 0;
endmodule
"##;

const ALU_STYLES: &[Style] = &[
    style(
        "alu1.v",
        r##"`define ADD 2'b00
`define SUB 2'b01
`define AND 2'b10
`define OR  2'b11
module alu(op, a, b, y, zero);
  input [1:0] op;
  input [3:0] a, b;
  output [3:0] y;
  output zero;
  reg [3:0] y;
  always @(op or a or b)
    case (op)
      `ADD: y = a + b;
      `SUB: y = a - b;
      `AND: y = a & b;
      `OR : y = a | b;
      default: y = 4'bxxxx;
    endcase
  assign zero = ~|y;
endmodule
"##,
        (r##"y = a - b"##, r##"y = b - a"##),
    ),
    style(
        "alu2.sv",
        r##"typedef enum logic [1:0] {ADD, SUB, AND_, OR_} op_e;
module alu (input logic [1:0] op, input logic [3:0] a, b, output logic [3:0] y, output logic zero);
  op_e o;
  assign o = op_e'(op);
  always_comb begin
    unique case (o)
      ADD: y = a + b;
      SUB: y = a - b;
      AND_: y = a & b;
      OR_: y = a | b;
    endcase
    zero = (y == '0);
  end
endmodule
"##,
        (r##"y = a & b"##, r##"y = a | b"##),
    ),
    style(
        "alu3.v",
        r##"module full_adder(input x, y, cin, output s, cout);
  xor (s, x, y, cin);
  wire w1, w2, w3;
  and g1(w1, x, y), g2(w2, x, cin), g3(w3, y, cin);
  or (cout, w1, w2, w3);
endmodule
module alu #(parameter N = 4) (input wire [1:0] op, input wire [N-1:0] a, b, output reg [N-1:0] y, output wire zero);
  wire [N:0] c;
  wire [N-1:0] s, bb = b ^ {N{op[0]}};
  assign c[0] = op[0];
  genvar i;
  generate
    for (i = 0; i < N; i = i + 1) begin : stage
      full_adder fa(.x(a[i]), .y(bb[i]), .cin(c[i]), .s(s[i]), .cout(c[i+1]));
    end
  endgenerate
  always @(*) begin
    y = s;
    if (op == 2) y = a & b;
    else if (op == 3) y = a | b;
  end
  assign zero = (y == 0) ? 1'b1 : 1'b0;
endmodule
"##,
        (r##"{N{op[0]}}"##, r##"{N{op[1]}}"##),
    ),
    style(
        "alu4.vhd",
        r##"library IEEE;
use IEEE.STD_LOGIC_1164.ALL;
use IEEE.STD_LOGIC_ARITH.ALL;
use IEEE.STD_LOGIC_UNSIGNED.ALL;

entity ALU is
    Port ( op : in  STD_LOGIC_VECTOR (1 downto 0);
           A,B : in  STD_LOGIC_VECTOR (3 downto 0);
           Y : out  STD_LOGIC_VECTOR (3 downto 0);
           zero : out  STD_LOGIC);
end ALU;

architecture Behavioral of ALU is
signal res : std_logic_vector(3 downto 0);
begin
with op select
  res <= A + B when "00",
         A - B when "01",
         A and B when "10",
         A or B when others;
Y <= res;
zero <= '1' when res = 0 else '0';
end Behavioral;
"##,
        (r##"A and B when"##, r##"A or B when"##),
    ),
    style(
        "alu5.vhd",
        r##"library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
package alu_pkg is
  subtype word is unsigned(3 downto 0);
  type op_t is (op_add, op_sub, op_and, op_or);
  function decode(s : std_logic_vector(1 downto 0)) return op_t;
end package;
package body alu_pkg is
  function decode(s : std_logic_vector(1 downto 0)) return op_t is
  begin
    case s is
      when "00" => return op_add;
      when "01" => return op_sub;
      when "10" => return op_and;
      when others => return op_or;
    end case;
  end function;
end package body;
library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
use work.alu_pkg.all;
entity alu is
  generic (width : natural := 4);
  port (op : in std_logic_vector(1 downto 0);
        a, b : in std_logic_vector(width-1 downto 0);
        y : out std_logic_vector(width-1 downto 0);
        zero : out std_logic);
end entity;
architecture rtl of alu is
begin
  process (op, a, b)
    variable r : word;
  begin
    case decode(op) is
      when op_add => r := unsigned(a) + unsigned(b);
      when op_sub => r := unsigned(a) - unsigned(b);
      when op_and => r := unsigned(a and b);
      when op_or  => r := unsigned(a or b);
    end case;
    y <= std_logic_vector(r);
    if r = 0 then zero <= '1'; else zero <= '0'; end if;
  end process;
end architecture;
"##,
        (r##"if r = 0"##, r##"if r /= 0"##),
    ),
];

#[test]
fn a_small_arithmetic_unit_in_five_habits() {
    hold(&exercise(ALU, ALU_REFERENCE), ALU_STYLES);
}

const DETECTOR: &str = r##"format = "zesty-gate/exercise/1"
title = "Sequence 1011"
[[port]]
name = "clk"
dir = "in"
[[port]]
name = "reset"
dir = "in"
[[port]]
name = "din"
dir = "in"
[[port]]
name = "found"
dir = "out"
[clock]
port = "clk"
[reset]
port = "reset"
kind = "async"
[behaviour]
kind = "reference"
files = ["seq_ref.v"]
"##;

const DETECTOR_REFERENCE: &str = r##"module seq(input clk, reset, din, output found);
 reg [2:0] h; always @(posedge clk or posedge reset) if (reset) h <= 0; else h <= {h[1:0], din};
 reg [1:0] n;
 reg f; always @(posedge clk or posedge reset) if (reset) f <= 0; else f <= (h == 3'b101) & din;
 assign found = f;
endmodule
"##;

const DETECTOR_STYLES: &[Style] = &[
    style(
        "s1.v",
        r##"module seq_det(clk, reset, din, found);
input clk, reset, din;
output found;
reg found;
parameter S0=3'd0, S1=3'd1, S10=3'd2, S101=3'd3, S1011=3'd4;
reg [2:0] state, next;
always @(posedge clk, posedge reset)
  if (reset) state <= S0; else state <= next;
always @(state, din)
begin
  case(state)
   S0: if (din) next = S1; else next = S0;
   S1: if (din) next = S1; else next = S10;
   S10: if (din) next = S101; else next = S0;
   S101: if (din) next = S1011; else next = S10;
   S1011: if (din) next = S1; else next = S10;
   default: next = S0;
  endcase
end
always @(state) if (state == S1011) found = 1'b1; else found = 1'b0;
endmodule
"##,
        (r##"S1: if (din) next = S1"##, r##"S1: if (din) next = S0"##),
    ),
    style(
        "s2.vhd",
        r##"LIBRARY ieee;
USE ieee.std_logic_1164.ALL;
ENTITY seq IS
  PORT(clk, reset, din : IN std_logic;
       found : OUT std_logic);
END seq;
ARCHITECTURE fsm OF seq IS
  TYPE state_type IS (idle, got1, got10, got101, got1011);
  SIGNAL state : state_type;
  ATTRIBUTE enum_encoding : string;
  ATTRIBUTE enum_encoding OF state_type : TYPE IS "000 001 010 011 100";
BEGIN
  PROCESS (clk, reset)
  BEGIN
    IF reset = '1' THEN
      state <= idle;
    ELSIF clk'EVENT AND clk = '1' THEN
      CASE state IS
        WHEN idle => IF din = '1' THEN state <= got1; END IF;
        WHEN got1 | got1011 => IF din = '0' THEN state <= got10; ELSE state <= got1; END IF;
        WHEN got10 => IF din = '1' THEN state <= got101; ELSE state <= idle; END IF;
        WHEN got101 => IF din = '1' THEN state <= got1011; ELSE state <= got10; END IF;
      END CASE;
    END IF;
  END PROCESS;
  found <= '1' WHEN state = got1011 ELSE '0';
END fsm;
"##,
        (r##"ELSIF clk'EVENT AND clk = '1'"##, r##"ELSIF clk'EVENT AND clk = '0'"##),
    ),
    style(
        "s3.sv",
        r##"module seq #(parameter int W = 4, parameter logic [W-1:0] PAT = 4'b1011)
 (input logic clk, input logic reset, input logic din, output logic found);
 logic [W-1:0] sr;
 always_ff @(posedge clk or posedge reset)
   if (reset) sr <= '0;
   else sr <= {sr[W-2:0], din};
 assign found = sr == PAT;
endmodule
"##,
        (r##"PAT = 4'b1011"##, r##"PAT = 4'b1101"##),
    ),
    style(
        "s4.vhd",
        r##"library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity dff is port(d, clk, clr : in std_logic; q, qn : out std_logic); end;
architecture b of dff is signal r : std_logic := '0'; begin
 process(clk, clr) begin if clr = '1' then r <= '0'; elsif rising_edge(clk) then r <= d; end if; end process;
 q <= r; qn <= not r;
end;
library ieee; use ieee.std_logic_1164.all;
entity seq is port(clk, reset, din : in std_logic; found : out std_logic); end;
architecture struct of seq is
 component dff port(d, clk, clr : in std_logic; q, qn : out std_logic); end component;
 signal q : std_logic_vector(3 downto 0);
 signal qn : std_logic_vector(3 downto 0);
begin
 f0 : dff port map(din, clk, reset, q(0), qn(0));
 gen : for i in 1 to 3 generate
   f : dff port map(d => q(i-1), clk => clk, clr => reset, q => q(i), qn => open);
 end generate;
 found <= q(3) and not q(2) and q(1) and q(0);
end;
"##,
        (r##"and not q(2)"##, r##"and q(2)"##),
    ),
    style(
        "s5.v",
        r##"`timescale 1ns/1ps
`default_nettype none
module seq(input wire clk, input wire reset, input wire din, output reg found);
  localparam [4:0] A = 5'b00001, B = 5'b00010, C = 5'b00100, D = 5'b01000, E = 5'b10000;
  (* fsm_encoding = "one_hot" *) reg [4:0] cs = A, ns;
  always @(posedge clk or posedge reset) begin : state_reg
    if (reset == 1'b1) begin cs <= A; end
    else begin cs <= ns; end
  end
  always @* begin
    ns = cs; found = 0;
    case (1'b1) // synthesis parallel_case
      cs[0]: ns = din ? B : A;
      cs[1]: ns = din ? B : C;
      cs[2]: ns = din ? D : A;
      cs[3]: ns = din ? E : C;
      cs[4]: begin ns = din ? B : C; found = 1; end
    endcase
  end
endmodule
`default_nettype wire
"##,
        (r##"cs[3]: ns = din ? E : C"##, r##"cs[3]: ns = din ? E : A"##),
    ),
];

#[test]
fn a_sequence_detector_in_five_habits() {
    hold(&exercise(DETECTOR, DETECTOR_REFERENCE), DETECTOR_STYLES);
}
