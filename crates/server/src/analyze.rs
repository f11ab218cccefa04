//! The analysis interface over HTTP.

use axum::Json;
use axum::http::StatusCode;
use serde_json::{Value, json};

use crate::json::Body;
use crate::problem::Problem;

/// Answers an analysis request; `nuvek analyze` gives the same answers.
#[utoipa::path(post, path = "/api/analyze", tag = "analyze", request_body = Object, responses(
    (status = 200, body = Object),
    (status = 422, body = Problem, description = "`request_refused`; `field`, `given`, `expected`")))]
pub async fn analyze(Body(request): Body<Value>) -> Result<Json<Value>, Problem> {
    // Large requests take a while; they must not hold up the saves of others.
    let answer = tokio::task::spawn_blocking(move || spc::analysis::analyze(request))
        .await
        .map_err(|error| Problem::internal(&error))?;
    answer.map(Json).map_err(|problem| {
        let params = json!({"field": problem.field, "given": problem.given, "expected": problem.expected});
        Problem::new(StatusCode::UNPROCESSABLE_ENTITY, "request_refused", problem.to_string(), params)
    })
}
