//! Lists of words that the browser offers.

use exercise::{Ask, Matter, RequiredForm};

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
    String::from("// Made from the Rust lists by `cargo xtask types`; don't edit.\n") + &lists.map(list).concat()
}

fn words<'w>(list: impl Iterator<Item = &'w str>) -> Vec<String> {
    list.map(str::to_owned).collect()
}
