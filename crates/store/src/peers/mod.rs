//! Peer groups of the laboratory.
//!
//! | what | module |
//! |---|---|
//! | groups set up, changed and listed | `groups` |
//! | results of reviewed runs are given, and taken back | `give` |
//! | what is to be sent, and what came of it | `send` |
//! | what a group tells of itself | `told` |
//! | what was given, and how it compares | `view` |

mod give;
mod groups;
mod send;
mod told;
mod view;

pub(crate) use give::give_of_run;
pub use give::{hand_over, send_again, withdraw};
pub use groups::{PeerGroupView, change, list, set_up};
pub use send::{Asked, Parcel, ask_now, asks, due, not_answered, not_taken, taken};
pub use told::{RefusedStatistic, TakenIn, take_file, take_in};
pub use view::{GivenFilter, GivenView, LevelBeside, comparison, given, to_hand_over};
