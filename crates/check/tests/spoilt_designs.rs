//! Designs of the examples, spoilt at random in what a front end could get wrong: where `validate` finds nothing, simulator,
//! synthesis, gates and netlist run without a panic.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::{Budget, Id, Random};
use design::{
    Design, Event, ExprId, ExprKind, ScopeId, Sensitivity, SignalId, Stmt, StmtKind, Storage, SystemFunction, TypeId,
    VariableId,
};
use elab::HandInFile;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::path::Path;

/// Designs with their testbenches, so that the simulator has something to do.
fn designs() -> Vec<(String, Design)> {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let mut list = Vec::new();
    for language in ["verilog", "vhdl"] {
        let folder = root.join("crates").join(language).join("corpus/ok");
        let mut paths: Vec<_> = std::fs::read_dir(folder).unwrap().flatten().map(|e| e.path()).collect();
        paths.sort();
        for path in paths {
            let name = path.file_name().unwrap().to_string_lossy().into_owned();
            if !["v", "sv", "vhd"].iter().any(|e| path.extension().is_some_and(|x| x == *e)) {
                continue;
            }
            let file = HandInFile { name: name.clone(), bytes: std::fs::read(&path).unwrap() };
            let Ok(loaded) = elab::load(&[file], None, &mut Budget::hand_in()) else { continue };
            if let Some(design) = loaded.design.filter(|d| d.exprs.len() < 2_000) {
                assert_eq!(design::validate(&design), Ok(()), "{name}");
                list.push((name, design));
            }
        }
    }
    list
}

/// Another id of the same kind, one behind the last among them.
fn other<I: Id>(random: &mut Random, len: usize) -> I {
    I::from_index(random.below(len + 1))
}

fn spoil_width(random: &mut Random, width: &mut u32) {
    *width = match random.below(6) {
        0 => 0,
        1 => width.saturating_sub(1),
        2 => width.saturating_add(1),
        3 => 1,
        4 => u32::MAX,
        _ => width.saturating_mul(2),
    };
}

/// Spoils one thing of the design.
fn spoil(random: &mut Random, design: &mut Design) {
    let (exprs, signals, variables) = (design.exprs.len(), design.signals.len(), design.variables.len());
    match random.below(8) {
        0 if exprs > 0 => {
            let at = ExprId::from_index(random.below(exprs));
            spoil_width(random, &mut design.exprs[at].width);
        }
        1..=3 if exprs > 0 => {
            let at = ExprId::from_index(random.below(exprs));
            spoil_expression(random, &mut design.exprs[at].kind, (exprs, signals, variables));
        }
        4 if signals > 0 => {
            let at = SignalId::from_index(random.below(signals));
            design.signals[at].ty = other::<TypeId>(random, design.types.len());
        }
        5 if variables > 0 => {
            let at = VariableId::from_index(random.below(variables));
            design.variables[at].ty = other::<TypeId>(random, design.types.len());
        }
        _ => {
            let ids: Vec<_> = design.processes.ids().collect();
            let Some(id) = ids.get(random.below(ids.len().max(1))) else { return };
            let scopes = design.scopes.len();
            let process = &mut design.processes[*id];
            match random.below(5) {
                0 => process.scope = other::<ScopeId>(random, scopes),
                1 => {
                    let event = Event { edge: design::Edge::Rising, expr: other(random, exprs) };
                    process.sensitivity = Sensitivity::Events(vec![event]);
                }
                _ => spoil_statements(random, &mut process.body, (exprs, signals, variables)),
            }
        }
    }
}

fn spoil_expression(random: &mut Random, kind: &mut ExprKind, (exprs, signals, variables): (usize, usize, usize)) {
    let any = |random: &mut Random| other::<ExprId>(random, exprs);
    match kind {
        ExprKind::Signal(s) => *s = other(random, signals),
        ExprKind::Variable(v) => *v = other(random, variables),
        ExprKind::Slice { base, low } => {
            if random.below(2) == 0 {
                *base = any(random);
            } else {
                spoil_width(random, low);
            }
        }
        ExprKind::Element { base, index, stride } => match random.below(3) {
            0 => *base = any(random),
            1 => *index = any(random),
            _ => spoil_width(random, stride),
        },
        ExprKind::Unary(_, a) | ExprKind::Resize { value: a, .. } | ExprKind::Checked { value: a, .. } => {
            *a = any(random)
        }
        ExprKind::Binary { left, right, .. } => *if random.below(2) == 0 { left } else { right } = any(random),
        ExprKind::Select { condition, then, otherwise, .. } => match random.below(3) {
            0 => *condition = any(random),
            1 => *then = any(random),
            _ => *otherwise = any(random),
        },
        ExprKind::Concat(list)
        | ExprKind::Call { arguments: list, .. }
        | ExprKind::Real { operands: list, .. }
        | ExprKind::Text { operands: list, .. } => {
            if random.below(3) == 0 {
                list.pop();
            } else if let Some(last) = list.last_mut() {
                *last = any(random);
            }
        }
        ExprKind::System(function) => match function {
            SystemFunction::Rising(s, bit) | SystemFunction::Falling(s, bit) | SystemFunction::Reached(s, bit, _) => {
                if random.below(2) == 0 {
                    *s = other(random, signals);
                } else {
                    spoil_width(random, bit);
                }
            }
            SystemFunction::Changed(s) | SystemFunction::LastValue(s) | SystemFunction::Active(s) => {
                *s = other(random, signals)
            }
            _ => {}
        },
        _ => {}
    }
}

