//! Clocked exercises at a board's clock: a pass is proved over the whole path, however long, and what is wrong is found at
//! the cycle where it shows. Periods are those of the trade: terminal count = F/(2 f) - 1 (common practice).

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use verdict::{ProofKind, Verdict, VerdictKind};

fn judged(exercise: &str, reference: &'static str, file: &str, text: &str) -> Verdict {
    let exercise = Exercise::load(exercise, &|_| Ok(reference.into())).unwrap_or_else(|e| panic!("{e}"));
    let files = vec![HandInFile { name: file.into(), bytes: text.into() }];
    check(&exercise, &HandIn { files, ..HandIn::default() }).verdict
}

const HEAD: &str = "format = \"zesty-gate/exercise/1\"\ntitle = \"Lamps\"\n";

fn port(name: &str, dir: &str, range: &str) -> String {
    let range = if range.is_empty() { String::new() } else { format!("range = \"{range}\"\n") };
    format!("[[port]]\nname = \"{name}\"\ndir = \"{dir}\"\n{range}")
}

/// A lamp that runs over eight, `step` cycles each.
fn chaser(step: u64) -> String {
    let ports = port("clk", "in", "") + &port("rst", "in", "") + &port("led", "out", "7:0");
    let patterns: Vec<String> = (0..8).map(|k| format!("\"{:08b}\"", 1 << k)).collect();
    format!(
        "{HEAD}{ports}[clock]\nport = \"clk\"\n[reset]\nport = \"rst\"\nactive = \"high\"\nkind = \"sync\"\n\
         [behaviour]\nkind = \"sequence\"\noutput = \"led\"\npatterns = [{}]\nstep_cycles = {step}\nrepeat = true\n",
        patterns.join(", ")
    )
}

fn running_lamp(terminal: &str, next: &str) -> String {
    format!(
        "module lamps(input clk, rst, output reg [7:0] led);\n reg [31:0] n;\n always @(posedge clk)\n\
         if (rst) begin n <= 0; led <= 8'd1; end\n else if (n == {terminal}) begin n <= 0; led <= {next}; end\n\
         else n <= n + 1;\nendmodule\n"
    )
}

#[test]
fn a_chaser_of_a_quarter_second_is_proved_or_shown_wrong() {
    let rule = chaser(3_000_000);
    let turn = "{led[6:0], led[7]}";
    let right = judged(&rule, "", "a.v", &running_lamp("2999999", turn));
    assert_eq!((right.verdict, right.proof.kind), (VerdictKind::Pass, ProofKind::Proved), "{}", right.headline());
    // What shows the difference, in clock edges after the reset.
    for (terminal, next, cycle) in [
        ("1499999", turn, 1_500_000),
        ("3000000", turn, 3_000_000),
        ("2999998", turn, 2_999_999),
        ("5999999", turn, 3_000_000),
        // It stops after one step.
        ("2999999", "8'd2", 6_000_000),
        // It falls off at the end.
        ("2999999", "{led[6:0], 1'b0}", 24_000_000),
    ] {
        let found = judged(&rule, "", "a.v", &running_lamp(terminal, next));
        assert_eq!(found.proof.kind, ProofKind::Differs, "{terminal} {next}: {}", found.headline());
        assert_eq!(found.proof.cycles, Some(cycle), "{terminal} {next}");
    }
    let still =
        judged(&rule, "", "a.v", "module lamps(input clk, rst, output [7:0] led); assign led = 8'd1; endmodule");
    assert_eq!(still.proof.cycles, Some(3_000_000));
    assert_ne!(still.verdict, VerdictKind::Pass);
}

#[test]
fn a_chaser_of_the_other_style_and_language_is_proved_as_well() {
    let down = "library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity lamps is port (clk, rst : in std_logic; led : out std_logic_vector(7 downto 0)); end;
architecture a of lamps is
  signal n : integer range 0 to 99999999 := 99999999;
  signal place : unsigned(2 downto 0) := \"000\";
begin
  process (clk) begin
    if rising_edge(clk) then
      if rst = '1' then n <= 99999999; place <= \"000\";
      elsif n = 0 then n <= 99999999; place <= place + 1;
      else n <= n - 1; end if;
    end if;
  end process;
  process (place) begin
    led <= (others => '0');
    led(to_integer(place)) <= '1';
  end process;
end;
";
    let right = judged(&chaser(100_000_000), "", "a.vhd", down);
    assert_eq!((right.verdict, right.proof.kind), (VerdictKind::Pass, ProofKind::Proved), "{}", right.headline());
    let late = judged(&chaser(100_000_000), "", "a.vhd", &down.replacen("n = 0", "n = 1", 1));
    assert_eq!((late.proof.kind, late.proof.cycles), (ProofKind::Differs, Some(99_999_999)));
}

