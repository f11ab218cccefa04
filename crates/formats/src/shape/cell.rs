//! Cells, and what they say.

use std::borrow::Cow;

use chrono::NaiveDateTime;

/// What stands in a cell.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Cell<'a> {
    /// Nothing.
    Blank,
    /// A text, as it stands.
    Text(&'a str),
    /// A number of a sheet or of JSON.
    Number(f64),
    /// A date of a sheet, to the nearest second.
    Date(NaiveDateTime),
    /// A truth value.
    Bool(bool),
}

/// White space at either end, no-break spaces too.
pub(super) fn trim(text: &str) -> &str {
    // Most cells begin and end with what is seen.
    let seen = |byte: Option<&u8>| byte.is_some_and(u8::is_ascii_graphic);
    if seen(text.as_bytes().first()) && seen(text.as_bytes().last()) {
        return text;
    }
    text.trim_matches(|c: char| c.is_whitespace() || matches!(c, '\u{a0}' | '\u{202f}' | '\u{2060}' | '\u{feff}'))
}

impl<'a> Cell<'a> {
    /// Nothing when trimmed.
    pub fn is_blank(&self) -> bool {
        match self {
            Cell::Blank => true,
            Cell::Text(text) => trim(text).is_empty(),
            _ => false,
        }
    }

    /// Its text, trimmed: a number as short as it reads back the same, a date as its format spells it.
    pub fn text(&self) -> Cow<'a, str> {
        match *self {
            Cell::Blank => "".into(),
            Cell::Text(text) => trim(text).into(),
            Cell::Number(number) => number.to_string().into(),
            Cell::Date(at) => at.format("%Y-%m-%dT%H:%M:%S").to_string().into(),
            Cell::Bool(is) => is.to_string().into(),
        }
    }

    /// A reading: nothing where the cell is blank.
    pub fn reading(&self, decimal_comma: bool) -> Result<Option<f64>, ()> {
        match *self {
            Cell::Number(number) if number.is_finite() => Ok(Some(number)),
            Cell::Text(text) => match trim(text) {
                "" => Ok(None),
                text => number(text, decimal_comma).map(Some).ok_or(()),
            },
            Cell::Blank => Ok(None),
            _ => Err(()),
        }
    }
}

/// Powers of ten that a float holds exactly.
const TENS: [f64; 23] = [
    1e0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20,
    1e21, 1e22,
];

/// So many digits make a whole number that a float holds exactly.
const DIGITS_EXACT: usize = 15;

/// An optional sign, digits, at most one decimal mark, an optional exponent.
fn number(text: &str, decimal_comma: bool) -> Option<f64> {
    let mark = if decimal_comma { b',' } else { b'.' };
    let bytes = text.as_bytes();
    let mut at = usize::from(matches!(bytes.first(), Some(b'+' | b'-')));
    let mut whole: u64 = 0;
    let mut digits = |from: usize| {
        let digits = bytes[from..].iter().take_while(|byte| byte.is_ascii_digit());
        digits.fold(0, |many, digit| {
            whole = whole.wrapping_mul(10).wrapping_add(u64::from(digit - b'0'));
            many + 1
        })
    };
    let before: usize = digits(at);
    at += before;
    let mut after = 0;
    if bytes.get(at) == Some(&mark) {
        after = digits(at + 1);
        at += 1 + after;
    }
    if before + after == 0 {
        return None;
    }
    if at == bytes.len() && before + after <= DIGITS_EXACT {
        // Both are exact, so their quotient is the float next to what is written, as it is read below.
        let number = whole as f64 / TENS[after];
        return Some(if bytes[0] == b'-' { -number } else { number });
    }
    let digits = |from: usize| bytes[from..].iter().take_while(|byte| byte.is_ascii_digit()).count();
    if matches!(bytes.get(at), Some(b'e' | b'E')) {
        at += 1 + usize::from(matches!(bytes.get(at + 1), Some(b'+' | b'-')));
        let exponent = digits(at);
        if exponent == 0 {
            return None;
        }
        at += exponent;
    }
    if at != bytes.len() {
        return None;
    }
    let read = if decimal_comma { text.replacen(',', ".", 1).parse() } else { text.parse() };
    read.ok().filter(|number: &f64| number.is_finite())
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::number;

    proptest! {
        /// The short way gives the float that the standard library reads, to the last bit; with a comma the same.
        #[test]
        fn numbers_are_the_floats_next_to_what_is_written(
            text in "[+-]?([0-9]{1,20}(\\.[0-9]{0,20})?|\\.[0-9]{1,20})([eE][+-]?[0-9]{1,3})?",
        ) {
            let read = text.parse::<f64>().ok().filter(|x| x.is_finite()).map(f64::to_bits);
            prop_assert_eq!(number(&text, false).map(f64::to_bits), read);
            prop_assert_eq!(number(&text.replace('.', ","), true).map(f64::to_bits), read);
        }
    }
}
