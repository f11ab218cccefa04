//! Connections of a device, whoever opens them.

use std::collections::VecDeque;
use std::sync::Arc;
use std::time::Duration;

use quality::device::{Address, Opens, Reason, ResultMapping};
use socket2::{SockRef, TcpKeepalive};
use tokio::net::{TcpListener, TcpStream};
use tokio::time::{sleep, timeout};
use tokio_util::task::AbortOnDropHandle;

use crate::networks::Networks;
use crate::not_there::not_there;
use crate::sink::Sink;
use crate::{astm, gauge};

/// Before another try to connect or to listen.
const AGAIN: Duration = Duration::from_secs(1);

/// A peer that does not answer by then is tried again later.
const ANSWERS_WITHIN: Duration = Duration::from_secs(10);

/// Connections at a time that a device may open: its own, and one that it has lost without a word.
const CONNECTIONS_AT_MOST: usize = 2;

/// A cable that was pulled says nothing. Whoever has been quiet for half a minute is asked whether it
/// is still there, and after three questions without an answer the connection counts as lost.
fn ask_when_quiet(stream: &TcpStream) -> std::io::Result<()> {
    let (quiet, between) = (Duration::from_secs(30), Duration::from_secs(10));
    let asks = TcpKeepalive::new().with_time(quiet).with_interval(between).with_retries(3);
    SockRef::from(stream).set_tcp_keepalive(&asks)
}

/// What is spoken on a connection.
#[derive(Clone)]
pub(crate) enum Speech {
    Gauge,
    Analyser(Arc<[ResultMapping]>),
}

impl Speech {
    /// Speaks until the connection ends.
    async fn speak(self, sink: Sink, stream: TcpStream, opens: Opens) {
        if let Err(error) = ask_when_quiet(&stream) {
            tracing::warn!(%error, "a connection that is lost without a word will not be noticed");
        }
        let ended = match self {
            Self::Gauge => gauge::speak(&sink, stream).await,
            Self::Analyser(results) => astm::speak(&sink, &results, stream).await,
        };
        match (ended, opens) {
            // A device that opens a connection may close it when it has said all.
            (Ok(()), Opens::Device) => {}
            (Ok(()), Opens::Server) => sink.refuse(Reason::ConnectionLost, "").await,
            (Err(error), _) => sink.refuse(Reason::ConnectionLost, &error.to_string()).await,
        }
    }
}

/// Speaks with a device over one connection after another, until it is cancelled.
pub(crate) async fn meet(sink: Sink, networks: Networks, address: Address, speech: Speech) {
    loop {
        match address.opens {
            Opens::Server => match networks.find(&address.at).await {
                Ok(at) => {
                    if let Ok(Ok(stream)) = timeout(ANSWERS_WITHIN, TcpStream::connect(at)).await {
                        speech.clone().speak(sink.clone(), stream, address.opens).await;
                    }
                }
                Err(why) => not_there(&sink, why).await,
            },
            Opens::Device => match TcpListener::bind(&address.at).await {
                Ok(listener) => listen(&sink, &listener, &speech).await,
                Err(error) => tracing::warn!(%error, at = address.at, "cannot listen for a device"),
            },
        }
        sleep(AGAIN).await;
    }
}

async fn listen(sink: &Sink, listener: &TcpListener, speech: &Speech) {
    let mut open: VecDeque<AbortOnDropHandle<()>> = VecDeque::new();
    while let Ok((stream, _)) = listener.accept().await {
        open.retain(|connection| !connection.is_finished());
        if open.len() >= CONNECTIONS_AT_MOST {
            // A device that opens another has lost the oldest.
            open.pop_front();
            sink.refuse(Reason::ConnectionLost, "").await;
        }
        open.push_back(AbortOnDropHandle::new(tokio::spawn(speech.clone().speak(sink.clone(), stream, Opens::Device))));
    }
}
