//! The items of a module: assignments, gates, blocks, instances and generates.

use super::symbols::{Names, Override, Symbol};
use super::{Context, Lowering};
use crate::diagnostics as say;
use crate::tree::{AlwaysKind, Connection, DataKind, Gate, Ident, Instance, Item, Module, NodeId, NodeKind};
use base::{Exhausted, Span};
use design::{
    AssignMode, BinaryOp, Direction, ExprId, ExprKind, Process, ProcessKind, Scope, ScopeKind, Sensitivity, Stmt,
    StmtKind, Storage, Target, UnaryOp, UnknownCondition, Unknowns,
};
use front::Lower;
use logic::{Level, LogicVector};

/// Which instance of an array is being connected.
#[derive(Clone, Copy)]
struct Part {
    /// From the right.
    position: u32,
    count: u32,
}

impl Part {
    const WHOLE: Part = Part { position: 0, count: 1 };

    /// The lowest bit of this instance's part of a connection of `outer` bits to a port of `width`; `None` when every
    /// instance takes the whole.
    fn of(self, outer: u32, width: u32) -> Option<u32> {
        (self.count > 1 && Some(outer) == width.checked_mul(self.count) && outer != width)
            .then(|| self.position * width)
    }
}

/// The targets that hold the bits from `low` on; the first target is the most significant.
fn part_of(targets: &[Target], low: u32, width: u32) -> Vec<Target> {
    let mut below = 0;
    let mut parts = Vec::new();
    for target in targets.iter().rev() {
        let (from, to) = (low.max(below), (low + width).min(below + target.width));
        if from < to {
            parts.push(Target { low: target.low + (from - below), width: to - from, ..target.clone() });
        }
        below += target.width;
    }
    parts.reverse();
    parts
}