fn rate(period: u64) -> String {
    let ports = port("clk", "in", "") + &port("led", "out", "");
    format!(
        "{HEAD}{ports}[clock]\nport = \"clk\"\nfrequency_hz = 12000000\n\
         [behaviour]\nkind = \"rate\"\noutput = \"led\"\nperiod_cycles = {period}\n"
    )
}

/// 12 MHz to 1 Hz over 1 MHz and 1 kHz: each divider clocks the next.
const CHAIN: &str = "module blink(input clk, output reg led);
  reg [2:0] a = 0; reg [8:0] b = 0, c = 0;
  reg mega = 0, kilo = 0; initial led = 0;
  always @(posedge clk)  if (a == 5)   begin a <= 0; mega <= ~mega; end else a <= a + 1;
  always @(posedge mega) if (b == 499) begin b <= 0; kilo <= ~kilo; end else b <= b + 1;
  always @(posedge kilo) if (c == 499) begin c <= 0; led <= ~led; end  else c <= c + 1;
endmodule
";

#[test]
fn chains_of_derived_clocks_are_followed_to_a_second() {
    let right = judged(&rate(12_000_000), "", "chain.v", CHAIN);
    assert_eq!((right.verdict, right.proof.kind), (VerdictKind::Pass, ProofKind::Proved), "{}", right.headline());
    let wrong = judged(&rate(12_000_000), "", "chain.v", &CHAIN.replacen("499", "500", 1));
    assert_eq!(wrong.proof.kind, ProofKind::Differs);
    assert_eq!(wrong.rhythm.unwrap().period_cycles, 12_024_000);
    // 24 toggle flip-flops, each clocked by the one before: 2^24 cycles.
    let ripple = "module tff(input c, output reg q); initial q = 0; always @(posedge c) q <= ~q; endmodule
module blink(input clk, output led);
  wire [23:0] q;
  tff first(clk, q[0]);
  genvar i;
  generate for (i = 1; i < 24; i = i + 1) begin : stage tff t(~q[i-1], q[i]); end endgenerate
  assign led = q[23];
endmodule
";
    let right = judged(&rate(1 << 24), "", "ripple.v", ripple);
    assert_eq!((right.verdict, right.proof.kind), (VerdictKind::Pass, ProofKind::Proved), "{}", right.headline());
    let short = judged(&rate(1 << 24), "", "ripple.v", &ripple.replace("q[23]", "q[22]"));
    assert_eq!(short.proof.kind, ProofKind::Differs);
}

/// Common practice in a course: how far to count is the student's to work out.
#[test]
fn a_student_reads_what_is_wrong_with_a_rate_but_not_how_far_to_count() {
    let mut wrong = judged(&rate(12_000_000), "", "chain.v", &CHAIN.replacen("499", "500", 1));
    let help = |verdict: &Verdict| verdict.findings.iter().find(|f| f.code == "wrong-rate").unwrap().help.clone();
    assert!(help(&wrong).contains("5999999"), "{}", help(&wrong));
    wrong.for_student(verdict::Reveal::All, false);
    assert!(!help(&wrong).contains("5999999") && help(&wrong).contains("n + 1"), "{}", help(&wrong));
    assert!(wrong.near_misses.iter().all(|n| n.repair.is_empty()));
    // The exercise says whether they may.
    assert!(!exercise::shows_answers(&rate(12_000_000)));
    let open = format!("{}[students]\nanswers = \"shown\"\n", rate(12_000_000));
    assert!(exercise::shows_answers(&open) && Exercise::alone(&open).is_ok());
    let mut shown = judged(&open, "", "chain.v", &CHAIN.replacen("499", "500", 1));
    shown.for_student(verdict::Reveal::All, exercise::shows_answers(&open));
    assert!(help(&shown).contains("5999999"), "{}", help(&shown));
    let unclear = Exercise::alone(&open.replace("shown", "later")).map(|_| ());
    assert!(unclear.unwrap_err().message.contains("`hidden` or `shown`"));
}

