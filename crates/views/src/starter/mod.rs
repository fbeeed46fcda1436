//! What students start from: an empty module and entity with the right ports, and a testbench in each language that
//! checks every row by itself.

mod clocked;

use crate::not_shown::NotShown;
use base::Budget;
use derive::unit_name;
use elab::{ExercisePort, Language};
use exercise::{Exercise, Use};
use logic::row_text;
use std::fmt::Write;

/// A file to be written.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct StarterFile {
    /// Its name.
    pub name: String,
    /// Its text.
    pub text: String,
}

/// Most input bits of which a testbench lists every row; of more it tries some.
const ALL_ROWS: usize = 12;
/// Rows that are tried then.
const SOME_ROWS: usize = 256;

/// What a testbench tries: input bits and expected output bits, `-` where either level is right.
struct Rows {
    list: Vec<(String, String)>,
    /// Not every row there is.
    is_sample: bool,
}

impl Rows {
    fn of(exercise: &Exercise) -> Self {
        let expected = exercise.table();
        let inputs = exercise.input_bits();
        if exercise.wide().is_none() && inputs <= ALL_ROWS {
            let line = |row| (row_text(expected.input_count(), row), expected.output_text(row));
            return Self { list: (0..expected.rows()).map(line).collect(), is_sample: false };
        }
        let rows = some_rows(inputs).into_iter().map(|bits| {
            let outputs = match exercise.wide() {
                Some(wide) => wide.expected_at(&bits),
                None => expected.output_text(bits.iter().fold(0, |row, bit| row << 1 | u64::from(*bit))),
            };
            (bits.iter().map(|b| if *b { '1' } else { '0' }).collect(), outputs)
        });
        Self { list: rows.collect(), is_sample: true }
    }

    fn all(&self) -> String {
        format!("all {} {}", self.list.len(), if self.is_sample { "tried rows" } else { "rows" })
    }
}

/// All inputs at 0, all at 1, each alone at 1, and random ones, the same each time.
fn some_rows(inputs: usize) -> Vec<Vec<bool>> {
    let mut list = vec![vec![false; inputs], vec![true; inputs]];
    list.extend((0..inputs.min(SOME_ROWS / 2)).map(|k| (0..inputs).map(|i| i == k).collect()));
    let mut random = base::Random::new(0);
    while list.len() < SOME_ROWS {
        list.push((0..inputs).map(|_| random.below(2) == 1).collect());
    }
    list
}

/// The exercise's own starter and data files; empty designs, where it has no own of that language; and testbenches in both
/// languages.
///
/// # Errors
/// One sentence when a clocked exercise can't be put into a testbench.
pub fn starter(exercise: &Exercise, budget: &Budget) -> Result<Vec<StarterFile>, NotShown> {
    let unit = unit_name(&exercise.title);
    let file = |ending: &str, text: String| StarterFile { name: format!("{unit}{ending}"), text };
    let [verilog, vhdl] = match exercise.clocked() {
        Some(spec) => clocked::benches(&unit, exercise, spec, budget)?,
        None => {
            let rows = Rows::of(exercise);
            [verilog_bench(&unit, exercise, &rows), vhdl_bench(&unit, exercise, &rows)]
        }
    };
    let for_students = exercise.attachments.iter().filter(|a| matches!(a.purpose, Use::Starter | Use::Data));
    let mut files: Vec<StarterFile> =
        for_students.map(|a| StarterFile { name: a.name.clone(), text: a.text.clone().unwrap_or_default() }).collect();
    let own: Vec<Language> = files.iter().filter_map(|f| elab::language(&f.name)).collect();
    for (language, ending, design, bench) in [
        (Language::Verilog, ".v", verilog_module(&unit, exercise), ("_tb.v", verilog)),
        (Language::Vhdl, ".vhd", vhdl_entity(&unit, exercise), ("_tb.vhd", vhdl)),
    ] {
        if !own.contains(&language) {
            files.push(file(ending, design));
        }
        files.push(file(bench.0, bench.1));
    }
    Ok(files)
}

