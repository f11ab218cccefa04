//! Saving a sample: the sample, its signals and the trail in one transaction.

use chrono::{DateTime, SubsecRound, Utc};
use quality::judging::{Change, judge_window, reconcile};
use quality::limits::LimitsState;
use quality::trail::{Action, Deed};
use serde::{Deserialize, Serialize};
use serde_json::json;
use spc::chart::Statistic;
use spc::rules::{Rule, Side};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::limits::{Phase, fill_trial, holding, phases};
use crate::news::{News, tell};
use crate::window::{WindowPoint, around};
use crate::{StoreError, characteristics, signals, trail};

/// A sample to save; its readings have been accepted.
#[derive(Debug, Clone)]
pub struct NewSample {
    /// What was measured.
    pub characteristic: Uuid,
    /// The device it was entered on.
    pub device: Uuid,
    /// Made by the device; saving it twice keeps one sample.
    pub entry: Uuid,
    /// When the sample was taken.
    pub taken_at: DateTime<Utc>,
    /// When it reached the server.
    pub arrived_at: DateTime<Utc>,
    /// Who entered it.
    pub person: Uuid,
    /// The readings.
    pub readings: Vec<f64>,
}

/// A saved sample.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Saved {
    /// Identity of the sample.
    pub sample: Uuid,
    /// Its number within the characteristic.
    pub number: i64,
    /// It had been saved before by the same entry id; nothing was stored twice.
    pub again: bool,
    /// Signals that it raised.
    pub raised: Vec<Uuid>,
    /// Signals whose pattern goes on with it.
    pub grown: Vec<Uuid>,
}

/// Saves a sample and judges it against the limits that hold at its time.
///
/// # Errors
/// When the characteristic is missing, or the entry id was used for other readings.
pub async fn save(pool: &PgPool, new: &NewSample) -> Result<Saved, StoreError> {
    // The database keeps microseconds; what is compared and hashed must be what is kept.
    let new = &NewSample { taken_at: new.taken_at.trunc_subsecs(6), ..new.clone() };
    let mut tx = pool.begin().await?;
    let setup = characteristics::lock(&mut tx, new.characteristic).await?;
    if let Some(saved) = saved_before(&mut tx, new).await? {
        return Ok(saved);
    }
    let characteristic = setup.characteristic();
    let id = Uuid::new_v4();
    let number = insert(&mut tx, id, new).await?;

    let mut phases = phases(&mut tx, characteristic.id).await?;
    let held = holding(&phases, new.taken_at);
    fill_trial(&mut tx, &characteristic, &mut phases, held).await?;
    let mut deeds = vec![Deed::new(
        new.arrived_at,
        Some(new.person),
        Action::SampleSaved,
        id,
        &json!({"number": number, "taken_at": new.taken_at, "readings": new.readings, "device": new.device,
                "entry": new.entry}),
    )];
    let (mut raised, mut grown) = (Vec::new(), Vec::new());
    if let Some((phase, figures)) = phases.get(held).and_then(|phase| phase.figures().map(|f| (phase, f))) {
        let point = WindowPoint { sample: Some(id), taken_at: new.taken_at, readings: new.readings.clone() };
        let window = around(&mut tx, &characteristic, &phases, held, point, number).await?;
        let chart = judge_window(&characteristic, &figures, window.readings())?;
        let standing = signals::standing(&mut tx, new.characteristic, &window).await?;
        let basis = signals::Basis {
            characteristic: new.characteristic,
            limits: phase.limits,
            figures,
            trial: phase.state == LimitsState::Trial,
            at: new.arrived_at,
        };
        for change in reconcile(&chart, window.changed, &standing) {
            let (signal, deed) = signals::apply(&mut tx, &basis, &window, id, change).await?;
            match change {
                Change::Raise(_) => raised.push(signal),
                Change::Grow { .. } => grown.push(signal),
                Change::Withdraw { .. } => {}
            }
            deeds.push(deed);
        }
    }
    trail::append(&mut tx, new.characteristic, &deeds).await?;
    tell(&mut tx, News::Sample { characteristic: new.characteristic }).await?;
    tx.commit().await?;
    Ok(Saved { sample: id, number, again: false, raised, grown })
}

