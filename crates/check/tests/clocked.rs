//! Clocked exercises: what is proved, where designs differ, and which small change would put them right.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use check::{HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use verdict::{ProofKind, ProofMethod, Verdict, VerdictKind};

const PORTS: &str = "format = \"zesty-gate/exercise/1\"\ntitle = \"T\"\n";

fn port(name: &str, dir: &str, range: &str) -> String {
    let range = if range.is_empty() { String::new() } else { format!("range = \"{range}\"\n") };
    format!("[[port]]\nname = \"{name}\"\ndir = \"{dir}\"\n{range}")
}

fn exercise(ports: &[(&str, &str, &str)], rest: &str, reference: &str) -> Exercise {
    let ports: String = ports.iter().map(|(n, d, r)| port(n, d, r)).collect();
    let text = format!("{PORTS}{ports}{rest}");
    Exercise::load(&text, &|_| Ok(reference.as_bytes().to_vec())).unwrap_or_else(|e| panic!("{e}\n{text}"))
}

fn verdict(exercise: &Exercise, name: &str, text: &str) -> Verdict {
    let files = vec![HandInFile { name: name.into(), bytes: text.into() }];
    check(exercise, &HandIn { files, ..HandIn::default() }).verdict
}

fn first(verdict: &Verdict) -> &str {
    verdict.findings.iter().find(|f| f.severity != "note").map_or("", |f| f.message.as_str())
}

fn near(verdict: &Verdict) -> Vec<&str> {
    verdict.near_misses.iter().map(|n| n.kind.as_str()).filter(|k| *k != "single_repair").collect()
}

const COUNTER_PORTS: [(&str, &str, &str); 5] =
    [("clk", "in", ""), ("rst", "in", ""), ("en", "in", ""), ("q", "out", "3:0"), ("full", "out", "")];
const SYNC: &str = "[clock]\nport = \"clk\"\n[reset]\nport = \"rst\"\n";
const REFERENCE: &str = "[behaviour]\nkind = \"reference\"\nfiles = [\"ref.v\"]\n";
const DOZEN: &str = "module crate_counter(input clk, rst, en, output reg [3:0] q, output full);
 always @(posedge clk) if (rst) q <= 0; else if (en) q <= (q == 11) ? 0 : q + 1;
 assign full = en & (q == 11);
endmodule\n";

fn dozen() -> Exercise {
    exercise(&COUNTER_PORTS, &format!("{SYNC}{REFERENCE}"), DOZEN)
}

#[test]
fn a_counter_of_another_language_and_encoding_is_proved_in_every_state() {
    let vhdl = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity crate_counter is port (clk, rst, en : in std_logic; q : out std_logic_vector(3 downto 0); full : out std_logic); end;
architecture rtl of crate_counter is signal left : integer range 0 to 11 := 11; begin
 process (clk) begin if rising_edge(clk) then
  if rst = '1' then left <= 11; elsif en = '1' then
   if left = 0 then left <= 11; else left <= left - 1; end if; end if; end if; end process;
 q <= std_logic_vector(to_unsigned(11 - left, 4));
 full <= '1' when left = 0 and en = '1' else '0'; end;";
    let found = verdict(&dozen(), "c.vhd", vhdl);
    assert_eq!((found.verdict, found.proof.kind), (VerdictKind::Pass, ProofKind::Proved));
    // 12 states, 4 combinations of reset and enable.
    assert_eq!((found.proof.method, found.rows.total), (Some(ProofMethod::States), 48));
    assert_eq!(found.resources.unwrap().flip_flops, 4);
}

#[test]
fn a_difference_is_shown_by_the_shortest_way_to_it() {
    let found = verdict(&dozen(), "c.v", &DOZEN.replace("q == 11) ? 0", "q == 9) ? 0"));
    assert_eq!(found.verdict, VerdictKind::Partly);
    assert_eq!(first(&found), "`q` is 0000 where 1010 is expected, 10 clock edges after the reset, with en=1.");
    let evidence = found.findings[0].evidence.as_ref().unwrap();
    assert_eq!((evidence.cycle, evidence.trace.len()), (Some(10), 11));
    assert_eq!(evidence.trace[9].actual["q[3]"], "1");
    assert_eq!(near(&found), ["range_cut_short"]);
}

