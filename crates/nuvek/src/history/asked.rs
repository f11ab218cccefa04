//! What people ask of the server, and how long each waits.

use std::time::Instant;

use anyhow::{Result, ensure};
use reqwest::{Client, Method, RequestBuilder};
use serde_json::{Value, json};
use uuid::Uuid;

use super::fill::{Filled, PEOPLE};
use crate::bench::{Server, sign_in};

/// A question, and how often it is put to each of the two.
pub struct Asked {
    pub what: &'static str,
    pub times: usize,
    by: &'static str,
    method: Method,
    path: fn(&Filled) -> String,
    body: fn(&Filled) -> Value,
}

const READ: usize = 25;
const SAVES: usize = 200;

const fn read(what: &'static str, by: &'static str, path: fn(&Filled) -> String) -> Asked {
    Asked { what, times: READ, by, method: Method::GET, path, body: |_| Value::Null }
}

const fn save(what: &'static str, path: fn(&Filled) -> String) -> Asked {
    Asked {
        what,
        times: SAVES,
        by: "technician",
        method: Method::POST,
        path,
        body: |_| json!({"device": Uuid::new_v4(), "entry": Uuid::new_v4(), "readings": ["330.1"], "confirmed": true}),
    }
}

/// In the order in which they are put.
pub static ASKED: [Asked; 12] = [
    save("a sample is saved", |site| format!("characteristics/{}/samples", site.usual)),
    save("a sample is saved where most are", |site| format!("characteristics/{}/samples", site.longest)),
    read("rounds", "technician", |_| "rounds".into()),
    read("a chart", "technician", |site| format!("characteristics/{}/chart", site.usual)),
    read("a chart where most samples are", "technician", |site| format!("characteristics/{}/chart", site.longest)),
    read("the small charts, all of them", "technician", |_| "charts".into()),
    read("signals that wait for an answer", "technician", |_| "episodes?waiting=true".into()),
    read("how many they are", "technician", |_| "episodes/count?waiting=true".into()),
    read("signals to review", "supervisor", |_| "episodes?to_review=true".into()),
    read("limits to look at", "engineer", |_| "limits/to-look-at".into()),
    read("the trail", "engineer", |_| "trail".into()),
    Asked {
        what: "defects by kind, a hundredth of all samples",
        times: READ,
        by: "engineer",
        method: Method::POST,
        path: |_| "studies/answer".into(),
        body: |site| json!({"sort": "defects", "of": {"characteristic": site.counted}}),
    },
];

/// A site that is asked.
pub struct Answering {
    client: Client,
    pub server: Server,
    pub site: Filled,
    cookies: Vec<(&'static str, String)>,
}

impl Answering {
    /// Starts its server, and signs everybody in.
    pub async fn start(database: &str, site: Filled) -> Result<Self> {
        let client = Client::new();
        let server = Server::start(database, &client).await?;
        let mut cookies = vec![];
        for (login, _) in PEOPLE {
            cookies.push((login, sign_in(&client, &server.url, login).await?));
        }
        Ok(Self { client, server, site, cookies })
    }

    fn request(&self, asked: &Asked) -> RequestBuilder {
        let url = format!("{}/api/{}", self.server.url, (asked.path)(&self.site));
        let mut request = self.client.request(asked.method.clone(), url);
        for (_, cookie) in self.cookies.iter().filter(|(login, _)| *login == asked.by) {
            request = request.header("cookie", cookie);
        }
        match (asked.body)(&self.site) {
            Value::Null => request,
            body => request.json(&body),
        }
    }

    /// How long the whole answer took, in ms.
    pub async fn ask(&self, asked: &Asked) -> Result<f64> {
        let request = self.request(asked);
        let begun = Instant::now();
        let answer = request.send().await?;
        let status = answer.status();
        let body = answer.bytes().await?;
        ensure!(status.is_success(), "{}: {status}: {}", asked.what, String::from_utf8_lossy(&body));
        Ok(begun.elapsed().as_secs_f64() * 1e3)
    }
}