async fn insert(conn: &mut PgConnection, id: Uuid, new: &NewSample) -> Result<i64, StoreError> {
    let number = sqlx::query_scalar!(
        "update characteristic set next_number = next_number + 1 where id = $1 returning next_number - 1 as \"number!\"",
        new.characteristic
    )
    .fetch_one(&mut *conn)
    .await?;
    sqlx::query!(
        "insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9)",
        id,
        new.characteristic,
        number,
        new.device,
        new.entry,
        new.taken_at,
        new.arrived_at,
        new.person,
        &new.readings
    )
    .execute(conn)
    .await
    .map_err(|error| match error.as_database_error().and_then(|e| e.constraint()) {
        // The same entry id at the same moment on another characteristic.
        Some("sample_entry_once") => StoreError::EntryReused,
        _ => error.into(),
    })?;
    Ok(number)
}

/// The sample that this entry id was saved as, with the signals that flag it.
async fn saved_before(conn: &mut PgConnection, new: &NewSample) -> Result<Option<Saved>, StoreError> {
    let Some(row) = sqlx::query!(
        "select id, number, characteristic_id, taken_at, readings from sample where device = $1 and entry = $2",
        new.device,
        new.entry
    )
    .fetch_optional(&mut *conn)
    .await?
    else {
        return Ok(None);
    };
    if row.characteristic_id != new.characteristic || row.readings != new.readings {
        return Err(StoreError::EntryReused);
    }
    let flagging = sqlx::query!(
        "select id, at_sample from signal
         where characteristic_id = $1 and to_taken_at = $2 and to_sample = $3 and withdrawn_at is null",
        new.characteristic,
        row.taken_at,
        row.id
    )
    .fetch_all(conn)
    .await?;
    let (mut raised, mut grown) = (Vec::new(), Vec::new());
    for signal in flagging {
        if signal.at_sample == row.id { raised.push(signal.id) } else { grown.push(signal.id) }
    }
    Ok(Some(Saved { sample: row.id, number: row.number, again: true, raised, grown }))
}

/// A point in pencil: what a sample would be if it were saved now.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Pencil {
    /// One entry a panel, in drawing order.
    pub panels: Vec<PencilPoint>,
    /// Rules that it would break.
    pub findings: Vec<PencilFinding>,
}

/// The pencil point on one panel.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct PencilPoint {
    /// The panel.
    pub statistic: Statistic,
    /// The statistic of the readings so far.
    pub value: Option<f64>,
    /// Centre line there.
    pub center: Option<f64>,
    /// Lower limit there.
    pub lower: Option<f64>,
    /// Upper limit there.
    pub upper: Option<f64>,
    /// A rule would flag it.
    pub flagged: bool,
}

/// A rule that the pencil point would break.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct PencilFinding {
    /// The panel.
    pub panel: Statistic,
    /// The rule.
    pub rule: Rule,
    /// Its side.
    pub side: Option<Side>,
    /// Points in the pattern, the pencil point included.
    pub points: usize,
}

/// What readings would be as the next point; nothing is stored.
pub async fn preview(
    pool: &PgPool,
    characteristic: Uuid,
    readings: Vec<f64>,
    at: DateTime<Utc>,
) -> Result<Pencil, StoreError> {
    let mut conn = pool.acquire().await?;
    let characteristic = characteristics::find(&mut *conn, characteristic).await?.characteristic();
    let mut phases = phases(&mut conn, characteristic.id).await?;
    let held = holding(&phases, at);
    fill_trial(&mut conn, &characteristic, &mut phases, held).await?;
    let point = WindowPoint { sample: None, taken_at: at, readings };
    let window = around(&mut conn, &characteristic, &phases, held, point, i64::MAX).await?;
    let Some(figures) = phases.get(held).and_then(Phase::figures) else {
        return crate::chart::without_limits(&characteristic, &window);
    };
    let chart = judge_window(&characteristic, &figures, window.readings())?;
    let panels = chart
        .panels
        .iter()
        .map(|(statistic, points)| {
            let p = points[window.changed];
            PencilPoint {
                statistic: *statistic,
                value: p.value.get(),
                center: p.center.get(),
                lower: p.lower.get(),
                upper: p.upper.get(),
                flagged: p.flagged,
            }
        })
        .collect();
    let findings = chart
        .signals
        .iter()
        .filter(|f| (f.at..=f.to).contains(&window.changed))
        .map(|f| PencilFinding { panel: f.panel, rule: f.rule, side: f.side, points: window.changed + 1 - f.from })
        .collect();
    Ok(Pencil { panels, findings })
}
