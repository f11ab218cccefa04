//! The laboratory: analytes, runs as they are typed, saved, released or overridden.

use std::collections::BTreeMap;

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use quality::analyte::{Assigned, CONTROL_LOT, NewAnalyte, REAGENT_LOT};
use quality::entry::{Origin, RefusedResult, Typed, TypedFirst, accept_results, accept_time, read_so_far};
use quality::field::{Allowed, WrongField};
use quality::object::ObjectKind;
use quality::run::Outcome;
use quality::sample::Content;
use serde::{Deserialize, Serialize};
use store::bench::AnalyteJudgement;
use store::characteristics::{self, CharacteristicView};
use store::lab::{Bench, LevelFigures, NewResult, NewRun, NewRunAction, RunFilter, RunView};
use store::people::Person;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::app::App;
use crate::created::Created;
use crate::json::{Body, Path, Query, bounded};
use crate::problem::Problem;

/// Every bench with its analytes and latest runs.
#[utoipa::path(get, path = "/api/lab", tag = "laboratory", responses((status = 200, body = [Bench])))]
pub async fn benches(
    State(app): State<App>,
    Extension(person): Extension<Person>,
) -> Result<Json<Vec<Bench>>, Problem> {
    Ok(Json(store::lab::benches(&app.pool, person.id).await?))
}

/// A run.
#[utoipa::path(get, path = "/api/runs/{id}", tag = "laboratory", params(("id" = Uuid, Path)), responses(
    (status = 200, body = RunView), (status = 404, body = Problem, description = "`missing`")))]
pub async fn run(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
) -> Result<Json<RunView>, Problem> {
    Ok(Json(store::lab::find(&app.pool, person.id, id).await?))
}

/// Figures of a bench, per level and reagent lot.
#[utoipa::path(get, path = "/api/stations/{id}/lab-figures", tag = "laboratory", params(("id" = Uuid, Path)),
    responses((status = 200, body = [LevelFigures])))]
pub async fn lab_figures(
    State(app): State<App>,
    Path(station): Path<Uuid>,
) -> Result<Json<Vec<LevelFigures>>, Problem> {
    Ok(Json(store::lab::figures(&app.pool, station).await?))
}

/// Which runs.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct WhichRuns {
    /// Only of this bench.
    station: Option<Uuid>,
    /// Only those that were marked as reviewed, or only those that wait for it.
    reviewed: Option<bool>,
    /// Only those behind one in the list: when it was measured.
    behind_taken: Option<DateTime<Utc>>,
    /// Its number.
    behind_number: Option<i64>,
    /// Its id.
    behind: Option<Uuid>,
}

/// More runs than this are not sent at once; ask for those behind the last one.
const RUNS_AT_MOST: i64 = 50;

/// Runs, newest first, at most 50.
#[utoipa::path(get, path = "/api/runs", tag = "laboratory", params(WhichRuns),
    responses((status = 200, body = [RunView])))]
pub async fn runs(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(which): Query<WhichRuns>,
) -> Result<Json<Vec<RunView>>, Problem> {
    let behind = which.behind_taken.map(bounded).zip(which.behind_number).zip(which.behind);
    let filter = RunFilter {
        station: which.station,
        reviewed: which.reviewed,
        behind: behind.map(|((at, number), id)| (at, number, id)),
        id: None,
    };
    Ok(Json(store::lab::list(&app.pool, person.id, filter, RUNS_AT_MOST).await?))
}

/// A run as it was seen.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RunReview {
    /// A run that has changed since is not reviewed.
    version: i32,
    /// What there is to say, 1 to 2000 characters.
    remark: Option<String>,
}

/// Marks a run as reviewed, so that it leaves the queue until it changes.
#[utoipa::path(post, path = "/api/runs/{id}/reviews", tag = "laboratory", params(("id" = Uuid, Path)),
    request_body = RunReview, responses(
    (status = 200, body = RunView), (status = 404, body = Problem, description = "`missing`"),
    (status = 403, body = Problem, description = "`own_run`"),
    (status = 409, body = Problem, description = "`changed`; `run_not_settled`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn review_run(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(review): Body<RunReview>,
) -> Result<Json<RunView>, Problem> {
    let by = (person.id, Utc::now());
    Ok(Json(store::lab::review(&app.pool, id, review.version, review.remark.as_deref(), by).await?))
}

/// What was done about a result, or about a run.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RunAction {
    /// The level it is about; the whole run when left out.
    characteristic: Option<Uuid>,
    /// 1 to 2000 characters.
    text: String,
    /// Made by the device; sending it twice keeps one.
    entry: Uuid,
}