#[test]
fn near_misses_of_clock_and_reset_are_checked_before_they_are_said() {
    let of = |from: &str, to: &str| {
        assert!(DOZEN.contains(from));
        verdict(&dozen(), "c.v", &DOZEN.replace(from, to))
    };
    assert_eq!(near(&of("posedge clk", "negedge clk")), ["clock_edge"]);
    assert_eq!(near(&of("if (rst)", "if (!rst)")), ["reset_polarity"]);
    assert_eq!(near(&of("full = en & (q == 11)", "full = ~(en & (q == 11))")), ["output_inverted"]);
    assert_eq!(near(&of("else if (en)", "else if (!en)")), Vec::<&str>::new(), "full reads en too");
    let plain = exercise(
        &COUNTER_PORTS[..4],
        &format!("{SYNC}{REFERENCE}"),
        &DOZEN.replace(", output full", "").replace("assign full = en & (q == 11);", ""),
    );
    let turn = |last: u32| {
        let text = DOZEN.replace(", output full", "").replace("assign full = en & (q == 11);", "");
        verdict(&plain, "c.v", &text.replace("q == 11", &format!("q == {last}")))
    };
    assert_eq!(near(&turn(9)), ["range_cut_short"]);
    assert_eq!(turn(9).near_misses[0].message, "It begins again after 10 steps where the exercise has 12.");
    assert_eq!(near(&turn(10)), ["off_by_one_count"]);
    assert_eq!(near(&turn(12)), ["off_by_one_count"]);
    // Two mistakes are no near miss.
    let both = DOZEN.replace("posedge", "negedge").replace("q == 11) ? 0", "q == 10) ? 0");
    assert_eq!(near(&verdict(&dozen(), "c.v", &both)), Vec::<&str>::new());
}

#[test]
fn what_nothing_sets_is_unknown_and_said_so() {
    let found = verdict(&dozen(), "c.v", &DOZEN.replace("if (rst) q <= 0; else", ""));
    assert_eq!(found.verdict, VerdictKind::Fail);
    assert_eq!(first(&found), "`q` is unknown right after the reset: `q` has no level yet.");
    assert_eq!(found.findings[0].code, "unknown-after-start");
    // A first level in the declaration is no reset: the counter has counted while it was held.
    let declared = DOZEN.replace("if (rst) q <= 0; else", "").replace("output reg [3:0] q", "output reg [3:0] q = 0");
    let found = verdict(&dozen(), "c.v", &declared);
    assert_eq!(first(&found), "`q` is 0010 where 0000 is expected, right after the reset, with en=0.");
}

#[test]
fn registers_whose_level_never_shows_may_be_unknown() {
    // The second stage loads before it is looked at.
    let ports = [("clk", "in", ""), ("rst", "in", ""), ("d", "in", ""), ("y", "out", "")];
    let reference = "module m(input clk, rst, d, output y); reg a, v; always @(posedge clk) begin
      a <= d; v <= ~rst; end assign y = v & a; endmodule";
    let exercise = exercise(&ports, &format!("{SYNC}{REFERENCE}"), reference);
    assert_eq!(verdict(&exercise, "m.v", reference).verdict, VerdictKind::Pass);
}

#[test]
fn a_power_up_level_that_makes_no_difference_is_none() {
    // Simulation shows X for `a | ~a` at power-up; whatever the level is, the output is 1.
    let ports = [("clk", "in", ""), ("d", "in", ""), ("y", "out", "")];
    let rest = "[clock]\nport = \"clk\"\n[behaviour]\nkind = \"reference\"\nfiles = [\"r.v\"]\n";
    let exercise = exercise(&ports, rest, "module m(input clk, d, output y); assign y = 1'b1; endmodule");
    let same = "module m(input clk, d, output y); reg a; always @(posedge clk) a <= d; assign y = a | ~a; endmodule";
    assert_eq!(verdict(&exercise, "m.v", same).verdict, VerdictKind::Pass);
}

#[test]
fn a_ripple_counter_counts_as_a_synchronous_one() {
    // Each stage is clocked by the one before it (common practice; told apart by its clock skew only).
    let ports = [("clk", "in", ""), ("rst", "in", ""), ("q", "out", "2:0")];
    let rest = "[clock]\nport = \"clk\"\n[reset]\nport = \"rst\"\nkind = \"async\"\n[behaviour]\nkind = \"reference\"\nfiles = [\"r.v\"]\n";
    let reference = "module m(input clk, rst, output reg [2:0] q);
      always @(posedge clk or posedge rst) if (rst) q <= 0; else q <= q + 1; endmodule";
    let ripple = "module t(input c, r, output reg q); always @(negedge c or posedge r) if (r) q <= 0; else q <= ~q; endmodule
      module m(input clk, rst, output [2:0] q);
      t t0(.c(~clk), .r(rst), .q(q[0])); t t1(.c(q[0]), .r(rst), .q(q[1])); t t2(.c(q[1]), .r(rst), .q(q[2])); endmodule";
    let found = verdict(&exercise(&ports, rest, reference), "m.v", ripple);
    assert_eq!((found.verdict, found.proof.kind), (VerdictKind::Pass, ProofKind::Proved), "{:?}", found.findings);
}

