//! Signals as they are gathered into episodes.

use chrono::{DateTime, Utc};
use quality::episode::Aspect;
use quality::object::ObjectKind;
use quality::signal::SignalState;
use quality::trail::{Action, Deed};
use serde_json::json;
use spc::rules::Side;
use sqlx::PgConnection;
use uuid::Uuid;

use super::extent::Extent;
use crate::act::Act;
use crate::news::News;
use crate::{StoreError, word};

/// A signal, as far as its episode depends on it.
#[derive(Debug, Clone, Copy)]
pub(super) struct Member {
    pub id: Uuid,
    pub aspect: Aspect,
    pub side: Option<Side>,
    pub state: SignalState,
    pub extent: Extent,
    /// The episode it was in until now.
    pub episode: Option<Uuid>,
    pub withdrawn: bool,
    pub trial: bool,
    pub raised_at: DateTime<Utc>,
    /// Of a level: the run that measured the flagged sample, and the analyte.
    pub run: Option<RunOf>,
}

/// What an episode of the laboratory is of.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct RunOf {
    pub run: Uuid,
    pub analyte: Uuid,
}

/// Which signals.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Which<'a> {
    /// These, whatever has become of them.
    pub ids: &'a [Uuid],
    /// Those of these episodes that hold and are not reviewed.
    pub asking_of: &'a [Uuid],
    /// Reviewed ones that hold and meet this; not those of runs.
    pub reviewed_in: Option<Extent>,
}

/// The signals of a characteristic that are asked for, in the order of their points.
pub(super) async fn members(
    conn: &mut PgConnection,
    characteristic: Uuid,
    which: Which<'_>,
) -> Result<Vec<Member>, StoreError> {
    sqlx::query!(
        r#"select g.id, g.panel, g.side, g.state, g.episode_id, g.withdrawn_at is not null as "withdrawn!", g.trial,
                  g.raised_at, f.taken_at as from_taken_at, f.number as from_number, t.taken_at as to_taken_at,
                  t.number as to_number, a.run_id as "run?", v.analyte_id as "analyte?"
           -- Each looked up by itself, however few there are on the whole when this is planned.
           from (select id from unnest($2::uuid[]) id
                 union
                 select o.id from unnest($3::uuid[]) e (id)
                 cross join lateral (select id from signal where episode_id = e.id and withdrawn_at is null
                                         and state <> 'reviewed' offset 0) o
                 union
                 select id from signal r where characteristic_id = $1 and to_taken_at >= $4 and withdrawn_at is null
                     and state = 'reviewed'
                     and not exists (select from episode e where e.id = r.episode_id and e.run_id is not null)
                     and (select taken_at from sample where id = r.from_sample) <= $5) asked
           cross join lateral (select * from signal where id = asked.id limit 1) g
           cross join lateral (select taken_at, number from sample where id = g.from_sample limit 1) f
           cross join lateral (select taken_at, number from sample where id = g.to_sample limit 1) t
           cross join lateral (select run_id from sample where id = g.at_sample limit 1) a
           left join level v on v.characteristic_id = g.characteristic_id
           where g.characteristic_id = $1
           order by f.taken_at, f.number, t.taken_at, t.number, g.raised_at, g.id"#,
        characteristic,
        which.ids,
        which.asking_of,
        which.reviewed_in.map(|extent| extent.from.0),
        which.reviewed_in.map(|extent| extent.to.0)
    )
    .fetch_all(conn)
    .await?
    .into_iter()
    .map(|row| {
        let panel = word::value(row.panel)?;
        let (from, to) = ((row.from_taken_at, row.from_number), (row.to_taken_at, row.to_number));
        Ok(Member {
            id: row.id,
            aspect: Aspect::of(panel),
            side: row.side.map(word::value).transpose()?,
            state: word::value(row.state)?,
            extent: Extent { from, to },
            episode: row.episode_id,
            withdrawn: row.withdrawn,
            trial: row.trial,
            raised_at: row.raised_at,
            run: row.run.zip(row.analyte).map(|(run, analyte)| RunOf { run, analyte }),
        })
    })
    .collect()
}

