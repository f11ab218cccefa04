//! Which passwords are taken: long ones that are not on everybody's list. Nothing else is asked of them; what is asked
//! in vain ends up on a slip of paper.

use crate::field::{Allowed, WrongField};

/// Shortest password, in characters.
pub const PASSWORD_AT_LEAST: usize = 10;

/// Longest password, in characters; hashing is made to be costly.
pub const PASSWORD_AT_MOST: usize = 200;

/// What many people take, in small letters and without what is added at the end.
const COMMON: [&str; 36] = [
    "abc",
    "abcd",
    "abcdef",
    "abcdefgh",
    "abcdefghij",
    "administrator",
    "adminadmin",
    "admin",
    "asdfghjkl",
    "changeme",
    "computer",
    "default",
    "football",
    "iloveyou",
    "internet",
    "letmein",
    "login",
    "master",
    "monkey",
    "nuvek",
    "passphrase",
    "passwort",
    "password",
    "passwordpassword",
    "princess",
    "qwerty",
    "qwertyqwerty",
    "qwertyuiop",
    "qwertz",
    "qwertzuiop",
    "secret",
    "sunshine",
    "superman",
    "trustno",
    "welcome",
    "zxcvbnm",
];

/// Takes a password for the sign-in `login`.
///
/// # Errors
/// When it is too short or too long, holds the sign-in, is one character over and over, counts up or down, or is what
/// many people take, with whatever figures and signs at its end.
pub fn check_password(field: &'static str, login: &str, given: &str) -> Result<(), WrongField> {
    let length = given.chars().count();
    let small = given.to_lowercase();
    let word =
        small.trim_end_matches(|c: char| !c.is_alphabetic()).replace('0', "o").replace('@', "a").replace('$', "s");
    let holds_login = !login.trim().is_empty() && small.contains(&login.trim().to_lowercase());
    let fits = (PASSWORD_AT_LEAST..=PASSWORD_AT_MOST).contains(&length)
        && !holds_login
        && !is_a_row(&small)
        && !COMMON.contains(&word.as_str());
    if fits {
        return Ok(());
    }
    let (least, most) = (PASSWORD_AT_LEAST, PASSWORD_AT_MOST);
    Err(WrongField::new(field, Allowed::Password { least, most }))
}

/// One character over and over, or characters that count up or down.
fn is_a_row(text: &str) -> bool {
    let codes: Vec<i64> = text.chars().map(|c| i64::from(u32::from(c))).collect();
    let step = |pair: &[i64]| match pair[1] - pair[0] {
        // … 8, 9, 0 counts on.
        9 | -9 if pair.iter().all(|c| (48..58).contains(c)) => (pair[0] - pair[1]).signum(),
        step => step,
    };
    let mut steps = codes.windows(2).map(step);
    let Some(first) = steps.next() else { return true };
    (-1..=1).contains(&first) && steps.all(|step| step == first)
}
