//! Who did what.

use axum::Json;
use axum::extract::State;
use chrono::{DateTime, Utc};
use serde::Deserialize;
use store::trail::TrailEntry;
use utoipa::IntoParams;
use uuid::Uuid;

use crate::app::App;
use crate::json::{Query, bounded};
use crate::problem::Problem;

/// More entries than this are not sent at once.
const ENTRIES_AT_MOST: i64 = 200;

/// Which entries.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Which {
    /// Only of this characteristic.
    characteristic: Option<Uuid>,
    /// Only before this time.
    before: Option<DateTime<Utc>>,
}

/// The trail, newest first, at most 200 entries.
#[utoipa::path(get, path = "/api/trail", tag = "trail", params(Which),
    responses((status = 200, body = [TrailEntry])))]
pub async fn trail(State(app): State<App>, Query(which): Query<Which>) -> Result<Json<Vec<TrailEntry>>, Problem> {
    Ok(Json(store::trail::list(&app.pool, which.characteristic, which.before.map(bounded), ENTRIES_AT_MOST).await?))
}
