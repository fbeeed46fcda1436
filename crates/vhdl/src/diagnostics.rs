//! What the VHDL front end has to say, one factory a fault. Worded for learners.

use base::{Code, Diagnostic, Severity, Span, Stage};

fn stop(code: impl Into<Code>, at: Span, message: impl Into<String>, action: impl Into<String>) -> Diagnostic {
    Diagnostic::new(code, Severity::Stop, Stage::Language, message, action).at(at)
}

fn note(code: impl Into<Code>, at: Span, message: impl Into<String>, action: impl Into<String>) -> Diagnostic {
    Diagnostic::new(code, Severity::Note, Stage::Language, message, action).at(at)
}

// ---- tokens ----

pub(crate) fn strange_character(c: char, at: Span) -> Diagnostic {
    stop(
        "strange-character",
        at,
        format!("`{c}` has no place in VHDL."),
        "Type it again on a plain keyboard, or remove it.",
    )
}

pub(crate) fn unclosed_comment(at: Span) -> Diagnostic {
    stop(Code::UNCLOSED_COMMENT, at, "This comment is never closed.", "Add `*/` at its end.")
}

pub(crate) fn unclosed_text(at: Span) -> Diagnostic {
    stop("unclosed-string", at, "This text doesn't end on its line.", "Add the closing `\"`.")
}

pub(crate) fn bad_number(at: Span) -> Diagnostic {
    stop("wrong-digit", at, "This is no number that VHDL knows.", "Write it as 12, 16#1F# or 2#1010#.")
}

pub(crate) fn name_begins_with_digit(text: &str, at: Span) -> Diagnostic {
    stop(
        "name-begins-with-digit",
        at,
        format!("A name can't begin with a digit as `{text}` does."),
        "Begin it with a letter.",
    )
}

// ---- grammar ----

pub(crate) fn missing_semicolon(after: Span) -> Diagnostic {
    stop(Code::MISSING_SEMICOLON, after.after(), "A `;` is missing at the end of this line.", "Add `;` here.").fix(
        "Add `;`",
        after.after(),
        ";",
    )
}

pub(crate) fn semicolon_after_last_port(at: Span) -> Diagnostic {
    stop(
        "separator-after-last-port",
        at,
        "There is a `;` behind the last entry of the list.",
        "Remove it: `;` stands between the entries only.",
    )
    .fix("Remove `;`", at, "")
}

pub(crate) fn comma_between_ports(at: Span) -> Diagnostic {
    stop("comma-between-ports", at, "Entries of this list are separated by `;`, not by `,`.", "Write `;` here.").fix(
        "Write `;`",
        at,
        ";",
    )
}

pub(crate) fn expected(what: &str, found: &str, at: Span) -> Diagnostic {
    stop(
        "unexpected",
        at,
        format!("{} is expected here, but there is {found}.", capital(what)),
        "Check this line and the one before it against the pattern of the statement.",
    )
}

pub(crate) fn missing_word(word: &str, after: &str, at: Span) -> Diagnostic {
    stop("missing-word", at, format!("`{word}` is missing after {after}."), format!("Add `{word}` here.")).fix(
        format!("Add `{word}`"),
        at,
        format!(" {word}"),
    )
}

pub(crate) fn unclosed(opener: &str, closer: &str, at: Span) -> Diagnostic {
    stop(Code::UNCLOSED, at, format!("This {opener} is never closed."), format!("Add `{closer}` where it should end."))
}

pub(crate) fn keyword_as_name(word: &str, at: Span) -> Diagnostic {
    stop(
        "keyword-as-name",
        at,
        format!("`{word}` is a reserved word of VHDL and can't be a name."),
        "Choose another name.",
    )
}

pub(crate) fn wrong_end_name(found: &str, wanted: &str, at: Span) -> Diagnostic {
    stop(
        "wrong-end-name",
        at,
        format!("This ends `{found}`, but what is open here is `{wanted}`."),
        format!("Write `{wanted}` here, or leave the name out."),
    )
    .fix(format!("Write `{wanted}`"), at, wanted)
}

