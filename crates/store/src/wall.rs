//! What hangs on the wall: the charts of a display's stations, what is overdue there and what is open. Nobody is named.

use chrono::{DateTime, Utc};
use quality::due::DueState;
use quality::episode::{Aspect, Pattern};
use quality::signal::SignalState::{Open, SentBack};
use serde::Serialize;
use spc::rules::Side;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::charts::{SmallAsked, SmallChart, small};
use crate::episodes::{self, EpisodeFilter, EpisodeOrder, EpisodeRow};
use crate::once::compiled_once;
use crate::rounds::{self, RoundStation};
use crate::{StoreError, sites};

/// Points of each chart.
const POINTS: u32 = 40;
/// More open episodes are counted alone: no wall has room for them.
const OPEN_AT_MOST: i64 = 20;

/// What a display shows.
#[derive(Debug, Serialize, ToSchema)]
pub struct Wall {
    /// Name of the site.
    pub site: String,
    /// Time zone of its clock, by its IANA name.
    pub time_zone: String,
    /// Stations where something is overdue, with that alone.
    pub overdue: Vec<RoundStation>,
    /// Episodes that wait for an answer, the longest waiting first; at most 20.
    pub open: Vec<WallEpisode>,
    /// How many wait in all.
    pub open_count: i64,
    /// A chart of each characteristic, those left out that are hidden.
    pub charts: Vec<SmallChart>,
}

/// An episode that waits, without anybody's name or words.
#[derive(Debug, Serialize, ToSchema)]
pub struct WallEpisode {
    pub id: Uuid,
    /// What is charted.
    pub name: String,
    pub station: String,
    /// On what.
    pub product: String,
    pub aspect: Aspect,
    pub side: Option<Side>,
    /// The rules that were broken, the most telling first.
    pub patterns: Vec<Pattern>,
    /// Since when it waits.
    pub raised_at: DateTime<Utc>,
    /// Nobody answered in time.
    pub too_long: bool,
}

impl From<EpisodeRow> for WallEpisode {
    fn from(row: EpisodeRow) -> Self {
        let EpisodeRow { id, name, station, product, aspect, side, patterns, raised_at, escalated_at, .. } = row;
        Self { id, name, station, product, aspect, side, patterns, raised_at, too_long: escalated_at.is_some() }
    }
}

/// What stations look like at `now`.
#[compiled_once]
pub async fn wall(pool: &PgPool, stations: &[Uuid], now: DateTime<Utc>) -> Result<Wall, StoreError> {
    let site = sites::site(pool).await?;
    let waiting = EpisodeFilter {
        states: vec![Open, SentBack],
        within: Some(stations.to_vec()),
        order: EpisodeOrder::Oldest,
        ..EpisodeFilter::default()
    };
    let mut overdue = rounds::list(pool, None, now).await?;
    for station in &mut overdue {
        station.characteristics.retain(|stop| stop.state == DueState::Overdue);
    }
    overdue.retain(|station| stations.contains(&station.id) && !station.characteristics.is_empty());
    Ok(Wall {
        site: site.name,
        time_zone: site.time_zone,
        overdue,
        open: episodes::list(pool, &waiting, OPEN_AT_MOST).await?.into_iter().map(WallEpisode::from).collect(),
        open_count: episodes::count(pool, &waiting).await?,
        charts: small(pool, None, Some(stations), &SmallAsked { last: POINTS, since: None }).await?,
    })
}
