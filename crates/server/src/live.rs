//! News as server-sent events, from PostgreSQL's notifications, so that every instance on one
//! database tells of what happened on the others.

use std::convert::Infallible;
use std::time::Duration;

use axum::extract::State;
use axum::response::Sse;
use axum::response::sse::{Event, KeepAlive};
use futures::{Stream, StreamExt, stream};
use sqlx::PgPool;
use sqlx::postgres::PgListener;
use tokio::sync::broadcast;
use tokio_stream::wrappers::BroadcastStream;
use tokio_util::sync::CancellationToken;

use crate::App;

/// A stream ends after this time. The browser connects again, and its session is looked at again.
const STREAM_AT_MOST: Duration = Duration::from_secs(600);

/// How many messages a slow stream may fall behind before it is told to look at everything again.
const BEHIND_AT_MOST: usize = 256;

/// What streams are told.
#[derive(Debug, Clone)]
enum Message {
    /// News, as JSON text.
    News(String),
    /// Something may have been missed.
    Resync,
}

/// Hands news to every open stream of this instance.
#[derive(Clone)]
pub struct Live(broadcast::Sender<Message>);

impl Live {
    /// Starts listening on the database.
    pub fn start(pool: PgPool, shutdown: CancellationToken) -> Self {
        let (sender, _) = broadcast::channel(BEHIND_AT_MOST);
        let live = Self(sender);
        let listening = live.clone();
        tokio::spawn(async move { shutdown.run_until_cancelled(listening.listen(pool)).await });
        live
    }

    /// Listens until the pool closes; a lost connection is made again, and streams are told that
    /// something may have been missed.
    async fn listen(&self, pool: PgPool) {
        loop {
            match self.listen_once(&pool).await {
                Err(sqlx::Error::PoolClosed) => return,
                Err(error) => tracing::warn!(%error, "listening for news failed; trying again"),
                Ok(()) => {}
            }
            self.tell(Message::Resync);
            tokio::time::sleep(Duration::from_secs(1)).await;
        }
    }

    async fn listen_once(&self, pool: &PgPool) -> Result<(), sqlx::Error> {
        let mut listener = PgListener::connect_with(pool).await?;
        listener.listen(store::news::CHANNEL).await?;
        loop {
            match listener.try_recv().await? {
                Some(notification) => self.tell(Message::News(notification.payload().to_owned())),
                // The listener has connected again; what was told in between is lost.
                None => self.tell(Message::Resync),
            }
        }
    }

    fn tell(&self, message: Message) {
        // Without any open stream there is nobody to tell.
        let _ = self.0.send(message);
    }

    fn messages(&self) -> impl Stream<Item = Message> + use<> {
        BroadcastStream::new(self.0.subscribe()).map(|message| message.unwrap_or(Message::Resync))
    }
}

impl From<Message> for Event {
    fn from(message: Message) -> Self {
        match message {
            Message::News(json) => Event::default().event("news").data(json),
            Message::Resync => Event::default().event("resync").data("{}"),
        }
    }
}

/// News as it happens: `news` events carry a `News` object; `resync` says to look at everything
/// again. A stream begins with `resync`, since what happened before it is not repeated.
#[utoipa::path(get, path = "/api/live", tag = "live",
    responses((status = 200, content_type = "text/event-stream", body = store::news::News)))]
pub async fn live(State(app): State<App>) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    let messages = stream::once(async { Message::Resync }).chain(app.live.messages());
    let events = messages
        .map(|message| Ok(message.into()))
        .take_until(app.shutdown.clone().cancelled_owned())
        .take_until(tokio::time::sleep(STREAM_AT_MOST));
    Sse::new(events).keep_alive(KeepAlive::new().interval(Duration::from_secs(15)))
}
