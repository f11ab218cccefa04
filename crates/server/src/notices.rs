//! Notices: the bell of whoever asks, what they wish to be sent, and other programs that are told.

use axum::extract::State;
use axum::http::StatusCode;
use axum::{Extension, Json};
use chrono::{DateTime, Utc};
use quality::notice::NoticeKind;
use quality::webhook::secret_of;
use serde::{Deserialize, Serialize};
use store::notices::{Bell, Webhook, WebhookView, Wishes};
use store::people::Person;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::app::App;
use crate::json::{Body, Path, bounded};
use crate::problem::Problem;

/// What concerns whoever asks, the latest first.
#[utoipa::path(get, path = "/api/me/notices", tag = "notices", responses((status = 200, body = Bell)))]
pub async fn bell(State(app): State<App>, Extension(person): Extension<Person>) -> Result<Json<Bell>, Problem> {
    Ok(Json(store::notices::bell(&app.pool, &person, Utc::now()).await?))
}

/// Up to when.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SeenUntil {
    /// When the latest that was seen was raised.
    until: DateTime<Utc>,
}

/// Keeps that whoever asks has seen what stands there.
#[utoipa::path(post, path = "/api/me/notices/seen", tag = "notices", request_body = SeenUntil,
    responses((status = 204)))]
pub async fn notices_seen(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(seen): Body<SeenUntil>,
) -> Result<StatusCode, Problem> {
    // Nobody has seen what is to come.
    store::notices::seen(&app.pool, person.id, bounded(seen.until).min(Utc::now())).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// What somebody wishes to be sent by mail, and what there is to wish for.
#[derive(Serialize, ToSchema)]
pub struct WishesView {
    #[serde(flatten)]
    wishes: Wishes,
    /// Kinds that concern their role.
    offered: Vec<NoticeKind>,
    /// This installation sends mail.
    sends_mail: bool,
}

/// What whoever asks wishes to be sent by mail.
#[utoipa::path(get, path = "/api/me/wishes", tag = "notices", responses((status = 200, body = WishesView)))]
pub async fn wishes(State(app): State<App>, Extension(person): Extension<Person>) -> Result<Json<WishesView>, Problem> {
    let wishes = store::notices::wishes(&app.pool, person.id).await?;
    let offered = NoticeKind::ALL.into_iter().filter(|kind| kind.concerns(person.role)).collect();
    Ok(Json(WishesView { wishes, offered, sends_mail: app.settings.sends_mail }))
}

/// Keeps what whoever asks wishes to be sent from now on.
#[utoipa::path(put, path = "/api/me/wishes", tag = "notices", request_body = Wishes, responses(
    (status = 204),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn choose_wishes(
    State(app): State<App>,
    Extension(person): Extension<Person>,
    Body(wishes): Body<Wishes>,
) -> Result<StatusCode, Problem> {
    store::notices::choose(&app.pool, &person, wishes, Utc::now()).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Other programs that are told, and how they fare.
#[utoipa::path(get, path = "/api/webhooks", tag = "notices", responses((status = 200, body = [WebhookView])))]
pub async fn webhooks(State(app): State<App>) -> Result<Json<Vec<WebhookView>>, Problem> {
    Ok(Json(store::notices::webhooks(&app.pool).await?))
}

/// A webhook that was set up.
#[derive(Serialize, ToSchema)]
pub struct NewWebhook {
    id: Uuid,
    /// Signs what is sent (Standard Webhooks 1.0); shown this once.
    secret: String,
}

/// Sets up another program that is told.
#[utoipa::path(post, path = "/api/webhooks", tag = "notices", request_body = Webhook, responses(
    (status = 201, body = NewWebhook),
    (status = 409, body = Problem, description = "`taken`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn add_webhook(
    State(app): State<App>,
    Extension(by): Extension<Person>,
    Body(webhook): Body<Webhook>,
) -> Result<(StatusCode, Json<NewWebhook>), Problem> {
    let secret = secret_of(rand::random());
    let id = store::notices::set_up_webhook(&app.pool, webhook, &secret, (by.id, Utc::now())).await?;
    Ok((StatusCode::CREATED, Json(NewWebhook { id, secret })))
}

/// A webhook as it shall be.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WebhookChange {
    /// The version that was seen.
    version: i32,
    webhook: Webhook,
}

/// Changes a webhook; one that is not active is told nothing.
#[utoipa::path(put, path = "/api/webhooks/{id}", tag = "notices", params(("id" = Uuid, Path)),
    request_body = WebhookChange, responses(
    (status = 204),
    (status = 404, body = Problem, description = "`missing`"),
    (status = 409, body = Problem, description = "`changed`; `taken`"),
    (status = 422, body = Problem, description = "`field_refused`")))]
pub async fn change_webhook(
    State(app): State<App>,
    Extension(by): Extension<Person>,
    Path(id): Path<Uuid>,
    Body(change): Body<WebhookChange>,
) -> Result<StatusCode, Problem> {
    store::notices::change_webhook(&app.pool, id, change.version, change.webhook, (by.id, Utc::now())).await?;
    Ok(StatusCode::NO_CONTENT)
}
