//! Levels that a design gives, and what a lamp shows of them.

/// What an output of the design gives.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum OutputLevel {
    /// Low.
    Zero,
    /// High.
    One,
    /// Neither, or it is not known which.
    Unknown,
    /// Two outputs pull different ways.
    Conflict,
}

impl OutputLevel {
    /// The level of a wire that two outputs drive.
    pub fn joined(self, other: Option<OutputLevel>) -> OutputLevel {
        if other.is_none_or(|other| other == self) { self } else { OutputLevel::Conflict }
    }
}

impl From<bool> for OutputLevel {
    fn from(level: bool) -> Self {
        if level { OutputLevel::One } else { OutputLevel::Zero }
    }
}

/// What a lamp shows.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
pub enum Lamp {
    /// Lit.
    Lit,
    /// Dark.
    Dark,
    /// Its level is not known.
    Unknown,
    /// Two outputs pull it different ways.
    Conflict,
}
