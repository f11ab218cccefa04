//! Gathering signals into episodes, within the act that changed them.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use quality::episode::{self, Span};
use quality::signal::SignalState;
use sqlx::PgConnection;
use uuid::Uuid;

use super::extent::{Extent, Ground};
use super::go_on::go_on;
use super::member::{Beginning, Member, Which, begin, join, members};
use super::of_run::of_runs;
use super::settle::{Now, settle};
use crate::StoreError;
use crate::act::Act;
use crate::characteristics::CharacteristicView;
use crate::phases::Phase;
use crate::series::Rank;

/// What a judgement has changed.
pub(crate) struct Judging<'a> {
    pub setup: &'a CharacteristicView,
    pub phases: &'a [Phase],
    /// Signals that were raised, have grown, were reshaped, taken up or withdrawn.
    pub signals: &'a [Uuid],
    /// Samples that came among others, or that something was said of; nothing where one came at the end, and raised
    /// signals or let them grow.
    pub among: Option<Extent>,
    pub at: DateTime<Utc>,
}

/// Gathers what a judgement has changed; gives the episodes that ask now and did not before.
pub(crate) async fn gathered(act: &mut Act, judging: &Judging<'_>) -> Result<Vec<Uuid>, StoreError> {
    let Judging { setup, phases, signals, among, at } = *judging;
    if signals.is_empty() && among.is_none() {
        return Ok(vec![]);
    }
    let ground = Ground { setup, phases };
    let all = members(act.conn(), setup.id, Which { ids: signals, ..Which::default() }).await?;
    let (in_runs, changed): (Vec<Member>, Vec<Member>) = all.into_iter().partition(|signal| signal.run.is_some());
    let mut asking = of_runs(act, setup.id, &in_runs, at).await?;
    if changed.is_empty() && among.is_none() {
        return Ok(asking);
    }
    let gone_on = if among.is_none() { go_on(act, ground, &changed, at).await? } else { None };
    asking.extend(match gone_on {
        Some(asking) => asking,
        None => anew(act, ground, &changed, among, at).await?,
    });
    Ok(asking)
}

/// Gathers anew all that may belong with some signals and samples.
pub(super) async fn anew(
    act: &mut Act,
    ground: Ground<'_>,
    changed: &[Member],
    among: Option<Extent>,
    at: DateTime<Utc>,
) -> Result<Vec<Uuid>, StoreError> {
    let Some(extent) = changed.iter().map(|signal| signal.extent).chain(among).reduce(Extent::and) else {
        return Ok(vec![]);
    };
    let characteristic = ground.setup.id;
    let (stretch, extent) = ground.stretch(act.conn(), extent).await?;
    let asking = stretch.iter().filter(|episode| episode.state != SignalState::Reviewed).map(|episode| episode.id);
    let mut touched: Vec<Uuid> = asking.chain(changed.iter().filter_map(|signal| signal.episode)).collect();
    touched.sort_unstable();
    touched.dedup();
    let ids: Vec<Uuid> = changed.iter().map(|signal| signal.id).collect();
    let which = Which { ids: &ids, asking_of: &touched, reviewed_in: Some(extent) };
    let mut signals = members(act.conn(), characteristic, which).await?;
    signals.retain(|signal| !signal.withdrawn);
    put_together(act, ground, &signals, (extent, &touched), Reviewed::Stays, at).await
}

/// What a reviewed signal is.
#[derive(Clone, Copy, PartialEq)]
pub(super) enum Reviewed {
    /// It stays in its episode; others may go on from it.
    Stays,
    /// It is in none yet.
    IsGathered,
}

