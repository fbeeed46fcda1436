//! Circuits of different build that compute the same: a proof has to find them equal, and a spoilt one different.

#![allow(clippy::unwrap_used, clippy::panic, reason = "a failing test stops where it stands")]

use base::Budget;
use corpus::arithmetic::{array_multiplier, lookahead_adder, ripple_adder, select_adder, wallace_multiplier};
use elab::HandInFile;
use verdict::ProofMethod;
use views::{Equivalence, equivalence};

fn compare((a, top_a): (&str, &str), (b, top_b): (&str, &str)) -> Equivalence {
    let file = |text: &str| [HandInFile { name: "m.v".into(), bytes: text.into() }];
    equivalence((&file(a), Some(top_a)), (&file(b), Some(top_b)), &Budget::hand_in()).unwrap()
}

/// Plain `+` and `*`.
const SUM: &str =
    "module plain(input [7:0] a, b, input cin, output [7:0] s, output cout); assign {cout, s} = a + b + cin; endmodule";
const PRODUCT: &str = "module plain(input [7:0] a, b, output [15:0] p); assign p = a * b; endmodule";

#[test]
fn adders_of_every_build_are_equal() {
    let builds = [(ripple_adder(8), "ripple"), (lookahead_adder(8), "lookahead"), (select_adder(8), "select")];
    for (text, top) in &builds {
        let found = compare((SUM, "plain"), (text, top));
        assert_eq!((found.equal, found.proof.rows), (Some(true), Some(1 << 17)), "{top}");
        // One carry too few: 128 + 128 loses its last one.
        let spoilt = text.replacen("cout = c[8]", "cout = c[7]", 1);
        assert_eq!(compare((SUM, "plain"), (&spoilt, top)).equal, Some(false), "{top}");
    }
}

#[test]
fn wide_adders_are_proved_equal_beyond_what_can_be_tried() {
    let ripple = ripple_adder(32);
    for (text, top) in [(lookahead_adder(32), "lookahead"), (select_adder(32), "select")] {
        let found = compare((&ripple, "ripple"), (&text, top));
        assert_eq!((found.equal, found.proof.method), (Some(true), Some(ProofMethod::Sat)), "{top}");
        let spoilt = text.replacen("cout = c[32]", "cout = c[31]", 1);
        let found = compare((&ripple, "ripple"), (&spoilt, top));
        assert_eq!(found.equal, Some(false), "{top}");
        let row = found.counterexample.unwrap();
        assert_ne!(row.a, row.b, "the row that is shown differs");
    }
}

#[test]
fn multipliers_of_every_build_are_equal() {
    let (array, wallace) = (array_multiplier(8), wallace_multiplier(8));
    assert_eq!(compare((PRODUCT, "plain"), (&array, "array")).equal, Some(true));
    let found = compare((&array, "array"), (&wallace, "wallace"));
    assert_eq!((found.equal, found.proof.rows), (Some(true), Some(1 << 16)));
    let spoilt = wallace.replacen("a[7] & b[7]", "a[7] & b[6]", 1);
    assert_eq!(compare((&array, "array"), (&spoilt, "wallace")).equal, Some(false));
}
