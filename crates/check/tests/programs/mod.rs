//! Random programs of statements, written out in both languages and run by an interpreter of the tests' own.

#![allow(dead_code, reason = "not every test uses all of it")]

use base::Random;

/// Bits of every number in a program.
pub(crate) const WIDTH: u32 = 3;
const MASK: u64 = (1 << WIDTH) - 1;

/// A number: of an input or register, of a place that the program writes, or made of others.
#[derive(Clone, Debug)]
pub(crate) enum Number {
    Read(usize),
    Constant(u64),
    Not(Box<Number>),
    Join(char, Box<Number>, Box<Number>),
    /// To the left by so many places, or to the right.
    Shift(bool, u32, Box<Number>),
}

/// A condition.
#[derive(Clone, Debug)]
pub(crate) enum Condition {
    Compare(&'static str, Number, Number),
    BitOf(usize, u32),
    Not(Box<Condition>),
    Both(Box<Condition>, Box<Condition>),
    Either(Box<Condition>, Box<Condition>),
}

/// A statement.
#[derive(Clone, Debug)]
pub(crate) enum Statement {
    Set(usize, Number),
    SetBit(usize, u32, Condition),
    If(Vec<(Condition, Vec<Statement>)>, Vec<Statement>),
    Case(Number, Vec<(Vec<u64>, Vec<Statement>)>, Vec<Statement>),
    /// Every bit of the first from a bit of the second, in the order turned round or not, joined with what stands there.
    Bits {
        to: usize,
        from: usize,
        op: char,
        is_turned: bool,
    },
}

/// What a program can name: places that can only be read, then those that it writes.
pub(crate) struct Names {
    pub(crate) read: &'static [&'static str],
    /// Written at once (`=`, `:=`).
    pub(crate) variables: &'static [&'static str],
    /// Written at the end of the clock's edge (`<=`).
    pub(crate) registers: &'static [&'static str],
}

impl Names {
    fn of(&self, at: usize) -> &'static str {
        self.read.iter().chain(self.variables).chain(self.registers).nth(at).unwrap()
    }

    fn len(&self) -> usize {
        self.read.len() + self.variables.len() + self.registers.len()
    }

    fn is_register(&self, at: usize) -> bool {
        at >= self.read.len() + self.variables.len()
    }

    fn written(&self, random: &mut Random) -> usize {
        self.read.len() + random.below(self.variables.len() + self.registers.len())
    }
}

pub(crate) struct Maker<'n> {
    pub(crate) names: &'n Names,
    pub(crate) random: Random,
}

impl Maker<'_> {
    pub(crate) fn number(&mut self, depth: usize) -> Number {
        if depth == 0 || self.random.below(4) == 0 {
            return if self.random.below(4) == 0 {
                Number::Constant(self.random.word() & MASK)
            } else {
                Number::Read(self.random.below(self.names.len()))
            };
        }
        match self.random.below(8) {
            0 => Number::Not(Box::new(self.number(depth - 1))),
            1 => {
                let (left, by) = (self.random.below(2) == 0, 1 + self.random.below(2) as u32);
                Number::Shift(left, by, Box::new(self.number(depth - 1)))
            }
            n => {
                let op = ['+', '-', '&', '|', '^', '+'][n - 2];
                Number::Join(op, Box::new(self.number(depth - 1)), Box::new(self.number(depth - 1)))
            }
        }
    }

    pub(crate) fn condition(&mut self, depth: usize) -> Condition {
        match self.random.below(if depth == 0 { 4 } else { 7 }) {
            0 => Condition::BitOf(self.random.below(self.names.len()), self.random.below(WIDTH as usize) as u32),
            1..=3 => {
                let op = ["==", "!=", "<", "<=", ">", ">="][self.random.below(6)];
                Condition::Compare(op, self.number(1), self.number(1))
            }
            4 => Condition::Not(Box::new(self.condition(depth - 1))),
            5 => Condition::Both(Box::new(self.condition(depth - 1)), Box::new(self.condition(depth - 1))),
            _ => Condition::Either(Box::new(self.condition(depth - 1)), Box::new(self.condition(depth - 1))),
        }
    }

    pub(crate) fn body(&mut self, depth: usize) -> Vec<Statement> {
        (0..1 + self.random.below(3)).map(|_| self.statement(depth)).collect()
    }

    fn statement(&mut self, depth: usize) -> Statement {
        let to = self.names.written(&mut self.random);
        match self.random.below(if depth == 0 { 5 } else { 9 }) {
            0..=2 => Statement::Set(to, self.number(2)),
            3 => Statement::SetBit(to, self.random.below(WIDTH as usize) as u32, self.condition(1)),
            4 => {
                let from = self.random.below(self.names.len());
                if from == to {
                    return Statement::Set(to, self.number(2));
                }
                let op = ['&', '|', '^', ' '][self.random.below(4)];
                Statement::Bits { to, from, op, is_turned: self.random.below(2) == 0 }
            }
            5 | 6 => {
                let arms = (0..1 + self.random.below(2)).map(|_| (self.condition(2), self.body(depth - 1))).collect();
                let otherwise = if self.random.below(3) == 0 { Vec::new() } else { self.body(depth - 1) };
                Statement::If(arms, otherwise)
            }
            _ => {
                let mut labels: Vec<u64> = (0..=MASK).collect();
                for i in (1..labels.len()).rev() {
                    let with = self.random.below(i + 1);
                    labels.swap(i, with);
                }
                let arms = (0..1 + self.random.below(3))
                    .map(|_| (labels.split_off(labels.len() - 1 - self.random.below(2)), self.body(depth - 1)))
                    .collect();
                Statement::Case(self.number(1), arms, self.body(depth - 1))
            }
        }
    }
}

