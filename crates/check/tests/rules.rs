//! Structure rules: a design that is right but not built as the exercise says passes in part, with the place that breaks
//! the rule.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use check::{HandIn, check};
use elab::HandInFile;
use exercise::Exercise;
use verdict::{Verdict, VerdictKind};

fn exercise(rules: &str) -> Result<Exercise, String> {
    let text = format!(
        r#"
format = "zesty-gate/exercise/1"
title = "Sorter flap"
[[port]]
name = "a"
dir = "in"
[[port]]
name = "b"
dir = "in"
[[port]]
name = "c"
dir = "in"
[[port]]
name = "y"
dir = "out"
[behaviour]
kind = "expressions"
[behaviour.outputs]
y = "a & b | ~c"
[rules]
{rules}
"#
    );
    Exercise::load(&text, &|path| Err(format!("no {path}").into())).map_err(|e| e.message)
}

fn judged(rules: &str, name: &str, text: &str) -> Verdict {
    let files = vec![HandInFile { name: name.into(), bytes: text.into() }];
    check(&exercise(rules).unwrap(), &HandIn { files, ..HandIn::default() }).verdict
}

fn verilog(body: &str) -> String {
    format!("module flap(input a, b, c, output y);\n{body}\nendmodule\n")
}

fn vhdl(body: &str) -> String {
    format!(
        "library ieee;\nuse ieee.std_logic_1164.all;\nentity flap is\n  port (a, b, c : in std_logic; y : out std_logic);\nend;\n\
         architecture x of flap is\n  signal p, q, n : std_logic;\nbegin\n{body}\nend;\n"
    )
}

/// Right in behaviour, judged by the rule alone: the code and line of the first finding, or nothing.
fn broken(rules: &str, name: &str, text: &str) -> Option<(String, Option<u32>)> {
    let verdict = judged(rules, name, text);
    assert_eq!(verdict.rows.passed, verdict.rows.total, "{text}: {}", verdict.headline());
    let first = verdict.findings.iter().find(|f| f.severity != "note").cloned();
    let wanted = if first.is_none() { VerdictKind::Pass } else { VerdictKind::Partly };
    assert_eq!(verdict.verdict, wanted, "{text}");
    first.map(|f| (f.code, f.line))
}

