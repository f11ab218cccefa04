//! Peer groups of the laboratory: set up, what was given to them, and how own results compare.

use axum::extract::State;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::{Extension, Json};
use chrono::{DateTime, SubsecRound, Utc};
use formats::file_name;
use formats::table::{Cell, Table};
use quality::field::{Allowed, WrongField};
use quality::peer::given::{ResultsGiven, TakenResult};
use quality::peer::group::PeerGroup;
use quality::peer::statistic::{GroupStatistics, PeerStatistic};
use serde::{Deserialize, Serialize};
use store::peers::{self as kept, GivenFilter, GivenView, LevelBeside, PeerGroupView, TakenIn};
use store::people::Person;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::app::App;
use crate::created::Created;
use crate::failure::Failure;
use crate::handed_out;
use crate::json::{Body, Path, Query, bounded};
use crate::problem::Problem;

/// Peer groups, and how what is given to them fares.
#[utoipa::path(get, path = "/api/peers", tag = "laboratory", responses((status = 200, body = [PeerGroupView])))]
pub async fn peer_groups(State(app): State<App>) -> Result<Json<Vec<PeerGroupView>>, Problem> {
    Ok(Json(kept::list(&app.pool).await?))
}

/// A peer group as it shall be.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PeerGroupToKeep {
    /// The version that was seen; nothing for a new one.
    #[serde(default)]
    version: i32,
    group: PeerGroup,
    /// What this laboratory is known by there, 1 to 500 visible characters; the one before where none is given.
    token: Option<String>,
}

/// Sets up a peer group; what was reviewed since it takes part is given at once.
#[utoipa::path(post, path = "/api/peers", tag = "laboratory", request_body = PeerGroupToKeep, responses(
    (status = 201, body = Created), (status = 404, body = Problem, description = "`missing`: a level"),
    (status = 409, body = Problem, description = "`taken`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn set_up_peer_group(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(PeerGroupToKeep { group, token, .. }): Body<PeerGroupToKeep>,
) -> Result<(StatusCode, Json<Created>), Problem> {
    let id = kept::set_up(&app.pool, within(group), token.as_deref(), (person.id, Utc::now())).await?;
    Ok((StatusCode::CREATED, Json(Created { id })))
}

/// Changes a peer group; one that is not active is given nothing more.
#[utoipa::path(put, path = "/api/peers/{id}", tag = "laboratory", params(("id" = Uuid, Path)),
    request_body = PeerGroupToKeep, responses(
    (status = 204), (status = 404, body = Problem, description = "`missing`: the group, a level"),
    (status = 409, body = Problem, description = "`changed`; `taken`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn change_peer_group(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(PeerGroupToKeep { version, group, token }): Body<PeerGroupToKeep>,
) -> Result<StatusCode, Problem> {
    kept::change(&app.pool, id, version, (within(group), token.as_deref()), (person.id, Utc::now())).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// A group whose time the database can hold.
fn within(group: PeerGroup) -> PeerGroup {
    PeerGroup { since: bounded(group.since), ..group }
}

/// How far back.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct HowLong {
    /// Months before this one, at most 120; 11 when left out.
    months: Option<u32>,
}

/// Months before this one at most.
const MONTHS_AT_MOST: u32 = 120;

/// Own results beside the group's, level by level and month by month.
#[utoipa::path(get, path = "/api/peers/{id}/comparison", tag = "laboratory", params(("id" = Uuid, Path), HowLong),
    responses((status = 200, body = [LevelBeside]), (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn peer_comparison(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(HowLong { months }): Query<HowLong>,
) -> Result<Json<Vec<LevelBeside>>, Problem> {
    let months = months.unwrap_or(11);
    if months > MONTHS_AT_MOST {
        return Err(WrongField::new("months", Allowed::Whole { least: 0, most: MONTHS_AT_MOST }).into());
    }
    Ok(Json(kept::comparison(&app.pool, id, months, Utc::now()).await?))
}

/// Which results.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct WhichGiven {
    /// Only of this level.
    characteristic: Option<Uuid>,
    /// Only those that are not with the group as they are now.
    #[serde(default)]
    unsettled: bool,
    /// Only those behind one in the list: when it was measured.
    behind_taken: Option<DateTime<Utc>>,
    /// Its id.
    behind: Option<Uuid>,
}

/// More results than this are not sent at once; ask for those behind the last one.
const RESULTS_AT_MOST: i64 = 100;

/// Results that were given to a group or wait for it, the newest first, at most 100.
#[utoipa::path(get, path = "/api/peers/{id}/results", tag = "laboratory", params(("id" = Uuid, Path), WhichGiven),
    responses((status = 200, body = [GivenView])))]
