//! A site with a history without end, beside one with a hundredth of it: what people wait for there, by turns.

mod asked;
mod fill;
mod made;
mod moved;
mod report;
mod run;

pub use run::run;
