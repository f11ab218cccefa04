//! Episodes: gathered with each judgement, looked at one by one or in lists. What people say of them is in
//! [answers](crate::answers).

mod escalate;
mod explain;
mod extent;
mod filter;
mod gather;
mod go_on;
mod list;
mod member;
mod older;
mod settle;
mod stage;
mod view;

pub use escalate::escalate;
pub use explain::{EpisodeNote, Explained, MadeSince, SameCause, TagChanged, explain};
pub(crate) use extent::Extent;
pub use filter::{Behind, EpisodeFilter, EpisodeOrder, count};
pub(crate) use gather::{Judging, gathered};
pub(crate) use list::rows;
pub use list::{EpisodeRow, WaitingEpisodes, list, waiting};
pub(crate) use older::gather_older;
pub(crate) use stage::{Held, hold, step_taken};
pub use view::{
    AdditionView, AnswerView, CorrectedProcess, EpisodeBefore, EpisodeSignal, EpisodeView, ReviewView, find,
};
