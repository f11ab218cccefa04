//! Every route stands behind a permission; who is let through is known to the handler.

use axum::RequestExt;
use axum::extract::{MatchedPath, RawPathParams, Request, State};
use axum::http::Method;
use axum::middleware::Next;
use axum::response::Response;
use quality::object::ObjectKind;
use quality::role::Permission;
use store::people::Person;
use tower_sessions::Session;
use uuid::Uuid;

use crate::access::signed_in;
use crate::app::App;
use crate::failure::Failure;
use crate::problem::Problem;
use crate::tokens;

/// Lets the request through when somebody is signed in, with the person as an extension. What somebody needs to choose
/// a password of their own stands behind nothing more.
pub async fn known(
    State(app): State<App>,
    session: Session,
    mut request: Request,
    next: Next,
) -> Result<Response, Problem> {
    let person = signed_in(&app.pool, &session).await?.ok_or(Failure::NotSignedIn {})?;
    request.extensions_mut().insert(person);
    Ok(next.run(request).await)
}

/// Lets the request through when the role of who is signed in, or of the program that shows its token, carries the
/// permission, and the object that the path names is one of theirs where they are kept to some.
pub async fn require(
    State((app, permission)): State<(App, Permission)>,
    session: Session,
    mut request: Request,
    next: Next,
) -> Result<Response, Problem> {
    // A program reads, and does nothing else.
    let reads = permission == Permission::Read && request.method() == Method::GET;
    let program = if reads { tokens::program(&app.pool, request.headers()).await? } else { None };
    let person = match program {
        Some(program) => program,
        None => signed_in(&app.pool, &session).await?.ok_or(Failure::NotSignedIn {})?,
    };
    if person.password_is_first {
        return Err(Failure::PasswordToChoose {}.into());
    }
    if !person.role.may(permission) {
        return Err(Failure::NotAllowed { role: person.role }.into());
    }
    if let Some(stations) = person.sees_only() {
        in_sight(&app, &person, stations, &mut request).await?;
    }
    if person.bound && permission.enters() {
        at_their_stations(&app, &person, &mut request).await?;
    }
    request.extensions_mut().insert(person);
    Ok(next.run(request).await)
}

/// The object that a path names: the first one, to which all that follows belongs.
async fn named(request: &mut Request) -> Option<(Option<ObjectKind>, Uuid)> {
    let path = request.extensions().get::<MatchedPath>()?.as_str().to_owned();
    let before = path.split('/').take_while(|part| !part.starts_with('{')).last()?;
    let params: RawPathParams = request.extract_parts().await.ok()?;
    let id = params.iter().next()?.1.parse().ok()?;
    let kind = match before {
        "cause-trees" => Some(ObjectKind::CauseTree),
        "characteristics" => Some(ObjectKind::Characteristic),
        // Theirs alone, as the handler sees to.
        "filters" => return None,
        "episodes" => Some(ObjectKind::Episode),
        "files" => Some(ObjectKind::File),
        "offers" => Some(ObjectKind::Offer),
        "runs" => Some(ObjectKind::Run),
        "samples" => Some(ObjectKind::Sample),
        "signatures" => Some(ObjectKind::Signature),
        "studies" => Some(ObjectKind::Study),
        "stations" => Some(ObjectKind::Station),
        _ => None,
    };
    Some((kind, id))
}

/// What they are kept from is not there for them; nor is what belongs to no station.
async fn in_sight(app: &App, person: &Person, stations: &[Uuid], request: &mut Request) -> Result<(), Problem> {
    let Some((kind, id)) = named(request).await else { return Ok(()) };
    let kind = kind.ok_or(Failure::NotAllowed { role: person.role })?;
    let of = store::places::stations_of(&app.pool, kind, id).await?.unwrap_or_default();
    if of.is_empty() || of.iter().any(|station| !stations.contains(station)) {
        return Err(Failure::Missing { object: kind }.into());
    }
    Ok(())
}

async fn at_their_stations(app: &App, person: &Person, request: &mut Request) -> Result<(), Problem> {
    let Some((Some(kind), id)) = named(request).await else { return Ok(()) };
    let of = store::places::stations_of(&app.pool, kind, id).await?.unwrap_or_default();
    if of.iter().any(|station| !person.stations.contains(station)) {
        return Err(Failure::NotYourStation {}.into());
    }
    Ok(())
}
