//! Functions and tasks: their interfaces, their bodies, what they call.

use super::symbols::{Names, Symbol};
use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{DeclaredName, Item, PortDirection, Routine};
use base::Exhausted;
use design::{Direction, Subprogram, SubprogramId};
use front::Lower;
use logic::LogicVector;

impl<'a> Lowering<'a, '_> {
    pub(super) fn declare_routine(&mut self, context: &mut Context<'a>, routine: &'a Routine) -> Result<(), Exhausted> {
        self.budget.spend(1)?;
        if let Some(first) = context.symbols.here(&routine.name.name) {
            if matches!(first, Symbol::Routine { routine: known, .. } if std::ptr::eq(*known, routine)) {
                return Ok(());
            }
            let first = first.span();
            self.report(say::duplicate(&routine.name.name, first, routine.name.span));
            return Ok(());
        }
        let id = self.design.subprograms.push(Subprogram {
            name: routine.name.name.clone(),
            parameters: Vec::new(),
            result: None,
            body: Vec::new(),
            span: routine.span,
        });
        context.symbols.insert(&routine.name.name, Symbol::Routine { id, routine });
        Ok(())
    }

    /// Bodies of functions and tasks, once all names of the module are known.
    pub(super) fn routines(&mut self, context: &mut Context<'a>, items: &'a [Item]) -> Result<(), Exhausted> {
        let declared: Vec<(SubprogramId, &'a Routine)> = items
            .iter()
            .filter_map(|item| match item {
                Item::Routine(r) if self.lowered.contains(&(context.scope, r.name.span)) => None,
                Item::Routine(r) => match context.symbols.here(&r.name.name) {
                    Some(Symbol::Routine { id, routine }) if std::ptr::eq(*routine, r) => Some((*id, r)),
                    _ => None,
                },
                _ => None,
            })
            .collect();
        // Interfaces first, so that bodies can call each other.
        let mut locals = Vec::new();
        for (id, routine) in &declared {
            context.symbols.enter();
            self.routine_interface(context, *id, routine);
            locals.push(context.symbols.clone());
            context.symbols.leave();
        }
        for ((id, routine), symbols) in declared.into_iter().zip(locals) {
            let outer = std::mem::replace(&mut context.symbols, symbols);
            let outside = std::mem::replace(&mut context.in_routine, true);
            let body = self.routine_body(context, routine)?;
            context.in_routine = outside;
            self.design.subprograms[id].body = body;
            context.symbols = outer;
        }
        Ok(())
    }

    /// The functions that a constant calls, and those that they call, before anything else of the module is known.
    pub(super) fn functions_of(
        &mut self,
        context: &mut Context<'a>,
        items: &'a [Item],
        value: crate::tree::NodeId,
    ) -> Result<(), Exhausted> {
        for name in called(&context.module.exprs, value) {
            let found = items.iter().find_map(|item| match item {
                Item::Routine(r) if r.name.name == name => Some(r),
                _ => None,
            });
            let Some(routine) = found else { continue };
            if !self.lowered.insert((context.scope, routine.name.span)) {
                continue;
            }
            self.budget.spend(1)?;
            self.declare_routine(context, routine)?;
            let Some(Symbol::Routine { id, .. }) = context.symbols.here(&name) else { continue };
            let id = *id;
            context.symbols.enter();
            self.routine_interface(context, id, routine);
            let body = self.routine_body(context, routine)?;
            self.design.subprograms[id].body = body;
            context.symbols.leave();
        }
        Ok(())
    }

    /// What a routine does: its variables take their first values, then come its statements.
    pub(super) fn routine_body(
        &mut self,
        context: &mut Context<'a>,
        routine: &'a Routine,
    ) -> Result<Vec<design::Stmt>, Exhausted> {
        let mut body = Vec::new();
        let locals = routine.declarations.iter().filter(|d| d.direction.is_none());
        let result = routine.result.as_ref().filter(|d| d.ty.two_state);
        let names = locals.flat_map(|d| d.names.iter().map(move |n| (d, &n.name, n.value)));
        for (declaration, name, value) in names.chain(result.map(|d| (d, &routine.name, None))) {
            let Some(Symbol::Variable { id, layout, .. }) = context.symbols.here(&name.name) else { continue };
            let (id, layout) = (*id, layout.clone());
            let width = layout.width();
            let first = match value {
                Some(value) => self.expr_as(context, value, &layout),
                None if declaration.ty.two_state => self.constant_expr(LogicVector::from_u64(width, 0), name.span),
                None => continue,
            };
            if value.is_some() && !routine.automatic {
                self.report(say::set_once_elsewhere(&name.name, routine.result.is_some(), name.span));
            }
            let storage = design::Storage::Variable(id);
            let target = design::Target { storage, low: 0, width, element: None, span: name.span };
            let mode = design::AssignMode::Blocking;
            let kind = design::StmtKind::Assign { targets: vec![target], value: first, mode, delay: None };
            body.push(design::Stmt { kind, span: name.span });
        }
        body.extend(self.statements(context, &routine.body)?);
        Ok(body)
    }

    pub(super) fn routine_interface(&mut self, context: &mut Context<'a>, id: SubprogramId, routine: &'a Routine) {
        let mut parameters = Vec::new();
        for declaration in &routine.declarations {
            for name in &declaration.names {
                let layout = self.layout(context, declaration, name);
                let variable = self.declare_variable(context, &name.name, layout);
                match declaration.direction {
                    Some(PortDirection::Input) => parameters.push((variable, Direction::In)),
                    Some(PortDirection::Output) => parameters.push((variable, Direction::Out)),
                    Some(PortDirection::InOut) => parameters.push((variable, Direction::InOut)),
                    None => {}
                }
            }
        }
        let result = routine.result.as_ref().map(|declaration| {
            let name = DeclaredName { name: routine.name.clone(), dimensions: Vec::new(), value: None };
            let layout = self.layout(context, declaration, &name);
            self.declare_variable(context, &routine.name, layout)
        });
        let subprogram = &mut self.design.subprograms[id];
        subprogram.parameters = parameters;
        subprogram.result = result;
    }

    /// The arguments of a call, what is not given taken from the declaration (IEEE 1800-2017 13.5.3); `None` when their
    /// number doesn't fit.
    pub(super) fn arguments_of(
        &self,
        context: &Context<'a>,
        name: &str,
        given: &[crate::tree::NodeId],
    ) -> Option<Vec<crate::tree::NodeId>> {
        let (_, routine) = context.symbols.declared_routine(name)?;
        let declared = routine.declarations.iter().filter(|d| d.direction.is_some());
        let formals: Vec<&crate::tree::DeclaredName> = declared.flat_map(|d| &d.names).collect();
        let mut values: Vec<Option<crate::tree::NodeId>> = formals.iter().map(|n| n.value).collect();
        for (at, node) in given.iter().enumerate() {
            match &context.module.exprs[*node].kind {
                crate::tree::NodeKind::Named { name, value } => {
                    let at = formals.iter().position(|f| f.name.name == name.name)?;
                    values[at] = value.or(values[at]);
                }
                _ => *values.get_mut(at)? = Some(*node),
            }
        }
        values.into_iter().collect()
    }
}

/// The functions that an expression names.
fn called(exprs: &base::Arena<crate::tree::NodeId, crate::tree::Node>, root: crate::tree::NodeId) -> Vec<String> {
    use crate::tree::NodeKind as K;
    let mut names = Vec::new();
    let mut stack = vec![root];
    while let Some(id) = stack.pop() {
        match &exprs[id].kind {
            K::Call { name, arguments } => {
                names.push(name.name.clone());
                stack.extend(arguments);
            }
            K::Unary(_, a) | K::Named { value: Some(a), .. } => stack.push(*a),
            K::Binary(_, a, b) => stack.extend([*a, *b]),
            K::Ternary(c, a, b) => stack.extend([*c, *a, *b]),
            K::Concat(parts) | K::System { arguments: parts, .. } => stack.extend(parts),
            _ => {}
        }
    }
    names
}
