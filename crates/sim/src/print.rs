//! Values in messages: the format specifications of IEEE 1364-2005 17.1.1 and the images of IEEE 1076-2008 16.2.

use crate::text;
use design::{Design, Radix, RealStyle, TimeFormat, TypeKind};
use logic::{Level, LogicVector};

/// `x` or `z` for a group of bits that is not wholly known: small when all bits are so, capital when only some.
fn group_sign(bits: &[Level]) -> char {
    let all = |level: Level| bits.iter().all(|b| *b == level);
    if all(Level::HighZ) {
        'z'
    } else if bits.iter().all(|b| b.known().is_none()) && !bits.contains(&Level::HighZ) {
        'x'
    } else if bits.iter().any(|b| b.known().is_none() && *b != Level::HighZ) {
        'X'
    } else {
        'Z'
    }
}

fn digits(value: &LogicVector, bits: u32, capitals: bool) -> String {
    let count = value.width().div_ceil(bits).max(1);
    (0..count)
        .rev()
        .map(|i| {
            let levels: Vec<Level> = (i * bits..((i + 1) * bits).min(value.width())).map(|b| value.get(b)).collect();
            let number = levels.iter().rev().try_fold(0u32, |n, l| Some(n << 1 | u32::from(l.known()?)));
            match number {
                Some(n) => {
                    let digit = char::from_digit(n, 16).unwrap_or('?');
                    if capitals { digit.to_ascii_uppercase() } else { digit }
                }
                None if capitals => group_sign(&levels).to_ascii_uppercase(),
                None => group_sign(&levels),
            }
        })
        .collect()
}

fn decimal(value: &LogicVector, signed: bool) -> String {
    if !value.is_known() {
        let levels: Vec<Level> = value.bits().collect();
        return group_sign(&levels).to_string();
    }
    let negative = signed && value.width() > 0 && value.get(value.width() - 1).known() == Some(true);
    let mut rest = if negative { LogicVector::from_u64(value.width(), 0).sub(value) } else { value.clone() };
    let mut text = Vec::new();
    if let Some(n) = rest.to_u64() {
        text = n.to_string().into_bytes();
        text.reverse();
    } else {
        let ten = LogicVector::from_u64(rest.width(), 10);
        while rest.to_u64() != Some(0) && text.len() < 20_000 {
            let (quotient, digit) = rest.div_rem(&ten);
            text.push(b'0' + digit.to_u64().unwrap_or(0) as u8);
            rest = quotient;
        }
    }
    if negative {
        text.push(b'-');
    }
    text.iter().rev().map(|b| char::from(*b)).collect()
}

/// Characters that the largest number of so many bits needs (IEEE 1364-2005 17.1.1.3).
fn decimal_width(width: u32, signed: bool) -> usize {
    let bits = f64::from(if signed { width.saturating_sub(1) } else { width });
    (bits * std::f64::consts::LOG10_2).floor() as usize + 1 + usize::from(signed)
}

/// A value as a message shows it. `width` is the fewest characters; none for as many as its size needs.
pub(crate) fn value(
    design: &Design,
    value: &LogicVector,
    radix: Radix,
    signed: bool,
    width: Option<u32>,
    times: &TimeFormat,
) -> String {
    let text = match radix {
        Radix::Binary => value
            .to_string()
            .chars()
            .map(|c| match c {
                'Z' => 'z',
                '0' | 'L' => '0',
                '1' | 'H' => '1',
                _ => 'x',
            })
            .collect(),
        Radix::Levels => value.to_string(),
        Radix::Octal => digits(value, 3, false),
        Radix::Hexadecimal => digits(value, 4, false),
        Radix::Capitals => digits(value, 4, true),
        Radix::Decimal => decimal(value, signed),
        Radix::Character => value.to_u64().map_or(' ', |n| char::from(n as u8)).to_string(),
        Radix::Text => text::characters(value),
        Radix::Time(0) => time(value, times, design.precision),
        Radix::Fraction(unit, places) => value.to_u64().map_or("x".into(), |t| {
            let number = t as f64 / unit.max(1) as f64;
            match places {
                places @ Some(_) => real(number, RealStyle::Fixed, places),
                None => real(number, RealStyle::Shorter, None),
            }
        }),
        Radix::Exact(unit) => value.to_u64().map_or("x".into(), |t| exact(t, unit.max(1))),
        Radix::Time(unit) => {
            value.to_u64().map_or("x".into(), |t| (t.saturating_add(unit / 2) / unit.max(1)).to_string())
        }
        Radix::Name(ty) => match (&design.types[ty].kind, value.to_u64()) {
            (TypeKind::Enumeration { literals }, Some(n)) => {
                literals.get(n as usize).cloned().unwrap_or_else(|| n.to_string())
            }
            _ => value.to_string(),
        },
        Radix::Real(style, places) => real(design::real_of(value), style, places),
    };
    let width = if radix == Radix::Time(0) { width.or(Some(times.width)) } else { width };
    match (width, radix) {
        (Some(0), Radix::Binary | Radix::Octal | Radix::Hexadecimal) => {
            let short = text.trim_start_matches('0');
            if short.is_empty() { "0".into() } else { short.to_owned() }
        }
        (Some(wide), Radix::Binary | Radix::Octal | Radix::Hexadecimal) => {
            let wide = wide as usize;
            format!("{text:0>wide$}")
        }
        (Some(wide), _) => {
            let wide = wide as usize;
            format!("{text:>wide$}")
        }
        (None, Radix::Decimal) => {
            let wide = decimal_width(value.width(), signed);
            format!("{text:>wide$}")
        }
        (None, _) => text,
    }
}

