//! Slips of the finger: what was meant by a reading that cannot be right.

use crate::characteristic::{Bounds, Characteristic};
use crate::reading::number;

/// How far a decimal mark is moved by mistake.
const PLACES: usize = 3;

/// The reading that was most likely meant, as it would be typed: the decimal mark moved, two neighbouring digits
/// swapped, or a digit typed twice. Of several that would be usual, the one nearest to the middle of what is;
/// nothing where what is usual has no middle.
pub(super) fn likely(characteristic: &Characteristic, usual: &Bounds, typed: &str) -> Option<String> {
    let (Some(lower), Some(upper)) = (usual.lower, usual.upper) else { return None };
    let middle = lower.midpoint(upper);
    let typed = typed.trim();
    let meant = moved(typed).into_iter().chain(swapped(typed)).chain(once(typed));
    meant
        .filter_map(|text| {
            let value = number(characteristic, 1, &text).ok().filter(|&x| usual.hold(x))?;
            Some((text, (value - middle).abs()))
        })
        // On a tie the first: a decimal mark is the most common slip.
        .reduce(|best, other| if other.1 < best.1 { other } else { best })
        .map(|(text, _)| text)
}

/// The text with its decimal mark elsewhere, zeros put where digits are missing.
fn moved(text: &str) -> Vec<String> {
    let (sign, digits) = text.split_at(text.len() - text.trim_start_matches(['-', '+', '−']).len());
    let mark = digits.find(['.', ',']);
    let whole = mark.unwrap_or(digits.len());
    let only: String = digits.chars().filter(char::is_ascii_digit).collect();
    if only.is_empty() || digits.chars().any(|c| !matches!(c, '0'..='9' | '.' | ',')) {
        return vec![];
    }
    let sep = mark.and_then(|at| digits[at..].chars().next()).unwrap_or('.');
    let places = (1..=PLACES).flat_map(|by| [Some(whole + by), whole.checked_sub(by)]).flatten();
    places
        .map(|at| {
            let padded = format!("{only:0<at$}");
            let (whole, fraction) = padded.split_at(at);
            let whole = match whole.trim_start_matches('0') {
                "" => "0",
                whole => whole,
            };
            let fraction = if mark.is_none() { fraction.trim_end_matches('0') } else { fraction };
            if fraction.is_empty() { format!("{sign}{whole}") } else { format!("{sign}{whole}{sep}{fraction}") }
        })
        .collect()
}

/// The text with two neighbouring digits swapped, also across the decimal mark.
fn swapped(text: &str) -> Vec<String> {
    let chars: Vec<char> = text.chars().collect();
    let digits: Vec<usize> = (0..chars.len()).filter(|&i| chars[i].is_ascii_digit()).collect();
    let pairs = digits.windows(2).filter(|pair| chars[pair[0]] != chars[pair[1]]);
    pairs
        .map(|pair| {
            let mut chars = chars.clone();
            chars.swap(pair[0], pair[1]);
            chars.into_iter().collect()
        })
        .collect()
}

/// The text without one of two equal neighbouring digits.
fn once(text: &str) -> Vec<String> {
    let chars: Vec<char> = text.chars().collect();
    let doubled = (1..chars.len()).filter(|&i| chars[i].is_ascii_digit() && chars[i] == chars[i - 1]);
    doubled.map(|left_out| chars.iter().enumerate().filter(|(i, _)| *i != left_out).map(|(_, c)| c).collect()).collect()
}
