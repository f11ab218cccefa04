//! Signals: raised, grown and withdrawn with samples. What people say of them is said of their [episodes](crate::episodes).

mod basis;
mod of_run;
mod raise;
mod raised;

pub(crate) use basis::{Basis, Because, Stands};
pub(crate) use of_run::{RunFindings, RunPlace, reconcile_run};
pub(crate) use raise::{apply, standing};
pub(crate) use raised::Raised;
