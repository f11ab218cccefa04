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
           from signal g join sample f on f.id = g.from_sample join sample t on t.id = g.to_sample
           join sample a on a.id = g.at_sample left join level v on v.characteristic_id = g.characteristic_id
           where g.characteristic_id = $1
             and (g.id = any($2)
                  or g.episode_id = any($3) and g.withdrawn_at is null and g.state <> 'reviewed'
                  or g.to_taken_at >= $4 and f.taken_at <= $5 and g.withdrawn_at is null and g.state = 'reviewed'
                     and not exists (select from episode e where e.id = g.episode_id and e.run_id is not null))
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

impl Member {
    /// Puts it into an episode, where it is not there already.
    pub async fn join(
        &self,
        act: &mut Act,
        characteristic: Uuid,
        episode: Uuid,
        at: DateTime<Utc>,
    ) -> Result<(), StoreError> {
        if self.episode == Some(episode) {
            return Ok(());
        }
        let moved = sqlx::query!("update signal set episode_id = $2 where id = $1", self.id, episode)
            .execute(act.conn())
            .await?
            .rows_affected();
        if moved == 0 {
            return Err(StoreError::Missing(ObjectKind::Episode));
        }
        let detail = json!({"old": {"episode": self.episode}, "new": {"episode": episode}});
        let deed = Deed::new(at, None, Action::SignalGathered, self.id, &detail);
        act.did(characteristic, deed, News::Episode { characteristic, episode });
        Ok(())
    }
}

/// A new episode that begins with a signal, of a run or of a characteristic.
pub(super) async fn begin(
    act: &mut Act,
    characteristic: Uuid,
    first: &Member,
    (aspect, side): (Aspect, Option<Side>),
    follows: Option<Uuid>,
    run: Option<RunOf>,
) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    let Extent { from, to } = first.extent;
    sqlx::query!(
        "insert into episode (id, characteristic_id, aspect, side, from_taken_at, from_number, to_taken_at, to_number,
             raised_at, state, trial, follows, run_id, analyte_id)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14)",
        id,
        characteristic,
        word::word(aspect)?,
        side.map(word::word).transpose()?,
        from.0,
        from.1,
        to.0,
        to.1,
        first.raised_at,
        word::word(first.state)?,
        first.trial,
        follows,
        run.map(|of| of.run),
        run.map(|of| of.analyte)
    )
    .execute(act.conn())
    .await?;
    Ok(id)
}
