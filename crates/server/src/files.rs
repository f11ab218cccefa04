//! Photos and documents that go with answers.

use axum::body::Bytes;
use axum::extract::State;
use axum::http::{HeaderValue, header};
use axum::response::{IntoResponse, Response};
use axum::{Extension, Json};
use chrono::Utc;
use serde::Deserialize;
use store::files::FileView;
use store::people::Person;
use utoipa::IntoParams;
use uuid::Uuid;

use crate::app::App;
use crate::json::{Path, Query};
use crate::problem::Problem;

/// How a file is called.
#[derive(Deserialize, IntoParams)]
#[serde(deny_unknown_fields)]
pub struct Called {
    /// Its name: 1 to 80 characters.
    name: String,
}

/// Sends a photo or document that an answer will name: PNG, JPEG or PDF, up to 10 MB. What it is, its content says.
/// Sent again under the same id it is kept once.
#[utoipa::path(put, path = "/api/files/{id}", tag = "episodes", params(("id" = Uuid, Path), Called),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"), responses(
    (status = 200, body = FileView),
    (status = 409, body = Problem, description = "`entry_reused`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn send_file(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
    Query(called): Query<Called>,
    content: Bytes,
) -> Result<Json<FileView>, Problem> {
    Ok(Json(store::files::keep(&app.pool, id, &called.name, &content, (person.id, Utc::now())).await?))
}

/// A photo or document. It is handed out to be kept, never to be run: nothing in it is of this program.
#[utoipa::path(get, path = "/api/files/{id}", tag = "episodes", params(("id" = Uuid, Path)), responses(
    (status = 200, content_type = "application/octet-stream", body = Vec<u8>),
    (status = 404, body = Problem, description = "`missing`")))]
pub async fn file(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Path(id): Path<Uuid>,
) -> Result<Response, Problem> {
    let (file, content) = store::files::read(&app.pool, id, person.id).await?;
    let headers = [
        (header::CONTENT_TYPE, HeaderValue::from_static(file.kind.media_type())),
        (header::CONTENT_SECURITY_POLICY, HeaderValue::from_static("default-src 'none'; sandbox")),
        (header::CONTENT_DISPOSITION, disposition(&file.name)),
    ];
    Ok((headers, content).into_response())
}

/// To be kept under its own name (RFC 6266, RFC 8187).
fn disposition(name: &str) -> HeaderValue {
    let spelt: String = name
        .bytes()
        .map(|byte| match byte {
            b'a'..=b'z' | b'A'..=b'Z' | b'0'..=b'9' | b'.' | b'-' | b'_' => char::from(byte).to_string(),
            other => format!("%{other:02X}"),
        })
        .collect();
    HeaderValue::from_str(&format!("attachment; filename*=UTF-8''{spelt}"))
        .unwrap_or(HeaderValue::from_static("attachment"))
}
