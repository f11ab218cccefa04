//! A site to put load on: many people, many characteristics with limits in force.

use anyhow::{Context, Result, ensure};
use chrono::{Duration, Utc};
use quality::account::Account;
use quality::characteristic::{Bounds, Characteristic, Kind, Sampling, Specification, Taken, usual_k};
use quality::device::Link;
use quality::entry::{Accepted, Tags};
use quality::limits::NewLimits;
use quality::role::Role;
use quality::sample::Content;
use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;
use reqwest::Client;
use serde_json::json;
use spc::chart::{ChartKind, ChartOptions};
use spc::rules::{Preset, RuleSet};
use sqlx::PgPool;
use store::characteristics::Belongs;
use store::devices::NewDevice;
use store::limits::LimitsChange;
use store::people::NewPerson;
use store::samples::{NewSample, Visit};
use uuid::Uuid;

use super::size::{DEVICES, TECHNICIANS, TECHNICIANS_EACH};

const PASSWORD: &str = "load and nothing else";
const CHARACTERISTICS_OF_A_DEVICE: usize = 5;
/// History of each characteristic, from which its limits come.
const HISTORY: i64 = 30;

#[derive(Clone)]
pub struct Technician {
    pub cookie: String,
    pub device: Uuid,
    pub characteristic: Uuid,
}

pub struct Site {
    pub technicians: Vec<Technician>,
    /// Token and characteristics of each.
    pub devices: Vec<(String, Vec<Uuid>)>,
}

/// A reading of a process in control, as its history and the load both have them.
pub fn reading(random: &mut ChaCha8Rng, single: bool) -> f64 {
    let (mean, sigma) = if single { (1120.0, 8.0) } else { (6.2, 0.08) };
    // A sum of three is near enough to normal, and has bounds.
    let noise: f64 = (0..3).map(|_| random.random_range(-1.0..1.0)).sum();
    mean + sigma * noise
}

async fn person(pool: &PgPool, login: &str, role: Role, password_hash: &str) -> Result<Uuid> {
    let account = Account::everywhere(login, role);
    let new = NewPerson { login, account, password_hash, password_is_first: false };
    Ok(store::people::add(pool, new, None, Utc::now()).await?)
}

pub async fn build(pool: &PgPool, client: &Client, url: &str) -> Result<Site> {
    let hash = server::hash_password(PASSWORD).map_err(|error| anyhow::anyhow!(error))?;
    let mut conn = pool.acquire().await?;
    let engineer = person(pool, "engineer", Role::Engineer, &hash).await?;
    let area = store::sites::add_area(&mut conn, "Load").await?;
    let product = store::sites::add_product(&mut conn, "Load piece").await?;
    let mut random = ChaCha8Rng::seed_from_u64(1);
    let mut technicians = Vec::new();
    let mut characteristic = Uuid::nil();
    for n in 0..TECHNICIANS {
        if n % TECHNICIANS_EACH == 0 {
            let station = store::sites::add_station(&mut conn, area, &format!("Line {n}"), 0).await?;
            characteristic = add(pool, (station, product), engineer, 5, &mut random).await?;
        }
        let login = format!("technician{n}");
        person(pool, &login, Role::Technician, &hash).await?;
        let cookie = sign_in(client, url, &login).await?;
        technicians.push(Technician { cookie, device: Uuid::new_v4(), characteristic });
    }
    let mut devices = Vec::new();
    for n in 0..DEVICES {
        let station = store::sites::add_station(&mut conn, area, &format!("Kiln {n}"), 0).await?;
        let mut characteristics = Vec::new();
        for _ in 0..CHARACTERISTICS_OF_A_DEVICE {
            characteristics.push(add(pool, (station, product), engineer, 1, &mut random).await?);
        }
        let token = format!("token of device {n}");
        let hash = server::tokens::hash(&token);
        let new = NewDevice { name: format!("Device {n}"), stations: vec![station], link: Link::Ingest };
        store::devices::add(pool, &new, Some(&hash), engineer, Utc::now()).await?;
        devices.push((token, characteristics));
    }
    Ok(Site { technicians, devices })
}

async fn add(
    pool: &PgPool,
    (station, product): (Uuid, Uuid),
    engineer: Uuid,
    pieces: u32,
    random: &mut ChaCha8Rng,
) -> Result<Uuid> {
    let since = Utc::now() - Duration::days(2);
    let single = pieces == 1;
    let new = Characteristic {
        name: format!("Characteristic {}", Uuid::new_v4()),
        kind: Kind::Measured,
        unit: if single { "°C" } else { "mm" }.into(),
        decimals: if single { 1 } else { 2 },
        chart: if single { ChartKind::IMr } else { ChartKind::XbarR },
        options: ChartOptions::default(),
        k: usual_k(),
        subgroup_size: pieces,
        varying: false,
        taken: Taken::Consecutive,
        sampling: Sampling::Minutes { count: 60 },
        rule_set: RuleSet::Preset(Preset::WesternElectric),
        hard_bounds: Bounds::default(),
        soft_bounds: Bounds::default(),
        specification: Specification::default(),
        reaction_plan: vec![],
        escalates_after: 30,
        asked_tags: vec![],
        labels: vec![],
        hidden: false,
        feature: None,
        components: vec![],
        defect_kinds: vec![],
        parts: vec![],
        named_rules: None,
        phase_events: vec![],
        scales: vec![],
        thresholds: Default::default(),
    };
    let id = store::plan::add_characteristic(pool, Belongs { station, product, since }, &new, engineer).await?;
    for n in 0..HISTORY {
        let taken_at = since + Duration::minutes(n);
        let readings: Vec<f64> = (0..pieces).map(|_| reading(random, single)).collect();
        let sample = NewSample {
            characteristic: id,
            device: Uuid::nil(),
            entry: Uuid::new_v4(),
            taken_at,
            arrived_at: taken_at,
            person: engineer,
            visit: Visit::Taken(Accepted {
                content: Content::readings(readings),
                tags: Tags::default(),
                typed_first: vec![],
            }),
        };
        store::samples::save(pool, &sample).await?;
    }
    let mut conn = pool.acquire().await?;
    let phase = store::phases::phases(&mut conn, id).await?.first().context("a phase")?.id;
    let seen = store::limits::version(&mut conn, id).await?;
    drop(conn);
    // Whatever so few points look like: this is about load.
    let limits = NewLimits { reason: Some("For a load.".into()), ..NewLimits::of_phase("First limits") };
    store::limits::change(
        pool,
        id,
        seen,
        &LimitsChange::PutInForce { phase, limits: Box::new(limits) },
        (engineer, since),
    )
    .await?;
    Ok(id)
}

async fn sign_in(client: &Client, url: &str, login: &str) -> Result<String> {
    let body = json!({"login": login, "password": PASSWORD});
    let response = client.post(format!("{url}/api/session")).json(&body).send().await?;
    ensure!(response.status().is_success(), "{login} cannot sign in: {}", response.status());
    let cookies = response.headers().get_all("set-cookie").iter().filter_map(|cookie| cookie.to_str().ok());
    let session = cookies.filter_map(|cookie| cookie.split(';').next()).find(|c| c.starts_with("nuvek_session"));
    Ok(session.context("no session")?.to_owned())
}
