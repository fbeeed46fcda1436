//! The simulator against its standards: what a testbench prints where the clauses leave no choice.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use elab::{HandInFile, SimulationRequest, run_simulation};

fn printed(name: &str, text: &str) -> Vec<String> {
    let files = [HandInFile { name: name.into(), bytes: text.into() }];
    let found = run_simulation(&files, &SimulationRequest::default(), &Budget::hand_in()).unwrap();
    let stops: Vec<&str> = found.findings.iter().filter(|f| f.severity == "stop").map(|f| f.message.as_str()).collect();
    assert!(stops.is_empty(), "{stops:?}\n{text}");
    found.output.lines().map(|l| l.rsplit(": ").next().unwrap_or(l).to_owned()).collect()
}

fn verilog(body: &str) -> Vec<String> {
    printed("t.v", &format!("module t;\n{body}\nendmodule\n"))
}

/// IEEE 1364-2005 11.3 and 11.4: a delayed non-blocking update comes after what is active at its time.
#[test]
fn a_delayed_non_blocking_update_waits_for_what_is_active() {
    let found =
        verilog("reg [3:0] x = 0; initial begin x <= #1 6; #1 $display(\"%0d\", x); #1 $display(\"%0d\", x); end");
    assert_eq!(found, ["0", "6"]);
}

/// IEEE 1364-2005 9.9.2: a block in a delay doesn't stand at its event control.
#[test]
fn events_at_the_head_of_a_block_do_not_cut_its_delay_short() {
    let found = verilog(
        "reg i = 0; always @(i) begin #10 $display(\"%0t %b\", $time, i); end
         initial begin #5 i = 1; #4 i = 0; #4 i = 1; #30 i = 0; #20 $finish; end",
    );
    // Awake at 5 until 15 (i changed at 9 and 13 unseen), then at 43 until 53.
    assert_eq!(found, ["15 1", "53 0"]);
}

