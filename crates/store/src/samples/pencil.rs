//! The point in pencil: what a sample that is being entered would be.

use chrono::{DateTime, Utc};
use quality::characteristic::Characteristic;
use quality::sample::{Content, points};
use serde::{Deserialize, Serialize};
use spc::chart::{ChartRequest, Statistic, compute};
use spc::rules::{Rule, Side};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::characteristics::{self, CharacteristicView};
use crate::limits::fill_trial;
use crate::phases::{Phase, holding, phases};
use crate::window::{Stretch, Window, WindowPoint, around};

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
    pub panel: Statistic,
    pub rule: Rule,
    pub side: Option<Side>,
    /// Points in the pattern, the pencil point included.
    pub points: usize,
}

/// What a sample would be as the next point; nothing is stored.
pub async fn preview(
    pool: &PgPool,
    characteristic: Uuid,
    content: &Content,
    at: DateTime<Utc>,
) -> Result<Pencil, StoreError> {
    let mut conn = pool.acquire().await?;
    let CharacteristicView { id, characteristic, .. } = characteristics::find(&mut *conn, characteristic).await?;
    let mut phases = phases(&mut conn, id).await?;
    let held = holding(&phases, at);
    fill_trial(&mut conn, (id, &characteristic), &mut phases, held).await?;
    let stretch = Stretch::of_phase(id, characteristic.kind, &phases, held);
    let figures = phases.get(held).and_then(Phase::figures);
    let point = WindowPoint { sample: None, taken_at: at, number: i64::MAX, plotted: content.plotted() };
    let window = around(&mut conn, &characteristic, &stretch, figures.as_ref(), point).await?;
    if figures.is_none() {
        return without_limits(&characteristic, &window);
    }
    let chart = &window.chart;
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

/// The pencil point where there are no limits yet.
fn without_limits(characteristic: &Characteristic, window: &Window) -> Result<Pencil, StoreError> {
    let request = ChartRequest {
        options: characteristic.chart_options(),
        ..ChartRequest::new(characteristic.chart, points(characteristic.kind, window.plotted()))
    };
    let panels = compute(&request)?
        .panels
        .iter()
        .map(|panel| PencilPoint {
            statistic: panel.statistic,
            value: panel.point(window.changed).value.get(),
            center: None,
            lower: None,
            upper: None,
            flagged: false,
        })
        .collect();
    Ok(Pencil { panels, findings: vec![] })
}
