//! The tables held against what the trail says of their rows.

mod answers;
mod characteristic;
mod compare;
mod imports;
mod limits;
mod samples;
mod signals;
mod site;
mod work;

pub(super) use characteristic::of_characteristic;
pub(super) use site::of_site;
