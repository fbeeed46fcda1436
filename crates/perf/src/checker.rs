//! What the checker is promised to take: wide circuits, proofs of circuits of different build, near misses, a class.

use crate::{measure, report};
use anyhow::{Result, anyhow, ensure};
use base::Budget;
use check::{HandIn, check};
use corpus::arithmetic::{array_multiplier, lookahead_adder, ripple_adder, wallace_multiplier};
use elab::HandInFile;
use exercise::Exercise;
use std::fmt::Write as _;
use std::path::Path;
use std::process::{Command, Stdio};
use views::{Equivalence, equivalence};

fn file(name: &str, text: &str) -> HandInFile {
    HandInFile { name: name.into(), bytes: text.as_bytes().to_vec() }
}

fn compare((a, top_a): (&str, &str), (b, top_b): (&str, &str)) -> Result<Equivalence> {
    let sides = ([file("a.v", a)], [file("b.v", b)]);
    equivalence((&sides.0, Some(top_a)), (&sides.1, Some(top_b)), &Budget::hand_in()).map_err(anyhow::Error::from)
}

fn proofs() -> Result<()> {
    let (ripple, lookahead) = (ripple_adder(32), lookahead_adder(32));
    let mut times = measure(11, || {
        ensure!(compare((&ripple, "ripple"), (&lookahead, "lookahead"))?.equal == Some(true), "equal");
        Ok(())
    })?;
    report("32-bit ripple against look-ahead adder, proved", 200.0, &mut times);
    let (array, wallace) = (array_multiplier(8), wallace_multiplier(8));
    let mut times = measure(11, || {
        ensure!(compare((&array, "array"), (&wallace, "wallace"))?.equal == Some(true), "equal");
        Ok(())
    })?;
    report("8x8 array against Wallace multiplier, all rows", 60_000.0, &mut times);
    Ok(())
}

/// Two thousand gates over 16 inputs, each of the last gates an output in turn.
fn random_gates(spoilt: bool) -> String {
    let mut text = String::from("module m(input [15:0] x, output [7:0] f);\nwire [1999:0] g;\n");
    let mut state = 7u64;
    let mut next = |n: u64| {
        state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (state >> 33) % n
    };
    for i in 0..2_000u64 {
        let mut operand = || {
            if i < 8 || next(4) == 0 { format!("x[{}]", next(16)) } else { format!("g[{}]", i - 1 - next(i.min(40))) }
        };
        let (a, b) = (operand(), operand());
        let op = ["&", "|", "^", "~^"][next(4) as usize];
        let op = if spoilt && i == 1_990 { "&" } else { op };
        let _ = writeln!(text, "assign g[{i}] = {a} {op} {b};");
    }
    text + "assign f = g[1999:1992];\nendmodule\n"
}

fn random_logic() -> Result<()> {
    let text = "format = \"zesty-gate/exercise/1\"\ntitle = \"Wide\"\n[[port]]\nname = \"x\"\ndir = \"in\"\nrange = \"15:0\"\n\
        [[port]]\nname = \"f\"\ndir = \"out\"\nrange = \"7:0\"\n[behaviour]\nkind = \"reference\"\nfiles = [\"ref.v\"]\n";
    let reference = random_gates(false);
    let exercise = Exercise::load(text, &|_| Ok(reference.clone().into_bytes())).map_err(|e| anyhow!("{e}"))?;
    let right = HandIn { files: vec![file("m.v", &reference)], ..HandIn::default() };
    let mut times = measure(11, || {
        ensure!(check(&exercise, &right).verdict.rows.passed == 65_536, "right on every row");
        Ok(())
    })?;
    report("check of 16 inputs and 2,000 random gates, all rows", 100.0, &mut times);
    Ok(())
}

/// The near misses of a small and of a wide design: what they add to a check that doesn't look for them.
fn near_misses() -> Result<()> {
    let small = "format = \"zesty-gate/exercise/1\"\ntitle = \"Four\"\n[[port]]\nname = \"x\"\ndir = \"in\"\nrange = \"3:0\"\n\
        [[port]]\nname = \"f\"\ndir = \"out\"\n[behaviour]\nkind = \"expressions\"\n[behaviour.outputs]\nf = \"x[3] & x[2] | x[1] & ~x[0]\"\n";
    let wide = "format = \"zesty-gate/exercise/1\"\ntitle = \"Sum\"\n[[port]]\nname = \"a\"\ndir = \"in\"\nrange = \"7:0\"\n\
        [[port]]\nname = \"b\"\ndir = \"in\"\nrange = \"7:0\"\n[[port]]\nname = \"s\"\ndir = \"out\"\nrange = \"8:0\"\n\
        [behaviour]\nkind = \"expressions\"\n[behaviour.outputs]\ns = \"a + b\"\n";
    let mut sum =
        String::from("module m(input [7:0] a, b, output [8:0] s);\nwire [8:0] c;\nassign c[0] = 0, s[8] = c[8];\n");
    for i in 0..8 {
        let op = if i == 5 { "|" } else { "^" };
        let _ = writeln!(
            sum,
            "assign s[{i}] = a[{i}] ^ b[{i}] {op} c[{i}], c[{}] = a[{i}] & b[{i}] | c[{i}] & (a[{i}] ^ b[{i}]);",
            i + 1
        );
    }
    sum += "endmodule\n";
    let four = "module m(input [3:0] x, output f);\nassign f = x[3] & x[2] | x[1] & x[0];\nendmodule\n".to_owned();
    for (name, text, design, promise) in [
        ("near misses of a 16-row exercise", small, four, 50.0),
        ("near misses of a 16-input design", wide, sum, 2_000.0),
    ] {
        let exercise = Exercise::alone(text).map_err(|e| anyhow!("{e}"))?;
        let hand_in = HandIn { files: vec![file("m.v", &design)], ..HandIn::default() };
        let mut times = measure(11, || {
            ensure!(!check(&exercise, &hand_in).verdict.near_misses.is_empty(), "explained");
            Ok(())
        })?;
        report(&format!("{name}, with the whole check"), promise, &mut times);
    }
    Ok(())
}

/// Three hundred folders of hand-ins of a demo exercise in the terminal program.
fn class(root: &Path) -> Result<()> {
    let folder = tempfile::tempdir()?;
    let demo = root.join("demo/hopper-interlock");
    let designs = ["plain.v", "gates.v", "wrong_or.v", "latch.v", "interlock.vhd", "semicolon.v"];
    for i in 0..300 {
        let name = designs[i % designs.len()];
        let place = folder.path().join(format!("student{i:03}"));
        std::fs::create_dir(&place)?;
        std::fs::copy(demo.join(name), place.join(name))?;
    }
    let program = std::env::current_exe()?.with_file_name("zesty-gate");
    let mut times = measure(3, || {
        let status = Command::new(&program)
            .args(["check", "--json", "--class"])
            .arg(folder.path())
            .arg(demo.join("exercise.toml"))
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .status()?;
        ensure!(status.code() == Some(1), "some are wrong");
        Ok(())
    })?;
    report("a class of 300 small hand-ins (--class)", 10_000.0, &mut times);
    Ok(())
}

pub(crate) fn run(root: &Path) -> Result<()> {
    proofs()?;
    random_logic()?;
    near_misses()?;
    class(root)
}
