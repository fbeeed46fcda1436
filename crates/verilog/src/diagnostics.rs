//! What the Verilog front end says, one factory a fault.

use base::{Code, Diagnostic, Severity, Span, Stage};

fn stop(code: impl Into<Code>, message: impl Into<String>, action: impl Into<String>, at: Span) -> Diagnostic {
    Diagnostic::new(code, Severity::Stop, Stage::Language, message, action).at(at)
}

fn marks(code: impl Into<Code>, message: impl Into<String>, action: impl Into<String>, at: Span) -> Diagnostic {
    Diagnostic::new(code, Severity::Marks, Stage::Language, message, action).at(at)
}

fn note(code: impl Into<Code>, message: impl Into<String>, action: impl Into<String>, at: Span) -> Diagnostic {
    Diagnostic::new(code, Severity::Note, Stage::Language, message, action).at(at)
}

// ---- lexer ----

pub(crate) fn strange_character(c: char, at: Span) -> Diagnostic {
    let message = format!("The character `{c}` (U+{:04X}) has no place in Verilog.", c as u32);
    stop("strange-character", message, "Delete it, or type the plain character that was meant.", at)
        .help("Characters pasted from a text processor, such as curly quotes or long dashes, only look alike.")
}

pub(crate) fn unclosed_comment(at: Span) -> Diagnostic {
    stop(Code::UNCLOSED_COMMENT, "This comment is never closed.", "Add `*/` where the comment ends.", at)
}

pub(crate) fn unclosed_string(at: Span) -> Diagnostic {
    stop("unclosed-string", "This text is not closed on its line.", "Add `\"` at its end.", at)
}

pub(crate) fn number_without_base(at: Span) -> Diagnostic {
    stop("number-base", "The `'` of this number lacks its base letter.", "Write b, o, d or h after the `'`.", at)
}

pub(crate) fn number_without_digits(at: Span) -> Diagnostic {
    stop("number-digits", "This number has no digits.", "Write the digits after the base letter.", at)
}

pub(crate) fn wrong_digit(digit: char, radix: u32, at: Span) -> Diagnostic {
    let kind = match radix {
        2 => "binary",
        8 => "octal",
        10 => "decimal",
        _ => "hexadecimal",
    };
    let message = format!("`{digit}` is no {kind} digit.");
    stop("wrong-digit", message, "Correct the digit or the base letter.", at)
}

pub(crate) fn wrong_length(length: &str, at: Span) -> Diagnostic {
    stop("number-length", format!("A number can't be {length} bits long."), "Use a length from 1 to 1,048,576.", at)
}

pub(crate) fn number_too_long(width: u32, at: Span) -> Diagnostic {
    let message = format!("This number doesn't fit in {width} bits; its top bits are lost.");
    marks("number-too-long", message, "Make the length fit the digits.", at)
}

// ---- grammar ----

pub(crate) fn missing_semicolon(after: Span) -> Diagnostic {
    let at = after.after();
    stop(Code::MISSING_SEMICOLON, "A `;` is missing at the end of this line.", "Add `;` here.", at)
        .fix("Add `;`", at, ";")
}

pub(crate) fn semicolon_after_last_port(at: Span) -> Diagnostic {
    stop("separator-after-last-port", "Nothing follows the last port, so no separator belongs here.", "Remove it.", at)
        .fix("Remove it", at, "")
}

pub(crate) fn semicolon_between_ports(at: Span) -> Diagnostic {
    stop("semicolon-between-ports", "Ports are separated by commas here.", "Write `,` instead of `;`.", at).fix(
        "Write `,`",
        at,
        ",",
    )
}

pub(crate) fn foreign_operator(found: &str, wanted: &str, at: Span) -> Diagnostic {
    let message = format!("`{found}` is no operator of Verilog.");
    stop("foreign-operator", message, format!("Write `{wanted}`."), at).fix(format!("Write `{wanted}`"), at, wanted)
}

pub(crate) fn misspelt_word(found: &str, wanted: &str, at: Span) -> Diagnostic {
    let message = format!("`{found}` is no word of the language.");
    stop("misspelt-word", message, format!("Write `{wanted}`."), at).fix(format!("Write `{wanted}`"), at, wanted)
}

pub(crate) fn missing_comma(after: Span) -> Diagnostic {
    let at = after.after();
    stop("missing-comma", "A `,` is missing between these two.", "Add `,` here.", at).fix("Add `,`", at, ",")
}

pub(crate) fn bad_name(text: &str, at: Span) -> Diagnostic {
    stop(
        "bad-name",
        format!("`{text}` is no name: names are made of letters, digits and `_`, and begin with a letter or `_`."),
        "Choose such a name.",
        at,
    )
}

