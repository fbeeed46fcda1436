//! What students start from: an empty module and entity with the right ports, and a testbench in each language that
//! checks every row by itself.

mod clocked;

use crate::exercise::{Exercise, ExercisePort};
use crate::exports::unit_name;
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

/// Most input bits whose rows a testbench lists.
pub const STARTER_INPUTS: usize = 12;

/// Empty designs and testbenches in both languages.
///
/// # Errors
/// One sentence when the exercise has too many rows to list.
pub fn starter(exercise: &Exercise) -> Result<Vec<StarterFile>, String> {
    if let Some(spec) = &exercise.clocked {
        let unit = unit_name(&exercise.title);
        let file = |ending: &str, text: String| StarterFile { name: format!("{unit}{ending}"), text };
        let [verilog, vhdl] = clocked::benches(&unit, exercise, spec)?;
        return Ok(vec![
            file(".v", verilog_module(&unit, &exercise.ports)),
            file("_tb.v", verilog),
            file(".vhd", vhdl_entity(&unit, &exercise.ports)),
            file("_tb.vhd", vhdl),
        ]);
    }
    let inputs = exercise.expected.inputs.len();
    if inputs > STARTER_INPUTS {
        return Err(format!(
            "A testbench lists the rows of at most {STARTER_INPUTS} input bits; this exercise has {inputs}."
        ));
    }
    let unit = unit_name(&exercise.title);
    let file = |ending: &str, text: String| StarterFile { name: format!("{unit}{ending}"), text };
    Ok(vec![
        file(".v", verilog_module(&unit, &exercise.ports)),
        file("_tb.v", verilog_bench(&unit, exercise)),
        file(".vhd", vhdl_entity(&unit, &exercise.ports)),
        file("_tb.vhd", vhdl_bench(&unit, exercise)),
    ])
}

fn verilog_module(unit: &str, ports: &[ExercisePort]) -> String {
    let list = ports.iter().map(|p| {
        let range = p.shape.range().map_or(String::new(), |(l, r)| format!("[{l}:{r}] "));
        format!("    {} wire {range}{}", if p.is_input { "input " } else { "output" }, p.name)
    });
    format!(
        "module {unit} (\n{}\n);\n    // Write your design here.\n\nendmodule\n",
        list.collect::<Vec<_>>().join(",\n")
    )
}

fn vhdl_type(port: &ExercisePort) -> String {
    match port.shape.range() {
        None => "std_logic".into(),
        Some((l, r)) => format!("std_logic_vector({l} {} {r})", if l >= r { "downto" } else { "to" }),
    }
}

fn vhdl_entity(unit: &str, ports: &[ExercisePort]) -> String {
    let list = ports
        .iter()
        .map(|p| format!("        {} : {} {}", p.name, if p.is_input { "in " } else { "out" }, vhdl_type(p)));
    format!(
        "library ieee;\nuse ieee.std_logic_1164.all;\n\nentity {unit} is\n    port (\n{}\n    );\nend entity {unit};\n\n\
         architecture rtl of {unit} is\nbegin\n    -- Write your design here.\n\nend architecture rtl;\n",
        list.collect::<Vec<_>>().join(";\n")
    )
}

/// Ports of one direction joined to one vector, the first port leftmost.
fn joined(ports: &[ExercisePort], inputs: bool) -> Vec<&ExercisePort> {
    ports.iter().filter(|p| p.is_input == inputs).collect()
}

fn verilog_bench(unit: &str, exercise: &Exercise) -> String {
    let (ins, outs) = (joined(&exercise.ports, true), joined(&exercise.ports, false));
    let (n, m) = (exercise.expected.inputs.len(), exercise.expected.outputs.len());
    let names = |list: &[&ExercisePort]| list.iter().map(|p| p.name.as_str()).collect::<Vec<_>>().join(", ");
    let mut out = format!("`timescale 1ns / 1ps\nmodule {unit}_tb;\n");
    for port in &exercise.ports {
        let range = port.shape.range().map_or(String::new(), |(l, r)| format!("[{l}:{r}] "));
        let _ = writeln!(out, "    {} {range}{};", if port.is_input { "reg " } else { "wire" }, port.name);
    }
    let connections: Vec<String> = exercise.ports.iter().map(|p| format!(".{0}({0})", p.name)).collect();
    let _ = writeln!(out, "\n    {unit} dut ({});\n", connections.join(", "));
    let _ = writeln!(out, "    // Expected outputs of each row; x where either level is right.");
    let _ = writeln!(out, "    reg [{}:0] tb_expected [0:{}];", m - 1, (1u64 << n) - 1);
    let _ = writeln!(
        out,
        "    reg [{}:0] tb_want;\n    integer tb_row, tb_bit_index, tb_errors;\n\n    initial begin",
        m - 1
    );
    for row in 0..exercise.expected.rows() {
        let text = exercise.expected.output_text(row).replace('-', "x");
        let _ = writeln!(out, "        tb_expected[{row}] = {m}'b{text};");
    }
    let _ = writeln!(
        out,
        "        tb_errors = 0;\n        for (tb_row = 0; tb_row < {}; tb_row = tb_row + 1) begin",
        1u64 << n
    );
    let _ = writeln!(
        out,
        "            {{{}}} = tb_row;\n            #10;\n            tb_want = tb_expected[tb_row];",
        names(&ins)
    );
    let _ = writeln!(out, "            for (tb_bit_index = 0; tb_bit_index < {m}; tb_bit_index = tb_bit_index + 1)");
    let _ = writeln!(
        out,
        "                if (tb_want[tb_bit_index] === 1'bx) tb_want[tb_bit_index] = ({{{}}} >> tb_bit_index) & 1'b1;",
        names(&outs)
    );
    let _ = writeln!(
        out,
        "            if ({{{}}} !== tb_want) begin\n                tb_errors = tb_errors + 1;",
        names(&outs)
    );
    let _ = writeln!(
        out,
        "                $display(\"row %0d (%b): got %b, expected %b\", tb_row, {{{}}}, {{{}}}, tb_expected[tb_row]);\n            end\n        end",
        names(&ins),
        names(&outs)
    );
    let _ = writeln!(
        out,
        "        if (tb_errors == 0) $display(\"PASS: all {} rows are right\");\n        else $display(\"FAIL: %0d rows are wrong\", tb_errors);\n        $finish;\n    end\nendmodule",
        1u64 << n
    );
    out
}

