//! Clocked designs as machine code against the event simulator, an interpreter of random programs, and facts of counters.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

mod built;
mod programs;
mod seeds;

use base::Budget;
use base::Random;
use built::built;
use cycle::Engine;
use design::{Design, Direction, Netlist};
use elab::{HandInFile, SimulationRequest, run_simulation};
use programs::{Machine, Maker, Names, Statement, Writer};
use seeds::seeds;
use std::collections::BTreeMap;
use std::path::Path;

fn engine(built: &(Design, Netlist), levels: &[(&str, u64)], watch: (&str, u32), start: &[bool]) -> Option<Engine> {
    let levels: BTreeMap<String, u64> = levels.iter().map(|(n, l)| ((*n).to_owned(), *l)).collect();
    let mut engine = Engine::new(&built.0, &built.1, &levels, watch).ok()?;
    engine.start(start);
    Some(engine)
}

const NAMES: Names = Names { read: &["a"], variables: &["t"], registers: &["r", "q"] };

fn verilog_of(body: &[Statement]) -> String {
    let text = Writer { names: &NAMES, is_vhdl: false }.body(body, 4);
    format!(
        "module m(input clk, input [2:0] a, output [2:0] y, z);\n  reg [2:0] r = 0, q = 5, t; integer i;\n  assign y = r;\n  \
         assign z = q ^ a;\n  always @(posedge clk) begin\n    t = a;\n{text}  end\nendmodule\n"
    )
}

fn vhdl_of(body: &[Statement]) -> String {
    let text = Writer { names: &NAMES, is_vhdl: true }.body(body, 4);
    format!(
        "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;\nentity m is\n  \
         port (clk : in std_logic; a : in unsigned(2 downto 0); y, z : out unsigned(2 downto 0));\nend;\n\
         architecture r1 of m is\n  signal r : unsigned(2 downto 0) := \"000\"; signal q : unsigned(2 downto 0) := \"101\";\nbegin\n  \
         y <= r;\n  z <= q xor a;\n  process (clk)\n    variable t : unsigned(2 downto 0);\n  begin\n    \
         if rising_edge(clk) then\n      t := a;\n{text}    end if;\n  end process;\nend;\n"
    )
}

/// The number that a register of the netlist's order holds.
fn held(netlist: &Netlist, levels: &[bool], name: &str) -> u64 {
    netlist
        .registers
        .iter()
        .zip(levels)
        .filter(|(r, _)| r.name.ends_with(name) && r.name[..r.name.len() - name.len()].ends_with('.'))
        .map(|(r, level)| u64::from(*level) << r.position)
        .sum()
}

#[test]
fn random_programs_run_as_the_interpreter_has_them() {
    let mut ran = 0;
    for seed in seeds(60) {
        let body = Maker { names: &NAMES, random: Random::new(80_000 + seed) }.body(3);
        for (name, text) in [("m.v", verilog_of(&body)), ("m.vhd", vhdl_of(&body))] {
            let built = built(name, &text).unwrap_or_else(|| panic!("{text}"));
            // What no statement changes is no register.
            let start: Vec<bool> = built.1.registers.iter().map(|r| r.initial.unwrap_or(false)).collect();
            for a in [0, 3, 6] {
                let Some(mut engine) = engine(&built, &[("clk", 1), ("a", a)], ("y", 0), &start) else { continue };
                ran += 1;
                let (mut r, mut q) = (0, 5);
                for cycle in 0..40 {
                    let told = format!("seed {seed} a={a} cycle {cycle}\n{text}");
                    let levels = engine.registers();
                    let has = |name: &str| built.1.registers.iter().any(|x| x.name.ends_with(&format!(".{name}")));
                    for (name, wanted) in [("r", r), ("q", q)] {
                        let count = built.1.registers.iter().filter(|x| x.name.ends_with(&format!(".{name}"))).count();
                        if has(name) && count == 3 {
                            assert_eq!(held(&built.1, &levels, name), wanted, "{name}: {told}");
                        }
                    }
                    assert_eq!(u64::from(engine.level()), r & 1, "{told}");
                    let after = Machine::run(&NAMES, &body, &[a, a, r, q]);
                    (r, q) = (after[2], after[3]);
                    assert_eq!(engine.run(1), Some(1), "{told}");
                }
            }
        }
    }
    assert!(ran > 200, "only {ran} were run");
}

