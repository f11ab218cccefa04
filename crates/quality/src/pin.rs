//! Short numbers that let a person take over a shared terminal.

use crate::field::Allowed;

/// What a PIN may be.
pub const PIN: Allowed = Allowed::Pin { least: 4, most: 8 };

/// What a badge number may be.
pub const BADGE: Allowed = Allowed::Badge { least: 8, most: 32 };

/// Tries at a PIN before only the password helps.
pub const PIN_TRIES: i32 = 5;

/// Whether a person may use `pin`: 4 to 8 digits, not all alike and not simply counted up or down.
/// Those are the first that anybody would try.
pub fn is_pin(pin: &str) -> bool {
    let digits: Vec<i8> = pin.bytes().filter(u8::is_ascii_digit).map(|b| b.cast_signed()).collect();
    let step = |by: i8| digits.windows(2).all(|pair| pair[1] - pair[0] == by);
    digits.len() == pin.len() && (4..=8).contains(&digits.len()) && !step(0) && !step(1) && !step(-1)
}

/// Whether a reader could have read `badge` off a card, and nobody guesses it: 8 to 32 letters and digits, not
/// all alike and not simply counted up or down.
pub fn is_badge(badge: &str) -> bool {
    let step = |by: i8| badge.as_bytes().windows(2).all(|pair| pair[1].wrapping_sub(pair[0]).cast_signed() == by);
    (8..=32).contains(&badge.len())
        && badge.bytes().all(|b| b.is_ascii_alphanumeric())
        && !step(0)
        && !step(1)
        && !step(-1)
}
