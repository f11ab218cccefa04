//! Peer groups: reviewed results go out, statistics of the group come in.
//!
//! `POST {url}/results` with a token as bearer takes [`quality::peer::given::ResultsGiven`] and answers
//! [`quality::peer::given::ResultsTaken`]; `GET {url}/statistics?laboratory=…` answers
//! [`quality::peer::statistic::GroupStatistics`]. docs/peers.md describes both.

use std::time::Duration;

use chrono::Utc;
use http_body_util::Full;
use hyper::body::Bytes;
use hyper::header::{ACCEPT, AUTHORIZATION, CONTENT_TYPE};
use hyper::{Method, Request};
use quality::peer::given::{GivenResult, ResultsTaken, TakenResult};
use quality::peer::statistic::GroupStatistics;
use serde::de::DeserializeOwned;
use store::peers::{Asked, Parcel, asks, due, not_answered, not_taken, take_in, taken};
use store::{PgPool, StoreError};
use tokio::time::{sleep, timeout};
use tokio_util::sync::CancellationToken;
use url::Url;

use crate::call::{call, path};
use crate::networks::Networks;
use crate::once::compiled_once;

/// How often it is looked whether something is to be sent or asked.
const LOOKS_EVERY: Duration = Duration::from_secs(1);

/// The other side answers within this time, or it is tried again.
const ANSWERS_WITHIN: Duration = Duration::from_secs(20);

/// Results that are claimed and sent at once.
const RESULTS_AT_ONCE: i64 = 200;

/// Longest answer that is read, in bytes: some 20,000 statistics.
const ANSWER_AT_MOST: usize = 4 * 1024 * 1024;

/// Sends and asks what is due until `shutdown`. Several instances on one database share the work.
#[compiled_once]
pub async fn run(pool: PgPool, networks: Networks, shutdown: CancellationToken) {
    let work = async {
        loop {
            if let Err(error) = exchange(&pool, &networks).await {
                tracing::warn!(%error, "peer groups were not reached; trying again");
            }
            sleep(LOOKS_EVERY).await;
        }
    };
    shutdown.run_until_cancelled(work).await;
}

/// Everything that is due now.
async fn exchange(pool: &PgPool, networks: &Networks) -> Result<(), StoreError> {
    loop {
        let parcels = due(pool, Utc::now(), RESULTS_AT_ONCE).await?;
        if parcels.is_empty() {
            break;
        }
        for parcel in parcels {
            send(pool, networks, &parcel).await?;
        }
    }
    for asked in asks(pool, Utc::now()).await? {
        ask(pool, networks, &asked).await?;
    }
    Ok(())
}

async fn send(pool: &PgPool, networks: &Networks, parcel: &Parcel) -> Result<(), StoreError> {
    let results = parcel.results.results.iter();
    let sent: Vec<TakenResult> =
        results.map(|GivenResult { id, revision, .. }| TakenResult { id: *id, revision: *revision }).collect();
    let body = serde_json::to_string(&parcel.results)?;
    let answer: Result<ResultsTaken, String> =
        speak(networks, (&parcel.url, "results", None), &parcel.token, Some(body)).await;
    let now = Utc::now();
    let answer = match answer {
        Ok(answer) => answer,
        Err(why) => return not_taken(pool, parcel, &sent, &why, now).await,
    };
    // Whatever is kept there already is taken: a revision that is higher than what was sent would not be ours.
    let kept: Vec<TakenResult> = answer.taken.into_iter().filter(|it| sent.contains(it)).collect();
    let ours = |id, revision| sent.contains(&TakenResult { id, revision });
    let refused: Vec<_> = answer.refused.into_iter().filter(|it| ours(it.id, it.revision)).collect();
    taken(pool, parcel.group, (&kept, &refused), now).await?;
    let passed_over: Vec<TakenResult> = sent
        .into_iter()
        .filter(|it| !kept.contains(it) && !refused.iter().any(|no| (no.id, no.revision) == (it.id, it.revision)))
        .collect();
    if passed_over.is_empty() {
        return Ok(());
    }
    not_taken(pool, parcel, &passed_over, "the answer does not name it", now).await
}

async fn ask(pool: &PgPool, networks: &Networks, asked: &Asked) -> Result<(), StoreError> {
    let at = (asked.url.as_str(), "statistics", Some(asked.laboratory.as_str()));
    let answer: Result<GroupStatistics, String> = speak(networks, at, &asked.token, None).await;
    match answer {
        Ok(told) => {
            let taken = take_in(pool, asked.group, &told.statistics, Utc::now()).await?;
            if let Some(refused) = taken.refused.first() {
                let many = taken.refused.len();
                tracing::warn!(?refused, many, "statistics of a peer group do not fit");
            }
            Ok(())
        }
        Err(why) => not_answered(pool, asked, &why, Utc::now()).await,
    }
}

/// Posts a body, or gets what stands there; what was answered with a status of 2xx, or why not.
async fn speak<T: DeserializeOwned>(
    networks: &Networks,
    (base, of, laboratory): (&str, &str, Option<&str>),
    token: &str,
    body: Option<String>,
) -> Result<T, String> {
    let mut url = Url::parse(base).map_err(|error| error.to_string())?;
    url.path_segments_mut().map_err(|()| "no path")?.pop_if_empty().push(of);
    if let Some(laboratory) = laboratory {
        url.query_pairs_mut().append_pair("laboratory", laboratory);
    }
    let method = if body.is_some() { Method::POST } else { Method::GET };
    let request = Request::builder()
        .method(method)
        .uri(path(&url))
        .header(AUTHORIZATION, format!("Bearer {token}"))
        .header(CONTENT_TYPE, "application/json")
        .header(ACCEPT, "application/json")
        .body(Full::new(Bytes::from(body.unwrap_or_default())))
        .map_err(|error| error.to_string())?;
    let answered = timeout(ANSWERS_WITHIN, call(networks, &url, request, ANSWER_AT_MOST)).await;
    let answer = answered.unwrap_or_else(|_| Err("no answer in time".into()))?;
    if !answer.status.is_success() {
        return Err(format!("answered {}", answer.status.as_u16()));
    }
    serde_json::from_slice(&answer.body).map_err(|error| format!("answered what cannot be read: {error}"))
}
