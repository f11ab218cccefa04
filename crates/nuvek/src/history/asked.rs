//! What people ask of the server, and how long each waits.

use std::time::Instant;

use anyhow::{Result, ensure};
use rand::Rng;
use reqwest::{Client, Method, RequestBuilder};
use serde_json::{Value, json};
use uuid::Uuid;

use super::fill::{Filled, PEOPLE};
use super::made::IN_CONTROL;
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

/// Farther from what is usual than any sample that it was filled with.
const OUTSIDE: f64 = 20.0;

const fn read(what: &'static str, by: &'static str, path: fn(&Filled) -> String) -> Asked {
    Asked { what, times: READ, by, method: Method::GET, path, body: |_| Value::Null }
}

const fn save(what: &'static str, path: fn(&Filled) -> String, body: fn(&Filled) -> Value) -> Asked {
    Asked { what, times: SAVES, by: "technician", method: Method::POST, path, body }
}

fn sample(reading: f64) -> Value {
    let readings = [format!("{reading:.1}")];
    json!({"device": Uuid::new_v4(), "entry": Uuid::new_v4(), "readings": readings, "confirmed": true})
}

/// Within the limits, each another.
fn in_control() -> Value {
    sample(IN_CONTROL + rand::rng().random_range(-2.0..2.0))
}

/// Outside the limits, to either side, so that not all of them are one pattern.
fn outside() -> Value {
    sample(IN_CONTROL + if rand::rng().random() { OUTSIDE } else { -OUTSIDE })
}

fn samples_of(characteristic: Uuid) -> String {
    format!("characteristics/{characteristic}/samples")
}

/// In the order in which they are put.
pub static ASKED: [Asked; 13] = [
    save("a sample is saved", |site| samples_of(site.usual), |_| in_control()),
    save("a sample is saved where most are", |site| samples_of(site.longest), |_| in_control()),
    save("a sample is saved there that raises a signal", |site| samples_of(site.longest), |_| outside()),
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
