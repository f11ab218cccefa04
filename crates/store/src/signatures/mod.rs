//! Signatures under decisions. A decision counts when it is made; until it is signed it is listed so.

mod list;
mod seen;
mod sign;

pub use list::{Covered, SignatureRow, SignatureView, find, list};
pub use sign::{Unsigned, sign, unsigned};
