//! Calls to other programs by HTTP, on the networks that this installation allows.

use std::sync::{Arc, LazyLock};

use http_body_util::{BodyExt, Full, Limited};
use hyper::body::Bytes;
use hyper::header::{HOST, HeaderValue, USER_AGENT};
use hyper::{Request, StatusCode};
use hyper_util::rt::TokioIo;
use tokio::io::{AsyncRead, AsyncWrite};
use tokio::net::TcpStream;
use tokio_rustls::TlsConnector;
use tokio_rustls::rustls::pki_types::ServerName;
use tokio_rustls::rustls::{self, ClientConfig, RootCertStore};
use url::Url;

use crate::networks::{Networks, NotThere};

/// The certificates that the system trusts, read once.
static TLS: LazyLock<Option<Arc<ClientConfig>>> = LazyLock::new(|| {
    let mut roots = RootCertStore::empty();
    roots.add_parsable_certificates(rustls_native_certs::load_native_certs().certs);
    let provider = Arc::new(rustls::crypto::ring::default_provider());
    let config = ClientConfig::builder_with_provider(provider).with_safe_default_protocol_versions().ok()?;
    Some(Arc::new(config.with_root_certificates(roots).with_no_client_auth()))
});

/// What was answered.
pub(crate) struct Answer {
    pub status: StatusCode,
    /// As far as it was asked for.
    pub body: Bytes,
}

/// Path and query of an address, as they stand in a request.
pub(crate) fn path(url: &Url) -> String {
    match url.query() {
        Some(query) => format!("{}?{query}", url.path()),
        None => url.path().to_owned(),
    }
}

/// Sends a request to where `url` leads, and reads at most `most` bytes of the answer; with 0 it looks at the status alone,
/// since what is said beside it may be endless. Nothing is followed elsewhere.
///
/// # Errors
/// Why there was no answer, in short.
pub(crate) async fn call(
    networks: &Networks,
    url: &Url,
    mut request: Request<Full<Bytes>>,
    most: usize,
) -> Result<Answer, String> {
    let (host, port) = (url.host_str().ok_or("no host")?, url.port_or_known_default().ok_or("no port")?);
    let named = if url.port().is_some() { format!("{host}:{port}") } else { host.to_owned() };
    let headers = request.headers_mut();
    headers.insert(HOST, HeaderValue::from_str(&named).map_err(|error| error.to_string())?);
    headers.insert(USER_AGENT, HeaderValue::from_static(concat!("nuvek/", env!("CARGO_PKG_VERSION"))));
    // It is connected to what was looked up and allowed, so that a name cannot mean something else a moment later.
    let at = networks.find(&format!("{host}:{port}")).await.map_err(|not_there| match not_there {
        NotThere::Unknown => format!("{host} is not known"),
        NotThere::Elsewhere(at) => format!("{host} is at {at}, on none of the networks that are allowed"),
    })?;
    let stream = TcpStream::connect(at).await.map_err(|error| format!("{at}: {error}"))?;
    if url.scheme() != "https" {
        return speak(stream, request, most).await;
    }
    let tls = TLS.clone().ok_or("no TLS")?;
    let name = ServerName::try_from(host.trim_matches(['[', ']']).to_owned()).map_err(|error| error.to_string())?;
    speak(TlsConnector::from(tls).connect(name, stream).await.map_err(|error| error.to_string())?, request, most).await
}

async fn speak<S>(stream: S, request: Request<Full<Bytes>>, most: usize) -> Result<Answer, String>
where
    S: AsyncRead + AsyncWrite + Unpin + Send + 'static,
{
    let (mut sender, connection) =
        hyper::client::conn::http1::handshake(TokioIo::new(stream)).await.map_err(|error| error.to_string())?;
    let connection = tokio::spawn(connection);
    let answer = sender.send_request(request).await.map_err(|error| error.to_string());
    let read = match answer {
        Err(error) => Err(error),
        Ok(answer) if most == 0 => Ok(Answer { status: answer.status(), body: Bytes::new() }),
        Ok(answer) => {
            let status = answer.status();
            let body = Limited::new(answer.into_body(), most).collect().await;
            body.map(|body| Answer { status, body: body.to_bytes() }).map_err(|error| error.to_string())
        }
    };
    connection.abort();
    read
}
