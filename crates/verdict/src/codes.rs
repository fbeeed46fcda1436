//! The list of finding codes with their meaning and examples: one table for the documentation, the help page and the
//! tests.

use serde::{Deserialize, Serialize};
use std::fmt::Write as _;
use std::sync::OnceLock;

/// A wrong piece of text and the same put right.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct CodeExample {
    /// `verilog`, `vhdl`, or `text` for anything else.
    pub language: String,
    /// The exercise's `[rules]` that the example is about.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "wire", schema(nullable = false))]
    pub rules: Option<String>,
    /// What gives the finding.
    pub wrong: String,
    /// What doesn't.
    pub right: String,
}

/// A finding code.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
pub struct CodeEntry {
    /// In kebab-case; stable.
    pub code: String,
    /// `names`, `language`, `structure`, `behaviour`, `wiring` or `answers`.
    pub stage: String,
    /// `stop`, `marks`, `note`, or how it varies.
    pub severity: String,
    /// What it means, in one sentence.
    pub means: String,
    /// At least one.
    pub example: Vec<CodeExample>,
}

#[derive(Deserialize)]
struct Table {
    code: Vec<CodeEntry>,
}

/// All codes, by stage. The examples in Verilog and VHDL are hand-ins to an exercise with the inputs `a` and `b` and
/// the output `y = a & b`.
pub fn finding_codes() -> &'static [CodeEntry] {
    static CODES: OnceLock<Vec<CodeEntry>> = OnceLock::new();
    CODES.get_or_init(|| {
        let mut table: Table = toml::from_str(include_str!("../codes.toml")).unwrap_or(Table { code: Vec::new() });
        for example in table.code.iter_mut().flat_map(|c| &mut c.example) {
            for text in [&mut example.wrong, &mut example.right] {
                if example.language == "text" {
                    *text = text.trim_end().to_owned();
                }
            }
        }
        table.code
    })
}

/// The list as a page of Markdown, which `docs/findings.md` is.
pub fn finding_codes_page() -> String {
    let mut page = String::from(
        "# Findings\n\nEvery finding of a check by its code. Codes are stable. *stop* stops the check, *marks* costs \
         marks, *note* is worth\nknowing. Each finding says what to do. The application shows this list with a wrong \
         and a right example of each under\nHelp. Written by `cargo xtask findings` from `crates/verdict/codes.toml`.\n",
    );
    let titles = [
        ("names", "Names (files, top, ports)"),
        ("language", "Language"),
        ("structure", "Structure"),
        ("behaviour", "Behaviour"),
        ("wiring", "Wiring and Bench"),
        ("answers", "Prepared answers"),
    ];
    for (stage, title) in titles {
        let _ = write!(page, "\n## {title}\n\n| code | severity | what it means |\n|---|---|---|\n");
        for entry in finding_codes().iter().filter(|c| c.stage == stage) {
            let _ = writeln!(page, "| `{}` | {} | {} |", entry.code, entry.severity, entry.means);
        }
    }
    page
}
