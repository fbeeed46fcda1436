//! Testbenches run as their language's standard says: each case is a source and what it has to write, with the clause
//! that says so. IEEE 1364-2005 for Verilog, IEEE 1076-2008 for VHDL.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use elab::{HandInFile, SimulationRequest, run_simulation};

fn output(name: &str, source: &str) -> String {
    let files = [HandInFile { name: name.into(), bytes: source.into() }];
    let found = run_simulation(&files, &SimulationRequest::default(), &Budget::hand_in()).unwrap();
    let stops: Vec<&str> = found.findings.iter().filter(|f| f.severity == "stop").map(|f| f.message.as_str()).collect();
    assert!(stops.is_empty(), "{stops:?}\n{source}");
    found.output
}

/// What a Verilog module with this body writes.
#[track_caller]
fn verilog(clause: &str, body: &str, wanted: &str) {
    let source = format!("`timescale 1ns / 1ps\nmodule t;\n{body}\nendmodule\n");
    assert_eq!(output("t.sv", &source), wanted, "{clause}\n{source}");
}

/// What VHDL statements of one process write.
#[track_caller]
fn vhdl(clause: &str, declarations: &str, body: &str, wanted: &str) {
    let source = format!(
        "library ieee;\nuse ieee.std_logic_1164.all;\nuse ieee.numeric_std.all;\nuse std.textio.all;\n\
         entity t is end entity;\narchitecture a of t is\n{declarations}\nbegin\n  process\n    variable l : line;\n\
         begin\n{body}\n    wait;\n  end process;\nend architecture;\n"
    );
    assert_eq!(output("t.vhd", &source), wanted, "{clause}\n{source}");
}

#[test]
fn sizes_of_expressions_come_from_their_context() {
    // IEEE 1364-2005 5.4.1 and the example of 5.4.2.
    verilog(
        "5.4.2: the sum is computed at the width of its operands and target",
        "reg [3:0] a, b; reg [4:0] s; reg [3:0] h, g;\n\
         initial begin a = 12; b = 9; s = a + b; h = (a + b) >> 1; g = (a + b + 0) >> 1; $display(\"%0d %0d %0d\", s, h, g); end",
        "21 2 10\n",
    );
    verilog(
        "5.4.3: comparisons size their operands against each other",
        "reg [3:0] a; initial begin a = 4'hF; $display(\"%b %b\", a + 1 == 16, a + 4'd1 == 5'd16); end",
        "1 1\n",
    );
    verilog(
        "5.1.14: a concatenation's parts have sizes of their own",
        "reg [3:0] a, b; initial begin a = 9; b = 9; $display(\"%b\", {a + b}); end",
        "0010\n",
    );
    verilog(
        "5.4.1: a shift takes its width from the left operand only",
        "reg [3:0] a; reg [7:0] w; initial begin a = 4'b1001; w = a << 2; $display(\"%b %b\", w, a << 2); end",
        "00100100 0100\n",
    );
    verilog(
        "5.5.1: unsized numbers have at least 32 bits",
        "initial begin $display(\"%0d %h\", $bits(1), 'hF + 1); end",
        "32 00000010\n",
    );
}

#[test]
fn signs_follow_the_rules_of_clause_5_5() {
    verilog(
        "5.5.1: one unsigned operand makes the expression unsigned",
        "reg signed [3:0] a; reg [3:0] b; initial begin a = -1; b = 1; $display(\"%b %b\", a < b, a < $signed(b)); end",
        "0 1\n",
    );
    verilog(
        "5.5.1: a part select is unsigned even when it is the whole vector",
        "reg signed [3:0] a; reg [7:0] x, y; initial begin a = -1; x = a; y = a[3:0]; $display(\"%b %b\", x, y); end",
        "11111111 00001111\n",
    );
    verilog(
        "5.1.12: >>> keeps the sign of a signed left operand only",
        "reg signed [3:0] a; reg [3:0] b; initial begin a = -4; b = 4'b1100; $display(\"%b %b\", a >>> 1, b >>> 1); end",
        "1110 0110\n",
    );
    verilog(
        "5.1.5: the remainder has the sign of the first operand",
        "initial $display(\"%0d %0d %0d %0d\", 10 % 3, -10 % 3, 11 % -3, -7 / 2);",
        "1 -1 2 -3\n",
    );
    verilog(
        "4.8: integer is signed, reg is not; -12 / 3 differs (example of 5.1.3)",
        "integer i; reg [15:0] r; initial begin i = -12 / 3; r = -12; $display(\"%0d %0d\", i, r / 3); end",
        "-4 21841\n",
    );
    verilog(
        "5.1.13: both arms of ?: set the sign",
        "reg signed [3:0] a; reg [7:0] x, y; initial begin a = -1; x = 1 ? a : 4'sd0; y = 1 ? a : 4'd0; $display(\"%b %b\", x, y); end",
        "11111111 00001111\n",
    );
}

#[test]
fn unknown_bits_spread_as_clause_5_1_says() {
    verilog(
        "5.1.5: one unknown bit makes a sum unknown",
        "reg [3:0] a; initial begin a = 4'b00x1; $display(\"%b %b\", a + 1'b0, a & 4'b0001); end",
        "xxxx 0001\n",
    );
    verilog(
        "5.1.8: == is unknown unless the known bits differ, === compares levels",
        "reg [1:0] a; initial begin a = 2'b1x; $display(\"%b %b %b %b\", a == 2'b10, a == 2'b00, a === 2'b1x, a !== 2'b10); end",
        "x 0 1 1\n",
    );
    verilog(
        "5.1.9: a known operand decides && and ||",
        "reg a; initial begin a = 1'bx; $display(\"%b %b %b\", a && 1'b0, a || 1'b1, a && 1'b1); end",
        "0 1 x\n",
    );
    verilog(
        "5.1.11: reductions of unknown bits",
        "reg [3:0] a; initial begin a = 4'b0x10; $display(\"%b %b %b\", &a, |a, ^a); end",
        "0 1 x\n",
    );
    verilog(
        "5.1.13: an unknown condition merges both arms",
        "reg c; initial begin c = 1'bx; $display(\"%b\", c ? 4'b1100 : 4'b1010); end",
        "1xx0\n",
    );
    verilog(
        "9.4: an unknown condition takes the else branch",
        "reg c; initial begin if (c) $display(\"then\"); else $display(\"else\"); end",
        "else\n",
    );
    verilog(
        "5.2.1: a bit outside the vector is x",
        "reg [3:0] a; integer i; initial begin a = 15; i = 7; $display(\"%b %b\", a[i], a[2]); end",
        "x 1\n",
    );
    verilog(
        "9.5.1: casez ignores z and ?, casex x too, case neither",
        "reg [1:0] s; initial begin s = 2'b1z; casez (s) 2'b10: $display(\"z\"); default: $display(\"-\"); endcase\n\
         s = 2'b1x; casez (s) 2'b10: $display(\"z\"); default: $display(\"-\"); endcase\n\
         casex (s) 2'b10: $display(\"x\"); default: $display(\"-\"); endcase\n\
         case (s) 2'b1x: $display(\"=\"); default: $display(\"-\"); endcase end",
        "z\n-\nx\n=\n",
    );
}