#[test]
fn a_run_ends_with_the_cycle_in_which_the_output_changes() {
    for seed in seeds(30) {
        let body = Maker { names: &NAMES, random: Random::new(90_000 + seed) }.body(3);
        let text = verilog_of(&body);
        let built = built("m.v", &text).unwrap();
        let start: Vec<bool> = built.1.registers.iter().map(|r| r.initial.unwrap_or(false)).collect();
        let Some(mut engine) = engine(&built, &[("clk", 1), ("a", 5)], ("z", 1), &start) else { continue };
        let (mut state, mut turns) = ((0, 5), 0);
        let level = |q: u64| (q ^ 5) >> 1 & 1;
        while turns < 6 {
            let before = level(state.1);
            let mut cycles = 0;
            while cycles < 50 && (cycles == 0 || level(state.1) == before) {
                let after = Machine::run(&NAMES, &body, &[5, 5, state.0, state.1]);
                state = (after[2], after[3]);
                cycles += 1;
            }
            assert_eq!(engine.run(50), Some(cycles), "seed {seed}\n{text}");
            assert_eq!(u64::from(engine.level()), level(state.1), "seed {seed}");
            turns += 1;
        }
    }
}

fn simulate(files: &[HandInFile]) -> Vec<String> {
    let found = run_simulation(
        files,
        &SimulationRequest { top: Some("tb".into()), ..SimulationRequest::default() },
        &Budget::hand_in(),
    )
    .unwrap();
    assert!(found.findings.iter().all(|f| f.severity != "stop"), "{:?}", found.findings);
    found.output.lines().map(str::to_owned).collect()
}

/// Inputs beside clock and reset, and outputs, each with its width.
fn ports(design: &Design, direction: Direction, but: &[&str]) -> Vec<(String, u32)> {
    let top = &design.scopes[design.top];
    let all = top.ports.iter().filter(|p| p.direction == direction);
    all.map(|p| (design.signals[p.signal].name.clone(), design.signal_width(p.signal)))
        .filter(|(name, _)| !but.contains(&name.as_str()))
        .collect()
}

/// A testbench that holds the reset for three cycles and then writes all outputs once a cycle.
fn bench_of(
    top: &str,
    outputs: &[(String, u32)],
    inputs: &[(String, u32)],
    resting: &[(&str, u64)],
    reset: Option<(&str, bool)>,
    cycles: usize,
) -> String {
    let connections: Vec<String> = outputs.iter().chain(inputs).map(|(n, _)| format!(".{n}({n})")).collect();
    let mut bench = "module tb;\n  reg clk = 0;\n".to_owned();
    for (n, level) in resting {
        bench += &format!("  reg {n} = {level};\n");
    }
    for (n, width) in outputs {
        bench += &format!("  wire [{}:0] {n};\n", width - 1);
    }
    let list: Vec<&str> = outputs.iter().map(|(n, _)| n.as_str()).collect();
    let (mut more, mut hold, mut release) = (String::new(), String::new(), String::new());
    if let Some((n, active)) = reset {
        more = format!(", .{n}({n})");
        hold = format!("  reg {n} = {};\n", u8::from(active));
        release = format!("{n} = {};", u8::from(!active));
    }
    bench += &format!(
        "{hold}  {top} dut(.clk(clk){more}, {});\n  always #5 clk = ~clk;\n  initial begin\n    repeat (3) @(negedge clk);\n    \
         {release}\n    repeat ({cycles}) begin #1 $display(\"%b\", {{{}}}); @(negedge clk); end\n    $finish;\n  end\nendmodule\n",
        connections.join(", "),
        list.join(", ")
    );
    bench
}

