//! Listens to PostgreSQL's notifications, and hands them to every open stream of this instance.

use std::sync::Arc;
use std::time::{Duration, Instant};

use futures::{Stream, StreamExt, stream};
use serde::Serialize;
use sqlx::PgPool;
use sqlx::postgres::PgListener;
use store::charts::AddedPoint;
use store::news::News;
use tokio_stream::wrappers::BroadcastStream;
use tokio_util::sync::CancellationToken;
use tower_sessions::session::Id;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::concerned::Concerned;
use crate::told::{BEHIND_AT_MOST, Message, Told};

/// What comes sooner after something told is told with the next: to a browser each piece that arrives costs more than
/// what it says, and devices can save hundreds of samples a second.
const TOGETHER: Duration = Duration::from_millis(20);

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

/// News as it is sent, with the point of the sample that it tells of, where one was added; looked up once for all streams.
async fn with_point(pool: &PgPool, budget: &mut Budget, news: News, text: &str) -> Arc<str> {
    let News::Sample { characteristic, added: Some(number) } = news else { return text.into() };
    if !budget.take() {
        return text.into();
    }
    let point = tokio::time::timeout(POINT_AT_MOST, store::charts::added(pool, characteristic, number)).await;
    let point = point.ok().and_then(|found| {
        found.inspect_err(|error| tracing::warn!(%error, "the point of a new sample could not be read")).ok()
    });
    serde_json::to_string(&LiveNews { news, point }).map_or_else(|_| text.into(), Into::into)
}

/// Hands news to every open stream of this instance.
#[derive(Clone)]
pub struct Listener {
    told: Arc<Told>,
    concerned: Arc<Concerned>,
}

impl Listener {
    /// Starts listening on the database.
    pub fn start(pool: PgPool, shutdown: CancellationToken) -> Self {
        let listener = Self { told: Arc::default(), concerned: Arc::default() };
        let listening = listener.clone();
        tokio::spawn(async move { shutdown.run_until_cancelled(listening.listen(pool)).await });
        listener
    }

    /// Listens until the pool closes; a lost connection is made again.
    async fn listen(&self, pool: PgPool) {
        loop {
            match self.listen_once(&pool).await {
                Err(sqlx::Error::PoolClosed) => return,
                Err(error) => tracing::warn!(%error, "listening for news failed; trying again"),
                Ok(()) => {}
            }
            tokio::time::sleep(Duration::from_secs(1)).await;
        }
    }

    async fn listen_once(&self, pool: &PgPool) -> Result<(), sqlx::Error> {
        let mut listener = PgListener::connect_with(pool).await?;
        listener.listen(store::news::CHANNEL).await?;
        // Nobody has heard what was told before.
        self.told.resync();
        let mut budget = Budget::default();
        loop {
            // Where the listener has connected again, what was told in between is lost.
            let Some(notification) = listener.try_recv().await? else {
                self.told.resync();
                continue;
            };
            let text = notification.payload();
            match serde_json::from_str(text) {
                Ok(news) => {
                    // Nothing is looked up where nobody listens.
                    let text = match self.told.is_heard() {
                        true => with_point(pool, &mut budget, news, text).await,
                        false => text.into(),
                    };
                    self.told.tell(news, text);
                }
                Err(error) => {
                    tracing::warn!(%error, "news of another version of the program");
                    self.told.resync();
                }
            }
        }
    }

    /// Whether news concerns one of some stations, to which whoever listens is kept.
    pub async fn concerns(&self, pool: &PgPool, stations: &[Uuid], news: &News) -> bool {
        self.concerned.is(pool, stations, news).await
    }

    /// Ends the streams of a session that was signed out.
    pub fn end(&self, session: Option<Id>) {
        if let Some(session) = session {
            self.told.end(session);
        }
    }

    /// Where telling has come to: whatever is read from now on knows all that was told up to here.
    pub fn position(&self) -> u64 {
        self.told.position()
    }

    /// What was told since a position, where that is still known, and from now on: at once, and what comes soon after it
    /// together. It begins with `Standing` or `Resync`.
    pub fn messages(&self, since: Option<u64>) -> impl Stream<Item = Message> + use<> {
        let (first, then) = self.told.since(since);
        let told = self.told.clone();
        let each = BroadcastStream::new(then).map(move |message| message.unwrap_or_else(|_| told.resync_at()));
        let then = tokio_stream::StreamExt::throttle(each.ready_chunks(BEHIND_AT_MOST), TOGETHER);
        stream::iter(first).chain(then.flat_map(stream::iter))
    }
}
