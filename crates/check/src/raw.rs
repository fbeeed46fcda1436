//! The keys below `[clock]`, `[reset]` and `[behaviour]` as they stand in an exercise file.

use elab::Parameter;
use serde::Deserialize;
use std::collections::BTreeMap;
use toml::Spanned;

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub(crate) struct RawBehaviour {
    pub(crate) kind: Spanned<String>,
    #[serde(default)]
    pub(crate) outputs: BTreeMap<Spanned<String>, Spanned<toml::Value>>,
    #[serde(default)]
    pub(crate) dont_care: BTreeMap<Spanned<String>, Spanned<toml::Value>>,
    pub(crate) rows: Option<Spanned<String>>,
    pub(crate) files: Option<Spanned<Vec<String>>>,
    pub(crate) top: Option<String>,
    pub(crate) rule: Option<Spanned<String>>,
    pub(crate) text: Option<Spanned<String>>,
    pub(crate) active: Option<Spanned<String>>,
    pub(crate) digits: Option<Spanned<Vec<String>>>,
    pub(crate) output: Option<Spanned<String>>,
    pub(crate) patterns: Option<Spanned<Vec<String>>>,
    pub(crate) step_cycles: Option<Spanned<u64>>,
    pub(crate) repeat: Option<bool>,
    pub(crate) period_cycles: Option<Spanned<u64>>,
    pub(crate) frequency_hz: Option<Spanned<toml::Value>>,
    pub(crate) duty: Option<Spanned<f64>>,
    pub(crate) tolerance_cycles: Option<Spanned<u64>>,
    pub(crate) initial: Option<Spanned<String>>,
    /// The parameter of the exercise, for a reference; not a key of the table.
    #[serde(skip)]
    pub(crate) parameter: Option<Parameter>,
    #[serde(default)]
    pub(crate) state: Vec<RawState>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub(crate) struct RawClock {
    pub(crate) port: Spanned<String>,
    pub(crate) edge: Option<Spanned<String>>,
    pub(crate) frequency_hz: Option<Spanned<u64>>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub(crate) struct RawReset {
    pub(crate) port: Spanned<String>,
    pub(crate) active: Option<Spanned<String>>,
    pub(crate) kind: Option<Spanned<String>>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub(crate) struct RawState {
    pub(crate) name: Spanned<String>,
    #[serde(default)]
    pub(crate) outputs: BTreeMap<Spanned<String>, Spanned<toml::Value>>,
    #[serde(default)]
    pub(crate) next: Vec<RawNext>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub(crate) struct RawNext {
    pub(crate) when: Option<Spanned<String>>,
    pub(crate) to: Spanned<String>,
    pub(crate) outputs: Option<BTreeMap<Spanned<String>, Spanned<toml::Value>>>,
}
