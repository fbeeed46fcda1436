//! Parameterised width: the same exercise at several values of a parameter of the top, each with a behaviour of its own.

use crate::fault::Fault;
use elab::Parameter;
use serde::Deserialize;
use toml::Spanned;

/// The table `[parameter]` of an exercise file.
#[derive(Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub(crate) struct RawParameter {
    pub name: Spanned<String>,
    pub usual: Spanned<i64>,
    #[serde(default)]
    pub also: Vec<Spanned<i64>>,
}

/// The largest value, so that vectors stay within what is checked.
const MOST: i64 = 256;
/// Most other values that a hand-in is checked at.
const MOST_VALUES: usize = 8;

impl RawParameter {
    /// Its values, the usual one first.
    pub(crate) fn values(&self) -> Result<Vec<i64>, Fault> {
        if let Err(problem) = base::check_port_name(self.name.get_ref()) {
            let message = format!("`{}` can't name a parameter: {problem}; rename it.", self.name.get_ref());
            return Err((self.name.span(), message));
        }
        if self.also.len() > MOST_VALUES {
            let last = self.also.last().map_or(0..0, Spanned::span);
            return Err((last, format!("At most {MOST_VALUES} other values are checked; leave some out.")));
        }
        let mut list: Vec<i64> = Vec::new();
        for value in std::iter::once(&self.usual).chain(&self.also) {
            let number = *value.get_ref();
            if !(1..=MOST).contains(&number) {
                return Err((value.span(), format!("A parameter's value is from 1 to {MOST}, not {number}.")));
            }
            if list.contains(&number) {
                return Err((value.span(), format!("The value {number} is given twice; keep one.")));
            }
            list.push(number);
        }
        Ok(list)
    }
}

/// A bound of a range: a number, or the parameter with what is added to it or multiplied, as `N-1` or `2*N-1`.
pub(crate) fn bound(text: &str, parameter: Option<&Parameter>) -> Option<i64> {
    let text: String = text.chars().filter(|c| !c.is_whitespace()).collect();
    let mut sum = 0i64;
    let mut rest = text.as_str();
    let mut first = true;
    while !rest.is_empty() {
        let (sign, after) = match rest.strip_prefix('-') {
            Some(after) => (-1, after),
            None => (1, rest.strip_prefix('+').unwrap_or(rest)),
        };
        if !first && after.len() == rest.len() {
            return None;
        }
        first = false;
        let end = after.find(['+', '-']).unwrap_or(after.len());
        let product = after[..end].split('*').try_fold(1i64, |product, factor| {
            let value = match factor.parse::<i64>() {
                Ok(number) => number,
                Err(_) => parameter.filter(|p| p.name.eq_ignore_ascii_case(factor))?.value,
            };
            product.checked_mul(value)
        })?;
        sum = sum.checked_add(sign * product)?;
        rest = &after[end..];
    }
    (!first).then_some(sum)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn bounds_are_numbers_and_sums_with_the_parameter() {
        let width = Parameter { name: "WIDTH".into(), value: 8 };
        let with = |text: &str| bound(text, Some(&width));
        assert_eq!(with("WIDTH-1"), Some(7));
        assert_eq!(with("2*WIDTH - 1"), Some(15));
        assert_eq!(with("width + 2"), Some(10));
        assert_eq!(with("-3"), Some(-3));
        assert_eq!(
            (with("DEPTH"), with(""), with("4 4"), with("2*"), with("1--1")),
            (None, None, Some(44), None, None)
        );
        assert_eq!((bound("7", None), bound("WIDTH", None)), (Some(7), None));
    }
}
