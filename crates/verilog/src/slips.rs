//! Small changes of a Verilog source that a student may have meant, as far as other languages don't know them.

use front::{Change, Class, Kind, Lister, Writing};
use std::collections::BTreeSet;
use std::ops::Range;

/// Ranges that are tried on a wire without one.
const MOST_RANGES: usize = 3;

/// Words and operators that differ by a letter, or by being written once or twice (IEEE 1364-2005 5.1.9 and 5.1.10, 9.5.1).
const TWINS: [[&str; 2]; 4] = [["&", "&&"], ["|", "||"], ["case", "casez"], ["~", "!"]];

/// How Verilog writes what small changes touch.
pub(crate) static WRITING: Writing = Writing {
    comment: "//",
    ignores_case: false,
    quotes_levels: false,
    is_reserved: crate::is_reserved,
    not_operands: &[],
    index: ("[", "]"),
    span: (":", ":"),
    join: (",", ", "),
    list: ("{", &[]),
    not: &["~", "!"],
    not_written: ("~", "!"),
    families: &[
        (Class::Operator, &["&", "|", "^", "~^"]),
        (Class::Operator, &["&&", "||"]),
        (Class::Operator, &["+", "-", "^"]),
        (Class::Operator, &["<<", ">>", ">>>"]),
        (Class::Operator, &["and", "or", "xor", "nand", "nor", "xnor"]),
        (Class::Operator, &["not", "buf"]),
        (Class::Comparison, &["==", "!="]),
        (Class::Comparison, &["<", "<=", ">", ">="]),
        (Class::Edge, &["posedge", "negedge"]),
    ],
    comparisons: &["==", "!=", "<", ">", ">="],
    ors: (&["|", "||"], &["|", "||"]),
    ands: (&["&", "&&", "^"], &["&", "&&", "|", "||", "^"]),
    conditions: (&["if", "elsif"], None),
    at_once: &["=", ":="],
    constants,
    own: (of_token, of_text),
};

fn of_token(lister: &mut Lister<'_>, at: usize, text: &str) {
    sign(lister, at);
    sign_of_one(lister, at);
    twin(lister, at);
    base(lister, at);
    chain(lister, at);
    connections(lister, at);
    width(lister, at, text);
}

fn of_text(lister: &mut Lister<'_>, text: &str) {
    bases(lister);
    assignments(lister, text);
    signs(lister);
}

/// Parameters, and the names of an enumeration.
fn constants(lister: &Lister<'_>) -> BTreeSet<String> {
    let mut names = BTreeSet::new();
    let mut add = |at: usize| {
        if lister.is_name(at) {
            names.insert(lister.text(at).to_ascii_lowercase());
        }
    };
    let end = lister.list.len();
    for at in 0..end {
        if matches!(lister.text(at), "parameter" | "localparam") {
            // One list: every name before a `=` up to the end of the statement.
            let stop = (at..end).find(|k| lister.text(*k) == ";").unwrap_or(end);
            (at + 1..stop).filter(|k| lister.text(*k + 1) == "=").for_each(&mut add);
        }
        if lister.text(at) == "enum" {
            let open = (at..end).find(|k| lister.text(*k) == "{").unwrap_or(end);
            let close = (open..end).find(|k| lister.text(*k) == "}").unwrap_or(end);
            (open..close).filter(|k| matches!(lister.text(k.wrapping_sub(1)), "{" | ",")).for_each(&mut add);
        }
    }
    names
}

/// The whole file with signed numbers where it has unsigned ones, or the other way round.
fn signs(lister: &mut Lister<'_>) {
    let places = |word: &str| -> Vec<usize> { (0..lister.list.len()).filter(|at| lister.is(*at, word)).collect() };
    let signed = places("signed");
    let is_call = |at: usize| at > 0 && lister.text(at - 1) == "$";
    let plain = |at: &usize| (lister.range(*at), if is_call(*at) { "unsigned" } else { "" }.to_owned());
    let mut list = vec![(signed.iter().map(plain).collect::<Vec<_>>(), "signed", "unsigned")];
    if signed.is_empty() {
        let is_vector = |at: &usize| {
            ["input", "wire", "reg", "logic", "output"].contains(&lister.text(*at)) && lister.text(*at + 1) == "["
        };
        let edits =
            (0..lister.list.len()).filter(is_vector).map(|at| (lister.end(at)..lister.end(at), " signed".to_owned()));
        list.push((edits.collect(), "unsigned", "signed"));
    }
    list.retain(|(edits, ..)| !edits.is_empty());
    let change = |(edits, from, to): (Vec<_>, &str, &str)| Change {
        class: Class::Signs,
        edits,
        from: from.into(),
        to: to.into(),
    };
    lister.found.extend(list.into_iter().map(change));
}

