//! The handover from shift to shift.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::{DateTime, SubsecRound, Utc};
use quality::field::{Allowed, WrongField};
use serde::Deserialize;
use store::handover::{HandoverView, NewWord};
use store::people::Person;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::app::App;
use crate::created::Created;
use crate::json::{Body, Query, bounded};
use crate::problem::Problem;

/// Which handover.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct WhichHandover {
    /// A moment of the shift; left out, the shift that is handed over now.
    shift: Option<DateTime<Utc>>,
    /// Only of the stations of whoever asks, where they belong somewhere.
    #[serde(default)]
    mine: bool,
}

/// What is handed over from a shift.
#[utoipa::path(get, path = "/api/handover", tag = "handover", params(WhichHandover), responses(
    (status = 200, body = HandoverView),
    (status = 404, body = Problem, description = "`missing`: the site has no shifts, or it is still to come")))]
pub async fn handover(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(which): Query<WhichHandover>,
) -> Result<Json<HandoverView>, Problem> {
    let within = person.looks_at(which.mine);
    Ok(Json(store::handover::view(&app.pool, which.shift.map(bounded), within, Utc::now()).await?))
}

/// Words to leave to the next shift.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewHandoverWord {
    /// When the shift began.
    shift: DateTime<Utc>,
    /// The area they are about; all when left out.
    area: Option<Uuid>,
    /// 1 to 2000 characters.
    text: String,
    /// Made by the device; sending it twice leaves them once.
    entry: Uuid,
}

/// Leaves words to the next shift.
#[utoipa::path(post, path = "/api/handover/words", tag = "handover", request_body = NewHandoverWord, responses(
    (status = 201, body = Created),
    (status = 404, body = Problem, description = "`missing`: the area, or the shift"),
    (status = 409, body = Problem, description = "`entry_reused`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn leave_words(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(new): Body<NewHandoverWord>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let at = Utc::now().trunc_subsecs(6);
    let NewHandoverWord { shift, area, text, entry } = new;
    let shift_began = store::handover::begun(&app.pool, bounded(shift), at).await?;
    let word = NewWord { shift_began, area, person: person.id, at, text, entry };
    Ok((StatusCode::CREATED, Json(Created { id: store::handover::write(&app.pool, &word).await? })))
}

/// That somebody has read it.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct HandoverReading {
    /// When the shift began.
    shift: DateTime<Utc>,
    /// Episodes that stood open: at most 200, each once.
    open: Vec<Uuid>,
}

/// Episodes that a handover lists.
const OPEN_AT_MOST: usize = 200;

/// Confirms that whoever asks has read the handover.
#[utoipa::path(post, path = "/api/handover/readings", tag = "handover", request_body = HandoverReading, responses(
    (status = 204),
    (status = 404, body = Problem, description = "`missing`: the shift"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn confirm_handover(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(read): Body<HandoverReading>,
) -> Result<StatusCode, Problem> {
    if read.open.len() > OPEN_AT_MOST {
        return Err(WrongField::new("open", Allowed::Entries { least: 0, most: OPEN_AT_MOST }).into());
    }
    let at = Utc::now().trunc_subsecs(6);
    let shift_began = store::handover::begun(&app.pool, bounded(read.shift), at).await?;
    store::handover::confirm(&app.pool, shift_began, &read.open, (person.id, at)).await?;
    Ok(StatusCode::NO_CONTENT)
}