/// Puts signals that are at hand, in the order of their points, into episodes, and brings those in line.
pub(super) async fn put_together(
    act: &mut Act,
    ground: Ground<'_>,
    signals: &[Member],
    (extent, touched): (Extent, &[Uuid]),
    reviewed: Reviewed,
    at: DateTime<Utc>,
) -> Result<Vec<Uuid>, StoreError> {
    let characteristic = ground.setup.id;
    let all = signals.iter().map(|signal| signal.extent).fold(extent, Extent::and);
    let tested = Tested::read(act.conn(), ground, all).await?;
    let spans: Vec<Span> = signals.iter().map(|signal| tested.span(signal, reviewed)).collect();
    let episodes = episode::gather(&spans, &tested.cuts);
    let held: Vec<Option<Uuid>> = signals.iter().map(|signal| signal.episode).collect();
    let kept = episode::keep(&episodes, &held);
    // What begins anew, and which of them: an episode without signals is none.
    let anew = episodes.iter().zip(&kept).filter(|(episode, kept)| kept.is_none() && !episode.signals.is_empty());
    let beginning: Vec<Beginning> = anew
        .map(|(episode, _)| Beginning {
            first: &signals[episode.signals[0]],
            aspect: episode.aspect,
            side: episode.side,
            follows: episode.follows.and_then(|i| signals[i].episode),
            run: None,
        })
        .collect();
    let mut begun = begin(act, characteristic, &beginning).await?.into_iter();
    let (mut now, mut joining) = (Vec::with_capacity(episodes.len()), Vec::with_capacity(signals.len()));
    // How many signals each had, to see whether some left it.
    let mut had: HashMap<Uuid, usize> = HashMap::new();
    held.iter().flatten().for_each(|id| *had.entry(*id).or_default() += 1);
    for (episode, kept) in episodes.iter().zip(kept).filter(|(episode, _)| !episode.signals.is_empty()) {
        let was_there = kept.is_some();
        let Some(id) = kept.or_else(|| begun.next()) else { continue };
        joining.extend(episode.signals.iter().map(|&i| (&signals[i], id)));
        let stayed = episode.signals.iter().filter(|&&i| held[i] == Some(id)).count();
        let (came, went) = (stayed < episode.signals.len(), had.get(&id).is_some_and(|had| *had > stayed));
        now.push(Now { id, side: episode.side, moved: was_there && (came || went) });
    }
    join(act, characteristic, &joining, at).await?;
    settle(act, characteristic, touched, &now).await
}

/// The tested points of a stretch, in order, and where something begins afresh among them.
struct Tested {
    ranks: Vec<Rank>,
    cuts: Vec<usize>,
}

impl Tested {
    async fn read(conn: &mut PgConnection, ground: Ground<'_>, extent: Extent) -> Result<Self, StoreError> {
        let rows = sqlx::query!(
            r#"select taken_at, number, restart, not gap and not aside as "tested!" from sample
               where characteristic_id = $1 and (taken_at, number) >= ($2, $3) and (taken_at, number) <= ($4, $5)
               order by taken_at, number"#,
            ground.setup.id,
            extent.from.0,
            extent.from.1,
            extent.to.0,
            extent.to.1
        );
        let (mut ranks, mut cuts, mut epoch) = (Vec::new(), Vec::new(), None);
        for row in rows.fetch_all(conn).await? {
            let rank = (row.taken_at, row.number);
            let here = ground.epoch(rank);
            if row.restart || epoch.is_some_and(|before| before != here) {
                cuts.push(ranks.len());
            }
            epoch = Some(here);
            if row.tested {
                ranks.push(rank);
            }
        }
        Ok(Self { ranks, cuts })
    }

    fn span(&self, signal: &Member, reviewed: Reviewed) -> Span {
        let from = self.ranks.partition_point(|rank| *rank < signal.extent.from);
        let until = self.ranks.partition_point(|rank| *rank <= signal.extent.to);
        let reviewed = signal.state == SignalState::Reviewed && reviewed == Reviewed::Stays;
        // What was reviewed stays, though its points may have been set aside since.
        Span { aspect: signal.aspect, side: signal.side, from, to: until.saturating_sub(1).max(from), reviewed }
    }
}
