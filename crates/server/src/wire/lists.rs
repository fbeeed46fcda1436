//! Lists of words that the browser offers.

use exercise::{Ask, Matter, RequiredForm, RuleExample, rule_examples};

/// The lists that the browser offers, as a TypeScript module.
pub fn lists() -> String {
    let rule_names = || {
        let said = |key: &String| Matter::read(key).map(|m| m.words()).unwrap_or_default();
        Matter::keys().iter().map(said).collect()
    };
    let lists = [
        ("The words that name code rules", "CODE_NAMES", logic::CODE_NAMES.map(str::to_owned).to_vec()),
        ("What rules may forbid or require, beside `instance:` with a name", "RULE_WORDS", Matter::keys()),
        ("The same as they are said, in the same order", "RULE_NAMES", rule_names()),
        ("Forms that an output may have to be built in", "FORM_WORDS", words(RequiredForm::keys())),
        ("What a prepared answer may ask for", "ASK_WORDS", words(Ask::keys())),
        ("Stages that marks go to", "STAGE_WORDS", words(base::Stage::ALL.iter().map(|s| s.key()))),
        ("Boards that ship", "BOARD_NAMES", words(board::Board::SHIPPED.into_iter())),
    ];
    let list = |(what, name, words): (&str, &str, Vec<String>)| {
        format!("\n/** {what}. */\nexport const {name} = {words:?};\n")
    };
    let head = String::from("// Made from the Rust lists by `cargo xtask types`; don't edit.\n");
    head + &lists.map(list).concat() + &examples()
}

/// Rules with what they mean and what breaks them.
fn examples() -> String {
    let entry =
        |e: RuleExample| serde_json::json!({ "rule": e.rule, "meaning": e.meaning, "code": e.code }).to_string();
    let list: Vec<String> = rule_examples().into_iter().map(entry).collect();
    format!(
        "\n/** Rules, what each looks at, and a design that breaks it. */\nexport const RULE_EXAMPLES: {{ rule: string; \
         meaning: string; code: string }}[] = [\n{},\n];\n",
        list.join(",\n")
    )
}

fn words<'w>(list: impl Iterator<Item = &'w str>) -> Vec<String> {
    list.map(str::to_owned).collect()
}
