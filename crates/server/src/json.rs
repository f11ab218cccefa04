//! Bodies and path parts of requests; what cannot be read becomes a problem with its facts.

use axum::body::Bytes;
use axum::extract::rejection::{JsonRejection, PathRejection, QueryRejection, StringRejection};
use axum::extract::{FromRequest, FromRequestParts, Request};
use axum::http::request::Parts;
use axum::http::{HeaderValue, StatusCode, header};
use chrono::{DateTime, Duration, Utc};
use serde::de::DeserializeOwned;

use crate::failure::Failure;
use crate::problem::Problem;

/// A JSON body. No text in it holds the zero character, which PostgreSQL does not keep.
pub struct Body<T>(pub T);

impl<T: DeserializeOwned, S: Send + Sync> FromRequest<S> for Body<T> {
    type Rejection = Problem;

    async fn from_request(request: Request, state: &S) -> Result<Self, Problem> {
        let is_json = |kind: &HeaderValue| kind.to_str().is_ok_and(|kind| kind.starts_with("application/json"));
        if !request.headers().get(header::CONTENT_TYPE).is_some_and(is_json) {
            return Err(Failure::NotJson {}.into());
        }
        let bytes = Bytes::from_request(request, state).await.map_err(|e| malformed(e.status(), e.body_text()))?;
        if formats::json::holds_zero(&bytes) {
            return Err(Failure::ZeroCharacter {}.into());
        }
        Ok(Self(axum::Json::<T>::from_bytes(&bytes)?.0))
    }
}

/// A time to look from, within what the database can hold: nothing that is kept lies beyond.
pub fn bounded(at: DateTime<Utc>) -> DateTime<Utc> {
    let (first, last) = (DateTime::UNIX_EPOCH, DateTime::UNIX_EPOCH + Duration::days(365 * 1000));
    at.clamp(first, last)
}

/// A value by its stored word, as files hold it.
pub(crate) fn word(value: impl serde::Serialize) -> String {
    serde_json::to_value(value).ok().and_then(|word| Some(word.as_str()?.to_owned())).unwrap_or_default()
}

/// A part of the path.
#[derive(FromRequestParts)]
#[from_request(via(axum::extract::Path), rejection(Problem))]
pub struct Path<T>(pub T);

/// The query of the address. No text in it holds the zero character either.
pub struct Query<T>(pub T);

impl<T: DeserializeOwned, S: Send + Sync> FromRequestParts<S> for Query<T> {
    type Rejection = Problem;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Problem> {
        // An address spells it as an escape alone.
        if parts.uri.query().is_some_and(|query| query.contains("%00")) {
            return Err(Failure::ZeroCharacter {}.into());
        }
        Ok(Self(axum::extract::Query::<T>::from_request_parts(parts, state).await.map_err(Failure::from)?.0))
    }
}

impl From<JsonRejection> for Failure {
    fn from(rejection: JsonRejection) -> Self {
        malformed(rejection.status(), rejection.body_text())
    }
}

impl From<StringRejection> for Failure {
    fn from(rejection: StringRejection) -> Self {
        malformed(rejection.status(), rejection.body_text())
    }
}

impl From<PathRejection> for Failure {
    fn from(rejection: PathRejection) -> Self {
        malformed(rejection.status(), rejection.body_text())
    }
}

impl From<QueryRejection> for Failure {
    fn from(rejection: QueryRejection) -> Self {
        malformed(rejection.status(), rejection.body_text())
    }
}

fn malformed(status: StatusCode, detail: String) -> Failure {
    match status {
        StatusCode::PAYLOAD_TOO_LARGE => Failure::TooLarge {},
        StatusCode::UNPROCESSABLE_ENTITY => Failure::WrongForm { detail },
        _ => Failure::Malformed { detail },
    }
}
