//! What a group tells of itself is taken in: over the network, or from a file.

use std::collections::HashSet;

use chrono::{DateTime, Utc};
use quality::object::ObjectKind;
use quality::peer::statistic::{PeerStatistic, WrongStatistic};
use quality::trail::{Action, Deed};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::send::answered;
use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;

/// A statistic that cannot be taken in.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct RefusedStatistic {
    /// Its place, from 1.
    pub row: usize,
    /// What it calls the level.
    pub level: String,
    /// Why.
    pub because: WrongStatistic,
}

/// What came of statistics that were taken in.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct TakenIn {
    /// Months that are new, or told otherwise than before.
    pub changed: usize,
    /// Months that were known so.
    pub known: usize,
    /// Those that cannot be taken in; from a file nothing is, where there is one.
    pub refused: Vec<RefusedStatistic>,
}

/// A statistic of a level of this laboratory.
struct Fitting<'a> {
    characteristic: Uuid,
    of: &'a PeerStatistic,
}

/// Those that fit the group's levels, and those that do not.
async fn sift<'a>(
    conn: &mut PgConnection,
    group: Uuid,
    given: &'a [PeerStatistic],
) -> Result<(Vec<Fitting<'a>>, Vec<RefusedStatistic>), StoreError> {
    let levels = sqlx::query!(
        "select l.code, l.characteristic_id, c.unit from peer_level l join characteristic c on c.id = l.characteristic_id
         where l.group_id = $1",
        group
    );
    let levels = levels.fetch_all(conn).await?;
    let (mut fitting, mut refused, mut seen) = (Vec::new(), Vec::new(), HashSet::new());
    for (row, of) in (1..).zip(given) {
        let level = levels.iter().find(|level| level.code == of.code.trim());
        let key = (of.code.trim(), of.month, &of.control_lot, &of.reagent_lot);
        let checked = match level {
            None => Err(WrongStatistic::Code),
            Some(_) if !seen.insert(key) => Err(WrongStatistic::Twice),
            Some(level) => of.check(&level.unit).map(|()| level.characteristic_id),
        };
        match checked {
            Ok(characteristic) => fitting.push(Fitting { characteristic, of }),
            Err(because) => refused.push(RefusedStatistic { row, level: of.code.clone(), because }),
        }
    }
    Ok((fitting, refused))
}

/// Keeps those that are new or told otherwise than before; how many those are.
async fn keep(
    act: &mut Act,
    group: Uuid,
    fitting: &[Fitting<'_>],
    (by, at): (Option<Uuid>, DateTime<Utc>),
) -> Result<usize, StoreError> {
    let mut changed: Vec<Value> = Vec::new();
    for Fitting { characteristic, of } in fitting {
        let lot = |lot: &Option<String>| lot.as_deref().map(str::trim).filter(|lot| !lot.is_empty()).map(str::to_owned);
        let (control_lot, reagent_lot) = (lot(&of.control_lot), lot(&of.reagent_lot));
        let laboratories = of.laboratories.map(|many| i32::try_from(many).unwrap_or(i32::MAX));
        let n = i64::try_from(of.n).unwrap_or(i64::MAX);
        let id = sqlx::query_scalar!(
            "insert into peer_statistic as s
                 (id, group_id, characteristic_id, month, control_lot, reagent_lot, laboratories, n, mean, sd, told_at)
             values (gen_random_uuid(), $1, $2, $3, $4, $5, $6, $7, $8, $9, $10)
             on conflict on constraint peer_statistic_once do update
                 set laboratories = excluded.laboratories, n = excluded.n, mean = excluded.mean, sd = excluded.sd,
                     told_at = excluded.told_at
                 where (s.laboratories, s.n, s.mean, s.sd) is distinct from
                       (excluded.laboratories, excluded.n, excluded.mean, excluded.sd)
             returning id",
            group,
            characteristic,
            of.month.first(),
            control_lot,
            reagent_lot,
            laboratories,
            n,
            of.mean,
            of.sd,
            at
        );
        if let Some(id) = id.fetch_optional(act.conn()).await? {
            changed.push(json!({"id": id, "characteristic": characteristic, "month": of.month.first(),
                                "control_lot": control_lot, "reagent_lot": reagent_lot, "laboratories": laboratories,
                                "n": n, "mean": of.mean, "sd": of.sd}));
        }
    }
    if !changed.is_empty() {
        let deed = Deed::new(at, by, Action::PeerStatisticsTold, group, &json!({ "statistics": changed }));
        act.did(SITE_CHAIN, deed, News::Peers { group });
    }
    Ok(changed.len())
}

/// Takes in what a group answered: what fits is kept, whatever does not.
#[compiled_once]
pub async fn take_in(
    pool: &PgPool,
    group: Uuid,
    given: &[PeerStatistic],
    at: DateTime<Utc>,
) -> Result<TakenIn, StoreError> {
    let mut act = Act::begin(pool).await?;
    let (fitting, refused) = sift(act.conn(), group, given).await?;
    let changed = keep(&mut act, group, &fitting, (None, at)).await?;
    answered(&mut act, group, at).await?;
    act.tell(News::Peers { group });
    act.keep().await?;
    Ok(TakenIn { changed, known: fitting.len() - changed, refused })
}

/// Takes in a file: all of it or nothing.
///
/// # Errors
/// When the group is missing.
#[compiled_once]
pub async fn take_file(
    pool: &PgPool,
    group: Uuid,
    given: &[PeerStatistic],
    (by, at): (Uuid, DateTime<Utc>),
) -> Result<TakenIn, StoreError> {
    let mut act = Act::begin(pool).await?;
    sqlx::query!("select id from peer_group where id = $1 for update", group)
        .fetch_optional(act.conn())
        .await?
        .ok_or(StoreError::Missing(ObjectKind::PeerGroup))?;
    let (fitting, refused) = sift(act.conn(), group, given).await?;
    if !refused.is_empty() {
        return Ok(TakenIn { changed: 0, known: 0, refused });
    }
    let changed = keep(&mut act, group, &fitting, (Some(by), at)).await?;
    answered(&mut act, group, at).await?;
    act.tell(News::Peers { group });
    act.keep().await?;
    Ok(TakenIn { changed, known: fitting.len() - changed, refused })
}