/// What a program does: `now` holds what is read, `next` what registers get.
pub(crate) struct Machine<'n> {
    pub(crate) names: &'n Names,
    pub(crate) now: Vec<u64>,
    pub(crate) next: Vec<u64>,
}

impl<'n> Machine<'n> {
    /// One run of the program from these levels; gives what registers and variables hold after it.
    pub(crate) fn run(names: &'n Names, body: &[Statement], now: &[u64]) -> Vec<u64> {
        let mut machine = Machine { names, now: now.to_vec(), next: now.to_vec() };
        machine.body(body);
        let registers = names.read.len() + names.variables.len();
        machine.now[..registers].iter().chain(&machine.next[registers..]).copied().collect()
    }

    fn number(&self, number: &Number) -> u64 {
        let value = match number {
            Number::Read(at) => self.now[*at],
            Number::Constant(n) => *n,
            Number::Not(x) => !self.number(x),
            Number::Shift(true, by, x) => self.number(x) << by,
            Number::Shift(false, by, x) => self.number(x) >> by,
            Number::Join(op, x, y) => {
                let (x, y) = (self.number(x), self.number(y));
                match op {
                    '+' => x + y,
                    '-' => x.wrapping_sub(y),
                    '&' => x & y,
                    '|' => x | y,
                    _ => x ^ y,
                }
            }
        };
        value & MASK
    }

    fn holds(&self, condition: &Condition) -> bool {
        match condition {
            Condition::Compare(op, x, y) => {
                let order = self.number(x).cmp(&self.number(y));
                match *op {
                    "==" => order.is_eq(),
                    "!=" => order.is_ne(),
                    "<" => order.is_lt(),
                    "<=" => order.is_le(),
                    ">" => order.is_gt(),
                    _ => order.is_ge(),
                }
            }
            Condition::BitOf(at, bit) => self.now[*at] >> bit & 1 == 1,
            Condition::Not(x) => !self.holds(x),
            Condition::Both(x, y) => self.holds(x) && self.holds(y),
            Condition::Either(x, y) => self.holds(x) || self.holds(y),
        }
    }

    fn place(&mut self, to: usize) -> &mut u64 {
        if self.names.is_register(to) { &mut self.next[to] } else { &mut self.now[to] }
    }

    fn set_bit(&mut self, to: usize, bit: u32, level: bool) {
        let place = self.place(to);
        *place = *place & !(1 << bit) | u64::from(level) << bit;
    }

    fn body(&mut self, body: &[Statement]) {
        for statement in body {
            match statement {
                Statement::Set(to, number) => {
                    let value = self.number(number);
                    *self.place(*to) = value;
                }
                Statement::SetBit(to, bit, condition) => {
                    let level = self.holds(condition);
                    self.set_bit(*to, *bit, level);
                }
                Statement::If(arms, otherwise) => {
                    let taken = arms.iter().find(|(c, _)| self.holds(c)).map_or(otherwise, |(_, b)| b);
                    self.body(taken);
                }
                Statement::Case(subject, arms, otherwise) => {
                    let value = self.number(subject);
                    let taken = arms.iter().find(|(l, _)| l.contains(&value)).map_or(otherwise, |(_, b)| b);
                    self.body(taken);
                }
                Statement::Bits { to, from, op, is_turned } => {
                    for i in 0..WIDTH {
                        let source = if *is_turned { WIDTH - 1 - i } else { i };
                        let (x, y) = (self.now[*to] >> i & 1, self.now[*from] >> source & 1);
                        let level = match op {
                            '&' => x & y,
                            '|' => x | y,
                            '^' => x ^ y,
                            _ => y,
                        };
                        self.set_bit(*to, i, level == 1);
                    }
                }
            }
        }
    }
}