pub(crate) fn instance_in_block(at: Span) -> Diagnostic {
    stop(
        "instance-in-block",
        "An instance can't stand inside a block.",
        "Move it out of the block; connect it to signals that the block reads or assigns.",
        at,
    )
    .help("A module is a piece of hardware that is always there, not a step that is carried out.")
}

pub(crate) fn empty_branch(at: Span) -> Diagnostic {
    stop("empty-branch", "This `;` ends the `if` at once, so what follows doesn't belong to it.", "Remove the `;`.", at)
        .fix("Remove the `;`", at, "")
}

pub(crate) fn base_before_quote(letter: &str, at: Span) -> Diagnostic {
    stop(
        "number-base",
        format!("The base letter `{letter}` stands before the quote."),
        format!("Write it behind the quote, such as 4'{letter}…."),
        at,
    )
}

pub(crate) fn expected(what: &str, found: &str, at: Span) -> Diagnostic {
    stop("unexpected", format!("Here {what} is expected, not {found}."), format!("Put {what} here."), at)
}

pub(crate) fn keyword_as_name(keyword: &str, what: &str, at: Span) -> Diagnostic {
    let message = format!("`{keyword}` is a word of the language and can't be {what}.");
    stop("keyword-as-name", message, "Choose another name.", at)
}

pub(crate) fn unclosed(what: &str, closer: &str, opener: Span, at: Span) -> Diagnostic {
    stop(Code::UNCLOSED, format!("This {what} is never closed."), format!("Add `{closer}` where it ends."), opener)
        .related(at, format!("`{closer}` is missing before here"))
}

pub(crate) fn missing_endmodule(name: &str, opener: Span, at: Span) -> Diagnostic {
    stop("missing-endmodule", format!("The module `{name}` is never closed."), "Add `endmodule` at its end.", opener)
        .related(at, "`endmodule` is missing before here")
}

pub(crate) fn stray_end(word: &str, at: Span) -> Diagnostic {
    stop("stray-end", format!("This `{word}` closes nothing."), "Remove it, or add what it should close.", at)
}

pub(crate) fn equality_in_statement(at: Span) -> Diagnostic {
    stop("equality-as-assignment", "`==` compares; it assigns nothing.", "Write `=` (or `<=`) here.", at).fix(
        "Write `=`",
        at,
        "=",
    )
}

pub(crate) fn assignment_in_condition(at: Span) -> Diagnostic {
    stop("assignment-as-equality", "`=` assigns; a condition compares with `==`.", "Write `==` here.", at).fix(
        "Write `==`",
        at,
        "==",
    )
}

pub(crate) fn statement_outside(at: Span) -> Diagnostic {
    stop(
        "statement-outside-block",
        "A statement like this stands inside an `always` or `initial` block only.",
        "Write `assign` before it, or put it into a block.",
        at,
    )
}

pub(crate) fn no_module(at: Span) -> Diagnostic {
    stop(Code::NO_MODULE, "This file holds no module.", "Put the design between `module` and `endmodule`.", at)
}

pub(crate) fn outside_module(found: &str, at: Span) -> Diagnostic {
    stop(
        "outside-module",
        format!("{found} stands outside any module."),
        "Move it between `module` and `endmodule`.",
        at,
    )
}

pub(crate) fn too_deep(at: Span) -> Diagnostic {
    stop("too-deep", "This nests deeper than 200 levels.", "Split it into smaller parts.", at)
}

pub(crate) fn undefined_macro(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = match near {
        Some(near) => format!("Write `{near} with its back quote, or define `{name}` above."),
        None => format!("Add a `define {name} line above, or remove the back quote."),
    };
    stop(Code::UNDEFINED_MACRO, format!("No macro `{name}` is defined above this line."), action.replace("``", "`"), at)
}

pub(crate) fn macro_arguments(name: &str, count: usize, at: Span) -> Diagnostic {
    let message = format!("The macro `{name}` takes {count} arguments.");
    stop("macro-arguments", message, "Give it as many, in parentheses with commas between them.", at)
}

pub(crate) fn stray_directive(name: &str, at: Span) -> Diagnostic {
    let message = format!("This {name} directive belongs to no ifdef or ifndef.");
    stop("stray-directive", message, "Remove it, or add the ifdef before it.", at)
}

pub(crate) fn bad_time_unit(power: i64, at: Span) -> Diagnostic {
    stop(
        "wrong-timescale",
        format!("A time unit is a power of ten from -15 (1 fs) to 0 (1 s), not {power}."),
        "Write for example `-9` for nanoseconds.",
        at,
    )
}

