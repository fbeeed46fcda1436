//! What simulation is promised to take: clocked designs as machine code beside a hand-written loop, the event simulator,
//! testbenches.

use crate::{measure, report};
use anyhow::{Context, Result};
use base::{Budget, SourceFile, SourceMap};
use cycle::Engine;
use elab::{HandInFile, SimulationRequest, run_simulation};
use std::collections::BTreeMap;
use std::hint::black_box;
use std::time::{Duration, Instant};

/// A Verilog design as machine code that watches an output bit.
fn engine(text: &str, watch: (&str, u32), levels: &[(&str, u64)]) -> Result<Engine> {
    let mut sources = SourceMap::new();
    let id = sources.add(SourceFile::new("m.v", text));
    let mut budget = Budget::hand_in();
    let parsed = verilog::parse(id, sources.file(id), &mut budget);
    let modules: Vec<&verilog::Module> = parsed.modules.iter().collect();
    let top = modules.last().copied().context("a module")?;
    let design = verilog::elaborate(&modules, top, &mut budget).whole.context("a legal design")?;
    let netlist = design::synthesise(&design, &mut budget).netlist;
    let levels: BTreeMap<String, u64> = levels.iter().map(|(n, l)| ((*n).to_owned(), *l)).collect();
    let mut engine = Engine::new(&design, &netlist, &levels, watch).map_err(|u| anyhow::anyhow!("{u:?}"))?;
    engine.start(&vec![false; netlist.registers.len()]);
    Ok(engine)
}

const DIVIDER: &str = "module m(input clk, output reg lamp = 0); reg [25:0] n = 0;
 always @(posedge clk) if (n == 49999999) begin n <= 0; lamp <= ~lamp; end else n <= n + 1; endmodule";

/// Digits that count tenths, seconds and so on: each enables the next at its end.
const STOPWATCH: &str = "module digit #(parameter LAST = 9)(input clk, rst, en, output reg [3:0] q, output carry);
 always @(posedge clk) if (rst) q <= 0; else if (en) q <= (q == LAST) ? 4'd0 : q + 4'd1;
 assign carry = en & (q == LAST);
endmodule
module m(input clk, rst, run, output [31:0] shown, output over);
 wire [8:0] c; assign c[0] = run; assign over = c[8];
 genvar i;
 generate for (i = 0; i < 8; i = i + 1) begin : g
  digit #(.LAST(i == 3 || i == 5 ? 5 : 9)) d(.clk(clk), .rst(rst), .en(c[i]), .q(shown[4*i +: 4]), .carry(c[i+1]));
 end endgenerate
endmodule";

const SECOND: u64 = 100_000_000;

fn run_for(engine: &mut Engine, cycles: u64) -> Result<()> {
    let mut left = cycles;
    while left > 0 {
        left -= engine.run(left).context("a loop without end")?;
    }
    Ok(())
}

#[expect(clippy::print_stdout, reason = "the figures are the result")]
fn divider() -> Result<()> {
    let mut engine = engine(DIVIDER, ("lamp", 0), &[("clk", 1)])?;
    let median = |times: &mut Vec<Duration>| {
        times.sort();
        times[times.len() / 2]
    };
    let mut times = measure(7, || run_for(&mut engine, SECOND))?;
    let compiled = median(&mut times);
    let mut times = measure(7, || {
        let mut state = (0u32, false);
        for _ in 0..SECOND {
            let (n, lamp) = black_box(&mut state);
            if *n == 49_999_999 {
                *n = 0;
                *lamp = !*lamp;
            } else {
                *n += 1;
            }
        }
        anyhow::ensure!(!black_box(state).1, "two halves of a period");
        Ok(())
    })?;
    let native = median(&mut times);
    println!(
        "{:<58} {:8.2} times the hand-written loop ({:.0} ms to {:.0} ms; promised 2)",
        "26-bit divider, 100 million cycles, as machine code",
        compiled.as_secs_f64() / native.as_secs_f64(),
        compiled.as_secs_f64() * 1e3,
        native.as_secs_f64() * 1e3
    );
    Ok(())
}

#[expect(clippy::print_stdout, reason = "the figures are the result")]
fn a_second(name: &str, what: &str, count: u64, took: Duration, promise: f64) {
    let rate = count as f64 / took.as_secs_f64() / 1e6;
    println!("{name:<58} {rate:8.1} million {what} a second (promised {promise})");
}

fn stopwatch() -> Result<()> {
    let mut engine = engine(STOPWATCH, ("over", 0), &[("clk", 1), ("run", 1)])?;
    let cycles = 50_000_000;
    let start = Instant::now();
    run_for(&mut engine, cycles)?;
    a_second("8-digit BCD stopwatch as machine code", "cycles", cycles, start.elapsed(), 10.0);
    Ok(())
}

fn bench_file(text: &str) -> Vec<HandInFile> {
    vec![HandInFile { name: "tb.v".into(), bytes: text.as_bytes().to_vec() }]
}

fn events() -> Result<()> {
    let text = "module tb; reg clk = 0; reg [15:0] n = 0; wire [15:0] g = n ^ (n >> 1); wire p = ^g;
      always #5 clk = ~clk; always @(posedge clk) n <= n + 1; initial #4000000 $finish; endmodule";
    let request = SimulationRequest { steps: Some(u64::MAX), ..SimulationRequest::default() };
    let start = Instant::now();
    let found = run_simulation(&bench_file(text), &request, &Budget::hand_in())?;
    anyhow::ensure!(found.is_clean(), "{:?}", found.findings.first());
    a_second("event simulator, a clocked counter with its Gray code", "events", found.events, start.elapsed(), 2.0);
    Ok(())
}

fn sweep() -> Result<()> {
    let text = "module dut(input [15:0] x, output [15:0] y); assign y = x ^ (x >> 1); endmodule
      module tb; reg [15:0] x; wire [15:0] y; integer i; dut u(x, y);
      initial begin for (i = 0; i < 65536; i = i + 1) begin x = i; #1 $display(\"%h %h\", x, y); end $finish; end endmodule";
    let mut times = measure(5, || {
        let request = SimulationRequest { steps: Some(u64::MAX), ..SimulationRequest::default() };
        let found = run_simulation(&bench_file(text), &request, &Budget::hand_in())?;
        anyhow::ensure!(found.output.lines().count() == 65_536, "{:?}", found.findings.first());
        Ok(())
    })?;
    report("testbench that sweeps 65,536 rows and writes each", 1_000.0, &mut times);
    Ok(())
}

/// All of them.
pub(crate) fn run() -> Result<()> {
    divider()?;
    stopwatch()?;
    events()?;
    sweep()
}