/// Every output bit of a design over so many cycles after its reset, with the inputs at rest: both engines.
fn held_against_events(name: &str, text: &str, reset: Option<(&str, bool)>, cycles: usize) -> usize {
    let built = built(name, text).unwrap_or_else(|| panic!("{name}"));
    let (design, netlist) = &built;
    if netlist.registers.iter().any(|r| !r.rising) {
        return 0;
    }
    let reset_name = reset.map_or("", |r| r.0);
    let inputs = ports(design, Direction::In, &["clk", reset_name]);
    let outputs = ports(design, Direction::Out, &[]);
    let top = &design.scopes[design.top].name;
    let mut compared = 0;
    for word in 0..1u64 << inputs.len() {
        let resting: Vec<(&str, u64)> =
            inputs.iter().enumerate().map(|(i, (n, _))| (n.as_str(), word >> i & 1)).collect();
        let bench = bench_of(top, &outputs, &inputs, &resting, reset, cycles);
        let files = [
            HandInFile { name: name.into(), bytes: text.into() },
            HandInFile { name: "tb.v".into(), bytes: bench.into() },
        ];
        let lines = simulate(&files);
        assert_eq!(lines.len(), cycles);
        let mut place = 0;
        for (output, width) in &outputs {
            for bit in (0..*width).rev() {
                let with = |active: bool| {
                    let mut levels = resting.clone();
                    levels.push(("clk", 1));
                    levels.extend(reset.map(|(n, level)| (n, u64::from(level == active))));
                    levels
                };
                let first: Vec<bool> = netlist.registers.iter().map(|r| r.initial.unwrap_or(false)).collect();
                let start = match reset {
                    // Three cycles of reset, as in the bench.
                    Some(_) => {
                        let Some(mut held) = engine(&built, &with(true), (output, bit), &first) else {
                            return compared;
                        };
                        for _ in 0..3 {
                            held.run(1).unwrap();
                        }
                        held.registers()
                    }
                    None => first,
                };
                let mut engine = engine(&built, &with(false), (output, bit), &start).unwrap();
                if reset.is_none() {
                    for _ in 0..3 {
                        engine.run(1).unwrap();
                    }
                }
                for (cycle, line) in lines.iter().enumerate() {
                    let wanted = &line[place..=place];
                    let found = if engine.level() { "1" } else { "0" };
                    engine.run(1).unwrap();
                    if wanted == "x" {
                        // Never set: machine code has two levels only.
                        continue;
                    }
                    assert_eq!(found, wanted, "{name} {output}[{bit}] inputs {resting:?} cycle {cycle}\n{text}");
                    compared += 1;
                }
                place += 1;
            }
        }
    }
    compared
}

#[test]
fn the_demo_designs_do_the_same_in_both_engines() {
    let demo = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo");
    let mut compared = 0;
    for (folder, reset) in [
        ("belt-beacon", None),
        ("crate-counter", Some(("rst", true))),
        ("lane-chaser", Some(("rst", true))),
        ("washer-sequencer", Some(("rst_n", false))),
    ] {
        let mut files: Vec<_> = std::fs::read_dir(demo.join(folder)).unwrap().map(|e| e.unwrap().path()).collect();
        files.sort();
        for path in files.iter().filter(|p| p.extension().is_some_and(|e| e == "v" || e == "sv" || e == "vhd")) {
            let name = path.file_name().unwrap().to_string_lossy().into_owned();
            // One without a first level is unknown to the event simulator for good.
            if name == "no_start.v" {
                continue;
            }
            compared += held_against_events(&name, &std::fs::read_to_string(path).unwrap(), reset, 70);
        }
    }
    assert!(compared > 5_000, "{compared}");
}

