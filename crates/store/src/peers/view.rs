//! What was given to a group, and how own results compare with what it told.

use std::collections::HashMap;

use chrono::{DateTime, TimeZone, Utc};
use quality::object::ObjectKind;
use quality::peer::beside::{LotBeside, OwnResult, Told, beside};
use quality::peer::given::{GivenResult, GivenState, ResultsGiven, Standing};
use quality::peer::statistic::Month;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::once::compiled_once;

/// A result that was given, or waits to be.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct GivenView {
    pub id: Uuid,
    /// The level's characteristic.
    pub characteristic: Uuid,
    /// The analyte's name.
    pub analyte: String,
    /// The level's name.
    pub level: String,
    /// Number of the sample.
    pub number: i64,
    /// Its run.
    pub run: Uuid,
    /// The number of that.
    pub run_number: i64,
    pub value: f64,
    pub unit: String,
    /// Decimals of a result.
    pub decimals: i16,
    pub taken_at: DateTime<Utc>,
    pub reagent_lot: Option<String>,
    pub control_lot: Option<String>,
    pub state: GivenState,
    /// Counts what was said of it.
    pub revision: u32,
    /// When the group had it last.
    pub given_at: Option<DateTime<Utc>>,
    /// Why the last try failed.
    pub failed: Option<String>,
    /// When it was taken back.
    pub withdrawn_at: Option<DateTime<Utc>>,
    /// Who did.
    pub withdrawn_by: Option<String>,
    /// Why; nothing where its run counts it no more.
    pub withdrawn_because: Option<String>,
    /// Its point was set aside since, its sample corrected or withdrawn: it is not given as it stands here now.
    pub changed_since: bool,
}

/// Which results.
#[derive(Debug, Clone, Copy, Default)]
pub struct GivenFilter {
    /// Only of this level.
    pub characteristic: Option<Uuid>,
    /// Only those that are not with the group as they are now.
    pub unsettled: bool,
    /// Only those behind one in the list: when it was measured, and its id.
    pub behind: Option<(DateTime<Utc>, Uuid)>,
}

