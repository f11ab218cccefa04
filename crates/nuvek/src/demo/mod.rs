//! The invented site "Tarn Valley Filterworks", with eight weeks of history and stories in it.

mod characteristics;
mod devices;
mod history;
mod laboratory;
mod process;
mod run;
mod signatures;
mod site;

pub use run::{load, run};
