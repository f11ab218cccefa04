//! Who is signed in: by password, or at a shared terminal by PIN or badge.

mod cookie;
mod session;
pub mod sign_in;
pub mod terminals;
mod tries;

pub(crate) use session::signed_in;
