//! Boolean and arithmetic expressions as people write them: `A'B + C`, `~a & b | c`, `not a and b`, `x + y`.
//!
//! One grammar, strongest first:
//! 1. postfix `'`, prefix `~ ! not -`
//! 2. `*` and 3. `+ -` as arithmetic, when a whole vector is named or the result is a vector
//! 4. `== != < <= > >=`
//! 5. AND: `& && · and nand`, a factor beside a factor, and `*` between bits
//! 6. XOR: `^ xor xnor`
//! 7. OR: `| || or nor`, and `+` between bits
//! 8. `condition ? one : other`
//!
//! Arithmetic is on exact integers: nothing is lost before the result is cut to the port.

use crate::calculate::{BitAlgebra, Calculator, Rows, Sliced};
use crate::expr_lexer::{Token, TokenKind, tokenize};
use crate::expr_node::{BinaryOp, ExprError, Node};
use crate::form::{Form, GateOp};
use crate::shape::Shape;

/// A parsed expression over a list of signals. Nodes stand in evaluation order, so that no depth of nesting
/// can overflow a stack.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Expr {
    nodes: Vec<Node>,
}

/// Longest text read as an expression, in bytes.
const MAX_TEXT: usize = 64 << 10;
/// Deepest nesting of parentheses and prefixes.
const MAX_DEPTH: u32 = 200;

/// Reads an expression over `signals` (name and shape) whose result has `target_width` bits.
///
/// # Errors
/// The first fault, with its column and what to do.
pub fn parse_expr(text: &str, signals: &[(String, Shape)], target_width: u32) -> Result<Expr, ExprError> {
    if text.len() > MAX_TEXT {
        return Err(ExprError::new(1, "This expression is longer than 65,536 characters.", "Shorten it."));
    }
    let tokens = tokenize(text)?;
    let arithmetic = target_width > 1 || is_arithmetic(&tokens, signals);
    let mut parser = Parser {
        tokens: &tokens,
        at: 0,
        signals,
        arithmetic,
        nodes: Vec::new(),
        depth: 0,
        end: text.chars().count() + 1,
    };
    if tokens.is_empty() {
        return Err(ExprError::new(1, "The expression is empty.", "Type one, such as `a & ~b | c`."));
    }
    parser.ternary()?;
    match parser.peek() {
        None => Ok(Expr { nodes: parser.nodes }),
        Some(t) if t.kind == TokenKind::Symbol(")") => {
            Err(ExprError::new(t.column, "This `)` closes nothing.", "Remove it, or open a `(` before it."))
        }
        Some(t) => Err(ExprError::new(
            t.column,
            format!("`{}` doesn't fit here.", t.text()),
            "Put an operator between the two parts, or remove it.",
        )),
    }
}

/// Does it name a whole vector or a number above 1? Then `+` adds. Indices in brackets are no operands.
fn is_arithmetic(tokens: &[Token], signals: &[(String, Shape)]) -> bool {
    let mut brackets = 0u32;
    tokens.iter().enumerate().any(|(i, t)| match &t.kind {
        TokenKind::Symbol("[") => {
            brackets += 1;
            false
        }
        TokenKind::Symbol("]") => {
            brackets = brackets.saturating_sub(1);
            false
        }
        TokenKind::Name(name) => {
            let whole = !matches!(tokens.get(i + 1).map(|t| &t.kind), Some(TokenKind::Symbol("[")));
            whole && signals.iter().any(|(n, s)| n == name && s.width() > 1)
        }
        TokenKind::Number { value, width } => brackets == 0 && (*value > 1 || width.is_some_and(|w| w > 1)),
        TokenKind::Symbol(_) => false,
    })
}

/// The names an expression mentions, in order of first appearance; operators in words are left out.
///
/// # Errors
/// When the text holds a character that no expression has.
pub fn scan_names(text: &str) -> Result<Vec<String>, ExprError> {
    let mut names: Vec<String> = Vec::new();
    for token in tokenize(text)? {
        if let TokenKind::Name(name) = token.kind
            && !names.contains(&name)
        {
            names.push(name);
        }
    }
    Ok(names)
}

struct Parser<'a> {
    tokens: &'a [Token],
    at: usize,
    signals: &'a [(String, Shape)],
    arithmetic: bool,
    nodes: Vec<Node>,
    depth: u32,
    end: usize,
}