#[test]
fn the_stratified_queue_orders_what_happens_at_one_time() {
    verilog(
        "9.2.2: non-blocking assignments swap",
        "reg [3:0] a, b; initial begin a = 1; b = 2; a <= b; b <= a; #1 $display(\"%0d %0d\", a, b); end",
        "2 1\n",
    );
    verilog(
        "11.3: $display sees the value before, $strobe the one after non-blocking updates",
        "reg a; initial begin a = 0; a <= 1; $strobe(\"s%b\", a); $display(\"d%b\", a); end",
        "d0\ns1\n",
    );
    verilog(
        "11.3: #0 comes after the active events and before non-blocking updates",
        "reg a; initial begin a = 0; a <= 1; #0 $display(\"%b\", a); end\ninitial a = 1'bx;",
        "x\n",
    );
    verilog(
        "17.1.3: $monitor speaks at the end of each time in which something changed",
        "reg [1:0] a; initial begin $monitor(\"%0t %b\", $time, a); a = 0; a = 1; #5 a = 2; #5 a = 2; #5 a = 3; #1 $finish; end",
        "0 01\n5000 10\n15000 11\n",
    );
    verilog(
        "9.7.7: the value is taken before the delay within an assignment",
        "reg [3:0] a, b; initial begin a = 3; b = #5 a; $display(\"%0d %0d\", $time, b); end initial #2 a = 9;",
        "5 3\n",
    );
    verilog(
        "9.7: posedge is also 0 to x and x to 1",
        "reg c; integer n; initial n = 0; always @(posedge c) n = n + 1;\n\
         initial begin c = 0; #1 c = 1'bx; #1 c = 1; #1 c = 0; #1 c = 1; #1 $display(\"%0d\", n); $finish; end",
        "3\n",
    );
    verilog(
        "9.7.3: named events",
        "event e; initial begin #3 -> e; #4 -> e; end always @e $display(\"%0t\", $time);",
        "3000\n7000\n",
    );
    verilog(
        "9.7.6: wait goes on at once when its condition holds",
        "reg a; initial begin a = 1; wait (a) $display(\"%0d\", $time); wait (!a) $display(\"%0d\", $time); end initial #4 a = 0;",
        "0\n4\n",
    );
}

#[test]
fn nets_have_strengthless_delays_and_several_drivers() {
    verilog(
        "6.1.3: a pulse shorter than the delay does not pass",
        "reg a; wire y; assign #5 y = a;\n\
         initial begin $monitor(\"%0t %b\", $time, y); a = 0; #10 a = 1; #3 a = 0; #20 a = 1; #20 $finish; end",
        "0 x\n5000 0\n38000 1\n",
    );
    verilog(
        "4.6.1: two drivers that differ make x, z gives way",
        "reg a, b; wire y = a; assign y = b; initial begin a = 1; b = 0; #1 $display(\"%b\", y); b = 1'bz; #1 $display(\"%b\", y); end",
        "x\n1\n",
    );
    verilog(
        "4.6.2: wand and wor",
        "reg a, b; wand w; wor o; assign w = a; assign w = b; assign o = a; assign o = b;\n\
         initial begin a = 1; b = 0; #1 $display(\"%b%b\", w, o); end",
        "01\n",
    );
    verilog(
        "7.4: bufif1 lets go of its net",
        "reg d, e; wire y; bufif1 (y, d, e); initial begin d = 1; e = 0; #1 $display(\"%b\", y); e = 1; #1 $display(\"%b\", y); end",
        "z\n1\n",
    );
    verilog("4.6.5: supply nets", "supply1 p; supply0 g; initial #1 $display(\"%b%b\", p, g);", "10\n");
}

#[test]
fn loops_tasks_functions_and_blocks() {
    verilog(
        "9.6: for, while, repeat",
        "integer i, n; initial begin n = 0; for (i = 0; i < 4; i = i + 1) n = n + i; while (n > 2) n = n - 2; repeat (3) n = n * 2; $display(\"%0d %0d\", i, n); end",
        "4 16\n",
    );
    verilog(
        "10.3: disable leaves a named block",
        "integer i; initial begin : out for (i = 0; i < 10; i = i + 1) begin : turn if (i == 2) disable turn; if (i == 4) disable out; $display(\"%0d\", i); end end",
        "0\n1\n3\n",
    );
    verilog(
        "10.4.5: automatic functions may call themselves",
        "function automatic integer fact; input integer n; fact = n <= 1 ? 1 : n * fact(n - 1); endfunction\n\
         initial $display(\"%0d %0d\", fact(5), fact(10));",
        "120 3628800\n",
    );
    verilog(
        "10.2: tasks may wait and write their outputs back at their end",
        "reg [3:0] r; task add; input [3:0] a, b; output [3:0] s; begin #3 s = a + b; end endtask\n\
         initial begin add(2, 5, r); $display(\"%0d at %0d\", r, $time); end",
        "7 at 3\n",
    );
    verilog(
        "9.6: forever is left by disable; repeat of a negative count does nothing",
        "integer n; initial begin n = 0; repeat (-3) n = 9; begin : l forever begin n = n + 1; if (n == 5) disable l; end end $display(\"%0d\", n); end",
        "5\n",
    );
    verilog(
        "IEEE 1800-2017 12.8: break and continue",
        "initial begin for (int i = 0; i < 6; i++) begin if (i == 1) continue; if (i == 3) break; $display(\"%0d\", i); end end",
        "0\n2\n",
    );
}

