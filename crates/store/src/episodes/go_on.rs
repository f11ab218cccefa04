//! The usual way: the newest sample raises signals, or lets them grow, at the end of the series. They join the one
//! episode that goes on there, or begin one; nothing else can change, so nothing else is read. Where more may
//! change, all is gathered anew.

use chrono::{DateTime, Utc};
use quality::episode::{Aspect, high_or_low};
use quality::signal::SignalState;
use spc::rules::Side;
use uuid::Uuid;

use super::extent::{Extent, Ground, Standing};
use super::member::{self, Beginning, Member, begin_one};
use crate::act::Act;
use crate::{StoreError, word};

/// What becomes of the signals of one aspect.
struct Joining<'a> {
    aspect: Aspect,
    side: Option<Side>,
    /// The episode that goes on.
    standing: Option<Standing>,
    /// The reviewed one that a new episode goes on from.
    follows: Option<Uuid>,
    signals: Vec<&'a Member>,
}

/// Whether the episodes of an aspect in one stretch are as they must be: one a side, or one without.
fn apart(aspect: Aspect, stretch: &[Standing]) -> bool {
    let asking = stretch.iter().filter(|e| e.aspect == aspect && e.state != SignalState::Reviewed);
    let sides: Vec<Option<Side>> = asking.map(|episode| episode.side).collect();
    let twice = |i: usize, side: &Option<Side>| sides[..i].contains(side);
    sides.len() < 2 || !sides.iter().enumerate().any(|(i, side)| side.is_none() || twice(i, side))
}

/// Nothing where more than one episode may change.
fn joining<'a>(aspect: Aspect, signals: Vec<&'a Member>, stretch: &[Standing]) -> Option<Joining<'a>> {
    let (reviewed, asking): (Vec<&Standing>, Vec<&Standing>) =
        stretch.iter().filter(|e| e.aspect == aspect).partition(|e| e.state == SignalState::Reviewed);
    let standing = match asking[..] {
        [] => None,
        [only] => Some(*only),
        _ => return None,
    };
    let mut sides: Vec<Side> = signals.iter().filter_map(|signal| high_or_low(signal.side)).collect();
    sides.dedup();
    let side = match sides[..] {
        [] => standing.and_then(|episode| episode.side),
        [only] if standing.is_none_or(|episode| episode.side == Some(only)) => Some(only),
        _ => return None,
    };
    let alike = reviewed.into_iter().filter(|episode| episode.side == side);
    let follows = alike.max_by_key(|episode| (episode.extent.to, episode.id)).map(|episode| episode.id);
    Some(Joining { aspect, side, standing, follows, signals })
}

/// Lets the signals of the newest sample join; gives the episodes that ask now and did not before, or nothing where
/// all has to be gathered anew.
pub(super) async fn go_on(
    act: &mut Act,
    ground: Ground<'_>,
    signals: &[Member],
    at: DateTime<Utc>,
) -> Result<Option<Vec<Uuid>>, StoreError> {
    let Some(extent) = signals.iter().map(|signal| signal.extent).reduce(Extent::and) else { return Ok(Some(vec![])) };
    let (stretch, _) = ground.stretch(act.conn(), extent).await?;
    let mut all = Vec::new();
    for aspect in [Aspect::Location, Aspect::Dispersion] {
        let of_it: Vec<&Member> = signals.iter().filter(|signal| signal.aspect == aspect).collect();
        if of_it.is_empty() {
            // Points that are covered now may have kept two of the other aspect apart.
            if !apart(aspect, &stretch) {
                return Ok(None);
            }
            continue;
        }
        let Some(joining) = joining(aspect, of_it, &stretch) else { return Ok(None) };
        all.push(joining);
    }
    let mut asking = Vec::new();
    for joining in all {
        asking.extend(join(act, ground.setup.id, &joining, at).await?);
    }
    Ok(Some(asking))
}

async fn join(
    act: &mut Act,
    characteristic: Uuid,
    joining: &Joining<'_>,
    at: DateTime<Utc>,
) -> Result<Option<Uuid>, StoreError> {
    let Joining { aspect, side, standing, follows, ref signals } = *joining;
    let (Some(first), Some(extent)) = (signals.first(), signals.iter().map(|s| s.extent).reduce(Extent::and)) else {
        return Ok(None);
    };
    let id = match standing {
        Some(episode) => episode.id,
        None => begin_one(act, characteristic, Beginning { first, aspect, side, follows, run: None }).await?,
    };
    let joining: Vec<(&Member, Uuid)> = signals.iter().map(|signal| (*signal, id)).collect();
    member::join(act, characteristic, &joining, at).await?;
    let before = standing.map(|episode| episode.state);
    let state = signals.iter().map(|signal| signal.state).chain(before).min().unwrap_or(SignalState::Open);
    let trial = signals.iter().all(|signal| signal.trial);
    sqlx::query!(
        "update episode set state = $2, trial = trial and $3, version = version + $4,
             (from_taken_at, from_number) = (select t, n from (values (from_taken_at, from_number), ($5, $6)) v (t, n)
                                             order by t, n limit 1),
             (to_taken_at, to_number) = (select t, n from (values (to_taken_at, to_number), ($7, $8)) v (t, n)
                                         order by t desc, n desc limit 1)
         where id = $1",
        id,
        word::word(state)?,
        trial,
        i32::from(before.is_some_and(|before| before != state)),
        extent.from.0,
        extent.from.1,
        extent.to.0,
        extent.to.1
    )
    .execute(act.conn())
    .await?;
    Ok((state.asks() && !before.is_some_and(SignalState::asks)).then_some(id))
}
