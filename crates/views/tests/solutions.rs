//! What labs ask for, as different people write it: each solution is held against a plain one, in both languages, and a
//! slip in the plain one shows.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use elab::HandInFile;
use verdict::ProofKind;
use views::equivalence;

fn files(name: &str, text: &str) -> Vec<HandInFile> {
    vec![HandInFile { name: name.into(), bytes: text.as_bytes().to_vec() }]
}

/// Each solution is proved to do what the plain one says, and to differ from it with a slip: what is written for what.
fn solved(plain: &str, slip: (&str, &str), solutions: &[(&str, &str)]) {
    assert!(plain.contains(slip.0), "`{}` is not in it", slip.0);
    let (right, wrong) = (files("plain.v", plain), files("slip.v", &plain.replacen(slip.0, slip.1, 1)));
    for (name, text) in solutions {
        let solution = files(name, text);
        let found = equivalence((&solution, None), (&right, None), &Budget::hand_in())
            .unwrap_or_else(|e| panic!("{name}: {e}"));
        assert_eq!(
            (found.equal, found.proof.kind),
            (Some(true), ProofKind::Proved),
            "{name}: {:?}",
            found.counterexample
        );
        let found = equivalence((&solution, None), (&wrong, None), &Budget::hand_in())
            .unwrap_or_else(|e| panic!("{name}: {e}"));
        assert_eq!(found.equal, Some(false), "{name} with `{}` for `{}`", slip.1, slip.0);
    }
}

#[test]
fn a_checksum_of_eight_bits() {
    solved(
        "module m(input clk, rst, input [7:0] d, input v, output reg [7:0] crc); integer i; reg [7:0] c;
 always @(posedge clk) if (rst) crc <= 0; else if (v) begin c = crc ^ d; for (i=0;i<8;i=i+1) c = c[7] ? (c << 1) ^ 8'h07 : c << 1; crc <= c; end endmodule",
        ("8'h07", "8'h05"),
        &[
            (
                "1.sv",
                "module m(input logic clk, rst, input logic [7:0] d, input logic v, output logic [7:0] crc);
 function automatic logic [7:0] next(logic [7:0] crc, logic [7:0] data); logic [7:0] r = crc ^ data; repeat (8) r = {r[6:0], 1'b0} ^ (8'h07 & {8{r[7]}}); return r; endfunction
 always_ff @(posedge clk) begin if (rst) crc <= '0; else if (v) crc <= next(crc, d); end endmodule",
            ),
            (
                "2.vhd",
                r#"library ieee; use ieee.std_logic_1164.all;
entity m is port (clk, rst : in std_logic; d : in std_logic_vector(7 downto 0); v : in std_logic; crc : out std_logic_vector(7 downto 0)); end;
architecture a of m is
 function step (c : std_logic_vector(7 downto 0); b : std_logic) return std_logic_vector is variable f : std_logic; variable r : std_logic_vector(7 downto 0);
 begin f := c(7) xor b; r := c(6 downto 0) & f; r(1) := c(0) xor f; r(2) := c(1) xor f; return r; end;
 signal r : std_logic_vector(7 downto 0);
begin process (clk) variable t : std_logic_vector(7 downto 0); begin if rising_edge(clk) then if rst = '1' then r <= x"00"; elsif v = '1' then t := r; for i in 7 downto 0 loop t := step(t, d(i)); end loop; r <= t; end if; end if; end process; crc <= r; end;"#,
            ),
            (
                "3.v",
                "module m(clk, rst, d, v, crc); input clk, rst, v; input [7:0] d; output [7:0] crc; reg [7:0] crc;
 wire [7:0] x = crc ^ d; wire [7:0] n;
 assign n[0] = x[0]^x[6]^x[7], n[1] = x[0]^x[1]^x[6], n[2] = x[0]^x[1]^x[2]^x[6], n[3] = x[1]^x[2]^x[3]^x[7], n[4] = x[2]^x[3]^x[4], n[5] = x[3]^x[4]^x[5], n[6] = x[4]^x[5]^x[6], n[7] = x[5]^x[6]^x[7];
 always @(posedge clk) case ({rst, v}) 2'b10, 2'b11: crc <= 8'd0; 2'b01: crc <= n; endcase endmodule",
            ),
        ],
    );
}

