//! The clocked blocks of a first course, each in several habits of both languages: what is right passes with a proof, and
//! a usual slip does not.

#![allow(clippy::too_many_lines, reason = "a lab is one test with its solutions")]

mod common;

use common::{lab, way};

/// A rising clock without a reset, one with a synchronous reset, one with an asynchronous one.
const CLOCK: &str = "[clock]\nport = \"clk\"\nedge = \"rising\"\n";
const SYNC: &str =
    "[clock]\nport = \"clk\"\nedge = \"rising\"\n[reset]\nport = \"rst\"\nactive = \"high\"\nkind = \"sync\"\n";
const ASYNC_LOW: &str =
    "[clock]\nport = \"clk\"\nedge = \"rising\"\n[reset]\nport = \"rst_n\"\nactive = \"low\"\nkind = \"async\"\n";

#[test]
fn a_counter_to_ten_with_enable_and_carry() {
    lab(
        "in clk, in rst, in en, out q 3:0, out tc",
        SYNC,
        "module ten(input clk, rst, en, output reg [3:0] q, output tc);
           always @(posedge clk) if (rst) q <= 0; else if (en) q <= q == 9 ? 0 : q + 1;
           assign tc = en & (q == 9); endmodule",
        &[
            way(
                "ten_plain.v",
                "module decade(input clk, input rst, input en, output reg [3:0] q, output tc);
  always @(posedge clk) begin
    if (rst)
      q <= 4'd0;
    else if (en) begin
      if (q == 4'd9)
        q <= 4'd0;
      else
        q <= q + 1'b1;
    end
  end
  assign tc = (q == 4'd9) && en;
endmodule
",
                ("if (q == 4'd9)", "if (q == 4'd10)"),
            ),
            way(
                "ten_two_blocks.sv",
                "module decade(input logic clk, rst, en, output logic [3:0] q, output logic tc);
  logic [3:0] next;
  always_ff @(posedge clk)
    if (rst) q <= '0;
    else     q <= next;
  always_comb begin
    next = q;
    tc = 1'b0;
    if (en) begin
      next = q + 4'd1;
      if (q >= 4'd9) begin
        next = '0;
        tc = 1'b1;
      end
    end
  end
endmodule
",
                ("if (rst) q <= '0;", "if (rst) q <= 4'd1;"),
            ),
            way(
                "ten_flip_flops.v",
                "module dff(input clk, rst, d, output reg q);
  always @(posedge clk) q <= rst ? 1'b0 : d;
endmodule
module decade(input clk, rst, en, output [3:0] q, output tc);
  wire [3:0] t;
  wire nine = q[3] & q[0];
  assign t[0] = en;
  assign t[1] = en & q[0] & ~q[3];
  assign t[2] = en & q[0] & q[1];
  assign t[3] = (en & q[0] & q[1] & q[2]) | (en & nine);
  dff f0(clk, rst, q[0] ^ t[0], q[0]);
  dff f1(clk, rst, q[1] ^ t[1], q[1]);
  dff f2(clk, rst, q[2] ^ t[2], q[2]);
  dff f3(clk, rst, q[3] ^ t[3], q[3]);
  assign tc = en & nine;
endmodule
",
                ("en & q[0] & ~q[3]", "en & q[0]"),
            ),
            way(
                "ten_integer.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity decade is
  port (clk, rst, en : in std_logic; q : out std_logic_vector(3 downto 0); tc : out std_logic);
end decade;
architecture rtl of decade is
  signal n : integer range 0 to 9 := 0;
begin
  process (clk)
  begin
    if rising_edge(clk) then
      if rst = '1' then
        n <= 0;
      elsif en = '1' then
        if n = 9 then
          n <= 0;
        else
          n <= n + 1;
        end if;
      end if;
    end if;
  end process;
  q <= std_logic_vector(to_unsigned(n, 4));
  tc <= '1' when n = 9 and en = '1' else '0';
end rtl;
",
                ("if n = 9 then", "if n = 8 then"),
            ),
            way(
                "ten_unsigned.vhd",
                "library ieee;
use ieee.std_logic_1164.all;
use ieee.std_logic_unsigned.all;
entity decade is
  port (clk, rst, en : in std_logic; q : out std_logic_vector(3 downto 0); tc : out std_logic);
end decade;
architecture old of decade is
  signal count : std_logic_vector(3 downto 0);
begin
  process (clk, rst)
  begin
    if (clk'event and clk = '1') then
      if (rst = '1') then
        count <= \"0000\";
      elsif (en = '1') then
        if (count = \"1001\") then
          count <= (others => '0');
        else
          count <= count + '1';
        end if;
      end if;
    end if;
  end process;
  q <= count;
  tc <= en and count(3) and not count(2) and not count(1) and count(0);
end old;
",
                ("count + '1'", "count + \"10\""),
            ),
            way(
                "ten_buffer.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity decade is
  generic (LAST : natural := 9);
  port (clk, rst, en : in std_logic; q : buffer unsigned(3 downto 0); tc : out std_logic);
end decade;
architecture rtl of decade is
begin
  process
  begin
    wait until rising_edge(clk);
    if rst = '1' then
      q <= (others => '0');
    elsif en = '1' then
      q <= q + 1;
      if q = LAST then
        q <= to_unsigned(0, q'length);
      end if;
    end if;
  end process;
  tc <= en when q = LAST else '0';
end rtl;
",
                ("LAST : natural := 9", "LAST : natural := 10"),
            ),
        ],
    );
}

#[test]
fn an_up_and_down_counter_that_loads() {
    lab(
        "in clk, in rst, in load, in down, in d 2:0, out q 2:0",
        SYNC,
        "module ud(input clk, rst, load, down, input [2:0] d, output reg [2:0] q);
           always @(posedge clk) if (rst) q <= 0; else if (load) q <= d; else q <= down ? q - 1 : q + 1; endmodule",
        &[
            way(
                "updown.v",
                "module updown(input clk, rst, load, down, input [2:0] d, output reg [2:0] q);
  always @(posedge clk)
    casez ({rst, load, down})
      3'b1??: q <= 3'd0;
      3'b01?: q <= d;
      3'b001: q <= q - 3'd1;
      3'b000: q <= q + 3'd1;
    endcase
endmodule
",
                ("3'b01?: q <= d", "3'b010: q <= d"),
            ),
            way(
                "updown_step.v",
                "module updown(input clk, rst, load, down, input [2:0] d, output [2:0] q);
  reg [2:0] r;
  wire [2:0] step = {3{down}} | 3'b001;
  always @(posedge clk) begin
    r <= r + step;
    if (load) r <= d;
    if (rst) r <= 0;
  end
  assign q = r;
endmodule
",
                ("if (load) r <= d;\n    if (rst) r <= 0;", "if (rst) r <= 0;\n    if (load) r <= d;"),
            ),
            way(
                "updown.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity updown is
  port (clk, rst, load, down : in std_logic; d : in std_logic_vector(2 downto 0); q : out std_logic_vector(2 downto 0));
end updown;
architecture rtl of updown is
  signal r, nxt : unsigned(2 downto 0);
begin
  reg : process (clk) begin
    if rising_edge(clk) then r <= nxt; end if;
  end process reg;
  nxt <= \"000\"      when rst = '1' else
         unsigned(d) when load = '1' else
         r - 1       when down = '1' else
         r + 1;
  q <= std_logic_vector(r);
end rtl;
",
                ("r - 1       when down = '1'", "r - 1       when down = '0'"),
            ),
        ],
    );
}

#[test]
fn a_shift_register_with_modes() {
    lab(
        "in clk, in rst_n, in mode 1:0, in d 3:0, in si, out q 3:0",
        ASYNC_LOW,
        "module sr(input clk, rst_n, input [1:0] mode, input [3:0] d, input si, output reg [3:0] q);
           always @(posedge clk, negedge rst_n) if (!rst_n) q <= 0; else case (mode)
             1: q <= {si, q[3:1]}; 2: q <= {q[2:0], si}; 3: q <= d; default: q <= q; endcase endmodule",
        &[
            way(
                "universal.v",
                "module universal(clk, rst_n, mode, d, si, q);
  input clk, rst_n, si;
  input [1:0] mode;
  input [3:0] d;
  output [3:0] q;
  reg [3:0] q;
  always @(posedge clk or negedge rst_n)
    if (~rst_n) q <= 4'b0;
    else
      case (mode)
        2'b00: q <= q;
        2'b01: begin q <= q >> 1; q[3] <= si; end
        2'b10: begin q <= q << 1; q[0] <= si; end
        2'b11: q <= d;
      endcase
endmodule
",
                ("negedge rst_n)\n    if (~rst_n)", "posedge rst_n)\n    if (rst_n)"),
            ),
            way(
                "universal_mux.sv",
                "module universal(input logic clk, rst_n, si, input logic [1:0] mode, input logic [3:0] d, output logic [3:0] q);
  typedef enum logic [1:0] {HOLD, RIGHT, LEFT, LOAD} mode_t;
  mode_t m;
  assign m = mode_t'(mode);
  always_ff @(posedge clk, negedge rst_n) begin
    if (!rst_n) q <= '0;
    else unique case (m)
      HOLD:  ;
      RIGHT: q <= {si, q[3:1]};
      LEFT:  q <= {q[2:0], si};
      LOAD:  q <= d;
    endcase
  end
endmodule
",
                ("{q[2:0], si}", "{si, q[2:0]}"),
            ),
            way(
                "universal.vhd",
                "library ieee; use ieee.std_logic_1164.all;
entity universal is
  port (clk, rst_n, si : in std_logic; mode : in std_logic_vector(1 downto 0); d : in std_logic_vector(3 downto 0);
        q : out std_logic_vector(3 downto 0));
end universal;
architecture rtl of universal is
  signal r : std_logic_vector(3 downto 0);
begin
  process (clk, rst_n)
  begin
    if rst_n = '0' then
      r <= (others => '0');
    elsif rising_edge(clk) then
      case mode is
        when \"01\" => r <= si & r(3 downto 1);
        when \"10\" => r <= r(2 downto 0) & si;
        when \"11\" => r <= d;
        when others => null;
      end case;
    end if;
  end process;
  q <= r;
end rtl;
",
                ("si & r(3 downto 1)", "r(0) & r(3 downto 1)"),
            ),
            way(
                "universal_bits.vhd",
                "library ieee; use ieee.std_logic_1164.all;
entity bit_cell is
  port (clk, rst_n : in std_logic; mode : in std_logic_vector(1 downto 0); above, below, load : in std_logic; q : out std_logic);
end bit_cell;
architecture rtl of bit_cell is
  signal r, x : std_logic;
begin
  with mode select x <= r when \"00\", above when \"01\", below when \"10\", load when others;
  process (clk, rst_n) begin
    if rst_n = '0' then r <= '0';
    elsif clk'event and clk = '1' then r <= x;
    end if;
  end process;
  q <= r;
end rtl;
library ieee; use ieee.std_logic_1164.all;
entity universal is
  port (clk, rst_n, si : in std_logic; mode : in std_logic_vector(1 downto 0); d : in std_logic_vector(3 downto 0);
        q : out std_logic_vector(3 downto 0));
end universal;
architecture structure of universal is
  signal w : std_logic_vector(5 downto 0);
begin
  w(0) <= si;
  w(5) <= si;
  cells : for i in 1 to 4 generate
    c : entity work.bit_cell port map (clk, rst_n, mode, w(i + 1), w(i - 1), d(i - 1), w(i));
  end generate;
  q <= w(4 downto 1);
end structure;
",
                ("above when \"01\", below when \"10\"", "below when \"01\", above when \"10\""),
            ),
        ],
    );
}

#[test]
fn a_ring_that_twists() {
    // The Johnson counter of four bits has eight states (common practice).
    lab(
        "in clk, in rst, out q 3:0",
        SYNC,
        "module ring(input clk, rst, output reg [3:0] q); always @(posedge clk) q <= rst ? 0 : {q[2:0], ~q[3]}; endmodule",
        &[
            way(
                "johnson.v",
                "module johnson(input clk, rst, output reg [3:0] q);
  integer i;
  always @(posedge clk)
    if (rst) q <= 4'b0000;
    else begin
      for (i = 1; i < 4; i = i + 1) q[i] <= q[i-1];
      q[0] <= !q[3];
    end
endmodule
",
                ("q[0] <= !q[3]", "q[0] <= q[3]"),
            ),
            way(
                "johnson_states.v",
                "module johnson(input clk, rst, output reg [3:0] q);
  reg [2:0] n;
  always @(posedge clk) if (rst) n <= 0; else n <= n + 3'd1;
  always @* case (n)
    0: q = 4'b0000;
    1: q = 4'b0001;
    2: q = 4'b0011;
    3: q = 4'b0111;
    4: q = 4'b1111;
    5: q = 4'b1110;
    6: q = 4'b1100;
    7: q = 4'b1000;
  endcase
endmodule
",
                ("5: q = 4'b1110", "5: q = 4'b0111"),
            ),
            way(
                "johnson.vhd",
                "library ieee; use ieee.std_logic_1164.all;
entity johnson is port (clk, rst : in std_logic; q : out std_logic_vector(3 downto 0)); end;
architecture rtl of johnson is
  signal r : std_logic_vector(3 downto 0) := (others => '0');
begin
  process begin
    wait until clk = '1';
    if rst = '1' then r <= \"0000\"; else r <= r(2 downto 0) & not r(3); end if;
  end process;
  q <= r;
end;
",
                ("wait until clk = '1'", "wait until clk = '0'"),
            ),
        ],
    );
}

#[test]
fn a_pulse_for_each_press() {
    lab(
        "in clk, in rst, in button, out pulse",
        SYNC,
        "module edges(input clk, rst, button, output pulse); reg a, b;
           always @(posedge clk) if (rst) {a, b} <= 0; else begin a <= button; b <= a; end
           assign pulse = a & ~b; endmodule",
        &[
            way(
                "press.v",
                "module press(input clk, rst, button, output pulse);
  reg [1:0] seen;
  always @(posedge clk)
    if (rst) seen <= 2'b00;
    else seen <= {seen[0], button};
  assign pulse = (seen == 2'b01);
endmodule
",
                ("seen == 2'b01", "seen == 2'b10"),
            ),
            way(
                "press_states.v",
                "module press(input clk, rst, button, output reg pulse);
  localparam IDLE = 2'd0, FIRST = 2'd1, HELD = 2'd2;
  reg [1:0] state, next;
  always @(posedge clk) if (rst) state <= IDLE; else state <= next;
  always @* begin
    next = state;
    pulse = 1'b0;
    case (state)
      IDLE:  if (button) next = FIRST;
      FIRST: begin pulse = 1'b1; next = button ? HELD : IDLE; end
      HELD:  if (!button) next = IDLE;
      default: next = IDLE;
    endcase
  end
endmodule
",
                ("next = button ? HELD : IDLE", "next = HELD"),
            ),
            way(
                "press.vhd",
                "library ieee; use ieee.std_logic_1164.all;
entity press is port (clk, rst, button : in std_logic; pulse : out std_logic); end press;
architecture rtl of press is
  signal now, before : std_logic;
begin
  process (clk) begin
    if rising_edge(clk) then
      if rst = '1' then
        now <= '0'; before <= '0';
      else
        now <= button;
        before <= now;
      end if;
    end if;
  end process;
  pulse <= now and not before;
end rtl;
",
                ("before <= now;", "before <= button;"),
            ),
            way(
                "press_variables.vhd",
                "library ieee; use ieee.std_logic_1164.all;
entity press is port (clk, rst, button : in std_logic; pulse : out std_logic); end press;
architecture rtl of press is
begin
  process (clk)
    variable now, before : std_logic := '0';
  begin
    if rising_edge(clk) then
      before := now;
      now := button;
      if rst = '1' then
        now := '0';
        before := '0';
      end if;
      pulse <= now and not before;
    end if;
  end process;
end rtl;
",
                ("before := now;\n      now := button;", "now := button;\n      before := now;"),
            ),
        ],
    );
}

#[test]
fn a_detector_of_a_sequence() {
    // 1011 with overlap, Mealy.
    lab(
        "in clk, in rst, in x, out z",
        SYNC,
        "module det(input clk, rst, x, output z); reg [2:0] h;
           always @(posedge clk) h <= rst ? 0 : {h[1:0], x}; assign z = (h == 3'b101) & x; endmodule",
        &[
            way(
                "detector_3.v",
                "module detector(input clk, input rst, input x, output reg z);
  parameter S0 = 2'b00, S1 = 2'b01, S10 = 2'b10, S101 = 2'b11;
  reg [1:0] state, next_state;

  always @(posedge clk)
    if (rst) state <= S0;
    else state <= next_state;

  always @(state or x)
    case (state)
      S0:   next_state = x ? S1 : S0;
      S1:   next_state = x ? S1 : S10;
      S10:  next_state = x ? S101 : S0;
      S101: next_state = x ? S1 : S10;
    endcase

  always @(state or x)
    z = (state == S101) && x;
endmodule
",
                ("S101: next_state = x ? S1 : S10", "S101: next_state = x ? S1 : S0"),
            ),
            way(
                "detector_1.v",
                "module detector(input clk, rst, x, output z);
  reg [1:0] s;
  always @(posedge clk)
    if (rst) s <= 0;
    else case (s)
      0: if (x) s <= 1;
      1: if (!x) s <= 2;
      2: if (x) s <= 3; else s <= 0;
      3: if (x) s <= 1; else s <= 2;
    endcase
  assign z = s == 3 ? x : 1'b0;
endmodule
",
                ("2: if (x) s <= 3; else s <= 0", "2: if (x) s <= 3"),
            ),
            way(
                "detector_hot.sv",
                "module detector(input logic clk, rst, x, output logic z);
  typedef enum logic [3:0] {A = 4'b0001, B = 4'b0010, C = 4'b0100, D = 4'b1000} state_t;
  state_t s, n;
  always_ff @(posedge clk) s <= rst ? A : n;
  always_comb begin
    z = 0;
    n = A;
    case (s)
      A: n = x ? B : A;
      B: n = x ? B : C;
      C: n = x ? D : A;
      D: begin
        n = x ? B : C;
        z = x;
      end
      default: n = A;
    endcase
  end
endmodule
",
                ("B: n = x ? B : C", "B: n = x ? C : B"),
            ),
            way(
                "detector_2.vhd",
                "library ieee;
use ieee.std_logic_1164.all;

entity detector is
  port ( clk, rst, x : in  std_logic;
         z           : out std_logic );
end entity detector;

architecture fsm of detector is
  type state_type is (idle, got1, got10, got101);
  signal state, nxt : state_type;
begin
  sync : process (clk)
  begin
    if rising_edge(clk) then
      if rst = '1' then
        state <= idle;
      else
        state <= nxt;
      end if;
    end if;
  end process sync;

  comb : process (state, x)
  begin
    z <= '0';
    nxt <= state;
    case state is
      when idle =>
        if x = '1' then nxt <= got1; end if;
      when got1 =>
        if x = '0' then nxt <= got10; end if;
      when got10 =>
        if x = '1' then nxt <= got101; else nxt <= idle; end if;
      when got101 =>
        z <= x;
        if x = '1' then nxt <= got1; else nxt <= got10; end if;
    end case;
  end process comb;
end architecture fsm;
",
                ("z <= x;", "z <= not x;"),
            ),
            way(
                "detector_1.vhd",
                "library ieee; use ieee.std_logic_1164.all;
entity detector is port (clk, rst, x : in std_logic; z : out std_logic); end detector;
architecture shift of detector is
  signal h : std_logic_vector(2 downto 0);
begin
  process (clk) begin
    if rising_edge(clk) then
      if rst = '1' then h <= \"000\"; else h <= h(1 downto 0) & x; end if;
    end if;
  end process;
  z <= x when h = \"101\" else '0';
end shift;
",
                ("h = \"101\"", "h = \"111\""),
            ),
        ],
    );
}

#[test]
fn a_crossing_of_two_lanes() {
    // A Moore machine that stays three ticks in each green and one in each yellow.
    lab(
        "in clk, in rst, out ns 2:0, out ew 2:0",
        SYNC,
        "module lights(input clk, rst, output reg [2:0] ns, ew); reg [2:0] t;
           always @(posedge clk) t <= rst ? 0 : t + 1;
           always @* case (t) 0, 1, 2: {ns, ew} = 6'b001_100; 3: {ns, ew} = 6'b010_100;
             4, 5, 6: {ns, ew} = 6'b100_001; 7: {ns, ew} = 6'b100_010; endcase endmodule",
        &[
            way(
                "lights.v",
                "module lights(input clk, rst, output reg [2:0] ns, ew);
  localparam [1:0] NS_GO = 0, NS_SLOW = 1, EW_GO = 2, EW_SLOW = 3;
  localparam RED = 3'b100, YELLOW = 3'b010, GREEN = 3'b001;
  reg [1:0] state;
  reg [1:0] timer;
  always @(posedge clk)
    if (rst) begin
      state <= NS_GO;
      timer <= 0;
    end else if ((state == NS_GO || state == EW_GO) && timer != 2)
      timer <= timer + 1;
    else begin
      timer <= 0;
      state <= state + 1;
    end
  always @* begin
    ns = RED;
    ew = RED;
    case (state)
      NS_GO:   ns = GREEN;
      NS_SLOW: ns = YELLOW;
      EW_GO:   ew = GREEN;
      EW_SLOW: ew = YELLOW;
    endcase
  end
endmodule
",
                ("timer != 2", "timer != 3"),
            ),
            way(
                "lights.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity lights is
  port (clk, rst : in std_logic; ns, ew : out std_logic_vector(2 downto 0));
end lights;
architecture rtl of lights is
  type phase is (ns_green, ns_yellow, ew_green, ew_yellow);
  signal p : phase;
  signal left : natural range 0 to 3;
  constant RED : std_logic_vector(2 downto 0) := \"100\";
begin
  process (clk)
  begin
    if rising_edge(clk) then
      if rst = '1' then
        p <= ns_green;
        left <= 2;
      elsif left /= 0 then
        left <= left - 1;
      else
        if p = ew_yellow then p <= ns_green; else p <= phase'succ(p); end if;
        case p is
          when ns_yellow | ew_yellow => left <= 2;
          when others => left <= 0;
        end case;
      end if;
    end if;
  end process;
  ns <= \"001\" when p = ns_green else \"010\" when p = ns_yellow else RED;
  ew <= \"001\" when p = ew_green else \"010\" when p = ew_yellow else RED;
end rtl;
",
                ("when others => left <= 0", "when others => left <= 1"),
            ),
        ],
    );
}

#[test]
fn a_register_file_of_four_words() {
    lab(
        "in clk, in we, in wa 1:0, in ra 1:0, in d 1:0, out q 1:0",
        CLOCK,
        "module rf(input clk, we, input [1:0] wa, ra, d, output [1:0] q); reg [1:0] m [0:3]; integer i;
           initial for (i = 0; i < 4; i = i + 1) m[i] = 0;
           always @(posedge clk) if (we) m[wa] <= d; assign q = m[ra]; endmodule",
        &[
            way(
                "file.v",
                "module file(input clk, we, input [1:0] wa, ra, d, output reg [1:0] q);
  reg [1:0] r0 = 0, r1 = 0, r2 = 0, r3 = 0;
  always @(posedge clk)
    if (we)
      case (wa)
        2'd0: r0 <= d;
        2'd1: r1 <= d;
        2'd2: r2 <= d;
        2'd3: r3 <= d;
      endcase
  always @*
    case (ra)
      2'd0: q = r0;
      2'd1: q = r1;
      2'd2: q = r2;
      default: q = r3;
    endcase
endmodule
",
                ("2'd2: r2 <= d", "2'd2: r1 <= d"),
            ),
            way(
                "file.vhd",
                "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity file_of_four is
  port (clk, we : in std_logic; wa, ra, d : in std_logic_vector(1 downto 0); q : out std_logic_vector(1 downto 0));
end entity;
architecture rtl of file_of_four is
  type store_t is array (0 to 3) of std_logic_vector(1 downto 0);
  signal store : store_t := (others => (others => '0'));
begin
  process (clk) begin
    if rising_edge(clk) then
      if we = '1' then
        store(to_integer(unsigned(wa))) <= d;
      end if;
    end if;
  end process;
  q <= store(to_integer(unsigned(ra)));
end architecture;
",
                ("if we = '1'", "if we = '0'"),
            ),
        ],
    );
}

#[test]
fn a_pseudo_random_register() {
    // x^4 + x^3 + 1 has the period 15 (common practice).
    lab(
        "in clk, in rst, out q 3:0",
        SYNC,
        "module lfsr(input clk, rst, output reg [3:0] q);
           always @(posedge clk) q <= rst ? 4'b0001 : {q[2:0], q[3] ^ q[2]}; endmodule",
        &[
            way(
                "lfsr.v",
                "module lfsr(input clk, input rst, output [3:0] q);
  reg [3:0] r;
  wire feedback;
  xor (feedback, r[3], r[2]);
  always @(posedge clk) begin
    if (rst == 1'b1) r <= 4'h1;
    else begin
      r[3] <= r[2]; r[2] <= r[1]; r[1] <= r[0]; r[0] <= feedback;
    end
  end
  assign q = r;
endmodule
",
                ("xor (feedback, r[3], r[2])", "xor (feedback, r[3], r[1])"),
            ),
            way(
                "lfsr.vhd",
                "library ieee; use ieee.std_logic_1164.all;
entity lfsr is port (clk, rst : in std_logic; q : out std_logic_vector(3 downto 0)); end lfsr;
architecture rtl of lfsr is
  signal r : std_logic_vector(1 to 4);
begin
  process (clk) begin
    if rising_edge(clk) then
      if rst = '1' then
        r <= (4 => '1', others => '0');
      else
        r <= r(2 to 4) & (r(1) xor r(2));
      end if;
    end if;
  end process;
  q <= r;
end rtl;
",
                ("(4 => '1', others => '0')", "(1 => '1', others => '0')"),
            ),
        ],
    );
}

#[test]
fn a_divider_with_a_parameter() {
    lab(
        "in clk, in rst, out slow",
        SYNC,
        "module div(input clk, rst, output reg slow); reg [2:0] n;
           always @(posedge clk) if (rst) {n, slow} <= 0; else if (n == 4) begin n <= 0; slow <= ~slow; end else n <= n + 1;
         endmodule",
        &[
            way(
                "div.v",
                "module divider #(parameter integer HALF = 5, parameter W = $clog2(HALF)) (input clk, rst, output reg slow);
  reg [W-1:0] n;
  wire last = (n == HALF - 1);
  always @(posedge clk)
    if (rst) n <= 0;
    else if (last) n <= 0;
    else n <= n + 1;
  always @(posedge clk)
    if (rst) slow <= 0;
    else if (last) slow <= ~slow;
endmodule
",
                ("n == HALF - 1", "n == HALF"),
            ),
            way(
                "div_down.v",
                "module divider(input clk, rst, output slow);
  reg [2:0] left;
  reg t;
  always @(posedge clk)
    if (rst) begin
      left <= 3'd4;
      t <= 1'b0;
    end
    else if (left == 0) begin
      left <= 3'd4;
      t <= !t;
    end
    else left <= left - 3'd1;
  assign slow = t;
endmodule
",
                ("left == 0) begin\n      left <= 3'd4", "left == 0) begin\n      left <= 3'd5"),
            ),
            way(
                "div.vhd",
                "library ieee; use ieee.std_logic_1164.all;
entity divider is
  generic (half : positive := 5);
  port (clk, rst : in std_logic; slow : out std_logic);
end divider;
architecture rtl of divider is
  signal n : integer range 0 to half - 1;
  signal s : std_logic;
begin
  process (clk)
  begin
    if rising_edge(clk) then
      if rst = '1' then
        n <= 0;
        s <= '0';
      elsif n = half - 1 then
        n <= 0;
        s <= not s;
      else
        n <= n + 1;
      end if;
    end if;
  end process;
  slow <= s;
end rtl;
",
                ("positive := 5", "positive := 4"),
            ),
        ],
    );
}

#[test]
fn a_serial_adder() {
    lab(
        "in clk, in rst, in a, in b, out s",
        SYNC,
        "module sa(input clk, rst, a, b, output s); reg c;
           always @(posedge clk) c <= rst ? 0 : (a & b) | (c & (a | b)); assign s = a ^ b ^ c; endmodule",
        &[
            way(
                "serial.v",
                "module serial_adder(input clk, rst, a, b, output s);
  reg carry;
  wire k;
  assign {k, s} = a + b + carry;
  always @(posedge clk)
    if (rst) carry <= 1'b0;
    else     carry <= k;
endmodule
",
                ("assign {k, s} = a + b + carry", "assign {k, s} = a + b"),
            ),
            way(
                "serial.vhd",
                "library ieee; use ieee.std_logic_1164.all;
entity serial_adder is port (clk, rst, a, b : in std_logic; s : out std_logic); end serial_adder;
architecture mealy of serial_adder is
  type carry_state is (none, one);
  signal c : carry_state;
begin
  process (clk) begin
    if rising_edge(clk) then
      if rst = '1' then
        c <= none;
      else
        case c is
          when none => if (a and b) = '1' then c <= one; end if;
          when one  => if (a or b) = '0' then c <= none; end if;
        end case;
      end if;
    end if;
  end process;
  s <= a xor b when c = none else a xnor b;
end mealy;
",
                ("if (a or b) = '0'", "if (a and b) = '0'"),
            ),
        ],
    );
}
