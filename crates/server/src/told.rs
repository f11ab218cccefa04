//! What an instance has told its streams last, by number: whoever was away for a moment hears what they have missed.

use std::collections::VecDeque;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use chrono::Utc;
use store::news::News;
use tokio::sync::broadcast::{Receiver, Sender, channel};
use tower_sessions::session::Id;

/// How many messages a stream may be behind before it is told to look at everything again.
pub const BEHIND_AT_MOST: usize = 256;

/// What streams are told; numbers are positions.
#[derive(Debug, Clone)]
pub enum Message {
    /// News, with the JSON text that is sent.
    News(u64, News, Arc<str>),
    /// A session of this instance has ended, and its streams with it.
    Ended(Id),
    /// Nothing was missed up to here.
    Standing(u64),
    /// Something may have been missed up to here.
    Resync(u64),
}

/// What was told, and who hears what is told next.
pub struct Told {
    last: Mutex<Last>,
    hearing: Sender<Message>,
}

struct Last {
    /// The number of the newest message.
    position: u64,
    /// All that was told after this number is still there.
    known_since: u64,
    news: VecDeque<(u64, News, Arc<str>)>,
}

impl Default for Told {
    fn default() -> Self {
        // Numbers begin at the microsecond, so that those of other instances, and of the time before a start, are not
        // among them.
        let position = Utc::now().timestamp_micros().unsigned_abs();
        let last = Last { position, known_since: position, news: VecDeque::with_capacity(BEHIND_AT_MOST) };
        Self { last: Mutex::new(last), hearing: channel(BEHIND_AT_MOST).0 }
    }
}

impl Told {
    fn last(&self) -> MutexGuard<'_, Last> {
        self.last.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn send(&self, message: Message) {
        // Without any open stream there is nobody to tell.
        let _ = self.hearing.send(message);
    }

    pub fn position(&self) -> u64 {
        self.last().position
    }

    pub fn is_heard(&self) -> bool {
        self.hearing.receiver_count() > 0
    }

    /// Tells news. An offer is of its moment: who comes later does not hear of it.
    pub fn tell(&self, news: News, text: Arc<str>) {
        let mut last = self.last();
        last.position += 1;
        let position = last.position;
        if !matches!(news, News::Offer { .. }) {
            if last.news.len() == BEHIND_AT_MOST
                && let Some((number, ..)) = last.news.pop_front()
            {
                last.known_since = number;
            }
            last.news.push_back((position, news, text.clone()));
        }
        // Under the lock, so that whoever begins to listen hears each once.
        self.send(Message::News(position, news, text));
    }

    pub fn end(&self, session: Id) {
        self.send(Message::Ended(session));
    }

    /// Something may have been missed: all that was told before is forgotten.
    pub fn resync(&self) {
        let mut last = self.last();
        last.position += 1;
        last.known_since = last.position;
        last.news.clear();
        self.send(Message::Resync(last.position));
    }

    /// What a stream is told that has fallen too far behind.
    pub fn resync_at(&self) -> Message {
        Message::Resync(self.position())
    }

    /// What was told after a position, and who tells the rest.
    pub fn since(&self, since: Option<u64>) -> (Vec<Message>, Receiver<Message>) {
        let last = self.last();
        let then = self.hearing.subscribe();
        let Some(since) = since.filter(|since| (last.known_since..=last.position).contains(since)) else {
            return (vec![Message::Resync(last.position)], then);
        };
        let missed = last.news.iter().filter(|(number, ..)| *number > since).cloned();
        let missed = missed.map(|(number, news, text)| Message::News(number, news, text));
        (std::iter::once(Message::Standing(since)).chain(missed).collect(), then)
    }
}