const WASHER_PORTS: [(&str, &str, &str); 6] = [
    ("clk", "in", ""),
    ("rst_n", "in", ""),
    ("start", "in", ""),
    ("high", "in", ""),
    ("valve", "out", ""),
    ("brush", "out", ""),
];
const WASHER: &str = "[clock]\nport = \"clk\"\n[reset]\nport = \"rst_n\"\nactive = \"low\"\nkind = \"async\"\n\
[behaviour]\nkind = \"states\"\ninitial = \"idle\"\n\
[[behaviour.state]]\nname = \"idle\"\noutputs = { valve = 0, brush = 0 }\nnext = [{ when = \"start\", to = \"fill\" }]\n\
[[behaviour.state]]\nname = \"fill\"\noutputs = { valve = 1, brush = 0 }\nnext = [{ when = \"high\", to = \"wash\" }]\n\
[[behaviour.state]]\nname = \"wash\"\noutputs = { valve = 0, brush = 1 }\nnext = [{ when = \"start'\", to = \"idle\" }]\n";
const WASHER_DESIGN: &str = "module washer(input logic clk, rst_n, start, high, output logic valve, brush);
 typedef enum logic [2:0] {IDLE = 3'b001, FILL = 3'b010, WASH = 3'b100} state_t;
 state_t s, n;
 always_ff @(posedge clk or negedge rst_n) if (!rst_n) s <= IDLE; else s <= n;
 always_comb begin n = s; valve = 0; brush = 0;
  case (s) IDLE: if (start) n = FILL;
   FILL: begin valve = 1; if (high) n = WASH; end
   WASH: begin brush = 1; if (!start) n = IDLE; end
   default: n = IDLE; endcase end
endmodule\n";

#[test]
fn a_state_table_is_met_by_any_encoding() {
    let exercise = exercise(&WASHER_PORTS, WASHER, "");
    let found = verdict(&exercise, "w.sv", WASHER_DESIGN);
    assert_eq!((found.verdict, found.proof.kind, found.rows.total), (VerdictKind::Pass, ProofKind::Proved, 24));
    let wrong = WASHER_DESIGN.replace("if (high) n = WASH", "if (start) n = WASH");
    assert_eq!(
        first(&verdict(&exercise, "w.sv", &wrong)),
        "`valve` is 0 where 1 is expected, 2 clock edges after the reset, with start=1, high=0."
    );
    let swapped =
        WASHER_DESIGN.replace("valve = 1", "brush = 1").replace("begin brush = 1; if (!", "begin valve = 1; if (!");
    assert_eq!(near(&verdict(&exercise, "w.sv", &swapped)), ["outputs_swapped"]);
    let synchronous = verdict(&exercise, "w.sv", &WASHER_DESIGN.replace(" or negedge rst_n", ""));
    assert_eq!(near(&synchronous), ["reset_polarity"]);
    assert!(
        synchronous.near_misses[0]
            .message
            .contains("resets it at the clock edge, where the exercise resets it at once")
    );
    // Outputs through a register come a cycle later.
    let late = WASHER_DESIGN.replace("output logic valve, brush", "output logic valve_r, brush_r").replace(
        "state_t s, n;",
        "state_t s, n; logic valve, brush; always_ff @(posedge clk) begin valve_r <= valve; brush_r <= brush; end",
    );
    let late = late.replace("valve_r,", "valve_q,").replace("brush_r)", "brush_q)");
    let late = late.replace("valve_r <=", "valve_q <=").replace("brush_r <=", "brush_q <=");
    let late = late.replace("valve_q", "VQ").replace("brush_q", "BQ");
    let late = late.replace("valve", "v").replace("brush", "b").replace("VQ", "valve").replace("BQ", "brush");
    assert_eq!(near(&verdict(&exercise, "w.sv", &late)), ["one_cycle_late"]);
}

#[test]
fn a_mealy_output_follows_its_input_at_once() {
    // A detector of two ones in a row (a standard exercise): the Moore version is a cycle late.
    let ports = [("clk", "in", ""), ("rst", "in", ""), ("x", "in", ""), ("y", "out", "")];
    let table = format!(
        "{SYNC}[behaviour]\nkind = \"states\"\n\
        [[behaviour.state]]\nname = \"none\"\noutputs = {{ y = 0 }}\nnext = [{{ when = \"x\", to = \"one\" }}]\n\
        [[behaviour.state]]\nname = \"one\"\noutputs = {{ y = 0 }}\n\
        next = [{{ when = \"x\", to = \"one\", outputs = {{ y = 1 }} }}, {{ to = \"none\" }}]\n"
    );
    let exercise = exercise(&ports, &table, "");
    let mealy = "module d(input clk, rst, x, output y); reg s; always @(posedge clk) s <= rst ? 0 : x; assign y = s & x; endmodule";
    assert_eq!(verdict(&exercise, "d.v", mealy).verdict, VerdictKind::Pass);
    let moore = "module d(input clk, rst, x, output reg y); reg s; always @(posedge clk) if (rst) {s, y} <= 0; else begin s <= x; y <= s & x; end endmodule";
    assert_eq!(near(&verdict(&exercise, "d.v", moore)), ["one_cycle_late"]);
}

const LIGHTS: &str = "[behaviour]\nkind = \"sequence\"\noutput = \"led\"\n\
patterns = [\"000001\", \"000010\", \"000100\", \"001000\", \"010000\", \"100000\"]\nstep_cycles = 10\n";

#[test]
fn a_sequence_steps_after_exactly_its_cycles() {
    let ports = [("clk", "in", ""), ("rst", "in", ""), ("led", "out", "5:0")];
    let exercise = exercise(&ports, &format!("{SYNC}{LIGHTS}"), "");
    let design = "module lights(input clk, rst, output reg [5:0] led); reg [3:0] n;
 always @(posedge clk) if (rst) begin n <= 0; led <= 6'b000001; end
  else if (n == 9) begin n <= 0; led <= {led[4:0], led[5]}; end else n <= n + 1; endmodule";
    let found = verdict(&exercise, "l.v", design);
    assert_eq!((found.verdict, found.rows.total), (VerdictKind::Pass, 120));
    let longer = verdict(&exercise, "l.v", &design.replace("n == 9", "n == 10"));
    assert_eq!(near(&longer), ["off_by_one_count"]);
    assert_eq!(longer.near_misses[0].repair, "Let the counter end at 9 instead of 10.");
    let reversed = design.replace("000001", "100000").replace("{led[4:0], led[5]}", "{led[0], led[5:1]}");
    assert_eq!(near(&verdict(&exercise, "l.v", &reversed)), ["vector_reversed"]);
}

fn beacon(extra: &str) -> Exercise {
    let rest = format!(
        "[clock]\nport = \"clk\"\nfrequency_hz = 1000\n[behaviour]\nkind = \"rate\"\noutput = \"lamp\"\n{extra}"
    );
    exercise(&[("clk", "in", ""), ("lamp", "out", "")], &rest, "")
}

/// The terminal count of half a period is F/(2·f) − 1 (common practice).
fn divider(terminal: u32) -> String {
    format!(
        "module b(input clk, output reg lamp = 0); reg [9:0] n = 0;
         always @(posedge clk) if (n == {terminal}) begin n <= 0; lamp <= ~lamp; end else n <= n + 1; endmodule"
    )
}

#[test]
fn a_rate_is_proved_by_coming_back_to_a_state() {
    // 4 Hz from 1 kHz: 250 cycles, terminal count 1000/(2·4) − 1 = 124.
    let found = verdict(&beacon("frequency_hz = 4\n"), "b.v", &divider(124));
    assert_eq!((found.verdict, found.proof.kind), (VerdictKind::Pass, ProofKind::Proved));
    let off = verdict(&beacon("frequency_hz = 4\n"), "b.v", &divider(125));
    assert_eq!(
        first(&off),
        "`lamp` repeats every 252 clock cycles (3.968 Hz) where 250 clock cycles (4.000 Hz) are wanted."
    );
    assert_eq!(near(&off), ["off_by_one_count"]);
    let line = off.near_misses.iter().find(|n| n.kind == "single_repair").unwrap();
    assert_eq!((line.line, line.message.contains("`125` where `124`")), (Some(2), true), "{}", line.message);
    assert_eq!(verdict(&beacon("period_cycles = 252\n"), "b.v", &divider(125)).verdict, VerdictKind::Pass);
    let tolerant = beacon("period_cycles = 250\ntolerance_cycles = 2\n");
    assert_eq!(verdict(&tolerant, "b.v", &divider(125)).verdict, VerdictKind::Pass);
    let still = verdict(
        &beacon("period_cycles = 250\n"),
        "b.v",
        "module b(input clk, output lamp); assign lamp = 0; endmodule",
    );
    assert_eq!(first(&still), "`lamp` never changes.");
    assert_eq!(still.findings[0].line, Some(1));
    let both_low = "module b(input clk, output lamp); reg [7:0] n = 0; assign lamp = n < 125 ? 1'b0 : 1'b0;
      always @(posedge clk) n <= n == 249 ? 0 : n + 1; endmodule";
    let found = verdict(&beacon("frequency_hz = 4\n"), "b.v", both_low);
    assert_eq!((found.verdict, found.near_misses.len()), (VerdictKind::Fail, 1), "{}", first(&found));
    let uneven = "module b(input clk, output lamp); reg [7:0] n = 0; assign lamp = n < 100;
      always @(posedge clk) n <= n == 249 ? 0 : n + 1; endmodule";
    let found = verdict(&beacon("period_cycles = 250\n"), "b.v", uneven);
    assert!(first(&found).contains("high for 100 clock cycles of its 250; 125 are wanted"), "{}", first(&found));
    assert_eq!(verdict(&beacon("period_cycles = 250\nduty = 0.4\n"), "b.v", uneven).verdict, VerdictKind::Pass);
}

#[test]
fn faults_of_a_clocked_exercise_are_one_sentence_with_their_place() {
    let ports: String = WASHER_PORTS.iter().map(|(n, d, r)| port(n, d, r)).collect();
    let fault = |from: &str, to: &str| {
        assert!(WASHER.contains(from), "{from}");
        let text = format!("{PORTS}{ports}{}", WASHER.replacen(from, to, 1));
        Exercise::alone(&text).unwrap_err().message
    };
    assert_eq!(fault("\"clk\"", "\"clkk\""), "The clock `clkk` is not an input of the exercise; write `clk`.");
    assert!(fault("\"low\"", "\"down\"").contains("`high` or `low`"));
    assert_eq!(fault("to = \"fill\"", "to = \"fil\""), "Unknown state `fil`; write `fill`.");
    assert!(fault("when = \"high\"", "when = \"hihg\"").contains("`hihg`"));
    assert!(fault("valve = 1, brush = 0", "valve = 1").contains("says nothing of `brush`"));
    assert!(fault("valve = 1, brush = 0", "valve = 2, brush = 0").contains("2 does not fit"));
    assert!(fault("[clock]\nport = \"clk\"\n[reset]", "[reset]").contains("needs a clock"));
    let reference = "module m(input clk, output reg q); always @(posedge clk) q <= ~q; endmodule";
    let text = format!("{PORTS}{}{}[clock]\nport = \"clk\"\n{REFERENCE}", port("clk", "in", ""), port("q", "out", ""));
    let told = Exercise::load(&text, &|_| Ok(reference.as_bytes().to_vec())).unwrap_err().message;
    assert_eq!(told, "The reference leaves `q` unknown after 0 clock edges; give its registers a first level.");
}

/// What a generated testbench says of a design, with both in one run.
fn benched(exercise: &Exercise, ending: &str, design: &str) -> String {
    let files = views::starter(exercise, &Budget::hand_in()).unwrap();
    let bench = files.iter().find(|f| f.name.ends_with(ending)).unwrap();
    let unit = bench.name.trim_end_matches(ending).to_owned();
    let list = vec![
        HandInFile { name: "d.sv".into(), bytes: design.replace("UNIT", &unit).into_bytes() },
        HandInFile { name: bench.name.clone(), bytes: bench.text.clone().into_bytes() },
    ];
    let request = elab::SimulationRequest { top: Some(format!("{unit}_tb")), ..Default::default() };
    let found = elab::run_simulation(&list, &request, &Budget::hand_in()).unwrap();
    let stops: Vec<_> = found.findings.iter().filter(|f| f.severity == "stop").collect();
    assert!(stops.is_empty(), "{stops:#?}\n{}", bench.text);
    found.output.lines().last().unwrap_or_default().to_owned()
}

#[test]
fn generated_testbenches_pass_the_right_design_and_fail_a_wrong_one_in_both_languages() {
    let lights = [("clk", "in", ""), ("rst", "in", ""), ("led", "out", "5:0")];
    let lights = exercise(&lights, &format!("{SYNC}{}", LIGHTS.replace("step_cycles = 10", "step_cycles = 3")), "");
    let chain = "module UNIT(input clk, rst, output reg [5:0] led); reg [3:0] n;
 always @(posedge clk) if (rst) begin n <= 0; led <= 6'b000001; end
  else if (n == 2) begin n <= 0; led <= {led[4:0], led[5]}; end else n <= n + 1; endmodule";
    let cases = [
        (dozen(), DOZEN.replace("crate_counter", "UNIT"), ("q == 11) ? 0", "q == 12) ? 0")),
        (
            exercise(&WASHER_PORTS, WASHER, ""),
            WASHER_DESIGN.replace("module washer", "module UNIT"),
            ("brush = 1", "brush = 0"),
        ),
        (lights, chain.to_owned(), ("n == 2", "n == 3")),
        (beacon("frequency_hz = 4\n"), divider(124).replace("module b", "module UNIT"), ("n == 124", "n == 123")),
    ];
    for (exercise, design, (from, to)) in cases {
        assert!(design.contains(from));
        for ending in ["_tb.v", "_tb.vhd"] {
            let right = benched(&exercise, ending, &design);
            assert!(right.contains("PASS"), "{ending}: {right}\n{design}");
            let wrong = benched(&exercise, ending, &design.replacen(from, to, 1));
            assert!(wrong.contains("FAIL"), "{ending}: {wrong}\n{design}");
        }
    }
}

const LOADER: &str = "module load(input clk, rst, en, load, input [31:0] d, output [31:0] q, output last);
 reg [31:0] r; always @(posedge clk) if (rst) r <= 0; else if (load) r <= d; else if (en) r <= r + 1;
 assign q = r; assign last = &r & en;
endmodule\n";

fn loader() -> Exercise {
    let ports = [
        ("clk", "in", ""),
        ("rst", "in", ""),
        ("en", "in", ""),
        ("load", "in", ""),
        ("d", "in", "31:0"),
        ("q", "out", "31:0"),
        ("last", "out", ""),
    ];
    exercise(&ports, &format!("{SYNC}{REFERENCE}"), LOADER)
}

#[test]
fn a_counter_of_four_thousand_million_states_is_proved_by_induction() {
    let vhdl = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity load is port (clk, rst, en, load : in std_logic; d : in std_logic_vector(31 downto 0);
  q : out std_logic_vector(31 downto 0); last : out std_logic); end;
architecture rtl of load is signal now, then_ : unsigned(31 downto 0); begin
 then_ <= (others => '0') when rst = '1' else unsigned(d) when load = '1' else now + 1 when en = '1' else now;
 process (clk) begin if rising_edge(clk) then now <= then_; end if; end process;
 q <= std_logic_vector(now); last <= en when now = x\"ffffffff\" else '0'; end;"
        .replace("then_", "following");
    let found = verdict(&loader(), "l.vhd", &vhdl);
    assert_eq!((found.verdict, found.proof.kind), (VerdictKind::Pass, ProofKind::Proved), "{}", first(&found));
    assert_eq!(found.proof.method, Some(ProofMethod::Induction));
    assert_eq!(found.headline(), "Right in every state it can reach, whatever the inputs.");
}

#[test]
fn a_rare_value_that_goes_wrong_is_found_from_the_start() {
    // One value of 2^32, which no stimulus comes upon: it is loaded, and the next count shows it.
    let rare = LOADER.replace("r <= r + 1", "r <= r == 32'hcafe0001 ? 0 : r + 1");
    let found = verdict(&loader(), "l.v", &rare);
    assert_eq!((found.verdict, found.proof.kind), (VerdictKind::Partly, ProofKind::Differs));
    assert!(first(&found).contains("2 clock edges after the reset"), "{}", first(&found));
    let trace = &found.findings[0].evidence.as_ref().unwrap().trace;
    let loaded: String = (0..32).rev().map(|k| trace[0].inputs[&format!("d[{k}]")].clone()).collect();
    assert_eq!(loaded, format!("{:032b}", 0xcafe_0001_u32));
}
