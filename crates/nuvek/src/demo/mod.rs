//! The invented site "Tarn Valley Filterworks", with eight weeks of history and stories in it.

mod cause_tree;
mod characteristics;
mod devices;
mod history;
mod laboratory;
mod peers;
mod process;
mod run;
mod signatures;
mod site;
mod studies;

pub use run::{load, run};
