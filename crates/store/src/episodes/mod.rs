//! Episodes: gathered with each judgement, answered and reviewed by people, looked at one by one or in lists.

mod explain;
mod extent;
mod gather;
mod go_on;
mod life;
mod list;
mod member;
mod older;
mod settle;
mod stage;
mod view;

pub use explain::{EpisodeNote, Explained, MadeSince, TagChanged, explain};
pub(crate) use extent::Extent;
pub(crate) use gather::{Judging, gathered};
pub use life::{NewReview, answer, review, review_many};
pub use list::{EpisodeFilter, EpisodeRow, WaitingEpisodes, list, waiting};
pub(crate) use older::gather_older;
pub use view::{AnswerView, EpisodeBefore, EpisodeSignal, EpisodeView, ReviewView, find};
