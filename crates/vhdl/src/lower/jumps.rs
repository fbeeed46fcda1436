//! Jumps out of loops whose turns are written one after the other.

use design::{Stmt, StmtKind};

/// `exit` and `next` of an unrolled loop: they leave the block of all turns, or of this one.
pub(super) fn rename_jumps(list: Vec<Stmt>, label: Option<&str>, name: &str) -> Vec<Stmt> {
    let mine = |l: &Option<String>| l.is_none() || l.as_deref() == label && label.is_some();
    list.into_iter()
        .map(|stmt| {
            let kind = match stmt.kind {
                StmtKind::Exit(l) if mine(&l) => StmtKind::Exit(Some(name.to_owned())),
                StmtKind::Next(l) if mine(&l) => StmtKind::Exit(Some(format!("{name} turn"))),
                StmtKind::If { condition, then, otherwise } => StmtKind::If {
                    condition,
                    then: rename_jumps(then, label, name),
                    otherwise: otherwise.map(|o| rename_jumps(o, label, name)),
                },
                StmtKind::Case { matching, subject, arms, default } => StmtKind::Case {
                    matching,
                    subject,
                    arms: arms
                        .into_iter()
                        .map(|a| design::Arm { body: rename_jumps(a.body, label, name), ..a })
                        .collect(),
                    default: default.map(|d| rename_jumps(d, label, name)),
                },
                // Jumps without a label in an inner loop are that loop's; those of inner blocks have theirs already.
                StmtKind::Loop { kind, body, step, label: inner } => {
                    StmtKind::Loop { kind, body: rename_named(body, label, name), step, label: inner }
                }
                StmtKind::Block { label: inner, body } => {
                    StmtKind::Block { label: inner, body: rename_named(body, label, name) }
                }
                other => other,
            };
            Stmt { kind, ..stmt }
        })
        .collect()
}

/// The same for jumps that name the loop only, however deep they stand.
pub(super) fn rename_named(list: Vec<Stmt>, label: Option<&str>, name: &str) -> Vec<Stmt> {
    let Some(own) = label else { return list };
    let inner = |list: Vec<Stmt>| rename_named(list, label, name);
    list.into_iter()
        .map(|stmt| {
            let kind = match stmt.kind {
                StmtKind::Exit(Some(l)) if l == own => StmtKind::Exit(Some(name.to_owned())),
                StmtKind::Next(Some(l)) if l == own => StmtKind::Exit(Some(format!("{name} turn"))),
                StmtKind::If { condition, then, otherwise } => {
                    StmtKind::If { condition, then: inner(then), otherwise: otherwise.map(inner) }
                }
                StmtKind::Case { matching, subject, arms, default } => StmtKind::Case {
                    matching,
                    subject,
                    arms: arms.into_iter().map(|a| design::Arm { body: inner(a.body), ..a }).collect(),
                    default: default.map(inner),
                },
                StmtKind::Block { label, body } => StmtKind::Block { label, body: inner(body) },
                StmtKind::Loop { kind, body, step, label } => StmtKind::Loop { kind, body: inner(body), step, label },
                other => other,
            };
            Stmt { kind, ..stmt }
        })
        .collect()
}
