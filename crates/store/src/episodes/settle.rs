//! What is kept of an episode beside its signals: where they lie, and where the least settled of them stands.

use std::collections::{HashMap, HashSet};

use quality::object::ObjectKind;
use quality::signal::SignalState;
use spc::rules::Side;
use uuid::Uuid;

use super::member::tell;
use crate::act::Act;
use crate::{StoreError, word};

/// An episode that signals are in now.
pub(super) struct Now {
    pub id: Uuid,
    pub side: Option<Side>,
    /// Signals came into it or left it.
    pub moved: bool,
}

/// An episode that was brought in line.
pub(super) struct Settled {
    pub id: Uuid,
    pub before: SignalState,
    pub now: SignalState,
}

/// Brings episodes in line with their signals: those that signals are in now, and those that were touched. Gives
/// those that ask now and did not before.
pub(super) async fn settle(
    act: &mut Act,
    characteristic: Uuid,
    touched: &[Uuid],
    now: &[Now],
) -> Result<Vec<Uuid>, StoreError> {
    let was: HashSet<Uuid> = touched.iter().copied().collect();
    let place: HashMap<Uuid, usize> = now.iter().enumerate().map(|(place, now)| (now.id, place)).collect();
    let settled = in_line(act, now).await?;
    let asks = settled.iter().filter(|of| of.now.asks() && !(was.contains(&of.id) && of.before.asks()));
    let mut asking: Vec<Uuid> = asks.map(|of| of.id).collect();
    let gone: Vec<Uuid> = touched.iter().filter(|id| !place.contains_key(id)).copied().collect();
    left(act, &gone, now.first().map(|now| now.id)).await?;
    tell(act, characteristic, &now.iter().map(|now| now.id).chain(gone).collect::<Vec<_>>());
    asking.sort_by_key(|id| place.get(id));
    Ok(asking)
}

/// Brings some in line; gives their states before and now.
///
/// The version goes up with the state, so that an answer that is being typed holds for a pattern that goes on; and
/// where signals came or left that somebody may be reviewing.
pub(super) async fn in_line(act: &mut Act, episodes: &[Now]) -> Result<Vec<Settled>, StoreError> {
    if episodes.is_empty() {
        return Ok(vec![]);
    }
    let ids: Vec<Uuid> = episodes.iter().map(|now| now.id).collect();
    let sides = episodes.iter().map(|now| now.side.map(word::word).transpose()).collect::<Result<Vec<_>, _>>()?;
    let moved: Vec<bool> = episodes.iter().map(|now| now.moved).collect();
    let rows = sqlx::query!(
        // Each episode by itself: two lists of what there is to join would be gone through for one another.
        r#"with asked as (
               select a.*, e.characteristic_id, e.state as before, e.gone as was_gone
               from unnest($1::uuid[], $2::text[], $3::boolean[]) a (id, side, moved) join episode e on e.id = a.id),
           -- What holds no more says nothing of where it lies, and of where it stands only while it waits for a review;
           -- where nothing holds, what was there does. Where an episode lies, its own characteristic says; a run is one
           -- episode of several levels.
           told as (
               select a.id, a.side, a.before, s.*,
                      s.state <> a.before or a.was_gone = s.holds or a.moved and s.state in ('found_late', 'answered')
                          as anew
               from asked a cross join lateral (
                   select bool_or(holds) as holds,
                          coalesce((array_agg(state order by settled) filter (where holds or state = 'answered'))[1],
                                   (array_agg(state order by settled desc))[1]) as state,
                          bool_or(exists (select from review_of of join review r on r.id = of.review_id
                                          where of.signal_id = g.id and r.decision = 'sent_back')) as sent_back,
                          (array_agg(from_at order by holds desc, from_at, from_number) filter (where here))[1] as from_at,
                          (array_agg(from_number order by holds desc, from_at, from_number) filter (where here))[1]
                              as from_number,
                          (array_agg(to_at order by holds desc, to_at desc, to_number desc) filter (where here))[1] as to_at,
                          (array_agg(to_number order by holds desc, to_at desc, to_number desc) filter (where here))[1]
                              as to_number,
                          coalesce(min(raised_at) filter (where here and holds), min(raised_at) filter (where here))
                              as raised_at,
                          coalesce(bool_and(trial) filter (where here and holds), bool_and(trial) filter (where here))
                              as trial
                   from (select g.id, g.state, g.withdrawn_at is null as holds, g.raised_at, g.trial,
                                g.characteristic_id = a.characteristic_id as here,
                                array_position(array['sent_back', 'open', 'found_late', 'answered', 'reviewed'], g.state)
                                    as settled,
                                f.taken_at as from_at, f.number as from_number, t.taken_at as to_at, t.number as to_number
                         from (select * from signal where episode_id = a.id offset 0) g
                         cross join lateral (select taken_at, number from sample where id = g.from_sample limit 1) f
                         cross join lateral (select taken_at, number from sample where id = g.to_sample limit 1) t) g) s
               where s.holds is not null),
           -- Most of many that begin are as they began.
           written as (
               update episode e set
                   from_taken_at = told.from_at, from_number = told.from_number, to_taken_at = told.to_at,
                   to_number = told.to_number, raised_at = told.raised_at, trial = told.trial, sent_back = told.sent_back,
                   gone = not told.holds, side = told.side, joined = null, state = told.state,
                   version = version + told.anew::int
               from told
               where e.id = told.id and (told.anew
                   or (e.from_taken_at, e.from_number, e.to_taken_at, e.to_number, e.raised_at, e.trial, e.sent_back,
                       e.side, e.joined)
                      is distinct from (told.from_at, told.from_number, told.to_at, told.to_number, told.raised_at,
                                        told.trial, told.sent_back, told.side, null::uuid)))
           select id as "id!", before as "before!", state as "now!" from told"#,
        &ids,
        &sides as &[Option<String>],
        &moved
    )
    .fetch_all(act.conn())
    .await?;
    if rows.len() < ids.len() {
        return Err(StoreError::Corrupt("an episode without signals was to be brought in line".into()));
    }
    let settled =
        |row: (Uuid, String, String)| Ok(Settled { id: row.0, before: word::value(row.1)?, now: word::value(row.2)? });
    rows.into_iter().map(|row| settled((row.id, row.before, row.now))).collect()
}

/// Brings one in line.
pub(super) async fn in_line_one(act: &mut Act, episode: Now) -> Result<Settled, StoreError> {
    in_line(act, &[episode]).await?.pop().ok_or(StoreError::Missing(ObjectKind::Episode))
}

/// No signal that holds is left in some. Where all of them went to others they are joined to the first of those; else
/// what is withdrawn stays, and may wait for a review.
async fn left(act: &mut Act, ids: &[Uuid], joined: Option<Uuid>) -> Result<(), StoreError> {
    if ids.is_empty() {
        return Ok(());
    }
    let rows = sqlx::query!(
        r#"select id, side, exists (select from signal where episode_id = e.id) as "has_signals!"
           from episode e where id = any($1)"#,
        ids
    )
    .fetch_all(act.conn())
    .await?;
    let (mut stay, mut empty) = (vec![], vec![]);
    for row in rows {
        match row.has_signals {
            true => stay.push(Now { id: row.id, side: row.side.map(word::value).transpose()?, moved: true }),
            false => empty.push(row.id),
        }
    }
    in_line(act, &stay).await?;
    sqlx::query!(
        "update episode set gone = true, joined = $2, version = version + 1 where id = any($1)",
        &empty,
        joined
    )
    .execute(act.conn())
    .await?;
    Ok(())
}
