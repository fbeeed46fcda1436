//! The keys below `[clock]`, `[reset]` and `[behaviour]` as they stand in an exercise file.

use elab::Parameter;
use serde::Deserialize;
use std::collections::BTreeMap;
use toml::Spanned;

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct RawBehaviour {
    pub kind: Spanned<String>,
    #[serde(default)]
    pub outputs: BTreeMap<Spanned<String>, Spanned<toml::Value>>,
    #[serde(default)]
    pub dont_care: BTreeMap<Spanned<String>, Spanned<toml::Value>>,
    pub rows: Option<Spanned<String>>,
    pub files: Option<Spanned<Vec<String>>>,
    pub top: Option<String>,
    pub rule: Option<Spanned<String>>,
    pub text: Option<Spanned<String>>,
    pub active: Option<Spanned<String>>,
    pub digits: Option<Spanned<Vec<String>>>,
    pub output: Option<Spanned<String>>,
    pub patterns: Option<Spanned<Vec<String>>>,
    pub step_cycles: Option<Spanned<u64>>,
    pub repeat: Option<bool>,
    pub period_cycles: Option<Spanned<u64>>,
    pub frequency_hz: Option<Spanned<toml::Value>>,
    pub duty: Option<Spanned<f64>>,
    pub tolerance_cycles: Option<Spanned<u64>>,
    pub initial: Option<Spanned<String>>,
    /// The parameter of the exercise, for a reference; not a key of the table.
    #[serde(skip)]
    pub parameter: Option<Parameter>,
    #[serde(default)]
    pub state: Vec<RawState>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct RawClock {
    pub port: Spanned<String>,
    pub edge: Option<Spanned<String>>,
    pub frequency_hz: Option<Spanned<u64>>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct RawReset {
    pub port: Spanned<String>,
    pub active: Option<Spanned<String>>,
    pub kind: Option<Spanned<String>>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct RawState {
    pub name: Spanned<String>,
    #[serde(default)]
    pub outputs: BTreeMap<Spanned<String>, Spanned<toml::Value>>,
    #[serde(default)]
    pub next: Vec<RawNext>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub struct RawNext {
    pub when: Option<Spanned<String>>,
    pub to: Spanned<String>,
    pub outputs: Option<BTreeMap<Spanned<String>, Spanned<toml::Value>>>,
}