#[test]
fn system_functions_give_what_the_standard_says() {
    // IEEE 1364-2005 17.9.3 gives the generator; its first numbers are widely known (common practice).
    verilog(
        "17.9.3: $random from its first seed",
        "initial begin $display(\"%h\", $random); $display(\"%h\", $random); $display(\"%h\", $random); end",
        "12153524\nc0895e81\n8484d609\n",
    );
    verilog(
        "17.11.1: $clog2",
        "initial $display(\"%0d %0d %0d %0d\", $clog2(1), $clog2(8), $clog2(9), $clog2(0));",
        "0 3 4 0\n",
    );
    verilog(
        "17.1.1: formats",
        "reg [7:0] a; initial begin a = 8'h2f; $display(\"%d|%0d|%h|%o|%b|%c|%s|%%\", a, a, a, a, a, 8'h41, \"ok\"); end",
        " 47|47|2f|057|00101111|A|ok|%\n",
    );
    verilog("17.1.1.2: %m", "initial $display(\"%m\");", "t\n");
    verilog(
        "17.1: without a format numbers are decimal",
        "reg [3:0] a; initial begin a = 5; $display(a, , a); $displayb(a); end",
        " 5  5\n0101\n",
    );
    verilog(
        "17.7: $time in the unit of the time scale, rounded",
        "initial begin #1.6 $display(\"%0d\", $time); end",
        "2\n",
    );
}

#[test]
fn vhdl_signals_change_a_delta_later() {
    vhdl(
        "14.7.5: a process reads the old value of a signal that it has just assigned",
        "  signal s : integer := 1;",
        "    s <= 5;\n    write(l, s); writeline(output, l);\n    wait for 0 ns;\n    write(l, s); writeline(output, l);",
        "1\n5\n",
    );
    vhdl(
        "10.5.2.2: inertial delay swallows a short pulse, transport keeps it",
        "  signal a : std_logic := '0';\n  signal i, t : std_logic;\n  signal n, m : integer := 0;",
        "    i <= '0'; t <= '0'; wait for 1 ns;\n    i <= '1' after 5 ns; t <= transport '1' after 5 ns; wait for 2 ns;\n\
             i <= '0' after 5 ns; t <= transport '0' after 5 ns; wait for 4 ns;\n    write(l, i); write(l, t); writeline(output, l);",
        "01\n",
    );
    vhdl(
        "10.5.2.1: a waveform of several elements",
        "  signal s : integer := 0;",
        "    s <= 1 after 1 ns, 2 after 3 ns; wait for 2 ns; write(l, s); writeline(output, l); wait for 2 ns; write(l, s); writeline(output, l);",
        "1\n2\n",
    );
    vhdl(
        "10.2: wait on, until and for",
        "  signal c : std_logic := '0';",
        "    c <= '1' after 4 ns, '0' after 9 ns;\n    wait until c = '1'; write(l, now); writeline(output, l);\n\
             wait on c; write(l, now); writeline(output, l);\n    wait until c = '1' for 5 ns; write(l, now); writeline(output, l);",
        "4 ns\n9 ns\n14 ns\n",
    );
    vhdl(
        "16.2: 'event and 'last_value hold for one delta",
        "  signal c : std_logic := '0';",
        "    c <= '1'; wait on c; assert c'event and c'last_value = '0' report \"bad\"; wait for 0 ns; assert not c'event report \"bad\";\n\
             write(l, string'(\"done\")); writeline(output, l);",
        "done\n",
    );
}

/// IEEE 1076-2008 10.2: `wait until y = '1'` goes on at a change of `y` after which the condition holds, whatever `y` was
/// before; `rising_edge` of IEEE 1164 asks for a 0 before.
#[test]
fn a_wait_for_a_level_ends_when_an_undefined_signal_takes_it() {
    let vhdl = "library ieee; use ieee.std_logic_1164.all;\nentity t is end;\narchitecture x of t is signal y : std_logic; begin\n\
        y <= '1' after 3 ns;\n\
        process begin wait until y = '1'; report \"level\"; wait; end process;\n\
        process begin wait until y = '1' for 10 ns; report \"level in time\"; wait; end process;\n\
        process begin wait until rising_edge(y); report \"edge\"; wait; end process;\n\
        process (y) begin if y'event and y = '1' then report \"event\"; end if; end process;\nend;\n";
    let said = output("t.vhd", vhdl);
    for word in ["level", "level in time", "event"] {
        assert!(said.contains(word), "{word}: {said}");
    }
    assert!(!said.contains("edge"), "{said}");
}

#[test]
fn vhdl_texts_and_images() {
    vhdl(
        "16.2: 'image of numbers, enumerations, characters and times",
        "  type fruit is (lemon, lime);\n  signal s : std_logic := 'Z';",
        "    write(l, integer'image(-12) & \" \" & fruit'image(lime) & \" \" & std_logic'image(s) & \" \" & boolean'image(2 > 1) & \" \" & time'image(3 ns));\n    writeline(output, l);",
        "-12 lime 'Z' true 3000000 fs\n",
    );
    vhdl(
        "numeric_std and to_hstring (1076-2008 8.7)",
        "  signal v : std_logic_vector(7 downto 0) := x\"2f\";",
        "    write(l, to_hstring(v) & \" \" & to_string(v) & \" \" & integer'image(to_integer(signed(v))) & \" \" & integer'image(to_integer(not signed(v))));\n    writeline(output, l);",
        "2F 00101111 47 -48\n",
    );
    vhdl(
        "10.3: assertions say their severity, a true one says nothing",
        "",
        "    assert 1 = 1 report \"never\" severity error;\n    report \"hello\" severity note;\n    assert false report \"odd\" severity warning;",
        "t.vhd:13: note at 0 ns: hello\nt.vhd:14: warning at 0 ns: odd\n",
    );
}

#[test]
fn vhdl_resolution_and_arithmetic() {
    vhdl(
        "IEEE 1164: two drivers are resolved, weak levels give way",
        "  signal s : std_logic;\n",
        "    s <= 'H'; wait for 1 ns; write(l, s); writeline(output, l);",
        "H\n",
    );
    vhdl(
        "9.2.7: mod has the sign of the divisor, rem of the dividend",
        "",
        "    write(l, integer'image((-7) mod 3) & \" \" & integer'image((-7) rem 3) & \" \" & integer'image(7 mod (-3)) & \" \" & integer'image((-7) / 2));\n    writeline(output, l);",
        "2 -1 -2 -3\n",
    );
    vhdl(
        "IEEE 1076.3: unsigned arithmetic wraps at its width, comparisons see numbers",
        "  signal u : unsigned(3 downto 0) := \"1111\";",
        "    write(l, to_string(std_logic_vector(u + 1)) & \" \" & boolean'image(u > 7) & \" \" & to_string(std_logic_vector(u * 2)));\n    writeline(output, l);",
        "0000 true 00011110\n",
    );
    vhdl(
        "10.10: loops, exit and next",
        "",
        "    for i in 0 to 9 loop\n      next when i = 1;\n      exit when i = 4;\n      write(l, i);\n    end loop;\n    writeline(output, l);",
        "023\n",
    );
}

