//! Published circuits: the gate diagrams of standard parts held against the function tables of their data sheets (Texas
//! Instruments, The TTL Data Book; diagrams and tables from memory), what larger circuits made of them compute, a
//! sequential benchmark, a checksum and a code.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use elab::{HandInFile, SimulationRequest, run_simulation};
use verdict::{ProofKind, ProofMethod};
use views::equivalence;

fn files(text: &str) -> Vec<HandInFile> {
    vec![HandInFile { name: "part.v".into(), bytes: text.as_bytes().to_vec() }]
}

/// The top of the first text does what that of the second one does; the method that proved it.
fn equal(diagram: &str, top: &str, table: &str) -> Option<ProofMethod> {
    let (one, other) = (files(diagram), files(table));
    let found = equivalence((&one, Some(top)), (&other, None), &Budget::hand_in()).unwrap_or_else(|e| panic!("{e}"));
    assert_eq!(found.equal, Some(true), "{top}: {:?}", found.counterexample);
    found.proof.method
}

/// And with one gate changed it does not.
fn differs(diagram: &str, top: &str, table: &str, (from, to): (&str, &str)) {
    assert!(diagram.contains(from), "`{from}` is not in it");
    let (one, other) = (files(&diagram.replacen(from, to, 1)), files(table));
    let found = equivalence((&one, Some(top)), (&other, None), &Budget::hand_in()).unwrap_or_else(|e| panic!("{e}"));
    assert_eq!(found.equal, Some(false), "{top} with `{to}` for `{from}`");
    assert!(found.counterexample.is_some());
}

/// SN74283: carries are worked out from propagate and generate terms, all at once.
const ADDER: &str = "module sn74283(input [3:0] a, b, input c0, output [3:0] s, output c4);
  wire n0;
  wire [3:0] g, p, h, c;
  not (n0, c0);
  nand (g[0], a[0], b[0]), (g[1], a[1], b[1]), (g[2], a[2], b[2]), (g[3], a[3], b[3]);
  nor (p[0], a[0], b[0]), (p[1], a[1], b[1]), (p[2], a[2], b[2]), (p[3], a[3], b[3]);
  assign h = g & ~p;
  not (c[0], n0);
  wire t10, t20, t21, t30, t31, t32, t40, t41, t42, t43;
  and (t10, g[0], n0);
  nor (c[1], p[0], t10);
  and (t20, g[1], p[0]), (t21, g[1], g[0], n0);
  nor (c[2], p[1], t20, t21);
  and (t30, g[2], p[1]), (t31, g[2], g[1], p[0]), (t32, g[2], g[1], g[0], n0);
  nor (c[3], p[2], t30, t31, t32);
  and (t40, g[3], p[2]), (t41, g[3], g[2], p[1]), (t42, g[3], g[2], g[1], p[0]), (t43, g[3], g[2], g[1], g[0], n0);
  nor (c4, p[3], t40, t41, t42, t43);
  xor (s[0], h[0], c[0]), (s[1], h[1], c[1]), (s[2], h[2], c[2]), (s[3], h[3], c[3]);
endmodule
";

#[test]
fn the_four_bit_adder_adds() {
    let table =
        "module add(input [3:0] a, b, input c0, output [3:0] s, output c4); assign {c4, s} = a + b + c0; endmodule";
    assert_eq!(equal(ADDER, "sn74283", table), Some(ProofMethod::Exhaustive));
    differs(ADDER, "sn74283", table, ("(t31, g[2], g[1], p[0])", "(t31, g[2], g[0], p[0])"));
    differs(ADDER, "sn74283", table, ("nor (c[3]", "or (c[3]"));
}

