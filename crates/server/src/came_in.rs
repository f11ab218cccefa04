//! Everything that came in, as a list.

use axum::extract::State;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use serde::Deserialize;
use store::came_in::{Became, CameIn, CameInFilter};
use store::people::Person;
use utoipa::IntoParams;
use uuid::Uuid;

use crate::app::App;
use crate::json::{Query, bounded};
use crate::problem::Problem;

/// More samples than this are not sent at once; ask for those behind the last one.
const SAMPLES_AT_MOST: i64 = 100;

/// Which samples; what is left out does not narrow them.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct WhichSamples {
    /// Only of this area.
    area: Option<Uuid>,
    /// Only of this station.
    station: Option<Uuid>,
    /// Only of the stations of whoever asks, where they belong somewhere.
    #[serde(default)]
    mine: bool,
    /// Only of this product.
    product: Option<Uuid>,
    /// Only entered by this person.
    person: Option<Uuid>,
    /// Only taken from then on.
    from: Option<DateTime<Utc>>,
    /// Only taken before then.
    until: Option<DateTime<Utc>>,
    /// Only of the laboratory, or only of the floor.
    laboratory: Option<bool>,
    /// Only what became this.
    became: Option<Became>,
    /// Only those behind this sample.
    behind: Option<Uuid>,
}

/// Samples of all characteristics, the last taken first, at most 100; for a reader those of their areas.
#[utoipa::path(get, path = "/api/samples", tag = "entry", params(WhichSamples), responses(
    (status = 200, body = [CameIn]), (status = 404, body = Problem, description = "`missing`")))]
pub async fn came_in(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(which): Query<WhichSamples>,
) -> Result<Json<Vec<CameIn>>, Problem> {
    let filter = CameInFilter {
        area: which.area,
        station: which.station,
        within: person.looks_at(which.mine).map(<[Uuid]>::to_vec),
        product: which.product,
        person: which.person,
        from: which.from.map(bounded),
        until: which.until.map(bounded),
        laboratory: which.laboratory,
        became: which.became,
        behind: which.behind,
    };
    Ok(Json(store::came_in::list(&app.pool, &filter, SAMPLES_AT_MOST).await?))
}
