//! Entering a sample: the point in pencil while it is entered, saving it, or skipping it.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use quality::entry::{
    EntryRefusal, Origin, Tags, Typed, TypedFirst, Unusual, accept, accept_time, read_so_far, unusual,
};
use quality::field::text;
use quality::sample::Defects;
use serde::{Deserialize, Serialize};
use store::people::Person;
use store::samples::{Entering, NewSample, Pencil, Pencilling, Saved, Visit};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::app::App;
use crate::json::{Body, Path};
use crate::problem::Problem;

/// What was entered so far would be.
#[derive(Serialize, ToSchema)]
pub struct Preview {
    /// The point in pencil; nothing while there is nothing to draw.
    pencil: Option<Pencil>,
    /// Readings that are not usual.
    unusual: Vec<Unusual>,
}

/// The point in pencil for what was entered so far. Nothing is stored.
#[utoipa::path(post, path = "/api/characteristics/{id}/preview", tag = "entry", params(("id" = Uuid, Path)),
    request_body = Typed, responses(
    (status = 200, body = Preview),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`readings_refused`")))]
pub async fn preview(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(typed): Body<Typed>,
) -> Result<Json<Preview>, Problem> {
    let pencilling = Pencilling::begin(&app.pool, id).await?;
    let (characteristic, usual) = pencilling.checks();
    let content = read_so_far(characteristic, &typed).map_err(EntryRefusal::Readings)?;
    let Some(content) = content else { return Ok(Json(Preview { pencil: None, unusual: vec![] })) };
    let unusual = unusual(characteristic, usual, &typed, &content);
    let pencil = pencilling.point((&content, &typed.tags), Utc::now()).await?;
    Ok(Json(Preview { pencil: Some(pencil), unusual }))
}

/// A sample to save. Measured values use `readings`, `components` and `left_out`; counts use
/// `inspected` and `defects`; rare events `between`, unless their time says all.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SampleEntry {
    /// The device it was entered on.
    device: Uuid,
    /// Made by the device; sending it twice saves one sample.
    entry: Uuid,
    /// When it was taken; now when left out.
    taken_at: Option<DateTime<Utc>>,
    /// One text a piece, with decimal point or comma.
    #[serde(default)]
    readings: Vec<String>,
    /// One text for each reference component; blank where it was not measured.
    #[serde(default)]
    components: Vec<String>,
    /// Pieces left out on purpose, from 1.
    #[serde(default)]
    left_out: Vec<usize>,
    /// Units inspected; may be left out where the number is fixed.
    inspected: Option<String>,
    /// Counts by kind.
    #[serde(default)]
    defects: Vec<Defects>,
    /// Conforming units since the rare event before.
    between: Option<String>,
    /// Tags by name.
    #[serde(default)]
    tags: Tags,
    /// Readings that were changed when somebody asked whether they are right, as they were typed first.
    #[serde(default)]
    typed_first: Vec<TypedFirst>,
    /// Readings that are not usual, or a time long ago, were confirmed.
    #[serde(default)]
    confirmed: bool,
}

/// Saves a sample and judges it. Sent again with the same entry id it answers 200 and stores
/// nothing.
#[utoipa::path(post, path = "/api/characteristics/{id}/samples", tag = "entry", params(("id" = Uuid, Path)),
    request_body = SampleEntry, responses(
    (status = 201, body = Saved), (status = 200, body = Saved, description = "saved before"),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`entry_reused`; `event_there`"),
    (status = 422, body = Problem,
     description = "`readings_refused`; `confirm_readings`; `confirm_time`; `from_the_future`; `too_early`")))]
pub async fn save(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(entry): Body<SampleEntry>,
) -> Result<(StatusCode, Json<Saved>), Problem> {
    let entering = Entering::begin(&app.pool, id).await?;
    let SampleEntry {
        device,
        entry,
        taken_at,
        readings,
        components,
        left_out,
        inspected,
        defects,
        between,
        tags,
        typed_first,
        confirmed,
    } = entry;
    let typed = Typed { readings, components, left_out, inspected, defects, between, tags, typed_first };
    let origin = Origin::Hand { confirmed };
    let (characteristic, usual) = entering.checks();
    let accepted = accept(characteristic, usual, &typed, origin)?;
    keep(entering, id, person.id, (device, entry), (taken_at, origin), Visit::Taken(accepted)).await
}

/// A sample that is not taken.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Skip {
    /// The device it was told on.
    device: Uuid,
    /// Made by the device; sending it twice keeps one gap.
    entry: Uuid,
    /// When it should have been taken; now when left out.
    taken_at: Option<DateTime<Utc>>,
    /// Why none was taken: 1 to 2000 characters.
    because: String,
    /// A time long ago was confirmed.
    #[serde(default)]
    confirmed: bool,
}

/// Records that a sample was skipped: a gap on the chart, with its reason.
#[utoipa::path(post, path = "/api/characteristics/{id}/gaps", tag = "entry", params(("id" = Uuid, Path)),
    request_body = Skip, responses(
    (status = 201, body = Saved), (status = 200, body = Saved, description = "recorded before"),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`entry_reused`"),
    (status = 422, body = Problem, description = "`field_refused`; `confirm_time`; `from_the_future`; `too_early`")))]
pub async fn skip(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(skip): Body<Skip>,
) -> Result<(StatusCode, Json<Saved>), Problem> {
    let because = text("because", &skip.because)?;
    let origin = Origin::Hand { confirmed: skip.confirmed };
    let entering = Entering::begin(&app.pool, id).await?;
    keep(entering, id, person.id, (skip.device, skip.entry), (skip.taken_at, origin), Visit::Skipped { because }).await
}

async fn keep(
    entering: Entering,
    characteristic: Uuid,
    person: Uuid,
    (device, entry): (Uuid, Uuid),
    (taken_at, origin): (Option<DateTime<Utc>>, Origin),
    visit: Visit,
) -> Result<(StatusCode, Json<Saved>), Problem> {
    let now = Utc::now();
    let taken_at = accept_time(taken_at, now, origin)?;
    let new = NewSample { characteristic, device, entry, taken_at, arrived_at: now, person, visit };
    let saved = entering.save(&new).await?;
    let status = if saved.again { StatusCode::OK } else { StatusCode::CREATED };
    Ok((status, Json(saved)))
}
