//! Load on a real server: technicians who enter samples and devices that send them, all at once.
//!
//! Open loop: each entry has its moment and is not put off by a slow answer before it, and its time
//! counts from that moment.

mod done;
mod report;
mod run;
mod site;
mod size;

pub use run::run;
