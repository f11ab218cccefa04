use crate::once::compiled_once;
use std::collections::{BTreeMap, BTreeSet};
use std::convert::Infallible;
use std::io;
use std::sync::{Arc, Mutex, PoisonError};

use chrono::Utc;
use http_body_util::{BodyExt, Full, Limited};
use hyper::body::{Bytes, Incoming};
use hyper::header::{AUTHORIZATION, CONTENT_TYPE};
use hyper::service::service_fn;
use hyper::{Method, Request, Response, StatusCode};
use hyper_util::rt::TokioIo;
use quality::peer::given::{GivenResult, RefusedThere, ResultsGiven, ResultsTaken, TakenResult};
use quality::peer::statistic::{GroupStatistics, Month, PeerStatistic};
use rand::rngs::StdRng;
use rand::{Rng, SeedableRng};
use rand_distr::Normal;
use serde::Serialize;
use tokio::net::TcpListener;
use tokio::sync::mpsc::UnboundedSender;
use uuid::Uuid;

/// A peer group with invented laboratories in it: it keeps what it is given, the highest revision of each result, and
/// tells what all of them found, month by month, since the first result that it was given.
#[derive(Debug, Clone)]
pub struct Peers {
    /// Whoever shows it is let in.
    token: String,
    /// The levels that it compares.
    levels: Vec<PeersLevel>,
    /// Hears of what it keeps.
    hears: UnboundedSender<Kept>,
    kept: Arc<Mutex<BTreeMap<Uuid, GivenResult>>>,
}

/// A level, and what its laboratories find on average.
#[derive(Debug, Clone, PartialEq)]
pub struct PeersLevel {
    /// What the group calls it.
    pub code: String,
    pub unit: String,
    pub mean: f64,
    pub sd: f64,
}

/// What was told of a result.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Kept {
    /// It was not known before, or not so.
    pub new: bool,
    #[serde(flatten)]
    pub result: GivenResult,
}

/// More is not read.
const AT_MOST: usize = 4 * 1024 * 1024;

/// Invented laboratories, and results of each in a month.
const LABORATORIES: u32 = 24;
const RESULTS_EACH: u32 = 28;

impl Peers {
    /// One that has been given nothing.
    pub fn new(token: String, levels: Vec<PeersLevel>, hears: UnboundedSender<Kept>) -> Self {
        Self { token, levels, hears, kept: Arc::default() }
    }

    /// Listens until it is cancelled.
    ///
    /// # Errors
    /// When the listener fails.
    #[compiled_once]
    pub async fn run(self, listener: TcpListener) -> io::Result<()> {
        loop {
            let (stream, _) = listener.accept().await?;
            let peers = self.clone();
            let service = service_fn(move |request| {
                let peers = peers.clone();
                async move { Ok::<_, Infallible>(peers.answer(request).await) }
            });
            tokio::spawn(hyper::server::conn::http1::Builder::new().serve_connection(TokioIo::new(stream), service));
        }
    }

    async fn answer(&self, request: Request<Incoming>) -> Response<Full<Bytes>> {
        let shown = request.headers().get(AUTHORIZATION).and_then(|value| value.to_str().ok());
        if shown != Some(&format!("Bearer {}", self.token)) {
            return plain(StatusCode::UNAUTHORIZED);
        }
        let of = request.uri().path().rsplit('/').next().unwrap_or_default().to_owned();
        match (request.method(), of.as_str()) {
            (&Method::POST, "results") => {
                let body = Limited::new(request.into_body(), AT_MOST).collect().await.map(|body| body.to_bytes());
                match body.ok().and_then(|body| serde_json::from_slice(&body).ok()) {
                    Some(given) => json(&self.take(given)),
                    None => plain(StatusCode::BAD_REQUEST),
                }
            }
            (&Method::GET, "statistics") => json(&GroupStatistics { statistics: self.statistics() }),
            _ => plain(StatusCode::NOT_FOUND),
        }
    }

