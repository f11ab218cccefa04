//! What benches of a whole server have in common.

mod page;
mod server;
mod site;

pub use page::write_down;
pub use server::Server;
pub use site::{people, put_in_force, sign_in};
