//! Episodes of signals: lists, one of them, and what explains it.

use axum::extract::State;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use quality::signal::SignalState;
use serde::{Deserialize, Serialize};
use store::episodes::{Behind, EpisodeFilter, EpisodeOrder, EpisodeRow, EpisodeView, Explained, WaitingEpisodes};
use store::people::Person;
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;

use crate::app::App;
use crate::json::{Path, Query, bounded};
use crate::problem::Problem;

/// More episodes than this are not sent at once; ask for those behind the last one.
const EPISODES_AT_MOST: i64 = 200;

/// Which episodes; what is left out does not narrow them.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Which {
    /// Only in this state.
    state: Option<SignalState>,
    /// Only those that ask a technician: open, or sent back.
    #[serde(default)]
    waiting: bool,
    /// Only those that wait for a review: answered, or found late.
    #[serde(default)]
    to_review: bool,
    /// Only of this characteristic.
    characteristic: Option<Uuid>,
    /// Only of this station.
    station: Option<Uuid>,
    /// Only of the stations of whoever asks, where they belong somewhere.
    #[serde(default)]
    mine: bool,
    /// Only of this area.
    area: Option<Uuid>,
    /// Only of this product.
    product: Option<Uuid>,
    /// Only where a rule of this kind was broken, such as `one_side`.
    rule: Option<String>,
    /// Only where an answer names this cause.
    cause: Option<Uuid>,
    /// Only what this person answered or reviewed.
    person: Option<Uuid>,
    /// Only raised from then on.
    from: Option<DateTime<Utc>>,
    /// Only raised before then.
    until: Option<DateTime<Utc>>,
    /// Only of the laboratory, or only of the floor.
    laboratory: Option<bool>,
    /// Only against trial limits alone, or only against limits in force.
    trial: Option<bool>,
    /// Only those that were raised to the supervisors, since nobody answered.
    #[serde(default)]
    escalated: bool,
    /// The latest raised first, or as a queue is worked through.
    #[serde(default)]
    order: EpisodeOrder,
    /// Only those behind one in the list: its id.
    behind: Option<Uuid>,
    /// When that was raised.
    behind_raised: Option<DateTime<Utc>>,
    /// Whether that had been sent back once.
    #[serde(default)]
    behind_sent_back: bool,
}

impl Which {
    /// For whoever asks, who may be kept to some stations.
    fn filter(self, asker: &Person) -> EpisodeFilter {
        let mut states: Vec<SignalState> = self.state.into_iter().collect();
        if self.waiting {
            states.extend([SignalState::SentBack, SignalState::Open]);
        }
        if self.to_review {
            states.extend([SignalState::Answered, SignalState::FoundLate]);
        }
        let behind = self.behind.zip(self.behind_raised).map(|(id, raised_at)| Behind {
            id,
            raised_at: bounded(raised_at),
            sent_back: self.behind_sent_back,
        });
        EpisodeFilter {
            states,
            within: asker.looks_at(self.mine).map(<[Uuid]>::to_vec),
            characteristic: self.characteristic,
            station: self.station,
            area: self.area,
            analyte: None,
            product: self.product,
            rule: self.rule,
            cause: self.cause,
            person: self.person,
            from: self.from.map(bounded),
            until: self.until.map(bounded),
            laboratory: self.laboratory,
            trial: self.trial,
            escalated: self.escalated,
            order: self.order,
            behind,
        }
    }
}

/// Episodes, at most 200; for a reader those of their areas.
#[utoipa::path(get, path = "/api/episodes", tag = "episodes", params(Which),
    responses((status = 200, body = [EpisodeRow])))]
pub async fn episodes(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(which): Query<Which>,
) -> Result<Json<Vec<EpisodeRow>>, Problem> {
    Ok(Json(store::episodes::list(&app.pool, &which.filter(&person), EPISODES_AT_MOST).await?))
}

/// How many episodes there are.
#[derive(Serialize, ToSchema)]
pub struct EpisodeCount {
    count: i64,
}

/// How many episodes a filter lets through, whatever page of them is looked at.
#[utoipa::path(get, path = "/api/episodes/count", tag = "episodes", params(Which),
    responses((status = 200, body = EpisodeCount)))]
pub async fn count(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Query(which): Query<Which>,
) -> Result<Json<EpisodeCount>, Problem> {
    Ok(Json(EpisodeCount { count: store::episodes::count(&app.pool, &which.filter(&person)).await? }))
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
