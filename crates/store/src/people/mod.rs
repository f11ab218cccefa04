//! The people who use the site: who they are, and what an administrator does with their accounts.

mod accounts;
mod add;
mod person;

pub use accounts::{
    AccountView, accounts, change, close, end_sessions, give_password, reopen, set_password, take_pin_away,
};
pub use add::{NewPerson, add};
pub use person::{Credentials, Person, PersonName, credentials, find, names, of_session, with_role};
