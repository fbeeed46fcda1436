//! Testbenches for clocked exercises: vectors of inputs and expected outputs cycle by cycle, or the measuring of a rate.

use crate::not_shown::{NotShown, asked};
use crate::starter::vhdl_type;
use base::Budget;
use elab::ExercisePort;
use exercise::{Clocked, ClockedRule, Exercise, RateRule};
use prove::Vector;
use std::fmt::Write;

/// Clock cycles that a testbench runs.
const CYCLES: u32 = 96;

struct Bench<'a> {
    unit: &'a str,
    exercise: &'a Exercise,
    spec: &'a Clocked,
}

/// The testbenches in Verilog and VHDL.
pub(super) fn benches(
    unit: &str,
    exercise: &Exercise,
    spec: &Clocked,
    budget: &Budget,
) -> Result<[String; 2], NotShown> {
    let bench = Bench { unit, exercise, spec };
    match (&spec.rule, spec.machine()) {
        (ClockedRule::Rate(rule), _) => Ok([bench.verilog_rate(rule), bench.vhdl_rate(rule)]),
        (_, Some(machine)) => {
            let vectors = prove::vectors(&machine, &spec.protocol(), CYCLES, &mut budget.clone())
                .map_err(|_| NotShown::Asked("The exercise's own machine never comes to rest.".into()))?;
            Ok([bench.verilog(&vectors), bench.vhdl(&vectors)])
        }
        _ => asked("The exercise has no machine."),
    }
}

fn bits(list: &[bool]) -> String {
    list.iter().map(|b| if *b { '1' } else { '0' }).collect()
}

fn wanted(list: &[Option<bool>], either: char) -> String {
    list.iter().map(|b| b.map_or(either, |b| if b { '1' } else { '0' })).collect()
}

