//! A simulation driven from outside: levels are set, time passes, levels are read, as at a bench.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use design::{Design, SignalId};
use elab::HandInFile;
use logic::LogicVector;
use sim::{SimOptions, Stepped};

const NS: u64 = 1_000_000;

fn design(name: &str, text: &str) -> Design {
    let files = [HandInFile { name: name.into(), bytes: text.into() }];
    let loaded = elab::load(&files, None, &mut Budget::hand_in()).unwrap();
    loaded.design.unwrap_or_else(|| panic!("{:#?}", loaded.diagnostics))
}

fn port(design: &Design, name: &str) -> SignalId {
    let ports = &design.scopes[design.top].ports;
    ports.iter().map(|p| p.signal).find(|s| design.signals[*s].name == name).unwrap()
}

/// What a port holds, the leftmost bit first.
fn read(run: &Stepped<'_>, design: &Design, name: &str) -> String {
    run.level(port(design, name)).to_string()
}

fn set(run: &mut Stepped<'_>, design: &Design, name: &str, value: u64) {
    let signal = port(design, name);
    run.set(signal, LogicVector::from_u64(design.signal_width(signal), value));
}

/// The same counter in both languages: counts at a rising edge, cleared at once.
const COUNTERS: [(&str, &str); 2] = [
    (
        "c.v",
        "module c(input clk, input rst, output reg [2:0] q);
         always @(posedge clk or posedge rst) if (rst) q <= 0; else q <= q + 1; endmodule",
    ),
    (
        "c.vhd",
        "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
         entity c is port (clk, rst : in std_logic; q : out std_logic_vector(2 downto 0)); end;
         architecture a of c is signal n : unsigned(2 downto 0); begin q <= std_logic_vector(n);
         process (clk, rst) begin if rst = '1' then n <= \"000\"; elsif rising_edge(clk) then n <= n + 1; end if; end process; end;",
    ),
];

#[test]
fn an_edge_counts_once_and_a_level_that_stays_does_nothing() {
    for (name, text) in COUNTERS {
        let design = design(name, text);
        let mut run = Stepped::new(&design, &SimOptions::default());
        assert!(run.advance(0));
        set(&mut run, &design, "clk", 0);
        set(&mut run, &design, "rst", 1);
        assert!(run.advance(10 * NS));
        assert_eq!(read(&run, &design, "q"), "000", "{name}");
        set(&mut run, &design, "rst", 0);
        for cycle in 1..=11u64 {
            for level in [1, 1, 0] {
                set(&mut run, &design, "clk", level);
                assert!(run.advance(10 * NS));
            }
            assert_eq!(run.level(port(&design, "q")).to_u64(), Some(cycle % 8), "{name}, cycle {cycle}");
        }
        assert_eq!(run.time(), 10 * NS + 33 * 10 * NS);
    }
}

#[test]
fn inputs_that_are_set_together_are_seen_together() {
    // Data that change with the edge are taken as they are after it, whichever was set first.
    let design = design("r.v", "module r(input clk, input d, output reg q); always @(posedge clk) q <= d; endmodule");
    for order in [["clk", "d"], ["d", "clk"]] {
        let mut run = Stepped::new(&design, &SimOptions::default());
        set(&mut run, &design, "clk", 0);
        set(&mut run, &design, "d", 0);
        assert!(run.advance(NS));
        for name in order {
            set(&mut run, &design, name, 1);
        }
        assert!(run.advance(NS));
        assert_eq!(read(&run, &design, "q"), "1", "{order:?}");
    }
}

#[test]
fn what_a_delay_holds_back_comes_in_a_later_step() {
    // IEEE 1364-2005 6.1.3: a continuous assignment with a delay is inertial; a pulse shorter than it is lost.
    let design = design("d.v", "`timescale 1ns/1ps\nmodule d(input a, output y); assign #5 y = a; endmodule");
    let mut run = Stepped::new(&design, &SimOptions::default());
    set(&mut run, &design, "a", 0);
    assert!(run.advance(20 * NS));
    set(&mut run, &design, "a", 1);
    assert!(run.advance(4 * NS));
    assert_eq!(read(&run, &design, "y"), "0");
    assert!(run.advance(NS));
    assert_eq!(read(&run, &design, "y"), "1");
    set(&mut run, &design, "a", 0);
    assert!(run.advance(3 * NS));
    set(&mut run, &design, "a", 1);
    assert!(run.advance(20 * NS));
    assert_eq!(read(&run, &design, "y"), "1", "the pulse of 3 ns never came through");
}

#[test]
fn a_design_that_ends_the_simulation_says_so_and_stays_ended() {
    let text = "module f(input a, output y); assign y = a; always @(posedge a) begin $display(\"bye\"); $finish; end endmodule";
    let design = design("f.v", text);
    let mut run = Stepped::new(&design, &SimOptions::default());
    set(&mut run, &design, "a", 0);
    assert!(run.advance(NS));
    set(&mut run, &design, "a", 1);
    assert!(!run.advance(NS));
    assert_eq!(run.output().trim(), "bye");
    assert!(!run.has_failed() && !run.advance(NS));
}

#[test]
fn an_assertion_of_severity_failure_ends_it_as_a_failure() {
    let text = "entity f is port (a : in bit; y : out bit); end; architecture x of f is begin y <= a;
                assert a = '0' report \"too high\" severity failure; end;";
    let design = design("f.vhd", text);
    let mut run = Stepped::new(&design, &SimOptions::default());
    assert!(run.advance(NS));
    set(&mut run, &design, "a", 1);
    assert!(!run.advance(NS) && run.has_failed());
    assert!(run.output().contains("too high"));
}

#[test]
fn a_loop_without_time_ends_with_the_budget_and_not_never() {
    let text = "module l(input a, output y); assign y = a & ~y; endmodule";
    let design = design("l.v", text);
    let mut run = Stepped::new(&design, &SimOptions { steps: 100_000, ..SimOptions::default() });
    set(&mut run, &design, "a", 0);
    assert!(run.advance(NS));
    set(&mut run, &design, "a", 1);
    assert!(!run.advance(NS));
}