/// Results that were given to a group, the newest first, at most `most`.
///
/// # Errors
/// When the database fails.
#[compiled_once]
pub async fn given(pool: &PgPool, group: Uuid, filter: GivenFilter, most: i64) -> Result<Vec<GivenView>, StoreError> {
    let (behind_at, behind) = filter.behind.unzip();
    let rows = sqlx::query!(
        r#"select p.id, p.characteristic_id, a.name as analyte, v.name as level, s.number, r.id as run,
                  r.number as run_number, p.value, p.unit, c.decimals, p.taken_at, p.reagent_lot, p.control_lot,
                  p.revision, p.taken_revision, p.ended, p.given_at, p.failed, p.withdrawn_at, w.name as "withdrawn_by?",
                  p.withdrawn_because,
                  s.gap or s.aside or s.readings[1] is distinct from p.value
                      or s.tags->>'reagent lot' is distinct from p.reagent_lot
                      or s.tags->>'control lot' is distinct from p.control_lot as "changed!"
           from peer_result p
           join sample s on s.id = p.sample_id join run r on r.id = s.run_id
           join characteristic c on c.id = p.characteristic_id
           join level v on v.characteristic_id = c.id join analyte a on a.id = v.analyte_id
           left join person w on w.id = p.withdrawn_by
           where p.group_id = $1 and ($2::uuid is null or p.characteristic_id = $2)
             and (not $3 or p.taken_revision < p.revision)
             and ($4::timestamptz is null or (p.taken_at, p.id) < ($4, $5))
           order by p.taken_at desc, p.id desc limit $6"#,
        group,
        filter.characteristic,
        filter.unsettled,
        behind_at,
        behind,
        most
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    Ok(rows
        .map(|row| {
            let standing = Standing {
                revision: row.revision.unsigned_abs(),
                taken: row.taken_revision.unsigned_abs(),
                ended: row.ended,
                withdrawn: row.withdrawn_at.is_some(),
            };
            GivenView {
                id: row.id,
                characteristic: row.characteristic_id,
                analyte: row.analyte,
                level: row.level,
                number: row.number,
                run: row.run,
                run_number: row.run_number,
                value: row.value,
                unit: row.unit,
                decimals: row.decimals,
                taken_at: row.taken_at,
                reagent_lot: row.reagent_lot,
                control_lot: row.control_lot,
                state: standing.state(),
                revision: standing.revision,
                given_at: row.given_at,
                failed: row.failed,
                changed_since: row.changed && row.withdrawn_at.is_none(),
                withdrawn_at: row.withdrawn_at,
                withdrawn_by: row.withdrawn_by,
                withdrawn_because: row.withdrawn_because,
            }
        })
        .collect())
}

/// Results as a file hands them over: all of them, or those alone that are not with the group as they are now. The oldest
/// first.
///
/// # Errors
/// When there is no such group.
#[compiled_once]
pub async fn to_hand_over(pool: &PgPool, group: Uuid, waiting: bool) -> Result<ResultsGiven, StoreError> {
    let laboratory = sqlx::query_scalar!("select laboratory from peer_group where id = $1", group)
        .fetch_optional(pool)
        .await?
        .ok_or(StoreError::Missing(ObjectKind::PeerGroup))?;
    let rows = sqlx::query!(
        r#"select p.id, p.revision, p.value, p.unit, p.taken_at, p.reagent_lot, p.control_lot,
                  p.withdrawn_at is not null as "withdrawn!", coalesce(l.code, '') as "code!"
           from peer_result p
           left join peer_level l on l.group_id = p.group_id and l.characteristic_id = p.characteristic_id
           where p.group_id = $1
             and (p.taken_revision < p.revision or not $2 and p.withdrawn_at is null)
             and (p.withdrawn_at is not null or l.code is not null)
           order by p.taken_at, p.id"#,
        group,
        waiting
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    let results = rows.map(|row| GivenResult {
        id: row.id,
        revision: row.revision.unsigned_abs(),
        code: row.code,
        withdrawn: row.withdrawn,
        value: (!row.withdrawn).then_some(row.value),
        unit: row.unit,
        taken_at: row.taken_at,
        reagent_lot: row.reagent_lot,
        control_lot: row.control_lot,
    });
    Ok(ResultsGiven { laboratory, results: results.collect() })
}

/// A level beside its peers.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LevelBeside {
    /// The level's characteristic.
    pub characteristic: Uuid,
    /// The analyte's name.
    pub analyte: String,
    /// The level's name.
    pub level: String,
    /// What the group calls it.
    pub code: String,
    /// Unit of the results.
    pub unit: String,
    /// Decimals of a result.
    pub decimals: i16,
    /// By lots, in the order in which they came into use.
    pub lots: Vec<LotBeside>,
}

/// Own results that were given and not taken back, beside what the group told: of this month by the site's clocks, and so
/// many before it.
///
/// # Errors
/// When there is no such group.
#[compiled_once]
pub async fn comparison(
    pool: &PgPool,
    group: Uuid,
    months: u32,
    now: DateTime<Utc>,
) -> Result<Vec<LevelBeside>, StoreError> {
    let zone = crate::sites::calendar(pool).await?.zone;
    let first = Month::at(now, &zone).before(months);
    let start = first.first().and_time(chrono::NaiveTime::MIN);
    let from = zone.from_local_datetime(&start).earliest().map_or(start.and_utc(), |at| at.to_utc());
    let levels = sqlx::query!(
        "select l.characteristic_id, l.code, a.name as analyte, v.name as level, c.unit, c.decimals
         from peer_level l join characteristic c on c.id = l.characteristic_id
         join level v on v.characteristic_id = c.id join analyte a on a.id = v.analyte_id
         join station t on t.id = a.station_id
         where l.group_id = $1 order by t.name, a.place, a.name, v.place",
        group
    )
    .fetch_all(pool)
    .await?;
    if levels.is_empty() {
        return Err(StoreError::Missing(ObjectKind::PeerGroup));
    }
    let (mut own, mut told): (HashMap<Uuid, Vec<OwnResult>>, HashMap<Uuid, Vec<Told>>) = Default::default();
    let results = sqlx::query!(
        "select characteristic_id, value, taken_at, reagent_lot, control_lot from peer_result
         where group_id = $1 and withdrawn_at is null and taken_at >= $2 order by taken_at, id",
        group,
        from
    );
    for row in results.fetch_all(pool).await? {
        own.entry(row.characteristic_id).or_default().push(OwnResult {
            month: Month::at(row.taken_at, &zone),
            control_lot: row.control_lot,
            reagent_lot: row.reagent_lot,
            value: row.value,
        });
    }
    let statistics = sqlx::query!(
        "select characteristic_id, month, control_lot, reagent_lot, laboratories, n, mean, sd from peer_statistic
         where group_id = $1 and month >= $2",
        group,
        first.first()
    );
    for row in statistics.fetch_all(pool).await? {
        told.entry(row.characteristic_id).or_default().push(Told {
            month: Month::of(row.month),
            control_lot: row.control_lot,
            reagent_lot: row.reagent_lot,
            laboratories: row.laboratories.map(i32::unsigned_abs),
            n: row.n.unsigned_abs(),
            mean: row.mean,
            sd: row.sd,
        });
    }
    Ok(levels
        .into_iter()
        .map(|row| {
            let of = row.characteristic_id;
            LevelBeside {
                characteristic: of,
                analyte: row.analyte,
                level: row.level,
                code: row.code,
                unit: row.unit,
                decimals: row.decimals,
                lots: beside(own.get(&of).map_or(&[], Vec::as_slice), told.get(&of).map_or(&[], Vec::as_slice)),
            }
        })
        .collect())
}
