//! A site to put load on: many people, many characteristics with limits in force.

use anyhow::Result;
use chrono::{Duration, Utc};
use quality::device::Link;
use quality::entry::{Accepted, Tags};
use quality::role::Role;
use quality::sample::Content;
use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;
use reqwest::Client;
use sqlx::PgPool;
use store::characteristics::Belongs;
use store::devices::NewDevice;
use store::samples::{NewSample, Visit};
use uuid::Uuid;

use super::size::{DEVICES, TECHNICIANS, TECHNICIANS_EACH};
use crate::{bench, plain};

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

pub async fn build(pool: &PgPool, client: &Client, url: &str) -> Result<Site> {
    let mut conn = pool.acquire().await?;
    let logins = (0..TECHNICIANS).map(|n| format!("technician{n}"));
    let mut people = vec![("engineer".to_owned(), Role::Engineer)];
    people.extend(logins.map(|login| (login, Role::Technician)));
    let engineer = bench::people(pool, &people).await?[0];
    let area = store::sites::add_area(&mut conn, "Load").await?;
    let product = store::sites::add_product(&mut conn, "Load piece").await?;
    let mut random = ChaCha8Rng::seed_from_u64(1);
    let mut technicians = Vec::new();
    let mut characteristic = Uuid::nil();
    for (n, (login, _)) in people[1..].iter().enumerate() {
        if n % TECHNICIANS_EACH == 0 {
            let station = store::sites::add_station(&mut conn, area, &format!("Line {n}"), 0).await?;
            characteristic = add(pool, (station, product), engineer, 5, &mut random).await?;
        }
        let cookie = bench::sign_in(client, url, login).await?;
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
    let (unit, decimals) = if single { ("°C", 1) } else { ("mm", 2) };
    let name = format!("Characteristic {}", Uuid::new_v4());
    let new = plain::measured((&name, unit, decimals), pieces, 60);
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
    bench::put_in_force(pool, id, (engineer, since)).await?;
    Ok(id)
}
