//! Rules replayed over what a characteristic went through: what they would have found of that which proved to be
//! something, and what they would have spared of that which proved to be nothing. No textbook can tell.

use serde::Serialize;
use spc::chart::Signal;
use spc::rules::Side;

use crate::episode::{Aspect, Span, gather, high_or_low};

/// How looking into an episode ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Ended {
    /// The answer named a cause.
    Cause,
    /// Looked, nothing found.
    NothingFound,
}

/// An episode that was answered.
#[derive(Debug, Clone, PartialEq)]
pub struct Answered {
    /// What of the process it speaks of.
    pub aspect: Aspect,
    /// High or low.
    pub side: Option<Side>,
    /// First and last flagged point of each of its signals, as places of the series.
    pub flagged: Vec<(usize, usize)>,
    /// How it ended.
    pub ended: Ended,
}

/// The places that were judged.
#[derive(Debug, Clone, Copy)]
pub struct Judged<'a> {
    /// Which of them rules look at.
    pub counts: &'a [bool],
    /// Before which of them rules start afresh.
    pub restarts: &'a [usize],
}

/// What rules would have done.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Replayed {
    /// Points that were judged.
    pub points: usize,
    /// Episodes that they would have raised.
    pub episodes: usize,
    /// Episodes with a cause that they would have found.
    pub found: usize,
    /// Episodes with a cause that they would have missed.
    pub missed: usize,
    /// Episodes behind which nothing was found that they would not have raised.
    pub spared: usize,
    /// Episodes behind which nothing was found that they would have raised all the same.
    pub raised_for_nothing: usize,
    /// Episodes that they would have raised where nobody answered one: nobody knows whether something was there.
    pub unknown: usize,
}

impl Replayed {
    /// Adds what they would have done elsewhere.
    #[must_use]
    pub fn and(self, other: Self) -> Self {
        Self {
            points: self.points + other.points,
            episodes: self.episodes + other.episodes,
            found: self.found + other.found,
            missed: self.missed + other.missed,
            spared: self.spared + other.spared,
            raised_for_nothing: self.raised_for_nothing + other.raised_for_nothing,
            unknown: self.unknown + other.unknown,
        }
    }
}

/// Gathers findings into episodes and holds them against the answered ones of the same points. An episode is found
/// when a finding of its aspect, and not of the other side, flags one of its flagged points.
pub fn replay(findings: &[Signal], answered: &[Answered], judged: Judged<'_>) -> Replayed {
    let Judged { counts, restarts } = judged;
    let looked_at = |place: usize| counts.get(place).copied().unwrap_or(false);
    let flags = |f: &Signal, a: &Answered| {
        let common = |&(at, to): &(usize, usize)| (f.at.max(at)..=f.to.min(to)).any(looked_at);
        let other_side = high_or_low(f.side).zip(a.side).is_some_and(|(f, a)| f != a);
        Aspect::of(f.panel) == a.aspect && !other_side && a.flagged.iter().any(common)
    };
    let tested: Vec<usize> = (0..counts.len()).filter(|&place| counts[place]).collect();
    let position = |place: usize| tested.partition_point(|&other| other < place);
    let span = |f: &Signal| {
        let (from, to) = (position(f.from), position(f.to + 1).saturating_sub(1));
        Span { aspect: Aspect::of(f.panel), side: f.side, from, to: to.max(from), reviewed: false }
    };
    let spans: Vec<Span> = findings.iter().map(span).collect();
    let cuts: Vec<usize> = restarts.iter().map(|&place| position(place)).collect();
    let episodes = gather(&spans, &cuts);
    let known = |&i: &usize| answered.iter().any(|a| flags(&findings[i], a));
    let mut all = Replayed {
        points: tested.len(),
        episodes: episodes.len(),
        unknown: episodes.iter().filter(|episode| !episode.signals.iter().any(known)).count(),
        ..Replayed::default()
    };
    for episode in answered {
        let found = findings.iter().any(|f| flags(f, episode));
        match (episode.ended, found) {
            (Ended::Cause, true) => all.found += 1,
            (Ended::Cause, false) => all.missed += 1,
            (Ended::NothingFound, true) => all.raised_for_nothing += 1,
            (Ended::NothingFound, false) => all.spared += 1,
        }
    }
    all
}