#[test]
fn designs_of_many_kinds_do_the_same_in_both_engines() {
    let designs = [
        // A chain of modules, each enabling the next.
        (
            "chain.v",
            "module digit #(parameter LAST = 9)(input clk, rst, en, output reg [3:0] q, output carry);\n \
             always @(posedge clk) if (rst) q <= 0; else if (en) q <= (q == LAST) ? 4'd0 : q + 4'd1;\n assign carry = en & (q == LAST);\nendmodule\n\
             module m(input clk, rst, run, output [7:0] q, output over); wire c;\n digit #(2) a(clk, rst, run, q[3:0], c);\n \
             digit #(.LAST(4)) b(.clk(clk), .rst(rst), .en(c), .q(q[7:4]), .carry(over));\nendmodule\n",
        ),
        // A state machine of three processes.
        (
            "gate.vhd",
            "library ieee; use ieee.std_logic_1164.all;\nentity m is port (clk, rst, go : in std_logic; open_it, shut : out std_logic); end;\n\
             architecture a of m is type states is (idle, opening, open_now, closing); signal s, n : states; begin\n \
             process (clk, rst) begin if rst = '1' then s <= idle; elsif rising_edge(clk) then s <= n; end if; end process;\n \
             process (s, go) begin n <= s; case s is when idle => if go = '1' then n <= opening; end if; when opening => n <= open_now;\n \
             when open_now => n <= closing; when closing => n <= idle; end case; end process;\n \
             open_it <= '1' when s = opening or s = open_now else '0'; shut <= '1' when s = closing else '0';\nend;\n",
        ),
        // Shift register with a loop, a function and a signed number.
        (
            "filter.v",
            "module m(input clk, rst, x, output reg [3:0] ones, output reg signed [3:0] drift, output [7:0] line);\n \
             reg [7:0] taps; assign line = taps;\n function [3:0] count(input [7:0] v); integer i; begin count = 0; \
             for (i = 0; i < 8; i = i + 1) count = count + v[i]; end endfunction\n \
             always @(posedge clk or posedge rst) if (rst) begin taps <= 8'h11; ones <= 0; drift <= -4'sd3; end\n \
             else begin taps <= {taps[6:0], x ^ taps[7]}; ones <= count(taps); drift <= (drift >>> 1) - (x ? 4'sd2 : 4'sd1); end\nendmodule\n",
        ),
        // Integers with a range, a variable that is kept, an enable made of a divider.
        (
            "divided.vhd",
            "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;\nentity m is port (clk, rst : in std_logic; lamp : out std_logic; \
             n : out std_logic_vector(2 downto 0)); end;\narchitecture a of m is signal tick, l : std_logic; signal c : integer range 0 to 4; begin\n \
             process (clk) begin if rising_edge(clk) then tick <= '0'; if rst = '1' then c <= 0; elsif c = 4 then c <= 0; tick <= '1'; \
             else c <= c + 1; end if; end if; end process;\n process (clk) variable v : unsigned(2 downto 0); begin if rising_edge(clk) then \
             if rst = '1' then l <= '0'; v := \"010\"; elsif tick = '1' then l <= not l; v := v + 3; end if; n <= std_logic_vector(v); end if; \
             end process;\n lamp <= l;\nend;\n",
        ),
        // A case with wildcards, a concatenation on the left, a part that is chosen by a number.
        (
            "lanes.v",
            "module m(input clk, rst, en, output reg [7:0] belt, output reg [2:0] at, output hot);\n reg carry; assign hot = belt[at];\n \
             always @(posedge clk) begin\n  if (rst) begin belt <= 8'b1001_0110; at <= 0; carry <= 0; end\n  else begin\n   {carry, at} <= at + 3'd3;\n   \
             if (en) belt[at +: 2] <= ~belt[at +: 2];\n   casez ({carry, at}) 4'b1???: belt[0] <= 1; 4'b01?0: belt[7:6] <= 2'b10; default: ; endcase\n  \
             end\n end\nendmodule\n",
        ),
        // A memory that is written and read.
        (
            "store.v",
            "module m(input clk, rst, en, output reg [3:0] q, output reg [1:0] at);\n reg [3:0] bins [0:3]; integer i;\n \
             always @(posedge clk) if (rst) begin at <= 0; q <= 0; for (i = 0; i < 4; i = i + 1) bins[i] <= i * 3; end\n \
             else begin at <= at + 1; q <= bins[at]; if (en) bins[at] <= bins[at] + q + 1; end\nendmodule\n",
        ),
    ];
    let mut compared = 0;
    for (name, text) in designs {
        let found = held_against_events(name, text, Some(("rst", true)), 80);
        compared += found;
    }
    assert!(compared > 4_000, "{compared}");
}

#[test]
fn a_divider_turns_after_as_many_cycles_as_its_formula_says() {
    // Terminal count F / (2 f) - 1 (common practice): 1 Hz of 12 MHz, 4 Hz of 12 MHz, 1 kHz of 50 MHz.
    for (input, wanted) in [(12_000_000u64, 1u64), (12_000_000, 4), (50_000_000, 1_000)] {
        let last = input / (2 * wanted) - 1;
        let text = format!(
            "module m(input clk, output reg lamp = 0); reg [31:0] n = 0;\n \
             always @(posedge clk) if (n == {last}) begin n <= 0; lamp <= ~lamp; end else n <= n + 1; endmodule"
        );
        let built = built("m.v", &text).unwrap();
        let start = vec![false; built.1.registers.len()];
        let mut engine = engine(&built, &[("clk", 1)], ("lamp", 0), &start).unwrap();
        let half = engine.run(u64::MAX).unwrap();
        let other = engine.run(u64::MAX).unwrap();
        assert_eq!((half, half + other), (last + 1, input / wanted));
    }
}

