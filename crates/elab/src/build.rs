//! The one way from sources to a netlist. Each step has a type of its own, so that none can be left out or taken twice:
//! [`Parsed`], then [`Fitted`] (a top with the right ports), then [`Built`]. What is told on the way is kept beside.

use crate::files::Sources;
use crate::languages::{self, Fitting, Unit, Units};
use crate::names;
use base::{Budget, Code, Diagnostic};
use design::{Design, Netlist, Synthesis, Use};

/// What sources are built for.
#[derive(Clone, Copy, Default)]
pub struct Goal<'a> {
    /// Ports that the top has to have, and the parameter that it is elaborated with.
    pub fitting: Fitting<'a>,
    /// The top, when it was chosen.
    pub top: Option<&'a str>,
    /// How the design becomes a netlist.
    pub kind: NetlistKind,
    /// Ports that don't fit end the way; else they are only spelt as the goal has them.
    pub wants_ports: bool,
}

/// How a design becomes a netlist.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum NetlistKind {
    /// Each output a function of inputs and flip-flops; a latch is a fault.
    #[default]
    Plain,
    /// What latches hold is state like that of flip-flops.
    WithLatches,
    /// The nodes of each step kept apart, for a drawing.
    AsWritten,
}

/// The step at which a way to a netlist ended.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Stop {
    /// The sources are not legal.
    Sources,
    /// It is not clear which unit is meant.
    Top,
    /// The unit can't be elaborated.
    Elaboration,
    /// A front end made a design that breaks the representation's own rules: a fault of ours.
    Invalid,
    /// The ports are not those that are asked for.
    Ports,
    /// No netlist can be made of it.
    Structure,
}

/// Sources as trees.
pub struct Parsed<'s> {
    sources: &'s Sources,
    units: Units,
}

/// A design whose ports fit.
#[derive(Clone, Debug)]
pub struct Fitted {
    /// The unit that was elaborated.
    pub unit: Unit,
    /// The design; it keeps the representation's own rules.
    pub design: Design,
    /// What the unit and those below it are written with, in order of their places.
    pub uses: Vec<Use>,
}

/// A design with its netlist.
#[derive(Clone, Debug)]
pub struct Built {
    /// The unit that was elaborated.
    pub unit: Unit,
    /// The design.
    pub design: Design,
    /// What it is made of.
    pub netlist: Netlist,
    /// What the unit and those below it are written with, in order of their places.
    pub uses: Vec<Use>,
}

/// How far a way came: what it was for, or where it ended, and all that was told.
pub struct Way<T> {
    /// What the way was for, or where it ended.
    pub end: Result<T, Stop>,
    /// The unit that was chosen, where it came so far.
    pub unit: Option<Unit>,
    /// The parameter was asked for and the unit has none of its name.
    pub lacks_parameter: bool,
    /// The first register that was made, even where something else stops the way.
    pub register: Option<base::Span>,
    /// All that was found.
    pub told: Vec<Diagnostic>,
}

impl<T> Way<T> {
    /// The first finding that stops.
    pub fn first_stop(&self) -> Option<&Diagnostic> {
        self.told.iter().find(|d| d.stops())
    }

    fn stopped(self, stop: Stop) -> Self {
        Way { end: Err(stop), ..self }
    }
}

impl<'s> Parsed<'s> {
    /// Reads all sources.
    pub fn new(sources: &'s Sources, budget: &mut Budget) -> Self {
        Self { sources, units: languages::parse(&sources.map, sources.data.clone(), budget) }
    }

    /// The sources.
    pub fn sources(&self) -> &'s Sources {
        self.sources
    }

    /// The modules and entities.
    pub fn units(&self) -> &Units {
        &self.units
    }

    /// Chooses the top, elaborates it and holds its ports against the goal's.
    pub fn fit(&self, goal: &Goal<'_>, budget: &mut Budget) -> Way<Fitted> {
        let mut way: Way<Fitted> =
            Way { end: Err(Stop::Sources), unit: None, lacks_parameter: false, register: None, told: Vec::new() };
        let stops = |list: &[Diagnostic]| list.iter().any(Diagnostic::stops);
        let chosen = names::choose_top(&self.units.list(), goal.fitting.ports, goal.top);
        way.told.clone_from(&self.units.diagnostics);
        // What this version doesn't read stops the check only where the design needs it, not in a testbench beside it.
        if let Ok(unit) = &chosen {
            let is_elsewhere = |d: &Diagnostic| d.span.is_some_and(|place| self.units.is_outside(unit, place));
            way.told.retain(|d| !(d.code == Code::NOT_READ_YET && d.stops() && is_elsewhere(d)));
        }
        if stops(&way.told) {
            return way.stopped(Stop::Sources);
        }
        let unit = match chosen {
            Ok(unit) => unit,
            Err(told) => {
                way.told.push(*told);
                return way.stopped(Stop::Top);
            }
        };
        way.unit = Some(unit.clone());
        let has = |name: &str| self.units.parameters(&unit).iter().any(|n| n.eq_ignore_ascii_case(name));
        way.lacks_parameter = goal.fitting.parameter.is_some_and(|p| !has(&p.name));
        let elaborated = languages::elaborate(&self.units, &unit, goal.fitting, budget);
        way.told.extend(elaborated.diagnostics);
        let Some(design) = elaborated.whole else { return way.stopped(Stop::Elaboration) };
        if let Err(invalid) = design::validate(&design) {
            debug_assert!(false, "{}", invalid.message);
            return way.stopped(Stop::Invalid);
        }
        if goal.wants_ports {
            let ports = names::check_ports(&design, goal.fitting.ports);
            let misfit = stops(&ports);
            way.told.extend(ports);
            way.told.extend(names::lint(&design, unit.language));
            if misfit {
                return way.stopped(Stop::Ports);
            }
        }
        let uses = self.units.uses(&unit);
        Way { end: Ok(Fitted { unit, design, uses }), ..way }
    }

    /// The whole way.
    pub fn build(&self, goal: &Goal<'_>, budget: &mut Budget) -> Way<Built> {
        let Way { end, unit, lacks_parameter, mut register, mut told } = self.fit(goal, budget);
        let end = end.and_then(|fitted| {
            let synthesis = synthesise(&fitted.design, goal.kind, budget);
            let stopped = synthesis.diagnostics.iter().any(Diagnostic::stops);
            told.extend(synthesis.diagnostics);
            register = synthesis.netlist.registers.first().map(|r| r.span);
            let Fitted { unit, design, uses } = fitted;
            if stopped { Err(Stop::Structure) } else { Ok(Built { unit, design, netlist: synthesis.netlist, uses }) }
        });
        Way { end, unit, lacks_parameter, register, told }
    }
}

/// A netlist of a design. It uses no stack along chains, so it may go deeper than a parser.
pub fn synthesise(design: &Design, kind: NetlistKind, budget: &Budget) -> Synthesis {
    let deep = &mut budget.clone().with_depth(4_000);
    match kind {
        NetlistKind::Plain => design::synthesise(design, deep),
        NetlistKind::WithLatches => design::synthesise_with_latches(design, deep),
        NetlistKind::AsWritten => design::synthesise_as_written(design, deep),
    }
}