pub(crate) fn assign_sign(found: &str, wanted: &str, what: &str, at: Span) -> Diagnostic {
    stop(
        "assignment-sign",
        at,
        format!("`{found}` doesn't assign {what}."),
        format!("Write `{wanted}`: `<=` assigns signals, `:=` assigns variables, `=` compares."),
    )
    .fix(format!("Write `{wanted}`"), at, wanted)
}

pub(crate) fn statement_outside_process(what: &str, at: Span) -> Diagnostic {
    stop(
        "statement-outside-block",
        at,
        format!("{what} works inside a process only."),
        "Put it in a process, or use `when … else` or `with … select`.",
    )
}

pub(crate) fn outside_unit(at: Span) -> Diagnostic {
    stop(
        "outside-module",
        at,
        "This stands outside any entity, architecture or package.",
        "Move it into one, or remove it.",
    )
}

pub(crate) fn else_if(at: Span) -> Diagnostic {
    stop(
        "else-if",
        at,
        "`else if` opens a second `if` that needs an `end if` of its own.",
        "Write `elsif` in one word.",
    )
    .fix("Write `elsif`", at, "elsif")
}

pub(crate) fn mixed_operators(first: &str, second: &str, at: Span) -> Diagnostic {
    stop(
        "mixed-operators",
        at,
        format!("`{first}` and `{second}` stand side by side without parentheses."),
        "Put parentheses around what belongs together.",
    )
    .help("In VHDL the logical operators have the same strength, so the order must be written out.")
}

pub(crate) fn too_deep(at: Span) -> Diagnostic {
    stop("too-deep", at, "This nests deeper than 200 levels.", "Split it into simpler parts.")
}

pub(crate) fn not_read_yet(what: &str, at: Span) -> Diagnostic {
    stop(
        Code::NOT_READ_YET,
        at,
        format!("{what} is legal VHDL, but is not read by this version."),
        "Describe it in another way, or ask the instructor.",
    )
}

pub(crate) fn budget(what: &str, at: Span) -> Diagnostic {
    stop(
        Code::BUDGET_EXHAUSTED,
        at,
        format!("The design needs more than the check's budget: {what}."),
        "Make vectors, loops or repeated instances smaller.",
    )
}

// ---- names ----

pub(crate) fn data_file(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = match near {
        Some(near) => format!("Write \"{near}\", or hand in `{name}` too."),
        None => format!("Hand in `{name}` together with the design."),
    };
    stop("data-file-not-found", at, format!("No file `{name}` was handed in."), action)
}

pub(crate) fn undeclared(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = near.map_or_else(
        || format!("Declare `{name}`, or use a name that is declared."),
        |n| format!("Write `{n}`, or declare `{name}`."),
    );
    let told = stop("undeclared-name", at, format!("`{name}` is not declared."), action);
    match near {
        Some(near) => told.fix(format!("Write `{near}`"), at, near),
        None => told,
    }
}

pub(crate) fn missing_use(name: &str, package: &str, at: Span) -> Diagnostic {
    stop(
        "missing-use-clause",
        at,
        format!("`{name}` is not known here: it comes from the package `{package}`."),
        format!("Add `use ieee.{package}.all;` above the entity."),
    )
    .help("Each entity or architecture sees only the packages named above it.")
}

pub(crate) fn missing_library(library: &str, at: Span) -> Diagnostic {
    stop(
        "missing-library",
        at,
        format!("The library `{library}` is used but not named."),
        format!("Add `library {library};` above this line."),
    )
}

pub(crate) fn circular_package(name: &str, at: Span) -> Diagnostic {
    stop(
        "unknown-package",
        at,
        format!(
            "The package `{name}` uses itself, directly or through another one; it is not there yet at this place."
        ),
        "Take the use clause out; a package sees its own declarations.",
    )
}

