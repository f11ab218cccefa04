//! What people say of episodes: answers, what is added to them, and reviews.

use axum::extract::State;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use quality::entry::{Origin, accept_time};
use quality::episode::{Addition, Answer, Decision};
use quality::field::{Allowed, WrongField};
use serde::{Deserialize, Serialize};
use store::answers::By;
use store::episodes::EpisodeView;
use store::people::Person;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::app::App;
use crate::failure::Failure;
use crate::json::{Body, Path};
use crate::problem::Problem;

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
    /// That cause in words is proposed for the catalogue.
    #[serde(default)]
    propose: bool,
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
    /// The process was corrected: rules start afresh with the next sample.
    #[serde(default)]
    corrected: bool,
    /// Photos and documents, sent before: 5 at most.
    #[serde(default)]
    files: Vec<Uuid>,
    /// Made by the device; answering twice keeps one answer.
    entry: Option<Uuid>,
    /// When it was given; now when left out.
    at: Option<DateTime<Utc>>,
}

/// Answers an episode: those of its signals that wait for an answer.
#[utoipa::path(post, path = "/api/episodes/{id}/answers", tag = "episodes", params(("id" = Uuid, Path)),
    request_body = NewAnswer, responses(
    (status = 200, body = EpisodeView),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: somebody acted first; `entry_reused`"),
    (status = 422, body = Problem, description = "`field_refused`; `from_the_future`; `too_early`")))]
pub async fn answer(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(new): Body<NewAnswer>,
) -> Result<Json<EpisodeView>, Problem> {
    let NewAnswer {
        version,
        cause,
        cause_text,
        propose,
        nothing_found,
        action,
        comment,
        steps,
        held,
        corrected,
        files,
        entry,
        at,
    } = new;
    let answer = Answer { cause, cause_text, propose, nothing_found, action, comment, steps, held, corrected, files };
    let by = said_by(person.id, at, entry)?;
    let id = store::answers::answer(&app.pool, id, version, by, answer).await?;
    Ok(Json(store::episodes::find(&app.pool, person.id, id).await?))
}

/// Who says something, and when: what had to wait on a device keeps its own time.
fn said_by(person: Uuid, at: Option<DateTime<Utc>>, entry: Option<Uuid>) -> Result<By, Problem> {
    let now = Utc::now();
    let at = accept_time(at, now, Origin::Hand { confirmed: true })?;
    Ok(By { person, at, arrived_at: now, entry })
}

/// What is added to an answer.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewAddition {
    /// The answer.
    answer: Uuid,
    /// What there is to add.
    comment: String,
    /// Photos and documents, sent before: 5 at most.
    #[serde(default)]
    files: Vec<Uuid>,
    /// Made by the device; adding twice keeps one.
    entry: Option<Uuid>,
    /// When it was said; now when left out.
    at: Option<DateTime<Utc>>,
}

/// Adds to an answer of an episode; what was answered stays as it is.
#[utoipa::path(post, path = "/api/episodes/{id}/additions", tag = "episodes", params(("id" = Uuid, Path)),
    request_body = NewAddition, responses(
    (status = 200, body = EpisodeView),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`entry_reused`"),
    (status = 422, body = Problem, description = "`field_refused`; `from_the_future`; `too_early`")))]
pub async fn add_to(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(new): Body<NewAddition>,
) -> Result<Json<EpisodeView>, Problem> {
    let NewAddition { answer, comment, files, entry, at } = new;
    let by = said_by(person.id, at, entry)?;
    let id = store::answers::add_to(&app.pool, id, answer, by, Addition { comment, files }).await?;
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
    let review = store::answers::NewReview { person: person.id, at: Utc::now(), decision, remark };
    let id = store::answers::review(&app.pool, id, version, &review).await?;
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
    let review = store::answers::NewReview { person: person.id, at: Utc::now(), decision, remark };
    let refused = store::answers::review_many(&app.pool, &seen, &review).await?;
    let refused: Vec<RefusedReview> =
        refused.into_iter().map(|(id, why)| RefusedReview { id, why: Failure::from(why) }).collect();
    Ok(Json(Reviewed { kept: seen.len().saturating_sub(refused.len()), refused }))
}