    /// Keeps what it is given, and says what of it.
    pub fn take(&self, given: ResultsGiven) -> ResultsTaken {
        let mut answer = ResultsTaken::default();
        let mut kept = self.kept.lock().unwrap_or_else(PoisonError::into_inner);
        for result in given.results {
            let (id, revision) = (result.id, result.revision);
            let level = self.levels.iter().find(|level| level.code == result.code);
            if !result.withdrawn && level.is_none_or(|level| level.unit != result.unit) {
                let reason = format!("{} in {} is not compared here", result.code, result.unit);
                answer.refused.push(RefusedThere { id, revision, reason });
                continue;
            }
            answer.taken.push(TakenResult { id, revision });
            let new = kept.get(&id).is_none_or(|known| known.revision < revision);
            let _ = self.hears.send(Kept { new, result: result.clone() });
            if new {
                kept.insert(id, result);
            }
        }
        answer
    }

    /// Of each month since its first result, of each lot of reagent that is in use there, and of all lots.
    pub fn statistics(&self) -> Vec<PeerStatistic> {
        let kept = self.kept.lock().unwrap_or_else(PoisonError::into_inner);
        let results = kept.values().filter(|result| !result.withdrawn && result.taken_at <= Utc::now());
        let seen: BTreeSet<(&str, Month, Option<&str>)> = results
            .flat_map(|result| {
                let month = Month::at(result.taken_at, &Utc);
                [None, result.reagent_lot.as_deref()].map(|lot| (result.code.as_str(), month, lot))
            })
            .collect();
        let of = |(code, month, lot): (&str, Month, Option<&str>)| {
            let level = self.levels.iter().find(|level| level.code == code)?;
            Some(level.statistic(month, lot))
        };
        seen.into_iter().filter_map(of).collect()
    }
}

impl PeersLevel {
    /// What its laboratories found in a month: the same each time that it is asked.
    fn statistic(&self, month: Month, reagent_lot: Option<&str>) -> PeerStatistic {
        let name = format!("{}/{month}/{}", self.code, reagent_lot.unwrap_or_default());
        let seed = name
            .bytes()
            .fold(0xcbf2_9ce4_8422_2325u64, |hash, byte| (hash ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3));
        let mut random = StdRng::seed_from_u64(seed);
        let laboratories = if reagent_lot.is_some() { LABORATORIES / 2 } else { LABORATORIES };
        // Each laboratory has a bias of its own; within one, results scatter less than between all of them.
        let (between, within) = (0.6 * self.sd, 0.8 * self.sd);
        let (mut n, mut sum, mut squares) = (0u32, 0.0, 0.0);
        for _ in 0..laboratories {
            let bias = sample(&mut random, between);
            for _ in 0..random.random_range(RESULTS_EACH - 6..=RESULTS_EACH) {
                let off = bias + sample(&mut random, within);
                n += 1;
                sum += off;
                squares += off * off;
            }
        }
        let mean = sum / f64::from(n);
        let sd = ((squares - sum * mean) / f64::from(n - 1)).sqrt();
        PeerStatistic {
            code: self.code.clone(),
            month,
            control_lot: None,
            reagent_lot: reagent_lot.map(str::to_owned),
            unit: Some(self.unit.clone()),
            laboratories: Some(laboratories),
            n: n.into(),
            mean: self.mean + mean,
            sd,
        }
    }
}

fn sample(random: &mut StdRng, sd: f64) -> f64 {
    Normal::new(0.0, sd).map_or(0.0, |noise| random.sample(noise))
}

fn plain(status: StatusCode) -> Response<Full<Bytes>> {
    let mut response = Response::new(Full::default());
    *response.status_mut() = status;
    response
}

fn json(answer: &impl Serialize) -> Response<Full<Bytes>> {
    let Ok(body) = serde_json::to_vec(answer) else { return plain(StatusCode::INTERNAL_SERVER_ERROR) };
    let mut response = Response::new(Full::from(body));
    response.headers_mut().insert(CONTENT_TYPE, hyper::header::HeaderValue::from_static("application/json"));
    response
}
