//! The real server on a real socket, and people with browsers that keep cookies.

#[path = "../../../../store/tests/all/common/mod.rs"]
#[allow(dead_code)] // the tests of the store use the rest
mod site;

use std::sync::LazyLock;
use std::time::Duration;

use futures::{Stream, StreamExt};
use reqwest::{Client, Response, StatusCode};
use serde_json::{Value, json};
use sqlx::PgPool;
use tokio::net::TcpListener;
use tokio_util::sync::CancellationToken;
use uuid::Uuid;

pub use site::{END_CAP, Site, leak_failures, save_wall, wall_thickness};

pub const PASSWORD: &str = "correct horse";

static HASH: LazyLock<String> = LazyLock::new(|| server::hash_password(PASSWORD).unwrap());

pub struct Server {
    pub url: String,
    stop: CancellationToken,
}

impl Drop for Server {
    fn drop(&mut self) {
        self.stop.cancel();
    }
}

/// One more instance on the database.
pub async fn instance(pool: &PgPool) -> Server {
    instance_with(pool, server::Settings::default()).await
}

/// An instance that is set otherwise.
#[allow(dead_code)]
pub async fn instance_with(pool: &PgPool, settings: server::Settings) -> Server {
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let url = format!("http://{}", listener.local_addr().unwrap());
    let stop = CancellationToken::new();
    tokio::spawn(server::serve(listener, pool.clone(), settings, stop.clone()));
    Server { url, stop }
}

/// A site and an instance that serves it.
pub async fn start(pool: &PgPool) -> (Server, Site) {
    store::migrate(pool).await.unwrap();
    let site = site::site(pool, &HASH).await;
    (instance(pool).await, site)
}

/// Somebody with a browser.
pub struct Visitor {
    pub client: Client,
    url: String,
}

#[allow(dead_code)] // each test crate uses its own part
impl Visitor {
    pub fn new(server: &Server) -> Self {
        Self { client: Client::builder().cookie_store(true).build().unwrap(), url: server.url.clone() }
    }

    pub async fn signed_in(server: &Server, login: &str) -> Self {
        let visitor = Self::new(server);
        assert_eq!(visitor.sign_in(login, PASSWORD).await.status(), StatusCode::OK);
        visitor
    }

    pub async fn sign_in(&self, login: &str, password: &str) -> Response {
        self.post("/api/session", json!({"login": login, "password": password})).await
    }

    pub async fn get(&self, path: &str) -> Response {
        self.client.get(format!("{}{path}", self.url)).send().await.unwrap()
    }

    pub async fn post(&self, path: &str, body: Value) -> Response {
        self.client.post(format!("{}{path}", self.url)).json(&body).send().await.unwrap()
    }

    pub async fn put(&self, path: &str, body: Value) -> Response {
        self.client.put(format!("{}{path}", self.url)).json(&body).send().await.unwrap()
    }

    /// Posts bytes as they are.
    pub async fn send(&self, path: &str, body: Vec<u8>) -> Response {
        self.client.post(format!("{}{path}", self.url)).body(body).send().await.unwrap()
    }

    pub async fn without_body(&self, method: &str, path: &str) -> Response {
        let method = method.parse().unwrap();
        self.client.request(method, format!("{}{path}", self.url)).send().await.unwrap()
    }

    /// Enters a sample; gives the status and what came back.
    pub async fn enter(&self, characteristic: Uuid, readings: &[&str]) -> (StatusCode, Value) {
        let body = json!({"device": Uuid::from_u128(1), "entry": Uuid::new_v4(), "readings": readings});
        read(self.post(&format!("/api/characteristics/{characteristic}/samples"), body).await).await
    }
}

pub async fn read(response: Response) -> (StatusCode, Value) {
    (response.status(), response.json().await.unwrap())
}

/// The stream's events as `(event, data)`.
#[allow(dead_code)]
pub fn events(response: Response) -> impl Stream<Item = (String, Value)> + Unpin {
    events_by_id(response).map(|(_, event, data)| (event, data))
}

/// The events of a stream with their ids, before which each of them is told again.
pub fn events_by_id(response: Response) -> impl Stream<Item = (String, String, Value)> + Unpin {
    let chunks = response.bytes_stream().map(|chunk| String::from_utf8(chunk.unwrap().to_vec()).unwrap());
    Box::pin(chunks.flat_map(|chunk| {
        let all: Vec<_> = chunk
            .split("\n\n")
            .filter_map(|event| {
                let field = |name: &str| event.lines().find_map(|line| line.strip_prefix(name));
                let id = field("id: ").unwrap_or_default().to_owned();
                Some((id, field("event: ")?.to_owned(), serde_json::from_str(field("data: ")?).unwrap()))
            })
            .collect();
        futures::stream::iter(all)
    }))
}

/// The next event.
#[allow(dead_code)]
pub async fn next<T>(events: &mut (impl Stream<Item = T> + Unpin)) -> T {
    tokio::time::timeout(Duration::from_secs(60), events.next()).await.expect("an event in time").unwrap()
}

/// A device of the engineer's; its identity and token.
pub async fn device(server: &Server, station: Uuid, link: Value) -> (Uuid, String) {
    let engineer = Visitor::signed_in(server, "eve").await;
    let new = json!({"name": "Hall", "stations": [station], "link": link});
    let (status, made) = read(engineer.post("/api/plan/devices", new).await).await;
    assert_eq!(status, StatusCode::CREATED, "{made}");
    (made["id"].as_str().unwrap().parse().unwrap(), made["token"].as_str().unwrap().to_owned())
}

/// Asks with a token.
pub async fn show(server: &Server, path: &str, token: &str) -> Response {
    reqwest::Client::new().get(format!("{}{path}", server.url)).bearer_auth(token).send().await.unwrap()
}
