//! The shipped interface: built web files inside the binary.

use axum::http::{HeaderValue, StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};
use rand::Rng;
use rust_embed::RustEmbed;

/// The files that the web build leaves; a debug build reads them from the folder.
#[derive(RustEmbed)]
#[folder = "../../web/dist"]
#[allow_missing = true]
struct Files;

/// Stands in the page for the number that lets our own styles through the content security policy.
const NONCE: &str = "__NONCE__";

/// A file of the interface, or the page itself for every address that is no file: the page knows
/// the way from there.
pub async fn file(uri: Uri) -> Response {
    let path = uri.path().trim_start_matches('/');
    match Files::get(path).filter(|_| path != "index.html") {
        Some(file) => {
            let kind = mime_guess::from_path(path).first_or_octet_stream();
            // Names under assets/ carry a hash of their content.
            let keep = if path.starts_with("assets/") { "public, max-age=31536000, immutable" } else { "no-cache" };
            let headers = [(header::CONTENT_TYPE, kind.as_ref()), (header::CACHE_CONTROL, keep)];
            (headers, file.data).into_response()
        }
        None if path.starts_with("assets/") || path.starts_with("api/") => StatusCode::NOT_FOUND.into_response(),
        None => page(),
    }
}

fn page() -> Response {
    let Some(page) = Files::get("index.html") else {
        return (StatusCode::NOT_FOUND, "the interface has not been built").into_response();
    };
    let nonce = format!("{:032x}", rand::rng().random::<u128>());
    let html = String::from_utf8_lossy(&page.data).replace(NONCE, &nonce);
    let mut response = ([(header::CONTENT_TYPE, "text/html; charset=utf-8")], html).into_response();
    let headers = response.headers_mut();
    headers.insert(header::CACHE_CONTROL, HeaderValue::from_static("no-store"));
    if let Ok(policy) = HeaderValue::from_str(&policy(&format!("'self' 'nonce-{nonce}'"))) {
        headers.insert(header::CONTENT_SECURITY_POLICY, policy);
    }
    response
}

/// What a page may load: only what ships with the server; no inline script, no frame around it.
pub(crate) fn policy(styles: &str) -> String {
    format!(
        "default-src 'none'; script-src 'self'; style-src {styles}; img-src 'self' data:; font-src 'self'; \
         connect-src 'self'; manifest-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
    )
}
