//! Webhooks: a signed POST to another program, on the networks that this installation allows.

use std::sync::{Arc, LazyLock};

use chrono::Utc;
use http_body_util::Full;
use hyper::body::Bytes;
use hyper::header::{CONTENT_TYPE, HOST, USER_AGENT};
use hyper::{Request, StatusCode};
use hyper_util::rt::TokioIo;
use quality::webhook::sign;
use tokio::io::{AsyncRead, AsyncWrite};
use tokio::net::TcpStream;
use tokio_rustls::TlsConnector;
use tokio_rustls::rustls::pki_types::ServerName;
use tokio_rustls::rustls::{self, ClientConfig, RootCertStore};
use url::Url;
use uuid::Uuid;

use crate::networks::{Networks, NotThere};

/// The certificates that the system trusts, read once.
static TLS: LazyLock<Option<Arc<ClientConfig>>> = LazyLock::new(|| {
    let mut roots = RootCertStore::empty();
    roots.add_parsable_certificates(rustls_native_certs::load_native_certs().certs);
    let provider = Arc::new(rustls::crypto::ring::default_provider());
    let config = ClientConfig::builder_with_provider(provider).with_safe_default_protocol_versions().ok()?;
    Some(Arc::new(config.with_root_certificates(roots).with_no_client_auth()))
});

/// Sends one; why it was not taken otherwise. It is taken with a status of 2xx; nothing is followed elsewhere.
pub(super) async fn send(networks: &Networks, url: &str, secret: &str, id: Uuid, body: String) -> Result<(), String> {
    let url = Url::parse(url).map_err(|error| error.to_string())?;
    let (host, port) = (url.host_str().ok_or("no host")?, url.port_or_known_default().ok_or("no port")?);
    // It is connected to what was looked up and allowed, so that a name cannot mean something else a moment later.
    let at = networks.find(&format!("{host}:{port}")).await.map_err(|not_there| match not_there {
        NotThere::Unknown => format!("{host} is not known"),
        NotThere::Elsewhere(at) => format!("{host} is at {at}, on none of the networks that webhooks may be on"),
    })?;
    let stream = TcpStream::connect(at).await.map_err(|error| format!("{at}: {error}"))?;
    let request = request(&url, (host, port), secret, id, body)?;
    let status = if url.scheme() == "https" {
        let tls = TLS.clone().ok_or("no TLS")?;
        let name = ServerName::try_from(host.trim_matches(['[', ']']).to_owned()).map_err(|error| error.to_string())?;
        let stream = TlsConnector::from(tls).connect(name, stream).await.map_err(|error| error.to_string())?;
        post(stream, request).await?
    } else {
        post(stream, request).await?
    };
    if status.is_success() { Ok(()) } else { Err(format!("answered {}", status.as_u16())) }
}

fn request(
    url: &Url,
    (host, port): (&str, u16),
    secret: &str,
    id: Uuid,
    body: String,
) -> Result<Request<Full<Bytes>>, String> {
    let (id, timestamp) = (id.to_string(), Utc::now().timestamp());
    let signature = sign(secret, &id, timestamp, &body).ok_or("the secret cannot be read")?;
    let path = match url.query() {
        Some(query) => format!("{}?{query}", url.path()),
        None => url.path().to_owned(),
    };
    let host = if url.port().is_some() { format!("{host}:{port}") } else { host.to_owned() };
    Request::post(path)
        .header(HOST, host)
        .header(CONTENT_TYPE, "application/json")
        .header(USER_AGENT, concat!("nuvek/", env!("CARGO_PKG_VERSION")))
        .header("webhook-id", id)
        .header("webhook-timestamp", timestamp)
        .header("webhook-signature", signature)
        .body(Full::new(Bytes::from(body)))
        .map_err(|error| error.to_string())
}

async fn post<S>(stream: S, request: Request<Full<Bytes>>) -> Result<StatusCode, String>
where
    S: AsyncRead + AsyncWrite + Unpin + Send + 'static,
{
    let (mut sender, connection) =
        hyper::client::conn::http1::handshake(TokioIo::new(stream)).await.map_err(|error| error.to_string())?;
    let connection = tokio::spawn(connection);
    let answer = sender.send_request(request).await;
    // What it says beside its status is of no use here, and may be endless.
    connection.abort();
    Ok(answer.map_err(|error| error.to_string())?.status())
}
