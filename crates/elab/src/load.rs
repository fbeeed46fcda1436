//! Files read and elaborated without an exercise: the top with its ports, or what stands in the way.

use crate::build::{Goal, Parsed};
use crate::files::{HandInFile, Sources};
use crate::languages::{self, Fitting, Unit};
use crate::parameter::Parameter;
use crate::port::ExercisePort;
use crate::unusable::Unusable;
use base::{Budget, Diagnostic, SourceFile, SourceMap};
use design::{Design, Direction};

/// The ports of an elaborated top.
pub fn ports_of(design: &Design) -> Vec<ExercisePort> {
    let port = |p: &design::Port| ExercisePort {
        name: design.signals[p.signal].name.clone(),
        is_input: p.direction == Direction::In,
        shape: design.signal_shape(p.signal),
    };
    design.scopes[design.top].ports.iter().map(port).collect()
}

/// A design read and elaborated without an exercise.
pub struct Loaded {
    /// The sources, for places.
    pub sources: SourceMap,
    /// Modules and entities in the order of the files.
    pub units: Vec<Unit>,
    /// The unit that is looked at, where it is clear which.
    pub top: Option<Unit>,
    /// The design; `None` where something stops it.
    pub design: Option<Design>,
    /// What is wrong with the files.
    pub diagnostics: Vec<Diagnostic>,
    /// The parameter that it was elaborated for, where the top has it.
    pub parameter: Option<Parameter>,
}

/// Reads files and elaborates the top, chosen or found.
///
/// # Errors
/// When nothing can be read of a file.
pub fn load(files: &[HandInFile], top: Option<&str>, budget: &mut Budget) -> Result<Loaded, Unusable> {
    load_with(files, top, None, budget)
}

/// The same with a value for a parameter of the top, if it has that.
///
/// # Errors
/// The same.
pub fn load_with(
    files: &[HandInFile],
    top: Option<&str>,
    parameter: Option<&Parameter>,
    budget: &mut Budget,
) -> Result<Loaded, Unusable> {
    let mut sources = SourceMap::new();
    let mut data = std::collections::BTreeMap::new();
    for file in files {
        if languages::is_data(&file.name) {
            data.insert(languages::bare_name(&file.name), String::from_utf8_lossy(&file.bytes).into_owned());
            continue;
        }
        if languages::language(&file.name).is_none() {
            return Err(Unusable::Ending(file.name.clone()));
        }
        let source = SourceFile::decode(&file.name, &file.bytes).map_err(|_| Unusable::NotText(file.name.clone()))?;
        sources.add(source);
    }
    if sources.files().next().is_none() {
        return Err(Unusable::NoDesign);
    }
    let sources = Sources { map: sources, data };
    let parsed = Parsed::new(&sources, budget);
    let fitting = |parameter| Goal { fitting: Fitting { ports: &[], parameter }, top, ..Goal::default() };
    let mut way = parsed.fit(&fitting(parameter), budget);
    let parameter = parameter.filter(|_| !way.lacks_parameter);
    if way.lacks_parameter {
        way = parsed.fit(&fitting(None), budget);
    }
    let units = parsed.units().list();
    let design = way.end.ok().map(|fitted| fitted.design);
    let parameter = parameter.filter(|_| way.unit.is_some()).cloned();
    Ok(Loaded { units, top: way.unit, design, diagnostics: way.told, parameter, sources: sources.map })
}
