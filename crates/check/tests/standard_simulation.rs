//! The simulator against its standards: what a testbench prints where the clauses leave no choice.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{HandInFile, SimulationRequest, run_simulation};

fn printed(name: &str, text: &str) -> Vec<String> {
    let files = [HandInFile { name: name.into(), bytes: text.into() }];
    let found = run_simulation(&files, &SimulationRequest::default()).unwrap();
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
    printed("t.vhd", &format!("entity t is end;\narchitecture a of t is\n{declarations}\nbegin\n{body}\nend;\n"))
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
