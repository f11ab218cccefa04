//! The point in pencil: what a sample that is being entered would be.

use std::sync::Arc;

use chrono::{DateTime, Utc};
use quality::characteristic::Characteristic;
use quality::entry::{Tags, Usual};
use quality::place::Place;
use quality::sample::Content;
use serde::{Deserialize, Serialize};
use spc::Figure;
use spc::chart::Statistic;
use spc::rules::{Rule, Side};
use sqlx::pool::PoolConnection;
use sqlx::{PgConnection, PgPool, Postgres};
use utoipa::ToSchema;
use uuid::Uuid;

use super::set_up::{self, SetUp};
use super::usual::usual_now;
use crate::StoreError;
use crate::characteristics::CharacteristicView;
use crate::once::compiled_once;
use crate::phases::{Hold, Phase, holding};
use crate::series::{SeriesPoint, Stretch, around, fill_trial};

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

/// A sample is being entered; nothing is held, and nothing stored.
pub struct Pencilling {
    conn: PoolConnection<Postgres>,
    set_up: Arc<SetUp>,
    usual: Usual,
}

impl Pencilling {
    /// Begins to look at what was entered so far.
    ///
    /// # Errors
    /// When the characteristic is missing.
    #[compiled_once]
    pub async fn begin(pool: &PgPool, characteristic: Uuid) -> Result<Self, StoreError> {
        let (mut conn, set_up) = set_up::look(pool, characteristic).await?;
        let usual = usual_now(&mut conn, &set_up.setup, &set_up.phases).await?;
        Ok(Self { conn, set_up, usual })
    }

    /// What it is checked by.
    pub fn checks(&self) -> (&Characteristic, &Usual) {
        (&self.set_up.setup.characteristic, &self.usual)
    }

    /// What a sample would be as the next point.
    ///
    /// # Errors
    /// When the database fails.
    #[compiled_once]
    pub async fn point(mut self, entered: (&Content, &Tags), at: DateTime<Utc>) -> Result<Pencil, StoreError> {
        let SetUp { setup, phases, .. } = &*self.set_up;
        point(&mut self.conn, setup, phases.clone(), entered, at).await
    }
}

async fn point(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    mut phases: Vec<Phase>,
    (content, tags): (&Content, &Tags),
    at: DateTime<Utc>,
) -> Result<Pencil, StoreError> {
    let held = holding(&phases, at);
    fill_trial(&mut *conn, setup, &mut phases, held).await?;
    let schemes = setup.schemes();
    let stretch = Stretch::of_phase(setup, &schemes, &phases, held);
    let hold = phases.get(held).map_or(Hold { figures: None, trial: true }, Phase::hold);
    let place = Place { scheme: schemes.holding(at), ..Place::of(content.plotted(setup.characteristic.part(tags))) };
    let point = SeriesPoint { sample: None, taken_at: at, number: i64::MAX, place };
    let window = around(conn, &stretch, hold, vec![point], 1, None).await?;
    let limited = hold.figures.is_some();
    let chart = &window.chart;
    let panels = chart
        .panels
        .iter()
        .map(|(statistic, points)| {
            let p = points[window.changed];
            // Where there are no limits yet, there are no lines.
            let line = |figure: Figure| figure.get().filter(|_| limited);
            PencilPoint {
                statistic: *statistic,
                value: p.value.get(),
                center: line(p.center),
                lower: line(p.lower),
                upper: line(p.upper),
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