/// The bounds of a port as the exercise writes them: `3:0`, `WIDTH-1:0`.
fn bounds(exercise: &Exercise, port: &ExercisePort) -> Option<(String, String)> {
    let (left, right) = port.shape.range()?;
    let written = exercise.written_ranges.get(&port.name).and_then(|r| r.split_once(':'));
    Some(match written {
        Some((l, r)) => (l.trim().to_owned(), r.trim().to_owned()),
        None => (left.to_string(), right.to_string()),
    })
}

fn verilog_module(unit: &str, exercise: &Exercise) -> String {
    let list = exercise.ports.iter().map(|p| {
        let range = bounds(exercise, p).map_or(String::new(), |(l, r)| format!("[{l}:{r}] "));
        format!("    {} wire {range}{}", if p.is_input { "input " } else { "output" }, p.name)
    });
    let parameter = exercise.parameter.as_ref();
    let parameter = parameter.map_or(String::new(), |p| format!("#(\n    parameter {} = {}\n) ", p.name, p.value));
    format!(
        "module {unit} {parameter}(\n{}\n);\n    // Write your design here.\n\nendmodule\n",
        list.collect::<Vec<_>>().join(",\n")
    )
}

fn vhdl_type(port: &ExercisePort) -> String {
    match port.shape.range() {
        None => "std_logic".into(),
        Some((l, r)) => format!("std_logic_vector({l} {} {r})", if l >= r { "downto" } else { "to" }),
    }
}

fn vhdl_entity(unit: &str, exercise: &Exercise) -> String {
    let kind = |p: &ExercisePort| match (bounds(exercise, p), p.shape.range()) {
        (Some((l, r)), Some((left, right))) => {
            format!("std_logic_vector({l} {} {r})", if left >= right { "downto" } else { "to" })
        }
        _ => vhdl_type(p),
    };
    let list = exercise
        .ports
        .iter()
        .map(|p| format!("        {} : {} {}", p.name, if p.is_input { "in " } else { "out" }, kind(p)));
    let generic = exercise.parameter.as_ref();
    let generic = generic
        .map_or(String::new(), |p| format!("    generic (\n        {} : positive := {}\n    );\n", p.name, p.value));
    format!(
        "library ieee;\nuse ieee.std_logic_1164.all;\n\nentity {unit} is\n{generic}    port (\n{}\n    );\nend entity {unit};\n\n\
         architecture rtl of {unit} is\nbegin\n    -- Write your design here.\n\nend architecture rtl;\n",
        list.collect::<Vec<_>>().join(";\n")
    )
}

/// Ports of one direction joined to one vector, the first port leftmost.
fn joined(ports: &[ExercisePort], inputs: bool) -> Vec<&ExercisePort> {
    ports.iter().filter(|p| p.is_input == inputs).collect()
}

