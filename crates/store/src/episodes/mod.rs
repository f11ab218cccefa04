//! Episodes: gathered with each judgement, looked at one by one or in lists. What people say of them is in
//! [answers](crate::answers).

mod answered;
mod escalate;
mod explain;
mod extent;
mod filter;
mod gather;
mod go_on;
mod list;
mod member;
mod of_run;
mod older;
mod settle;
mod stage;
mod view;

pub use answered::{AdditionView, AnswerView, CorrectedProcess, ReviewView};
pub use escalate::escalate;
pub use explain::{EpisodeNote, Explained, MadeSince, SameCause, TagChanged, explain};
pub(crate) use extent::Extent;
pub use filter::{Behind, EpisodeFilter, EpisodeOrder, count};
pub(crate) use gather::{Judging, gathered};
pub use list::{EpisodeRow, WaitingEpisodes, list, waiting};
pub(crate) use list::{how_many_wait, rows};
pub(crate) use of_run::gathered_in_runs;
pub(crate) use older::gather_older;
pub(crate) use stage::{Held, Said, hold, hold_places, step_taken};
pub use view::{EpisodeBefore, EpisodeRun, EpisodeSignal, EpisodeView, find};