impl<'a> Parser<'a> {
    fn peek(&self) -> Option<&'a Token> {
        self.tokens.get(self.at)
    }

    fn eat(&mut self, symbol: &str) -> bool {
        let hit = self.peek().is_some_and(|t| matches!(t.kind, TokenKind::Symbol(s) if s == symbol));
        self.at += usize::from(hit);
        hit
    }

    fn push(&mut self, node: Node) -> usize {
        self.nodes.push(node);
        self.nodes.len() - 1
    }

    fn ternary(&mut self) -> Result<usize, ExprError> {
        self.depth += 1;
        if self.depth > MAX_DEPTH {
            let column = self.peek().map_or(self.end, |t| t.column);
            return Err(ExprError::new(column, "This nests deeper than 200 levels.", "Split the expression."));
        }
        let condition = self.binary(0)?;
        let result = if self.eat("?") {
            let then = self.ternary()?;
            let column = self.peek().map_or(self.end, |t| t.column);
            if !self.eat(":") {
                return Err(ExprError::new(
                    column,
                    "The `:` of `condition ? one : other` is missing.",
                    "Add `:` and the value for when the condition is 0.",
                ));
            }
            let other = self.ternary()?;
            self.push(Node::Mux(condition, then, other))
        } else {
            condition
        };
        self.depth -= 1;
        Ok(result)
    }

    /// The operator at the cursor and its strength; juxtaposition is an AND without a token.
    fn operator(&self) -> Option<(BinaryOp, u8, bool)> {
        use BinaryOp as B;
        let token = self.peek()?;
        let (op, power) = match &token.kind {
            TokenKind::Symbol(s) => match *s {
                "|" | "||" => (B::Or, 1),
                "nor" => (B::Nor, 1),
                "^" => (B::Xor, 2),
                "xnor" => (B::Xnor, 2),
                "&" | "&&" => (B::And, 3),
                "nand" => (B::Nand, 3),
                "==" => (B::Equal, 4),
                "!=" => (B::NotEqual, 4),
                "<" => (B::Less, 4),
                "<=" => (B::LessEqual, 4),
                ">" => (B::Greater, 4),
                ">=" => (B::GreaterEqual, 4),
                "+" if self.arithmetic => (B::Add, 5),
                "+" => (B::Or, 1),
                "-" if self.arithmetic => (B::Sub, 5),
                "*" if self.arithmetic => (B::Mul, 6),
                "*" => (B::And, 3),
                "(" | "~" | "!" => return Some((B::And, 3, false)),
                _ => return None,
            },
            TokenKind::Name(_) | TokenKind::Number { .. } => return Some((B::And, 3, false)),
        };
        Some((op, power, true))
    }

    fn binary(&mut self, floor: u8) -> Result<usize, ExprError> {
        let mut left = self.prefix()?;
        while let Some((op, power, has_token)) = self.operator() {
            if power <= floor {
                break;
            }
            self.at += usize::from(has_token);
            let right = self.binary(power)?;
            left = self.push(Node::Binary(op, left, right));
        }
        Ok(left)
    }

    fn prefix(&mut self) -> Result<usize, ExprError> {
        let mut pending = Vec::new();
        loop {
            if self.eat("~") {
                pending.push('~');
            } else if self.eat("!") {
                pending.push('!');
            } else if self.arithmetic && self.eat("-") {
                pending.push('-');
            } else {
                break;
            }
        }
        let mut value = self.primary()?;
        while self.eat("'") {
            value = self.push(Node::Not(value));
        }
        for sign in pending.into_iter().rev() {
            value = self.push(match sign {
                '~' => Node::Not(value),
                '!' => Node::LogicalNot(value),
                _ => Node::Neg(value),
            });
        }
        Ok(value)
    }

    fn primary(&mut self) -> Result<usize, ExprError> {
        let Some(token) = self.peek() else {
            return Err(ExprError::new(
                self.end,
                "The expression stops where an operand should follow.",
                "Add a name, 0, 1 or an expression in parentheses.",
            ));
        };
        self.at += 1;
        match &token.kind {
            TokenKind::Number { value, width } => {
                let needed = 64 - value.leading_zeros();
                Ok(self.push(Node::Const { value: *value, width: width.unwrap_or(needed.max(1)) }))
            }
            TokenKind::Name(name) => self.name(name, token.column),
            TokenKind::Symbol("(") => {
                let inner = self.ternary()?;
                if self.eat(")") {
                    return Ok(inner);
                }
                Err(ExprError::new(token.column, "This `(` is never closed.", "Add the `)` that belongs to it."))
            }
            TokenKind::Symbol(s) => Err(ExprError::new(
                token.column,
                format!("`{s}` stands where an operand should be."),
                "Put a name, 0, 1 or an expression in parentheses before it.",
            )),
        }
    }

    fn name(&mut self, name: &str, column: usize) -> Result<usize, ExprError> {
        let Some(signal) = self.signals.iter().position(|(n, _)| n == name) else {
            return self.joined_names(name, column);
        };
        let shape = self.signals[signal].1;
        if !self.eat("[") {
            return Ok(self.push(Node::Pick { signal, low: 0, width: shape.width() }));
        }
        let first = self.index(name, shape)?;
        let last = if self.eat(":") { self.index(name, shape)? } else { first };
        if !self.eat("]") {
            return Err(ExprError::new(column, format!("The `]` after `{name}[` is missing."), "Add `]`."));
        }
        if first < last {
            return Err(ExprError::new(
                column,
                format!("The slice of `{name}` runs against its declaration {shape}."),
                "Swap the two bounds.",
            ));
        }
        Ok(self.push(Node::Pick { signal, low: last, width: first - last + 1 }))
    }

    fn index(&mut self, name: &str, shape: Shape) -> Result<u32, ExprError> {
        let column = self.peek().map_or(self.end, |t| t.column);
        let Some(TokenKind::Number { value, .. }) = self.peek().map(|t| &t.kind) else {
            return Err(ExprError::new(column, "An index is a number.", "Write one, such as `w[0]`."));
        };
        self.at += 1;
        i64::try_from(*value).ok().and_then(|v| shape.position(v)).ok_or_else(|| {
            let known = if shape.range().is_some() { format!("declared {shape}") } else { "a scalar".into() };
            ExprError::new(
                column,
                format!("`{name}` has no bit {value}: it is {known}."),
                "Use an index within its bounds.",
            )
        })
    }

    /// `AB` where `A` and `B` are signals is their product; anything else is an unknown name.
    fn joined_names(&mut self, name: &str, column: usize) -> Result<usize, ExprError> {
        let mut rest = name;
        let mut factors = Vec::new();
        while !rest.is_empty() {
            let hit = self
                .signals
                .iter()
                .enumerate()
                .filter(|(_, (n, s))| s.width() == 1 && rest.starts_with(n.as_str()))
                .max_by_key(|(_, (n, _))| n.len());
            let Some((signal, (known, _))) = hit else {
                let names = self.signals.iter().map(|(n, _)| n.as_str());
                let action = match base::nearest(name, names) {
                    Some(near) => format!("Write `{near}`, or declare `{name}` as an input."),
                    None => format!("Declare `{name}` as an input, or use one of the inputs."),
                };
                return Err(ExprError::new(column, format!("`{name}` is not an input."), action));
            };
            factors.push(signal);
            rest = &rest[known.len()..];
        }
        let mut product = None;
        for (i, signal) in factors.iter().enumerate() {
            let mut factor = self.push(Node::Pick { signal: *signal, low: 0, width: 1 });
            if i + 1 == factors.len() && product.is_some() {
                while self.eat("'") {
                    factor = self.push(Node::Not(factor));
                }
            }
            product = Some(match product {
                Some(p) => self.push(Node::Binary(BinaryOp::And, p, factor)),
                None => factor,
            });
        }
        product.ok_or_else(|| ExprError::new(column, "A name is missing.", "Write the name of an input."))
    }
}