/// SN7485: each pair of bits gives an exclusive NOR; the cascade inputs count where all pairs agree.
const COMPARATOR: &str = "module sn7485(input [3:0] a, b, input lt, eq, gt, output alb, aeb, agb);
  wire [3:0] n, x, up, down;
  nand (n[0], a[0], b[0]), (n[1], a[1], b[1]), (n[2], a[2], b[2]), (n[3], a[3], b[3]);
  and (up[0], a[0], n[0]), (up[1], a[1], n[1]), (up[2], a[2], n[2]), (up[3], a[3], n[3]);
  and (down[0], b[0], n[0]), (down[1], b[1], n[1]), (down[2], b[2], n[2]), (down[3], b[3], n[3]);
  nor (x[0], up[0], down[0]), (x[1], up[1], down[1]), (x[2], up[2], down[2]), (x[3], up[3], down[3]);
  wire all = x[3] & x[2] & x[1] & x[0];
  nor (agb, down[3], x[3] & down[2], x[3] & x[2] & down[1], x[3] & x[2] & x[1] & down[0], all & lt, all & eq);
  nor (alb, up[3], x[3] & up[2], x[3] & x[2] & up[1], x[3] & x[2] & x[1] & up[0], all & gt, all & eq);
  and (aeb, all, eq);
endmodule
";

#[test]
fn the_comparator_follows_its_function_table() {
    let table = "module cmp(input [3:0] a, b, input lt, eq, gt, output reg alb, aeb, agb);
      always @* if (a > b) {alb, aeb, agb} = 3'b001; else if (a < b) {alb, aeb, agb} = 3'b100;
        else if (eq) {alb, aeb, agb} = 3'b010; else {alb, aeb, agb} = {~gt, 1'b0, ~lt}; endmodule";
    assert_eq!(equal(COMPARATOR, "sn7485", table), Some(ProofMethod::Exhaustive));
    differs(COMPARATOR, "sn7485", table, ("x[3] & x[2] & down[1]", "x[3] & x[1] & down[1]"));
}

