//! Waves without a testbench: what the inputs do, what a design makes of it, and where that is not what is expected.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use elab::HandInFile;
use exercise::Exercise;
use views::{InputStimulus, Lane, LaneRole, Stimulus, Stretch, Waves, WavesRequest, waves};

const NS: u64 = 1_000_000;

fn interlock() -> Exercise {
    let text = "format = \"zesty-gate/exercise/1\"\ntitle = \"Interlock\"\n\
        [[port]]\nname = \"full\"\ndir = \"in\"\n[[port]]\nname = \"lid\"\ndir = \"in\"\n\
        [[port]]\nname = \"run\"\ndir = \"out\"\n\
        [behaviour]\nkind = \"minterms\"\n[behaviour.outputs]\nrun = [1]\n[behaviour.dont_care]\nrun = [3]\n";
    Exercise::alone(text).unwrap()
}

/// A counter of two bits with a reset that waits for the clock, as a reference.
fn counter() -> Exercise {
    let text = "format = \"zesty-gate/exercise/1\"\ntitle = \"Counter\"\n\
        [[port]]\nname = \"clk\"\ndir = \"in\"\n[[port]]\nname = \"rst\"\ndir = \"in\"\n\
        [[port]]\nname = \"en\"\ndir = \"in\"\n[[port]]\nname = \"q\"\ndir = \"out\"\nrange = \"1:0\"\n\
        [clock]\nport = \"clk\"\nedge = \"rising\"\nfrequency_hz = 12000000\n\
        [reset]\nport = \"rst\"\nactive = \"high\"\nkind = \"sync\"\n\
        [behaviour]\nkind = \"reference\"\nfiles = [\"ref.v\"]\ntop = \"ref\"\n";
    let reference = "module ref(input clk, rst, en, output reg [1:0] q);\n\
        always @(posedge clk) if (rst) q <= 0; else if (en) q <= q + 1; endmodule\n";
    Exercise::load(text, &|_| Ok(reference.into())).unwrap()
}

fn file(name: &str, text: &str) -> HandInFile {
    HandInFile { name: name.into(), bytes: text.into() }
}

fn run(exercise: &Exercise, files: &[HandInFile], request: &WavesRequest) -> Waves {
    waves(exercise, files, request, &Budget::hand_in()).unwrap()
}

fn lane<'w>(waves: &'w Waves, role: LaneRole, name: &str) -> &'w Lane {
    let found = waves.lanes.iter().find(|l| l.role == role && l.name == name);
    found.unwrap_or_else(|| panic!("no {role:?} {name} in {:#?}", waves.lanes))
}

fn with(length_ns: f64, lines: &[(&str, &str)]) -> WavesRequest {
    let inputs = lines.iter().map(|(i, l)| InputStimulus { input: (*i).into(), line: (*l).into() }).collect();
    WavesRequest { stimulus: Some(Stimulus { length_ns, step_ns: 10.0, inputs }), ..WavesRequest::default() }
}

#[test]
fn without_a_design_the_expected_behaviour_alone_runs_through_all_rows() {
    let found = run(&interlock(), &[], &WavesRequest::default());
    let roles: Vec<(LaneRole, &str)> = found.lanes.iter().map(|l| (l.role, l.name.as_str())).collect();
    assert_eq!(roles, [(LaneRole::Input, "full"), (LaneRole::Input, "lid"), (LaneRole::Expected, "run")]);
    let wanted = lane(&found, LaneRole::Expected, "run");
    assert_eq!(wanted.times, [0, 20 * NS, 40 * NS, 60 * NS]);
    assert_eq!(wanted.values, ["0", "1", "0", "-"], "rows in binary order, the don't-care as such");
    assert_eq!(found.time_fs, 80 * NS);
}

#[test]
fn a_wrong_design_differs_for_as_long_as_its_row_lasts_and_never_on_a_dont_care() {
    let wrong = file("m.v", "module m(input full, lid, output run); assign run = lid & ~full | full & ~lid; endmodule");
    let found = run(&interlock(), &[wrong], &WavesRequest::default());
    assert_eq!(lane(&found, LaneRole::Expected, "run").differs, [Stretch { from: 40 * NS, to: 60 * NS }]);
    let right = file(
        "m.vhd",
        "library ieee; use ieee.std_logic_1164.all;\nentity m is port (FULL, LID : in std_logic; RUN : out std_logic); end;\narchitecture a of m is begin run <= lid; end;",
    );
    let design = file("n.v", "module n(input full, lid, output run); assign run = lid & ~full; endmodule");
    let found = run(&interlock(), &[design], &WavesRequest::default());
    assert!(lane(&found, LaneRole::Expected, "run").differs.is_empty());
    // `run <= lid` is right but for nothing: row 3 is a don't-care.
    let found = run(&interlock(), &[right], &WavesRequest::default());
    assert!(lane(&found, LaneRole::Expected, "run").differs.is_empty(), "names compare without case");
}