/// Writes down what was done about a result, or about the whole run.
#[utoipa::path(post, path = "/api/runs/{id}/actions", tag = "laboratory", params(("id" = Uuid, Path)),
    request_body = RunAction, responses(
    (status = 200, body = RunView), (status = 404, body = Problem, description = "`missing`: the run, or the level in it"),
    (status = 409, body = Problem, description = "`entry_reused`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn act_on_run(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(given): Body<RunAction>,
) -> Result<Json<RunView>, Problem> {
    let RunAction { characteristic, text, entry } = given;
    let new = NewRunAction { characteristic, text, entry };
    Ok(Json(store::lab::act_on(&app.pool, id, &new, (person.id, Utc::now())).await?))
}

/// A result as it is typed.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TypedResult {
    /// The level's characteristic.
    characteristic: Uuid,
    /// With decimal point or comma.
    result: String,
    /// Lot of the reagent.
    reagent_lot: Option<String>,
    /// Lot of the control material.
    control_lot: Option<String>,
    /// As it was typed first, where it was changed when somebody asked whether it is right.
    typed_first: Option<String>,
}

impl TypedResult {
    fn typed(&self) -> Typed {
        let lots = [(REAGENT_LOT, &self.reagent_lot), (CONTROL_LOT, &self.control_lot)];
        let tags = lots.into_iter().filter_map(|(name, lot)| Some((name.to_owned(), lot.clone()?))).collect();
        let first = self.typed_first.clone().map(|given| TypedFirst { piece: 1, given });
        Typed {
            readings: vec![self.result.clone()],
            tags,
            typed_first: first.into_iter().collect(),
            ..Typed::default()
        }
    }
}

/// Results typed so far.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RunSoFar {
    /// Those that are typed; blanks are looked past.
    results: Vec<TypedResult>,
}

/// What results typed so far would be judged.
#[derive(Serialize, ToSchema)]
pub struct RunPreview {
    /// Of all analytes, the worst.
    outcome: Outcome,
    /// By analyte.
    judgements: Vec<AnalyteJudgement>,
    /// Results that are refused, by characteristic.
    refused: Vec<RefusedResult>,
}

/// Most results of one run.
const RESULTS_AT_MOST: usize = 200;

/// The set-ups of a station's levels that results name.
async fn levels(app: &App, station: Uuid, results: &[TypedResult]) -> Result<Vec<CharacteristicView>, Problem> {
    if results.len() > RESULTS_AT_MOST {
        return Err(WrongField::new("results", Allowed::Entries { least: 0, most: RESULTS_AT_MOST }).into());
    }
    let known = store::bench::levels_of(&app.pool, station).await?;
    let mut setups = Vec::with_capacity(results.len());
    for result in results {
        if !known.contains(&result.characteristic) {
            return Err(store::StoreError::Missing(ObjectKind::Level).into());
        }
        setups.push(characteristics::find(&app.pool, result.characteristic).await?);
    }
    Ok(setups)
}

/// Judges results as they are typed. Nothing is stored.
#[utoipa::path(post, path = "/api/stations/{id}/runs/preview", tag = "laboratory", params(("id" = Uuid, Path)),
    request_body = RunSoFar, responses(
    (status = 200, body = RunPreview), (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn preview_run(
    State(app): State<App>,
    Path(station): Path<Uuid>,
    Body(so_far): Body<RunSoFar>,
) -> Result<Json<RunPreview>, Problem> {
    let setups = levels(&app, station, &so_far.results).await?;
    let (mut values, mut refused) = (BTreeMap::new(), Vec::new());
    for (result, setup) in so_far.results.iter().zip(&setups) {
        match read_so_far(&setup.characteristic, &result.typed()) {
            Ok(Some(Content::Readings(readings))) => {
                values.extend(readings.values.first().copied().flatten().map(|x| (result.characteristic, x)));
            }
            Ok(_) => {}
            Err(refusals) => refused.push(RefusedResult { characteristic: result.characteristic, refusals }),
        }
    }
    let judgements = store::bench::foresee(&app.pool, station, Utc::now(), &values).await?;
    let outcome = judgements.iter().map(|judged| judged.outcome).max().unwrap_or_default();
    Ok(Json(RunPreview { outcome, judgements, refused }))
}

/// A run to save.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RunEntry {
    /// The device it was entered on.
    device: Uuid,
    /// Made by the device; sending it twice saves one run.
    entry: Uuid,
    /// When it was measured; now when left out.
    taken_at: Option<DateTime<Utc>>,
    /// The run that it repeats.
    repeats: Option<Uuid>,
    /// One for each level measured.
    results: Vec<TypedResult>,
    /// Offers of a device that it confirms.
    #[serde(default)]
    offers: Vec<Uuid>,
    /// Results outside the soft bounds were confirmed.
    #[serde(default)]
    confirmed: bool,
}

/// Saves a run and judges it. Sent again with the same entry id it answers 200 and stores nothing.
#[utoipa::path(post, path = "/api/stations/{id}/runs", tag = "laboratory", params(("id" = Uuid, Path)),
    request_body = RunEntry, responses(
    (status = 201, body = RunView), (status = 200, body = RunView, description = "saved before"),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`entry_reused`; `run_results`; `run_released`; `run_repeated`"),
    (status = 422, body = Problem, description = "`results_refused`; `confirm_results`; `from_the_future`")))]
