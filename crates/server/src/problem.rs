//! A failure as it crosses the network: problem details (RFC 9457). The interface makes a sentence of it.

use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use serde::Serialize;
use utoipa::ToSchema;

use crate::failure::Failure;

/// A failure, as `application/problem+json`.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Problem {
    /// `urn:nuvek:problem:` and the code.
    #[serde(rename = "type")]
    kind: String,
    /// Short text for logs; people read the sentence that the interface makes.
    title: String,
    /// HTTP status.
    status: u16,
    #[serde(flatten)]
    failure: Box<Failure>,
}

impl Problem {
    /// Something of ours failed; what, stands in the log.
    pub fn internal(error: &dyn std::fmt::Display) -> Self {
        tracing::error!(%error, "a request failed");
        Failure::Internal {}.into()
    }

    /// The database is away; why, stands in the log.
    pub fn database_away(error: &dyn std::fmt::Display) -> Self {
        tracing::error!(%error, "the database is away");
        Failure::DatabaseAway {}.into()
    }

    /// Short text for logs.
    pub fn title(&self) -> &str {
        &self.title
    }
}

impl<F: Into<Failure>> From<F> for Problem {
    fn from(failure: F) -> Self {
        let failure = failure.into();
        let code = serde_json::to_value(&failure).ok().and_then(|v| Some(v.get("code")?.as_str()?.to_owned()));
        let kind = format!("urn:nuvek:problem:{}", code.unwrap_or_default());
        Self { kind, title: failure.to_string(), status: failure.status().as_u16(), failure: Box::new(failure) }
    }
}

impl IntoResponse for Problem {
    fn into_response(self) -> Response {
        let status = StatusCode::from_u16(self.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
        let body = serde_json::to_string(&self).unwrap_or_default();
        (status, [(header::CONTENT_TYPE, "application/problem+json")], body).into_response()
    }
}
