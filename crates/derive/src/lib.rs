//! What is worked out from an expected table: tables, maps and forms with their steps, covers, and the same as design files.

mod cover;
mod derivation;
mod exports;

pub use cover::{CoverTerm, cover_terms};
pub use derivation::{
    CanonicalText, ChartStepInfo, CostInfo, CoverInfo, Derivation, DeriveOptions, DerivedOutput, ExclusiveForm,
    FormNode, GroupedCubeInfo, HazardInfo, OnesGroupInfo, PackageInfo, PrimeInfo, SharedInfo, SharedTermInfo,
    StepsInfo, TwoLevel, derive,
};
pub use exports::{ExportText, exports, unit_name};
