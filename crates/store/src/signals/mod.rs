//! Signals: raised, grown and withdrawn with samples. What people say of them is said of their [episodes](crate::episodes).

mod raise;

pub(crate) use raise::{Basis, Because, Stands, apply, standing};
