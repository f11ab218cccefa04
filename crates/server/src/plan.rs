//! Setting up stations, products and characteristics.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::Utc;
use quality::characteristic::Characteristic;
use quality::choices::{Choices, choices};
use quality::chooser::{Asked, Recommendation, recommend};
use quality::field::{Allowed, WrongField};
use serde::{Deserialize, Serialize};
use store::characteristics::Belongs;
use store::people::Person;
use store::plan::{CharacteristicChange, Differing, Plan};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::app::App;
use crate::created::Created;
use crate::json::Body;
use crate::problem::Problem;

/// Everything that is set up; for a reader that of their areas.
#[utoipa::path(get, path = "/api/plan", tag = "plan", responses((status = 200, body = Plan)))]
pub async fn plan(State(app): State<App>, Extension(person): Extension<Person>) -> Result<Json<Plan>, Problem> {
    let plan = store::plan::plan(&app.pool).await?;
    Ok(Json(match person.sees_only() {
        Some(stations) => plan.within(stations),
        None => plan,
    }))
}

/// What can be chosen when something is set up: charts by kind of data, rules, rule sets.
#[utoipa::path(get, path = "/api/plan/choices", tag = "plan", responses((status = 200, body = Choices)))]
pub async fn offered() -> Json<Choices> {
    Json(choices())
}

/// A station to set up.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewStation {
    /// Its area, which is made when there is none of that name.
    area: String,
    name: String,
}

/// Sets up a station.
#[utoipa::path(post, path = "/api/plan/stations", tag = "plan", request_body = NewStation, responses(
    (status = 201, body = Created),
    (status = 409, body = Problem, description = "`taken`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn add_station(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(new): Body<NewStation>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let id = store::plan::add_station(&app.pool, &new.area, &new.name, person.id, Utc::now()).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// A product to set up.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewProduct {
    name: String,
}

/// Sets up a product.
#[utoipa::path(post, path = "/api/plan/products", tag = "plan", request_body = NewProduct, responses(
    (status = 201, body = Created),
    (status = 409, body = Problem, description = "`taken`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn add_product(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(new): Body<NewProduct>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let id = store::plan::add_product(&app.pool, &new.name, person.id, Utc::now()).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// A characteristic to set up.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewCharacteristic {
    station: Uuid,
    /// On what.
    product: Uuid,
    /// As it shall be.
    characteristic: Characteristic,
}

/// Sets up a characteristic.
#[utoipa::path(post, path = "/api/plan/characteristics", tag = "plan", request_body = NewCharacteristic, responses(
    (status = 201, body = Created),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`taken`"),
    (status = 422, body = Problem, description = "`set_up_refused`")))]
pub async fn add_characteristic(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(new): Body<NewCharacteristic>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let at = Belongs { station: new.station, product: new.product, since: Utc::now() };
    let id = store::plan::add_characteristic(&app.pool, at, &new.characteristic, person.id).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// Most characteristics that can be changed at once.
const CHANGES_AT_MOST: usize = 200;

/// Changes characteristics, all or none; each names the version that was seen.
#[utoipa::path(post, path = "/api/plan/changes", tag = "plan", request_body = Vec<CharacteristicChange>, responses(
    (status = 204),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`; `taken`; `has_samples`"),
    (status = 422, body = Problem, description = "`set_up_refused`; `field_refused`")))]
pub async fn change(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(changes): Body<Vec<CharacteristicChange>>,
) -> Result<StatusCode, Problem> {
    not_too_many(&changes)?;
    store::plan::change(&app.pool, &changes, person.id, Utc::now()).await?;
    Ok(StatusCode::NO_CONTENT)
}

fn not_too_many(changes: &[CharacteristicChange]) -> Result<(), Problem> {
    if changes.len() > CHANGES_AT_MOST {
        return Err(WrongField::new("changes", Allowed::Entries { least: 0, most: CHANGES_AT_MOST }).into());
    }
    Ok(())
}

/// What a change would do.
#[derive(Serialize, ToSchema)]
pub struct Foreseen {
    /// Of which characteristic.
    id: Uuid,
    /// What would differ; absent where it is refused.
    differing: Option<Differing>,
    /// Why it cannot be made.
    refused: Option<Problem>,
}

/// What changes would do, each for itself, in the order given. Nothing is changed.
#[utoipa::path(post, path = "/api/plan/changes/preview", tag = "plan", request_body = Vec<CharacteristicChange>, responses(
    (status = 200, body = [Foreseen]),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn foresee(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(changes): Body<Vec<CharacteristicChange>>,
) -> Result<Json<Vec<Foreseen>>, Problem> {
    not_too_many(&changes)?;
    let foreseen = store::plan::foresee(&app.pool, &changes, person.id, Utc::now()).await?;
    let seen = changes.iter().zip(foreseen).map(|(change, foreseen)| match foreseen {
        Ok(differing) => Foreseen { id: change.id, differing: Some(differing), refused: None },
        Err(error) => Foreseen { id: change.id, differing: None, refused: Some(error.into()) },
    });
    Ok(Json(seen.collect()))
}

/// Questions to the chooser.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ChooserQuestions {
    /// The answers.
    asked: Asked,
    /// A characteristic whose counts tell whether they scatter too much.
    characteristic: Option<Uuid>,
}

/// Recommends a chart, with the reason.
#[utoipa::path(post, path = "/api/plan/chooser", tag = "plan", request_body = ChooserQuestions, responses(
    (status = 200, body = Recommendation),
    (status = 404, body = Problem, description = "`missing`")))]
pub async fn choose(
    State(app): State<App>,
    Body(questions): Body<ChooserQuestions>,
) -> Result<Json<Recommendation>, Problem> {
    let counts = match questions.characteristic {
        Some(id) => store::plan::counts_so_far(&app.pool, id).await?,
        None => None,
    };
    Ok(Json(recommend(&questions.asked, counts)))
}