impl Bench<'_> {
    fn ports(&self, input: bool) -> Vec<&ExercisePort> {
        self.exercise.ports.iter().filter(|p| p.is_input == input && p.name != self.spec.clock).collect()
    }

    fn joined(&self, input: bool) -> String {
        let names: Vec<&str> = self.ports(input).iter().map(|p| p.name.as_str()).collect();
        format!("{{{}}}", names.join(", "))
    }

    fn edge(&self) -> [u8; 2] {
        if self.spec.rising { [0, 1] } else { [1, 0] }
    }

    fn verilog_head(&self) -> String {
        let mut out = format!("`timescale 1ns / 1ps\nmodule {}_tb;\n", self.unit);
        for port in &self.exercise.ports {
            let range = port.shape.range().map_or(String::new(), |(l, r)| format!("[{l}:{r}] "));
            let _ = writeln!(out, "    {} {range}{};", if port.is_input { "reg " } else { "wire" }, port.name);
        }
        let joins: Vec<String> = self.exercise.ports.iter().map(|p| format!(".{0}({0})", p.name)).collect();
        let _ = writeln!(out, "\n    {} dut ({});\n", self.unit, joins.join(", "));
        out
    }

    fn verilog(&self, vectors: &[Vector]) -> String {
        let (n, m) = (self.spec.inputs.len(), self.spec.outputs.len());
        let (clock, [rest, active], outs) = (&self.spec.clock, self.edge(), self.joined(false));
        let last = vectors.len() - 1;
        let mut out = self.verilog_head();
        let _ = writeln!(out, "    // Inputs and expected outputs of each cycle; x where either level is right.");
        if n > 0 {
            let _ = writeln!(out, "    reg [{}:0] tb_inputs [0:{last}];", n - 1);
        }
        let _ = writeln!(out, "    reg [{}:0] tb_expected [0:{last}];", m - 1);
        let _ = writeln!(out, "    reg [{}:0] tb_want;\n    integer tb_cycle, tb_bit_index, tb_errors;\n", m - 1);
        let _ = writeln!(out, "    initial begin");
        for (cycle, vector) in vectors.iter().enumerate() {
            if n > 0 {
                let _ = write!(out, "        tb_inputs[{cycle}] = {n}'b{};", bits(&vector.inputs));
            }
            let _ = writeln!(out, "        tb_expected[{cycle}] = {m}'b{};", wanted(&vector.outputs, 'x'));
        }
        let _ = writeln!(out, "        tb_errors = 0;\n        {clock} = {rest};");
        let _ = writeln!(out, "        for (tb_cycle = 0; tb_cycle <= {last}; tb_cycle = tb_cycle + 1) begin");
        if n > 0 {
            let _ = writeln!(out, "            {} = tb_inputs[tb_cycle];", self.joined(true));
        }
        let _ = writeln!(out, "            #10;\n            tb_want = tb_expected[tb_cycle];");
        let _ = writeln!(
            out,
            "            for (tb_bit_index = 0; tb_bit_index < {m}; tb_bit_index = tb_bit_index + 1)\n                \
             if (tb_want[tb_bit_index] === 1'bx) tb_want[tb_bit_index] = ({outs} >> tb_bit_index) & 1'b1;"
        );
        let _ = writeln!(
            out,
            "            if ({outs} !== tb_want) begin\n                tb_errors = tb_errors + 1;\n                \
             $display(\"cycle %0d: got %b, expected %b\", tb_cycle, {outs}, tb_expected[tb_cycle]);\n            end"
        );
        let _ = writeln!(out, "            {clock} = {active};\n            #10 {clock} = {rest};\n        end");
        let _ = writeln!(
            out,
            "        if (tb_errors == 0) $display(\"PASS: all {} cycles are right\");\n        \
             else $display(\"FAIL: %0d cycles are wrong\", tb_errors);\n        $finish;\n    end\nendmodule",
            vectors.len()
        );
        out
    }

    fn vhdl_head(&self) -> String {
        let mut out = format!(
            "library ieee;\nuse ieee.std_logic_1164.all;\nuse ieee.numeric_std.all;\n\nentity {0}_tb is\nend entity {0}_tb;\n\n\
             architecture test of {0}_tb is\n",
            self.unit
        );
        for port in &self.exercise.ports {
            let first = if port.name == self.spec.clock { format!(" := '{}'", self.edge()[0]) } else { String::new() };
            let _ = writeln!(out, "    signal {} : {}{first};", port.name, vhdl_type(port));
        }
        out
    }

    fn vhdl_instance(&self) -> String {
        let maps: Vec<String> = self.exercise.ports.iter().map(|p| format!("        {0} => {0}", p.name)).collect();
        format!("begin\n    dut : entity work.{} port map (\n{}\n    );\n\n", self.unit, maps.join(",\n"))
    }

    /// `en <= v(3);` for each port that is part of a vector of `total` bits, or `v(3) := en;`.
    fn parts(&self, input: bool, vector: &str, indent: &str) -> String {
        let mut high: usize = self.ports(input).iter().map(|p| p.shape.width() as usize).sum();
        let mut out = String::new();
        for port in self.ports(input) {
            let low = high - port.shape.width() as usize;
            let part = match port.shape.range() {
                None => format!("{vector}({low})"),
                Some(_) => format!("{vector}({} downto {low})", high - 1),
            };
            let _ = if input {
                writeln!(out, "{indent}{} <= {part};", port.name)
            } else {
                writeln!(out, "{indent}{part} := {};", port.name)
            };
            high = low;
        }
        out
    }

    fn vhdl(&self, vectors: &[Vector]) -> String {
        let (n, m) = (self.spec.inputs.len(), self.spec.outputs.len());
        let (clock, [rest, active], last) = (&self.spec.clock, self.edge(), vectors.len() - 1);
        let mut out = self.vhdl_head();
        let _ = writeln!(out, "    -- Inputs and expected outputs of each cycle; '-' where either level is right.");
        let mut table = |name: &str, width: usize, text: &dyn Fn(&Vector) -> String| {
            let _ = writeln!(
                out,
                "    type tb_{name}_table is array (0 to {last}) of std_logic_vector({} downto 0);\n    \
                 constant tb_{name} : tb_{name}_table := (",
                width - 1
            );
            for (cycle, vector) in vectors.iter().enumerate() {
                let comma = if cycle < last { "," } else { "" };
                let _ = writeln!(out, "        {cycle} => \"{}\"{comma}", text(vector));
            }
            let _ = writeln!(out, "    );");
        };
        if n > 0 {
            table("inputs", n, &|v| bits(&v.inputs));
        }
        table("expected", m, &|v| wanted(&v.outputs, '-'));
        out += &self.vhdl_instance();
        let _ = writeln!(out, "    process\n        variable tb_got : std_logic_vector({} downto 0);", m - 1);
        if n > 0 {
            let _ = writeln!(out, "        variable tb_in : std_logic_vector({} downto 0);", n - 1);
        }
        let _ = writeln!(out, "        variable tb_errors : natural := 0;\n    begin");
        let _ = writeln!(out, "        for tb_cycle in tb_expected'range loop");
        if n > 0 {
            let _ = writeln!(out, "            tb_in := tb_inputs(tb_cycle);");
            out += &self.parts(true, "tb_in", "            ");
        }
        let _ = writeln!(out, "            wait for 10 ns;");
        out += &self.parts(false, "tb_got", "            ");
        let _ = writeln!(
            out,
            "            if not std_match(tb_got, tb_expected(tb_cycle)) then\n                tb_errors := tb_errors + 1;\n                \
             report \"cycle \" & integer'image(tb_cycle) & \" is wrong\" severity error;\n            end if;\n            \
             {clock} <= '{active}';\n            wait for 10 ns;\n            {clock} <= '{rest}';\n        end loop;"
        );
        let _ = writeln!(
            out,
            "        if tb_errors = 0 then\n            report \"PASS: all {} cycles are right\";\n        else\n            \
             report \"FAIL: \" & integer'image(tb_errors) & \" cycles are wrong\" severity error;\n        end if;\n        \
             wait;\n    end process;\nend architecture test;",
            vectors.len()
        );
        out
    }

    /// Levels of the inputs but the clock while the output is followed, and while the reset is held.
    fn rest_level(&self, port: &ExercisePort, resetting: bool) -> char {
        let reset = self.spec.reset.as_ref().filter(|r| r.port == port.name);
        if reset.is_some_and(|r| r.active_high == resetting) { '1' } else { '0' }
    }

    fn verilog_rate(&self, rule: &RateRule) -> String {
        let (clock, [rest, active]) = (&self.spec.clock, self.edge());
        let output = &self.spec.outputs[rule.output];
        let mut out = self.verilog_head();
        let _ = writeln!(out, "    integer tb_cycle, tb_last, tb_periods, tb_errors;\n    reg tb_before;\n");
        let _ = writeln!(out, "    initial begin\n        {clock} = {rest};");
        let assign = |out: &mut String, resetting: bool| {
            for port in self.ports(true) {
                let level = self.rest_level(port, resetting).to_string().repeat(port.shape.width() as usize);
                let _ = writeln!(out, "        {} = {}'b{level};", port.name, port.shape.width());
            }
        };
        assign(&mut out, true);
        let _ = writeln!(out, "        repeat (2) begin #10 {clock} = {active}; #10 {clock} = {rest}; end");
        assign(&mut out, false);
        let _ = writeln!(
            out,
            "        #10;\n        tb_last = -1; tb_periods = 0; tb_errors = 0; tb_before = {output};\n        \
             for (tb_cycle = 0; tb_cycle < {} && tb_periods < 2; tb_cycle = tb_cycle + 1) begin\n            \
             #10 {clock} = {active};\n            #10 {clock} = {rest};\n            \
             if ({output} === 1'b1 && tb_before === 1'b0) begin\n                \
             if (tb_last >= 0) begin\n                    tb_periods = tb_periods + 1;\n                    \
             $display(\"{output} repeats after %0d cycles\", tb_cycle - tb_last);\n                    \
             if (tb_cycle - tb_last < {} || tb_cycle - tb_last > {}) tb_errors = tb_errors + 1;\n                end\n                \
             tb_last = tb_cycle;\n            end\n            tb_before = {output};\n        end",
            4 * rule.period,
            rule.period - rule.tolerance.min(rule.period),
            rule.period + rule.tolerance
        );
        let _ = writeln!(
            out,
            "        if (tb_periods == 2 && tb_errors == 0) $display(\"PASS: the period is {} cycles\");\n        \
             else $display(\"FAIL: a period of {} cycles is wanted\");\n        $finish;\n    end\nendmodule",
            rule.period, rule.period
        );
        out
    }

    fn vhdl_rate(&self, rule: &RateRule) -> String {
        let (clock, [rest, active]) = (&self.spec.clock, self.edge());
        let bit = &self.spec.outputs[rule.output];
        let output = bit.replace('[', "(").replace(']', ")");
        let mut out = self.vhdl_head();
        out += &self.vhdl_instance();
        let _ = writeln!(
            out,
            "    process\n        variable tb_last : integer := -1;\n        variable tb_periods, tb_errors : natural := 0;\n        \
             variable tb_before : std_logic;\n    begin"
        );
        let assign = |out: &mut String, resetting: bool| {
            for port in self.ports(true) {
                let level = self.rest_level(port, resetting);
                let value =
                    if port.shape.range().is_none() { format!("'{level}'") } else { format!("(others => '{level}')") };
                let _ = writeln!(out, "        {} <= {value};", port.name);
            }
        };
        assign(&mut out, true);
        let _ = writeln!(
            out,
            "        for tb_i in 1 to 2 loop\n            wait for 10 ns;\n            {clock} <= '{active}';\n            \
             wait for 10 ns;\n            {clock} <= '{rest}';\n        end loop;"
        );
        assign(&mut out, false);
        let _ = writeln!(
            out,
            "        wait for 10 ns;\n        tb_before := {output};\n        for tb_cycle in 0 to {} loop\n            \
             {clock} <= '{active}';\n            wait for 10 ns;\n            {clock} <= '{rest}';\n            wait for 10 ns;\n            \
             if {output} = '1' and tb_before = '0' then\n                if tb_last >= 0 then\n                    \
             tb_periods := tb_periods + 1;\n                    \
             report \"the output repeats after \" & integer'image(tb_cycle - tb_last) & \" cycles\";\n                    \
             if tb_cycle - tb_last < {} or tb_cycle - tb_last > {} then\n                        tb_errors := tb_errors + 1;\n                    \
             end if;\n                end if;\n                tb_last := tb_cycle;\n            end if;\n            \
             tb_before := {output};\n            exit when tb_periods = 2;\n        end loop;",
            (4 * rule.period).min(2_000_000_000),
            rule.period - rule.tolerance.min(rule.period),
            rule.period + rule.tolerance
        );
        let _ = writeln!(
            out,
            "        if tb_periods = 2 and tb_errors = 0 then\n            report \"PASS: the period is {0} cycles\";\n        else\n            \
             report \"FAIL: a period of {0} cycles is wanted\" severity error;\n        end if;\n        wait;\n    \
             end process;\nend architecture test;",
            rule.period
        );
        out
    }
}
