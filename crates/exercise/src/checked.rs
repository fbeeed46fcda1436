//! What of an exercise file is checked, and how it is marked: words that people read can change without making a verdict stale,
//! and marks can be counted anew.

use toml::{Table, Value};

/// Keys that are read by people only, and marks.
const WORDS: [&str; 4] = ["title", "statement", "students", "marks"];

/// Files that no check reads.
const READ_ONLY: [&str; 2] = ["starter", "picture"];

/// The part of an exercise file that verdicts rest on, in one spelling: without words, marks, comments, blanks and the order of
/// keys. Files whose parts are equal give verdicts that differ in their marks at most. A file that can't be read is its own part.
pub fn checked_part(text: &str) -> String {
    let Ok(mut table) = toml::from_str::<Table>(text) else { return text.to_owned() };
    for key in WORDS {
        table.remove(key);
    }
    if let Some(Value::Array(files)) = table.get_mut("attachment") {
        let is_read_only = |file: &Value| {
            let purpose = file.get("use").and_then(Value::as_str);
            purpose.is_some_and(|p| READ_ONLY.contains(&p))
        };
        files.retain(|file| !is_read_only(file));
        if files.is_empty() {
            table.remove("attachment");
        }
    }
    for answer in answers_of(&mut table) {
        answer.remove("marks");
    }
    let mut out = String::new();
    spell(&Value::Table(table), &mut out);
    out
}

/// The part of an exercise file that says what is worth how much, in one spelling. Where [`checked_part`] is the same, marks
/// can be counted anew from verdicts that are there.
pub fn marking_part(text: &str) -> String {
    let Ok(mut table) = toml::from_str::<Table>(text) else { return text.to_owned() };
    let worth = answers_of(&mut table).map(|a| a.remove("marks").unwrap_or(Value::Integer(1))).collect();
    let mut out = String::new();
    spell(&table.remove("marks").unwrap_or(Value::Boolean(false)), &mut out);
    spell(&Value::Array(worth), &mut out);
    out
}

fn answers_of(table: &mut Table) -> impl Iterator<Item = &mut Table> {
    let list = table.get_mut("answer").and_then(Value::as_array_mut);
    list.into_iter().flatten().filter_map(Value::as_table_mut)
}

fn spell(value: &Value, out: &mut String) {
    match value {
        Value::Table(table) => {
            out.push('{');
            let mut keys: Vec<&String> = table.keys().collect();
            keys.sort();
            for key in keys {
                out.push_str(&format!("{key:?}:"));
                spell(&table[key], out);
                out.push(',');
            }
            out.push('}');
        }
        Value::Array(list) => {
            out.push('[');
            for item in list {
                spell(item, out);
                out.push(',');
            }
            out.push(']');
        }
        Value::String(text) => out.push_str(&format!("{text:?}")),
        other => out.push_str(&other.to_string()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_comments_and_order_do_not_count_and_all_else_does() {
        let text = "# a remark\ntitle = \"One\"\nstatement = \"Build it.\"\nformat = \"f\"\n[behaviour]\nkind = \"table\"\nrows = \"00|1\"\n";
        let same = "format = 'f'\n[behaviour]\nrows = \"00|1\"\nkind = \"table\"\n[students]\nanswers = \"shown\"\n";
        assert_eq!(checked_part(text), checked_part(same));
        assert_ne!(checked_part(text), checked_part(&text.replace("00|1", "00|0")));
        assert_ne!(checked_part("a = \"1\""), checked_part("a = 1"));
        assert_ne!(checked_part("a = [1, 2]"), checked_part("a = [2, 1]"));
        assert_eq!(checked_part("not toml ="), "not toml =");
        let file = |purpose: &str| format!("{text}[[attachment]]\nname = \"a.v\"\nuse = \"{purpose}\"\ntext = \"x\"\n");
        assert_eq!(checked_part(text), checked_part(&file("starter")));
        assert_ne!(checked_part(text), checked_part(&file("reference")));
    }

    #[test]
    fn marks_are_a_part_of_their_own() {
        let text = "[behaviour]\nkind = \"table\"\n[[answer]]\noutput = \"f\"\nask = \"sop\"\n";
        let worth = |marks: &str, stages: &str| format!("{}marks = {marks}\n[marks]\n{stages}\n", text);
        assert_eq!(checked_part(text), checked_part(&worth("3", "behaviour = 6")));
        assert_ne!(marking_part(text), marking_part(&worth("3", "behaviour = 6")));
        assert_ne!(marking_part(&worth("3", "behaviour = 6")), marking_part(&worth("2", "behaviour = 6")));
        assert_ne!(marking_part(&worth("3", "behaviour = 6")), marking_part(&worth("3", "behaviour = 7")));
        // An answer without a number is worth one mark; what is asked for is checked.
        assert_eq!(marking_part(text), marking_part(&worth("1", "").replace("[marks]\n", "")));
        assert_ne!(checked_part(text), checked_part(&text.replace("sop", "pos")));
        assert_eq!(marking_part(text), marking_part(&text.replace("sop", "pos")));
    }
}
