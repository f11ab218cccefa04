//! Episodes of signals, their answers and reviews.

use axum::extract::State;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use quality::episode::{Answer, Decision};
use quality::field::{Allowed, WrongField};
use quality::signal::SignalState;
use serde::{Deserialize, Serialize};
use store::causes::Cause;
use store::episodes::{EpisodeFilter, EpisodeRow, EpisodeView, Explained, WaitingEpisodes};
use store::people::Person;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::app::App;
use crate::failure::Failure;
use crate::json::{Body, Path, Query, bounded};
use crate::problem::Problem;

/// More episodes than this are not sent at once; ask for those behind the last one.
const EPISODES_AT_MOST: i64 = 200;

/// Which episodes.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Which {
    /// Only in this state.
    state: Option<SignalState>,
    /// Only those that ask a technician: open, or sent back.
    #[serde(default)]
    waiting: bool,
    /// Only of this characteristic.
    characteristic: Option<Uuid>,
    /// Only of this station.
    station: Option<Uuid>,
    /// Only those behind one in the list: when that was raised.
    raised_before: Option<DateTime<Utc>>,
    /// And its id, among those raised at one time.
    behind: Option<Uuid>,
}

/// Episodes, the latest raised first, at most 200.
#[utoipa::path(get, path = "/api/episodes", tag = "episodes", params(Which),
    responses((status = 200, body = [EpisodeRow])))]
pub async fn episodes(State(app): State<App>, Query(which): Query<Which>) -> Result<Json<Vec<EpisodeRow>>, Problem> {
    let filter = EpisodeFilter {
        states: match which.waiting {
            true => vec![SignalState::SentBack, SignalState::Open],
            false => which.state.into_iter().collect(),
        },
        characteristic: which.characteristic,
        station: which.station,
        behind: which.raised_before.map(|at| (bounded(at), which.behind.unwrap_or_default())),
    };
    Ok(Json(store::episodes::list(&app.pool, &filter, EPISODES_AT_MOST).await?))
}

/// One episode; where it was joined to another, that one.
#[utoipa::path(get, path = "/api/episodes/{id}", tag = "episodes", params(("id" = Uuid, Path)),
    responses((status = 200, body = EpisodeView), (status = 404, body = Problem, description = "`missing`")))]
pub async fn episode(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
) -> Result<Json<EpisodeView>, Problem> {
    Ok(Json(store::episodes::find(&app.pool, person.id, id).await?))
}

/// What may explain an episode: what differs inside it, what happened near it, how its like were answered, and what was
/// made meanwhile.
#[utoipa::path(get, path = "/api/episodes/{id}/explained", tag = "episodes", params(("id" = Uuid, Path)),
    responses((status = 200, body = Explained), (status = 404, body = Problem, description = "`missing`")))]
pub async fn explained(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Json<Explained>, Problem> {
    Ok(Json(store::episodes::explain(&app.pool, id).await?))
}

/// How many episodes wait for an answer, by characteristic; those without any are left out.
#[utoipa::path(get, path = "/api/episodes/waiting", tag = "episodes",
    responses((status = 200, body = [WaitingEpisodes])))]
pub async fn waiting(State(app): State<App>) -> Result<Json<Vec<WaitingEpisodes>>, Problem> {
    Ok(Json(store::episodes::waiting(&app.pool).await?))
}

/// What a person says about an episode.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewAnswer {
    /// The version of the episode that was seen.
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
    /// What else there is to say.
    comment: Option<String>,
    /// Steps of the reaction plan that were done.
    #[serde(default)]
    steps: Vec<String>,
    /// Whether what was made since the last clean sample was held.
    held: Option<bool>,
}

/// Answers an episode: those of its signals that wait for an answer.
#[utoipa::path(post, path = "/api/episodes/{id}/answers", tag = "episodes", params(("id" = Uuid, Path)),
    request_body = NewAnswer, responses(
    (status = 200, body = EpisodeView),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: somebody acted first"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn answer(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(new): Body<NewAnswer>,
) -> Result<Json<EpisodeView>, Problem> {
    let NewAnswer { version, cause, cause_text, nothing_found, action, comment, steps, held } = new;
    let answer = Answer { cause, cause_text, nothing_found, action, comment, steps, held };
    let id = store::episodes::answer(&app.pool, id, version, person.id, Utc::now(), answer).await?;
    Ok(Json(store::episodes::find(&app.pool, person.id, id).await?))
}