fn spoil_statements(random: &mut Random, body: &mut [Stmt], sizes: (usize, usize, usize)) {
    let (exprs, signals, variables) = sizes;
    let count = body.len();
    let Some(stmt) = body.get_mut(random.below(count.max(1))) else { return };
    match &mut stmt.kind {
        StmtKind::Assign { targets, value, delay, .. } => match (random.below(5), targets.first_mut()) {
            (0, Some(target)) => target.storage = Storage::Signal(other(random, signals)),
            (1, Some(target)) => target.storage = Storage::Variable(other(random, variables)),
            (2, Some(target)) => spoil_width(random, &mut target.low),
            (3, Some(target)) => spoil_width(random, &mut target.width),
            _ => match delay {
                Some(delay) if random.below(2) == 0 => delay.amount = other(random, exprs),
                _ => *value = other(random, exprs),
            },
        },
        StmtKind::If { condition, then, otherwise } => match random.below(3) {
            0 => *condition = other(random, exprs),
            1 => spoil_statements(random, then, sizes),
            _ => spoil_statements(random, otherwise.as_deref_mut().unwrap_or_default(), sizes),
        },
        StmtKind::Case { subject, arms, default, .. } => match random.below(4) {
            0 => *subject = other(random, exprs),
            1 => spoil_statements(random, default.as_deref_mut().unwrap_or_default(), sizes),
            2 => {
                if let Some(choice) = arms.first_mut().and_then(|a| a.choices.first_mut()) {
                    *choice = other(random, exprs);
                }
            }
            _ => {
                if let Some(arm) = arms.last_mut() {
                    spoil_statements(random, &mut arm.body, sizes);
                }
            }
        },
        StmtKind::Loop { kind, body, .. } => match kind {
            design::LoopKind::While(e) | design::LoopKind::Repeat(e) if random.below(2) == 0 => {
                *e = other(random, exprs)
            }
            _ => spoil_statements(random, body, sizes),
        },
        StmtKind::Block { body, .. } => spoil_statements(random, body, sizes),
        StmtKind::Wait(kind) => match kind {
            design::WaitKind::For(e) | design::WaitKind::Until(e) => *e = other(random, exprs),
            design::WaitKind::On(events) => events.iter_mut().for_each(|e| e.expr = other(random, exprs)),
            _ => {}
        },
        StmtKind::Exit(label) | StmtKind::Next(label) => *label = Some("nowhere".into()),
        StmtKind::Call { arguments, .. } => {
            arguments.pop();
        }
        StmtKind::Assert { condition, .. } => *condition = other(random, exprs),
        _ => {}
    }
}

/// Everything that takes a design which was found valid.
fn runs(design: &Design) {
    let mut budget = Budget::of_steps(200_000);
    let made = design::synthesise(design, &mut budget);
    let _ = design::synthesise_with_latches(design, &mut Budget::of_steps(200_000));
    let _ = design::gates(design, &mut Budget::of_steps(200_000));
    let options = sim::SimOptions { steps: 20_000, ..sim::SimOptions::default() };
    let _ = sim::simulate(design, &options);
    drop(made);
}

#[test]
fn what_is_found_valid_makes_nothing_panic() {
    let designs = designs();
    assert!(designs.len() > 40, "{} designs", designs.len());
    let rounds = std::env::var("ZESTY_ROUNDS").ok().and_then(|r| r.parse().ok()).unwrap_or(60u64);
    std::panic::set_hook(Box::new(|_| {}));
    let (mut valid, mut refused, mut faults) = (0u64, 0u64, Vec::new());
    for (k, (name, design)) in designs.iter().enumerate() {
        for round in 0..rounds {
            let mut random = Random::new(k as u64 * 1_000 + round);
            let mut spoilt = design.clone();
            for _ in 0..=random.below(2) {
                spoil(&mut random, &mut spoilt);
            }
            let found = catch_unwind(AssertUnwindSafe(|| design::validate(&spoilt)));
            match found {
                Ok(Err(_)) => refused += 1,
                Ok(Ok(())) => {
                    valid += 1;
                    if let Err(panic) = catch_unwind(AssertUnwindSafe(|| runs(&spoilt))) {
                        let said = panic.downcast_ref::<String>().cloned();
                        let said = said.or_else(|| panic.downcast_ref::<&str>().map(|s| (*s).to_owned()));
                        faults.push(format!("{name} round {round}: {}", said.unwrap_or_default()));
                    }
                }
                Err(_) => faults.push(format!("{name} round {round}: validate itself")),
            }
        }
    }
    let _ = std::panic::take_hook();
    assert!(
        faults.is_empty(),
        "{} of {valid} valid ones:\n{}",
        faults.len(),
        faults[..faults.len().min(30)].join("\n")
    );
    assert!(refused > 500 && valid > 500, "{refused} refused, {valid} valid");
}