#[test]
fn a_number_as_three_digits() {
    solved(
        "module m(input [7:0] a, output [11:0] bcd); wire [3:0] h = a / 100, t = (a / 10) % 10, u = a % 10; assign bcd = {h, t, u}; endmodule",
        ("a / 100", "a / 99"),
        &[
            (
                "1.v",
                "module m(input [7:0] a, output reg [11:0] bcd); integer i;
 always @(a) begin bcd = 0; for (i = 7; i >= 0; i = i - 1) begin
  if (bcd[3:0] > 4) bcd[3:0] = bcd[3:0] + 3; if (bcd[7:4] > 4) bcd[7:4] = bcd[7:4] + 3; if (bcd[11:8] > 4) bcd[11:8] = bcd[11:8] + 3;
  bcd = {bcd[10:0], a[i]}; end end endmodule",
            ),
            (
                "2.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity m is port (a : in std_logic_vector(7 downto 0); bcd : out std_logic_vector(11 downto 0)); end;
architecture x of m is begin process (a) variable n : integer range 0 to 255; variable h, t : integer range 0 to 25; begin n := to_integer(unsigned(a)); h := 0; t := 0;
 while n >= 100 loop n := n - 100; h := h + 1; end loop; while n >= 10 loop n := n - 10; t := t + 1; end loop;
 bcd <= std_logic_vector(to_unsigned(h, 4)) & std_logic_vector(to_unsigned(t, 4)) & std_logic_vector(to_unsigned(n, 4)); end process; end;",
            ),
            (
                "3.sv",
                "module add3(input logic [3:0] i, output logic [3:0] o); always_comb if (i >= 5) o = i + 3; else o = i; endmodule
module m(input logic [7:0] a, output logic [11:0] bcd); logic [3:0] c1,c2,c3,c4,c5,c6,c7;
 add3 m1({1'b0,a[7:5]}, c1), m2({c1[2:0],a[4]}, c2), m3({c2[2:0],a[3]}, c3), m4({c3[2:0],a[2]}, c4), m5({c4[2:0],a[1]}, c5), m6({1'b0,c1[3],c2[3],c3[3]}, c6), m7({c6[2:0],c4[3]}, c7);
 assign bcd = {2'b0, c6[3], c7, c5, a[0]}; endmodule",
            ),
        ],
    );
}

#[test]
fn the_direction_of_a_turning_knob() {
    solved(
        "module m(input clk, rst, a, b, output reg [1:0] dir); reg [1:0] p; always @(posedge clk) if (rst) begin p <= 0; dir <= 0; end else begin p <= {a,b}; 
 case ({p, a, b}) 4'b0001, 4'b0111, 4'b1110, 4'b1000: dir <= 1; 4'b0010, 4'b1011, 4'b1101, 4'b0100: dir <= 2; default: dir <= 0; endcase end endmodule",
        ("4'b0111", "4'b0011"),
        &[
            (
                "1.vhd",
                r#"library ieee; use ieee.std_logic_1164.all;
entity m is port (clk, rst, a, b : in std_logic; dir : out std_logic_vector(1 downto 0)); end;
architecture x of m is type gray is (g00, g01, g11, g10); signal p : gray;
 function code(x, y : std_logic) return gray is begin case std_logic_vector'(x & y) is when "00" => return g00; when "01" => return g01; when "11" => return g11; when others => return g10; end case; end;
begin process (clk) variable d : integer; variable c : gray; begin if rising_edge(clk) then c := code(a, b); if rst = '1' then p <= g00; dir <= "00"; else
 d := (gray'pos(c) - gray'pos(p)) mod 4; p <= c; dir <= "00"; if d = 1 then dir <= "01"; elsif d = 3 then dir <= "10"; end if; end if; end if; end process; end;"#,
            ),
            (
                "2.sv",
                "module m(input logic clk, rst, a, b, output logic [1:0] dir); logic [1:0] p; wire up = (p[1] ^ b) & ~(p[0] ^ a); wire dn = ~(p[1] ^ b) & (p[0] ^ a);
 always_ff @(posedge clk) begin {p, dir} <= rst ? 4'b0 : {a, b, dn & ~up, up & ~dn}; end endmodule",
            ),
        ],
    );
}

#[test]
fn a_product_by_shifting_and_adding() {
    solved(
        "module m(input clk, rst, input [3:0] x, y, output reg [7:0] p, output reg done, input start); reg [3:0] n; reg [3:0] a; reg [7:0] b; 
 always @(posedge clk) if (rst) begin p <= 0; n <= 0; done <= 0; a <= 0; b <= 0; end else if (start) begin p <= 0; a <= x; b <= y; n <= 4; done <= 0; end
  else if (n != 0) begin if (a[0]) p <= p + b; a <= a >> 1; b <= b << 1; n <= n - 1; done <= n == 1; end else done <= 0; endmodule",
        ("b << 1", "b << 2"),
        &[
            (
                "1.sv",
                "module m(input logic clk, rst, input logic [3:0] x, y, output logic [7:0] p, output logic done, input logic start);
 typedef struct packed {logic [3:0] n; logic [3:0] a; logic [7:0] b, p; logic done;} s_t; s_t r, rin;
 always_comb begin rin = r; rin.done = 1'b0;
  if (start) rin = '{n: 4, a: x, b: 8'(y), p: 0, done: 0};
  else if (r.n) begin if (r.a[0]) rin.p = r.p + r.b; rin.a >>= 1; rin.b <<= 1; rin.n--; rin.done = rin.n == 0; end end
 always_ff @(posedge clk) r <= rst ? '0 : rin; assign p = r.p, done = r.done; endmodule",
            ),
            (
                "2.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity m is port (clk, rst : in std_logic; x, y : in unsigned(3 downto 0); p : out unsigned(7 downto 0); done : out std_logic; start : in std_logic); end;
architecture two_process of m is type reg is record n : natural range 0 to 4; a : unsigned(3 downto 0); b, p : unsigned(7 downto 0); done : std_logic; end record;
 constant init : reg := (0, (others => '0'), (others => '0'), (others => '0'), '0'); signal r, rin : reg;
begin comb : process (all) variable v : reg; begin v := r; v.done := '0';
 if start = '1' then v := init; v.n := 4; v.a := x; v.b := resize(y, 8);
 elsif r.n > 0 then if r.a(0) = '1' then v.p := r.p + r.b; end if; v.a := '0' & r.a(3 downto 1); v.b := r.b(6 downto 0) & '0'; v.n := r.n - 1; if v.n = 0 then v.done := '1'; end if; end if; rin <= v; end process;
 seq : process (clk) begin if rising_edge(clk) then if rst = '1' then r <= init; else r <= rin; end if; end if; end process; p <= r.p; done <= r.done; end;",
            ),
        ],
    );
}

