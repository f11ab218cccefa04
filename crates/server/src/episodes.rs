//! Episodes of signals: lists, one of them, and what explains it.

use axum::extract::State;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use quality::signal::SignalState;
use serde::Deserialize;
use store::episodes::{EpisodeFilter, EpisodeRow, EpisodeView, Explained, WaitingEpisodes};
use store::people::Person;
use utoipa::IntoParams;
use uuid::Uuid;

use crate::app::App;
use crate::json::{Path, Query, bounded};
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
