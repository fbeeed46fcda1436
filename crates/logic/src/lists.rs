//! Minterm and maxterm lists as people write them: `f(a,b,c,d)=5,7,11,13 d=0,2`, `Σm(5,7)+d(0,2)`.

/// What the numbers of a list mean.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum TermListKind {
    /// Rows where the output is 1.
    Minterms,
    /// Rows where the output is 0.
    Maxterms,
}

/// A parsed list; numbers are as typed, not yet checked against the number of inputs.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct TermList {
    /// Name of the output.
    pub name: String,
    /// Names of the inputs, most significant first.
    pub inputs: Vec<String>,
    /// The rows listed.
    pub terms: Vec<u64>,
    /// The don't-care rows.
    pub dont_cares: Vec<u64>,
    /// What the list says it holds; `None` when it holds bare numbers.
    pub kind: Option<TermListKind>,
}

/// Why a text is not a list.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ListError {
    /// Column in the text, from 1, in characters.
    pub column: usize,
    /// What is wrong and what to do.
    pub message: String,
}

impl std::fmt::Display for ListError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "column {}: {}", self.column, self.message)
    }
}

fn fault<T>(text: &str, byte: usize, message: impl Into<String>) -> Result<T, ListError> {
    let column = text.get(..byte).map_or(0, |t| t.chars().count()) + 1;
    Err(ListError { column, message: message.into() })
}

/// Reads `NAME(INPUTS)=NUMBERS [d=NUMBERS]`; numbers are separated by commas or blanks, and `d(…)` may stand for `d=…`.
///
/// # Errors
/// The first fault with its column.
pub fn parse_term_list(text: &str) -> Result<TermList, ListError> {
    let open = match text.find('(') {
        Some(i) => i,
        None => return fault(text, 0, "the inputs are missing; write a list as f(a,b,c)=1,2,5."),
    };
    let close = match text[open..].find(')') {
        Some(i) => open + i,
        None => return fault(text, open, "this `(` is never closed; add `)` after the last input."),
    };
    let name = text[..open].trim().to_owned();
    if let Err(problem) = base::check_port_name(&name) {
        return fault(text, 0, format!("`{name}` can't name an output: {problem}."));
    }
    let mut inputs: Vec<String> = Vec::new();
    let mut at = open + 1;
    for part in text[open + 1..close].split(',') {
        let input = part.trim().to_owned();
        if let Err(problem) = base::check_port_name(&input) {
            return fault(text, at, format!("`{input}` can't name an input: {problem}."));
        }
        if inputs.contains(&input) || input == name {
            return fault(text, at, format!("`{input}` is named twice; give each signal a name of its own."));
        }
        inputs.push(input);
        at += part.len() + 1;
    }
    let rest = close + 1;
    let Some(equals) = text[rest..].find('=').filter(|i| text[rest..rest + i].trim().is_empty()) else {
        return fault(text, rest, "`=` and the row numbers should follow the inputs.");
    };
    let body = rest + equals + 1;
    let (terms_end, dont_start) = match text[body..].find(['d', 'D']) {
        Some(i) => (body + i, Some(body + i + 1)),
        None => (text.len(), None),
    };
    if inputs.len() > crate::MAX_INPUTS as usize {
        return fault(text, open, format!("{} inputs are too many; use at most {}.", inputs.len(), crate::MAX_INPUTS));
    }
    let rows = 1u64 << inputs.len();
    let terms = numbers(text, body, terms_end, rows)?;
    let dont_cares = match dont_start {
        Some(start) => numbers(text, start, text.len(), rows)?,
        None => Vec::new(),
    };
    if let Some((row, at)) = dont_cares.iter().find(|(row, _)| terms.iter().any(|(t, _)| t == row)) {
        return fault(text, *at, format!("row {row} is both a term and a don't-care; keep one of the two."));
    }
    let head = &text[body..terms_end];
    let kind = if head.contains(['Π', '∏']) || head.contains('M') {
        Some(TermListKind::Maxterms)
    } else if head.contains(['Σ', '∑', 'm']) {
        Some(TermListKind::Minterms)
    } else {
        None
    };
    let plain = |list: Vec<(u64, usize)>| list.into_iter().map(|(row, _)| row).collect();
    Ok(TermList { name, inputs, terms: plain(terms), dont_cares: plain(dont_cares), kind })
}

/// Reads a list of row numbers of a table with `inputs` inputs: `5, 7, 11` or `Σm(5 7 11)`.
///
/// # Errors
/// The first fault with its column.
pub fn parse_numbers(text: &str, inputs: u32) -> Result<Vec<u64>, ListError> {
    let rows = 1u64 << inputs.min(crate::MAX_INPUTS);
    Ok(numbers(text, 0, text.len(), rows)?.into_iter().map(|(row, _)| row).collect())
}

/// The numbers of a stretch of text, each with the byte where it stands.
fn numbers(text: &str, from: usize, to: usize, rows: u64) -> Result<Vec<(u64, usize)>, ListError> {
    let mut list = Vec::new();
    let mut at = from;
    for part in text[from..to].split(|c: char| c == ',' || c == ';' || c.is_whitespace() || "=()+ΣΠ∑∏mM".contains(c))
    {
        if !part.is_empty() {
            match part.parse::<u64>() {
                Ok(n) if n < rows => list.push((n, at)),
                Ok(n) => {
                    let message = format!("there is no row {n}: the inputs have rows 0 to {} only.", rows - 1);
                    return fault(text, at, message);
                }
                Err(_) => return fault(text, at, format!("`{part}` is not a row number; write numbers from 0 on.")),
            }
        }
        at += part.len();
        at += text.get(at..).and_then(|t| t.chars().next()).map_or(0, char::len_utf8);
    }
    Ok(list)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lists_are_read_in_both_spellings() {
        let list = parse_term_list("f(a,b,c,d)=5,7,11,13 d=0,2").unwrap();
        assert_eq!((list.terms, list.dont_cares), (vec![5, 7, 11, 13], vec![0, 2]));
        let list = parse_term_list("f (a, b) = Σm(1, 2) + d(3)").unwrap();
        assert_eq!((list.inputs.len(), list.terms, list.dont_cares), (2, vec![1, 2], vec![3]));
        assert_eq!(list.kind, Some(TermListKind::Minterms));
        assert_eq!(parse_term_list("f(a,b) = ΠM(1,2)").unwrap().kind, Some(TermListKind::Maxterms));
        assert_eq!(parse_numbers("Σm(1 2)", 2).unwrap(), [1, 2]);
    }

    #[test]
    fn faults_have_columns() {
        assert_eq!(parse_term_list("f=1").unwrap_err().column, 1);
        assert_eq!(parse_term_list("f(a,2b)=1").unwrap_err().column, 5);
        assert_eq!(parse_term_list("f(a,a)=1").unwrap_err().column, 5);
        assert_eq!(parse_term_list("f(a,b)=1,x").unwrap_err().column, 10);
        let sixteen = parse_term_list("f(a,b,c,d)=1,16").unwrap_err();
        assert_eq!(
            (sixteen.column, sixteen.message.as_str()),
            (14, "there is no row 16: the inputs have rows 0 to 15 only.")
        );
        assert_eq!(parse_term_list("f(a,b)=1,2 d=0,2").unwrap_err().column, 16);
    }
}