/// `&` for `&&`, `case` for `casez`.
fn twin(lister: &mut Lister<'_>, at: usize) {
    let own = lister.text(at);
    for pair in TWINS {
        if let Some(k) = pair.iter().position(|w| *w == own) {
            lister.found.push(Change::one(Class::Twin, lister.range(at), own, pair[1 - k]));
        }
    }
}

/// `2 < a < 9` compares a bit with 9: both comparisons are meant.
fn chain(lister: &mut Lister<'_>, at: usize) {
    const RELATIONS: [&str; 4] = ["<", "<=", ">", ">="];
    let middle = at + 1;
    if !RELATIONS.contains(&lister.text(at)) || !lister.is_name(middle) || !RELATIONS.contains(&lister.text(at + 2)) {
        return;
    }
    let (one, name, other) =
        (lister.text(at).to_owned(), lister.text(middle).to_owned(), lister.text(at + 2).to_owned());
    let end = lister.range(middle).end;
    let change = Change {
        class: Class::Twin,
        edits: vec![(end..end, format!(" && {name}"))],
        from: format!("{one} {name} {other}"),
        to: format!("{one} {name} && {name} {other}"),
    };
    lister.found.push(change);
}

/// All numbers of digits 0 and 1 as bits at once: the labels of a case, say.
fn bases(lister: &mut Lister<'_>) {
    let numbers = (0..lister.list.len()).filter_map(|at| Some((lister.range(at), meant_as_bits(lister, at)?)));
    let edits: Vec<(Range<usize>, String)> = numbers.collect();
    if let [(_, to), _, ..] = edits.as_slice() {
        let (from, to) = (to.rsplit('b').next().unwrap_or(to).to_owned(), to.clone());
        lister.found.push(Change { class: Class::Base, edits, from, to });
    }
}

/// Digits 0 and 1 that were meant to be bits: `0010:` is ten, `2'd10` is ten modulo four.
fn base(lister: &mut Lister<'_>, at: usize) {
    if let Some(meant) = meant_as_bits(lister, at) {
        lister.found.push(Change::one(Class::Base, lister.range(at), lister.text(at), meant));
    }
}

fn meant_as_bits(lister: &Lister<'_>, at: usize) -> Option<String> {
    if lister.list.get(at).is_none_or(|t| t.kind != Kind::Number) {
        return None;
    }
    let own = lister.text(at);
    let is_bits = |digits: &str| digits.len() > 1 && digits.chars().all(|c| matches!(c, '0' | '1'));
    match own.split_once('\'') {
        None if is_bits(own) && lister.text(at.wrapping_sub(1)) != "[" && lister.text(at.wrapping_sub(1)) != ":" => {
            Some(format!("{}'b{own}", own.len()))
        }
        Some((size, rest)) if rest.starts_with(['d', 'h', 'D', 'H']) && is_bits(&rest[1..]) => {
            Some(format!("{size}'b{}", &rest[1..]))
        }
        _ => None,
    }
}

/// Two neighbours in connections by place.
fn connections(lister: &mut Lister<'_>, at: usize) {
    if !lister.is_name(at) || !lister.is_name(at + 1) || lister.text(at + 2) != "(" {
        return;
    }
    let mut places = Vec::new();
    let mut k = at + 3;
    while lister.is_name(k) {
        places.push(k);
        match lister.text(k + 1) {
            "," => k += 2,
            ")" => break,
            _ => return,
        }
    }
    for pair in places.windows(2) {
        let (one, other) = (lister.text(pair[0]).to_owned(), lister.text(pair[1]).to_owned());
        let change = Change {
            class: Class::Order,
            edits: vec![(lister.range(pair[0]), other.clone()), (lister.range(pair[1]), one.clone())],
            from: format!("{one}, {other}"),
            to: format!("{other}, {one}"),
        };
        lister.found.push(change);
    }
}

