//! Load on a real server: technicians who enter samples and devices that send them, all at once.
//!
//! Open loop: each entry has its moment and is not put off by a slow answer before it, and its time
//! counts from that moment. Then, for a while, a closed loop: how much can be saved at all.

mod closed;
mod done;
mod poster;
mod report;
mod run;
mod site;
mod size;

pub use run::run;
