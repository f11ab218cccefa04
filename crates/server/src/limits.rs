//! The life of limits.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::Utc;
use serde::Deserialize;
use store::limits::{LimitsChange, LimitsChanged, LimitsView, WhichPath};
use store::look::ToLookAt;
use store::people::Person;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::app::App;
use crate::failure::Failure;
use crate::json::{Body, Path, Query};
use crate::problem::Problem;

/// Which path of limits.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Which {
    /// The phase; the latest when left out.
    phase: Option<Uuid>,
    /// First sample that limits are taken from; the first of the phase when left out.
    first: Option<Uuid>,
    /// Last sample that limits are taken from; the last of the phase when left out.
    last: Option<Uuid>,
}

/// The limits of a characteristic: its phases, and the path from trial limits to revised ones of one of them.
#[utoipa::path(get, path = "/api/characteristics/{id}/limits", tag = "limits", params(("id" = Uuid, Path), Which),
    responses((status = 200, body = LimitsView), (status = 404, body = Problem, description = "`missing`")))]
pub async fn limits(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(which): Query<Which>,
) -> Result<Json<LimitsView>, Problem> {
    let which = WhichPath { phase: which.phase, first: which.first, last: which.last };
    Ok(Json(store::limits::view(&app.pool, id, which).await?))
}

/// Limits in force that are to be looked at, since the points that came after them say otherwise or the date that was
/// set has come; the least likely first.
#[utoipa::path(get, path = "/api/limits/to-look-at", tag = "limits",
    responses((status = 200, body = [ToLookAt]), (status = 403, body = Problem, description = "`not_allowed`")))]
pub async fn to_look_at(State(app): State<App>) -> Result<Json<Vec<ToLookAt>>, Problem> {
    Ok(Json(store::look::to_look_at(&app.pool, None, Utc::now().date_naive()).await?))
}

/// A change of limits, or of what they rest on.
#[derive(Deserialize, ToSchema)]
pub struct NewChange {
    /// The version of the limits that was seen.
    version: i32,
    /// What is done.
    #[serde(flatten)]
    change: LimitsChange,
}

/// Changes limits: points set aside or taken back and restarts by a supervisor or an engineer, everything else by an
/// engineer. Points that are judged by something else now are judged again; more than a thousand of them in the
/// background, and the change is made when that is done.
#[utoipa::path(post, path = "/api/characteristics/{id}/limits/changes", tag = "limits", params(("id" = Uuid, Path)),
    request_body = NewChange, responses(
    (status = 200, body = LimitsChanged),
    (status = 202, body = LimitsChanged, description = "points are judged again in the background first"),
    (status = 403, body = Problem, description = "`not_allowed`"),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: somebody acted first; `judging_again`; `too_few_points`; \
        `not_on_trial`; `not_in_force`; `nothing_left`; `said_already`; `not_said`; `nothing_measured`; `phase_there`; \
        `first_phase`; `empty_phase`"),
    (status = 422, body = Problem, description = "`field_refused`; `reason_needed`")))]
pub async fn change_limits(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(new): Body<NewChange>,
) -> Result<(StatusCode, Json<LimitsChanged>), Problem> {
    if !person.role.may(new.change.act().needs()) {
        return Err(Failure::NotAllowed { role: person.role }.into());
    }
    let changed = store::limits::change(&app.pool, id, new.version, &new.change, (person.id, Utc::now())).await?;
    let status = if changed.judging > 0 { StatusCode::ACCEPTED } else { StatusCode::OK };
    Ok((status, Json(changed)))
}
