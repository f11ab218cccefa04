//! The analysis interface over HTTP.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use axum::extract::State;
use axum::extract::rejection::StringRejection;
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use serde_json::json;
use tokio::sync::Semaphore;

use crate::App;
use crate::problem::Problem;

/// Analyses at once. A large one takes a core, and some hundred megabytes.
const AT_ONCE: usize = 2;

/// Analyses that wait for their turn.
const WAITING_AT_MOST: usize = 16;

/// The turns of analyses.
#[derive(Debug)]
pub struct Analyses {
    turns: Arc<Semaphore>,
    places: Semaphore,
}

impl Default for Analyses {
    fn default() -> Self {
        Self { turns: Arc::new(Semaphore::new(AT_ONCE)), places: Semaphore::new(AT_ONCE + WAITING_AT_MOST) }
    }
}

/// Tells the analysis that nobody waits for it any more: who asked has gone, or waited too long.
struct Unwanted(Arc<AtomicBool>);

impl Drop for Unwanted {
    fn drop(&mut self) {
        self.0.store(true, Ordering::Relaxed);
    }
}

/// Answers an analysis request; `nuvek analyze` gives the same answers.
#[utoipa::path(post, path = "/api/analyze", tag = "analyze", request_body = Object, responses(
    (status = 200, body = Object),
    (status = 429, body = Problem, description = "`busy`: too many analyses wait"),
    (status = 422, body = Problem, description = "`request_refused`; `field`, `given`, `expected`")))]
pub async fn analyze(State(app): State<App>, request: Result<String, StringRejection>) -> Result<Response, Problem> {
    let request = request?;
    let busy = |_| Problem::new(StatusCode::TOO_MANY_REQUESTS, "busy", "too many analyses wait", json!({}));
    let _place = app.analyses.places.try_acquire().map_err(busy)?;
    let turns = Arc::clone(&app.analyses.turns);
    let turn = turns.acquire_owned().await.map_err(|error| Problem::internal(&error))?;
    let unwanted = Unwanted(Arc::default());
    let flag = Arc::clone(&unwanted.0);
    // Large requests take a while; they must not hold up the saves of others.
    let work = move || {
        // The turn ends with the work, also when nobody waits for it any more.
        let _turn = turn;
        spc::stop::until(flag, || spc::analysis::analyze(&request))
    };
    let answer = tokio::task::spawn_blocking(work).await.map_err(|error| Problem::internal(&error))?;
    drop(unwanted);
    match answer {
        Ok(answer) => Ok(([(header::CONTENT_TYPE, "application/json")], answer).into_response()),
        Err(problem) => {
            let params = json!({"field": problem.field, "given": problem.given, "expected": problem.expected});
            Err(Problem::new(StatusCode::UNPROCESSABLE_ENTITY, "request_refused", problem.to_string(), params))
        }
    }
}
