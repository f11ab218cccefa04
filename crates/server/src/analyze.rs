//! The analysis interface over HTTP.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use axum::extract::State;
use axum::extract::rejection::StringRejection;
use axum::http::header;
use axum::response::{IntoResponse, Response};

use crate::app::App;
use crate::failure::Failure;
use crate::problem::Problem;

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
    (status = 422, body = Problem, description = "`request_refused`")))]
pub async fn analyze(State(app): State<App>, request: Result<String, StringRejection>) -> Result<Response, Problem> {
    let request = request?;
    let _place = app.analyses.place()?;
    let turn = app.analyses.turn().await?;
    let unwanted = Unwanted(Arc::default());
    let flag = Arc::clone(&unwanted.0);
    // Large requests take a while; they must not hold up the saves of others.
    let work = move || {
        // The turn ends with the work, also when nobody waits for it any more.
        let _turn = turn;
        let answer = spc::stop::until(flag, || spc::analysis::analyze(&request))?;
        let mut text = vec![];
        Ok(answer.write(&mut text).map(|()| text))
    };
    let answer = tokio::task::spawn_blocking(work).await.map_err(|error| Problem::internal(&error))?;
    drop(unwanted);
    let answer = answer.map_err(|wrong| Failure::RequestRefused(Box::new(wrong)))?;
    let answer = answer.map_err(|error| Problem::internal(&error))?;
    Ok(([(header::CONTENT_TYPE, "application/json")], answer).into_response())
}