pub(crate) fn unknown_package(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action =
        near.map_or("Check its name, or hand in the file that holds it.".to_owned(), |n| format!("Write `{n}`."));
    stop("unknown-package", at, format!("There is no package `{name}`."), action)
}

pub(crate) fn duplicate(name: &str, first: Span, at: Span) -> Diagnostic {
    stop("duplicate-declaration", at, format!("`{name}` is declared twice."), "Rename one of the two, or remove it.")
        .related(first, "declared here first")
}

pub(crate) fn duplicate_unit(name: &str, first: Span, at: Span) -> Diagnostic {
    stop(
        "duplicate-module",
        at,
        format!("There are two entities `{name}`."),
        "Rename one of the two, or hand in only one.",
    )
    .related(first, "the first one is here")
}

pub(crate) fn no_architecture(name: &str, at: Span) -> Diagnostic {
    stop(
        "no-architecture",
        at,
        format!("The entity `{name}` has no architecture."),
        format!("Add `architecture … of {name} is`, or check the name after `of`."),
    )
}

pub(crate) fn unknown_architecture(entity: &str, name: &str, known: &[&str], at: Span) -> Diagnostic {
    let action = match known {
        [] => format!("Add `architecture {name} of {entity} is`."),
        [only] => format!("Write `{only}`."),
        several => format!("Write one that is there: `{}`.", several.join("`, `")),
    };
    stop("no-architecture", at, format!("The entity `{entity}` has no architecture `{name}`."), action)
}

pub(crate) fn unknown_entity(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = near.map_or("Hand in the file that holds it.".to_owned(), |n| format!("Write `{n}`."));
    stop("unknown-module", at, format!("There is no entity `{name}`."), action)
}

pub(crate) fn unknown_component(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = near.map_or_else(
        || format!("Declare the component, or write `entity work.{name}`."),
        |n| format!("Write `{n}`, or declare the component `{name}`."),
    );
    stop("unknown-module", at, format!("No component `{name}` is declared here."), action)
}

// ---- types ----

pub(crate) fn unknown_type(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = near.map_or("Use a type that is declared.".to_owned(), |n| format!("Write `{n}`."));
    let told = stop("unknown-type", at, format!("`{name}` is no type that is known here."), action);
    match near {
        Some(near) => told.fix(format!("Write `{near}`"), at, near),
        None => told,
    }
}

pub(crate) fn type_mismatch(wanted: &str, found: &str, at: Span) -> Diagnostic {
    stop(
        "type-mismatch",
        at,
        format!("This is {found}, but {wanted} is needed here."),
        "Convert it, or change one of the two types.",
    )
}

pub(crate) fn no_operator(op: &str, left: &str, right: &str, hint: &str, at: Span) -> Diagnostic {
    stop("type-mismatch", at, format!("`{op}` is not defined between {left} and {right}."), hint.to_owned())
}

pub(crate) fn condition_type(found: &str, at: Span) -> Diagnostic {
    stop(
        "condition-type",
        at,
        format!("A condition has to be true or false, but this is {found}."),
        "Compare it, for example with `= '1'`.",
    )
}

pub(crate) fn length_differs(wanted: u32, found: u32, at: Span) -> Diagnostic {
    let bits = |n: u32| if n == 1 { "1 bit".to_owned() } else { format!("{n} bits") };
    stop(
        Code::LENGTH_DIFFERS,
        at,
        format!("{} are needed here, but this has {}.", bits(wanted), bits(found)).replace("1 bit are", "1 bit is"),
        "Make both the same length: slice it, extend it with `&` or use `resize`.",
    )
}

pub(crate) fn never_equal(left: u32, right: u32, at: Span) -> Diagnostic {
    note(
        "never-equal",
        at,
        format!("The left side has {left} bits and the right side {right}, so the two are never equal."),
        "Make both the same length.",
    )
}

