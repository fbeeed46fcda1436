//! `zesty-gate derive` as a script sees it.

#![expect(clippy::unwrap_used, reason = "tests")]

use assert_cmd::Command;
use serde_json::Value;

fn derive(arguments: &[&str]) -> (i32, String, String) {
    let output = Command::cargo_bin("zesty-gate").unwrap().arg("derive").args(arguments).output().unwrap();
    let text = |bytes: &[u8]| String::from_utf8(bytes.to_vec()).unwrap();
    (output.status.code().unwrap(), text(&output.stdout), text(&output.stderr))
}

fn json(arguments: &[&str]) -> Value {
    let (code, out, _) = derive(&[arguments, &["--json"]].concat());
    assert_eq!(code, 0);
    serde_json::from_str(&out).unwrap()
}

#[test]
fn the_json_has_the_keys_that_scripts_rely_on() {
    let found = json(&["--minterms", "f(a,b,c,d)=5,7,11,13 d=0,2"]);
    let f = &found["outputs"][0];
    assert_eq!(found["inputs"], serde_json::json!(["a", "b", "c", "d"]));
    assert_eq!(f["minterms"], serde_json::json!([5, 7, 11, 13]));
    assert_eq!(f["dont_cares"], serde_json::json!([0, 2]));
    assert_eq!(f["canonical"]["sop"], "a' b c' d + a' b c d + a b' c d + a b c' d");
    assert_eq!(f["sop"]["covers"][0]["cubes"], serde_json::json!(["01-1", "1011", "-101"]));
    assert_eq!((f["sop"]["terms"].as_u64(), f["sop"]["literals"].as_u64()), (Some(3), Some(10)));
    assert_eq!(f["sop"]["optimal"], true);
    assert_eq!(f["pos"]["covers"][0]["text"], "(a + b) (a' + b' + c') (b + c) d");
    assert_eq!(f["nand_nand"], "((a' b d)' (a b' c d)' (b c' d)')'");
    assert!(f["primes"].as_array().unwrap().iter().any(|p| p["cube"] == "01-1" && p["essential"] == true));
}

#[test]
fn every_way_of_giving_the_majority_of_three_gives_one_minimal_sum() {
    let folder = tempfile::tempdir().unwrap();
    let file = |name: &str, text: &str| {
        let path = folder.path().join(name);
        std::fs::write(&path, text).unwrap();
        path.display().to_string()
    };
    let csv = file("m.csv", "a,b,c,m\n0,0,-,0\n0,1,0,0\n0,1,1,1\n1,0,0,0\n1,0,1,1\n1,1,-,1\n");
    let pla = file("m.pla", ".i 3\n.o 1\n.ilb a b c\n.ob m\n.p 3\n11- 1\n1-1 1\n-11 1\n.e\n");
    let ways: [&[&str]; 7] = [
        &["--minterms", "m(a,b,c)=3,5,6,7"],
        &["--minterms", "m(a,b,c) = Σm(3, 5, 6, 7)"],
        &["--maxterms", "m(a,b,c)=0,1,2,4"],
        &["--expr", "m = ab + ac + bc", "--inputs", "a,b,c"],
        &["--expr", "m(a,b,c) = (a and b) or (c and (a xor b))"],
        &["--table", &csv],
        &["--pla", &pla],
    ];
    for way in ways {
        let found = json(way);
        assert_eq!(found["outputs"][0]["sop"]["covers"][0]["text"], "a b + a c + b c", "{way:?}");
        assert_eq!(found["outputs"][0]["sop"]["covers"].as_array().unwrap().len(), 1);
    }
}

#[test]
fn vectors_add_and_codes_have_their_tables() {
    let found = json(&["--expr", "s[2:0] = x + y", "--inputs", "x[1:0],y[1:0]", "--shared"]);
    let names: Vec<&str> = found["outputs"].as_array().unwrap().iter().map(|o| o["name"].as_str().unwrap()).collect();
    assert_eq!(names, ["s[2]", "s[1]", "s[0]"]);
    assert_eq!(found["outputs"][2]["xor"]["text"], "x[0] ⊕ y[0]");
    assert_eq!(found["shared"]["optimal"], true);
    let gray = json(&["--code", "gray", "--inputs", "b[2:0]"]);
    assert_eq!(gray["outputs"][1]["minterms"], serde_json::json!([2, 3, 4, 5]));
}

#[test]
fn text_fits_eighty_columns_in_every_notation() {
    for notation in ["prime", "overline", "operators", "words"] {
        let list = "f(a,b,c,d)=1,3,4,6,8,9,10,12,14,15 d=2";
        let (code, out, _) = derive(&["--minterms", list, "--notation", notation, "--steps"]);
        assert_eq!(code, 0);
        for line in out.lines() {
            assert!(line.chars().filter(|c| *c != '\u{305}').count() <= 80, "{line}");
        }
        assert!(out.contains("minimal SOP") && out.contains("so it is essential"));
    }
}

#[test]
fn what_cannot_be_used_is_one_sentence_with_its_place_and_status_two() {
    let wide = format!("f({})=1", (0..17).map(|i| format!("x{i}")).collect::<Vec<_>>().join(","));
    let cases: [(&[&str], &str); 9] = [
        (&["--minterms", &wide], "17 inputs are too many"),
        (&["--minterms", "f(a,b,c,d)=1,16"], "column 14: there is no row 16"),
        (&["--minterms", "f(a,b)=1,2 d=2"], "column 14: row 2 is both a term and a don't-care"),
        (&["--minterms", "a(a,b)=1"], "`a` is named twice"),
        (&["--expr", "f = (a + b"], "column 5: This `(` is never closed."),
        (&["--expr", "a = a + b"], "`a` is named twice"),
        (&["--expr", "f = \u{430} + b"], "column 5: `\u{430}` (U+0430) can't stand in an expression."),
        (&["--expr", "f = a", "--notation", "dots"], "Unknown notation `dots`"),
        (&["--table", "/nowhere.csv"], "can't be read"),
    ];
    for (arguments, wanted) in cases {
        let (code, out, err) = derive(arguments);
        assert_eq!((code, out.as_str()), (2, ""), "{arguments:?}");
        assert!(err.contains(wanted), "{arguments:?}: {err}");
        assert_eq!(err.trim().lines().count(), 1, "{err}");
    }
}

#[test]
fn a_batch_answers_line_by_line_and_tells_the_faulty_ones() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("batch.txt");
    std::fs::write(&path, "f(a,b)=1,2\n\n# a remark\nf(a,b\ng(a,b)=0 d=3\n").unwrap();
    let (code, out, _) = derive(&["--batch", path.to_str().unwrap(), "--json"]);
    let lines: Vec<Value> = out.lines().map(|l| serde_json::from_str(l).unwrap()).collect();
    assert_eq!((code, lines.len()), (2, 3));
    assert_eq!(lines[0]["outputs"][0]["sop"]["terms"], 2);
    assert_eq!(lines[1]["line"], 4);
    assert_eq!(lines[2]["outputs"][0]["sop"]["covers"][0]["text"], "a' b'");
}
