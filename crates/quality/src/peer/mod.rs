//! A laboratory among its peers: which results are given to a peer group, what the group tells of itself, and how both
//! compare.
//!
//! | what | module |
//! |---|---|
//! | a group as it is set up | [`group`] |
//! | results as they are given, and where each stands | [`given`] |
//! | what a group tells of a month | [`statistic`] |
//! | own results beside the group's | [`beside`] |

pub mod beside;
pub mod given;
pub mod group;
pub mod statistic;