pub(crate) fn foreign_operator(found: &str, wanted: &str, at: Span) -> Diagnostic {
    stop("foreign-operator", at, format!("`{found}` is no operator of VHDL."), format!("Write `{wanted}`.")).fix(
        format!("Write `{wanted}`"),
        at,
        wanted,
    )
}

pub(crate) fn misspelt_word(found: &str, wanted: &str, at: Span) -> Diagnostic {
    stop("misspelt-word", at, format!("`{found}` is no word of VHDL."), format!("Write `{wanted}`.")).fix(
        format!("Write `{wanted}`"),
        at,
        wanted,
    )
}

pub(crate) fn compared_from_left(left: u32, right: u32, at: Span) -> Diagnostic {
    note(
        "compared-from-left",
        at,
        format!(
            "These vectors have {left} and {right} elements; the language compares them from the left, not as numbers."
        ),
        "Write `unsigned(…)` around both to compare numbers.",
    )
}

pub(crate) fn edge_of_no_signal(at: Span) -> Diagnostic {
    stop(
        "edge-of-no-signal",
        at,
        "An edge or a change can be seen on a signal only.",
        "Name the signal itself, such as the clock.",
    )
}

pub(crate) fn wrong_digit(c: char, at: Span) -> Diagnostic {
    stop(
        "wrong-digit",
        at,
        format!("`{c}` is no digit of this literal."),
        "Use the digits of its base: 0 and 1, 0 to 7, or 0 to F.",
    )
}

pub(crate) fn range_direction(at: Span) -> Diagnostic {
    stop(
        "reversed-part",
        at,
        "This slice runs against its declaration.",
        "Use the same direction (`downto` or `to`) as the declaration.",
    )
}

pub(crate) fn null_range(at: Span) -> Diagnostic {
    stop(
        Code::NULL_RANGE,
        at,
        "This range holds nothing: its bounds run the other way.",
        "Swap the bounds, or exchange `to` and `downto`.",
    )
}

pub(crate) fn index_outside(name: &str, index: i64, at: Span) -> Diagnostic {
    stop(Code::INDEX_OUTSIDE, at, format!("`{name}` has no element {index}."), "Use an index within its bounds.")
}

pub(crate) fn not_indexable(name: &str, at: Span) -> Diagnostic {
    stop(
        "index-of-scalar",
        at,
        format!("`{name}` is no array, so it has no elements."),
        "Use it without the parentheses.",
    )
}

pub(crate) fn no_such_dimension(what: &str, dimension: u32, at: Span) -> Diagnostic {
    stop(
        "index-of-scalar",
        at,
        format!("`{what}` has no dimension {dimension}."),
        "Use the number of a dimension that it has, counted from 1.",
    )
}

pub(crate) fn constant_needed(at: Span) -> Diagnostic {
    stop(
        Code::CONSTANT_NEEDED,
        at,
        "This has to be known before the design runs.",
        "Use a constant, a generic or a number.",
    )
}

pub(crate) fn negative_power(power: i64, at: Span) -> Diagnostic {
    stop(
        Code::VALUE_OUTSIDE_RANGE,
        at,
        format!("An integer can't be raised to the power {power}."),
        "Use an exponent of 0 or more.",
    )
}

pub(crate) fn too_large_power(base: i64, power: i64, at: Span) -> Diagnostic {
    stop(
        Code::VALUE_OUTSIDE_RANGE,
        at,
        format!("{base} ** {power} is more than an integer holds (2,147,483,647)."),
        "Use a smaller number, or a vector with `shift_left` and `resize`.",
    )
}

pub(crate) fn out_of_range(value: i64, low: i64, high: i64, at: Span) -> Diagnostic {
    stop(
        Code::VALUE_OUTSIDE_RANGE,
        at,
        format!("{value} lies outside the range {low} to {high}."),
        "Use a value within the range, or widen it.",
    )
}

