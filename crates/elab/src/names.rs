//! The Names stage: a clear top, and ports as the exercise names them.

use crate::diagnostics as say;
use crate::languages::{Language, Unit};
use crate::port::ExercisePort;
use base::Diagnostic;
use design::{Design, Direction};
use std::collections::BTreeMap;

/// The unit to check: the one asked for; else the only one that nobody instantiates; else, of several, the one whose
/// ports are named as the exercise's.
pub fn choose_top(units: &[Unit], ports: &[ExercisePort], asked: Option<&str>) -> Result<Unit, Box<Diagnostic>> {
    if let Some(name) = asked {
        return units.iter().find(|u| u.is_called(name)).cloned().ok_or_else(|| {
            let near = base::nearest(name, units.iter().map(|u| u.name.as_str()));
            Box::new(say::unknown_top(name, near))
        });
    }
    let uses = |by: &dyn Fn(&&Unit) -> bool, unit: &Unit| {
        units.iter().filter(by).any(|other| {
            let free = other.language.front_end().ignores_case();
            let named = |name: &String| unit.is_called(name) || free && unit.name.eq_ignore_ascii_case(name);
            other.instantiates.iter().any(named)
        })
    };
    let has_ports = |u: &&Unit| !u.ports.is_empty();
    let mut candidates: Vec<&Unit> = units.iter().filter(has_ports).filter(|u| !uses(&|_| true, u)).collect();
    // A testbench has no ports and may instantiate the design: what only a testbench uses may be the design.
    for unit in units.iter().filter(has_ports) {
        let only_in_bench = uses(&|u| u.ports.is_empty(), unit) && !uses(&|u| !u.ports.is_empty(), unit);
        if only_in_bench && !candidates.contains(&unit) {
            candidates.push(unit);
        }
    }
    match candidates.as_slice() {
        // Without an exercise a testbench may be what is looked at.
        [] if ports.is_empty() && !units.iter().any(|u| has_ports(&u)) => {
            let free = units.iter().find(|u| !uses(&|_| true, u)).or(units.first());
            free.cloned().ok_or_else(|| Box::new(say::no_top()))
        }
        [] => units.iter().find(has_ports).cloned().ok_or_else(|| Box::new(say::no_top())),
        [only] => Ok((*only).clone()),
        several => {
            let named = |u: &Unit| {
                let same = |name: &str, port: &ExercisePort| u.language.is_same(&port.name, name);
                ports.iter().filter(|p| u.ports.iter().any(|name| same(name, p))).count()
            };
            let fits = |u: &&&Unit| named(u) == ports.len() && u.ports.len() == ports.len();
            let fitting: Vec<&&Unit> = several.iter().filter(fits).collect();
            // A slip in one port's name must not hide which one was meant.
            let most = several.iter().map(|u| named(u)).max().unwrap_or(0);
            let closest: Vec<&&Unit> = several.iter().filter(|u| named(u) == most).collect();
            match (fitting.as_slice(), closest.as_slice()) {
                ([only], _) => Ok((**only).clone()),
                ([], [only]) if 2 * most >= ports.len() && most > 0 => Ok((**only).clone()),
                _ => {
                    let names = several.iter().map(|u| u.name.as_str());
                    Err(Box::new(say::no_clear_top(names, several[0].span)))
                }
            }
        }
    }
}

/// Names that trip people: ports that are words of the other language, signals that differ by capitals only.
pub fn lint(design: &Design, language: Language) -> Vec<Diagnostic> {
    let mut found = Vec::new();
    for port in &design.scopes[design.top].ports {
        let name = &design.signals[port.signal].name;
        // Where capitals make no other name, the words of the other language are met in small letters.
        let word = if language.front_end().ignores_case() { name.to_ascii_lowercase() } else { name.clone() };
        if let Some(other) = Language::ALL.into_iter().find(|l| *l != language && l.is_reserved(&word)) {
            found.push(say::reserved_elsewhere(name, other.name(), port.span));
        }
    }
    let mut seen: BTreeMap<(design::ScopeId, String), &design::Signal> = BTreeMap::new();
    for (_, signal) in design.signals.iter() {
        let key = (signal.scope, signal.name.to_ascii_lowercase());
        match seen.get(&key) {
            Some(first) if first.name != signal.name => {
                found.push(say::similar_names(&first.name, &signal.name, first.span, signal.span));
            }
            Some(_) => {}
            None => {
                seen.insert(key, signal);
            }
        }
    }
    found
}

/// Holds the top's ports against the exercise's.
pub fn check_ports(design: &Design, ports: &[ExercisePort]) -> Vec<Diagnostic> {
    let top = &design.scopes[design.top];
    let mut found = Vec::new();
    let given: Vec<&str> = top.ports.iter().map(|p| design.signals[p.signal].name.as_str()).collect();
    let free = |name: &&str| !ports.iter().any(|p| p.name == **name);
    for port in ports {
        let Some(mine) = top.ports.iter().find(|p| design.signals[p.signal].name == port.name) else {
            let spare: Vec<&str> = given.iter().copied().filter(free).collect();
            let near = base::nearest(&port.name, spare.iter().copied());
            let at = near
                .and_then(|n| top.ports.iter().find(|p| design.signals[p.signal].name == n))
                .map_or(top.span, |p| p.span);
            found.push(say::missing_port(port, near, at));
            continue;
        };
        let wanted = if port.is_input { Direction::In } else { Direction::Out };
        if mine.direction != wanted {
            found.push(say::port_direction(&port.name, mine.direction.word(), wanted.word(), mine.span));
            continue;
        }
        let shape = design.signal_shape(mine.signal);
        if shape.width() != port.shape.width() {
            found.push(say::port_range(&port.name, shape.width(), port.shape, mine.span));
        } else if shape.range().zip(port.shape.range()).is_some_and(|((a, b), (c, d))| (a > b) != (c > d) && a != b) {
            found.push(say::port_order(&port.name, shape, port.shape, mine.span));
        }
    }
    for port in &top.ports {
        let name = &design.signals[port.signal].name;
        let is_meant = ports.iter().any(|p| {
            p.name == *name || (!given.contains(&p.name.as_str()) && base::nearest(&p.name, [name.as_str()]).is_some())
        });
        if !is_meant {
            found.push(say::extra_port(name, port.direction, port.span));
        }
    }
    found
}