impl<'a> Lowering<'a, '_> {
    pub(super) fn items(&mut self, context: &mut Context<'a>, items: &'a [Item]) -> Result<(), Exhausted> {
        // Implicit wires come into being at their first use outside a block, whatever the order of items.
        for item in items {
            self.implicit_nets(context, item);
        }
        let is_path = |n: &crate::tree::Node| matches!(n.kind, NodeKind::Path(_) | NodeKind::Member { .. });
        let names_paths = context.module.exprs.iter().any(|(_, n)| is_path(n));
        let is_scope = |item: &Item| {
            matches!(
                item,
                Item::Instance(_) | Item::GenerateFor { .. } | Item::GenerateIf { .. } | Item::GenerateBlock { .. }
            )
        };
        // Hierarchical names need the instances to be there first.
        for item in items.iter().filter(|i| names_paths && is_scope(i)) {
            self.budget.spend(1)?;
            self.item(context, item)?;
        }
        for item in items.iter().filter(|i| !names_paths || !is_scope(i)) {
            self.budget.spend(1)?;
            self.item(context, item)?;
        }
        Ok(())
    }

    fn implicit_nets(&mut self, context: &mut Context<'a>, item: &'a Item) {
        let module = context.module;
        let mut plain: Vec<&'a Ident> = Vec::new();
        let mut note = |node: &NodeId| {
            if let NodeKind::Name(name) = &module.exprs[*node].kind {
                plain.push(name);
            }
        };
        match item {
            Item::Assign { target, .. } => note(target),
            Item::Gate(gate) => gate.terminals.iter().for_each(note),
            Item::Instance(instance) => {
                instance.connections.iter().filter_map(|c| c.value.as_ref()).for_each(note);
            }
            _ => {}
        }
        for name in plain {
            if context.symbols.get(&name.name).is_none() {
                self.implicit_net(context, name);
            }
        }
    }

    fn process(&mut self, context: &Context<'a>, kind: ProcessKind, name: Option<String>, body: Vec<Stmt>, span: Span) {
        let sensitivity = Sensitivity::Reads;
        self.design.processes.push(Process { scope: context.scope, kind, name, sensitivity, body, span });
    }

    fn drive(targets: Vec<Target>, value: ExprId, span: Span) -> Stmt {
        Stmt { kind: StmtKind::Assign { targets, value, mode: AssignMode::Blocking, delay: None }, span }
    }

    #[expect(clippy::too_many_lines, reason = "an arm for each kind of item")]
    fn item(&mut self, context: &mut Context<'a>, item: &'a Item) -> Result<(), Exhausted> {
        match item {
            Item::Declaration(declaration) => {
                let is_wire = !declaration.kind.is_some_and(DataKind::is_variable);
                for name in &declaration.names {
                    // `wire w = a & b;`
                    if let (Some(value), true, Some(symbol)) =
                        (name.value, is_wire, context.symbols.signal(&name.name.name))
                    {
                        let width = self.design.signal_width(symbol.id);
                        let value = self.expr_as(context, value, &symbol.layout);
                        let storage = Storage::Signal(symbol.id);
                        let target = Target { storage, low: 0, width, element: None, span: name.name.span };
                        let body = vec![Self::drive(vec![target], value, declaration.span)];
                        self.process(context, ProcessKind::Assignment, None, body, declaration.span);
                    }
                }
            }
            Item::Parameter(_) | Item::Routine(_) | Item::Defparam { .. } => {}
            Item::Assign { target, value, delay, span } => {
                let targets = self.targets(context, *target, false);
                let width = targets.as_ref().map_or(1, |t| t.iter().map(|t| t.width).sum());
                let value = match self.whole_layout(context, *target).filter(|l| l.width() == width) {
                    Some(layout) => self.expr_as(context, *value, &layout),
                    None => self.expr_assigned(context, *value, width),
                };
                if let Some(targets) = targets {
                    let delay = delay.map(|d| design::Delay {
                        amount: self.edge_delay(context, d, value, *span),
                        transport: false,
                        reject: None,
                    });
                    let kind = StmtKind::Assign { targets, value, mode: AssignMode::Blocking, delay };
                    let body = vec![Stmt { kind, span: *span }];
                    self.process(context, ProcessKind::Assignment, None, body, *span);
                }
            }
            Item::Gate(gate) => self.gate(context, gate),
            Item::Instance(instance) => self.instance(context, instance)?,
            Item::Always { kind, body, span } => {
                self.forks.begin();
                let (mut sensitivity, inner) = self.sensitivity(context, body);
                let process_kind = match kind {
                    AlwaysKind::Comb => ProcessKind::Combinational,
                    AlwaysKind::Latch => ProcessKind::Latch,
                    AlwaysKind::Ff => ProcessKind::Register,
                    AlwaysKind::Plain if sensitivity == Sensitivity::Reads => ProcessKind::Combinational,
                    AlwaysKind::Plain => ProcessKind::General,
                };
                if matches!(kind, AlwaysKind::Comb | AlwaysKind::Latch) {
                    sensitivity = Sensitivity::ReadsThrough;
                }
                let mut late_assignment = None;
                let plain =
                    matches!(&sensitivity, Sensitivity::Events(e) if e.iter().all(|e| e.edge == design::Edge::Any));
                if (process_kind == ProcessKind::Combinational || plain)
                    && let Some((name, at)) = super::lint::first_nonblocking(context.module, inner)
                {
                    late_assignment = Some((name, at));
                }
                let body = self.statements(context, std::slice::from_ref(inner))?;
                if let Some((name, at)) = late_assignment {
                    let read = super::lint::read_and_scheduled(&self.design, &body);
                    let (name, at, is_read) = match read {
                        Some((signal, at)) => (self.design.signals[signal].name.clone(), at, true),
                        None => (name, at, false),
                    };
                    self.report(say::nonblocking_in_combinational(&name, is_read, at));
                }
                let process =
                    Process { scope: context.scope, kind: process_kind, name: None, sensitivity, body, span: *span };
                self.design.processes.push(process);
            }
            Item::Final { body, span } => {
                self.forks.begin();
                let body = self.statements(context, std::slice::from_ref(body))?;
                let (scope, kind, sensitivity) = (context.scope, ProcessKind::General, Sensitivity::End);
                self.design.processes.push(Process { scope, kind, name: None, sensitivity, body, span: *span });
            }
            Item::Initial { body, span } => {
                self.forks.begin();
                let body = self.statements(context, std::slice::from_ref(body))?;
                self.design.processes.push(Process {
                    scope: context.scope,
                    kind: ProcessKind::General,
                    name: None,
                    sensitivity: Sensitivity::Start,
                    body,
                    span: *span,
                });
            }
            Item::GenerateBlock { label, items } => {
                let name = label.as_ref().map_or_else(|| "block".to_owned(), |l| l.name.clone());
                let span = label.as_ref().map_or(context.module.header, |l| l.span);
                self.generated(context, items, name, span)?;
            }
            Item::GenerateIf { condition, then, otherwise } => {
                let (value, _) = self.constant(context, *condition);
                let taken = value.bits().any(|b| b == Level::One);
                let span = context.module.exprs[*condition].span;
                match if taken { then.as_slice() } else { otherwise } {
                    // A block has its own name, and a condition within a condition none (IEEE 1364-2005 12.4.2).
                    [only @ (Item::GenerateBlock { .. } | Item::GenerateIf { .. } | Item::GenerateFor { .. })] => {
                        self.item(context, only)?;
                    }
                    items => self.generated(context, items, "if".into(), span)?,
                }
            }
            Item::GenerateFor { .. } => self.generate_for(context, item)?,
            Item::Unread { what, span } => self.report(say::not_understood_yet(what, *span)),
        }
        Ok(())
    }

    fn generate_for(&mut self, context: &mut Context<'a>, item: &'a Item) -> Result<(), Exhausted> {
        let Item::GenerateFor { variable, start, condition, step, label, items, span } = item else { return Ok(()) };
        let (mut value, _) = self.constant(context, *start);
        value = value.resized(32, true);
        let name = label.as_ref().map_or("for", |l| l.name.as_str());
        // The names of all turns are declared first: one may be used in another.
        let mut turns = Vec::new();
        for turn in 0u32.. {
            self.budget.spend(2_000)?;
            if turn > 4096 {
                self.report(say::budget("more than 4,096 turns of a generate", *span));
                break;
            }
            context.symbols.enter();
            let symbol = Symbol::Parameter {
                value: value.clone(),
                layout: super::symbols::Layout::vector(logic::Shape::vector(31, 0), true),
                span: variable.span,
            };
            context.symbols.insert(&variable.name, symbol);
            let (go_on, _) = self.constant(context, *condition);
            let taken = go_on.bits().any(|b| b == Level::One);
            if taken {
                let index = value.to_i64().unwrap_or(0);
                let scope = self.declared(context, items, format!("{name}[{index}]"), Some(&value), *span)?;
                let own = context.symbols.put_aside(1);
                let (next, _) = self.constant(context, *step);
                let mut layers = context.symbols.put_aside(1);
                layers.extend(own);
                turns.push((scope, layers));
                value = next.resized(32, true);
            } else {
                context.symbols.leave();
            }
            if !taken || self.findings.iter().any(base::Diagnostic::stops) {
                break;
            }
        }
        for (scope, layers) in turns {
            let count = layers.len();
            context.symbols.take_up(layers);
            let outer = std::mem::replace(&mut context.scope, scope);
            self.budget.enter()?;
            self.items(context, items)?;
            self.budget.leave();
            context.scope = outer;
            context.symbols.put_aside(count);
            if self.findings.iter().any(base::Diagnostic::stops) {
                break;
            }
        }
        Ok(())
    }

    /// A scope with the names that the items of a generate declare, which are left in a layer of their own; `index` is
    /// recorded as the scope's parameter.
    fn declared(
        &mut self,
        context: &mut Context<'a>,
        items: &'a [Item],
        name: String,
        index: Option<&LogicVector>,
        span: Span,
    ) -> Result<design::ScopeId, Exhausted> {
        let scope = self.inner_scope(context, name, span);
        if let Some(index) = index {
            self.design.scopes[scope].parameters.push(("index".into(), index.clone()));
        }
        let outer = std::mem::replace(&mut context.scope, scope);
        context.symbols.enter();
        self.declare_parameters(context, items, &[])?;
        self.declare_items(context, items)?;
        self.routines(context, items)?;
        context.scope = outer;
        Ok(scope)
    }

    /// Items of a generate in a scope of their own.
    fn generated(
        &mut self,
        context: &mut Context<'a>,
        items: &'a [Item],
        name: String,
        span: Span,
    ) -> Result<(), Exhausted> {
        self.budget.enter()?;
        let scope = self.declared(context, items, name, None, span)?;
        let outer = std::mem::replace(&mut context.scope, scope);
        self.items(context, items)?;
        context.symbols.leave();
        context.scope = outer;
        self.budget.leave();
        Ok(())
    }

    /// Gate primitives (IEEE 1364-2005 clause 7): outputs first, then inputs.
    fn gate(&mut self, context: &mut Context<'a>, gate: &'a Gate) {
        let span = gate.span;
        let copies = match &gate.array {
            Some(array) => self.shape(context, Some(array)).width(),
            None => 1,
        };
        if copies > 4096 || self.budget.spend(u64::from(copies) * 100).is_err() {
            self.report(say::budget("more than 4,096 gates in an array", span));
            return;
        }
        let name = gate.name.as_ref().map(|n| n.name.clone());
        let count = gate.terminals.len();
        let (outputs, inputs) = match gate.kind {
            "buf" | "not" if count >= 2 => gate.terminals.split_at(count - 1),
            "bufif0" | "bufif1" | "notif0" | "notif1" if count == 3 => gate.terminals.split_at(1),
            "and" | "nand" | "or" | "nor" | "xor" | "xnor" if count >= 2 => gate.terminals.split_at(1),
            kind => {
                let needed = match kind {
                    "buf" | "not" => "at least one output and one input",
                    k if k.contains("if") => "one output, one input and one control",
                    _ => "one output and at least one input",
                };
                self.report(say::gate_terminals(kind, needed, span));
                return;
            }
        };
        for position in 0..copies {
            let part = Part { position, count: copies };
            let values: Vec<ExprId> = inputs.iter().map(|node| self.condition_bit(context, *node, part)).collect();
            let value = self.gate_value(gate.kind, &values, span);
            for output in outputs {
                let Some(mut targets) = self.targets(context, *output, false) else { continue };
                let mut width: u32 = targets.iter().map(|t| t.width).sum();
                if let Some(low) = part.of(width, 1) {
                    targets = part_of(&targets, low, 1);
                    width = 1;
                }
                let value = self.resize(value, width, false, span);
                let mut stmt = Self::drive(targets, value, span);
                let delay = gate.delay.map(|d| self.edge_delay(context, d, value, span));
                if let (StmtKind::Assign { delay: slot, .. }, Some(amount)) = (&mut stmt.kind, delay) {
                    *slot = Some(design::Delay { amount, transport: false, reject: None });
                }
                self.process(context, ProcessKind::Gate, name.clone(), vec![stmt], span);
            }
        }
    }

    /// Terminals of gates are one bit: the lowest one of a vector.
    fn condition_bit(&mut self, context: &mut Context<'a>, node: NodeId, part: Part) -> ExprId {
        let (value, size) = self.expr(context, node);
        if let Some(low) = part.of(size.width, 1) {
            return self.push(ExprKind::Slice { base: value, low }, 1, context.module.exprs[node].span);
        }
        self.resize(value, 1, size.signed, context.module.exprs[node].span)
    }

    fn gate_value(&mut self, kind: &str, inputs: &[ExprId], span: Span) -> ExprId {
        let not = |me: &mut Self, value| me.push(ExprKind::Unary(UnaryOp::Not, value), 1, span);
        let op = match kind {
            "and" | "nand" => BinaryOp::And,
            "or" | "nor" => BinaryOp::Or,
            "xor" | "xnor" => BinaryOp::Xor,
            "not" => return not(self, inputs[0]),
            "buf" => return inputs[0],
            _ => {
                let data = if kind.starts_with("not") { not(self, inputs[0]) } else { inputs[0] };
                let floating = self.constant_expr(LogicVector::filled(1, Level::HighZ), span);
                let (then, otherwise) = if kind.ends_with('1') { (data, floating) } else { (floating, data) };
                let unknown = UnknownCondition::Merge;
                return self.push(ExprKind::Select { condition: inputs[1], then, otherwise, unknown }, 1, span);
            }
        };
        let mut value = inputs[0];
        for input in &inputs[1..] {
            let kind =
                ExprKind::Binary { op, signed: false, unknowns: Unknowns::Propagate, left: value, right: *input };
            value = self.push(kind, 1, span);
        }
        if matches!(kind, "nand" | "nor" | "xnor") { not(self, value) } else { value }
    }

    fn instance(&mut self, context: &mut Context<'a>, instance: &'a Instance) -> Result<(), Exhausted> {
        let Some(module) = self.modules.get(instance.module.name.as_str()).copied() else {
            if self.foreign(context, instance)? {
                return Ok(());
            }
            let near = base::nearest(&instance.module.name, self.modules.keys().copied()).map(str::to_owned);
            self.report(say::unknown_module(&instance.module.name, near.as_deref(), instance.module.span));
            return Ok(());
        };
        // Once a circle is told, nothing more is unrolled: two instances in it would double at each turn.
        if self.endless {
            return Ok(());
        }
        self.budget.spend(3_000)?;
        if self.active.iter().filter(|m| **m == module.name.name).count() > 64 {
            self.endless = true;
            self.report(say::recursion(&module.name.name, instance.module.span));
            return Ok(());
        }
        let overrides = self.overrides(context, instance, module);
        let Some(array) = &instance.array else {
            return self.one_instance(context, instance, module, instance.name.name.clone(), &overrides, Part::WHOLE);
        };
        // IEEE 1364-2005 7.1.6: each instance takes its part of a wide connection, the last index the rightmost one.
        let shape = self.shape(context, Some(array));
        let count = shape.width();
        if count > 4096 {
            self.report(say::budget("more than 4,096 instances in an array", array.span));
            return Ok(());
        }
        for position in 0..count {
            self.budget.spend(2_000)?;
            let name = shape.bit_name(&instance.name.name, position);
            self.one_instance(context, instance, module, name, &overrides, Part { position, count })?;
        }
        Ok(())
    }

    fn one_instance(
        &mut self,
        context: &mut Context<'a>,
        instance: &'a Instance,
        module: &'a Module,
        name: String,
        overrides: &[Override],
        part: Part,
    ) -> Result<(), Exhausted> {
        let scope = self.design.scopes.push(Scope {
            name,
            unit: module.name.name.clone(),
            parent: Some(context.scope),
            kind: ScopeKind::Instance,
            parameters: Vec::new(),
            ports: Vec::new(),
            span: instance.span,
        });
        self.bound = Self::inouts(context, instance, module, part);
        self.module(module, scope, overrides)?;
        self.connect(context, instance, &module.name.name, scope, part);
        Ok(())
    }

    /// Inout ports that are joined to whole nets: the net is the port, driven and read from both sides.
    fn inouts(
        context: &Context<'a>,
        instance: &'a Instance,
        module: &'a Module,
        part: Part,
    ) -> std::collections::BTreeMap<String, super::SignalSymbol> {
        let mut bound = std::collections::BTreeMap::new();
        if part.count > 1 {
            return bound;
        }
        let ports = module.ports();
        for (i, connection) in instance.connections.iter().enumerate() {
            let port = match &connection.port {
                Some(name) => ports.iter().find(|p| p.name.name == name.name),
                None => ports.get(i),
            };
            let Some(port) = port.filter(|p| p.direction == Some(crate::tree::PortDirection::InOut)) else { continue };
            let Some(NodeKind::Name(name)) = connection.value.map(|v| &context.module.exprs[v].kind) else { continue };
            if let Some(mut symbol) = context.symbols.signal(&name.name).filter(|s| !s.kind.is_variable()) {
                symbol.direction = Some(crate::tree::PortDirection::InOut);
                symbol.outside = true;
                bound.insert(port.name.name.clone(), symbol);
            }
        }
        bound
    }

    /// An instance of a unit in another language. False when there is no such unit.
    fn foreign(&mut self, context: &mut Context<'a>, instance: &'a Instance) -> Result<bool, Exhausted> {
        let around = self.around;
        let Some(units) = around else { return Ok(false) };
        let unit = &instance.module.name;
        if !units.names().iter().any(|n| n.eq_ignore_ascii_case(unit)) {
            return Ok(false);
        }
        self.budget.enter()?;
        self.budget.spend(2_000)?;
        let mut parameters = Vec::new();
        for connection in &instance.parameters {
            let Some(value) = connection.value else { continue };
            let (value, _) = self.constant(context, value);
            parameters.push((connection.port.as_ref().map_or_else(String::new, |p| p.name.clone()), value));
        }
        let scope = self.design.scopes.push(Scope {
            name: instance.name.name.clone(),
            unit: unit.clone(),
            parent: Some(context.scope),
            kind: ScopeKind::Instance,
            parameters: Vec::new(),
            ports: Vec::new(),
            span: instance.span,
        });
        let found = units.instantiate(&mut self.design, scope, unit, &parameters, instance.span, self.budget);
        let Some(found) = found else { return Ok(false) };
        for diagnostic in found {
            self.report(diagnostic);
        }
        self.connect(context, instance, unit, scope, Part::WHOLE);
        self.budget.leave();
        Ok(true)
    }

    fn overrides(&mut self, context: &mut Context<'a>, instance: &'a Instance, module: &'a Module) -> Vec<Override> {
        let known: Vec<&str> = module
            .items
            .iter()
            .filter_map(|item| match item {
                Item::Parameter(p) if !p.local => Some(p.name.name.as_str()),
                _ => None,
            })
            .collect();
        let mut list = Vec::new();
        for item in &context.module.items {
            if let Item::Defparam { path, value } = item
                && let [outer, parameter] = path.as_slice()
                && outer.name == instance.name.name
            {
                if !known.contains(&parameter.name.as_str()) {
                    let near = base::nearest(&parameter.name, known.iter().copied());
                    self.report(say::unknown_parameter(&parameter.name, &module.name.name, near, parameter.span));
                    continue;
                }
                let (value, size) = self.constant_any(context, *value);
                list.push(Override { name: parameter.name.clone(), value, domain: size.domain });
            }
        }
        for (i, connection) in instance.parameters.iter().enumerate() {
            let Some(value) = connection.value else { continue };
            let name = match &connection.port {
                Some(name) => {
                    if !known.contains(&name.name.as_str()) {
                        let near = base::nearest(&name.name, known.iter().copied());
                        self.report(say::unknown_parameter(&name.name, &module.name.name, near, name.span));
                        continue;
                    }
                    name.name.clone()
                }
                None => match known.get(i) {
                    Some(name) => (*name).to_owned(),
                    None => {
                        self.report(say::too_many_connections(&module.name.name, known.len(), connection.span));
                        continue;
                    }
                },
            };
            let (value, size) = self.constant_any(context, value);
            list.push(Override { name, value, domain: size.domain });
        }
        list
    }

    /// Which connection each port of the module gets; `None` after too many of them.
    fn connections(
        &mut self,
        instance: &'a Instance,
        unit: &str,
        names: &[String],
    ) -> Option<Vec<Option<&'a Connection>>> {
        let mut given: Vec<Option<&'a Connection>> = vec![None; names.len()];
        for (i, connection) in instance.connections.iter().enumerate() {
            let position = match &connection.port {
                Some(port) => match self.port_position(unit, names, &port.name) {
                    Some(position) => position,
                    None => {
                        let near = base::nearest(&port.name, names.iter().map(String::as_str)).map(str::to_owned);
                        self.report(say::unknown_port(&port.name, unit, near.as_deref(), port.span));
                        continue;
                    }
                },
                None if i < names.len() => i,
                None => {
                    self.report(say::too_many_connections(unit, names.len(), connection.span));
                    return None;
                }
            };
            if given[position].replace(connection).is_some() {
                self.report(say::port_twice(&names[position], connection.span));
            }
        }
        Some(given)
    }

    /// Which port is meant; those of other languages don't tell capitals apart.
    fn port_position(&self, unit: &str, names: &[String], name: &str) -> Option<usize> {
        let exact = names.iter().position(|n| n == name);
        if exact.is_some() || self.modules.contains_key(unit) {
            return exact;
        }
        names.iter().position(|n| n.eq_ignore_ascii_case(name))
    }

    fn connect(
        &mut self,
        context: &mut Context<'a>,
        instance: &'a Instance,
        unit: &str,
        scope: design::ScopeId,
        part: Part,
    ) {
        let ports = self.design.scopes[scope].ports.clone();
        // An inout port may be a signal of another name.
        let declared = self.modules.get(unit).map(|m| &m.port_names).filter(|n| n.len() == ports.len());
        let names: Vec<String> = match declared {
            Some(names) => names.iter().map(|n| n.name.clone()).collect(),
            None => ports.iter().map(|p| self.design.signals[p.signal].name.clone()).collect(),
        };
        let Some(given) = self.connections(instance, unit, &names) else { return };
        for ((port, name), connection) in ports.iter().zip(&names).zip(given) {
            let span = connection.map_or(instance.span, |c| c.span);
            let value = connection.and_then(|c| c.value);
            let width = self.design.signal_width(port.signal);
            let inner = Target { storage: Storage::Signal(port.signal), low: 0, width, element: None, span };
            match (port.direction, value) {
                (Direction::In, None) => {
                    let wild =
                        if instance.wildcard && connection.is_none() { context.symbols.signal(name) } else { None };
                    if let Some(symbol) = wild {
                        let outer = self.design.signal_width(symbol.id);
                        let value = self.push(ExprKind::Signal(symbol.id), outer, span);
                        let value = self.resize(value, width, false, span);
                        self.port_map(context, instance, vec![inner], value, span);
                    } else {
                        self.report(say::open_input(name, unit, span));
                    }
                }
                (Direction::In, Some(node)) => {
                    let (mut value, mut size) = self.expr_at_least(context, node, 0);
                    if let Some(low) = part.of(size.width, width) {
                        value = self.push(ExprKind::Slice { base: value, low }, width, span);
                        size.width = width;
                    }
                    let is_number = matches!(context.module.exprs[node].kind, NodeKind::Number(_));
                    if size.width != width && !is_number {
                        self.report(say::port_width(name, width, size.width, span));
                    }
                    let value = self.resize(value, width, size.signed, span);
                    self.port_map(context, instance, vec![inner], value, span);
                }
                (Direction::Out, value) => {
                    let targets = match value {
                        Some(node) => self.targets(context, node, false),
                        None => context.symbols.signal(name).filter(|_| instance.wildcard && connection.is_none()).map(
                            |s| {
                                let (storage, width) = (Storage::Signal(s.id), self.design.signal_width(s.id));
                                vec![Target { storage, low: 0, width, element: None, span }]
                            },
                        ),
                    };
                    let Some(mut targets) = targets else { continue };
                    let total = targets.iter().map(|t| t.width).sum();
                    if let Some(low) = part.of(total, width) {
                        targets = part_of(&targets, low, width);
                    }
                    let outer: u32 = targets.iter().map(|t| t.width).sum();
                    if outer != width {
                        self.report(say::port_width(name, width, outer, span));
                    }
                    let value = self.push(ExprKind::Signal(port.signal), width, span);
                    let value = self.resize(value, outer, false, span);
                    self.port_map(context, instance, targets, value, span);
                }
                (Direction::InOut, None) => {}
                (Direction::InOut, Some(node)) => {
                    let is_bound = match &context.module.exprs[node].kind {
                        NodeKind::Name(n) => context.symbols.signal(&n.name).is_some_and(|s| s.id == port.signal),
                        _ => false,
                    };
                    if !is_bound {
                        self.report(say::not_understood_yet("An inout port joined to a part of a signal", span));
                    }
                }
            }
        }
    }

    fn port_map(
        &mut self,
        context: &Context<'a>,
        instance: &Instance,
        targets: Vec<Target>,
        value: ExprId,
        span: Span,
    ) {
        let name = Some(instance.name.name.clone());
        self.process(context, ProcessKind::PortMap, name, vec![Self::drive(targets, value, span)], span);
    }
}
