//! Listens to PostgreSQL's notifications, and hands them to every open stream of this instance.

use std::sync::Arc;
use std::time::{Duration, Instant};

use futures::{Stream, StreamExt, stream};
use serde::Serialize;
use sqlx::PgPool;
use sqlx::postgres::PgListener;
use store::charts::AddedPoint;
use store::news::News;
use tokio::sync::broadcast;
use tokio_stream::wrappers::BroadcastStream;
use tokio_util::sync::CancellationToken;
use tower_sessions::session::Id;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::concerned::Concerned;

/// How many messages a slow stream may fall behind before it is told to look at everything again.
const BEHIND_AT_MOST: usize = 256;

/// What comes sooner after something told is told with the next: to a browser each piece that arrives costs more than
/// what it says, and devices can save hundreds of samples a second.
const TOGETHER: Duration = Duration::from_millis(20);

/// What streams are told.
#[derive(Debug, Clone)]
pub enum Message {
    /// News, as JSON text.
    News(String),
    /// A session of this instance has ended, and its streams with it.
    Ended(Id),
    /// Something may have been missed.
    Resync,
}

/// News as it is sent: a sample that was added comes with its point, so that no screen asks for the whole chart.
#[derive(Debug, Serialize, ToSchema)]
pub struct LiveNews {
    #[serde(flatten)]
    news: News,
    point: Option<AddedPoint>,
}

/// So many points are looked up a second; where more samples come, screens look at charts again.
const POINTS_A_SECOND: u32 = 40;
/// A point that takes longer holds up other news.
const POINT_AT_MOST: Duration = Duration::from_millis(500);

/// How many points were looked up in this second.
struct Budget {
    began: Instant,
    used: u32,
}

impl Default for Budget {
    fn default() -> Self {
        Self { began: Instant::now(), used: 0 }
    }
}

impl Budget {
    fn take(&mut self) -> bool {
        if self.began.elapsed() > Duration::from_secs(1) {
            *self = Self::default();
        }
        self.used += 1;
        self.used <= POINTS_A_SECOND
    }
}

/// News with the point of the sample that it tells of, where one was added; it is looked up once for all streams.
async fn with_point(pool: &PgPool, budget: &mut Budget, text: &str) -> String {
    let Ok(news @ News::Sample { characteristic, added: Some(number) }) = serde_json::from_str(text) else {
        return text.to_owned();
    };
    if !budget.take() {
        return text.to_owned();
    }
    let point = tokio::time::timeout(POINT_AT_MOST, store::charts::added(pool, characteristic, number)).await;
    let point = point.ok().and_then(|found| {
        found.inspect_err(|error| tracing::warn!(%error, "the point of a new sample could not be read")).ok()
    });
    serde_json::to_string(&LiveNews { news, point }).unwrap_or_else(|_| text.to_owned())
}

/// Hands news to every open stream of this instance.
#[derive(Clone)]
pub struct Listener {
    told: broadcast::Sender<Message>,
    concerned: Arc<Concerned>,
}

impl Listener {
    /// Starts listening on the database.
    pub fn start(pool: PgPool, shutdown: CancellationToken) -> Self {
        let (told, _) = broadcast::channel(BEHIND_AT_MOST);
        let listener = Self { told, concerned: Arc::default() };
        let listening = listener.clone();
        tokio::spawn(async move { shutdown.run_until_cancelled(listening.listen(pool)).await });
        listener
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
        let mut budget = Budget::default();
        loop {
            match listener.try_recv().await? {
                Some(notification) => {
                    let text = notification.payload();
                    // Nothing is looked up where nobody listens.
                    let news = match self.told.receiver_count() {
                        0 => text.to_owned(),
                        _ => with_point(pool, &mut budget, text).await,
                    };
                    self.tell(Message::News(news));
                }
                // The listener has connected again; what was told in between is lost.
                None => self.tell(Message::Resync),
            }
        }
    }

    /// Whether news concerns one of some stations, to which whoever listens is kept.
    pub async fn concerns(&self, pool: &PgPool, stations: &[Uuid], news: &str) -> bool {
        self.concerned.is(pool, stations, news).await
    }

    fn tell(&self, message: Message) {
        // Without any open stream there is nobody to tell.
        let _ = self.told.send(message);
    }

    /// Ends the streams of a session that was signed out.
    pub fn end(&self, session: Option<Id>) {
        if let Some(session) = session {
            self.tell(Message::Ended(session));
        }
    }

    /// What is told from now on: at once, and what comes soon after it together.
    pub fn messages(&self) -> impl Stream<Item = Message> + use<> {
        let each = BroadcastStream::new(self.told.subscribe()).map(|message| message.unwrap_or(Message::Resync));
        tokio_stream::StreamExt::throttle(each.ready_chunks(BEHIND_AT_MOST), TOGETHER).flat_map(stream::iter)
    }
}