pub(crate) fn wrong_timescale(at: Span) -> Diagnostic {
    stop(
        "wrong-timescale",
        "This time scale is not a unit and a precision.",
        "Write 1, 10 or 100 with s, ms, us, ns, ps or fs on both sides of the slash, such as 1ns / 1ps.",
        at,
    )
}

pub(crate) fn include_path(name: &str, at: Span) -> Diagnostic {
    stop(
        "include-path",
        format!("`{name}` points outside the hand-in."),
        "Include a file of this hand-in by its bare name.",
        at,
    )
    .help("Only files handed in together are read.")
}

pub(crate) fn include_not_found(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = match near {
        Some(near) => format!("Write \"{near}\", or hand in `{name}` too."),
        None => format!("Hand in `{name}` too, or remove this line."),
    };
    stop("include-not-found", format!("No file `{name}` was handed in."), action, at)
}

pub(crate) fn unknown_package(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = match near {
        Some(near) => format!("Write `{near}`, or hand in the file with the package."),
        None => "Hand in the file with the package too.".to_owned(),
    };
    stop("unknown-package", format!("There is no package `{name}` in these files."), action, at)
}

pub(crate) fn data_file(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = match near {
        Some(near) => format!("Write \"{near}\", or hand in `{name}` too."),
        None => format!("Hand in `{name}` together with the design."),
    };
    stop("data-file-not-found", format!("No file `{name}` was handed in."), action, at)
}

pub(crate) fn data_word(name: &str, line: usize, what: &str, at: Span) -> Diagnostic {
    stop("data-file-word", format!("Line {line} of `{name}` {what}."), "Correct that line of the file.", at)
}

pub(crate) fn unknown_field(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = match near {
        Some(near) => format!("Write `{near}`."),
        None => "Use one of the fields that the structure declares.".to_owned(),
    };
    stop("unknown-field", format!("There is no field `{name}` here."), action, at)
}

pub(crate) fn pattern_size(wanted: u32, given: usize, at: Span) -> Diagnostic {
    let message = format!("This list has {given} values where {wanted} are needed.");
    stop("wrong-list-length", message, "Give one value for each element, or a `default:`.", at)
}

pub(crate) fn pattern_without_target(at: Span) -> Diagnostic {
    stop(
        "list-without-target",
        "A list of values stands here where nothing says what it is a list of.",
        "Assign it to an array or structure as a whole.",
        at,
    )
}

pub(crate) fn no_implicit_net(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = match near {
        Some(near) => format!("Write `{near}`, or declare `{name}`."),
        None => format!("Declare `wire {name};`."),
    };
    stop("undeclared-name", format!("`{name}` is not declared."), action, at)
        .help("`default_nettype none` asks for every wire to be declared.")
}

pub(crate) fn nonblocking_in_combinational(name: &str, is_read: bool, at: Span) -> Diagnostic {
    let (code, action) = ("nonblocking-in-combinational", "Use `=` in combinational blocks.");
    if is_read {
        let message = format!("`{name}` is assigned with `<=` in a block without a clock, which reads it too.");
        return marks(code, message, action, at)
            .help("With `<=` the block still reads the old value later on, so its steps don't build on each other.");
    }
    note(code, format!("`{name}` is assigned with `<=` in a block without a clock."), action, at)
        .help("It makes no difference here; it does as soon as the block reads what it assigns.")
}

pub(crate) fn never_equal(width: u32, number: u64, at: Span) -> Diagnostic {
    let most = (1u64 << width) - 1;
    let bits = if width == 1 { "1 bit".to_owned() } else { format!("{width} bits") };
    note(
        "never-equal",
        format!("One side has {bits} and reaches {most}, so the two are never equal: the other is {number}."),
        "Widen the one side, or correct the number.",
        at,
    )
}

pub(crate) fn duplicate_choice(at: Span, first: Span) -> Diagnostic {
    note(
        "duplicate-choice",
        "This value stands in the case twice; the second arm is never taken.",
        "Remove it, or write the value that was meant.",
        at,
    )
    .related(first, "first here")
}

pub(crate) fn blocking_in_clocked(name: &str, at: Span, read: Span) -> Diagnostic {
    marks(
        "blocking-in-clocked",
        format!("`{name}` is assigned with `=` at a clock edge and read by another block at an edge."),
        "Use `<=` for registers that other blocks read.",
        at,
    )
    .related(read, "read here")
    .help("Which of the two blocks runs first is not defined, so the reader may get the old or the new value.")
}