#[test]
fn inout_ports_join_both_sides() {
    let verilog = "module t; reg oe = 0; reg [3:0] d = 5; wire [3:0] rail; pad p(.io(rail), .oe(oe), .d(d)); reg far = 1;\n\
        assign rail = far ? 4'd9 : 4'bz;\n\
        initial begin #1 $display(\"%0d %0d\", rail, p.seen); far = 0; oe = 1; #1 $display(\"%0d %0d\", rail, p.seen); far = 1; #1 $display(\"%b\", rail); end\nendmodule\n\
        module pad(inout [3:0] io, input oe, input [3:0] d); wire [3:0] seen = io; assign io = oe ? d : 4'bz; endmodule\n";
    // 5 is 0101 and 9 is 1001: two drivers that agree in their outer bits only.
    assert_eq!(output("t.v", verilog), "9 9\n5 5\nxx01\n");
    let vhdl = "library ieee; use ieee.std_logic_1164.all;\n\
        entity pad is port (io : inout std_logic; oe : in boolean; d : in std_logic); end;\n\
        architecture a of pad is begin io <= d when oe else 'Z'; end;\n\
        library ieee; use ieee.std_logic_1164.all; use std.textio.all;\n\
        entity t is end; architecture a of t is signal rail : std_logic; signal oe : boolean := false; signal far : std_logic := '0';\n\
        begin rail <= far; p : entity work.pad port map (io => rail, oe => oe, d => '1');\n\
        process variable l : line; begin wait for 1 ns; write(l, rail); far <= 'Z'; oe <= true; wait for 1 ns; write(l, rail);\n\
        far <= '0'; wait for 1 ns; write(l, rail); writeline(output, l); wait; end process; end;\n";
    assert_eq!(output("t.vhd", vhdl), "01X\n");
}

#[test]
fn vhdl_characters_and_strings_are_values() {
    vhdl(
        "5.3.2.3: strings are arrays of characters",
        "  constant name : string := \"belt\";\n  signal c : character := 'q';",
        "    write(l, name & c); writeline(output, l);\n    assert name'length = 4 and c /= 'r' report \"wrong\";",
        "beltq\n",
    );
    vhdl(
        "4.2.1: a function may return a string",
        "  function lamp(on_off : boolean) return string is begin if on_off then return \"on \"; else return \"off\"; end if; end function;",
        "    report lamp(false);",
        "t.vhd:12: note at 0 ns: off\n",
    );
    vhdl(
        "6.5.7.2: conversions in port maps are followed; here in assignments",
        "  signal u : unsigned(3 downto 0) := \"0110\";\n  signal v : std_logic_vector(3 downto 0);",
        "    v <= std_logic_vector(u + 1); wait for 1 ns; write(l, v); writeline(output, l);",
        "0111\n",
    );
}

#[test]
fn hierarchies_mix_both_languages_both_ways() {
    let inner_vhdl = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;\n\
        entity adder is generic (N : positive := 2); port (a, b : in std_logic_vector(N-1 downto 0); s : out std_logic_vector(N-1 downto 0)); end;\n\
        architecture r of adder is begin s <= std_logic_vector(unsigned(a) + unsigned(b)); end;\n";
    let outer_verilog = "module t; reg [7:0] a, b; wire [7:0] s; adder #(.N(8)) u(.a(a), .b(b), .s(s));\n\
        initial begin a = 100; b = 55; #1 $display(\"%0d\", s); end endmodule\n";
    let both = |files: &[(&str, &str)]| {
        let list: Vec<HandInFile> =
            files.iter().map(|(n, t)| HandInFile { name: (*n).into(), bytes: (*t).into() }).collect();
        let found = run_simulation(&list, &SimulationRequest::default(), &Budget::hand_in()).unwrap();
        let stops: Vec<String> =
            found.findings.iter().filter(|f| f.severity == "stop").map(|f| f.message.clone()).collect();
        assert!(stops.is_empty(), "{stops:?}");
        found.output
    };
    assert_eq!(both(&[("t.v", outer_verilog), ("adder.vhd", inner_vhdl)]), "155\n");
    let inner_verilog =
        "module Gray #(parameter W = 2)(input [W-1:0] b, output [W-1:0] g); assign g = b ^ (b >> 1); endmodule\n";
    let outer_vhdl = "library ieee; use ieee.std_logic_1164.all; use std.textio.all;\n\
        entity t is end; architecture a of t is\n\
        component gray generic (W : integer := 2); port (b : in std_logic_vector(W-1 downto 0); g : out std_logic_vector(W-1 downto 0)); end component;\n\
        signal x, y : std_logic_vector(3 downto 0) := \"0110\"; begin u : gray generic map (W => 4) port map (b => x, g => y);\n\
        process variable l : line; begin wait for 1 ns; write(l, y); writeline(output, l); wait; end process; end;\n";
    assert_eq!(both(&[("t.vhd", outer_vhdl), ("gray.v", inner_verilog)]), "0101\n");
}

#[test]
fn packages_structures_and_lists_of_systemverilog() {
    let source = "package lamps; typedef enum logic [1:0] {OFF, DIM = 2'd2, FULL} level_t;\n\
        typedef struct packed { level_t level; logic [2:0] hue; } lamp_t; localparam int COUNT = 3;\n\
        function automatic int twice(input int n); return 2 * n; endfunction endpackage\n\
        module t; import lamps::*; lamp_t one; lamp_t many [COUNT]; logic [1:0][3:0] grid; int sum;\n\
        initial begin one = '{level: FULL, hue: 3'd5}; many = '{default: '0}; many[1].hue = 3'd6; many[2] = one; grid = 8'hA5;\n\
        sum = 0; foreach_sum(); $display(\"%b %b %b %h %h %0d %0d\", one, many[1], many[2].level, grid[1], grid[0][2:0], twice(COUNT), lamps::DIM);\n\
        end task foreach_sum; sum = sum + 1; endtask endmodule\n";
    assert_eq!(output("t.sv", source), "11101 00110 11 a 5 6 2\n");
}

