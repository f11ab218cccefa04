//! The life of limits: where they come from, what they are made of, how long they hold, who may do what with them.

mod basis;
mod estimate;
mod life;
mod look;
mod refusal;
mod unfit;

pub use basis::{Basis, NewLimits, SigmaSource};
pub use estimate::{Baseline, Estimate, TRIAL_POINTS_AT_LEAST, TRIAL_POINTS_AT_MOST, estimate, trial};
pub use life::{LimitsAct, LimitsState, holding};
pub use look::{Drift, LOOKED_AT, LimitsLook, RUN, look, proposed_start};
pub use refusal::LimitsRefusal;
pub use unfit::{Unfit, unfit};
