//! Notices that go out: by mail and to other programs. Each is sent until the other side takes it, or it is given up.

mod mail;
mod send;
mod webhook;
mod words;

pub use mail::{Mail, WrongMail};
pub use send::{Post, run};