#[test]
fn times_and_monitors_are_written_as_the_testbench_asks() {
    verilog(
        "17.3.2, table 17-12: without $timeformat in units of the precision, 20 wide",
        "initial begin #2.5 $display(\"[%t] [%0t]\", $realtime, $realtime); end",
        "[                2500] [2500]\n",
    );
    verilog(
        "17.3.2: unit, places, suffix and width; a width in the format wins",
        "initial begin $timeformat(-9, 2, \" ns\", 12); #2.5 $display(\"[%t] [%0t]\", $realtime, $time);\n\
         $timeformat(-6, 0, \"us\", 0); #1500 $display(\"%t\", $realtime); $timeformat; $display(\"%0t\", $realtime); end",
        "[     2.50 ns] [3.00 ns]\n2us\n1502500\n",
    );
    verilog(
        "17.1.1.2: $realtime keeps its fraction, and is written like %g on its own",
        "initial begin #2.5 $display(\"%0.1f %f %0g \", $realtime, $realtime, $realtime, $realtime,, $time); end",
        "2.5 2.500000 2.5 2.5                    3\n",
    );
    verilog(
        "17.1.3: $monitoroff silences, $monitoron writes at once",
        "reg a; initial begin $monitor(\"%0d %b\", $time, a); a = 0; #1 $monitoroff; a = 1; #1 a = 0; #1 $monitoron; #1 a = 1; end",
        "0 0\n3 0\n4 1\n",
    );
}

#[test]
fn statements_that_run_at_once_are_joined_as_their_last_word_says() {
    verilog(
        "IEEE 1364-2005 9.8.2: join waits for the last branch",
        "initial begin fork #5 $display(\"five\"); begin #2 $display(\"two\"); #1 $display(\"three\"); end join $display(\"%0t\", $time); end",
        "two\nthree\nfive\n5000\n",
    );
    verilog(
        "IEEE 1800-2017 9.3.2: join_any for the first, join_none for none",
        "initial begin fork #5 $display(\"five\"); #2 $display(\"two\"); join_any $display(\"any %0t\", $time);\n\
         fork #1 $display(\"later\"); join_none $display(\"none %0t\", $time); end",
        "two\nany 2000\nnone 2000\nlater\nfive\n",
    );
    verilog(
        "a fork in a loop runs anew each time",
        "integer i; initial for (i = 0; i < 2; i = i + 1) begin fork #3; #4 $display(\"%0d\", i); join $display(\"%0t\", $time); end",
        "0\n4000\n1\n8000\n",
    );
}

#[test]
fn types_of_two_states_begin_with_0_and_those_of_four_with_x() {
    // IEEE 1800-2017 table 6-7.
    verilog(
        "table 6-7",
        "int a; bit [1:0] b; byte c; logic d; integer e; typedef enum {IDLE, RUN} s_t; s_t s; reg f;\n\
         initial begin int g; a++; g++; $display(\"%0d %b %0d %b %0d %0d %b %0d\", a, b, c, d, e, s, f, g); end",
        "1 00 0 x x 0 x 1\n",
    );
}

#[test]
fn arrays_are_walked_and_bits_counted() {
    verilog(
        "IEEE 1800-2017 12.7.3: foreach goes from the left bound to the right one",
        "int a[1:3][0:1]; initial begin foreach (a[i, j]) begin a[i][j] = i * 10 + j; $write(\"%0d \", a[i][j]); end $display; end",
        "10 11 20 21 30 31 \n",
    );
    verilog(
        "IEEE 1800-2017 20.9",
        "reg [3:0] v; initial begin v = 4'b1011; $display(\"%0d %b %b\", $countones(v), $onehot(v), $onehot0(v));\n\
         v = 4'b0100; $display(\"%b %b %b\", $onehot(v), $onehot0(v), $isunknown(v)); v = 4'b0z00; $display(\"%b\", $isunknown(v)); end",
        "3 0 0\n1 1 0\n1\n",
    );
    verilog(
        "common practice: a log file's lines stand in the output, as there are no files to write",
        "integer f; initial begin f = $fopen(\"log.txt\", \"w\"); $fdisplay(f, \"row %0d\", 3); $fclose(f); end",
        "row 3\n",
    );
}

#[test]
fn delays_that_no_simulation_takes_are_told_and_not_cut() {
    let told = |body: &str| {
        let source = format!("`timescale 1ns / 1ps\nmodule t;\n{body}\nendmodule\n");
        let files = [HandInFile { name: "t.sv".into(), bytes: source.into() }];
        let found = run_simulation(&files, &SimulationRequest::default(), &Budget::hand_in()).unwrap();
        let stop = found.findings.iter().find(|f| f.severity == "stop").map(|f| f.message.clone());
        (stop.unwrap_or_default(), found.output)
    };
    // 10^18 ns is more than 2^64 fs, and so is what these variables hold.
    for delay in ["#1000000000000000000", "#(-3)", "#n", "#d", "#u"] {
        let (message, output) = told(&format!(
            "integer n; reg [63:0] d; reg [63:0] u; initial begin n = -5; d = 64'hFFFFFFFFFFFFFFFF; u = 64'd18446744073710;\n\
             {delay} $display(\"on\"); end"
        ));
        assert!(message.contains("negative, unknown or longer"), "{delay}: {message}");
        assert_eq!(output, "", "{delay}");
    }
    // IEEE 1364-2005 3.5.1: a number without a size has at least 32 bits; in picoseconds 2.2 ms need more.
    for (delay, time) in [("#3000000000", "3000000000000\n"), ("#10000000000", "10000000000000\n")] {
        assert_eq!(told(&format!("initial begin {delay} $display(\"%0t\", $time); end")).1, time);
    }
    assert_eq!(told("initial $display(\"%0d\", 10000000000);").1, "10000000000\n");
    assert_eq!(told("reg [40:0] d; initial begin d = 3; #d $display(\"%0t\", $time); end").1, "3000\n");
}

