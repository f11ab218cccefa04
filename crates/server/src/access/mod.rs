//! Who is signed in: by password, or at a shared terminal by PIN or badge.

mod cookie;
pub mod secrets;
mod session;
pub mod sign_in;
pub mod terminals;
mod tries;

pub(crate) use session::signed_in;
pub(crate) use tries::{Origin, check_password, check_pin};
