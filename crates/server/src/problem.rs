//! Failures as problem details (RFC 9457): a stable code, an HTTP status, and parameters to act
//! on. The interface makes sentences of them. A status from 500 on means that it is our fault.

use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use quality::correction::NotYours;
use quality::entry::Unusual;
use quality::reading::Refusal;
use quality::run::RunRefusal;
use quality::signal::StepError;
use serde::Serialize;
use serde_json::{Value, json};
use store::StoreError;
use utoipa::ToSchema;

/// A problem as it crosses the network, as `application/problem+json`.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Problem {
    /// `urn:nuvek:problem:` and the code.
    #[serde(rename = "type")]
    kind: String,
    /// Short text for logs; people read the sentence that the interface makes.
    title: String,
    /// HTTP status.
    status: u16,
    /// Stable name of the failure.
    code: &'static str,
    /// Facts to act on; which ones depends on the code.
    #[schema(value_type = Object)]
    params: Value,
}

impl Problem {
    pub fn new(status: StatusCode, code: &'static str, title: impl Into<String>, params: Value) -> Self {
        Self { kind: format!("urn:nuvek:problem:{code}"), title: title.into(), status: status.as_u16(), code, params }
    }

    /// Short text for logs.
    pub fn title(&self) -> &str {
        &self.title
    }

    pub fn not_signed_in() -> Self {
        Self::new(StatusCode::UNAUTHORIZED, "not_signed_in", "no session, or it has ended", json!({}))
    }

    pub fn not_allowed(role: quality::role::Role) -> Self {
        Self::new(
            StatusCode::FORBIDDEN,
            "not_allowed",
            "the role does not carry this permission",
            json!({"role": role}),
        )
    }

    pub fn cross_site() -> Self {
        Self::new(StatusCode::FORBIDDEN, "cross_site", "requests from other sites are refused", json!({}))
    }

    /// Readings that cannot be kept, with every refusal.
    pub fn readings_refused(refusals: &[Refusal]) -> Self {
        let title = "readings are refused";
        Self::new(StatusCode::UNPROCESSABLE_ENTITY, "readings_refused", title, json!({"refusals": refusals}))
    }

    /// Readings outside the soft bounds, to be typed again or confirmed.
    pub fn confirm_readings(unusual: &[Unusual]) -> Self {
        let title = "readings are outside the soft bounds";
        Self::new(StatusCode::UNPROCESSABLE_ENTITY, "confirm_readings", title, json!({"unusual": unusual}))
    }

    /// A field that cannot be as it was given.
    pub fn field(field: &'static str, expected: &'static str) -> Self {
        let params = json!({"field": field, "expected": expected});
        Self::new(StatusCode::UNPROCESSABLE_ENTITY, "field_refused", format!("{field}: {expected}"), params)
    }

    pub fn database_away(error: &dyn std::fmt::Display) -> Self {
        tracing::error!(%error, "the database is away");
        Self::new(StatusCode::SERVICE_UNAVAILABLE, "database_away", "the database is away", json!({}))
    }

    pub fn internal(error: &dyn std::fmt::Display) -> Self {
        tracing::error!(%error, "a request failed");
        Self::new(StatusCode::INTERNAL_SERVER_ERROR, "internal", "the server failed", json!({}))
    }
}

impl From<StoreError> for Problem {
    fn from(error: StoreError) -> Self {
        let title = error.to_string();
        if error.is_away() {
            return Self::database_away(&title);
        }
        match error {
            StoreError::Missing(object) => {
                Self::new(StatusCode::NOT_FOUND, "missing", title, json!({"object": object}))
            }
            StoreError::EntryReused => Self::new(StatusCode::CONFLICT, "entry_reused", title, json!({})),
            StoreError::Step(StepError::Changed) => Self::new(StatusCode::CONFLICT, "changed", title, json!({})),
            StoreError::Step(StepError::NotFrom(state)) => {
                Self::new(StatusCode::CONFLICT, "changed", title, json!({"state": state}))
            }
            StoreError::Step(StepError::OwnAnswer) => Self::new(StatusCode::FORBIDDEN, "own_answer", title, json!({})),
            StoreError::Step(StepError::Field { field, expected }) => Self::field(field, expected),
            StoreError::Run(refusal) => {
                let code = match refusal {
                    RunRefusal::Rejected => "run_rejected",
                    RunRefusal::Incomplete => "run_incomplete",
                    RunRefusal::OwnRun => "own_run",
                    RunRefusal::Released => "run_released",
                    RunRefusal::Repeated => "run_repeated",
                    RunRefusal::NotRejected => "run_not_rejected",
                    RunRefusal::InARun => "in_a_run",
                    RunRefusal::Results => "run_results",
                };
                Self::new(StatusCode::CONFLICT, code, title, json!({}))
            }
            StoreError::Taken(field) => Self::new(StatusCode::CONFLICT, "taken", title, json!({"field": field})),
            StoreError::HasSamples => Self::new(StatusCode::CONFLICT, "has_samples", title, json!({})),
            StoreError::Wrong(wrong) => {
                let params = json!({"wrong": wrong});
                Self::new(StatusCode::UNPROCESSABLE_ENTITY, "set_up_refused", title, params)
            }
            StoreError::NotYours(why) => {
                let code = match why {
                    NotYours::SomebodyElses => "not_your_sample",
                    NotYours::ShiftOver => "shift_is_over",
                };
                Self::new(StatusCode::FORBIDDEN, code, title, json!({}))
            }
            StoreError::Database(_) | StoreError::Corrupt(_) => Self::internal(&title),
        }
    }
}

impl IntoResponse for Problem {
    fn into_response(self) -> Response {
        let status = StatusCode::from_u16(self.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
        let body = serde_json::to_string(&self).unwrap_or_default();
        (status, [(header::CONTENT_TYPE, "application/problem+json")], body).into_response()
    }
}