#[test]
fn random_numbers_of_math_real_are_those_of_the_generator_that_its_standard_prescribes() {
    // P. L'Ecuyer, "Efficient and portable combined random number generators", Communications of the ACM 31 (1988),
    // figure 3, which IEEE 1076.2 takes over; computed here as the article writes it.
    let (mut s1, mut s2) = (1i64, 1i64);
    let mut wanted = String::new();
    for _ in 0..5 {
        let k = s1 / 53_668;
        s1 = 40_014 * (s1 - k * 53_668) - k * 12_211;
        if s1 < 0 {
            s1 += 2_147_483_563;
        }
        let k = s2 / 52_774;
        s2 = 40_692 * (s2 - k * 52_774) - k * 3_791;
        if s2 < 0 {
            s2 += 2_147_483_399;
        }
        let z = if s1 - s2 < 1 { s1 - s2 + 2_147_483_562 } else { s1 - s2 };
        wanted += &format!("{} {:.6}\n", (z as f64 * 4.656_613e-10 * 256.0).floor(), z as f64 * 4.656_613e-10);
    }
    let source =
        "library ieee; use ieee.math_real.all; use std.textio.all; entity t is end; architecture a of t is begin
        process variable s, z : positive := 1; variable r : real; variable l : line; begin
        for i in 1 to 5 loop uniform(s, z, r); write(l, integer(floor(r * 256.0))); write(l, string'(\" \"));
        write(l, r, right, 0, 6); writeline(output, l); end loop; wait; end process; end;";
    assert_eq!(output("t.vhd", &source.replace('\\', "")), wanted);
}

#[test]
fn functions_that_call_themselves_have_variables_of_their_own() {
    // IEEE 1364-2005 10.4.1 (automatic functions) and 10.4.5 (constant ones); the numbers of Fibonacci and factorials.
    let fib = "function automatic integer fib(input integer n);\n\
        begin if (n < 2) fib = n; else fib = fib(n - 1) + fib(n - 2); end endfunction\n\
        function automatic integer fact(input integer n); begin if (n <= 1) fact = 1; else fact = fact(n - 1) * n; end endfunction\n\
        localparam P = fib(10), F = fact(6); integer k;\n\
        initial begin k = 12; $display(\"%0d %0d %0d %0d\", P, F, fib(k), fact(k - 5)); end";
    verilog("10.4", fib, "55 720 144 5040\n");
    // IEEE 1076-2008 4.2.1: each call has its own parameters and variables.
    let functions = "function fib(k : natural) return natural is variable r : natural; begin\n\
        if k < 2 then return k; end if; r := fib(k - 1); return r + fib(k - 2); end;\n\
        function fact(k : integer) return integer is begin if k < 2 then return 1; end if; return fact(k - 1) * k; end;\n\
        constant c : natural := fib(10); constant d : integer := fact(6);";
    let body = "write(l, c); write(l, string'(\" \")); write(l, d); write(l, string'(\" \")); write(l, fib(12)); writeline(output, l);";
    vhdl("4.2.1", functions, body, "55 720 144\n");
}

#[test]
fn real_variables_are_numbers_of_double_precision() {
    verilog(
        "4.8, 4.9.2: a real number put into an integer is rounded away from zero at a half",
        "real x; integer i, j, k; initial begin x = 3.7; i = x; j = -2.5; k = 35.2; x = x * 2 + 1;\n\
         $display(\"%0d %0d %0d %f\", i, j, k, x); end",
        "4 -3 35 8.400000\n",
    );
    verilog(
        "5.1.1 table 5-2: operators on reals, and a mix of both is real",
        "real x, y; integer n; initial begin n = 7; x = n / 2; y = n / 2.0;\n\
         $display(\"%g %g %g %b %b %b\", x, y, -y ** 2, x < y, y == 3.5, !x); end",
        "3 3.5 12.25 1 1 0\n",
    );
    verilog(
        "17.1.1.2: %e, %f and %g as the C language writes them",
        "initial begin $display(\"%e|%f|%g|%0.2f|%8.3f|%g|%g\", 1.5, 1.5, 1.5, 2.0 / 3, 2.5, 1.0e10, 0.00001); end",
        "1.500000e+00|1.500000|1.5|0.67|   2.500|1e+10|1e-05\n",
    );
    verilog(
        "17.8: $rtoi cuts, $itor converts",
        "real x; integer i; initial begin x = 9.99; i = $rtoi(x); $display(\"%0d %0d %f\", i, $rtoi(-x), $itor(3)); end",
        "9 -9 3.000000\n",
    );
    verilog(
        "17.11.2: functions of real numbers",
        "initial $display(\"%0.3f %0.3f %0.1f %0.1f %0.0f\", $sqrt(2.0), $ln(10.0), $pow(2.0, 10.0), $floor(-1.5), $ceil(1.2));",
        "1.414 2.303 1024.0 -2.0 2\n",
    );
    verilog(
        "9.7.1, 19.8: a real delay is rounded to the precision, and half a period may be one",
        "parameter real PERIOD = 5.0; reg clk = 0; integer n = 0; always #(PERIOD / 2) clk = ~clk;\n\
         always @(posedge clk) n = n + 1;\n\
         initial begin #51 $display(\"%0d %0t %0.3f\", n, $time, $realtime); #1.2344 $display(\"%0.3f\", $realtime); $finish; end",
        "10 51000 51.000\n52.234\n",
    );
    verilog(
        "12.2: a real parameter is overridden by an integer, and an integer one by a real",
        "sub #(.R(2), .N(2.6)) u(); endmodule\n\
         module sub; parameter real R = 0.5; parameter integer N = 1; initial $display(\"%0.1f %0d\", R, N);",
        "2.0 3\n",
    );
}

#[test]
fn strings_and_the_last_words_of_a_testbench() {
    // IEEE 1800-2017 6.16, 9.2.3, 21.3.3.
    verilog(
        "1800-2017 6.16: string variables, arrays of them, joined and compared",
        "string s, t; string names[3] = '{\"low\", \"mid\", \"high\"};\n\
         initial begin s = \"gate\"; t = {\"and \", s}; $display(\"%s|%s|%0d|%b\", t, names[2], t.len(), s == \"gate\");\n\
         s = t.toupper(); $display(s); $display(\"[%8s]\", names[0]); end",
        "and gate|high|8|1\nAND GATE\n[     low]\n",
    );
    verilog(
        "1800-2017 21.3.3: a message as a value",
        "string s; int n = 5; initial begin s = $sformatf(\"%0d of %h\", n, 8'hA5); $display(\"<%s>\", s);\n\
         $sformat(s, \"%b\", 4'b01xz); $display(\"<%s>\", s); end",
        "<5 of a5>\n<01xz>\n",
    );
    verilog(
        "1800-2017 9.2.3: final blocks run at the end",
        "int n = 0; initial begin n = 3; #5 $finish; end final $display(\"end at %0t with %0d\", $time, n);",
        "end at 5000 with 3\n",
    );
    verilog(
        "1800-2017 6.19.5.6: the name of an enumeration's value",
        "typedef enum logic [1:0] {IDLE, RUN, STOP} state_t; state_t st;\n\
         initial begin st = RUN; $display(\"%s\", st.name()); end",
        "RUN\n",
    );
}

#[test]
fn forced_levels_hold_until_they_are_released() {
    verilog(
        "9.3.2: a forced net ignores its driver, a released one follows it again",
        "reg a = 0; wire y; assign y = ~a; initial begin #1 $display(\"%b\", y); force y = 0; #1 $display(\"%b\", y);\n\
         a = 1; #1 $display(\"%b\", y); a = 0; release y; #1 $display(\"%b\", y); end",
        "1\n0\n0\n1\n",
    );
    verilog(
        "9.3.2: a variable keeps the forced level when it is released",
        "reg [3:0] q = 4'd5; initial begin force q = 4'd9; q = 4'd2; $display(\"%0d\", q); release q; $display(\"%0d\", q);\n\
         q = 4'd2; $display(\"%0d\", q); end",
        "9\n9\n2\n",
    );
    verilog(
        "9.3.2: signals of an instance",
        "wire y; inv u(1'b0, y); initial begin #1 $display(\"%b\", y); force u.a = 1; #1 $display(\"%b\", y);\n\
         release u.a; #1 $display(\"%b\", y); end endmodule module inv(input a, output y); assign y = ~a;",
        "1\n0\n1\n",
    );
}

#[test]
fn real_numbers_in_vhdl() {
    vhdl(
        "IEEE 1076-2008 9.2.7, 9.3.6: times scaled by reals, conversions to the nearest integer",
        "constant FREQ : real := 100.0e6;\nconstant T : time := 1 sec / FREQ;",
        "report time'image(T) & \" \" & integer'image(integer(2.5 * 3.0)) & \" \" & integer'image(integer(-1.7));\n\
         wait for T * 1.5; report time'image(now);",
        "t.vhd:13: note at 0 ns: 10000000 fs 8 -2\nt.vhd:14: note at 15 ns: 15000000 fs\n",
    );
}

/// What a testbench beside data files writes.
fn with_files(name: &str, source: &str, data: &[(&str, &str)]) -> String {
    let mut files = vec![HandInFile { name: name.into(), bytes: source.into() }];
    files.extend(data.iter().map(|(name, text)| HandInFile { name: (*name).into(), bytes: (*text).into() }));
    let found = run_simulation(&files, &SimulationRequest::default(), &Budget::hand_in()).unwrap();
    let stops: Vec<&str> = found.findings.iter().filter(|f| f.severity == "stop").map(|f| f.message.as_str()).collect();
    assert!(stops.is_empty(), "{stops:?}\n{source}");
    found.output
}

#[test]
fn verilog_testbenches_read_rows_from_a_file() {
    let rows = "01 1\n10 1\n  11   0\n0x z\n";
    // IEEE 1364-2005 17.2.4.3, 17.2.8: values until the end of the file.
    let scan = "module t; integer fd, n; reg [1:0] a; reg y; initial begin fd = $fopen(\"rows.txt\", \"r\");\n\
        if (fd == 0) $display(\"none\"); while (!$feof(fd)) begin n = $fscanf(fd, \"%b %b\\n\", a, y);\n\
        $display(\"%0d: %b %b\", n, a, y); end $fclose(fd); end endmodule";
    assert_eq!(with_files("t.v", scan, &[("rows.txt", rows)]), "2: 01 1\n2: 10 1\n2: 11 0\n2: 0x z\n");
    // 17.2.4.2, 17.2.4.4: lines, and values out of a line; a call as a statement, a value passed over, decimals.
    let lines = "module t; integer fd, n, k, d; reg [8*20:1] line; initial begin fd = $fopen(\"data/rows.txt\", \"r\");\n\
        while ($fgets(line, fd) > 0) begin n = $sscanf(line, \"%d,%*d,%d\", k, d); $display(\"%0d %0d %0d\", n, k, d); end\n\
        $rewind(fd); $fscanf(fd, \"%d\", k); n = $fgetc(fd); $display(\"%0d %c\", k, n); end endmodule";
    assert_eq!(with_files("t.v", lines, &[("data/rows.txt", "1,2,3\n-4,5,6\n")]), "2 1 3\n2 -4 6\n1 ,\n");
    // At the end there is -1, and a value that doesn't fit its format gives fewer.
    let end = "module t; integer fd, n, k, m; initial begin fd = $fopen(\"rows.txt\", \"rb\"); k = 0;\n\
        n = $fscanf(fd, \"%h %d\", k, m); $display(\"%0d %h\", n, k); n = $fscanf(fd, \"%s\", k); n = $fscanf(fd, \"%d\", k);\n\
        $display(\"%0d\", n); end endmodule";
    assert_eq!(with_files("t.v", end, &[("rows.txt", "ff word")]), "1 000000ff\n-1\n");
}

#[test]
fn vhdl_testbenches_read_rows_from_a_file() {
    // IEEE 1076-2008 5.5.2, 16.4.
    let source = "library ieee; use ieee.std_logic_1164.all; use std.textio.all; use ieee.std_logic_textio.all;
        entity t is end; architecture a of t is begin process
        file rows : text open read_mode is \"rows.txt\"; variable l, o : line; variable v : std_logic_vector(3 downto 0);
        variable n : integer; variable c : character; variable good : boolean; begin
        while not endfile(rows) loop readline(rows, l); read(l, v, good); next when not good; read(l, c); read(l, n);
        write(o, v); write(o, string'(\" \")); write(o, n); write(o, c); writeline(output, o); end loop; wait; end process; end;";
    let rows = "0101 5\n-- a remark\n\n1Z10 -12\n";
    assert_eq!(with_files("t.vhd", source, &[("rows.txt", rows)]), "0101 5 \n1Z10 -12 \n");
    let opened = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all; use std.textio.all;
        entity t is end; architecture a of t is file f : text; begin process variable st : file_open_status;
        variable l : line; variable h : std_logic_vector(7 downto 0); variable b : bit_vector(2 downto 0); variable t : time;
        variable s : string(1 to 3); begin
        file_open(st, f, \"in/rows.txt\", read_mode); assert st = open_ok severity failure;
        readline(f, l); hread(l, h); read(l, b); read(l, t); read(l, s); file_close(f);
        report to_hstring(h) & \" \" & to_string(b) & \" \" & time'image(t) & s; wait; end process; end;";
    let found = with_files("t.vhd", opened, &[("rows.txt", "A5 101 25 ns ok\n")]);
    assert_eq!(found, "t.vhd:7: note at 0 ns: A5 101 25000000 fs ok\n");
    // A value that is not there ends the simulation with a sentence.
    let short = "use std.textio.all; entity t is end; architecture a of t is begin process
        file f : text is in \"rows.txt\"; variable l : line; variable n : integer; begin
        readline(f, l); read(l, n); read(l, n); wait; end process; end;";
    let found = with_files("t.vhd", short, &[("rows.txt", "7\n")]);
    assert_eq!(found, "t.vhd:3: failure at 0 ns: The line has no such value at its place.\n");
}

#[test]
fn a_data_file_that_is_not_there_is_named() {
    for (name, source) in [
        ("t.v", "module t; integer fd; initial fd = $fopen(\"row.txt\", \"r\"); endmodule"),
        (
            "t.vhd",
            "use std.textio.all; entity t is end; architecture a of t is file f : text open read_mode is \"row.txt\"; begin end;",
        ),
    ] {
        let files = [
            HandInFile { name: name.into(), bytes: source.into() },
            HandInFile { name: "rows.txt".into(), bytes: "1".into() },
        ];
        let found = run_simulation(&files, &SimulationRequest::default(), &Budget::hand_in()).unwrap();
        let told: Vec<(&str, &str)> = found.findings.iter().map(|f| (f.code.as_str(), f.help.as_str())).collect();
        assert_eq!(told, [("data-file-not-found", "Write \"rows.txt\", or hand in `row.txt` too.")], "{name}");
    }
}

#[test]
fn calls_leave_out_what_a_declaration_gives() {
    // IEEE 1800-2017 13.5.3 and IEEE 1076-2008 4.2.2.1: default values of parameters.
    verilog(
        "1800-2017 13.5.3",
        "task show(input [3:0] a, input [3:0] b = 4'd9, string what = \"pair\"); $display(\"%s %0d %0d\", what, a, b); endtask\n\
         function [7:0] sum(input [7:0] a, input [7:0] b = 8'd1); sum = a + b; endfunction\n\
         initial begin show(1); show(1, 2); show(1, 2, \"both\"); $display(\"%0d %0d\", sum(4), sum(4, 5)); end",
        "pair 1 9\npair 1 2\nboth 1 2\n5 9\n",
    );
    vhdl(
        "4.2.2.1",
        "procedure show(a : natural; b : natural := 9) is variable l : line; begin\n\
         write(l, a); write(l, string'(\" \")); write(l, b); writeline(output, l); end procedure;",
        "show(1); show(1, 2);",
        "1 9\n1 2\n",
    );
}

#[test]
fn a_function_may_make_vectors_as_long_as_a_number_says() {
    // IEEE 1076-2008 4.2.1: a subprogram's declarations are elaborated at each call, with the values of its parameters.
    vhdl(
        "4.2.1",
        "function ones(n, length : natural) return std_logic_vector is\n\
         variable v : std_logic_vector(length - 1 downto 0) := (others => '0'); begin\n\
         for i in 0 to n - 1 loop v(i) := '1'; end loop; return v; end function;\n\
         function half(n : natural) return std_logic_vector is begin return ones(n / 2, n); end function;",
        "write(l, ones(2, 5)); write(l, string'(\" \")); write(l, ones(1, 3)); write(l, string'(\" \")); write(l, half(6)); writeline(output, l);",
        "00011 001 000111\n",
    );
}

#[test]
fn formats_and_methods_of_systemverilog() {
    verilog(
        "1800-2017 21.2.1.3: a minus sets a value to the left",
        "initial $display(\"[%-5d][%5d][%-4h][%-6s]\", 8'd7, 8'd7, 8'h2f, \"ab\");",
        "[7    ][    7][2f  ][ab    ]\n",
    );
    verilog(
        "1800-2017 6.19.5: first, last, next, prev and num go round the values in the order of their declaration",
        "typedef enum logic [3:0] {IDLE = 2, RUN = 5, STOP = 9} state_t; state_t s;\n\
         initial begin s = s.first(); $write(\"%0d %0d %0d\", s, s.last(), s.num()); s = s.next(); $write(\" %s\", s.name());\n\
         s = s.next(); s = s.next(); $write(\" %s\", s.name()); s = s.prev(); $display(\" %s %p\", s.name(), s); end",
        "2 9 3 RUN IDLE STOP 9\n",
    );
    verilog(
        "1800-2017 13.4.1: a function called for what it does besides",
        "int n = 0; function automatic int step(int by); n += by; return n; endfunction\n\
         initial begin void'(step(2)); void'(step(3)); $display(\"%0d\", n); end",
        "5\n",
    );
}

#[test]
fn a_task_of_another_instance_is_told_as_a_limit() {
    let source = "module sub; task t(input a); $display(\"%b\", a); endtask endmodule\n\
        module tb; sub u(); initial begin u.t(1); end endmodule";
    let files = [HandInFile { name: "t.v".into(), bytes: source.into() }];
    let found = run_simulation(&files, &SimulationRequest::default(), &Budget::hand_in()).unwrap();
    let told: Vec<&str> = found.findings.iter().map(|f| f.code.as_str()).collect();
    assert_eq!(told, ["not-read-yet"], "{:?}", found.findings);
}

#[test]
fn long_lines_read_over_and_over_end_with_the_budget() {
    let line = format!("{}\n", "1".repeat(200_000));
    let source = "module t; integer fd, n; reg [15:0] last; initial begin fd = $fopen(\"long.txt\", \"r\");\n\
        n = $fgets(last, fd); $display(\"%0d %h\", n, last);\n\
        while (1) begin $rewind(fd); n = $fgets(last, fd); n = $sscanf(\"-9223372036854775808\", \"%d\", n); end end endmodule";
    let files = [
        HandInFile { name: "t.v".into(), bytes: source.into() },
        HandInFile { name: "long.txt".into(), bytes: line.into() },
    ];
    let found = run_simulation(&files, &SimulationRequest::default(), &Budget::hand_in()).unwrap();
    assert_eq!(found.output, "200001 310a\n");
    let told: Vec<&str> = found.findings.iter().map(|f| f.code.as_str()).collect();
    assert_eq!(told, ["simulation-budget"], "{:?}", found.findings);
    verilog(
        "1800-2017 6.16.9: digits past what fits wrap round, they don't stop the simulation",
        "string s; int n; initial begin s = \"-9223372036854775808\"; n = s.atoi(); s = \"-42\"; $display(\"%0d %0d\", n, s.atoi()); end",
        "0 -42\n",
    );
}

#[test]
fn what_math_real_has_and_this_version_does_not_read_is_not_called_undeclared() {
    let source = "library ieee; use ieee.math_real.all; entity t is end; architecture a of t is begin
        process variable r : real; begin r := arcsinh(1.0); wait; end process; end;";
    let files = [HandInFile { name: "t.vhd".into(), bytes: source.into() }];
    let found = run_simulation(&files, &SimulationRequest::default(), &Budget::hand_in()).unwrap();
    let told: Vec<&str> = found.findings.iter().map(|f| f.code.as_str()).collect();
    assert_eq!(told, ["not-read-yet"], "{:?}", found.findings);
}
