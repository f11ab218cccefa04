//! The limits of a characteristic as they are looked at: a table of its phases, and the path of one of them.

use chrono::Utc;
use quality::object::ObjectKind;
use serde::Serialize;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::act::version;
use super::path::{LimitsPath, WhichPath, path};
use crate::characteristics::CharacteristicView;
use crate::judging::{JudgingAgain, under_way};
use crate::look::{ToLookAt, to_look_at};
use crate::once::compiled_once;
use crate::phases::{Phase, aside_since, phases};
use crate::series::fill_trial;
use crate::{StoreError, characteristics};

/// The limits of a characteristic: all phases, and the path of one of them.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct LimitsView {
    /// Whose limits.
    pub characteristic: CharacteristicView,
    /// Counts changes of limits; a change names the version it was made on.
    pub version: i32,
    /// Points that are being judged again in the background.
    pub judging: Option<JudgingAgain>,
    /// In the order of their starts.
    pub phases: Vec<PhaseRow>,
    /// They are to be looked at.
    pub look: Option<ToLookAt>,
    /// The path of the phase that is looked at; nothing while there are no points.
    pub path: Option<LimitsPath>,
}

/// A phase in a table of figures.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct PhaseRow {
    #[serde(flatten)]
    pub phase: Phase,
    /// Its first sample.
    pub first_sample: Option<Uuid>,
    /// Number of its first sample.
    pub first_number: Option<i64>,
    /// Points that were measured.
    pub points: i64,
    /// Those of them that are set aside.
    pub aside: i64,
    /// Signals that stand against its limits.
    pub signals: i64,
    /// Points that were set aside since the limits were put in force: they still rest on them.
    pub aside_since: i64,
}

/// The limits of a characteristic as they are now.
///
/// # Errors
/// When there is no such characteristic, phase or sample.
#[compiled_once]
pub async fn view(pool: &PgPool, characteristic: Uuid, which: WhichPath) -> Result<LimitsView, StoreError> {
    let mut conn = pool.acquire().await?;
    let setup = characteristics::find(&mut *conn, characteristic).await?;
    let version = version(&mut conn, characteristic).await?;
    let judging = under_way(&mut conn, characteristic).await?;
    let mut all = phases(&mut conn, characteristic).await?;
    for held in 0..all.len() {
        fill_trial(&mut conn, &setup, &mut all, held).await?;
    }
    let held = match which.phase {
        Some(phase) => all.iter().position(|p| p.id == phase).ok_or(StoreError::Missing(ObjectKind::Phase))?,
        None => all.len().saturating_sub(1),
    };
    let path = path(&mut conn, &setup, &all, held, which).await?;
    let mut rows = Vec::with_capacity(all.len());
    for held in 0..all.len() {
        rows.push(row(&mut conn, &setup, &all, held).await?);
    }
    let look = to_look_at(&mut *conn, Some(characteristic), Utc::now().date_naive()).await?.pop();
    Ok(LimitsView { characteristic: setup, version, judging, phases: rows, look, path })
}

async fn row(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    all: &[Phase],
    held: usize,
) -> Result<PhaseRow, StoreError> {
    let phase = &all[held];
    let starts = all.get(held).filter(|_| held > 0).map(|phase| phase.starts_at);
    let ends = all.get(held + 1).map(|phase| phase.starts_at);
    let counts = sqlx::query!(
        r#"select count(*) filter (where not gap) as "points!", count(*) filter (where not gap and aside) as "aside!",
                  (select count(*) from signal where limits_id = $4 and withdrawn_at is null) as "signals!",
                  (array_agg(id order by taken_at, number))[1] as first_sample,
                  (array_agg(number order by taken_at, number))[1] as first_number
           from sample
           where characteristic_id = $1 and taken_at >= coalesce($2, '-infinity'::timestamptz)
             and taken_at < coalesce($3, 'infinity'::timestamptz)"#,
        setup.id,
        starts,
        ends,
        phase.limits
    )
    .fetch_one(&mut *conn)
    .await?;
    Ok(PhaseRow {
        phase: phase.clone(),
        first_sample: counts.first_sample,
        first_number: counts.first_number,
        points: counts.points,
        aside: counts.aside,
        signals: counts.signals,
        aside_since: aside_since(conn, setup.id, all, held).await?,
    })
}