pub(crate) fn set_once_elsewhere(name: &str, is_function: bool, at: Span) -> Diagnostic {
    let what = if is_function { "function" } else { "task" };
    note(
        "set-once-elsewhere",
        format!("Other tools may set `{name}` before the first call only, not at each call."),
        format!("Write `{what} automatic`."),
        at,
    )
}

pub(crate) fn path_not_found(path: &str, at: Span) -> Diagnostic {
    stop(
        "undeclared-name",
        format!("`{path}` names nothing in the hierarchy."),
        "Write instance names and then the signal's name, from this module down.",
        at,
    )
}

pub(crate) fn not_understood_yet(what: &str, at: Span) -> Diagnostic {
    stop(
        Code::NOT_READ_YET,
        format!("{what} is not read by this version of the checker."),
        "Write it without, or ask the instructor to check it by hand.",
        at,
    )
    .help("This is a limit of the checker, not a fault of the design.")
}

// ---- names and elaboration ----

pub(crate) fn undeclared(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = match near {
        Some(near) => format!("Write `{near}`, or declare `{name}`."),
        None => format!("Declare `{name}`, or use a declared name."),
    };
    let d = stop("undeclared-name", format!("`{name}` is not declared."), action, at);
    match near {
        Some(near) => d.fix(format!("Write `{near}`"), at, near),
        None => d,
    }
}

pub(crate) fn implicit_net(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = match near {
        Some(near) => format!("Write `{near}` if that was meant, or declare `wire {name};`."),
        None => format!("Declare `wire {name};` to be sure."),
    };
    note("implicit-net", format!("`{name}` is not declared; the language takes it as a new one-bit wire."), action, at)
}

pub(crate) fn unknown_module(name: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = match near {
        Some(near) => format!("Write `{near}`, or hand in the file that holds `{name}`."),
        None => format!("Hand in the file that holds `{name}`."),
    };
    stop("unknown-module", format!("There is no module `{name}`."), action, at)
}

pub(crate) fn duplicate(name: &str, first: Span, at: Span) -> Diagnostic {
    stop("duplicate-declaration", format!("`{name}` is declared twice."), "Remove or rename one of the two.", at)
        .related(first, "declared here first")
}

pub(crate) fn duplicate_module(name: &str, first: Span, at: Span) -> Diagnostic {
    stop("duplicate-module", format!("There are two modules `{name}`."), "Remove or rename one of the two.", at)
        .related(first, "the first one")
}

pub(crate) fn unknown_port(port: &str, module: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = match near {
        Some(near) => format!("Write `.{near}(…)`."),
        None => format!("Use one of the ports of `{module}`."),
    };
    stop("unknown-port", format!("`{module}` has no port `{port}`."), action, at)
}

pub(crate) fn port_twice(port: &str, at: Span) -> Diagnostic {
    stop("port-twice", format!("The port `{port}` is connected twice."), "Remove one of the two.", at)
}

pub(crate) fn too_many_connections(module: &str, ports: usize, at: Span) -> Diagnostic {
    let message = format!("`{module}` has {ports} ports; this is one too many.");
    stop("too-many-connections", message, "Remove it, or connect by name: `.port(signal)`.", at)
}

pub(crate) fn open_input(port: &str, module: &str, at: Span) -> Diagnostic {
    let message = format!("The input `{port}` of `{module}` is not connected.");
    marks("open-input", message, format!("Connect it: `.{port}(…)`."), at)
}

pub(crate) fn port_width(port: &str, wanted: u32, given: u32, at: Span) -> Diagnostic {
    let message = format!("The port `{port}` has {wanted} bits; {given} are connected.");
    marks("port-width", message, "Make both equally wide.", at)
}

pub(crate) fn undeclared_port(name: &str, at: Span) -> Diagnostic {
    let message = format!("The port `{name}` is in the header, but nothing says whether it is an input or an output.");
    stop("port-without-direction", message, format!("Declare it: `input {name};` or `output {name};`."), at)
}

pub(crate) fn port_not_in_header(name: &str, at: Span) -> Diagnostic {
    let message = format!("`{name}` is declared as a port, but the module's header doesn't list it.");
    stop("port-not-in-header", message, format!("Add `{name}` to the list behind the module's name."), at)
}

pub(crate) fn assign_to_input(name: &str, at: Span) -> Diagnostic {
    stop("assign-to-input", format!("`{name}` is an input; it can't be assigned."), "Assign an output or a signal.", at)
}