pub(crate) fn too_wide(at: Span) -> Diagnostic {
    stop("too-wide", at, "This has more than 65,536 bits.", "Make it smaller.")
}

// ---- assignments ----

pub(crate) fn assign_to_input(name: &str, at: Span) -> Diagnostic {
    stop(
        "assign-to-input",
        at,
        format!("`{name}` is an input and can't be assigned."),
        "Assign an output or an internal signal instead.",
    )
}

pub(crate) fn read_of_output(name: &str, at: Span) -> Diagnostic {
    note(
        "read-of-output",
        at,
        format!("Reading the output `{name}` needs VHDL-2008."),
        "Read an internal signal instead and assign it to the output.",
    )
}

pub(crate) fn not_assignable(what: &str, at: Span) -> Diagnostic {
    stop("not-assignable", at, format!("{what} can't be assigned."), "Assign a signal, an output or a variable.")
}

pub(crate) fn bare_condition(at: Span) -> Diagnostic {
    note(
        "condition-2008",
        at,
        "A std_logic as a condition needs VHDL-2008.",
        "Write `= '1'` to be understood by every tool.",
    )
}

// ---- instances ----

pub(crate) fn unknown_port(port: &str, unit: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = near.map_or_else(|| format!("Use a port of `{unit}`."), |n| format!("Write `{n}`."));
    stop("unknown-port", at, format!("`{unit}` has no port `{port}`."), action)
}

pub(crate) fn unknown_generic(name: &str, unit: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = near.map_or_else(|| format!("Use a generic of `{unit}`."), |n| format!("Write `{n}`."));
    stop("unknown-parameter", at, format!("`{unit}` has no generic `{name}`."), action)
}

pub(crate) fn port_twice(port: &str, at: Span) -> Diagnostic {
    stop("port-twice", at, format!("The port `{port}` is connected twice."), "Remove one of the connections.")
}

pub(crate) fn too_many_connections(unit: &str, count: usize, at: Span) -> Diagnostic {
    stop(
        "too-many-connections",
        at,
        format!("`{unit}` takes {count} here, but there are more."),
        "Remove what is too much, or name the ports.",
    )
}

pub(crate) fn open_input(port: &str, at: Span) -> Diagnostic {
    stop("open-input", at, format!("The input `{port}` is not connected."), "Connect it in the port map.")
}

pub(crate) fn recursion(name: &str, at: Span) -> Diagnostic {
    stop(
        Code::ENDLESS_RECURSION,
        at,
        format!("`{name}` contains itself without end."),
        "Remove the instance, or give the recursion an end.",
    )
}

// ---- statements ----

pub(crate) fn missing_choices(missing: &str, at: Span) -> Diagnostic {
    stop(
        "missing-choices",
        at,
        format!("This `case` misses {missing}."),
        "Add `when others =>` with what should happen then.",
    )
    .help("A std_logic has nine values, not two, so every list of choices needs `others`.")
}

pub(crate) fn duplicate_choice(at: Span) -> Diagnostic {
    stop("duplicate-choice", at, "This choice stands here twice.", "Remove one of the two.")
}

pub(crate) fn wrong_arguments(name: &str, at: Span) -> Diagnostic {
    stop(
        "wrong-arguments",
        at,
        format!("`{name}` can't be called with these arguments."),
        "Check their number and types.",
    )
}

/// With a capital letter at the beginning of the sentence.
fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().into_iter().flat_map(char::to_uppercase).chain(letters).collect()
}

pub(crate) fn division_by_zero(at: Span) -> Diagnostic {
    stop(Code::VALUE_OUTSIDE_RANGE, at, "This divides by 0.", "Divide by something that is not 0.")
}

pub(crate) fn no_such_value(text: &str, ty: &str, at: Span) -> Diagnostic {
    stop(
        Code::VALUE_OUTSIDE_RANGE,
        at,
        format!("`{text}` is no value of {ty}."),
        "Write one of the values of the type.",
    )
}
