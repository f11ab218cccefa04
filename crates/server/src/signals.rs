//! Signals, their answers and reviews.

use axum::extract::State;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use quality::signal::{Answer, Decision, SignalState};
use serde::Deserialize;
use store::causes::Cause;
use store::people::Person;
use store::signals::{SignalFilter, SignalView, WaitingSignals};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::app::App;
use crate::json::{Body, Path, Query, bounded};
use crate::problem::Problem;

/// More signals than this are not sent at once; ask for those before the last one.
const SIGNALS_AT_MOST: i64 = 500;

/// Which signals.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Which {
    /// Only in this state.
    state: Option<SignalState>,
    /// Only of this characteristic.
    characteristic: Option<Uuid>,
    /// Only raised before this time.
    before: Option<DateTime<Utc>>,
}

/// Signals, the latest first, at most 500.
#[utoipa::path(get, path = "/api/signals", tag = "signals", params(Which),
    responses((status = 200, body = [SignalView])))]
pub async fn signals(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(which): Query<Which>,
) -> Result<Json<Vec<SignalView>>, Problem> {
    let filter = SignalFilter {
        viewer: person.id,
        state: which.state,
        characteristic: which.characteristic,
        id: None,
        before: which.before.map(bounded),
    };
    Ok(Json(store::signals::list(&app.pool, filter, SIGNALS_AT_MOST).await?))
}

/// One signal.
#[utoipa::path(get, path = "/api/signals/{id}", tag = "signals", params(("id" = Uuid, Path)),
    responses((status = 200, body = SignalView), (status = 404, body = Problem, description = "`missing`")))]
pub async fn signal(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
) -> Result<Json<SignalView>, Problem> {
    Ok(Json(store::signals::find(&app.pool, person.id, id).await?))
}

/// How many signals wait for an answer, by characteristic; those without any are left out.
#[utoipa::path(get, path = "/api/signals/waiting", tag = "signals",
    responses((status = 200, body = [WaitingSignals])))]
pub async fn waiting(State(app): State<App>) -> Result<Json<Vec<WaitingSignals>>, Problem> {
    Ok(Json(store::signals::waiting(&app.pool).await?))
}

/// What a person says about a signal.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewAnswer {
    /// The version of the signal that was seen.
    version: i32,
    /// Entry of the catalogue of causes.
    cause: Option<Uuid>,
    /// The cause in words, where the catalogue has none.
    cause_text: Option<String>,
    /// Looked, nothing found.
    #[serde(default)]
    nothing_found: bool,
    /// What was done.
    action: String,
}

/// Answers an open signal.
#[utoipa::path(post, path = "/api/signals/{id}/answers", tag = "signals", params(("id" = Uuid, Path)),
    request_body = NewAnswer, responses(
    (status = 200, body = SignalView),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: somebody acted first"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn answer(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(new): Body<NewAnswer>,
) -> Result<Json<SignalView>, Problem> {
    let answer =
        Answer { cause: new.cause, cause_text: new.cause_text, nothing_found: new.nothing_found, action: new.action };
    store::signals::answer(&app.pool, id, new.version, person.id, Utc::now(), answer).await?;
    Ok(Json(store::signals::find(&app.pool, person.id, id).await?))
}

/// A supervisor's decision.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewReview {
    /// The version of the signal that was seen.
    version: i32,
    /// What is decided.
    decision: Decision,
    /// Reason to overrule, or question to send back.
    remark: Option<String>,
}

/// Reviews an answered signal.
#[utoipa::path(post, path = "/api/signals/{id}/reviews", tag = "signals", params(("id" = Uuid, Path)),
    request_body = NewReview, responses(
    (status = 200, body = SignalView),
    (status = 403, body = Problem, description = "`not_allowed`; `own_answer`"),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: somebody acted first"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn review(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(new): Body<NewReview>,
) -> Result<Json<SignalView>, Problem> {
    let remark = new.remark.as_deref();
    store::signals::review(&app.pool, id, new.version, person.id, Utc::now(), new.decision, remark).await?;
    Ok(Json(store::signals::find(&app.pool, person.id, id).await?))
}

/// What causes are asked for.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct For {
    /// Those that fit this characteristic, what was named most often in its area first.
    characteristic: Option<Uuid>,
}

/// The catalogue of causes.
#[utoipa::path(get, path = "/api/causes", tag = "signals", params(For),
    responses((status = 200, body = [Cause])))]
pub async fn causes(State(app): State<App>, Query(asked): Query<For>) -> Result<Json<Vec<Cause>>, Problem> {
    Ok(Json(store::causes::list(&app.pool, asked.characteristic).await?))
}
