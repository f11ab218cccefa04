//! What people say of [episodes](crate::episodes): answers, what is added to them, and reviews. Who acts names the version
//! that was seen; a second person who acts on the same version is refused and nothing is overwritten. What is said is
//! kept for each signal that it was said of.

mod add_to;
mod answer;
mod review;

pub use add_to::add_to;
pub use answer::{By, answer};
pub use review::{NewReview, review, review_many};