#[test]
fn patterns_in_a_row_of_bits() {
    solved(
        "module m(input clk, rst, in, output o1, o2); reg [3:0] h; always @(posedge clk) if (rst) h <= 0; else h <= {h[2:0], in}; assign o1 = h == 4'b1011, o2 = h[2:0] == 3'b101 & in; endmodule",
        ("4'b1011", "4'b1001"),
        &[
            (
                "2.v",
                "module dff(input clk, rst, d, output reg q); always @(posedge clk) q <= d & ~rst; endmodule
module m(input clk, rst, in, output o1, o2); wire [3:0] h; 
 dff ff[3:0] (.clk(clk), .rst(rst), .d({h[2:0], in}), .q(h)); assign o1 = &{h[3], ~h[2], h[1:0]}; assign o2 = h[2] & !h[1] && h[0] & in; endmodule",
            ),
            (
                "3.sv",
                "module m(input logic clk, rst, in, output logic o1, o2); typedef enum {N, A1, A10, A101, A1011} st; st s, n; logic old;
 always_ff @(posedge clk) if (rst) {s} <= N; else s <= n;
 always_comb case (s) N: n = in ? A1 : N; A1: n = in ? A1 : A10; A10: n = in ? A101 : N; A101: n = in ? A1011 : A10; A1011: n = in ? A1 : A10; default: n = N; endcase
 assign o1 = s == A1011; assign o2 = s == A101 && in; endmodule",
            ),
        ],
    );
}