/// The program as text.
pub(crate) struct Writer<'n> {
    pub(crate) names: &'n Names,
    pub(crate) is_vhdl: bool,
}

impl Writer<'_> {
    fn number(&self, number: &Number) -> String {
        match (number, self.is_vhdl) {
            (Number::Read(at), _) => self.names.of(*at).into(),
            (Number::Constant(n), false) => format!("{WIDTH}'d{n}"),
            (Number::Constant(n), true) => format!("to_unsigned({n}, {WIDTH})"),
            (Number::Not(x), false) => format!("(~{})", self.number(x)),
            (Number::Not(x), true) => format!("(not {})", self.number(x)),
            (Number::Shift(left, by, x), false) => {
                format!("({} {} {by})", self.number(x), if *left { "<<" } else { ">>" })
            }
            (Number::Shift(left, by, x), true) => {
                format!("shift_{}({}, {by})", if *left { "left" } else { "right" }, self.number(x))
            }
            (Number::Join(op, x, y), false) => format!("({} {op} {})", self.number(x), self.number(y)),
            (Number::Join(op, x, y), true) => {
                let op = match op {
                    '&' => "and",
                    '|' => "or",
                    '^' => "xor",
                    '+' => "+",
                    _ => "-",
                };
                format!("({} {op} {})", self.number(x), self.number(y))
            }
        }
    }

    fn condition(&self, condition: &Condition) -> String {
        match (condition, self.is_vhdl) {
            (Condition::Compare(op, x, y), false) => format!("({} {op} {})", self.number(x), self.number(y)),
            (Condition::Compare(op, x, y), true) => {
                let op = match *op {
                    "==" => "=",
                    "!=" => "/=",
                    op => op,
                };
                format!("({} {op} {})", self.number(x), self.number(y))
            }
            (Condition::BitOf(at, bit), false) => format!("{}[{bit}]", self.names.of(*at)),
            (Condition::BitOf(at, bit), true) => format!("({}({bit}) = '1')", self.names.of(*at)),
            (Condition::Not(x), false) => format!("!({})", self.condition(x)),
            (Condition::Not(x), true) => format!("(not {})", self.condition(x)),
            (Condition::Both(x, y), false) => format!("({} && {})", self.condition(x), self.condition(y)),
            (Condition::Both(x, y), true) => format!("({} and {})", self.condition(x), self.condition(y)),
            (Condition::Either(x, y), false) => format!("({} || {})", self.condition(x), self.condition(y)),
            (Condition::Either(x, y), true) => format!("({} or {})", self.condition(x), self.condition(y)),
        }
    }

    fn becomes(&self, to: usize) -> &'static str {
        match (self.names.is_register(to), self.is_vhdl) {
            (true, _) => "<=",
            (false, true) => ":=",
            (false, false) => "=",
        }
    }

    pub(crate) fn body(&self, body: &[Statement], indent: usize) -> String {
        if body.is_empty() && self.is_vhdl {
            return format!("{}null;\n", " ".repeat(indent));
        }
        body.iter().map(|s| self.statement(s, indent)).collect()
    }

    fn statement(&self, statement: &Statement, indent: usize) -> String {
        let gap = " ".repeat(indent);
        let more = indent + 2;
        match (statement, self.is_vhdl) {
            (Statement::Set(to, number), _) => {
                format!("{gap}{} {} {};\n", self.names.of(*to), self.becomes(*to), self.number(number))
            }
            (Statement::SetBit(to, bit, condition), false) => {
                format!("{gap}{}[{bit}] {} {};\n", self.names.of(*to), self.becomes(*to), self.condition(condition))
            }
            (Statement::SetBit(to, bit, condition), true) => {
                let (name, becomes) = (self.names.of(*to), self.becomes(*to));
                format!(
                    "{gap}if {} then {name}({bit}) {becomes} '1'; else {name}({bit}) {becomes} '0'; end if;\n",
                    self.condition(condition)
                )
            }
            (Statement::If(arms, otherwise), false) => {
                let mut text = gap.clone();
                for (i, (condition, body)) in arms.iter().enumerate() {
                    let word = if i == 0 { "if" } else { " else if" };
                    text += &format!("{word} ({}) begin\n{}{gap}end", self.condition(condition), self.body(body, more));
                }
                if !otherwise.is_empty() {
                    text += &format!(" else begin\n{}{gap}end", self.body(otherwise, more));
                }
                text + "\n"
            }
            (Statement::If(arms, otherwise), true) => {
                let mut text = String::new();
                for (i, (condition, body)) in arms.iter().enumerate() {
                    let word = if i == 0 { "if" } else { "elsif" };
                    text += &format!("{gap}{word} {} then\n{}", self.condition(condition), self.body(body, more));
                }
                if !otherwise.is_empty() {
                    text += &format!("{gap}else\n{}", self.body(otherwise, more));
                }
                text + &format!("{gap}end if;\n")
            }
            (Statement::Case(subject, arms, otherwise), false) => {
                let mut text = format!("{gap}case ({})\n", self.number(subject));
                for (labels, body) in arms {
                    let labels: Vec<String> = labels.iter().map(|l| format!("{WIDTH}'d{l}")).collect();
                    text += &format!("{gap}  {}: begin\n{}{gap}  end\n", labels.join(", "), self.body(body, more + 2));
                }
                text + &format!("{gap}  default: begin\n{}{gap}  end\n{gap}endcase\n", self.body(otherwise, more + 2))
            }
            (Statement::Case(subject, arms, otherwise), true) => {
                let mut text = format!("{gap}case to_integer({}) is\n", self.number(subject));
                for (labels, body) in arms {
                    let labels: Vec<String> = labels.iter().map(u64::to_string).collect();
                    text += &format!("{gap}  when {} =>\n{}", labels.join(" | "), self.body(body, more + 2));
                }
                text + &format!("{gap}  when others =>\n{}{gap}end case;\n", self.body(otherwise, more + 2))
            }
            (Statement::Bits { to, from, op, is_turned }, is_vhdl) => {
                let (to_name, from_name, becomes) = (self.names.of(*to), self.names.of(*from), self.becomes(*to));
                let (open, close) = if is_vhdl { ("(", ")") } else { ("[", "]") };
                let at = if *is_turned { format!("{} - i", WIDTH - 1) } else { "i".into() };
                let source = format!("{from_name}{open}{at}{close}");
                let place = format!("{to_name}{open}i{close}");
                let word = match (op, is_vhdl) {
                    ('&', true) => "and",
                    ('|', true) => "or",
                    ('^', true) => "xor",
                    ('&', false) => "&",
                    ('|', false) => "|",
                    _ => "^",
                };
                let value = if *op == ' ' { source } else { format!("{place} {word} {source}") };
                if is_vhdl {
                    format!(
                        "{gap}for i in 0 to {} loop\n{gap}  {place} {becomes} {value};\n{gap}end loop;\n",
                        WIDTH - 1
                    )
                } else {
                    format!("{gap}for (i = 0; i < {WIDTH}; i = i + 1) {place} {becomes} {value};\n")
                }
            }
        }
    }
}

