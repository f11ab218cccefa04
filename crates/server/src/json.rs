//! Bodies and path parts of requests; what cannot be read becomes a problem with its facts.

use axum::extract::rejection::{JsonRejection, PathRejection, QueryRejection, StringRejection};
use axum::extract::{FromRequest, FromRequestParts};
use axum::http::StatusCode;
use serde_json::json;

use crate::problem::Problem;

/// A JSON body.
#[derive(FromRequest)]
#[from_request(via(axum::Json), rejection(Problem))]
pub struct Body<T>(pub T);

/// A part of the path.
#[derive(FromRequestParts)]
#[from_request(via(axum::extract::Path), rejection(Problem))]
pub struct Path<T>(pub T);

/// The query of the address.
#[derive(FromRequestParts)]
#[from_request(via(axum::extract::Query), rejection(Problem))]
pub struct Query<T>(pub T);

impl From<JsonRejection> for Problem {
    fn from(rejection: JsonRejection) -> Self {
        malformed(rejection.status(), rejection.body_text())
    }
}

impl From<StringRejection> for Problem {
    fn from(rejection: StringRejection) -> Self {
        malformed(rejection.status(), rejection.body_text())
    }
}

impl From<PathRejection> for Problem {
    fn from(rejection: PathRejection) -> Self {
        malformed(rejection.status(), rejection.body_text())
    }
}

impl From<QueryRejection> for Problem {
    fn from(rejection: QueryRejection) -> Self {
        malformed(rejection.status(), rejection.body_text())
    }
}

fn malformed(status: StatusCode, detail: String) -> Problem {
    Problem::new(status, "malformed", "the request cannot be read", json!({"detail": detail}))
}
