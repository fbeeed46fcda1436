//! Rosters as spreadsheets of several countries and school systems export them: separators, byte order marks, quotes, accents,
//! old encodings (common practice).

#![allow(clippy::unwrap_used, reason = "a failing test stops where it stands")]

use course::{Known, Outcome, PersonName, RosterFault, compare, read_roster};
use std::collections::BTreeSet;

/// Sign-in name, whole name, family name, section, number.
fn people(bytes: &[u8]) -> Vec<[String; 5]> {
    let roster = read_roster(bytes).unwrap();
    assert_eq!(roster.remarks, []);
    let entry = |e: course::Entry| {
        [e.sign_in, e.name.whole, e.name.family, e.section.unwrap_or_default(), e.number.unwrap_or_default()]
    };
    roster.entries.into_iter().map(entry).collect()
}

#[test]
fn exports_of_several_countries_say_the_same() {
    let wanted = [["ximena", "Ximena Ibáñez", "Ibáñez", "A", "4711"], ["juergen", "Jürgen Groß", "Groß", "B", "4712"]];
    let english = "Student number,Surname,First name,Username,Section\r\n4711,Ibáñez,Ximena,ximena,A\r\n4712,Groß,Jürgen,juergen,B\r\n";
    let german = "\u{feff}Benutzername;Name;Vorname;Matrikel-Nr.;Gruppe\r\nximena;Ibáñez;Ximena;4711;A\r\njuergen;Groß;Jürgen;4712;B\r\n";
    let french =
        "Identifiant\tNom\tPrénom\tGroupe\tNuméro\nximena\tIbáñez\tXimena\tA\t4711\njuergen\tGroß\tJürgen\tB\t4712\n";
    let spanish = "sep=;\r\n\"Apellidos\";\"Nombre\";\"Usuario\";\"Grupo\";\"Matrícula\"\r\n\"Ibáñez\";\"Ximena\";\"ximena\";\"A\";\"4711\"\r\n\
                   \"Groß\";\"Jürgen\";\"juergen\";\"B\";\"4712\"\r\n";
    let italian =
        "COGNOME|NOME|NOME UTENTE|GRUPPO|MATRICOLA\nIbáñez|Ximena|ximena|A|4711\nGroß|Jürgen|juergen|B|4712\n";
    let whole = "name,group,login,id\n\"Ibáñez, Ximena\",A,ximena,4711\n\"Groß, Jürgen\",B,juergen,4712\n";
    for text in [english, german, french, spanish, italian, whole] {
        assert_eq!(people(text.as_bytes()), wanted, "{text}");
    }
    // Old spreadsheets write Windows-1252, some write UTF-16.
    let old: Vec<u8> = german.chars().skip(1).map(|c| u8::try_from(u32::from(c)).unwrap()).collect();
    assert_eq!(people(&old), wanted);
    let wide: Vec<u8> = german.encode_utf16().flat_map(u16::to_le_bytes).collect();
    assert_eq!(people(&wide), wanted);
}

#[test]
fn an_e_mail_or_a_number_signs_in_where_there_is_no_other_name() {
    let list = people(b"Full name,E-mail\nXimena Cratewood,ximena@packhouse.test\n");
    assert_eq!(list[0][..3], ["ximena@packhouse.test", "Ximena Cratewood", ""]);
    assert_eq!(people(b"Name;Matrikelnummer\nXimena Cratewood;4711\n")[0][0], "4711");
    assert_eq!(people(b"Nombre,Correo\nXimena,x@packhouse.test\n")[0][..2], ["x@packhouse.test", "Ximena"]);
}

#[test]
fn what_is_no_roster_is_told_with_the_remedy() {
    let told = |bytes: &[u8]| read_roster(bytes).unwrap_err().to_string();
    assert!(told(b"").contains("empty"));
    assert!(told(b"PK\x03\x04\0\0workbook").contains("not as a workbook"));
    assert!(told(b"ximena,Ximena Cratewood\nmilo,Milo Segmentine\n").contains("it says `ximena`, `Ximena Cratewood`"));
    let long = format!("login,name\n{}", "x,y\n".repeat(10_000));
    assert_eq!(read_roster(long.as_bytes()), Err(RosterFault::TooLong));
}

#[test]
fn lines_that_can_not_be_used_are_told_and_the_others_stay() {
    let text = "login,name\nximena,Ximena\n\nbad name,Milo\nXIMENA,Another\n,Nobody\ntam,\ntam,Tam\n";
    let roster = read_roster(text.as_bytes()).unwrap();
    assert_eq!(
        roster.entries.iter().map(|e| (e.line, e.sign_in.as_str())).collect::<Vec<_>>(),
        [(2, "ximena"), (8, "tam")]
    );
    let told: Vec<(u64, &str)> = roster.remarks.iter().map(|r| (r.line, r.sentence.as_str())).collect();
    assert_eq!(told.iter().map(|t| t.0).collect::<Vec<_>>(), [4, 5, 6, 7]);
    assert!(told[0].1.contains("holds a blank"));
    assert_eq!(told[1].1, "Line 2 has the sign-in name ximena already; give one of the two another.");
    assert!(told[2].1.contains("missing") && told[3].1.contains("has no name"));
}

fn known(id: i64, sign_in: &str, name: &str, section: &str) -> Known {
    let name = PersonName { whole: name.into(), family: String::new() };
    Known {
        id,
        sign_in: sign_in.into(),
        name,
        section: section.into(),
        number: "7".into(),
        is_student: true,
        is_active: true,
        is_ours: true,
    }
}

#[test]
fn a_preview_says_who_is_new_changed_the_same_and_missing() {
    let mut course = vec![
        known(1, "ximena", "Ximena Cratewood", "A"),
        known(2, "milo", "Milo Segmentine", "A"),
        known(3, "soren", "Soren Grapevale", "A"),
        known(4, "ines", "Ines Quillaby", ""),
        known(5, "tam", "Tam Osei", "B"),
    ];
    course[3].is_student = false;
    course[4].is_active = false;
    let text = "login,name,section\nXimena,Ximena Cratewood,B\nmilo,Milo Segmentine,A\nines,Ines Quillaby,A\ntam,Tam Osei,B\n\
                rowan,Rowan Pith,A\nelse,Elsewhere Known,A\n";
    let accounts: BTreeSet<String> = ["else", "ximena", "milo"].map(str::to_owned).into();
    let preview = compare(&read_roster(text.as_bytes()).unwrap(), &course, &accounts);
    let outcomes: Vec<&Outcome> = preview.lines.iter().map(|l| &l.outcome).collect();
    assert_eq!(*outcomes[0], Outcome::Changed(1, vec!["section A → B".into()]));
    assert_eq!(*outcomes[1], Outcome::Same);
    assert!(matches!(outcomes[2], Outcome::LeftOut(why) if why.contains("is staff")));
    assert_eq!(*outcomes[3], Outcome::Changed(5, vec!["comes back".into()]));
    assert_eq!((outcomes[4], outcomes[5]), (&Outcome::New, &Outcome::Joins));
    assert_eq!(preview.missing, ["Soren Grapevale"]);
    // A roster without numbers takes none away.
    assert_eq!(preview.lines[0].person.as_ref().unwrap().number, "7");
    // The name of somebody who is in a course of other people, too, is not this roster's to change.
    course[0].is_ours = false;
    let renamed = read_roster(b"login,name,section\nximena,Another Name,B\n").unwrap();
    let preview = compare(&renamed, &course, &accounts);
    assert_eq!(preview.lines[0].outcome, Outcome::Changed(1, vec!["section A \u{2192} B".into()]));
}