#[test]
fn comparators_in_a_chain_compare_longer_words() {
    let chain = format!(
        "{COMPARATOR}module wide(input [15:0] a, b, output less, same, more);
  wire [2:0] l, e, g;
  sn7485 u0(a[3:0], b[3:0], 1'b0, 1'b1, 1'b0, l[0], e[0], g[0]);
  sn7485 u1(a[7:4], b[7:4], l[0], e[0], g[0], l[1], e[1], g[1]);
  sn7485 u2(a[11:8], b[11:8], l[1], e[1], g[1], l[2], e[2], g[2]);
  sn7485 u3(a[15:12], b[15:12], l[2], e[2], g[2], less, same, more);
endmodule
"
    );
    let table = "module wide(input [15:0] a, b, output less, same, more); assign less = a < b, same = a == b, more = a > b; endmodule";
    assert_eq!(equal(&chain, "wide", table), Some(ProofMethod::Sat));
    differs(&chain, "wide", table, ("l[1], e[1], g[1], l[2]", "l[1], e[1], l[1], l[2]"));
}

/// SN74181, data active high: `cn` is 0 where one is to be added.
const ALU: &str = "module sn74181(input [3:0] a, b, s, input m, cn, output [3:0] f, output aeb, p, g, cn4);
  wire [3:0] x, y, c;
  wire arithmetic;
  not (arithmetic, m);
  genvar i;
  generate for (i = 0; i < 4; i = i + 1) begin : inputs
    nor (x[i], a[i] & b[i] & s[3], a[i] & s[2] & ~b[i]);
    nor (y[i], ~b[i] & s[1], s[0] & b[i], a[i]);
  end endgenerate
  nand (c[0], arithmetic, cn);
  nor (c[1], arithmetic & y[0], arithmetic & x[0] & cn);
  nor (c[2], arithmetic & y[1], arithmetic & x[1] & y[0], arithmetic & x[1] & x[0] & cn);
  nor (c[3], arithmetic & y[2], arithmetic & x[2] & y[1], arithmetic & x[2] & x[1] & y[0],
       arithmetic & x[2] & x[1] & x[0] & cn);
  assign f = (x ^ y) ^ c;
  and (aeb, f[0], f[1], f[2], f[3]);
  nand (p, x[0], x[1], x[2], x[3]);
  nor (g, y[3], y[2] & x[3], y[1] & x[2] & x[3], y[0] & x[1] & x[2] & x[3]);
  wire last;
  nand (last, x[0], x[1], x[2], x[3], cn);
  nand (cn4, g, last);
endmodule
";

/// The function table for data that are active high.
const ALU_TABLE: &str = "module alu(input [3:0] a, b, s, input m, cn, output [3:0] f, output aeb, output cn4);
  reg [3:0] logic_f;
  reg [4:0] sum;
  always @* begin
    case (s)
      4'h0: logic_f = ~a;        4'h1: logic_f = ~(a | b);  4'h2: logic_f = ~a & b;    4'h3: logic_f = 4'h0;
      4'h4: logic_f = ~(a & b);  4'h5: logic_f = ~b;        4'h6: logic_f = a ^ b;     4'h7: logic_f = a & ~b;
      4'h8: logic_f = ~a | b;    4'h9: logic_f = ~(a ^ b);  4'hA: logic_f = b;         4'hB: logic_f = a & b;
      4'hC: logic_f = 4'hF;      4'hD: logic_f = a | ~b;    4'hE: logic_f = a | b;     4'hF: logic_f = a;
    endcase
    case (s)
      4'h0: sum = a;                                4'h1: sum = a | b;
      4'h2: sum = {1'b0, a | ~b};                   4'h3: sum = 5'h0F;
      4'h4: sum = a + {1'b0, a & ~b};               4'h5: sum = (a | b) + {1'b0, a & ~b};
      4'h6: sum = a + {1'b0, ~b};                   4'h7: sum = {1'b0, a & ~b} + 5'h0F;
      4'h8: sum = a + {1'b0, a & b};                4'h9: sum = a + {1'b0, b};
      4'hA: sum = {1'b0, a | ~b} + {1'b0, a & b};   4'hB: sum = {1'b0, a & b} + 5'h0F;
      4'hC: sum = a + {1'b0, a};                    4'hD: sum = (a | b) + {1'b0, a};
      4'hE: sum = {1'b0, a | ~b} + {1'b0, a};       4'hF: sum = a + 5'h0F;
    endcase
    sum = sum + {4'b0, ~cn};
  end
  assign f = m ? logic_f : sum[3:0];
  assign aeb = &f;
  assign cn4 = ~sum[4];
endmodule
";

#[test]
fn the_arithmetic_and_logic_unit_follows_its_function_table() {
    // Without the outputs for a carry unit, which the table does not give.
    let plain = format!(
        "{ALU}module part(input [3:0] a, b, s, input m, cn, output [3:0] f, output aeb, cn4);
  wire p, g; sn74181 u(a, b, s, m, cn, f, aeb, p, g, cn4); endmodule
"
    );
    assert_eq!(equal(&plain, "part", ALU_TABLE), Some(ProofMethod::Exhaustive));
    differs(&plain, "part", ALU_TABLE, ("a[i] & s[2] & ~b[i]", "a[i] & s[2] & b[i]"));
    differs(&plain, "part", ALU_TABLE, ("arithmetic & x[2] & x[1] & y[0]", "arithmetic & x[2] & y[0]"));
}

/// SN74182: carries for four units from their generate and propagate outputs.
const CARRIES: &str = "module sn74182(input [3:0] g, p, input cn, output cx, cy, cz, output go, po);
  wire n = ~cn;
  nor (cx, g[0] & p[0], g[0] & n);
  nor (cy, g[1] & p[1], g[1] & g[0] & p[0], g[1] & g[0] & n);
  nor (cz, g[2] & p[2], g[2] & g[1] & p[1], g[2] & g[1] & g[0] & p[0], g[2] & g[1] & g[0] & n);
  assign go = (g[3] & p[3]) | (g[3] & g[2] & p[2]) | (g[3] & g[2] & g[1] & p[1]) | (g[3] & g[2] & g[1] & g[0]);
  assign po = p[3] | p[2] | p[1] | p[0];
endmodule
";

#[test]
fn four_units_in_a_chain_subtract_sixteen_bits() {
    // Data active high: the carries between the units are active low, so a borrow comes out high.
    let wide = format!(
        "{ALU}module wide(input [15:0] a, b, output [15:0] d, output borrow);
  wire [3:0] p, g;
  wire [3:1] c;
  wire [3:0] out, same;
  sn74181 u0(a[3:0], b[3:0], 4'h6, 1'b0, 1'b0, d[3:0], same[0], p[0], g[0], out[0]);
  sn74181 u1(a[7:4], b[7:4], 4'h6, 1'b0, out[0], d[7:4], same[1], p[1], g[1], out[1]);
  sn74181 u2(a[11:8], b[11:8], 4'h6, 1'b0, out[1], d[11:8], same[2], p[2], g[2], out[2]);
  sn74181 u3(a[15:12], b[15:12], 4'h6, 1'b0, out[2], d[15:12], same[3], p[3], g[3], out[3]);
  assign borrow = out[3];
endmodule
"
    );
    let table = "module wide(input [15:0] a, b, output [15:0] d, output borrow); assign {borrow, d} = a - b; endmodule";
    assert_eq!(equal(&wide, "wide", table), Some(ProofMethod::Sat));
    differs(&wide, "wide", table, ("1'b0, out[1], d[11:8]", "1'b0, out[0], d[11:8]"));
}

#[test]
fn the_carry_unit_makes_the_carries_of_its_equations() {
    // Carry into unit k: generated below, or passed on from the carry input; g and p are active low.
    let table = "module cla(input [3:0] g, p, input cn, output cx, cy, cz, output go, po);
      wire [3:0] m = ~g, t = ~p; wire [4:0] c;
      assign c[0] = cn; genvar k; generate for (k = 0; k < 4; k = k + 1) begin : chain
        assign c[k+1] = m[k] | (t[k] & c[k]); end endgenerate
      assign cx = c[1], cy = c[2], cz = c[3];
      assign po = ~&t, go = ~(m[3] | t[3] & m[2] | t[3] & t[2] & m[1] | t[3] & t[2] & t[1] & m[0]); endmodule";
    assert_eq!(equal(CARRIES, "sn74182", table), Some(ProofMethod::Exhaustive));
}

#[test]
fn decoder_and_priority_encoder_follow_their_function_tables() {
    let decoder = "module sn74138(input a, b, c, g1, g2a_n, g2b_n, output [7:0] y);
  wire en, na, nb, nc;
  and (en, g1, ~g2a_n, ~g2b_n);
  not (na, a), (nb, b), (nc, c);
  nand (y[0], nc, nb, na, en), (y[1], nc, nb, a, en), (y[2], nc, b, na, en), (y[3], nc, b, a, en);
  nand (y[4], c, nb, na, en), (y[5], c, nb, a, en), (y[6], c, b, na, en), (y[7], c, b, a, en);
endmodule
";
    let table = "module d(input a, b, c, g1, g2a_n, g2b_n, output reg [7:0] y);
      always @* begin y = 8'hFF; if (g1 && !g2a_n && !g2b_n) y[{c, b, a}] = 0; end endmodule";
    equal(decoder, "sn74138", table);
    differs(decoder, "sn74138", table, ("(y[5], c, nb, a, en)", "(y[5], c, b, a, en)"));
    // SN74148: inputs and outputs active low; input 7 comes first.
    let encoder = "module sn74148(input [7:0] i, input ei, output [2:0] a, output gs, eo);
  wire en = ~ei;
  assign eo = ~(en & i[0] & i[1] & i[2] & i[3] & i[4] & i[5] & i[6] & i[7]);
  assign gs = ~(en & eo);
  assign a[2] = ~(en & (~i[4] | ~i[5] | ~i[6] | ~i[7]));
  assign a[1] = ~(en & ((~i[2] & i[4] & i[5]) | (~i[3] & i[4] & i[5]) | ~i[6] | ~i[7]));
  assign a[0] = ~(en & ((~i[1] & i[2] & i[4] & i[6]) | (~i[3] & i[4] & i[6]) | (~i[5] & i[6]) | ~i[7]));
endmodule
";
    let table = "module p(input [7:0] i, input ei, output reg [2:0] a, output reg gs, eo);
      integer k; always @* begin a = 7; gs = 1; eo = 1;
        if (!ei) begin eo = 0; for (k = 0; k < 8; k = k + 1) if (!i[k]) begin a = ~k; gs = 0; eo = 1; end end end endmodule";
    assert_eq!(equal(encoder, "sn74148", table), Some(ProofMethod::Exhaustive));
    differs(encoder, "sn74148", table, ("(~i[5] & i[6])", "(~i[5])"));
}

/// ISCAS-89 s27 (Brglez, Bryan and Kozminski, 1989): ten gates and three flip-flops; netlist from memory.
const S27: &str = "module s27(input ck, g0, g1, g2, g3, output g17);
  reg g5 = 0, g6 = 0, g7 = 0;
  wire g8, g9, g10, g11, g12, g13, g14, g15, g16;
  always @(posedge ck) begin g5 <= g10; g6 <= g11; g7 <= g13; end
  not (g14, g0), (g17, g11);
  and (g8, g14, g6);
  or (g15, g12, g8), (g16, g3, g8);
  nand (g9, g16, g15);
  nor (g10, g14, g11), (g11, g5, g9), (g12, g1, g7), (g13, g2, g12);
endmodule
";

#[test]
fn the_smallest_sequential_benchmark_has_six_states_whatever_it_is_written_in() {
    // From 000 it reaches six of its eight states (from memory), each looked at with all sixteen inputs.
    let vhdl = "library ieee; use ieee.std_logic_1164.all;
      entity s27 is port (ck, g0, g1, g2, g3 : in std_logic; g17 : out std_logic); end;
      architecture a of s27 is
        signal q : std_logic_vector(5 to 7) := \"000\";
        signal g8, g9, g11, g12 : std_logic;
      begin
        g8 <= not g0 and q(6);
        g12 <= g1 nor q(7);
        g9 <= (g3 or g8) nand (g12 or g8);
        g11 <= q(5) nor g9;
        g17 <= not g11;
        process (ck) begin
          if rising_edge(ck) then q <= (g0 and not g11) & g11 & (g2 nor g12); end if;
        end process;
      end;";
    let one = files(S27);
    let other = vec![HandInFile { name: "s27.vhd".into(), bytes: vhdl.into() }];
    let found = equivalence((&one, None), (&other, None), &Budget::hand_in()).unwrap_or_else(|e| panic!("{e}"));
    assert_eq!((found.equal, found.proof.kind), (Some(true), ProofKind::Proved));
    assert_eq!(found.proof.rows, Some(6 * 16));
    for (from, to) in [("nand (g9", "nor (g9"), ("(g12, g1, g7)", "(g12, g1, g6)"), ("g6 <= g11", "g6 <= g10")] {
        let wrong = files(&S27.replacen(from, to, 1));
        let found = equivalence((&wrong, None), (&other, None), &Budget::hand_in()).unwrap_or_else(|e| panic!("{e}"));
        assert_eq!(found.equal, Some(false), "`{to}` for `{from}`");
    }
}

/// CRC-32 of IEEE 802.3, reflected: polynomial EDB88320, a bit a clock.
const SERIAL: &str = "module crc(input clk, input rst, input d, output reg [31:0] c);
  always @(posedge clk) if (rst) c <= 32'hffffffff; else c <= (c >> 1) ^ ((c[0] ^ d) ? 32'hedb88320 : 32'd0);
endmodule
";

#[test]
fn a_checksum_register_gives_the_check_value_of_its_standard() {
    // The check value of CRC-32 is that of the nine characters 123456789: CBF43926 (IEEE 802.3 polynomial; published in
    // every catalogue of checksums).
    let bench = "module tb; reg clk = 0, rst = 1, d = 0; wire [31:0] c; integer i, k; reg [7:0] ch;
      crc dut(clk, rst, d, c);
      initial begin #1 clk = 1; #1 clk = 0; rst = 0;
        for (i = 0; i < 9; i = i + 1) begin ch = \"1\" + i;
          for (k = 0; k < 8; k = k + 1) begin d = ch[k]; #1 clk = 1; #1 clk = 0; end end
        $display(\"%h\", ~c); $finish; end
    endmodule\n";
    let found =
        run_simulation(&files(&format!("{SERIAL}{bench}")), &SimulationRequest::default(), &Budget::hand_in()).unwrap();
    assert_eq!(found.output.trim(), "cbf43926");
}

#[test]
fn a_checksum_by_the_polynomials_taps_is_the_one_by_its_mask() {
    // x^32 + x^26 + x^23 + x^22 + x^16 + x^12 + x^11 + x^10 + x^8 + x^7 + x^5 + x^4 + x^2 + x + 1 (IEEE 802.3, 3.2.9).
    let powers = [26, 23, 22, 16, 12, 11, 10, 8, 7, 5, 4, 2, 1, 0];
    let mut lines = String::new();
    for bit in 0..32 {
        // Bit 31 - n of the reflected register is the factor of x^n.
        let above = if bit == 31 { "1'b0".to_owned() } else { format!("c[{}]", bit + 1) };
        let tap = if powers.contains(&(31 - bit)) { " ^ f" } else { "" };
        lines += &format!("    c[{bit}] <= {above}{tap};\n");
    }
    let taps = format!(
        "module crc(input clk, input rst, input d, output reg [31:0] c); wire f = c[0] ^ d;\n  \
         always @(posedge clk) if (rst) c <= {{32{{1'b1}}}}; else begin\n{lines}  end\nendmodule\n"
    );
    let (one, other) = (files(SERIAL), files(&taps));
    let found = equivalence((&one, None), (&other, None), &Budget::hand_in()).unwrap_or_else(|e| panic!("{e}"));
    assert_eq!((found.equal, found.proof.method), (Some(true), Some(ProofMethod::Induction)));
    let wrong = files(&taps.replacen(" ^ f", "", 1));
    let found = equivalence((&one, None), (&wrong, None), &Budget::hand_in()).unwrap_or_else(|e| panic!("{e}"));
    assert_eq!(found.equal, Some(false));
}

#[test]
fn a_single_error_is_corrected_by_the_parity_checks_of_its_code() {
    // Hamming (1950): check bits at places 1, 2 and 4; the checks that fail spell the place that is wrong.
    let corrected = "module ecc(input [3:0] d, input [2:0] at, output [3:0] q);
      wire p1 = d[3] ^ d[2] ^ d[0], p2 = d[3] ^ d[1] ^ d[0], p4 = d[2] ^ d[1] ^ d[0];
      wire [7:1] sent = {d[0], d[1], d[2], p4, d[3], p2, p1};
      wire [7:0] error = 8'd1 << at;
      wire [7:1] seen = sent ^ error[7:1];
      wire [2:0] place = {^seen[7:4], seen[7] ^ seen[6] ^ seen[3] ^ seen[2], seen[7] ^ seen[5] ^ seen[3] ^ seen[1]};
      wire [7:0] repair = 8'd1 << place;
      wire [7:1] right = seen ^ repair[7:1];
      assign q = {right[3], right[5], right[6], right[7]};
    endmodule";
    let plain = "module through(input [3:0] d, input [2:0] at, output [3:0] q); assign q = d; endmodule";
    assert_eq!(equal(corrected, "ecc", plain), Some(ProofMethod::Exhaustive));
    differs(corrected, "ecc", plain, ("{^seen[7:4]", "{^seen[6:4]"));
}
