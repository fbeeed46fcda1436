//! The scratch pad.

use super::exercises::Column;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

wire! {
    /// A file of the scratch pad.
    struct PadFile {
        /// Its name with its ending.
        name: String,
        /// Its text.
        text: String,
    }

    /// What the scratch pad asks to be checked.
    struct TryRequest {
        /// The files.
        files: Vec<PadFile>,
        /// The top, when it was chosen.
        top: Option<String>,
        /// The wiring file, where the design is wired.
        #[serde(default)]
        wiring: Option<PadFile>,
        /// Prepared answers, as TOML; they are read, not judged.
        #[serde(default)]
        answers: Option<String>,
    }

    /// What the scratch pad shows.
    struct TryView {
        /// The sentence that matters most.
        headline: String,
        /// The verdict; nothing of it is kept.
        verdict: verdict::Verdict,
        /// What the design does on every row, when it could be run.
        actual: Vec<Column>,
    }
}
