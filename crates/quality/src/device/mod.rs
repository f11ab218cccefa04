//! Devices that send what they measure: how, and why something of theirs is refused.

mod folder;
mod link;
mod reason;

pub use folder::{WatchedFolder, is_folder_name};
pub use link::{Address, Link, Make, Opens, Payload, ResultMapping};
pub use reason::{Reason, SILENT_AFTER_MINUTES};