const CLOCK: &str = "module clock(input clk, rst, output reg [4:0] h, output reg [5:0] m, s);
  reg [26:0] n;
  always @(posedge clk)
    if (rst) begin n <= 0; h <= 0; m <= 0; s <= 0; end
    else if (n != 99999999) n <= n + 1;
    else begin
      n <= 0;
      if (s != 59) s <= s + 1;
      else begin
        s <= 0;
        if (m != 59) m <= m + 1;
        else begin m <= 0; h <= h == 23 ? 0 : h + 1; end
      end
    end
endmodule
";

#[test]
fn a_clock_to_hours_is_compared_over_its_whole_day() {
    let ports = port("clk", "in", "") + &port("rst", "in", "") + &port("h", "out", "4:0");
    let ports = ports + &port("m", "out", "5:0") + &port("s", "out", "5:0");
    let rule = format!(
        "{HEAD}{ports}[clock]\nport = \"clk\"\n[reset]\nport = \"rst\"\n\
         [behaviour]\nkind = \"reference\"\nfiles = [\"clock.v\"]\n"
    );
    let own = "module own(input clk, rst, output reg [4:0] h, output reg [5:0] m, s);
  reg [26:0] n; wire tick = n == 0, minute = tick && s == 59, hour = minute && m == 59;
  always @(posedge clk) if (rst) n <= 99999999; else n <= tick ? 99999999 : n - 1;
  always @(posedge clk) if (rst) s <= 0; else if (tick) s <= s == 59 ? 0 : s + 1;
  always @(posedge clk) if (rst) m <= 0; else if (minute) m <= m == 59 ? 0 : m + 1;
  always @(posedge clk) if (rst) h <= 0; else if (hour) h <= h == 23 ? 0 : h + 1;
endmodule
";
    let right = judged(&rule, CLOCK, "own.v", own);
    assert_eq!((right.verdict, right.proof.kind), (VerdictKind::Pass, ProofKind::Proved), "{}", right.headline());
    // It shows after 23 hours.
    let wrong = judged(&rule, CLOCK, "own.v", &own.replacen("h == 23", "h == 22", 1));
    assert_eq!((wrong.proof.kind, wrong.proof.cycles), (ProofKind::Differs, Some(23 * 3_600 * 100_000_000)));
    let still = judged(
        &rule,
        CLOCK,
        "own.v",
        "module own(input clk, rst, output [4:0] h, output [5:0] m, s); assign {h, m, s} = 0; endmodule",
    );
    assert_eq!((still.proof.kind, still.proof.cycles), (ProofKind::Differs, Some(100_000_000)));
}

/// With an input that matters, nothing is matched without having moved.
#[test]
fn a_prescaler_with_an_enable_is_waited_for() {
    let ports = port("clk", "in", "") + &port("rst", "in", "") + &port("go", "in", "") + &port("led", "out", "3:0");
    let rule = format!(
        "{HEAD}{ports}[clock]\nport = \"clk\"\n[reset]\nport = \"rst\"\n\
         [behaviour]\nkind = \"reference\"\nfiles = [\"steps.v\"]\n"
    );
    let reference = "module steps(input clk, rst, go, output reg [3:0] led);
  reg [21:0] n;
  always @(posedge clk) if (rst) begin n <= 0; led <= 0; end
    else if (go) begin if (n == 2999999) begin n <= 0; led <= led + 1; end else n <= n + 1; end
endmodule
";
    let own = "module own(input clk, rst, go, output [3:0] led);
  reg [22:0] left; reg [3:0] q; assign led = q;
  always @(posedge clk) if (rst) begin left <= 3000000; q <= 0; end
    else if (go) begin if (left == 1) begin left <= 3000000; q <= q + 1; end else left <= left - 1; end
endmodule
";
    let still = judged(
        &rule,
        reference,
        "own.v",
        "module own(input clk, rst, go, output [3:0] led); assign led = 0; endmodule",
    );
    assert_eq!(still.proof.kind, ProofKind::Differs, "{}", still.headline());
    let right = judged(&rule, reference, "own.v", own);
    assert_eq!(right.verdict, VerdictKind::Pass, "{}", right.headline());
    for slip in ["left == 2", "left == 0"] {
        let wrong = judged(&rule, reference, "own.v", &own.replacen("left == 1", slip, 1));
        assert_eq!(wrong.proof.kind, ProofKind::Differs, "{slip}: {}", wrong.headline());
    }
}
