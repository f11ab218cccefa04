//! Devices that send what they measure, post that goes out, and simulated ones of both to try them with.
//!
//! | module | idea |
//! |---|---|
//! | [`gauge`] | a bench gauge: a line for each measurement, offered to whoever enters a sample |
//! | [`astm`] | an analyser: frames of ASTM E1381 with records of ASTM E1394, offered to a run |
//! | [`sensor`] | a stream by MQTT: values become samples |
//! | [`folder`] | tables that other programs write into a folder |
//! | [`hub`] | keeps the connections of all devices, on one instance at a time |
//! | [`broker`] | an MQTT broker on loopback |
//! | [`post`] | notices by mail and to other programs |
//! | [`peers`] | results of the laboratory to its peer groups, and what these tell |
//! | [`simulate`] | stand-ins for devices, mailbox, program and peer group |
//!
//! What a device sends becomes a sample or an offer, or a refusal that is counted with its reason;
//! what is valid is acknowledged only when it is stored.

pub mod astm;
pub mod broker;
mod call;
pub mod folder;
pub mod gauge;
pub mod hub;
mod meet;
mod networks;
mod not_there;
mod once;
pub mod peers;
pub mod post;
pub mod sensor;
pub mod simulate;
mod sink;

pub use networks::Networks;
pub use sink::Sink;
