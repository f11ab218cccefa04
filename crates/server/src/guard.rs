//! Every route stands behind a permission; who is let through is known to the handler.

use axum::extract::{Request, State};
use axum::middleware::Next;
use axum::response::Response;
use quality::role::Permission;
use tower_sessions::Session;

use crate::access::signed_in;
use crate::app::App;
use crate::failure::Failure;
use crate::problem::Problem;

/// Lets the request through when the person's role carries the permission, with the person as an
/// extension.
pub async fn require(
    State((app, permission)): State<(App, Permission)>,
    session: Session,
    mut request: Request,
    next: Next,
) -> Result<Response, Problem> {
    let person = signed_in(&app.pool, &session).await?.ok_or(Failure::NotSignedIn {})?;
    if !person.role.may(permission) {
        return Err(Failure::NotAllowed { role: person.role }.into());
    }
    request.extensions_mut().insert(person);
    Ok(next.run(request).await)
}