/// A complement as it is written: it joins the gate it follows, and goes into a literal.
fn inverted(form: Form) -> Form {
    match form {
        Form::Gate(GateOp::And | GateOp::Or | GateOp::Xor, _) | Form::Literal { .. } | Form::Const(_) => {
            form.complement()
        }
        other => Form::Gate(GateOp::Not, vec![other]),
    }
}

/// Where an evaluation finds the values of signals.
pub trait EvalScope {
    /// The bits of a signal on 64 rows, least significant first.
    fn bits(&self, signal: usize) -> &[u64];
}

impl EvalScope for [Vec<u64>] {
    fn bits(&self, signal: usize) -> &[u64] {
        &self[signal]
    }
}

impl Expr {
    /// It as a tree of gates over input bits, numbered through the signals each from its most significant bit; `None`
    /// when it computes with whole vectors or chooses. Chains of one operator become one gate, as they are drawn.
    pub fn form(&self, signals: &[(String, Shape)]) -> Option<Form> {
        let mut first = Vec::new();
        let mut next = 0;
        for (_, shape) in signals {
            first.push(next);
            next += shape.width();
        }
        let mut forms: Vec<Form> = Vec::with_capacity(self.nodes.len());
        for node in &self.nodes {
            let form = match node {
                Node::Const { value, width: 1 } => Form::Const(*value == 1),
                Node::Pick { signal, low, width: 1 } => {
                    let width = signals.get(*signal)?.1.width();
                    Form::Literal { input: first[*signal] + width - 1 - low, positive: true }
                }
                Node::Not(of) | Node::LogicalNot(of) => inverted(forms[*of].clone()),
                Node::Binary(op, left, right) => {
                    let gate = match op {
                        BinaryOp::And => GateOp::And,
                        BinaryOp::Or => GateOp::Or,
                        BinaryOp::Xor => GateOp::Xor,
                        BinaryOp::Nand => GateOp::Nand,
                        BinaryOp::Nor => GateOp::Nor,
                        BinaryOp::Xnor => GateOp::Xnor,
                        _ => return None,
                    };
                    let mut operands = Vec::new();
                    for operand in [&forms[*left], &forms[*right]] {
                        match operand {
                            Form::Gate(op, inner)
                                if *op == gate && matches!(op, GateOp::And | GateOp::Or | GateOp::Xor) =>
                            {
                                operands.extend(inner.iter().cloned());
                            }
                            other => operands.push(other.clone()),
                        }
                    }
                    Form::Gate(gate, operands)
                }
                _ => return None,
            };
            // Copies of copies could grow beyond bounds.
            if form.literals() > 4_096 {
                return None;
            }
            forms.push(form);
        }
        forms.pop()
    }