#[test]
fn forbidden_constructs_and_operators_are_found_where_they_stand() {
    let case = verilog(
        "reg y; always @*\n  case ({a, b, c})\n    3'b001, 3'b011, 3'b101: y = 0;\n    default: y = 1;\n  endcase",
    );
    let case = case.replace("output y", "output reg y").replace("reg y; always", "always");
    let found = |rules: &str, name: &str, text: &str| broken(rules, name, text);
    let forbidden = |line| Some(("forbidden-means".to_owned(), Some(line)));
    assert_eq!(found(r#"forbid = ["construct:case"]"#, "flap.v", &case), forbidden(3));
    assert_eq!(found(r#"forbid = ["construct:if", "operator:+"]"#, "flap.v", &case), None);
    let chosen = verilog("  assign y = c ? a & b : 1'b1;");
    assert_eq!(found(r#"forbid = ["construct:conditional"]"#, "flap.v", &chosen), forbidden(2));
    assert_eq!(found(r#"forbid = ["gate:and"]"#, "flap.v", &chosen), forbidden(2));
    let when = vhdl("  y <= '1' when c = '0' else a and b;");
    assert_eq!(found(r#"forbid = ["construct:when-else"]"#, "flap.vhd", &when), forbidden(9));
    assert_eq!(found(r#"forbid = ["construct:case", "operator:or"]"#, "flap.vhd", &when), None);
    let process = vhdl(
        "  process (a, b, c)\n  begin\n    if c = '0' then\n      y <= '1';\n    else\n      y <= a and b;\n    end if;\n  end process;",
    );
    assert_eq!(found(r#"forbid = ["construct:if"]"#, "flap.vhd", &process), forbidden(11));
    assert_eq!(found(r#"forbid = ["construct:process"]"#, "flap.vhd", &process), forbidden(9));
}

#[test]
fn sums_that_only_count_places_are_no_operators_of_the_hardware() {
    let text = "module flap #(parameter N = 2) (input a, b, c, output y);\n  wire [N-1:0] t;\n  genvar i;\n  generate\n    \
        for (i = 0; i < N; i = i + 1) begin : g\n      assign t[i] = i == 0 ? a : b;\n    end\n  endgenerate\n  assign y = t[0] & t[1] | ~c;\nendmodule\n";
    assert_eq!(broken(r#"forbid = ["operator:+", "operator:-"]"#, "flap.v", text), None);
    assert_eq!(
        broken(r#"forbid = ["construct:generate"]"#, "flap.v", text).map(|f| f.0),
        Some("forbidden-means".into())
    );
}

#[test]
fn what_is_required_has_to_be_there() {
    let plain = vhdl("  y <= (a and b) or not c;");
    let selected = vhdl("  p <= a and b;\n  with c select y <= p when '1', '1' when others;");
    let rules = r#"require = ["construct:with-select"]"#;
    assert_eq!(broken(rules, "flap.vhd", &plain).map(|f| f.0), Some("required-means".into()));
    assert_eq!(broken(rules, "flap.vhd", &selected), None);
    let split = "module both(input p, q, output r);\n  assign r = p & q;\nendmodule\nmodule flap(input a, b, c, output y);\n  wire t;\n  both u(a, b, t);\n  assign y = t | ~c;\nendmodule\n";
    assert_eq!(broken(r#"require = ["instance:both"]"#, "flap.v", split), None);
    assert_eq!(
        broken(r#"require = ["instance:both"]"#, "flap.v", &verilog("  assign y = a & b | ~c;")).map(|f| f.0),
        Some("required-means".into())
    );
    // What a unit below the top is written with counts as well.
    assert_eq!(broken(r#"forbid = ["gate:and"]"#, "flap.v", split), Some(("forbidden-means".into(), Some(2))));
}

#[test]
fn the_form_is_read_as_written_from_expressions_gates_and_both_languages() {
    let form = |form: &str| format!(r#"form = [{{ output = "y", form = "{form}" }}]"#);
    let sop = verilog("  assign y = a & b | ~c;");
    let wires = verilog("  wire p, n;\n  not (n, c);\n  and (p, a, b);\n  or (y, p, n);");
    let pos = verilog("  assign y = (a | ~c) & (b | ~c);");
    let nands = verilog("  wire p;\n  nand (p, a, b);\n  nand (y, p, c);");
    let nands_vhdl = vhdl("  p <= a nand b;\n  y <= p nand c;");
    let nors_vhdl = vhdl("  n <= c nor c;\n  p <= a nor n;\n  q <= b nor n;\n  y <= p nor q;");
    let choice = verilog("  assign y = c ? a & b : 1'b1;");
    let all = [
        ("flap.v", &sop, "sop"),
        ("flap.v", &wires, "sop"),
        ("flap.v", &pos, "pos"),
        ("flap.v", &nands, "nand-nand nand-only"),
        ("flap.vhd", &nands_vhdl, "nand-nand nand-only"),
        ("flap.vhd", &nors_vhdl, "nor-nor nor-only"),
        ("flap.v", &choice, ""),
    ];
    for (name, text, has) in all {
        for wanted in ["sop", "pos", "nand-nand", "nor-nor", "nand-only", "nor-only"] {
            let found = broken(&form(wanted), name, text);
            assert_eq!(found.is_none(), has.split(' ').any(|h| h == wanted), "{wanted}: {text}");
            assert!(found.is_none_or(|f| f.0 == "wrong-form"));
        }
    }
}

#[test]
fn gates_are_counted_as_written_without_inverters_at_the_inputs() {
    let sop = verilog("  assign y = a & b | ~c;");
    assert_eq!(broken("max_gates = 2", "flap.v", &sop), None);
    assert_eq!(broken("max_gates = 1", "flap.v", &sop).map(|f| f.0), Some("too-many-gates".into()));
    // A gate of three inputs is one gate, and a shared one counts once.
    let wide = verilog("  wire t;\n  assign t = a & b & b;\n  assign y = t | t | ~c;");
    assert_eq!(broken("max_gates = 2", "flap.v", &wide), None);
}

#[test]
fn a_wrong_design_is_not_excused_by_its_form_and_a_rule_does_not_hide_wrong_rows() {
    let verdict = judged(r#"forbid = ["gate:xor"]"#, "flap.v", &verilog("  assign y = a ^ b | ~c;"));
    let codes: Vec<&str> = verdict.findings.iter().map(|f| f.code.as_str()).collect();
    assert!(codes.contains(&"wrong-rows") && codes.contains(&"forbidden-means"), "{codes:?}");
    assert_eq!(verdict.verdict, VerdictKind::Partly);
}

#[test]
fn rules_that_make_no_sense_are_refused_when_the_exercise_is_read() {
    let fault = |rules: &str| exercise(rules).unwrap_err();
    assert!(fault(r#"forbid = ["operator:plus"]"#).contains("Rules know no operator `plus`"));
    assert!(fault(r#"forbid = ["construct:cases"]"#).contains("use one of case, if"));
    assert!(fault(r#"forbid = ["xor"]"#).contains("Unknown rule `xor`"));
    assert!(fault("forbid = [\"gate:xor\"]\nrequire = [\"gate:xor\"]").contains("required and forbidden at once"));
    assert!(fault(r#"form = [{ output = "z", form = "sop" }]"#).contains("Unknown output `z`; write `y`"));
    assert!(fault(r#"form = [{ output = "y", form = "pso" }]"#).contains("use one of sop, pos"));
    assert!(fault("max_gates = 0").contains("less than one gate"));
}

#[test]
fn rules_that_no_design_can_keep_are_told_to_the_instructor() {
    // y = a & b | ~c: two terms, one of them a single literal, so an AND and an OR at least.
    let told = |rules: &str| exercise(rules).unwrap_err();
    let limit = told("max_gates = 1\n[[rules.form]]\noutput = \"y\"\nform = \"sop\"");
    assert_eq!(
        limit,
        "No design keeps within 1 gates: `y` built as a sum of products (an OR of ANDs) takes at least 2; allow more."
    );
    assert!(exercise("max_gates = 2\n[[rules.form]]\noutput = \"y\"\nform = \"sop\"").is_ok());
    // As a product of sums, (a | ~c)(b | ~c), it takes three.
    assert!(told("max_gates = 2\n[[rules.form]]\noutput = \"y\"\nform = \"pos\"").contains("takes at least 3"));
    assert!(exercise("max_gates = 3\n[[rules.form]]\noutput = \"y\"\nform = \"nor-nor\"").is_ok());
    let form = "[[rules.form]]\noutput = \"y\"\nform = ";
    for (gate, kind) in [("and", "sop"), ("or", "pos"), ("nand", "nand-only"), ("nor", "nor-nor")] {
        let message = told(&format!("forbid = [\"gate:{gate}\"]\n{form}\"{kind}\""));
        assert!(
            message.contains(&format!("without {} gates, which the rules forbid", gate.to_uppercase())),
            "{message}"
        );
    }
    assert!(exercise(&format!("forbid = [\"gate:and\"]\n{form}\"nand-nand\"")).is_ok());
}

#[test]
fn an_output_that_ignores_an_input_is_said_to() {
    let notes = |body: &str| -> Vec<String> {
        let found = judged("", "flap.v", &verilog(body)).findings;
        found.into_iter().filter(|f| f.code == "ignored-input").map(|f| f.message).collect()
    };
    assert_eq!(notes("assign y = 1'b1;"), ["`y` is always 1; the exercise wants it to follow `a`, `b`, `c`."]);
    assert_eq!(notes("assign y = a | ~c;"), ["`y` doesn't depend on `b`, which the exercise wants it to follow."]);
    // What cancels out is no dependence; what is only used wrongly is one.
    assert_eq!(notes("assign y = a & (b | ~b) | ~c;").len(), 1);
    assert!(notes("assign y = a | b | ~c;").is_empty());
}

#[test]
fn literals_and_levels_have_limits_too() {
    let sop = "assign y = a & b | ~c;";
    let deep = "assign y = ~(~(a & b) & c);";
    let long = "assign y = a & b & c | a & b & ~c | ~c;";
    let rule = |rules: &str, body: &str| broken(rules, "flap.v", &verilog(body)).map(|(code, _)| code);
    assert_eq!(rule("max_literals = 3", sop), None);
    assert_eq!(rule("max_literals = 2", sop).as_deref(), Some("too-many-literals"));
    assert_eq!(rule("max_literals = 6", long).as_deref(), Some("too-many-literals"));
    assert_eq!(rule("max_literals = 7", long), None);
    assert_eq!(rule("max_levels = 2", sop), None, "the inverter at the input is no level");
    assert_eq!(rule("max_levels = 1", sop).as_deref(), Some("too-many-levels"));
    assert_eq!(rule("max_levels = 1", deep).as_deref(), Some("too-many-levels"));
    assert_eq!(rule("max_levels = 4", deep), None);
    // What is written as branches is counted as it is built.
    let branches = vhdl(
        "process (all) begin if c = '0' then y <= '1'; elsif a = '1' then y <= b; else y <= '0'; end if; end process;",
    );
    assert_eq!(broken("max_levels = 1", "flap.vhd", &branches).map(|(c, _)| c).as_deref(), Some("too-many-levels"));
    assert_eq!(broken("max_literals = 20", "flap.vhd", &branches), None);
    let told = exercise("max_levels = 2\nmax_literals = 9").unwrap().rule_sentences();
    assert_eq!(
        told,
        ["At most 9 literals.", "At most 2 gates one after the other; inverters at the inputs don't count."]
    );
}
