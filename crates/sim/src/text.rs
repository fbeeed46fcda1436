//! Text as values: characters of 8 bits, the first one most significant, zeros before it.

use design::TextOp;
use logic::{Level, LogicVector};

/// The characters of a value without zeros; an unknown one is a blank.
pub(crate) fn characters(value: &LogicVector) -> String {
    bytes(value).into_iter().map(char::from).collect()
}

fn bytes(value: &LogicVector) -> Vec<u8> {
    let count = value.width().div_ceil(8);
    let whole = value.resized(count * 8, false);
    let byte = |i: u32| whole.slice(i64::from(i) * 8, 8).to_u64().unwrap_or(u64::from(b' ')) as u8;
    (0..count).rev().map(byte).filter(|b| *b != 0).collect()
}

/// A text as bits, at least one character.
pub(crate) fn bits(text: &str) -> LogicVector {
    from_bytes(&text.chars().map(|c| u8::try_from(u32::from(c)).unwrap_or(b'?')).collect::<Vec<_>>())
}

fn from_bytes(bytes: &[u8]) -> LogicVector {
    if bytes.is_empty() {
        return LogicVector::from_u64(8, 0);
    }
    LogicVector::from_levels_msb(bytes.iter().flat_map(|b| (0..8).rev().map(move |i| Level::from(b >> i & 1 == 1))))
}

/// The result of a computation with text, as wide as asked for (IEEE 1800-2017 6.16).
pub(crate) fn value(op: TextOp, operands: &[LogicVector], width: u32) -> LogicVector {
    let text = operands.first().map(bytes).unwrap_or_default();
    let number = |i: usize| operands.get(i).and_then(LogicVector::to_i64).unwrap_or(-1);
    let at = |i: i64| usize::try_from(i).ok().and_then(|i| text.get(i)).copied();
    match op {
        TextOp::Pack => from_bytes(&text).resized(width, false),
        TextOp::Length => LogicVector::from_u64(width, text.len() as u64),
        TextOp::Upper => from_bytes(&text.to_ascii_uppercase()).resized(width, false),
        TextOp::Lower => from_bytes(&text.to_ascii_lowercase()).resized(width, false),
        TextOp::Character => LogicVector::from_u64(width, u64::from(at(number(1)).unwrap_or(0))),
        TextOp::Part => {
            let part: Vec<u8> = match (usize::try_from(number(1)), usize::try_from(number(2))) {
                (Ok(first), Ok(last)) if first <= last && last < text.len() => text[first..=last].to_vec(),
                _ => Vec::new(),
            };
            from_bytes(&part).resized(width, false)
        }
        TextOp::ToNumber => {
            let (sign, digits) = match text.split_first() {
                Some((b'-', rest)) => (-1, rest),
                _ => (1, text.as_slice()),
            };
            let digits = digits.iter().take_while(|b| b.is_ascii_digit() || **b == b'_').filter(|b| **b != b'_');
            let size = digits.fold(0i64, |n, b| n.wrapping_mul(10).wrapping_add(i64::from(b - b'0')));
            LogicVector::from_u64(64, size.wrapping_mul(sign).cast_unsigned()).resized(width, true)
        }
    }
}