fn verilog_bench(unit: &str, exercise: &Exercise, rows: &Rows) -> String {
    let (ins, outs) = (joined(&exercise.ports, true), joined(&exercise.ports, false));
    let (n, m) = (exercise.input_bits(), exercise.output_bits());
    let names = |list: &[&ExercisePort]| list.iter().map(|p| p.name.as_str()).collect::<Vec<_>>().join(", ");
    let (ins, outs, count) = (names(&ins), names(&outs), rows.list.len());
    let mut out = format!("`timescale 1ns / 1ps\nmodule {unit}_tb;\n");
    for port in &exercise.ports {
        let range = port.shape.range().map_or(String::new(), |(l, r)| format!("[{l}:{r}] "));
        let _ = writeln!(out, "    {} {range}{};", if port.is_input { "reg " } else { "wire" }, port.name);
    }
    let connections: Vec<String> = exercise.ports.iter().map(|p| format!(".{0}({0})", p.name)).collect();
    let _ = writeln!(out, "\n    {unit} dut ({});\n", connections.join(", "));
    let _ = writeln!(out, "    // Inputs and expected outputs of each row; x where either level is right.");
    let _ = writeln!(out, "    reg [{}:0] tb_inputs [0:{}];", n.max(1) - 1, count - 1);
    let _ = writeln!(out, "    reg [{}:0] tb_expected [0:{}];", m - 1, count - 1);
    let _ = writeln!(
        out,
        "    reg [{}:0] tb_want;\n    integer tb_row, tb_bit_index, tb_errors;\n\n    initial begin",
        m - 1
    );
    for (row, (inputs, outputs)) in rows.list.iter().enumerate() {
        let inputs = if inputs.is_empty() { "0" } else { inputs };
        let want = outputs.replace('-', "x");
        let _ = writeln!(out, "        tb_inputs[{row}] = {}'b{inputs}; tb_expected[{row}] = {m}'b{want};", n.max(1));
    }
    let _ =
        writeln!(out, "        tb_errors = 0;\n        for (tb_row = 0; tb_row < {count}; tb_row = tb_row + 1) begin");
    if n > 0 {
        let _ = writeln!(out, "            {{{ins}}} = tb_inputs[tb_row];");
    }
    let _ = writeln!(out, "            #10;\n            tb_want = tb_expected[tb_row];");
    let _ = writeln!(out, "            for (tb_bit_index = 0; tb_bit_index < {m}; tb_bit_index = tb_bit_index + 1)");
    let _ = writeln!(
        out,
        "                if (tb_want[tb_bit_index] === 1'bx) tb_want[tb_bit_index] = ({{{outs}}} >> tb_bit_index) & 1'b1;"
    );
    let _ = writeln!(out, "            if ({{{outs}}} !== tb_want) begin\n                tb_errors = tb_errors + 1;");
    let _ = writeln!(
        out,
        "                $display(\"row %0d (%b): got %b, expected %b\", tb_row, tb_inputs[tb_row], {{{outs}}}, tb_expected[tb_row]);\n            end\n        end"
    );
    let _ = writeln!(
        out,
        "        if (tb_errors == 0) $display(\"PASS: {} are right\");\n        else $display(\"FAIL: %0d rows are wrong\", tb_errors);\n        $finish;\n    end\nendmodule",
        rows.all()
    );
    out
}

/// A port's part of a vector that all ports of one direction make up, whose bits below `high` are left.
fn part_of(vector: &str, port: &ExercisePort, high: &mut usize) -> String {
    let top = *high;
    *high -= port.shape.width() as usize;
    if port.shape.range().is_none() {
        format!("{vector}({})", top - 1)
    } else {
        format!("{vector}({} downto {})", top - 1, *high)
    }
}