pub(crate) fn net_in_block(name: &str, at: Span, declared: Span) -> Diagnostic {
    stop(
        "assign-to-net-in-block",
        format!("`{name}` is a wire; a block can assign variables only."),
        format!("Declare it as `reg {name}` (or `output reg`), or assign it outside with `assign`."),
        at,
    )
    .related(declared, "declared here")
}

pub(crate) fn continuous_to_variable(name: &str, at: Span, declared: Span) -> Diagnostic {
    stop(
        "assign-to-variable",
        format!("`{name}` is a `reg`; `assign` drives wires only."),
        format!("Declare it without `reg`, or assign `{name}` inside a block."),
        at,
    )
    .related(declared, "declared here")
}

pub(crate) fn not_assignable(at: Span) -> Diagnostic {
    stop("not-assignable", "This can't stand on the left of an assignment.", "Assign a signal or part of one.", at)
}

pub(crate) fn real_operand(at: Span) -> Diagnostic {
    stop(
        "real-operand",
        "This operator works on bits, and here is a real number.",
        "Round the number into an `integer` first, or use `+ - * / **` and comparisons.",
        at,
    )
}

pub(crate) fn not_a_value(name: &str, at: Span) -> Diagnostic {
    stop("not-a-value", format!("`{name}` has no value here."), "Use a signal or a constant.", at)
}

pub(crate) fn too_many_indices(name: &str, most: usize, at: Span) -> Diagnostic {
    let most = if most == 1 { "one index".to_owned() } else { format!("{most} indices") };
    stop("not-a-value", format!("`{name}` has only {most}."), "Remove the loop variables that are too many.", at)
}

pub(crate) fn constant_needed(at: Span) -> Diagnostic {
    stop(Code::CONSTANT_NEEDED, "This must be a constant.", "Use numbers and parameters only.", at)
}

pub(crate) fn too_wide(at: Span) -> Diagnostic {
    stop("too-wide", "This vector is wider than the check's budget of 65,536 bits.", "Make it narrower.", at)
}

pub(crate) fn index_of_scalar(name: &str, at: Span) -> Diagnostic {
    stop("index-of-scalar", format!("`{name}` is one bit; it has no index."), "Remove the index.", at)
}

pub(crate) fn index_outside(name: &str, shape: &str, at: Span) -> Diagnostic {
    let message = format!("This lies outside `{name}{shape}`; reading there gives an unknown level.");
    marks(Code::INDEX_OUTSIDE, message, "Use an index within the declared bounds.", at)
}

pub(crate) fn reversed_part(name: &str, shape: &str, at: Span) -> Diagnostic {
    let message = format!("This part runs the other way round than `{name}{shape}`.");
    stop("reversed-part", message, "Swap the two bounds.", at)
}

pub(crate) fn unknown_parameter(name: &str, module: &str, near: Option<&str>, at: Span) -> Diagnostic {
    let action = match near {
        Some(near) => format!("Write `.{near}(…)`."),
        None => format!("Use one of the parameters of `{module}`."),
    };
    stop("unknown-parameter", format!("`{module}` has no parameter `{name}`."), action, at)
}

pub(crate) fn gate_terminals(kind: &str, needed: &str, at: Span) -> Diagnostic {
    let message = format!("A `{kind}` gate takes {needed}.");
    stop("gate-terminals", message, "List the output first, then the inputs.", at)
}

pub(crate) fn dropped_bits(target: u32, value: u32, at: Span) -> Diagnostic {
    let message = format!("{value} bits are assigned to {target}; the upper ones are lost.");
    note("dropped-bits", message, "Make both equally wide, or select the bits that are meant.", at)
}

pub(crate) fn recursion(module: &str, at: Span) -> Diagnostic {
    let message = format!("`{module}` contains itself without end.");
    stop(Code::ENDLESS_RECURSION, message, "Remove the instance that closes the circle.", at)
}

pub(crate) fn macro_in_itself(name: &str, at: Span) -> Diagnostic {
    let message = format!("The macro `{name}` uses itself, which never ends.");
    stop("macro-recursion", message, "Write its text out without its own name.", at)
}

pub(crate) fn budget(what: &str, at: Span) -> Diagnostic {
    let message = format!("The design needs more than the check's budget: {what}.");
    stop(Code::BUDGET_EXHAUSTED, message, "Make vectors, loops or repeated instances smaller.", at)
}

pub(crate) fn assertion_not_read(at: Span) -> Diagnostic {
    note(
        "assertion-not-read",
        "This assertion over time is not read: it holds or fails unseen.",
        "Test what it says in the testbench, with `if` and `$error`.",
        at,
    )
}
