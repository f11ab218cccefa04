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

/// An optional sign, digits, at most one decimal mark, an optional exponent.
fn number(text: &str, decimal_comma: bool) -> Option<f64> {
    let mark = if decimal_comma { b',' } else { b'.' };
    let bytes = text.as_bytes();
    let mut at = usize::from(matches!(bytes.first(), Some(b'+' | b'-')));
    let digits = |from: usize| bytes[from..].iter().take_while(|byte| byte.is_ascii_digit()).count();
    let before = digits(at);
    at += before;
    let mut after = 0;
    if bytes.get(at) == Some(&mark) {
        after = digits(at + 1);
        at += 1 + after;
    }
    if before + after == 0 {
        return None;
    }
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