/// Another program: one constant, operator or bit of it is another.
pub(crate) fn spoilt(body: &[Statement], random: &mut Random) -> Vec<Statement> {
    let mut body = body.to_vec();
    let places = spoil(&mut body, None, 0, random);
    let chosen = random.below(places.max(1));
    spoil(&mut body, Some(chosen), 0, random);
    body
}

/// Counts the places that can be spoilt, and spoils the chosen one.
fn spoil(body: &mut [Statement], chosen: Option<usize>, start: usize, random: &mut Random) -> usize {
    let mut at = start;
    for statement in body {
        let hit = chosen == Some(at);
        at += 1;
        match statement {
            Statement::Set(_, number) if hit => {
                *number =
                    Number::Join('^', Box::new(number.clone()), Box::new(Number::Constant(1 + random.word() % MASK)))
            }
            Statement::SetBit(_, bit, _) if hit => *bit = (*bit + 1) % WIDTH,
            Statement::Bits { is_turned, .. } if hit => *is_turned = !*is_turned,
            Statement::If(arms, otherwise) => {
                if hit {
                    let condition = arms[0].0.clone();
                    arms[0].0 = Condition::Not(Box::new(condition));
                }
                for (_, body) in arms {
                    at = spoil(body, chosen, at, random);
                }
                at = spoil(otherwise, chosen, at, random);
            }
            Statement::Case(_, arms, otherwise) => {
                if hit {
                    arms[0].0[0] ^= 1;
                    let label = arms[0].0[0];
                    // A label may stand once only.
                    let mut seen = 0;
                    for (labels, _) in arms.iter() {
                        seen += labels.iter().filter(|l| **l == label).count();
                    }
                    if seen > 1 {
                        arms[0].0[0] ^= 1;
                    }
                }
                for (_, body) in arms {
                    at = spoil(body, chosen, at, random);
                }
                at = spoil(otherwise, chosen, at, random);
            }
            _ => {}
        }
    }
    at
}
