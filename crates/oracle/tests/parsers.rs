//! Our parsers against mature ones (sv-parser for IEEE 1800, vhdl_lang for IEEE 1076-2008): what we accept of the corpus
//! they accept, and what they accept we don't call ill-formed.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::{Budget, SourceFile, SourceMap};
use std::collections::HashMap;

/// The folder of a language crate beside this one.
fn home(language: &str) -> String {
    format!("{}/../{language}", env!("CARGO_MANIFEST_DIR"))
}

/// They recurse deeply: a stack of their own.
fn on_big_stack(work: impl FnOnce() + Send + 'static) {
    std::thread::Builder::new().stack_size(256 << 20).spawn(work).unwrap().join().unwrap();
}

fn sv_accepts(text: &str) -> bool {
    let defines: HashMap<String, Option<sv_parser::Define>> = HashMap::new();
    let no_paths: [&str; 0] = [];
    sv_parser::parse_sv_str(text, "m.sv", &defines, &no_paths, false, false).is_ok()
}

fn vhdl_accepts(text: &str) -> bool {
    let parser = vhdl_lang::VHDLParser::new(vhdl_lang::VHDLStandard::VHDL2008);
    let source = vhdl_lang::Source::inline(std::path::Path::new("m.vhd"), text);
    let mut found: Vec<vhdl_lang::Diagnostic> = Vec::new();
    let _ = parser.parse_design_source(&source, &mut found);
    found.is_empty()
}

/// Codes of faults of form, which a parser alone sees; the others need the meaning of names.
const FORM: [&str; 22] = [
    "missing-semicolon",
    "missing-word",
    "missing-comma",
    "missing-endmodule",
    "unexpected",
    "unclosed",
    "stray-end",
    "keyword-as-name",
    "bad-name",
    "foreign-operator",
    "misspelt-word",
    "else-if",
    "outside-module",
    "separator-after-last-port",
    "semicolon-between-ports",
    "comma-between-ports",
    "equality-as-assignment",
    "assignment-as-equality",
    "statement-outside-block",
    "instance-in-block",
    "unclosed-string",
    "unclosed-comment",
];

fn our_faults(language: &str, text: &str) -> Vec<&'static str> {
    let file = SourceFile::new("m", text);
    let id = SourceMap::new().id_at(0);
    let mut budget = Budget::hand_in();
    let diagnostics = match language {
        "verilog" => verilog::parse(id, &file, &mut budget).diagnostics,
        _ => vhdl::parse(id, &file, &mut budget).diagnostics,
    };
    diagnostics.iter().filter(|d| d.stops()).map(|d| d.code.key()).collect()
}

fn compare(language: &'static str, accepts: fn(&str) -> bool) {
    let mut wrong = Vec::new();
    for (name, text) in corpus::files(&home(language), "ok") {
        assert!(our_faults(language, &text).is_empty(), "{name}");
        if !accepts(&text) {
            wrong.push(format!("{name}: accepted by us only"));
        }
    }
    let mut of_form = 0;
    for (name, text) in corpus::files(&home(language), "err") {
        let faults = our_faults(language, &text);
        if faults.iter().any(|code| FORM.contains(code)) {
            of_form += 1;
            if accepts(&text) {
                wrong.push(format!("{name}: refused by us only, as {faults:?}"));
            }
        }
    }
    assert!(of_form >= 8, "{of_form}");
    assert_eq!(wrong, Vec::<String>::new(), "{language}");
}

#[test]
fn verilog_is_accepted_and_refused_as_another_parser_does() {
    on_big_stack(|| compare("verilog", sv_accepts));
}

#[test]
fn vhdl_is_accepted_and_refused_as_another_parser_does() {
    on_big_stack(|| compare("vhdl", vhdl_accepts));
}
