//! What the episodes of a period teach.

use axum::extract::State;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use quality::learn::Learned;
use serde::Deserialize;
use store::learn::LearnFrom;
use store::people::Person;
use utoipa::IntoParams;
use uuid::Uuid;

use crate::app::App;
use crate::json::{Query, bounded};
use crate::problem::Problem;

/// Which episodes teach.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct WhichEpisodes {
    /// Raised from then on.
    from: DateTime<Utc>,
    /// Raised before then.
    until: DateTime<Utc>,
    /// Only of this area.
    area: Option<Uuid>,
}

/// Which causes come back where, how long answers and reviews take, how often nothing is found, and how many episodes
/// there are by rule, station and week; for a reader those of their areas. Trial limits teach nothing.
#[utoipa::path(get, path = "/api/learned", tag = "reports", params(WhichEpisodes), responses(
    (status = 200, body = Learned),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn learned(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(which): Query<WhichEpisodes>,
) -> Result<Json<Learned>, Problem> {
    let asked = LearnFrom {
        from: bounded(which.from),
        until: bounded(which.until),
        area: which.area,
        within: person.sees_only().map(<[Uuid]>::to_vec),
    };
    Ok(Json(store::learn::learned(&app.pool, &asked).await?))
}