/// Puts signals into episodes, those that are not there already.
pub(super) async fn join(
    act: &mut Act,
    characteristic: Uuid,
    joining: &[(&Member, Uuid)],
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let (mut signals, mut episodes) = (vec![], vec![]);
    for (signal, episode) in joining.iter().filter(|(signal, episode)| signal.episode != Some(*episode)) {
        signals.push(signal.id);
        episodes.push(*episode);
        let detail = json!({"old": {"episode": signal.episode}, "new": {"episode": episode}});
        act.did_unseen(characteristic, Deed::new(at, None, Action::SignalGathered, signal.id, &detail));
    }
    if signals.is_empty() {
        return Ok(());
    }
    let moved = sqlx::query!(
        "update signal g set episode_id = j.episode from unnest($1::uuid[], $2::uuid[]) j (signal, episode)
         where g.id = j.signal",
        &signals,
        &episodes
    );
    if moved.execute(act.conn()).await?.rows_affected() < signals.len() as u64 {
        return Err(StoreError::Missing(ObjectKind::Episode));
    }
    tell(act, characteristic, &episodes);
    Ok(())
}

/// So many episodes that changed are told one by one.
const TOLD_APART: usize = 20;

/// Tells of episodes that changed; of very many that there are some.
pub(super) fn tell(act: &mut Act, characteristic: Uuid, episodes: &[Uuid]) {
    if episodes.len() > TOLD_APART {
        act.tell(News::Limits { characteristic });
        return;
    }
    for episode in episodes {
        act.tell(News::Episode { characteristic, episode: *episode });
    }
}

/// An episode that begins.
pub(super) struct Beginning<'a> {
    /// Its first signal.
    pub first: &'a Member,
    pub aspect: Aspect,
    pub side: Option<Side>,
    /// The reviewed one that it goes on from.
    pub follows: Option<Uuid>,
    pub run: Option<RunOf>,
}

/// New episodes, of runs or of a characteristic; gives their identities.
pub(super) async fn begin(
    act: &mut Act,
    characteristic: Uuid,
    beginning: &[Beginning<'_>],
) -> Result<Vec<Uuid>, StoreError> {
    if beginning.is_empty() {
        return Ok(vec![]);
    }
    let ids: Vec<Uuid> = beginning.iter().map(|_| Uuid::new_v4()).collect();
    let words = |of: &dyn Fn(&Beginning<'_>) -> Result<String, StoreError>| {
        beginning.iter().map(of).collect::<Result<Vec<_>, _>>()
    };
    let extents = || beginning.iter().map(|of| of.first.extent);
    let sides = beginning.iter().map(|of| of.side.map(word::word).transpose()).collect::<Result<Vec<_>, _>>()?;
    sqlx::query!(
        "insert into episode (characteristic_id, id, aspect, side, from_taken_at, from_number, to_taken_at, to_number,
             raised_at, state, trial, follows, run_id, analyte_id)
         select $1, * from unnest($2::uuid[], $3::text[], $4::text[], $5::timestamptz[], $6::bigint[], $7::timestamptz[],
             $8::bigint[], $9::timestamptz[], $10::text[], $11::boolean[], $12::uuid[], $13::uuid[], $14::uuid[])",
        characteristic,
        &ids,
        &words(&|of| Ok(word::word(of.aspect)?))?,
        &sides as &[Option<String>],
        &extents().map(|extent| extent.from.0).collect::<Vec<_>>(),
        &extents().map(|extent| extent.from.1).collect::<Vec<_>>(),
        &extents().map(|extent| extent.to.0).collect::<Vec<_>>(),
        &extents().map(|extent| extent.to.1).collect::<Vec<_>>(),
        &beginning.iter().map(|of| of.first.raised_at).collect::<Vec<_>>(),
        &words(&|of| Ok(word::word(of.first.state)?))?,
        &beginning.iter().map(|of| of.first.trial).collect::<Vec<_>>(),
        &beginning.iter().map(|of| of.follows).collect::<Vec<_>>() as &[Option<Uuid>],
        &beginning.iter().map(|of| of.run.map(|run| run.run)).collect::<Vec<_>>() as &[Option<Uuid>],
        &beginning.iter().map(|of| of.run.map(|run| run.analyte)).collect::<Vec<_>>() as &[Option<Uuid>]
    )
    .execute(act.conn())
    .await?;
    Ok(ids)
}

/// A new episode.
pub(super) async fn begin_one(act: &mut Act, characteristic: Uuid, one: Beginning<'_>) -> Result<Uuid, StoreError> {
    begin(act, characteristic, &[one]).await?.pop().ok_or(StoreError::Missing(ObjectKind::Episode))
}
