//! Studies: questions answered at once, kept with their answers, frozen and signed.

use std::collections::BTreeMap;

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use axum_extra::extract::CookieJar;
use chrono::{SubsecRound, Utc};
use quality::object::ObjectKind;
use quality::study::{DataState, Question};
use serde::{Deserialize, Serialize};
use store::people::Person;
use store::places::stations_of;
use store::studies::{self as kept, Behind, BehindSample, NewStudy, StudyAnswer, StudyRow, StudyView};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::access::Origin;
use crate::app::App;
use crate::client::Client;
use crate::created::Created;
use crate::failure::Failure;
use crate::json::{Body, Path, Query};
use crate::problem::Problem;
use crate::signatures::SignedBy;

/// Which studies.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct StudyFilter {
    /// About this characteristic.
    characteristic: Option<Uuid>,
}

/// The latest studies, at most 500; for a reader those that are about nothing outside their areas.
#[utoipa::path(get, path = "/api/studies", tag = "studies", params(StudyFilter), responses(
    (status = 200, body = [StudyRow])))]
pub async fn studies(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(StudyFilter { characteristic }): Query<StudyFilter>,
) -> Result<Json<Vec<StudyRow>>, Problem> {
    Ok(Json(kept::list(&app.pool, person.sees_only(), characteristic).await?))
}

/// A study with its answer as it was found, and what has happened to the data since.
#[utoipa::path(get, path = "/api/studies/{id}", tag = "studies", params(("id" = Uuid, Path)), responses(
    (status = 200, body = StudyView), (status = 404, body = Problem, description = "`missing`")))]
pub async fn study(State(app): State<App>, Path(id): Path<Uuid>) -> Result<Json<StudyView>, Problem> {
    Ok(Json(kept::find(&app.pool, id).await?))
}

/// An answer that is not kept.
#[derive(Serialize, ToSchema)]
pub struct Answered {
    /// What was found.
    answer: StudyAnswer,
    /// The data that it was found from.
    state: DataState,
}

/// Answers a question from the data as they are; nothing is kept.
#[utoipa::path(post, path = "/api/studies/answer", tag = "studies", request_body = Question, responses(
    (status = 200, body = Answered),
    (status = 404, body = Problem, description = "`missing`: a characteristic, a phase"),
    (status = 422, body = Problem, description = "`field_refused`; `study_refused`: there is no answer, and why"),
    (status = 429, body = Problem, description = "`busy`: too many analyses wait")))]
pub async fn answer_study(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(question): Body<Question>,
) -> Result<Json<Answered>, Problem> {
    in_sight(&app, &person, &question.characteristics()).await?;
    let _place = app.analyses.place()?;
    let _turn = app.analyses.turn().await?;
    let (answer, state) = kept::answer(&app.pool, &question, Utc::now()).await?;
    Ok(Json(Answered { answer, state }))
}

/// The samples behind a figure.
#[derive(Serialize, ToSchema)]
pub struct BehindFigure {
    /// How many there are.
    count: usize,
    /// The newest of them first, at most 200.
    samples: Vec<BehindSample>,
}

/// The samples behind a figure of a study, by the values that it is of.
#[utoipa::path(post, path = "/api/studies/behind", tag = "studies", request_body = Behind, responses(
    (status = 200, body = BehindFigure), (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`study_refused`")))]
pub async fn behind_figure(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(asked): Body<Behind>,
) -> Result<Json<BehindFigure>, Problem> {
    in_sight(&app, &person, &[asked.of.characteristic]).await?;
    let (count, samples) = kept::behind(&app.pool, &asked).await?;
    Ok(Json(BehindFigure { count, samples }))
}

/// The tags that the newest samples of a characteristic have, with their values.
#[utoipa::path(get, path = "/api/characteristics/{id}/tags", tag = "studies", params(("id" = Uuid, Path)), responses(
    (status = 200, body = BTreeMap<String, Vec<String>>)))]
pub async fn tags_of(
    State(app): State<App>,
    Path(id): Path<Uuid>,
) -> Result<Json<BTreeMap<String, Vec<String>>>, Problem> {
    Ok(Json(kept::tags(&app.pool, id).await?))
}

