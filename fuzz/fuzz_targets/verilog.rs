//! Any bytes as a Verilog file: reading, elaborating and synthesising ends within its budget, without a panic.
#![no_main]

use base::{Budget, Diagnostic, SourceFile, SourceMap};

libfuzzer_sys::fuzz_target!(|data: &[u8]| {
    let Ok(file) = SourceFile::decode("m.v", data) else { return };
    let id = SourceMap::new().id_at(0);
    let mut budget = Budget::hand_in().with_steps(2_000_000);
    let parsed = verilog::parse(id, &file, &mut budget);
    if parsed.diagnostics.iter().any(Diagnostic::stops) {
        return;
    }
    let modules: Vec<&verilog::Module> = parsed.modules.iter().collect();
    for top in modules.iter().take(3) {
        let elaborated = verilog::elaborate(&modules, top, &mut budget);
        if let Some(design) = elaborated.whole {
            design::validate(&design).expect("what elaboration gives is valid");
            design::synthesise(&design, &mut budget);
        }
    }
});