fn vhdl_bench(unit: &str, exercise: &Exercise, rows: &Rows) -> String {
    let (ins, outs) = (joined(&exercise.ports, true), joined(&exercise.ports, false));
    let (n, m) = (exercise.input_bits(), exercise.output_bits());
    let count = rows.list.len();
    let mut out = format!(
        "library ieee;\nuse ieee.std_logic_1164.all;\nuse ieee.numeric_std.all;\n\nentity {unit}_tb is\nend entity {unit}_tb;\n\n\
         architecture test of {unit}_tb is\n"
    );
    for port in &exercise.ports {
        let _ = writeln!(out, "    signal {} : {};", port.name, vhdl_type(port));
    }
    let _ = writeln!(out, "    -- Inputs and expected outputs of each row; '-' where either level is right.");
    let _ = writeln!(
        out,
        "    type tb_inputs_table is array (0 to {}) of std_logic_vector({} downto 0);",
        count - 1,
        n.max(1) - 1
    );
    let _ = writeln!(out, "    type tb_table is array (0 to {}) of std_logic_vector({} downto 0);", count - 1, m - 1);
    let mut table = |name: &str, kind: &str, of: &dyn Fn(&(String, String)) -> String| {
        let _ = writeln!(out, "    constant {name} : {kind} := (");
        for (row, line) in rows.list.iter().enumerate() {
            let comma = if row + 1 < count { "," } else { "" };
            let _ = writeln!(out, "        {row} => \"{}\"{comma}", of(line));
        }
        let _ = writeln!(out, "    );");
    };
    table("tb_inputs", "tb_inputs_table", &|(inputs, _)| if inputs.is_empty() { "0".into() } else { inputs.clone() });
    table("tb_expected", "tb_table", &|(_, outputs)| outputs.clone());
    let _ = writeln!(out, "begin\n    dut : entity work.{unit} port map (");
    let maps: Vec<String> = exercise.ports.iter().map(|p| format!("        {0} => {0}", p.name)).collect();
    let _ = writeln!(out, "{}\n    );\n\n    process", maps.join(",\n"));
    let _ = writeln!(out, "        variable tb_bits : std_logic_vector({} downto 0);", n.max(1) - 1);
    let _ = writeln!(out, "        variable tb_got : std_logic_vector({} downto 0);", m - 1);
    let _ = writeln!(
        out,
        "        variable tb_errors : natural := 0;\n    begin\n        for tb_row in tb_expected'range loop"
    );
    let _ = writeln!(out, "            tb_bits := tb_inputs(tb_row);");
    let mut high = n;
    for port in &ins {
        let _ = writeln!(out, "            {} <= {};", port.name, part_of("tb_bits", port, &mut high));
    }
    let _ = writeln!(out, "            wait for 10 ns;");
    let mut high = m;
    for port in &outs {
        let _ = writeln!(out, "            {} := {};", part_of("tb_got", port, &mut high), port.name);
    }
    let _ = writeln!(
        out,
        "            if not std_match(tb_got, tb_expected(tb_row)) then\n                tb_errors := tb_errors + 1;"
    );
    let _ = writeln!(
        out,
        "                report \"row \" & integer'image(tb_row) & \" is wrong\" severity error;\n            end if;\n        end loop;"
    );
    let _ = writeln!(
        out,
        "        if tb_errors = 0 then\n            report \"PASS: {} are right\";\n        else\n            report \"FAIL: \" & integer'image(tb_errors) & \" rows are wrong\" severity error;\n        end if;\n        wait;\n    end process;\nend architecture test;",
        rows.all()
    );
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use check::HandIn;
    use check::check;
    use elab::HandInFile;

    #[test]
    fn the_starters_of_every_demo_exercise_are_legal_and_have_its_ports() {
        for name in ["hopper-interlock", "weight-grader", "tank-level-bar", "gray-turntable", "lane-letter"] {
            let path = format!("{}/../../demo/{name}/exercise.toml", env!("CARGO_MANIFEST_DIR"));
            let exercise = Exercise::alone(&std::fs::read_to_string(path).unwrap()).unwrap();
            let files = starter(&exercise, &Budget::hand_in()).unwrap();
            assert_eq!(files.len(), 4);
            for ending in [".v", ".vhd"] {
                // The empty design with its testbench beside it: legal, its ports right, nothing driven yet.
                let of: Vec<HandInFile> = files
                    .iter()
                    .filter(|f| f.name.ends_with(ending))
                    .map(|f| HandInFile { name: f.name.clone(), bytes: f.text.clone().into_bytes() })
                    .collect();
                assert_eq!(of.len(), 2);
                let found = check(&exercise, &HandIn { files: of, ..HandIn::default() }).verdict;
                let codes: Vec<&str> =
                    found.findings.iter().filter(|f| f.severity == "stop").map(|f| f.code.as_str()).collect();
                assert!(codes.is_empty(), "{name}{ending}: {:#?}", found.findings);
                assert!(found.findings.iter().any(|f| f.code == "undriven-output"), "{name}{ending}");
            }
        }
    }
}