#[test]
fn a_clocked_design_runs_beside_its_reference() {
    let right = "module c(input clk, rst, en, output reg [1:0] q);\n\
        always @(posedge clk) if (rst) q <= 0; else q <= q + en; endmodule";
    let found = run(&counter(), &[file("c.v", right)], &WavesRequest::default());
    let wanted = lane(&found, LaneRole::Expected, "q");
    assert!(wanted.differs.is_empty(), "{:?}", wanted.differs);
    assert_eq!(wanted.values[0], "--", "nothing is demanded before the first edge under reset");
    assert_eq!(&wanted.values[1..5], ["00", "01", "10", "11"]);
    let late = right.replace("q <= q + en", "q <= q + {1'b0, en & q != 2}");
    let found = run(&counter(), &[file("c.v", &late)], &WavesRequest::default());
    let differs = &lane(&found, LaneRole::Expected, "q").differs;
    // The clock rises at 10, 30, 50 ns …, the reset holds till 40 ns, `en` counts with the rows.
    assert!(!differs.is_empty() && differs.iter().all(|s| s.from % (20 * NS) == 10 * NS), "{differs:?}");
}

#[test]
fn an_edge_sees_what_stood_before_it_when_both_come_at_the_same_time() {
    // Common practice: data that change with the clock edge count from the next edge on.
    let ff = "module c(input clk, rst, en, output reg [1:0] q);\nalways @(posedge clk) if (rst) q <= 0; else if (en) q <= q + 1; endmodule";
    let request = with(100.0, &[("clk", "clock 20"), ("rst", "edges 0=1 20=0"), ("en", "edges 0=0 30=1 50=0")]);
    let found = run(&counter(), &[file("c.v", ff)], &request);
    let actual = lane(&found, LaneRole::Output, "q");
    assert_eq!(actual.times, [0, 10 * NS, 50 * NS], "the edge at 30 ns comes before `en`, the one at 50 ns after it");
    assert!(lane(&found, LaneRole::Expected, "q").differs.is_empty());
}

#[test]
fn patterns_constants_and_edges_do_what_they_say() {
    let request = with(60.0, &[("full", "pattern 0 1*2 0 repeat"), ("lid", "edges 0=1 25=0 45=x")]);
    let found = run(&interlock(), &[], &request);
    assert_eq!(lane(&found, LaneRole::Input, "full").times, [0, 10 * NS, 30 * NS, 50 * NS]);
    let lid = lane(&found, LaneRole::Input, "lid");
    assert_eq!((lid.times.as_slice(), lid.values.join("")), ([0, 25 * NS, 45 * NS].as_slice(), "10X".into()));
    assert_eq!(
        lane(&found, LaneRole::Expected, "run").values,
        ["1", "-", "0", "-"],
        "an unknown input demands nothing"
    );
    let told = waves(&interlock(), &[], &with(60.0, &[("lamp", "hold 1")]), &Budget::hand_in()).unwrap_err();
    assert_eq!(told.to_string(), "The design has no input `lamp`; its inputs are full, lid.");
}

#[test]
fn any_unit_runs_on_its_own_and_a_testbench_runs_as_it_is() {
    let text = "module half(input x, y, output s, c); assign s = x ^ y, c = x & y; endmodule\n\
        module m(input full, lid, output run); wire n; half h(lid, ~full, n, run); endmodule\n";
    let part = WavesRequest { unit: Some("half".into()), ..WavesRequest::default() };
    let found = run(&interlock(), &[file("m.v", text)], &part);
    assert_eq!(found.units, ["half", "m"]);
    assert_eq!(lane(&found, LaneRole::Output, "s").values, ["0", "1", "0"], "rows 00, 01 and 10 alike, 11");
    assert_eq!(found.why_no_expected.as_deref(), Some("The ports of this unit are not those of the exercise."));
    let bench = "module t; reg a = 0; wire r; m u(a, 1'b1, r); initial begin #5 a = 1; #5 $display(\"%b\", r); $finish; end endmodule";
    let files = [file("m.v", text), file("t.v", bench)];
    let found = run(&interlock(), &files, &WavesRequest::default());
    assert_eq!((found.unit.as_deref(), found.output.as_str(), found.stimulus.is_none()), (Some("t"), "0\n", true));
    // A stimulus of one's own goes past the testbench to the design.
    let found = run(&interlock(), &files, &with(40.0, &[("full", "hold 0")]));
    assert_eq!(found.unit.as_deref(), Some("m"));
    assert!(lane(&found, LaneRole::Expected, "run").differs.is_empty());
}