/// A wire without a range gets one that stands elsewhere.
fn width(lister: &mut Lister<'_>, at: usize, text: &str) {
    let declares = matches!(lister.text(at), "wire" | "reg" | "logic") && lister.is_name(at + 1);
    if !declares {
        return;
    }
    let mut ranges: Vec<String> = Vec::new();
    for k in 0..lister.list.len() {
        if lister.text(k) == "["
            && lister.text(k + 2) == ":"
            && lister.text(k + 4) == "]"
            && matches!(lister.text(k.wrapping_sub(1)), "wire" | "reg" | "logic" | "input" | "output")
        {
            let range = text[lister.range(k).start..lister.range(k + 4).end].to_owned();
            if !ranges.contains(&range) && ranges.len() < MOST_RANGES {
                ranges.push(range);
            }
        }
    }
    let (word, name) = (lister.text(at).to_owned(), lister.text(at + 1).to_owned());
    let end = lister.range(at).end;
    for range in ranges {
        let change = Change {
            class: Class::Width,
            edits: vec![(end..end, format!(" {range}"))],
            from: format!("{word} {name}"),
            to: format!("{word} {range} {name}"),
        };
        lister.found.push(change);
    }
}

/// The two's complement for the complement, and the other way round.
fn sign(lister: &mut Lister<'_>, at: usize) {
    let other = match lister.text(at) {
        "-" => "~",
        "~" => "-",
        _ => return,
    };
    let before = at.checked_sub(1).map_or("", |b| lister.text(b));
    let is_unary = matches!(before, "=" | "<=" | "(" | "{" | "," | "?" | ":" | "&" | "|" | "^" | "+" | "==");
    if is_unary && (lister.is_name(at + 1) || lister.text(at + 1) == "(") {
        let token = lister.list[at].clone();
        let shown = if lister.is_name(at + 1) { lister.text(at + 1) } else { "(…)" }.to_owned();
        let (from, to) = (format!("{}{shown}", token.text), format!("{other}{shown}"));
        // Of a single bit the two's complement is the bit itself: leaving the inversion out comes first.
        let class = if other == "~" { Class::Operator } else { Class::Order };
        lister.found.push(Change { class, edits: vec![(token.range, other.into())], from, to });
    }
}

/// A vector of its own read with a sign, or without.
fn sign_of_one(lister: &mut Lister<'_>, at: usize) {
    let declares = ["input", "output", "wire", "reg", "logic"].contains(&lister.text(at));
    let token = lister.list[at].clone();
    if declares && lister.text(at + 1) == "[" {
        let edits = vec![(token.range.end..token.range.end, " signed".to_owned())];
        let to = format!("{} signed", token.text);
        lister.found.push(Change { class: Class::Sign, edits, from: token.text.into(), to });
    } else if declares && lister.text(at + 1) == "signed" {
        let edits = vec![(token.range.end..lister.end(at + 1), String::new())];
        let from = format!("{} signed", token.text);
        lister.found.push(Change { class: Class::Sign, edits, from, to: token.text.into() });
    }
}