#[test]
fn lamps_at_a_crossing() {
    solved(
        "module m(input clk, rst, input car, output reg [2:0] main, side); reg [1:0] s; reg [2:0] t;
 always @(posedge clk) if (rst) begin s <= 0; t <= 0; end else case (s)
  0: if (car && t >= 4) begin s <= 1; t <= 0; end else if (t != 7) t <= t + 1;
  1: if (t == 1) begin s <= 2; t <= 0; end else t <= t + 1;
  2: if (!car || t == 5) begin s <= 3; t <= 0; end else t <= t + 1;
  3: if (t == 1) begin s <= 0; t <= 0; end else t <= t + 1; endcase
 always @* begin main = 3'b100; side = 3'b100; case (s) 0: main = 3'b001; 1: main = 3'b010; 2: side = 3'b001; 3: side = 3'b010; endcase end endmodule",
        ("t == 5", "t == 6"),
        &[
            (
                "1.vhd",
                r#"library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity m is port (clk, rst, car : in std_logic; main, side : out std_logic_vector(2 downto 0)); end m;
architecture fsm of m is
  type t_state is (MAIN_GREEN, MAIN_YELLOW, SIDE_GREEN, SIDE_YELLOW);
  signal state : t_state;
  constant RED : std_logic_vector(2 downto 0) := "100"; constant YELLOW : std_logic_vector(2 downto 0) := "010"; constant GREEN : std_logic_vector(2 downto 0) := "001";
  signal timer : integer range 0 to 7;
begin
  process (clk)
    procedure go (constant target : in t_state) is begin state <= target; timer <= 0; end procedure;
    procedure wait_more is begin if timer < 7 then timer <= timer + 1; end if; end procedure;
  begin
    if rising_edge(clk) then
      if rst = '1' then go(MAIN_GREEN);
      else
        case state is
          when MAIN_GREEN  => if car = '1' and timer >= 4 then go(MAIN_YELLOW); else wait_more; end if;
          when MAIN_YELLOW => if timer = 1 then go(SIDE_GREEN); else wait_more; end if;
          when SIDE_GREEN  => if car = '0' or timer = 5 then go(SIDE_YELLOW); else wait_more; end if;
          when SIDE_YELLOW => if timer = 1 then go(MAIN_GREEN); else wait_more; end if;
        end case;
      end if;
    end if;
  end process;
  with state select main <= GREEN when MAIN_GREEN, YELLOW when MAIN_YELLOW, RED when others;
  side <= GREEN when state = SIDE_GREEN else YELLOW when state = SIDE_YELLOW else RED;
end fsm;"#,
            ),
            (
                "2.sv",
                "module m(input logic clk, rst, car, output logic [2:0] main, side);
  typedef enum logic [3:0] {MG = 4'b0001, MY = 4'b0010, SG = 4'b0100, SY = 4'b1000} state_e; state_e s, n; logic [2:0] t, tn; logic expired;
  localparam [2:0] R = 3'b100, Y = 3'b010, G = 3'b001;
  always_ff @(posedge clk) if (rst) {s, t} <= {MG, 3'd0}; else begin s <= n; t <= tn; end
  always_comb begin
    n = s;
    unique case (1'b1)
      s[0]: if (car && t >= 3'd4) n = MY;
      s[1]: if (t == 3'd1) n = SG;
      s[2]: if (~car | t == 3'd5) n = SY;
      s[3]: if (t == 3'd1) n = MG;
      default: n = MG;
    endcase
    tn = (n != s) ? '0 : (s == MG && &t) ? t : t + 3'd1;
  end
  assign main = s[0] ? G : s[1] ? Y : R, side = s[2] ? G : s[3] ? Y : R;
endmodule",
            ),
        ],
    );
}

#[test]
fn a_machine_that_takes_coins_and_gives_change() {
    solved(
        "module m(input clk, rst, n, d, q, output reg open, output reg [3:0] change); reg [3:0] s; reg [4:0] x;
 always @(posedge clk) begin open <= 0; change <= 0; if (rst) s <= 0; else begin x = s + (n ? 1 : d ? 2 : q ? 5 : 0); if (x >= 6) begin open <= 1; change <= x - 6; s <= 0; end else s <= x; end end endmodule",
        ("d ? 2", "d ? 3"),
        &[
            (
                "2.v",
                "module m(clk, rst, n, d, q, open, change);
input clk, rst, n, d, q; output open; output [3:0] change; reg open; reg [3:0] change;
parameter C0 = 6'b000001, C5 = 6'b000010, C10 = 6'b000100, C15 = 6'b001000, C20 = 6'b010000, C25 = 6'b100000;
reg [5:0] state, next; reg o; reg [3:0] c;
always @(posedge clk) begin if (rst) begin state <= C0; open <= 1'b0; change <= 4'd0; end else begin state <= next; open <= o; change <= c; end end
always @(*) begin next = state; o = 0; c = 0;
 case (state)
 C0: casex ({n,d,q}) 3'b1xx: next = C5; 3'b01x: next = C10; 3'b001: next = C25; endcase
 C5: casex ({n,d,q}) 3'b1xx: next = C10; 3'b01x: next = C15; 3'b001: begin next = C0; o = 1; end endcase
 C10: casex ({n,d,q}) 3'b1xx: next = C15; 3'b01x: next = C20; 3'b001: begin next = C0; o = 1; c = 1; end endcase
 C15: casex ({n,d,q}) 3'b1xx: next = C20; 3'b01x: next = C25; 3'b001: begin next = C0; o = 1; c = 2; end endcase
 C20: casex ({n,d,q}) 3'b1xx: next = C25; 3'b01x: begin next = C0; o = 1; end 3'b001: begin next = C0; o = 1; c = 3; end endcase
 C25: casex ({n,d,q}) 3'b1xx: begin next = C0; o = 1; end 3'b01x: begin next = C0; o = 1; c = 1; end 3'b001: begin next = C0; o = 1; c = 4; end endcase
 default: next = C0; endcase end endmodule",
            ),
        ],
    );
}

#[test]
fn a_register_file_whose_first_one_is_zero() {
    solved(
        "module m(input clk, rst, we, input [1:0] wa, ra, rb, input [3:0] wd, output [3:0] a, b); reg [3:0] r1, r2, r3; 
 always @(posedge clk) if (rst) {r1, r2, r3} <= 0; else if (we) case (wa) 1: r1 <= wd; 2: r2 <= wd; 3: r3 <= wd; endcase
 assign a = ra == 0 ? 0 : ra == 1 ? r1 : ra == 2 ? r2 : r3, b = rb == 0 ? 0 : rb == 1 ? r1 : rb == 2 ? r2 : r3; endmodule",
        ("ra == 2 ? r2", "ra == 2 ? r1"),
        &[
            (
                "1.v",
                "module m(input clk, rst, we, input [1:0] wa, ra, rb, input [3:0] wd, output [3:0] a, b); reg [3:0] rf [3:0]; integer i;
 always @(posedge clk) begin if (rst) for (i = 0; i < 4; i = i + 1) rf[i] <= 4'b0; else if (we & (wa != 2'b00)) rf[wa] <= wd; end
 assign a = (ra != 0) ? rf[ra] : 0; assign b = (rb != 0) ? rf[rb] : 0; endmodule",
            ),
            (
                "2.vhd",
                r#"library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity m is port (clk, rst, we : in std_logic; wa, ra, rb : in std_logic_vector(1 downto 0); wd : in std_logic_vector(3 downto 0); a, b : out std_logic_vector(3 downto 0)); end;
architecture x of m is type rf_t is array (1 to 3) of std_logic_vector(3 downto 0); signal rf : rf_t;
 function sel (r : rf_t; i : std_logic_vector) return std_logic_vector is begin if unsigned(i) = 0 then return "0000"; else return r(to_integer(unsigned(i))); end if; end;
begin process (clk) begin if rising_edge(clk) then if rst = '1' then rf <= (others => "0000"); elsif we = '1' then for k in rf'range loop if k = to_integer(unsigned(wa)) then rf(k) <= wd; end if; end loop; end if; end if; end process;
 a <= sel(rf, ra); b <= sel(rf, rb); end;"#,
            ),
            (
                "3.sv",
                "module reg4(input logic clk, rst, en, input logic [3:0] d, output logic [3:0] q); always_ff @(posedge clk) if (rst) q <= 0; else if (en) q <= d; endmodule
module m(input logic clk, rst, we, input logic [1:0] wa, ra, rb, input logic [3:0] wd, output logic [3:0] a, b); logic [3:0][3:0] q; assign q[0] = '0;
 generate for (genvar i = 1; i < 4; i++) begin : regs reg4 r(.clk, .rst, .en(we && wa == i), .d(wd), .q(q[i])); end endgenerate assign a = q[ra], b = q[rb]; endmodule",
            ),
        ],
    );
}

#[test]
fn an_arithmetic_unit_with_its_flags() {
    solved(
        "module m(input [7:0] a, b, input [3:0] op, output reg [7:0] y, output reg c, output z, n, v); reg [8:0] t;
 always @* begin c = 0; t = 0; case (op) 0: begin t = a + b; y = t[7:0]; c = t[8]; end 1: begin t = a - b; y = t[7:0]; c = t[8]; end 2: y = a & b; 3: y = a | b; 4: y = a ^ b; 5: y = ~a; 6: begin y = {a[6:0], 1'b0}; c = a[7]; end 7: begin y = {a[7], a[7:1]}; c = a[0]; end 8: y = a < b; 9: y = ($signed(a) < $signed(b)); default: y = b; endcase end
 assign z = y == 0, n = y[7], v = op == 0 ? (a[7] == b[7] && y[7] != a[7]) : op == 1 ? (a[7] != b[7] && y[7] != a[7]) : 1'b0; endmodule",
        ("{a[7], a[7:1]}", "{1'b0, a[7:1]}"),
        &[
            (
                "1.vhd",
                r#"library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity m is port (a, b : in std_logic_vector(7 downto 0); op : in std_logic_vector(3 downto 0); y : out std_logic_vector(7 downto 0); c, z, n, v : out std_logic); end;
architecture x of m is signal r : std_logic_vector(8 downto 0); signal add, sub : signed(8 downto 0); begin
 add <= resize(signed(a), 9) + resize(signed(b), 9); sub <= resize(signed(a), 9) - signed(b);
 with op select r <= std_logic_vector(('0' & unsigned(a)) + unsigned(b)) when x"0", std_logic_vector(('0' & unsigned(a)) - unsigned(b)) when x"1", '0' & (a and b) when x"2", '0' & (a or b) when x"3", '0' & (a xor b) when x"4", '0' & not a when x"5", a & '0' when x"6", a(0) & a(7) & a(7 downto 1) when x"7",
  (0 => sub(8) xor (a(7) xor b(7)), others => '0') when x"8", (0 => sub(8), others => '0') when x"9", '0' & b when others;
 y <= r(7 downto 0); c <= r(8); n <= r(7); z <= not (or r(7 downto 0)); v <= add(8) xor add(7) when op = "0000" else sub(8) xor sub(7) when op = "0001" else '0'; end;"#,
            ),
            (
                "2.sv",
                "module m(input logic [7:0] a, b, input logic [3:0] op, output logic [7:0] y, output logic c, z, n, v); logic [7:0] bx; logic [8:0] sum; logic cin;
 assign cin = op == 4'd1; assign bx = b ^ {8{cin}}; assign sum = {1'b0, a} + bx + cin; 
 always_comb begin {c, y} = '0; case (op) inside 4'd0: {c, y} = sum; 4'd1: begin y = sum; c = ~sum[8]; end 4'd2: y = a & b; 4'd3: y = a | b; 4'd4: y = a ^ b; 4'd5: y = ~a; 4'd6: {c, y} = a << 1; 4'd7: {y, c} = {a[7], a}; 4'd8: y = 8'(a < b); 4'd9: y = 8'(signed'(a) < signed'(b)); [4'd10:4'd15]: y = b; endcase end
 assign {z, n} = {y == '0, y[7]}; assign v = op < 2 && (a[7] ~^ bx[7]) && (a[7] ^ y[7]); endmodule",
            ),
        ],
    );
}

#[test]
fn an_input_brought_to_the_clock() {
    solved(
        "module m(input clk, arst_n, d, output q, rise, fall); reg [2:0] s; always @(posedge clk or negedge arst_n) if (!arst_n) s <= 0; else s <= {s[1:0], d}; assign q = s[1], rise = s[1] & ~s[2], fall = ~s[1] & s[2]; endmodule",
        ("s[1] & ~s[2]", "s[0] & ~s[2]"),
        &[
            (
                "1.vhd",
                r#"library ieee; use ieee.std_logic_1164.all;
entity m is port (clk, arst_n, d : in std_logic; q, rise, fall : out std_logic); end;
architecture a of m is signal meta, sync, old : std_ulogic; attribute async_reg : string; attribute async_reg of meta, sync : signal is "true"; begin
 process (clk, arst_n) begin if not arst_n then meta <= '0'; sync <= '0'; old <= '0'; elsif rising_edge(clk) then meta <= d; sync <= meta; old <= sync; end if; end process;
 q <= sync; rise <= '1' when (sync and not old) = '1' else '0'; fall <= old and not sync; end;"#,
            ),
            (
                "2.v",
                "module m(clk, arst_n, d, q, rise, fall); input clk, arst_n, d; output q, rise, fall; wire a, b, c;
 fdc u1(.C(clk), .CLR(~arst_n), .D(d), .Q(a)); fdc u2(.C(clk), .CLR(~arst_n), .D(a), .Q(b)); fdc u3(.Q(c), .D(b), .C(clk), .CLR(~arst_n));
 buf (q, b); and (rise, b, !c); nor (fall, b, ~c); endmodule
module fdc(input C, CLR, D, output reg Q); always @(posedge C, posedge CLR) if (CLR) Q <= 0; else Q <= D; endmodule",
            ),
        ],
    );
}

#[test]
fn a_character_sent_bit_by_bit() {
    solved(
        "module m(input clk, rst, input [7:0] d, input go, output tx, output busy); reg [9:0] s; reg [3:0] n; assign tx = n == 0 ? 1'b1 : s[0], busy = n != 0;
 always @(posedge clk) if (rst) begin n <= 0; s <= 0; end else if (n == 0) begin if (go) begin s <= {1'b1, d, 1'b0}; n <= 10; end end else begin s <= s >> 1; n <= n - 1; end endmodule",
        ("n <= 10", "n <= 9"),
        &[
            (
                "1.vhd",
                "library ieee; use ieee.std_logic_1164.all;
entity m is port (clk, rst : in std_logic; d : in std_logic_vector(7 downto 0); go : in std_logic; tx, busy : out std_logic); end entity;
architecture a of m is
  type st is (idle, start, data, stop); signal s : st; signal r : std_logic_vector(d'range); signal i : natural range d'range;
begin
  process begin
    wait until rising_edge(clk);
    if rst = '1' then s <= idle;
    else
      case s is
        when idle  => if go = '1' then r <= d; s <= start; end if;
        when start => s <= data; i <= 0;
        when data  => r <= '1' & r(7 downto 1); if i = 7 then s <= stop; else i <= i + 1; end if;
        when stop  => s <= idle;
      end case;
    end if;
  end process;
  tx <= '0' when s = start else r(0) when s = data else '1';
  busy <= '0' when s = idle else '1';
end architecture;",
            ),
            (
                "2.sv",
                "module m(input logic clk, rst, input logic [7:0] d, input logic go, output logic tx, busy);
  enum {IDLE, START, BIT[8], STOP} s; logic [7:0] r;
  always_ff @(posedge clk) if (rst) s <= IDLE; else if (s == IDLE) begin if (go) begin s <= START; r <= d; end end else if (s == STOP) s <= IDLE; else if (s == START) s <= BIT0; else if (s == BIT7) s <= STOP; else case (s) BIT0: s <= BIT1; BIT1: s <= BIT2; BIT2: s <= BIT3; BIT3: s <= BIT4; BIT4: s <= BIT5; BIT5: s <= BIT6; default: s <= BIT7; endcase
  always_comb begin busy = s != IDLE; tx = 1; if (s == START) tx = 0; else if (s >= BIT0 && s <= BIT7) tx = r[s - BIT0]; end
endmodule",
            ),
            (
                "3.v",
                "module m(clk, rst, d, go, tx, busy); input clk, rst, go; input [7:0] d; output tx, busy; reg [3:0] cnt; reg [7:0] hold; reg tx;
always @ (posedge clk) begin : seq if (rst) cnt = 4'd0; else if (cnt == 0) begin if (go) begin hold = d; cnt = 4'd1; end end else if (cnt == 10) cnt = 0; else cnt = cnt + 4'd1; end
always @ (cnt or hold) case (cnt) 4'd1: tx = 1'b0; 4'd2, 4'd3, 4'd4, 4'd5, 4'd6, 4'd7, 4'd8, 4'd9: tx = hold[cnt - 2]; default: tx = 1'b1; endcase
assign busy = |cnt; endmodule",
            ),
        ],
    );
}

#[test]
fn a_sum_of_two_digits() {
    solved(
        "module m(input [3:0] a, b, input cin, output [3:0] s, output cout); wire [4:0] t = a + b + cin; wire c = t > 9; assign cout = c; assign s = c ? t + 6 : t[3:0]; endmodule",
        ("t > 9", "t > 10"),
        &[
            (
                "1.vhd",
                r#"library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity m is port (a, b : in std_logic_vector(3 downto 0); cin : in std_logic; s : out std_logic_vector(3 downto 0); cout : out std_logic); end;
architecture x of m is signal t, u : unsigned(4 downto 0); begin t <= resize(unsigned(a), 5) + unsigned(b) + ("" & cin); u <= t + 6 when t > 9 else t; s <= std_logic_vector(u(3 downto 0)); cout <= '1' when t > 9 else '0'; end;"#,
            ),
            (
                "2.v",
                "module add4(input [3:0] x, y, input ci, output [3:0] z, output co); assign {co, z} = x + y + ci; endmodule
module m(input [3:0] a, b, input cin, output [3:0] s, output cout); wire [3:0] z; wire k; add4 first(a, b, cin, z, k); assign cout = k | (z[3] & z[2]) | (z[3] & z[1]); add4 second(.x(z), .y({1'b0, cout, cout, 1'b0}), .ci(1'b0), .z(s), .co()); endmodule",
            ),
            (
                "3.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity m is port (a, b : in std_logic_vector(3 downto 0); cin : in std_logic; s : out std_logic_vector(3 downto 0); cout : out std_logic); end;
architecture x of m is begin process (a, b, cin) variable n : natural range 0 to 31; begin n := to_integer(unsigned(a)) + to_integer(unsigned(b)); if cin = '1' then n := n + 1; end if;
 if n >= 10 then cout <= '1'; s <= std_logic_vector(to_unsigned((n + 6) mod 16, 4)); else cout <= '0'; s <= std_logic_vector(to_unsigned(n, 4)); end if; end process; end;",
            ),
        ],
    );
}

#[test]
fn a_decoder_and_a_selector() {
    solved(
        "module m(input [2:0] s, input [7:0] d, input en, output y, output [7:0] o); assign y = en & d[s]; assign o = en ? 8'b1 << s : 0; endmodule",
        ("d[s]", "d[~s]"),
        &[
            (
                "1.v",
                "module dec2(input [1:0] a, input e, output [3:0] y); assign y[0] = e & ~a[1] & ~a[0], y[1] = e & ~a[1] & a[0], y[2] = e & a[1] & ~a[0], y[3] = e & a[1] & a[0]; endmodule
module m(s, d, en, y, o); input [2:0] s; input [7:0] d; input en; output y; output [7:0] o; wire lo, hi; not n0(lo_n, s[2]); and a0(lo, lo_n, en), a1(hi, s[2], en); dec2 d0(s[1:0], lo, o[3:0]), d1(s[1:0], hi, o[7:4]); assign y = |(o & d); endmodule",
            ),
            (
                "2.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity m is port (s : in std_logic_vector(2 downto 0); d : in std_logic_vector(7 downto 0); en : in std_logic; y : out std_logic; o : out std_logic_vector(7 downto 0)); end;
architecture x of m is signal oo : std_logic_vector(7 downto 0); begin
 g : for i in 0 to 7 generate begin oo(i) <= en when unsigned(s) = i else '0'; end generate; o <= oo; y <= or (oo and d); end;",
            ),
            (
                "3.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.std_logic_unsigned.all;
entity m is port (s : in std_logic_vector(2 downto 0); d : in std_logic_vector(7 downto 0); en : in std_logic; y : out std_logic; o : out std_logic_vector(7 downto 0)); end;
architecture x of m is begin process (s, d, en) begin o <= (others => '0'); y <= '0'; if en = '1' then o(conv_integer(s)) <= '1'; y <= d(conv_integer(s)); end if; end process; end;",
            ),
            (
                "5.sv",
                "module m(input logic [2:0] s, input logic [7:0] d, input logic en, output logic y, output logic [7:0] o); always_comb begin o = '0; y = 0; if (en) unique case (s) 0: {y, o} = {d[0], 8'h01}; 1: {y, o} = {d[1], 8'h02}; 2: {y, o} = {d[2], 8'h04}; 3: {y, o} = {d[3], 8'h08}; 4: {y, o} = {d[4], 8'h10}; 5: {y, o} = {d[5], 8'h20}; 6: {y, o} = {d[6], 8'h40}; 7: {y, o} = {d[7], 8'h80}; endcase end endmodule",
            ),
        ],
    );
}

#[test]
fn a_pulse_width_and_a_gray_code() {
    solved(
        "module m(input clk, rst, input [3:0] duty, output reg pwm, output [3:0] gray); reg [3:0] c; always @(posedge clk) if (rst) begin c <= 0; pwm <= 0; end else begin c <= c + 1; pwm <= c < duty; end assign gray = c ^ c >> 1; endmodule",
        ("c < duty", "c <= duty"),
        &[
            (
                "1.vhd",
                r#"library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity m is port (clk, rst : in std_logic; duty : in unsigned(3 downto 0); pwm : out std_logic; gray : out std_logic_vector(3 downto 0)); end;
architecture x of m is signal g : std_logic_vector(3 downto 0);
 function to_bin (v : std_logic_vector) return unsigned is variable b : unsigned(v'length - 1 downto 0); begin b(b'left) := v(v'left); for i in b'left - 1 downto 0 loop b(i) := b(i + 1) xor v(i); end loop; return b; end;
 function to_gray (b : unsigned) return std_logic_vector is begin return std_logic_vector(b xor ('0' & b(b'left downto 1))); end;
begin process (clk) begin if rising_edge(clk) then if rst = '1' then g <= "0000"; pwm <= '0'; else g <= to_gray(to_bin(g) + 1); if to_bin(g) < duty then pwm <= '1'; else pwm <= '0'; end if; end if; end if; end process; gray <= g; end;"#,
            ),
            (
                "2.v",
                "module m(clk, rst, duty, pwm, gray); input clk, rst; input [3:0] duty; output pwm; output [3:0] gray; reg pwm; reg [3:0] q; wire [3:0] t = {&q[2:0], &q[1:0], q[0], 1'b1}; integer i;
 always @(posedge clk) begin for (i = 0; i < 4; i = i + 1) q[i] <= (q[i] ^ t[i]) & ~rst; pwm <= !rst && (duty > q); end
 assign gray = {q[3], q[3:1] ^ q[2:0]}; endmodule",
            ),
        ],
    );
}

#[test]
fn comparisons_with_places_left_open() {
    solved(
        "module m(input [3:0] a, output y, z); assign y = a[3] & ~a[1]; assign z = a[3:2] == 1 || a == 10; endmodule",
        ("& ~a[1]", "& a[1]"),
        &[(
            "1.sv",
            "module m(input logic [3:0] a, output logic y, z); assign y = a ==? 4'b1?0?; assign z = a inside {4'b01??, 4'b1010}; endmodule",
        )],
    );
}
