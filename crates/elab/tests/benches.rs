//! Testbenches as students and handbooks write them: what they print follows from the standards' rules of scheduling and
//! formatting (IEEE 1364-2005 clauses 11 and 17, IEEE 1076-2008 clauses 10 and 14).

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use elab::{HandInFile, SimulationRequest, run_simulation};

fn run(name: &str, text: &str) -> Vec<String> {
    let files = vec![HandInFile { name: name.into(), bytes: text.as_bytes().to_vec() }];
    let found = run_simulation(&files, &SimulationRequest::default(), &Budget::hand_in())
        .unwrap_or_else(|e| panic!("{e}\n{text}"));
    assert!(found.findings.iter().all(|f| f.severity != "stop"), "{:?}", found.findings);
    found.output.lines().map(str::to_owned).collect()
}

#[test]
fn a_monitor_prints_when_something_changes_and_once_a_time() {
    let text = "`timescale 1ns/1ns
module tb;
  reg a, b;
  wire y = a & b;
  initial $monitor(\"%0t a=%b b=%b y=%b\", $time, a, b, y);
  initial begin
    a = 0; b = 0;
    #10 a = 1;
    #10 b = 1;
    #10 a = 1;
    #10 a = 0; b = 0;
    #10 $finish;
  end
endmodule
";
    // At 30 nothing changes; at 40 both change and one line is printed (17.1.3).
    assert_eq!(run("tb.v", text), ["0 a=0 b=0 y=0", "10 a=1 b=0 y=0", "20 a=1 b=1 y=1", "40 a=0 b=0 y=0"]);
}

#[test]
fn non_blocking_assignments_exchange_and_blocking_ones_do_not() {
    let text = "module tb;
  reg [3:0] a, b, c, d;
  initial begin
    a = 1; b = 2; c = 1; d = 2;
    a <= b; b <= a;
    c = d; d = c;
    $display(\"%0d %0d %0d %0d\", a, b, c, d);
    $strobe(\"%0d %0d %0d %0d\", a, b, c, d);
    #1 $display(\"%0d %0d\", a, b);
  end
endmodule
";
    // `$display` sees the old values, `$strobe` those at the end of the time step (11.3, 17.1.2).
    assert_eq!(run("tb.v", text), ["1 2 2 2", "2 1 2 2", "2 1"]);
}

#[test]
fn numbers_are_padded_to_the_widest_value_and_show_unknown_digits() {
    let text = "module tb;
  reg [7:0] v; reg [11:0] w; reg signed [7:0] s; reg [15:0] t;
  initial begin
    v = 8'd9; w = 12'h0A5; s = -8'sd5; t = \"Hi\";
    $display(\"[%d] [%0d] [%h] [%0h] [%o] [%b]\", v, v, w, w, v, v);
    $display(\"[%d] [%0d] [%s] [%c]\", s, s, t, 8'h41);
    v = 8'b0000_10xx; w = 12'hzz5;
    $display(\"[%b] [%h] [%d] [%h]\", v, v, v, w);
    v = 8'bx; w = 12'bz;
    $display(\"[%h] [%d] [%h] [%d]\", v, v, w, w);
    $display(\"100%% of %m\");
    $display(v, w,, s);
  end
endmodule
";
    // 17.1.1: %d takes the room of the largest value; one unknown digit of several is X, all of them x.
    assert_eq!(
        run("tb.v", text),
        [
            "[  9] [9] [0a5] [a5] [011] [00001001]",
            "[  -5] [-5] [Hi] [A]",
            "[000010xx] [0X] [  X] [zz5]",
            "[xx] [  x] [zzz] [   z]",
            "100% of tb",
            "  x   z   -5",
        ]
    );
}

#[test]
fn a_counter_is_read_before_the_edge_and_after_it() {
    let text = "`timescale 1ns/100ps
module counter(input clk, input rst, output reg [2:0] q);
  always @(posedge clk or posedge rst) if (rst) q <= 0; else q <= q + 1;
endmodule
module tb;
  reg clk = 0, rst = 1;
  wire [2:0] q;
  integer errors = 0;
  counter dut(.clk(clk), .rst(rst), .q(q));
  always #5 clk = ~clk;
  initial begin
    #12 rst = 0;
    repeat (3) begin
      @(posedge clk);
      $display(\"%0t before %0d\", $time, q);
      #1 $display(\"%0t after %0d\", $time, q);
    end
    if (q !== 3'd3) errors = errors + 1;
    $display(\"%0d errors at %.1f\", errors, $realtime);
    $finish;
  end
endmodule
";
    // The block that waits for the edge is woken before the non-blocking update (11.4); times are in tenths for %t of this
    // time scale, which counts in the finest precision (17.3.2).
    assert_eq!(
        run("tb.v", text),
        [
            "150 before 0",
            "160 after 1",
            "250 before 1",
            "260 after 2",
            "350 before 2",
            "360 after 3",
            "0 errors at 36.0"
        ]
    );
}

#[test]
fn loops_tasks_and_waits_of_a_bench() {
    let text = "module tb;
  reg [1:0] a; reg go = 0; reg [7:0] log [0:3]; integer i;
  event ready;
  task show(input [1:0] v, output [7:0] r); begin r = {6'b0, v} * 10; #2; end endtask
  initial begin : stimulus
    for (i = 0; i < 4; i = i + 1) begin a = i; show(a, log[i]); end
    -> ready;
    wait (go);
    $display(\"went at %0d\", $time);
    begin : search
      for (i = 3; i >= 0; i = i - 1) if (log[i] < 25) disable search;
    end
    $display(\"%0d %0d\", i, log[i]);
    fork
      #3 $display(\"three\");
      #1 $display(\"one\");
      begin #2 $display(\"two\"); end
    join
    $display(\"joined at %0d\", $time);
    $finish;
  end
  initial begin @(ready); #5 go = 1; end
  initial forever begin #4; if ($time > 100) $stop; end
endmodule
";
    assert_eq!(run("tb.v", text), ["went at 13", "2 20", "one", "two", "three", "joined at 16"]);
}

#[test]
fn unknown_levels_go_through_operators_as_the_standard_says() {
    let text = "module tb;
  reg x; reg [3:0] v;
  initial begin
    x = 1'bx; v = 4'b10x0;
    $display(\"%b%b%b%b\", x & 1'b0, x & 1'b1, x | 1'b1, x ^ 1'b1);
    $display(\"%b %b %b\", v == 4'b1010, v == 4'b0010, v === 4'b10x0);
    $display(\"%b %b %b\", v + 4'd1, |v, &v);
    $display(\"%b %b\", x ? 4'b1100 : 4'b1010, !v);
    if (x) $display(\"taken\"); else $display(\"not taken\");
    casez (v) 4'b10?0: $display(\"casez\"); default: $display(\"default\"); endcase
    casex (v) 4'b1010: $display(\"casex\"); default: $display(\"default\"); endcase
  end
endmodule
";
    // 5.1.5 arithmetic, 5.1.8 equality, 5.1.10 bitwise, 5.1.11 reduction, 5.1.13 conditional, 9.4 if, 9.5 case.
    let wanted = ["0x1x", "x 0 1", "xxxx 1 0", "1xx0 0", "not taken", "casez", "casex"];
    assert_eq!(run("tb.v", text), wanted);
}

#[test]
fn a_vhdl_bench_reports_asserts_and_writes_lines() {
    let text = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all; use std.textio.all;
entity counter is port (clk, rst : in std_logic; q : out unsigned(2 downto 0)); end;
architecture rtl of counter is signal r : unsigned(2 downto 0) := (others => '0'); begin
  process (clk) begin if rising_edge(clk) then if rst = '1' then r <= \"000\"; else r <= r + 1; end if; end if; end process;
  q <= r;
end;
library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all; use std.textio.all;
entity tb is end;
architecture sim of tb is
  signal clk : std_logic := '0'; signal rst : std_logic := '1'; signal q : unsigned(2 downto 0);
  signal done : boolean := false;
begin
  dut : entity work.counter port map (clk => clk, rst => rst, q => q);
  clk <= not clk after 5 ns when not done else '0';
  process
    variable l : line;
  begin
    wait for 12 ns;
    rst <= '0';
    for k in 1 to 3 loop
      wait until rising_edge(clk);
      wait for 1 ns;
      write(l, string'(\"q = \"));
      write(l, to_integer(q));
      write(l, now, right, 8);
      writeline(output, l);
      assert to_integer(q) = k report \"q is \" & integer'image(to_integer(q)) severity error;
    end loop;
    assert q = 4 report \"not four: \" & integer'image(to_integer(q)) severity warning;
    report \"end at \" & time'image(now);
    done <= true;
    wait;
  end process;
end;
";
    let lines = run("tb.vhd", text);
    assert_eq!(&lines[..3], ["q = 1   16 ns", "q = 2   26 ns", "q = 3   36 ns"]);
    assert_eq!(lines.len(), 5, "{lines:?}");
    assert!(lines[3].contains("warning") && lines[3].contains("not four: 3"), "{}", lines[3]);
    assert!(lines[4].contains("end at 36000000 fs") || lines[4].contains("end at 36 ns"), "{}", lines[4]);
}

#[test]
fn a_vhdl_signal_changes_a_delta_later_and_a_variable_at_once() {
    let text = "use std.textio.all;
entity tb is end;
architecture sim of tb is signal s : integer := 1; begin
  process
    variable v : integer := 1; variable l : line;
    procedure say(t : string; n : integer) is begin write(l, t); write(l, n); writeline(output, l); end;
  begin
    s <= s + 1; v := v + 1;
    say(\"s=\", s); say(\"v=\", v);
    wait for 0 ns;
    say(\"s=\", s);
    s <= 7; s <= 8;
    wait for 0 ns;
    say(\"s=\", s);
    s <= transport 9 after 2 ns; s <= transport 10 after 1 ns;
    wait for 5 ns;
    say(\"s=\", s);
    wait;
  end process;
end;
";
    // 10.5.2: the last assignment to a driver counts; an earlier transaction takes later ones away.
    assert_eq!(run("tb.vhd", text), ["s=1", "v=2", "s=2", "s=8", "s=10"]);
}

/// IEEE 1076-2008 16.4: the justification, the field and, for a time, the unit.
#[test]
fn what_write_puts_fills_its_field_on_the_side_asked_for() {
    let text = "use std.textio.all;
entity tb is end;
architecture sim of tb is begin
  process
    variable l : line;
  begin
    wait for 12500 ps;
    write(l, string'(\"id\"), left, 6); write(l, 7, right, 4); write(l, string'(\"|\")); writeline(output, l);
    write(l, 123456, left, 3); write(l, true, field => 6, justified => right); writeline(output, l);
    write(l, now); write(l, now, right, 10, ps); write(l, now, right, 0, us); writeline(output, l);
    wait;
  end process;
end;
";
    assert_eq!(run("tb.vhd", text), ["id       7|", "123456  true", "12.5 ns  12500 ps0.0125 us"]);
}

/// IEEE 1076-2008 10.5.2: an element without a delay comes a delta later, and those behind it stay.
#[test]
fn a_waveform_may_begin_at_once() {
    let text = "entity tb is end;
architecture sim of tb is
  signal rst, d : bit; signal z : bit := '1';
begin
  z <= '0', '1' after 3 ns, '0' after 6 ns;
  process (z) begin report \"z \" & bit'image(z) & \" at \" & integer'image(now / 1 ns); end process;
  process begin
    rst <= '1', '0' after 12 ns;
    d <= '1'; d <= '0' after 5 ns;
    wait for 1 ns;
    report \"d \" & bit'image(d);
    wait until rst = '0';
    report \"low at \" & integer'image(now / 1 ns);
    d <= '1' after 4 ns; wait for 1 ns;
    d <= '0';
    wait for 9 ns;
    report \"d \" & bit'image(d);
    wait;
  end process;
end;
";
    let said: Vec<String> = run("tb.vhd", text).iter().map(|l| l.split(": ").last().unwrap().to_owned()).collect();
    assert_eq!(said, ["z '1' at 0", "z '0' at 0", "d '0'", "z '1' at 3", "z '0' at 6", "low at 12", "d '0'"]);
}

/// IEEE 1076-2008 4.2.2 (default values), 4.5 (overloading), 10.10 (the range of a loop is found once).
#[test]
fn procedures_take_defaults_and_names_and_are_told_apart_by_types() {
    let text = "library ieee; use ieee.std_logic_1164.all;
entity tb is end;
architecture sim of tb is
  signal v : std_logic_vector(3 downto 0);
  procedure check(got, want : std_logic_vector; name : string := \"v\") is begin
    if got = want then report name & \" ok\"; else report name & \" bad\"; end if;
  end;
  procedure check(got, want : integer) is begin
    report \"number \" & integer'image(got - want);
  end;
  procedure pulse(signal s : out std_logic_vector; constant len : time := 5 ns; level : std_logic := '1') is begin
    s <= (3 downto 0 => level); wait for len; s <= \"0000\"; wait for 1 ns;
  end;
  procedure count(n : natural := 2) is begin
    for i in 1 to n loop report \"turn \" & integer'image(i); wait for 1 ns; end loop;
  end;
begin
  process
    variable last : integer := 3;
  begin
    if is_x(v) then report \"unknown\"; end if;
    pulse(v); pulse(v, level => '0');
    if not is_x(v) then report \"known\"; end if;
    check(v, \"0000\"); check(v, \"0001\", \"other\"); check(want => 1, got => 4);
    count; count(1);
    for i in last downto 2 loop last := 0; next when i = 3; report \"down \" & integer'image(i); end loop;
    report \"at \" & integer'image(now / 1 ns);
    wait;
  end process;
end;
";
    let said: Vec<String> = run("tb.vhd", text).iter().map(|l| l.split(": ").last().unwrap().to_owned()).collect();
    let wanted = ["unknown", "known", "v ok", "other bad", "number 3", "turn 1", "turn 2", "turn 1", "down 2", "at 15"];
    assert_eq!(said, wanted);
}

/// IEEE 1800-2017 5.8: a number with a unit is a time, whatever the time scale.
#[test]
fn times_with_a_unit_are_what_they_say() {
    let text = "`timescale 1ns/1ps
module tb;
  reg a = 0;
  initial begin
    #1ns $display(\"%0t\", $time); #0.5us $display(\"%0t\", $time); #(10ns) $display(\"%0t\", $time);
    #1500ps $display(\"%0t\", $realtime);
  end
endmodule
";
    assert_eq!(run("tb.sv", text), ["1000", "501000", "511000", "512500"]);
}

/// IEEE 1076-2008 6.5.6.3: a port and its signal have one base type; their ranges may differ.
#[test]
fn whole_numbers_of_different_ranges_are_joined_at_ports() {
    let text = "entity step is generic (last : integer := 3);
  port (n : in integer range 0 to 15; up : out integer range 0 to 16; down : out integer range -1 to 14); end;
architecture r of step is begin up <= n + 1; down <= n - 1; end;
entity tb is end;
architecture sim of tb is
  signal n : integer := 0; signal up : natural; signal down : integer;
begin
  dut : entity work.step generic map (last => 5) port map (n => n, up => up, down => down);
  process begin
    wait for 1 ns; report integer'image(up) & \" \" & integer'image(down);
    n <= 15; wait for 1 ns; report integer'image(up) & \" \" & integer'image(down);
    wait;
  end process;
end;
";
    let said: Vec<String> = run("tb.vhd", text).iter().map(|l| l.split(": ").last().unwrap().to_owned()).collect();
    assert_eq!(said, ["1 -1", "16 14"]);
}

/// Texts with values in them as parameters (IEEE 1076-2008 4.2.2.2), and a severity that a variable holds (10.3).
#[test]
fn texts_and_severities_are_handed_to_procedures() {
    let text = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all; use std.textio.all;
package util is
  procedure log(msg : string; level : severity_level := note);
  procedure check_equal(got, want : unsigned; msg : string; errors : inout natural);
  function to_str(v : std_logic_vector) return string;
end package;
package body util is
  procedure log(msg : string; level : severity_level := note) is begin report msg severity level; end;
  procedure check_equal(got, want : unsigned; msg : string; errors : inout natural) is begin
    if got /= want then errors := errors + 1; log(msg & \": got \" & integer'image(to_integer(got)) & \", want \" & integer'image(to_integer(want)), error);
    else log(msg & \" ok\"); end if;
  end;
  function to_str(v : std_logic_vector) return string is
    variable r : string(1 to v'length); variable j : integer := 1;
  begin
    for i in v'range loop
      case v(i) is when '0' => r(j) := '0'; when '1' => r(j) := '1'; when 'Z' => r(j) := 'Z'; when others => r(j) := 'X'; end case;
      j := j + 1;
    end loop;
    return r;
  end;
end package body;
library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all; use work.util.all;
entity tb is end;
architecture t of tb is
  signal a : unsigned(3 downto 0) := \"0000\"; signal s : std_logic_vector(3 downto 0) := \"10ZX\";
begin
  process variable errors : natural := 0; begin
    for i in 0 to 2 loop
      a <= to_unsigned(i * i, 4); wait for 10 ns;
      check_equal(a, to_unsigned(i + i / 2 * 2, 4), \"square of \" & integer'image(i), errors);
    end loop;
    check_equal(a, \"0101\", \"last\", errors);
    log(\"s is \" & to_str(s));
    log(\"errors \" & integer'image(errors), warning);
    wait;
  end process;
end;
";
    let lines = run("tb.vhd", text);
    let told: Vec<&str> = lines.iter().map(|l| l.split_once(": ").unwrap().1).collect();
    let wanted = [
        "note at 10 ns: square of 0 ok",
        "note at 20 ns: square of 1 ok",
        "note at 30 ns: square of 2 ok",
        "error at 30 ns: last: got 4, want 5",
        "note at 30 ns: s is 10ZX",
        "warning at 30 ns: errors 1",
    ];
    assert_eq!(told, wanted);
}

/// IEEE 1076-2008 9.2.7: a time times a real number, either way round, or divided by one.
#[test]
fn times_are_scaled_by_real_constants() {
    let text = "entity tb is end;
architecture sim of tb is constant T : time := 10 ns; constant half : real := 0.5; begin
  process begin
    wait for T * 1.5; report integer'image(now / 1 ps);
    wait for 0.25 * T; report integer'image(now / 1 ps);
    wait for T * 3 / 2.0; report integer'image(now / 1 ps);
    wait for half * T * 2; report integer'image(now / 1 ps);
    wait;
  end process;
end;
";
    let said: Vec<String> = run("tb.vhd", text).iter().map(|l| l.split(": ").last().unwrap().to_owned()).collect();
    assert_eq!(said, ["15000", "17500", "32500", "42500"]);
}
