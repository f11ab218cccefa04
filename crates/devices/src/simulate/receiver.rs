use crate::once::compiled_once;
use std::convert::Infallible;
use std::io;

use http_body_util::{BodyExt, Empty, Limited};
use hyper::body::{Bytes, Incoming};
use hyper::service::service_fn;
use hyper::{Request, Response, StatusCode};
use hyper_util::rt::TokioIo;
use quality::webhook::sign;
use serde::Serialize;
use tokio::net::TcpListener;
use tokio::sync::mpsc::UnboundedSender;

/// A program that is told by webhook, and looks at the signature.
#[derive(Debug, Clone)]
pub struct Receiver {
    /// The secret, as it was shown when the webhook was set up.
    pub secret: String,
    /// Hears of what it was told.
    pub hears: UnboundedSender<Told>,
}

/// What it was told.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct Told {
    /// Of the delivery: the same one each time it is tried.
    pub id: String,
    /// It is signed by the secret.
    pub signed: bool,
    pub body: String,
}

/// More is not read.
const AT_MOST: usize = 1024 * 1024;

impl Receiver {
    /// Listens until it is cancelled; what is not signed by the secret is refused.
    ///
    /// # Errors
    /// When the listener fails.
    #[compiled_once]
    pub async fn run(self, listener: TcpListener) -> io::Result<()> {
        loop {
            let (stream, _) = listener.accept().await?;
            let receiver = self.clone();
            let service = service_fn(move |request| {
                let receiver = receiver.clone();
                async move { Ok::<_, Infallible>(receiver.hear(request).await) }
            });
            tokio::spawn(hyper::server::conn::http1::Builder::new().serve_connection(TokioIo::new(stream), service));
        }
    }

    async fn hear(&self, request: Request<Incoming>) -> Response<Empty<Bytes>> {
        let header = |name: &str| {
            request.headers().get(name).and_then(|value| value.to_str().ok()).unwrap_or_default().to_owned()
        };
        let (id, timestamp, signature) =
            (header("webhook-id"), header("webhook-timestamp"), header("webhook-signature"));
        let body = match Limited::new(request.into_body(), AT_MOST).collect().await {
            Ok(body) => String::from_utf8_lossy(&body.to_bytes()).into_owned(),
            Err(_) => return answer(StatusCode::BAD_REQUEST),
        };
        let expected = timestamp.parse().ok().and_then(|timestamp| sign(&self.secret, &id, timestamp, &body));
        let signed = expected.is_some_and(|expected| signature.split(' ').any(|given| given == expected));
        let _ = self.hears.send(Told { id, signed, body });
        answer(if signed { StatusCode::NO_CONTENT } else { StatusCode::UNAUTHORIZED })
    }
}

fn answer(status: StatusCode) -> Response<Empty<Bytes>> {
    let mut response = Response::new(Empty::new());
    *response.status_mut() = status;
    response
}