/// A supervisor's decision.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewReview {
    /// The version of the episode that was seen.
    version: i32,
    /// What is decided.
    decision: Decision,
    /// Reason to overrule, or question to send back.
    remark: Option<String>,
}

/// Reviews an episode.
#[utoipa::path(post, path = "/api/episodes/{id}/reviews", tag = "episodes", params(("id" = Uuid, Path)),
    request_body = NewReview, responses(
    (status = 200, body = EpisodeView),
    (status = 403, body = Problem, description = "`not_allowed`; `own_part`"),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: somebody acted first"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn review(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(new): Body<NewReview>,
) -> Result<Json<EpisodeView>, Problem> {
    let NewReview { version, decision, remark } = new;
    let review = store::episodes::NewReview { person: person.id, at: Utc::now(), decision, remark };
    let id = store::episodes::review(&app.pool, id, version, &review).await?;
    Ok(Json(store::episodes::find(&app.pool, person.id, id).await?))
}

/// Episodes that are decided on at once, at most 500.
const REVIEWED_AT_ONCE: usize = 500;

/// One decision on many episodes.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewReviews {
    /// 1 to 500 of them.
    episodes: Vec<Seen>,
    /// What is decided.
    decision: Decision,
    /// Reason to overrule, or question to send back.
    remark: Option<String>,
}

/// An episode as it was seen.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Seen {
    id: Uuid,
    /// The version that was seen.
    version: i32,
}

/// What became of a decision on many.
#[derive(Serialize, ToSchema)]
pub struct Reviewed {
    /// How many it was kept for.
    kept: usize,
    /// Those that it was not kept for, and why.
    refused: Vec<RefusedReview>,
}

/// An episode that a decision was not kept for.
#[derive(Serialize, ToSchema)]
pub struct RefusedReview {
    id: Uuid,
    /// Why.
    why: Failure,
}

/// Reviews many episodes at once; those that refuse it are left as they are, and named.
#[utoipa::path(post, path = "/api/episodes/reviews", tag = "episodes", request_body = NewReviews, responses(
    (status = 200, body = Reviewed),
    (status = 403, body = Problem, description = "`not_allowed`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn review_many(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(new): Body<NewReviews>,
) -> Result<Json<Reviewed>, Problem> {
    let NewReviews { episodes, decision, remark } = new;
    if !(1..=REVIEWED_AT_ONCE).contains(&episodes.len()) {
        let allowed = Allowed::Whole { least: 1, most: REVIEWED_AT_ONCE as u32 };
        return Err(Failure::from(WrongField::new("episodes", allowed)).into());
    }
    let mut seen: Vec<(Uuid, i32)> = episodes.iter().map(|seen| (seen.id, seen.version)).collect();
    // One that is named twice is decided on once.
    seen.sort_unstable();
    seen.dedup_by_key(|(id, _)| *id);
    let review = store::episodes::NewReview { person: person.id, at: Utc::now(), decision, remark };
    let refused = store::episodes::review_many(&app.pool, &seen, &review).await?;
    let refused: Vec<RefusedReview> =
        refused.into_iter().map(|(id, why)| RefusedReview { id, why: Failure::from(why) }).collect();
    Ok(Json(Reviewed { kept: seen.len().saturating_sub(refused.len()), refused }))
}

/// What causes are asked for.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct For {
    /// Those that fit this characteristic, what was named most often in its area first.
    characteristic: Option<Uuid>,
}

/// The catalogue of causes.
#[utoipa::path(get, path = "/api/causes", tag = "episodes", params(For),
    responses((status = 200, body = [Cause])))]
pub async fn causes(State(app): State<App>, Query(asked): Query<For>) -> Result<Json<Vec<Cause>>, Problem> {
    Ok(Json(store::causes::list(&app.pool, asked.characteristic).await?))
}