fn vhdl_bench(unit: &str, exercise: &Exercise) -> String {
    let (ins, outs) = (joined(&exercise.ports, true), joined(&exercise.ports, false));
    let (n, m) = (exercise.expected.inputs.len(), exercise.expected.outputs.len());
    let mut out = format!(
        "library ieee;\nuse ieee.std_logic_1164.all;\nuse ieee.numeric_std.all;\n\nentity {unit}_tb is\nend entity {unit}_tb;\n\n\
         architecture test of {unit}_tb is\n"
    );
    for port in &exercise.ports {
        let _ = writeln!(out, "    signal {} : {};", port.name, vhdl_type(port));
    }
    let _ = writeln!(out, "    -- Expected outputs of each row; '-' where either level is right.");
    let _ =
        writeln!(out, "    type tb_table is array (0 to {}) of std_logic_vector({} downto 0);", (1u64 << n) - 1, m - 1);
    let _ = writeln!(out, "    constant tb_expected : tb_table := (");
    let rows = exercise.expected.rows();
    for row in 0..rows {
        let comma = if row + 1 < rows { "," } else { "" };
        let _ = writeln!(
            out,
            "        {row} => \"{}\"{comma} -- {}",
            exercise.expected.output_text(row),
            row_text(n as u32, row)
        );
    }
    let _ = writeln!(out, "    );\nbegin\n    dut : entity work.{unit} port map (");
    let maps: Vec<String> = exercise.ports.iter().map(|p| format!("        {0} => {0}", p.name)).collect();
    let _ = writeln!(out, "{}\n    );\n\n    process", maps.join(",\n"));
    let _ = writeln!(out, "        variable tb_bits : std_logic_vector({} downto 0);", n - 1);
    let _ = writeln!(out, "        variable tb_got : std_logic_vector({} downto 0);", m - 1);
    let _ = writeln!(
        out,
        "        variable tb_errors : natural := 0;\n    begin\n        for tb_row in tb_expected'range loop"
    );
    let _ = writeln!(out, "            tb_bits := std_logic_vector(to_unsigned(tb_row, {n}));");
    let mut high = n;
    for port in &ins {
        let width = port.shape.width() as usize;
        let part = if port.shape.range().is_none() {
            format!("tb_bits({})", high - 1)
        } else {
            format!("tb_bits({} downto {})", high - 1, high - width)
        };
        high -= width;
        let _ = writeln!(out, "            {} <= {part};", port.name);
    }
    let parts: Vec<&str> = outs.iter().map(|p| p.name.as_str()).collect();
    let _ = writeln!(out, "            wait for 10 ns;");
    let mut high = m;
    for (port, name) in outs.iter().zip(&parts) {
        let width = port.shape.width() as usize;
        let part = if port.shape.range().is_none() {
            format!("tb_got({})", high - 1)
        } else {
            format!("tb_got({} downto {})", high - 1, high - width)
        };
        high -= width;
        let _ = writeln!(out, "            {part} := {name};");
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
        "        if tb_errors = 0 then\n            report \"PASS: all {rows} rows are right\";\n        else\n            report \"FAIL: \" & integer'image(tb_errors) & \" rows are wrong\" severity error;\n        end if;\n        wait;\n    end process;\nend architecture test;"
    );
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pipeline::{HandIn, HandInFile, check};

    #[test]
    fn the_starters_of_every_demo_exercise_are_legal_and_have_its_ports() {
        for name in ["hopper-interlock", "weight-grader", "tank-level-bar", "gray-turntable", "lane-letter"] {
            let path = format!("{}/../../demo/{name}/exercise.toml", env!("CARGO_MANIFEST_DIR"));
            let exercise = Exercise::load(&std::fs::read_to_string(path).unwrap(), &|_| Err("none".into())).unwrap();
            let files = starter(&exercise).unwrap();
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