    /// The result on 64 rows at once, least significant bit first, cut or extended to `width` bits.
    pub fn eval<S: EvalScope + ?Sized>(&self, scope: &S, width: u32) -> Vec<u64> {
        self.eval_on(&mut Rows, |signal| scope.bits(signal), width)
    }

    /// The result in another kind of bits, least significant first, cut or extended to `width` of them. `scope` gives the
    /// bits of a signal, least significant first.
    pub fn eval_on<'s, A: BitAlgebra>(
        &self,
        on: &mut A,
        scope: impl Fn(usize) -> &'s [A::Bit],
        width: u32,
    ) -> Vec<A::Bit>
    where
        A::Bit: 's,
    {
        let zero = on.constant(false);
        let mut calculator = Calculator { on, zero };
        let mut done: Vec<Sliced<A::Bit>> = Vec::with_capacity(self.nodes.len());
        for node in &self.nodes {
            let value = calculator.node(node, &done, &scope);
            done.push(value);
        }
        let result = done.pop().unwrap_or_else(|| Sliced::flag(zero));
        (0..width as usize).map(|i| result.bit(i, zero)).collect()
    }

    /// The signals it depends on by name, as indices of the list it was parsed over, ascending.
    pub fn signals(&self) -> Vec<usize> {
        let mut list: Vec<usize> = self
            .nodes
            .iter()
            .filter_map(|n| if let Node::Pick { signal, .. } = n { Some(*signal) } else { None })
            .collect();
        list.sort_unstable();
        list.dedup();
        list
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::rows::input_word;
    use proptest::prelude::*;

    fn column(text: &str, names: &[&str]) -> u64 {
        let signals: Vec<_> = names.iter().map(|n| ((*n).to_owned(), Shape::SCALAR)).collect();
        let expr = parse_expr(text, &signals, 1).unwrap();
        let n = u32::try_from(names.len()).unwrap();
        let scope: Vec<Vec<u64>> = (0..n).map(|i| vec![input_word(n, i, 0)]).collect();
        expr.eval(scope.as_slice(), 1)[0] & ((1u64 << (1 << n)) - 1)
    }

    #[test]
    fn one_function_in_every_notation() {
        let wanted = column("(~a & b) | c", &["a", "b", "c"]);
        assert_eq!(wanted, 0b1010_1110);
        for text in
            ["a'b + c", "!a && b || c", "not a and b or c", "a'·b + c", "¬a ∧ b ∨ c", "a' * b + c", "NOT a AND b OR c"]
        {
            assert_eq!(column(text, &["a", "b", "c"]), wanted, "{text}");
        }
    }

    #[test]
    fn plus_between_bits_of_a_vector_is_or() {
        let signals = [("w".to_owned(), Shape::vector(2, 0))];
        let expr = parse_expr("w[2] w[1]' + w[2] w[0]'", &signals, 1).unwrap();
        let scope: Vec<Vec<u64>> = vec![(0..3).rev().map(|i| crate::input_word(3, i, 0)).collect()];
        assert_eq!(expr.eval(scope.as_slice(), 1)[0] & 255, 0b0111_0000);
    }

    #[test]
    fn joined_letters_are_a_product_of_known_inputs() {
        assert_eq!(column("AB' + CD", &["A", "B", "C", "D"]), column("A & ~B | C & D", &["A", "B", "C", "D"]));
        assert_eq!(column("(A+B)(C+D)'", &["A", "B", "C", "D"]), column("(A|B) & ~(C|D)", &["A", "B", "C", "D"]));
    }

    #[test]
    fn xor_binds_between_and_and_or() {
        assert_eq!(column("a ^ b & c | d", &["a", "b", "c", "d"]), column("(a ^ (b & c)) | d", &["a", "b", "c", "d"]));
        assert_eq!(column("a xnor b", &["a", "b"]), 0b1001);
        assert_eq!(column("a nand b nor c", &["a", "b", "c"]), column("~(~(a & b) | c)", &["a", "b", "c"]));
    }

    #[test]
    fn faults_are_told_with_their_column() {
        let fault = |text: &str| {
            parse_expr(text, &[("full".into(), Shape::SCALAR), ("w".into(), Shape::vector(3, 0))], 1).unwrap_err()
        };
        assert_eq!(fault("full & (w[0] | w[1]").column, 8);
        assert_eq!(fault("full & ").column, 8);
        assert_eq!(fault("full )").column, 6);
        assert!(fault("ful & w[0]").action.contains("`full`"));
        assert!(fault("w[4]").message.contains("no bit 4"));
        assert_eq!(fault("full # w").column, 6);
        assert!(fault(&"(".repeat(5000)).message.contains("200 levels"));
    }

    #[test]
    fn nine_thousand_terms_do_not_overflow_the_stack() {
        let text = vec!["full"; 9_000].join(" + ");
        assert!(parse_expr(&text, &[("full".into(), Shape::SCALAR)], 1).is_ok());
    }

    proptest! {
        /// Arithmetic loses nothing and is then cut to the port: against the machine's integers.
        #[test]
        fn arithmetic_is_exact(x in 0u64..16, y in 0u64..16) {
            let signals = [("x".to_owned(), Shape::vector(3, 0)), ("y".to_owned(), Shape::vector(3, 0))];
            let spread = |v: u64| (0..4).map(|i| if v >> i & 1 == 1 { u64::MAX } else { 0 }).collect::<Vec<_>>();
            let scope = [spread(x), spread(y)];
            let run = |text: &str, width: u32| {
                let bits = parse_expr(text, &signals, width).unwrap().eval(scope.as_slice(), width);
                bits.iter().enumerate().fold(0u64, |n, (i, w)| n | (w & 1) << i)
            };
            prop_assert_eq!(run("x + y", 5), x + y);
            prop_assert_eq!(run("x + y", 4), (x + y) & 15);
            prop_assert_eq!(run("x - y", 8), x.wrapping_sub(y) & 255);
            prop_assert_eq!(run("x * y + 3", 9), x * y + 3);
            prop_assert_eq!(run("x + y > 9", 1), u64::from(x + y > 9));
            prop_assert_eq!(run("x - y < 0", 1), u64::from(x < y));
            prop_assert_eq!(run("x <= y ? x : y", 4), x.min(y));
            prop_assert_eq!(run("x == y", 1), u64::from(x == y));
            prop_assert_eq!(run("(x - y) * (x - y)", 8), x.abs_diff(y).pow(2));
        }
    }
}