/// States of a netlist after so many ticks of its first input: as machine code, and as the interpreter has them.
fn ticked(netlist: &Netlist, inputs: &[u64], ticks: u64) -> Option<(Vec<u64>, Vec<u64>, bool)> {
    let clock = netlist.inputs.iter().position(|i| i.port == "clk")?;
    let mut ticker = cycle::Ticker::new(netlist, clock).ok()?;
    let mut lanes = design::Lanes::new(netlist);
    let mut budget = base::Budget::hand_in();
    let mut levels = Vec::new();
    for number in 0..netlist.inputs.len() {
        let word = if number == clock { 0 } else { inputs[number % inputs.len()] };
        lanes.set_input(number, word);
        levels.push(word);
    }
    lanes.power_up();
    lanes.settle(&mut budget).unwrap();
    let mut state = lanes.state(None);
    if !ticker.run(&mut state, &levels, ticks) {
        return None;
    }
    for _ in 0..ticks {
        for level in [u64::MAX, 0] {
            lanes.set_input(clock, level);
            lanes.settle(&mut budget).unwrap();
        }
    }
    Some((state, lanes.state(None), ticker.is_plain()))
}

#[test]
fn a_netlist_ticks_as_machine_code_as_it_does_lane_by_lane() {
    let mut ran = 0;
    for seed in seeds(40) {
        let body = Maker { names: &NAMES, random: Random::new(70_000 + seed) }.body(3);
        for (name, text) in [("m.v", verilog_of(&body)), ("m.vhd", vhdl_of(&body))] {
            let built = built(name, &text).unwrap();
            let Some((found, wanted, _)) = ticked(&built.1, &[0x1234_5678_9abc_def0, 0xff00_ff00_0f0f_3333], 37) else {
                continue;
            };
            assert_eq!(found, wanted, "seed {seed}\n{text}");
            ran += 1;
        }
    }
    assert!(ran > 60, "only {ran} were run");
}

#[test]
fn clocks_of_every_making_tick_as_machine_code() {
    // Which of them take one pass a tick is a fact of how they are clocked.
    let designs = [
        (true, "reg [3:0] c = 0; always @(posedge clk) c <= c + 1; assign y = c;"),
        (true, "reg [3:0] c = 0; always @(negedge clk or posedge a) if (a) c <= 4'd9; else c <= c + 3; assign y = c;"),
        // A ripple counter, each bit clocked by the one before.
        (
            false,
            "reg [3:0] c = 0; always @(posedge clk) c[0] <= ~c[0]; always @(negedge c[0]) c[1] <= ~c[1];\n\
             always @(negedge c[1]) c[2] <= ~c[2]; always @(negedge c[2]) c[3] <= ~c[3]; assign y = c;",
        ),
        // A slow clock made by a divider, and a gated one.
        (
            false,
            "reg [1:0] d = 0; reg s = 0; reg [3:0] c = 0; always @(posedge clk) begin d <= d + 1; if (d == 2) s <= ~s; end\n\
             always @(posedge s) c <= c + 1; assign y = c;",
        ),
        (false, "reg [3:0] c = 0; wire g = clk & a; always @(posedge g) c <= c + 1; assign y = c;"),
        // Both edges, and a reset that what is counted makes.
        (
            false,
            "reg [1:0] p = 0, n = 0; always @(posedge clk) p <= p + 1; always @(negedge clk) n <= p; assign y = {p, n};",
        ),
        (
            false,
            "reg [3:0] c = 0; wire full = c == 4'd10; always @(posedge clk or posedge full) if (full) c <= 0; else c <= c + 1;\n\
             assign y = c;",
        ),
    ];
    for (is_plain, body) in designs {
        let text = format!("module m(input clk, input a, output [3:0] y);\n{body}\nendmodule\n");
        let built = built("m.v", &text).unwrap();
        for ticks in [1, 2, 5, 16, 33] {
            let (found, wanted, plain) =
                ticked(&built.1, &[0xaaaa_5555_ffff_0000], ticks).unwrap_or_else(|| panic!("{text}"));
            assert_eq!((found, plain), (wanted, is_plain), "{ticks} ticks\n{text}");
        }
    }
}

#[test]
fn what_is_unknown_or_never_rests_is_not_run_as_machine_code() {
    // Without a first level the register is unknown; a reset that lets itself go never comes to rest.
    let unknown = built("m.v", "module m(input clk, output reg q); always @(posedge clk) q <= ~q; endmodule").unwrap();
    assert!(ticked(&unknown.1, &[0], 4).is_none());
    let latch = "module m(input clk, input d, output reg q); always @* if (clk) q = d; endmodule";
    assert!(cycle::Ticker::new(&built("m.v", latch).unwrap().1, 0).is_err());
}
