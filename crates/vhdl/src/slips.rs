//! Small changes of a VHDL source that a student may have meant, as far as other languages don't know them.

use front::{Change, Class, Lister, Writing};
use std::collections::BTreeSet;

/// How VHDL writes what small changes touch.
pub(crate) static WRITING: Writing = Writing {
    comment: "--",
    ignores_case: true,
    quotes_levels: true,
    is_reserved: crate::is_reserved,
    not_operands: &[
        "std_logic",
        "std_logic_vector",
        "std_ulogic",
        "unsigned",
        "signed",
        "integer",
        "ieee",
        "work",
        "rising_edge",
        "falling_edge",
    ],
    index: ("(", ")"),
    span: ("downto", " downto "),
    join: ("&", " & "),
    // A list of values follows an assignment; elsewhere parentheses hold parameters.
    list: ("(", &["<=", ":=", "("]),
    not: &["not"],
    not_written: ("not ", "not "),
    families: &[
        (Class::Operator, &["and", "or", "xor", "nand", "nor", "xnor"]),
        (Class::Operator, &["+", "-"]),
        (Class::Operator, &["shift_left", "shift_right", "rotate_left", "rotate_right"]),
        (Class::Operator, &["sll", "srl", "sra", "rol", "ror"]),
        (Class::Comparison, &["<", "<=", ">", ">=", "=", "/="]),
        (Class::Edge, &["rising_edge", "falling_edge"]),
    ],
    comparisons: &["=", "/=", "<", ">", ">="],
    ors: (&["or"], &["or", "when", "else", "then"]),
    ands: (&["and", "xor"], &["and", "or", "xor", "when", "else", "then"]),
    conditions: (&["if", "elsif", "when"], Some(&["then", "else", "generate", "=>"])),
    at_once: &[":="],
    constants,
    own: (joined, signs),
};

/// Constants, and the names of an enumeration: `type name is (a, b, c);`.
fn constants(lister: &Lister<'_>) -> BTreeSet<String> {
    let mut names = BTreeSet::new();
    let mut add = |at: usize| {
        if lister.is_name(at) {
            names.insert(lister.text(at).to_ascii_lowercase());
        }
    };
    for at in 0..lister.list.len() {
        if lister.is(at, "constant") {
            add(at + 1);
        }
        if lister.is(at, "type") && lister.is(at + 2, "is") && lister.text(at + 3) == "(" {
            (at + 4..lister.list.len()).step_by(2).take_while(|k| lister.is_name(*k)).for_each(&mut add);
        }
    }
    names
}

/// The whole file with signed numbers where it has unsigned ones, or the other way round.
fn signs(lister: &mut Lister<'_>, _text: &str) {
    for (from, to) in [("signed", "unsigned"), ("unsigned", "signed")] {
        let places = (0..lister.list.len()).filter(|at| lister.is(*at, from));
        let edits: Vec<_> = places.map(|at| (lister.range(at), to.to_owned())).collect();
        if !edits.is_empty() {
            lister.found.push(Change { class: Class::Signs, edits, from: from.into(), to: to.into() });
        }
    }
}

/// In VHDL, what stands on the two sides of `&` in the other order.
fn joined(lister: &mut Lister<'_>, at: usize, text: &str) {
    if lister.text(at) != "&" {
        return;
    }
    let stops = ["&", "<=", ":=", "=>", "when", "else", "and", "or", "xor", "+", "-", "=", "is", "return"];
    let (Some(first), Some(last)) = (lister.operand_start(at, &stops), lister.operand_end(at + 1, &stops)) else {
        return;
    };
    let (one, other) = (lister.start(first)..lister.end(at - 1), lister.start(at + 1)..lister.end(last - 1));
    let whole = one.start..other.end;
    lister.exchange(Class::Order, text, one, other, whole);
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
    fn comments_and_texts_are_no_tokens() {
        assert_eq!(
            texts("y <= '1' when s = \"01\" else \"text\" & x'high; -- no"),
            ["y", "<=", "'1'", "when", "s", "=", "\"01\"", "else", "&", "x", "'", "high", ";"]
        );
    }

    #[test]
    fn usual_slips_of_a_process_are_among_the_changes() {
        for wanted in [
            "if a /= '1' then y <= \"01\" and not b; end if;",
            "if a = '0' then y <= \"01\" and not b; end if;",
            "if a = '1' then y <= \"11\" and not b; end if;",
            "if a = '1' then y <= \"01\" or not b; end if;",
            "if a = '1' then y <= \"01\" and b; end if;",
            "if not (a = '1') then y <= \"01\" and not b; end if;",
        ] {
            has("if a = '1' then y <= \"01\" and not b; end if;", wanted);
        }
    }

    #[test]
    fn slips_of_the_pen_are_listed() {
        has("q <= q(6 downto 0) & q(7);", "q <= q(0) & q(7 downto 1);");
        has("q <= q(4 downto 0) & '0';", "q <= q(4 downto 0) & q(5);");
        has("y <= a & b;", "y <= b & a;");
        has("y <= signed(a) < SIGNED(b);", "y <= unsigned(a) < unsigned(b);");
        has("type t is (idle, run); if s = idle then", "type t is (idle, run); if s = run then");
    }

    #[test]
    fn the_clock_of_an_edge_is_not_inverted() {
        let list = made("if falling_edge(clk) then q <= d; end if;");
        assert!(list.iter().all(|l| !l.contains("not clk")), "{list:#?}");
        has("if Falling_Edge(clk) then q <= d; end if;", "if rising_edge(clk) then q <= d; end if;");
    }
}
