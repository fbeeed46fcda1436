//! The Names stage: a clear top, and ports as the exercise names them.

use crate::diagnostics as say;
use crate::exercise::ExercisePort;
use crate::languages::{Unit, Units};
use base::Diagnostic;
use design::{Design, Direction};

/// The unit to check: the one asked for; else the only one that nobody instantiates; else, of several, the one whose
/// ports are named as the exercise's.
pub(crate) fn choose_top<'u>(
    units: &'u Units,
    ports: &[ExercisePort],
    asked: Option<&str>,
) -> Result<&'u Unit, Box<Diagnostic>> {
    if let Some(name) = asked {
        return units.modules.iter().find(|m| m.name.name == name).ok_or_else(|| {
            let near = base::nearest(name, units.modules.iter().map(|m| m.name.name.as_str()));
            Box::new(say::unknown_top(name, near))
        });
    }
    let used: Vec<&str> = units.modules.iter().flat_map(Unit::instantiates).map(|i| i.name.as_str()).collect();
    let has_ports = |m: &&Unit| !m.ports().is_empty();
    let tops: Vec<&Unit> =
        units.modules.iter().filter(|m| !used.contains(&m.name.name.as_str())).filter(has_ports).collect();
    // A testbench has no ports and may instantiate the design: then look among all modules with ports.
    let bench_uses: Vec<&str> = units
        .modules
        .iter()
        .filter(|m| m.ports().is_empty())
        .flat_map(Unit::instantiates)
        .map(|i| i.name.as_str())
        .collect();
    let inner: Vec<&str> = units
        .modules
        .iter()
        .filter(|m| !m.ports().is_empty())
        .flat_map(Unit::instantiates)
        .map(|i| i.name.as_str())
        .collect();
    let mut candidates = tops;
    for module in units.modules.iter().filter(has_ports) {
        let name = module.name.name.as_str();
        let only_in_bench = bench_uses.contains(&name) && !inner.contains(&name);
        if only_in_bench && !candidates.iter().any(|c| c.name.name == name) {
            candidates.push(module);
        }
    }
    match candidates.as_slice() {
        [] => units.modules.iter().find(has_ports).ok_or_else(|| Box::new(say::no_top())),
        [only] => Ok(only),
        several => {
            let fits = |m: &&&Unit| {
                let names: Vec<String> = m.ports().into_iter().map(|p| p.name.name).collect();
                ports.iter().all(|p| names.contains(&p.name)) && names.len() == ports.len()
            };
            let fitting: Vec<&&Unit> = several.iter().filter(fits).collect();
            match fitting.as_slice() {
                [only] => Ok(only),
                _ => {
                    let names = several.iter().map(|m| m.name.name.as_str());
                    Err(Box::new(say::no_clear_top(names, several[0].name.span)))
                }
            }
        }
    }
}

/// Holds the top's ports against the exercise's.
pub(crate) fn check_ports(design: &Design, ports: &[ExercisePort]) -> Vec<Diagnostic> {
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