pub async fn given_results(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(which): Query<WhichGiven>,
) -> Result<Json<Vec<GivenView>>, Problem> {
    let filter = GivenFilter {
        characteristic: which.characteristic,
        unsettled: which.unsettled,
        behind: which.behind_taken.map(bounded).zip(which.behind),
    };
    Ok(Json(kept::given(&app.pool, id, filter, RESULTS_AT_MOST).await?))
}

/// Why a result is taken back.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ResultWithdrawal {
    /// The reason, 1 to 2000 characters.
    because: String,
}

/// Takes a result back: it counts no more here, and the group is told so.
#[utoipa::path(post, path = "/api/peers/{id}/results/{result}/withdrawal", tag = "laboratory",
    params(("id" = Uuid, Path), ("result" = Uuid, Path)), request_body = ResultWithdrawal, responses(
    (status = 204), (status = 404, body = Problem, description = "`missing`: or taken back before"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn withdraw_result(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path((id, result)): Path<(Uuid, Uuid)>,
    Body(ResultWithdrawal { because }): Body<ResultWithdrawal>,
) -> Result<StatusCode, Problem> {
    kept::withdraw(&app.pool, (id, result), &because, (person.id, Utc::now().trunc_subsecs(6))).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Tries to send again what was not taken.
#[utoipa::path(post, path = "/api/peers/{id}/send-again", tag = "laboratory", params(("id" = Uuid, Path)),
    responses((status = 204)))]
pub async fn send_again(State(app): State<App>, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    kept::send_again(&app.pool, id, Utc::now()).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Asks the group for its statistics at once, instead of within the hour.
#[utoipa::path(post, path = "/api/peers/{id}/ask", tag = "laboratory", params(("id" = Uuid, Path)),
    responses((status = 204), (status = 404, body = Problem, description = "`missing`: or it has no address")))]
pub async fn ask_peers(State(app): State<App>, Path(id): Path<Uuid>) -> Result<StatusCode, Problem> {
    kept::ask_now(&app.pool, id, Utc::now()).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Which results a file holds.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct WhichInFile {
    /// Only those that are not with the group as they are now.
    #[serde(default)]
    waiting: bool,
}

/// Results as a file to hand over, as they would be sent.
#[utoipa::path(get, path = "/api/peers/{id}/results.json", tag = "laboratory", params(("id" = Uuid, Path), WhichInFile),
    responses((status = 200, body = ResultsGiven), (status = 404, body = Problem, description = "`missing`")))]
pub async fn results_file(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(WhichInFile { waiting }): Query<WhichInFile>,
) -> Result<Response, Problem> {
    let results = kept::to_hand_over(&app.pool, id, waiting).await?;
    let disposition = format!("attachment; filename=\"{}\"", file_name(&results.laboratory, "json"));
    Ok(([(header::CONTENT_DISPOSITION, disposition)], Json(results)).into_response())
}

/// The same as CSV.
#[utoipa::path(get, path = "/api/peers/{id}/results.csv", tag = "laboratory", params(("id" = Uuid, Path), WhichInFile),
    responses((status = 200, content_type = "text/csv"), (status = 404, body = Problem, description = "`missing`")))]