/// IEEE 1364-2005 6.1.3 and 7.14: rise, fall and turn-off delay.
#[test]
fn nets_and_gates_rise_and_fall_after_delays_of_their_own() {
    let found = verilog(
        "reg a = 0; wire y, z; assign #(3, 7) y = a; not #(2, 5) g(z, a);
         initial begin #20 a = 1; #20 a = 0; #20 $finish; end
         always @(y) if ($time > 10) $display(\"y %0t %b\", $time, y);
         always @(z) if ($time > 10) $display(\"z %0t %b\", $time, z);",
    );
    assert_eq!(found, ["y 23 1", "z 25 0", "z 42 1", "y 47 0"]);
}

/// IEEE 1364-2005 10.3: a named block is disabled from anywhere; its process goes on behind it.
#[test]
fn a_block_of_another_process_is_disabled() {
    let found = verilog(
        "initial begin
           begin : long #50 $display(\"never\"); end
           $display(\"behind at %0t\", $time);
         end
         initial begin #20 disable long; #1 $display(\"done at %0t\", $time); end",
    );
    assert_eq!(found, ["behind at 20", "done at 21"]);
}

/// IEEE 1364-2005 10.3, the idiom of a time-out: whatever comes first ends the other.
#[test]
fn a_time_out_ends_what_waits() {
    let found = verilog(
        "reg ready = 0;
         initial begin : guard
           fork
             begin : waits @(posedge ready); $display(\"ready\"); end
             begin #30 $display(\"too late\"); disable waits; end
           join
           $display(\"joined at %0t\", $time);
         end",
    );
    assert_eq!(found, ["too late", "joined at 30"]);
}

/// IEEE 1800-2017 11.4.13: each comparison of a set has a size of its own.
#[test]
fn a_value_is_asked_for_in_a_set_of_numbers_of_several_sizes() {
    let found = printed(
        "t.sv",
        "module t; reg [1:0] s; initial for (int k = 0; k < 4; k++) begin s = k;
           $display(\"%b\", s inside {1, 4'h7, 2'd3}); end endmodule\n",
    );
    assert_eq!(found, ["0", "1", "0", "1"]);
}

fn vhdl(declarations: &str, body: &str) -> Vec<String> {
    let packages = "library ieee;\nuse ieee.std_logic_1164.all;\nuse ieee.numeric_std.all;\nuse std.textio.all;\n";
    printed(
        "t.vhd",
        &format!("{packages}entity t is end;\narchitecture a of t is\n{declarations}\nbegin\n{body}\nend;\n"),
    )
}

/// IEEE 1076-2008 10.2: `wait for 0 ns` is one delta cycle.
#[test]
fn a_wait_of_no_time_is_one_delta_cycle() {
    let found = vhdl(
        "signal x, z : integer := 0;",
        "z <= x;
         process begin
           x <= 5; wait for 0 ns;
           report integer'image(x) & \"/\" & integer'image(z);
           wait for 0 ns;
           report integer'image(x) & \"/\" & integer'image(z);
           wait;
         end process;",
    );
    assert_eq!(found, ["5/0", "5/5"]);
}

/// IEEE 1076-2008 11.5: a concurrent assertion is looked at whenever what it reads changes.
#[test]
fn a_concurrent_assertion_speaks_at_each_change() {
    let found = vhdl(
        "signal x : bit := '0';",
        "x <= '1' after 10 ns, '0' after 20 ns, '1' after 30 ns;
         assert x = '0' report \"x went up\" severity note;",
    );
    assert_eq!(found, ["x went up", "x went up"]);
}

/// IEEE 1076-2008 10.5.2.1: a value outside of the subtype ends the simulation.
#[test]
fn a_number_that_leaves_its_range_ends_the_simulation() {
    let found = vhdl(
        "signal n : integer range 0 to 3 := 0;",
        "process begin
           for i in 1 to 6 loop n <= n + 1; wait for 1 ns; end loop;
           report \"never\"; wait;
         end process;",
    );
    assert_eq!(found, ["4"], "`n` leaves its range 0 to 3");
}

/// IEEE 1076-2008 10.10 and 10.11: `next` and `exit` name the loop that they mean.
#[test]
fn next_of_an_outer_loop_goes_on_with_its_next_turn() {
    let found = vhdl(
        "",
        "process variable n : integer := 0; begin
           outer : for i in 0 to 2 loop
             for j in 0 to 2 loop
               next outer when i = 0;
               exit outer when i = 2;
               n := n + 1;
             end loop;
           end loop;
           report integer'image(n); wait;
         end process;",
    );
    assert_eq!(found, ["3"]);
}

/// IEEE 1364-2005 9.8.2 and 10.3: a fork with a name ends with all its branches, whoever disables it.
#[test]
fn a_branch_ends_the_fork_it_stands_in() {
    let found = verilog(
        "event never;
         initial begin
           fork : f
             begin @(never); $display(\"not reached\"); end
             begin #50 $display(\"time is up\"); disable f; $display(\"not reached\"); end
             begin fork #60 $display(\"not reached\"); join end
           join
           $display(\"at %0t\", $time);
         end",
    );
    assert_eq!(found, ["time is up", "at 50"]);
}

/// IEEE 1800-2017 9.6.1 and 9.6.3.
#[test]
fn what_was_forked_is_waited_for_or_ended() {
    let found = printed(
        "t.sv",
        "module t;
           initial begin
             fork #10; #25 $display(\"second\"); join_none
             wait fork;
             $display(\"all at %0t\", $time);
             fork #5 $display(\"first\"); #40 $display(\"not reached\"); join_any
             disable fork;
             #100 $display(\"end\");
           end
         endmodule\n",
    );
    assert_eq!(found, ["second", "all at 25", "first", "end"]);
}

/// IEEE 1364-2005 9.7.7: the value is taken before the events are counted; a non-blocking one doesn't hold up its block.
#[test]
fn an_assignment_counts_events_between_its_halves() {
    let found = verilog(
        "reg clk = 0; integer x = 5, y = 0, z = 0;
         always #5 clk = ~clk;
         initial begin
           z <= repeat (2) @(posedge clk) x;
           y = repeat (3) @(posedge clk) x;
           $display(\"%0t %0d %0d\", $time, y, z);
           $finish;
         end
         initial #1 x = 9;",
    );
    assert_eq!(found, ["25 5 5"]);
}

/// IEEE 1364-2005 9.3.1 and 9.3.2: what is held follows its expression and hides what is assigned.
#[test]
fn a_procedural_continuous_assignment_holds_a_variable() {
    let found = verilog(
        "reg q = 0, a = 1; wire w; assign w = 0;
         initial begin
           assign q = ~a; q = 1; #1 $display(\"%b\", q);
           a = 0; #1 $display(\"%b\", q);
           deassign q; a = 1; #1 $display(\"%b\", q);
           q = 0; #1 $display(\"%b\", q);
           force w = a; #1 $display(\"%b\", w);
           a = 0; #1 $display(\"%b\", w);
           a = 1; release w; #1 $display(\"%b\", w);
         end",
    );
    assert_eq!(found, ["0", "1", "1", "0", "1", "0", "0"]);
}

/// IEEE 1364-2005 3.6.3 and 12.5, 17.9.1.
#[test]
fn escapes_parameters_of_instances_and_seeds() {
    let text = "module leaf; parameter N = 3; reg [7:0] r = 7; endmodule
        module t; genvar i; generate for (i = 0; i < 3; i = i + 1) begin : d leaf #(.N(i + 4)) u(); end endgenerate
        integer s1, s2, a, b; initial begin
          $display(\"\\101\\x%0d%0d\", d[2].u.r, d[2].u.N);
          s1 = 42; s2 = 42; a = $random(s1); b = $random(s2);
          $display(\"%b%b%b\", a == b, s1 == s2, s1 != 42);
        end endmodule\n";
    assert_eq!(printed("t.v", text), ["Ax76", "111"]);
}

/// IEEE 1076-2008 16.2.4: attributes that tell of the past of a signal.
#[test]
fn signals_tell_when_they_changed_and_were_assigned() {
    let found = vhdl(
        "signal s, t : std_logic := '0';",
        "s <= '1' after 10 ns; t <= '0' after 12 ns;
         process begin
           wait for 15 ns;
           assert false report time'image(s'last_event) severity note;
           assert false report boolean'image(s'stable(3 ns)) & \" \" & boolean'image(s'stable(8 ns)) severity note;
           assert false report time'image(t'last_active) & \" \" & boolean'image(t'quiet(2 ns)) severity note;
           wait;
         end process;
         process (t'transaction) begin
           if now > 0 ns then assert false report \"assigned at \" & time'image(now) severity note; end if;
         end process;
         process (s'delayed(7 ns)) begin
           if now > 0 ns then assert false report \"late at \" & time'image(now) severity note; end if;
         end process;",
    );
    assert_eq!(
        found,
        ["assigned at 12000000 fs", "5000000 fs", "true false", "3000000 fs true", "late at 17000000 fs"]
    );
}

/// IEEE 1076-2008 10.5.2.2: an inertial delay with a limit of its own lets longer pulses through.
#[test]
fn only_pulses_shorter_than_the_limit_are_lost() {
    let found = vhdl(
        "signal i, o : std_logic := '0';",
        "i <= '1' after 10 ns, '0' after 15 ns, '1' after 30 ns, '0' after 33 ns;
         o <= reject 4 ns inertial i after 10 ns;
         process (o) begin
           if now > 0 ns then assert false report to_string(o) & \" at \" & integer'image(now / ns) severity note; end if;
         end process;",
    );
    assert_eq!(found, ["1 at 20", "0 at 25"]);
}

/// IEEE 1076-2008 9.2.7 and 8.4; of unknown levels numeric_std (IEEE 1076.3) makes 0 and says so.
#[test]
fn a_quotient_and_an_index_are_looked_at_when_they_are_computed() {
    let divided = vhdl(
        "signal z : integer := 0;",
        "process begin assert false report integer'image(5 / z) severity note; wait; end process;",
    );
    assert_eq!(divided, ["A division by 0."]);
    let outside = vhdl(
        "signal v : std_logic_vector(3 downto 0) := \"0000\"; signal k : integer := 4;",
        "process begin
           if k < 4 and v(k) = '1' then assert false report \"one\" severity note; end if;
           assert v(k) = '1' report \"zero\" severity note;
           wait;
         end process;",
    );
    assert_eq!(outside, ["4"]);
    let unknown = vhdl(
        "signal u : unsigned(3 downto 0);",
        "process begin assert false report integer'image(to_integer(u)) severity note; wait; end process;",
    );
    assert_eq!(unknown, ["`to_integer` of a value with unknown levels gives 0.", "0"]);
}

/// IEEE 1076-2008 16.2.2, 10.10, 16.4 and 16.7.
#[test]
fn values_lines_and_levels_as_the_packages_say() {
    let found = vhdl(
        "type colour is (red, green, blue); signal h : std_logic := 'H'; signal v : unsigned(7 downto 0) := x\"1E\";",
        "process variable l, m : line; variable n : integer := 4; begin
           for c in colour loop write(l, colour'image(c)); write(l, ' '); end loop;
           write(m, string'(\"beside\"));
           assert l'length = 15 report \"length\" severity error;
           write(l, to_x01(h)); writeline(output, l); writeline(output, m);
           write(l, colour'pos(colour'value(\"BLUE\")) + integer'value(\"40\")); writeline(output, l);
           write(l, std_logic_vector(v(n downto n - 3))); writeline(output, l);
           wait;
         end process;",
    );
    assert_eq!(found, ["red green blue 1", "beside", "42", "1111"]);
}

/// IEEE 1364-2005 5.1.8 and 5.1.13: of constants, too, a known difference decides, and a choice with an unknown condition
/// keeps the bits that agree.
#[test]
fn constants_with_unknown_bits_are_computed_as_values_are() {
    let found = verilog(
        "reg [2:0] a = 3'b101; localparam [1:0] M = 1'bx ? 2'b11 : 2'b01; localparam D = 3'bx10 != 3'b00x;
         initial $display(\"%b %b %b %b\", a[(3'bx10 != 3'b00x)], M, D, (3'b1x0 == 3'b1x0));",
    );
    assert_eq!(found, ["0 x1 1 x"]);
}

/// IEEE 1800-2017 9.2.2.2.1: `always_comb` runs when what its functions read changes, `always @*` does not.
#[test]
fn blocks_wait_for_what_their_functions_read_or_not() {
    let text = "module t; logic a = 0, y, z;
          function logic f(); return ~a; endfunction
          always_comb y = f(); always @* z = f();
          initial begin #1 $display(\"%b\", y); a = 1; #1 $display(\"%b%b\", y, y === z); end endmodule\n";
    assert_eq!(printed("t.sv", text), ["1", "00"]);
}

/// IEEE 1800-2017 3.14.2.2: a module's own unit of time.
#[test]
fn a_module_says_its_unit_of_time() {
    let text = "module t; timeunit 1us / 1ns; initial begin #2 $display(\"%0d %0t\", $time, $time); end endmodule\n";
    assert_eq!(printed("t.sv", text), ["2 2000"]);
}