/// A number of femtoseconds in a unit that is a power of ten of them, with the places it has and no more.
fn exact(time: u64, unit: u64) -> String {
    let (whole, rest) = (time / unit, time % unit);
    if rest == 0 {
        return whole.to_string();
    }
    let places = unit.ilog10() as usize;
    format!("{whole}.{rest:0places$}").trim_end_matches('0').to_owned()
}

/// A real number (IEEE 1364-2005 17.1.1.2, as the C language writes a double; IEEE 1076-2008 16.2 for the image).
fn real(number: f64, style: RealStyle, places: Option<u8>) -> String {
    let digits = usize::from(places.unwrap_or(6));
    match style {
        _ if !number.is_finite() => number.to_string().to_lowercase(),
        RealStyle::Fixed => format!("{number:.digits$}"),
        RealStyle::Exponent => exponent(&format!("{number:.digits$e}")),
        RealStyle::Image => {
            let text = format!("{number:e}");
            // A real literal has a point.
            match text.split_once('e') {
                Some((digits, power)) if !digits.contains('.') => format!("{digits}.0e{power}"),
                _ => text,
            }
        }
        RealStyle::Shorter => {
            let digits = digits.max(1);
            let long = format!("{number:.0$e}", digits - 1);
            let power: i32 = long.split_once('e').and_then(|(_, e)| e.parse().ok()).unwrap_or(0);
            let short = |text: &str| match text.contains('.') {
                true => text.trim_end_matches('0').trim_end_matches('.').to_owned(),
                false => text.to_owned(),
            };
            if power < -4 || power >= digits as i32 {
                let (mantissa, power) = long.split_once('e').unwrap_or((&long, "0"));
                return exponent(&format!("{}e{power}", short(mantissa)));
            }
            short(&format!("{number:.0$}", (digits as i32 - 1 - power).max(0) as usize))
        }
    }
}

/// `1.5e0` as `1.5e+00`.
fn exponent(text: &str) -> String {
    let (digits, power) = text.split_once('e').unwrap_or((text, "0"));
    let (sign, power) = power.strip_prefix('-').map_or(('+', power), |e| ('-', e));
    format!("{digits}e{sign}{power:0>2}")
}

/// A number of femtoseconds in the unit and with the places asked for, rounded.
fn time(value: &LogicVector, format: &TimeFormat, precision: u64) -> String {
    let Some(time) = value.to_u64() else { return "x".into() };
    let unit = u128::from(if format.unit == 0 { precision } else { format.unit }.max(1));
    let scale = 10u128.pow(format.places.min(18));
    let scaled = (u128::from(time) * scale + unit / 2) / unit;
    let (whole, part) = (scaled / scale, scaled % scale);
    let places = format.places.min(18) as usize;
    let number = if places == 0 { whole.to_string() } else { format!("{whole}.{part:0>places$}") };
    number + &format.suffix
}

#[cfg(test)]
mod tests {
    use super::*;

    fn show(bits: &str, radix: Radix, signed: bool, width: Option<u32>) -> String {
        let design = Design::new(design::Scope {
            name: "t".into(),
            unit: "t".into(),
            parent: None,
            kind: design::ScopeKind::Instance,
            parameters: Vec::new(),
            ports: Vec::new(),
            span: base::Span::new(base::SourceMap::new().id_at(0), 0, 0),
        });
        let levels = bits.chars().filter_map(Level::from_char);
        value(&design, &LogicVector::from_levels_msb(levels), radix, signed, width, &TimeFormat::default())
    }

    #[test]
    fn widths_are_those_of_the_largest_value() {
        // IEEE 1364-2005 17.1.1.3: %d pads to the widest value of the size, %0d doesn't.
        assert_eq!(show("0101", Radix::Decimal, false, None), " 5");
        assert_eq!(show("0101", Radix::Decimal, false, Some(0)), "5");
        assert_eq!(show(&"0".repeat(32), Radix::Decimal, false, None), "         0");
        assert_eq!(show(&"1".repeat(32), Radix::Decimal, true, None), "         -1");
        assert_eq!(show("00001010", Radix::Hexadecimal, false, None), "0a");
        assert_eq!(show("00001010", Radix::Hexadecimal, false, Some(0)), "a");
    }

    #[test]
    fn unknown_digits_are_small_when_all_bits_are_and_capital_when_some_are() {
        // IEEE 1364-2005 17.1.1.4.
        assert_eq!(show("XXXX", Radix::Hexadecimal, false, None), "x");
        assert_eq!(show("1X01ZZZZ", Radix::Hexadecimal, false, None), "Xz");
        assert_eq!(show("Z010", Radix::Hexadecimal, false, None), "Z");
        assert_eq!(show("XXXX", Radix::Decimal, false, Some(0)), "x");
        assert_eq!(show("X010", Radix::Decimal, false, Some(0)), "X");
        assert_eq!(show("1X0Z", Radix::Binary, false, None), "1x0z");
    }

    #[test]
    fn texts_and_characters_are_bytes() {
        assert_eq!(show("0100100001101001", Radix::Text, false, None), "Hi");
        assert_eq!(show("01000001", Radix::Character, false, None), "A");
    }

    #[test]
    fn numbers_wider_than_a_word_are_written_out() {
        assert_eq!(show(&format!("1{}", "0".repeat(64)), Radix::Decimal, false, Some(0)), "18446744073709551616");
    }
}