#[test]
fn a_faulty_design_says_what_is_wrong_with_it() {
    let found = run(
        &interlock(),
        &[file("m.v", "module m(input full, lid, output run);\n assign run = lid &;\nendmodule")],
        &WavesRequest::default(),
    );
    assert_eq!(found.end, "not_run");
    assert!(found.findings.iter().any(|f| f.severity == "stop" && f.line == Some(2)), "{:?}", found.findings);
}

#[test]
fn what_is_left_out_ends_for_all_lanes_at_the_same_time_and_differs_nowhere() {
    let right = "module m(input full, lid, output run); assign run = lid & ~full; endmodule";
    // More changes than are kept: the run is cut, and nothing after the cut is compared.
    let long = with(1e4, &[("full", "clock 0.02"), ("lid", "clock 0.04")]);
    let mut found = run(&interlock(), &[file("m.v", right)], &long);
    assert!(found.cut && found.time_fs < 10_000 * NS);
    assert!(lane(&found, LaneRole::Expected, "run").differs.is_empty());
    found.shorten(300, 1_000);
    assert!(found.lanes.iter().map(|l| l.times.len()).sum::<usize>() <= 1_000);
    assert!(found.lanes.iter().all(|l| l.times.iter().skip(1).all(|t| *t < found.time_fs)));
    let wrong = right.replace("& ~full", "| full");
    let mut found = run(&interlock(), &[file("m.v", &wrong)], &WavesRequest::default());
    found.shorten(300, 6);
    let wanted = lane(&found, LaneRole::Expected, "run");
    assert!(wanted.differs.iter().all(|s| s.from < s.to && s.to <= found.time_fs), "{:?}", wanted.differs);
}

#[test]
fn a_fork_adds_no_lane_and_a_name_with_a_point_keeps_its_own() {
    let bench = "module t; reg \\a.b ; initial begin \\a.b = 0; fork #1 \\a.b = 1; #2; join end endmodule";
    let found = run(&interlock(), &[file("t.v", bench)], &WavesRequest::default());
    let names: Vec<&str> = found.lanes.iter().map(|l| l.name.as_str()).collect();
    assert_eq!(names, ["a.b"]);
}

#[test]
fn a_stimulus_may_take_a_second_and_one_that_takes_too_much_work_shows_how_far_it_came() {
    let slow = with(1e9, &[("full", "clock 500000000"), ("lid", "edges 0=0 999999999=1")]);
    let found = run(&interlock(), &[], &slow);
    assert_eq!(lane(&found, LaneRole::Input, "full").times, [0, 250_000_000 * NS, 500_000_000 * NS, 750_000_000 * NS]);
    assert_eq!((found.end.as_str(), found.time_fs), ("finished", 1_000_000_000 * NS));
    let fast = WavesRequest { steps: Some(100_000), ..with(1e9, &[("full", "clock 0.01"), ("lid", "hold 0")]) };
    let found = run(&interlock(), &[], &fast);
    assert_eq!(found.end, "stopped");
    assert!(found.time_fs > 0 && found.findings.iter().any(|f| f.severity == "stop" && f.file.is_none()));
}

#[test]
fn the_values_of_an_enumeration_keep_their_names_in_both_languages() {
    // IEEE 1800-2017 6.19: a name without a value is one more than the one before it; the others keep theirs.
    let verilog = "package p; typedef enum logic [3:0] {FILL = 1, DRAIN, RINSE = 8} hot_t; endpackage
        module tb; import p::*; hot_t state; enum {LOW, HIGH} level; logic [3:0] plain;
        initial begin state = FILL; #1 state = RINSE; level = HIGH; plain = 1; #1 $finish; end endmodule";
    let waves = run(&interlock(), &[file("tb.sv", verilog)], &WavesRequest::default());
    let names = |waves: &Waves, lane: &str| waves.lanes.iter().find(|l| l.name == lane).unwrap().literals.clone();
    assert_eq!(names(&waves, "state"), ["", "FILL", "DRAIN", "", "", "", "", "", "RINSE"]);
    assert_eq!(names(&waves, "level"), ["LOW", "HIGH"]);
    assert!(names(&waves, "plain").is_empty());
    let vhdl = "entity tb is end; architecture a of tb is type state_t is (fill, drain); signal state : state_t;
        begin process begin wait for 1 ns; state <= drain; wait; end process; end;";
    let waves = run(&interlock(), &[file("tb.vhd", vhdl)], &WavesRequest::default());
    assert_eq!(names(&waves, "state"), ["fill", "drain"]);
}