pub async fn save_run(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(station): Path<Uuid>,
    Body(entry): Body<RunEntry>,
) -> Result<(StatusCode, Json<RunView>), Problem> {
    let (now, origin) = (Utc::now(), Origin::Hand { confirmed: entry.confirmed });
    let taken_at = accept_time(entry.taken_at, now, origin)?;
    let setups = levels(&app, station, &entry.results).await?;
    let mut typed = Vec::new();
    for (result, setup) in entry.results.iter().zip(&setups) {
        let usual = store::samples::usual(&app.pool, setup).await?;
        typed.push((result.characteristic, &setup.characteristic, usual, result.typed()));
    }
    let accepted = accept_results(typed, origin)?;
    let results =
        accepted.into_iter().map(|(characteristic, accepted)| NewResult { characteristic, accepted }).collect();
    let RunEntry { device, entry, repeats, offers, .. } = entry;
    let new = NewRun { station, device, entry, taken_at, arrived_at: now, person: person.id, repeats, results, offers };
    let (saved, again) = store::lab::save(&app.pool, &new).await?;
    Ok((if again { StatusCode::OK } else { StatusCode::CREATED }, Json(saved)))
}

/// The version of a run that was seen.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Release {
    /// Releasing what has changed since is refused.
    version: i32,
}

/// Releases a run.
#[utoipa::path(post, path = "/api/runs/{id}/release", tag = "laboratory", params(("id" = Uuid, Path)),
    request_body = Release, responses(
    (status = 200, body = RunView), (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`run_rejected`; `run_released`; `run_repeated`; `changed`")))]
pub async fn release_run(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(release): Body<Release>,
) -> Result<Json<RunView>, Problem> {
    Ok(Json(store::lab::release(&app.pool, id, release.version, person.id, Utc::now()).await?))
}

/// Why a rejection does not stand.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Override {
    /// The version that was seen.
    version: i32,
    /// The reason, 1 to 2000 characters.
    because: String,
}

/// Overrides the rejection of a run; the verdict and the reason both stay on record.
#[utoipa::path(post, path = "/api/runs/{id}/override", tag = "laboratory", params(("id" = Uuid, Path)),
    request_body = Override, responses(
    (status = 200, body = RunView), (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`run_not_rejected`; `run_released`; `run_repeated`; `changed`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn override_verdict(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(given): Body<Override>,
) -> Result<Json<RunView>, Problem> {
    let run = store::lab::override_verdict(&app.pool, id, given.version, person.id, Utc::now(), &given.because);
    Ok(Json(run.await?))
}

/// Sets up an analyte with its levels.
#[utoipa::path(post, path = "/api/plan/analytes", tag = "plan", request_body = NewAnalyte, responses(
    (status = 201, body = Created), (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`taken`"),
    (status = 422, body = Problem, description = "`field_refused`; `set_up_refused`")))]
pub async fn add_analyte(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(new): Body<NewAnalyte>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let id = store::lab::add_analyte(&app.pool, &new, person.id, Utc::now()).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// A control lot to begin.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewLot {
    /// Its name.
    lot: String,
}

/// Runs a new control lot beside a level: results of both are entered in the same runs, and the new ones are judged by
/// none until it takes over.
#[utoipa::path(post, path = "/api/plan/levels/{id}/lots", tag = "plan", params(("id" = Uuid, Path)),
    request_body = NewLot, responses(
    (status = 201, body = Created), (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`taken`: one runs beside it already, or the name is taken"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn begin_lot(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(new): Body<NewLot>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let id = store::lab::begin_lot(&app.pool, id, &new.lot, (person.id, Utc::now())).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// Lets a lot that ran beside a level take over, with the mean and sd of its own accepted results, 20 at least.
#[utoipa::path(post, path = "/api/plan/lots/{id}/take-over", tag = "plan", params(("id" = Uuid, Path)), responses(
    (status = 204), (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`too_few_points`")))]
pub async fn lot_takes_over(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
) -> Result<StatusCode, Problem> {
    store::lab::take_over(&app.pool, id, (person.id, Utc::now())).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Another mean and sd for a level.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Assignment {
    /// What they belong to, such as a control lot; the phase is named so.
    name: String,
    /// Mean and sd.
    assigned: Assigned,
}

/// Assigns mean and sd to a level from now on: a new phase starts.
#[utoipa::path(post, path = "/api/plan/levels/{id}/assigned", tag = "plan", params(("id" = Uuid, Path)),
    request_body = Assignment, responses(
    (status = 204), (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn assign(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(given): Body<Assignment>,
) -> Result<StatusCode, Problem> {
    store::lab::assign(&app.pool, id, given.assigned, &given.name, person.id, Utc::now()).await?;
    Ok(StatusCode::NO_CONTENT)
}
