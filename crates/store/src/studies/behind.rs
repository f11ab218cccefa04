//! The samples behind a figure of a study.

use std::collections::BTreeMap;

use chrono::{DateTime, Utc};
use quality::characteristic::Kind;
use quality::sample::Plotted;
use quality::study::{Picked, Selection, Split};
use serde::{Deserialize, Serialize};
use sqlx::{PgConnection, PgExecutor, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::count::{CountedRow, part, rows};
use super::pick::{pick, within};
use crate::characteristics::{self, CharacteristicView};
use crate::once::compiled_once;
use crate::phases::phases;
use crate::{StoreError, sites};

/// More are not listed at once.
const LISTED: usize = 200;

/// Which samples of a selection: with a value from here up to there, of one of its parts.
#[derive(Debug, Clone, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Behind {
    /// The selection that the figure is of.
    pub of: Selection,
    /// With a value from here on.
    pub from: Option<f64>,
    /// And below this.
    pub below: Option<f64>,
    /// And up to this; beside `below` the nearer one holds.
    pub up_to: Option<f64>,
    /// And above this; beside `from` the farther one holds.
    pub above: Option<f64>,
    /// With a defect of this kind.
    pub kind: Option<String>,
    /// How the study is split.
    pub split: Option<Split>,
    /// Of this part.
    pub group: Option<String>,
}

/// A sample behind a figure.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct BehindSample {
    pub number: i64,
    pub taken_at: DateTime<Utc>,
    /// Set aside, whether or not the study takes it in.
    pub set_aside: bool,
    /// What it recorded; how many of the kind, where one is asked for.
    pub values: Vec<f64>,
    /// Units inspected, of counts.
    pub inspected: Option<i32>,
    /// Which part it belongs to.
    pub group: Option<String>,
}

/// The newest of them first, at most 200, and how many there are.
///
/// # Errors
/// As for an answer.
#[compiled_once]
pub async fn behind(pool: &PgPool, asked: &Behind) -> Result<(usize, Vec<BehindSample>), StoreError> {
    let mut conn = pool.acquire().await?;
    let setup = characteristics::find(&mut *conn, asked.of.characteristic).await?;
    let all = match setup.characteristic.kind {
        Kind::NonconformingUnits | Kind::Nonconformities => counted(&mut conn, &setup, asked).await?,
        Kind::Measured | Kind::RareEvent => measured(&mut conn, &setup, asked).await?,
    };
    let shown = |one: &BehindSample| {
        (asked.of.set_aside || !one.set_aside) && (asked.group.is_none() || one.group == asked.group)
    };
    let all: Vec<BehindSample> = all.into_iter().rev().filter(shown).collect();
    Ok((all.len(), all.into_iter().take(LISTED).collect()))
}

async fn measured(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    asked: &Behind,
) -> Result<Vec<BehindSample>, StoreError> {
    let holds = |x: &f64| {
        asked.from.is_none_or(|from| *x >= from)
            && asked.below.is_none_or(|below| *x < below)
            && asked.up_to.is_none_or(|most| *x <= most)
            && asked.above.is_none_or(|above| *x > above)
    };
    let picked = pick(conn, setup, &asked.of, asked.split.as_ref()).await?.into_iter();
    let sample = |one: Picked| {
        let values = match one.place.plotted {
            Plotted::Values(values) => values,
            Plotted::Between(between) => between.into_iter().collect(),
            Plotted::Count(_) => vec![],
        };
        let Picked { number, taken_at, group, .. } = one;
        let set_aside = one.place.aside;
        values.iter().any(holds).then_some(BehindSample { number, taken_at, set_aside, values, inspected: None, group })
    };
    Ok(picked.filter_map(sample).collect())
}

async fn counted(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    asked: &Behind,
) -> Result<Vec<BehindSample>, StoreError> {
    let phases = phases(&mut *conn, setup.id).await?;
    let calendar = sites::calendar(&mut *conn).await?;
    let rows = rows(conn, setup, &asked.of, within(&asked.of, &phases)?, asked.split.as_ref()).await?;
    let sample = |row: CountedRow| {
        let of_kind = |kind: &String| row.kinds(setup).filter(|(name, _)| name == kind).map(|(_, count)| count).sum();
        let count: u64 = asked.kind.as_ref().map_or(u64::from(row.count.unsigned_abs()), of_kind);
        let group = part(&row, asked.split.as_ref(), &phases, &calendar);
        let CountedRow { number, taken_at, aside: set_aside, inspected, .. } = row;
        let values = vec![count as f64];
        let sample = BehindSample { number, taken_at, set_aside, values, inspected: Some(inspected), group };
        (asked.kind.is_none() || count > 0).then_some(sample)
    };
    Ok(rows.into_iter().filter_map(sample).collect())
}

/// Of so many of the newest samples tags are looked at.
const TAGGED: i64 = 2_000;

/// The tags that the newest samples of a characteristic have, with their values.
pub async fn tags(conn: impl PgExecutor<'_>, of: Uuid) -> Result<BTreeMap<String, Vec<String>>, StoreError> {
    let rows = sqlx::query!(
        r#"select t.key as "name!", array_agg(distinct t.value order by t.value) as "values!: Vec<String>"
           from (select tags from sample where characteristic_id = $1 order by taken_at desc, number desc limit $2) s
           cross join jsonb_each_text(s.tags) t group by t.key"#,
        of,
        TAGGED
    );
    Ok(rows.fetch_all(conn).await?.into_iter().map(|row| (row.name, row.values)).collect())
}