/// What somebody is kept from is not there for them.
async fn in_sight(app: &App, person: &Person, characteristics: &[Uuid]) -> Result<(), Problem> {
    let Some(stations) = person.sees_only() else { return Ok(()) };
    for characteristic in characteristics {
        let of = stations_of(&app.pool, ObjectKind::Characteristic, *characteristic).await?.unwrap_or_default();
        if of.is_empty() || of.iter().any(|station| !stations.contains(station)) {
            return Err(Failure::Missing { object: ObjectKind::Characteristic }.into());
        }
    }
    Ok(())
}

/// A study to keep.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StudyToKeep {
    /// What it is called.
    name: String,
    /// What it is for; 1 to 2000 characters.
    remark: Option<String>,
    question: Question,
}

/// Keeps a question with its answer, which is found for it.
#[utoipa::path(post, path = "/api/studies", tag = "studies", request_body = StudyToKeep, responses(
    (status = 201, body = Created), (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`field_refused`; `study_refused`")))]
pub async fn keep_study(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(StudyToKeep { name, remark, question }): Body<StudyToKeep>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let _place = app.analyses.place()?;
    let _turn = app.analyses.turn().await?;
    let new = NewStudy { name, remark, question };
    let id = kept::keep(&app.pool, &new, (person.id, Utc::now().trunc_subsecs(6))).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// A study as it shall be.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StudyChange {
    /// The version that was seen.
    version: i32,
    name: String,
    remark: Option<String>,
    question: Question,
}

/// Changes a study and finds its answer anew; with nothing else changed it is refreshed.
#[utoipa::path(put, path = "/api/studies/{id}", tag = "studies", params(("id" = Uuid, Path)),
    request_body = StudyChange, responses(
    (status = 204), (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: it was changed since that version"),
    (status = 422, body = Problem, description = "`field_refused`; `study_refused`: also, that it is frozen")))]
pub async fn change_study(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(StudyChange { version, name, remark, question }): Body<StudyChange>,
) -> Result<StatusCode, Problem> {
    let _place = app.analyses.place()?;
    let _turn = app.analyses.turn().await?;
    let new = NewStudy { name, remark, question };
    kept::change(&app.pool, id, version, &new, (person.id, Utc::now().trunc_subsecs(6))).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// A study to freeze.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StudyToFreeze {
    /// The version that was seen.
    version: i32,
}

/// Makes a copy that stays as it is, with the answer that was seen.
#[utoipa::path(post, path = "/api/studies/{id}/freeze", tag = "studies", params(("id" = Uuid, Path)),
    request_body = StudyToFreeze, responses(
    (status = 201, body = Created), (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`"),
    (status = 422, body = Problem, description = "`study_refused`: it is frozen itself")))]
pub async fn freeze_study(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(StudyToFreeze { version }): Body<StudyToFreeze>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let id = kept::freeze(&app.pool, id, version, (person.id, Utc::now().trunc_subsecs(6))).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// A frozen study to sign.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StudyToSign {
    /// To be sure who signs.
    by: SignedBy,
    /// Of the answer that was seen.
    digest: String,
}

/// Signs a frozen study, exactly the answer that was seen.
#[utoipa::path(post, path = "/api/studies/{id}/sign", tag = "studies", params(("id" = Uuid, Path)),
    request_body = StudyToSign, responses(
    (status = 204),
    (status = 401, body = Problem, description = "`wrong_sign_in`; `wrong_pin`; `pin_blocked`; `unknown_here`"),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`: another answer was seen"),
    (status = 422, body = Problem, description = "`study_refused`: it is not frozen, or signed by them already"),
    (status = 429, body = Problem, description = "`too_many_tries`")))]
pub async fn sign_study(
    State(app): State<App>,
    Client(address): Client,
    Extension(person): Extension<Person>,
    jar: CookieJar,
    Path(id): Path<Uuid>,
    Body(StudyToSign { by, digest }): Body<StudyToSign>,
) -> Result<StatusCode, Problem> {
    by.check(&app, &person, &Origin::of(address, &jar)).await?;
    kept::sign(&app.pool, id, &digest, &person, Utc::now().trunc_subsecs(6)).await?;
    Ok(StatusCode::NO_CONTENT)
}
