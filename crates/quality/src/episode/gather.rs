//! Which signals belong together.

use serde::{Deserialize, Serialize};
use spc::chart::Statistic;
use spc::rules::Side;

/// What of the process a signal speaks of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Aspect {
    /// Where it lies.
    Location,
    /// How far it scatters.
    Dispersion,
}

impl Aspect {
    /// That a panel shows.
    pub fn of(panel: Statistic) -> Self {
        if panel.is_dispersion() { Self::Dispersion } else { Self::Location }
    }
}

/// A signal that holds, by its places among the tested points of its characteristic.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Span {
    /// What it speaks of.
    pub aspect: Aspect,
    /// As it was found.
    pub side: Option<Side>,
    /// First point of the pattern.
    pub from: usize,
    /// The last one.
    pub to: usize,
    /// It stays in the episode that it was reviewed in.
    pub reviewed: bool,
}

/// Signals that tell of one happening.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Episode {
    /// What they speak of.
    pub aspect: Aspect,
    /// High or low; nothing where no signal says so.
    pub side: Option<Side>,
    /// Places in what was given, in the order of the points.
    pub signals: Vec<usize>,
    /// A reviewed signal of the same kind that the pattern goes on from.
    pub follows: Option<usize>,
}

/// High and low are told apart; a trend, and what has no side, joins either.
pub fn high_or_low(side: Option<Side>) -> Option<Side> {
    side.filter(|side| matches!(side, Side::Above | Side::Below))
}

/// Puts together what belongs together: signals of one aspect and side whose spans overlap, or with no tested point
/// outside any signal between them. A trend, or what has no side, joins the side that it overlaps most, the earlier
/// one where it is the same; without any side they are an episode of their own. `cuts` are the points before which a
/// phase begins or rules start afresh: nothing reaches across.
pub fn gather(spans: &[Span], cuts: &[usize]) -> Vec<Episode> {
    let mut episodes: Vec<Episode> = stretches(spans, cuts).iter().flat_map(|stretch| within(spans, stretch)).collect();
    episodes.sort_by_key(|episode| episode.signals.first().map(|&i| (spans[i].from, spans[i].to, i)));
    episodes
}

/// Signals by stretches without a clean point or a cut, each in the order of the points.
fn stretches(spans: &[Span], cuts: &[usize]) -> Vec<Vec<usize>> {
    let mut order: Vec<usize> = (0..spans.len()).collect();
    // Over the same points high comes before low, so that it does not matter which was found first.
    let side = |i: usize| high_or_low(spans[i].side).map_or(2, |side| u8::from(side == Side::Below));
    order.sort_by_key(|&i| (spans[i].from, spans[i].to, side(i), i));
    let mut stretches: Vec<Vec<usize>> = Vec::new();
    let mut until = 0;
    for i in order {
        let Span { from, to, .. } = spans[i];
        let apart = from > until + 1 || cuts.iter().any(|&cut| until < cut && cut <= from);
        match stretches.last_mut() {
            Some(stretch) if !apart => {
                stretch.push(i);
                until = until.max(to);
            }
            _ => {
                stretches.push(vec![i]);
                until = to;
            }
        }
    }
    stretches
}

/// Points that signals cover: from and to of each row of them, in order.
struct Covered(Vec<(usize, usize)>);

impl Covered {
    /// By signals in the order of their first points.
    fn by(spans: &[Span], signals: &[usize]) -> Self {
        let mut rows: Vec<(usize, usize)> = Vec::new();
        for Span { from, to, .. } in signals.iter().map(|&i| spans[i]) {
            match rows.last_mut() {
                Some(last) if from <= last.1 => last.1 = last.1.max(to),
                _ => rows.push((from, to)),
            }
        }
        Self(rows)
    }

    /// How many points of a span they are.
    fn points_of(&self, span: &Span) -> usize {
        let first = self.0.partition_point(|(_, to)| *to < span.from);
        let meeting = self.0[first..].iter().take_while(|(from, _)| *from <= span.to);
        meeting.map(|(from, to)| to.min(&span.to) - from.max(&span.from) + 1).sum()
    }
}

/// The episodes of a stretch.
fn within(spans: &[Span], stretch: &[usize]) -> Vec<Episode> {
    let (reviewed, asking): (Vec<usize>, Vec<usize>) = stretch.iter().partition(|&&i| spans[i].reviewed);
    let (sided, others): (Vec<usize>, Vec<usize>) =
        asking.into_iter().partition(|&i| high_or_low(spans[i].side).is_some());
    let mut episodes: Vec<Episode> = Vec::new();
    for i in sided {
        let (aspect, side) = (spans[i].aspect, high_or_low(spans[i].side));
        match episodes.iter_mut().find(|e| (e.aspect, e.side) == (aspect, side)) {
            Some(episode) => episode.signals.push(i),
            None => episodes.push(Episode { aspect, side, signals: vec![i], follows: None }),
        }
    }
    let sides: Vec<(Aspect, Covered)> = episodes.iter().map(|e| (e.aspect, Covered::by(spans, &e.signals))).collect();
    for i in others {
        let aspect = spans[i].aspect;
        // The earlier one comes first, and only a larger overlap takes its place.
        let alike = sides.iter().enumerate().filter(|(_, (side, _))| *side == aspect);
        let most = alike.map(|(place, (_, covered))| (place, covered.points_of(&spans[i])));
        let joined = most.reduce(|best, next| if next.1 > best.1 { next } else { best });
        match joined.map(|(place, _)| place).or(episodes.iter().position(|e| (e.aspect, e.side) == (aspect, None))) {
            Some(place) => episodes[place].signals.push(i),
            None => episodes.push(Episode { aspect, side: None, signals: vec![i], follows: None }),
        }
    }
    for episode in &mut episodes {
        episode.signals.sort_by_key(|&i| (spans[i].from, spans[i].to, i));
        let last = episode.signals.iter().map(|&i| spans[i].to).max();
        let before = |&&i: &&usize| {
            let alike = (spans[i].aspect, high_or_low(spans[i].side)) == (episode.aspect, episode.side);
            alike && Some(spans[i].from) <= last
        };
        episode.follows = reviewed.iter().filter(before).max_by_key(|&&i| (spans[i].to, i)).copied();
    }
    episodes
}