/// In a Verilog block, all assignments of the other kind.
fn assignments(lister: &mut Lister<'_>, text: &str) {
    let starts: Vec<usize> = (0..lister.list.len()).filter(|at| lister.text(*at).starts_with("always")).collect();
    for start in starts {
        let ends = |at: &usize| {
            matches!(lister.text(*at), "assign" | "endmodule" | "initial" | "module")
                || lister.text(*at).starts_with("always")
        };
        let end = (start + 1..lister.list.len()).find(ends).unwrap_or(lister.list.len());
        let mut depth = 0usize;
        let mut places: [Vec<Range<usize>>; 2] = [Vec::new(), Vec::new()];
        for at in start..end {
            match lister.text(at) {
                "(" => depth += 1,
                ")" => depth = depth.saturating_sub(1),
                "=" if depth == 0 => places[0].push(lister.list[at].range.clone()),
                "<=" if depth == 0 => places[1].push(lister.list[at].range.clone()),
                _ => {}
            }
        }
        let [blocking, later] = places;
        for (list, from, to) in [(blocking, "=", "<="), (later, "<=", "=")] {
            if list.is_empty() || text.len() < list.len() {
                continue;
            }
            let edits = list.into_iter().map(|r| (r, to.to_owned())).collect();
            lister.found.push(Change { class: Class::Assignments, edits, from: from.into(), to: to.into() });
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn made(text: &str) -> Vec<String> {
        front::changes(text, &WRITING, &[]).iter().map(|c| c.applied(text)).collect()
    }

    fn has(text: &str, other: &str) {
        let list = made(text);
        assert!(list.iter().any(|l| l == other), "{other} is not among {list:#?}");
    }

    fn texts(text: &str) -> Vec<&str> {
        Lister::new(text, &WRITING).list.into_iter().map(|t| t.text).collect()
    }

    #[test]
    fn odd_ends_of_a_file_do_not_stop_it() {
        for text in ["\"", "/*", "'", "4'", "é", "--", "'0", "`"] {
            made(text);
        }
    }

    #[test]
    fn comments_directives_and_strings_are_no_tokens() {
        let text = "`timescale 1ns/1ps\nassign y = ~(a&&b) // or a\n | 4'b1_0z; /* c */ $display(\"a & b\");";
        assert_eq!(
            texts(text),
            ["assign", "y", "=", "~", "(", "a", "&&", "b", ")", "|", "4'b1_0z", ";", "$", "display", "(", ")", ";"]
        );
    }

    #[test]
    fn usual_slips_of_an_assignment_are_among_the_changes() {
        for wanted in [
            "assign y = a | ~b | c[1];",
            "assign y = a & b | c[1];",
            "assign y = a & ~b | c[0];",
            "assign y = a & ~b ;",
            "assign y =  ~b | c[1];",
            "assign y = ~a & ~b | c[1];",
            "assign y =  c[1];",
        ] {
            has("assign y = a & ~b | c[1];", wanted);
        }
    }

    #[test]
    fn slips_of_the_pen_are_listed() {
        has("assign y = a && b;", "assign y = a & b;");
        has("case (s) 0010: y = 1; 0100: y = 2;", "case (s) 4'b0010: y = 1; 4'b0100: y = 2;");
        has("assign y = 2 < a < 9;", "assign y = 2 < a && a < 9;");
        has("case (s) 0010: y = 1;", "case (s) 4'b0010: y = 1;");
        has("if (s == 2'd10) y = 1;", "if (s == 2'b10) y = 1;");
        has("casez (s)", "case (s)");
        has("q <= {q[6:0], q[7]};", "q <= {q[0], q[7:1]};");
        has("q <= {q[0], q[7:1]};", "q <= {q[6:0], q[7]};");
        has("q <= {q[4:0], 1'b0};", "q <= {q[4:0], q[5]};");
        has("q <= {1'b0, q[5:1]};", "q <= {q[0], q[5:1]};");
        has("half h(a, b, s, c);", "half h(a, b, c, s);");
        has("input [3:0] a; wire t;", "input [3:0] a; wire [3:0] t;");
        has("assign y = {a, b};", "assign y = {b, a};");
        has(
            "parameter N = 4; always @(posedge c) if (q == N) q <= 0;",
            "parameter N = 4; always @(posedge c) if (q == N - 1) q <= 0;",
        );
    }

    #[test]
    fn a_whole_file_is_read_with_the_other_kind_of_numbers() {
        has(
            "input [3:0] a, b; wire [3:0] c; assign y = a < b;",
            "input signed [3:0] a, b; wire signed [3:0] c; assign y = a < b;",
        );
        has("input signed [3:0] a; assign y = a < $signed(b);", "input  [3:0] a; assign y = a < $unsigned(b);");
    }

    #[test]
    fn a_bound_of_a_vector_is_one_more_or_one_less() {
        has("wire [15:0] s;", "wire [16:0] s;");
        has("wire [15:0] s;", "wire [14:0] s;");
    }

    #[test]
    fn the_clock_of_an_edge_is_not_inverted() {
        let list = made("always @(negedge clk) q <= d;");
        assert!(list.iter().all(|l| !l.contains("~clk")), "{list:#?}");
        has("always @(negedge clk) q <= d;", "always @(posedge clk) q <= d;");
    }

    #[test]
    fn all_assignments_of_a_block_change_together() {
        has(
            "always @(posedge clk) begin a = b; c = a; end assign d = c;",
            "always @(posedge clk) begin a <= b; c <= a; end assign d = c;",
        );
    }
}