pub async fn results_csv(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Query(WhichInFile { waiting }): Query<WhichInFile>,
) -> Result<Response, Problem> {
    let given = kept::to_hand_over(&app.pool, id, waiting).await?;
    handed_out::csv(&table(&given), &file_name(&given.laboratory, "csv"))
}

/// One row a result.
fn table(given: &ResultsGiven) -> Table {
    let columns = [
        "laboratory",
        "id",
        "revision",
        "code",
        "withdrawn",
        "value",
        "unit",
        "taken_at",
        "reagent_lot",
        "control_lot",
    ];
    let row = |result: &quality::peer::given::GivenResult| -> Vec<Cell> {
        vec![
            given.laboratory.as_str().into(),
            result.id.to_string().into(),
            i64::from(result.revision).into(),
            result.code.as_str().into(),
            if result.withdrawn { "withdrawn".into() } else { Cell::Empty },
            result.value.into(),
            result.unit.as_str().into(),
            result.taken_at.into(),
            result.reagent_lot.as_deref().into(),
            result.control_lot.as_deref().into(),
        ]
    };
    Table {
        title: given.laboratory.clone(),
        about: vec![],
        columns: columns.map(str::to_owned).to_vec(),
        rows: given.results.iter().map(row).collect(),
    }
}

/// Results of a file at most.
const HANDED_AT_MOST: usize = 100_000;

/// Says that a file was handed over: its results are with the group, as they stood in it.
#[utoipa::path(post, path = "/api/peers/{id}/handed-over", tag = "laboratory", params(("id" = Uuid, Path)),
    request_body = [TakenResult], responses(
    (status = 200, body = HandedOver), (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn handed_over(
    State(app): State<App>,
    Path(id): Path<Uuid>,
    Body(handed): Body<Vec<TakenResult>>,
) -> Result<Json<HandedOver>, Problem> {
    if handed.len() > HANDED_AT_MOST {
        return Err(WrongField::new("results", Allowed::Entries { least: 0, most: HANDED_AT_MOST }).into());
    }
    Ok(Json(HandedOver { results: kept::hand_over(&app.pool, id, &handed, Utc::now()).await? }))
}

/// What was handed over.
#[derive(Serialize, ToSchema)]
pub struct HandedOver {
    /// Results that are with the group now.
    results: u64,
}

/// Statistics of a group, as a file holds them.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StatisticsFile {
    /// JSON as the group would answer it, or CSV with the same names in its first line.
    text: String,
}

/// Takes in a file with statistics of the group: all of it, or nothing.
#[utoipa::path(post, path = "/api/peers/{id}/statistics", tag = "laboratory", params(("id" = Uuid, Path)),
    request_body = StatisticsFile, responses(
    (status = 200, body = TakenIn), (status = 404, body = Problem, description = "`missing`"),
    (status = 422, body = Problem, description = "`statistics_unreadable`; `statistics_refused`")))]
pub async fn take_statistics(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(StatisticsFile { text }): Body<StatisticsFile>,
) -> Result<Json<TakenIn>, Problem> {
    let statistics = read(&text)?;
    let taken = kept::take_file(&app.pool, id, &statistics, (person.id, Utc::now())).await?;
    if taken.refused.is_empty() {
        Ok(Json(taken))
    } else {
        Err(Failure::StatisticsRefused { refused: taken.refused }.into())
    }
}

fn read(text: &str) -> Result<Vec<PeerStatistic>, Failure> {
    let text = text.trim_start_matches('\u{feff}').trim();
    if text.starts_with('{') {
        let read = serde_json::from_str::<GroupStatistics>(text);
        return read
            .map(|it| it.statistics)
            .map_err(|error| Failure::StatisticsUnreadable { row: error.line(), detail: error.to_string() });
    }
    formats::csv::read(text).map_err(|wrong| Failure::StatisticsUnreadable { row: wrong.line, detail: wrong.detail })
}
