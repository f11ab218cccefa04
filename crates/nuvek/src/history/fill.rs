//! The site is filled through the door for imports: every sample is judged, and signals are raised.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::Duration as Wait;

use anyhow::{Context, Result};
use chrono::{DateTime, Duration, SubsecRound, Utc};
use quality::characteristic::Characteristic;
use quality::role::Role;
use serde_json::json;
use spc::chart::ChartKind;
use sqlx::PgPool;
use store::characteristics::Belongs;
use store::imports::{Import, start};
use tokio::time::sleep;
use uuid::Uuid;

use super::made::{INSPECTED, Made, Making};
use crate::{bench, plain};

const CHARACTERISTICS: usize = 500;
const CHARACTERISTICS_OF_A_STATION: usize = 25;
/// From which limits come.
const FIRST: usize = 30;

/// What the questions are about.
pub struct Filled {
    /// As long as most.
    pub usual: Uuid,
    /// A tenth of all samples.
    pub longest: Uuid,
    /// Counts, a hundredth of all.
    pub counted: Uuid,
}

/// Who signs in.
pub const PEOPLE: [(&str, Role); 3] =
    [("engineer", Role::Engineer), ("technician", Role::Technician), ("supervisor", Role::Supervisor)];

/// A characteristic that is to be filled.
struct Filling {
    characteristic: Characteristic,
    making: Making,
    many: usize,
}

/// What there is, with `samples` in all.
fn plan(samples: usize) -> Vec<Filling> {
    let (longest, counted) = (samples / 10, samples / 100);
    let each = (samples - longest - counted) / (CHARACTERISTICS - 2);
    let kinds = [('S', "Stain"), ('C', "Chip"), ('K', "Scratch"), ('D', "Dent")];
    let defects = plain::counted(("Defects", "pieces"), (ChartKind::U, INSPECTED), &kinds, 60);
    let kinds = defects.defect_kinds.iter().map(|kind| kind.id).collect();
    let reading = |name: &str, many| Filling {
        characteristic: plain::measured((name, "°C", 1), 1, 60),
        making: Making::Reading,
        many,
    };
    let mut all = vec![
        reading("The longest", longest),
        Filling { characteristic: defects, making: Making::Defects(kinds), many: counted },
    ];
    all.extend((all.len()..CHARACTERISTICS).map(|n| reading(&format!("Temperature {n}"), each)));
    all
}

/// Fills an empty database.
pub async fn fill(pool: &PgPool, samples: usize) -> Result<Filled> {
    let people: Vec<_> = PEOPLE.iter().map(|(login, role)| ((*login).to_owned(), *role)).collect();
    let engineer = *bench::people(pool, &people).await?.first().context("an engineer")?;
    let mut conn = pool.acquire().await?;
    let area = store::sites::add_area(&mut conn, "History").await?;
    let product = store::sites::add_product(&mut conn, "Piece").await?;
    let (mut station, mut ids) = (Uuid::nil(), vec![]);
    let filled = AtomicBool::new(false);
    let bringing = async {
        for (n, one) in plan(samples).into_iter().enumerate() {
            if n % CHARACTERISTICS_OF_A_STATION == 0 {
                station = store::sites::add_station(&mut conn, area, &format!("Kiln {n}"), 0).await?;
            }
            let until = Utc::now().trunc_subsecs(0) - Duration::minutes(1);
            let since = until - Duration::minutes(one.many as i64);
            let belongs = Belongs { station, product, since };
            let id = store::plan::add_characteristic(pool, belongs, &one.characteristic, engineer).await?;
            ids.push(id);
            let made = |from: DateTime<Utc>, many| Made { making: one.making.clone(), many, from, seed: n as u64 };
            let first = FIRST.min(one.many);
            bring_in(pool, (id, engineer), "First", made(since, first)).await?;
            bench::put_in_force(pool, id, (engineer, Utc::now())).await?;
            let rest = made(since + Duration::minutes(first as i64), one.many - first);
            bring_in(pool, (id, engineer), "Then", Made { seed: rest.seed + 1_000_000, ..rest }).await?;
        }
        filled.store(true, Ordering::Relaxed);
        anyhow::Ok(())
    };
    let judging = async {
        loop {
            let last = filled.load(Ordering::Relaxed);
            if store::background::make_waiting(pool).await? == 0 && last {
                return anyhow::Ok(());
            }
            sleep(Wait::from_millis(20)).await;
        }
    };
    tokio::try_join!(bringing, judging)?;
    store::refresh_statistics(pool).await?;
    let id = |n: usize| ids.get(n).copied().context("too few characteristics");
    Ok(Filled { longest: id(0)?, counted: id(1)?, usual: id(CHARACTERISTICS / 2)? })
}

async fn bring_in(pool: &PgPool, (id, person): (Uuid, Uuid), source: &str, made: Made) -> Result<()> {
    let import = Import {
        characteristic: id,
        file: (format!("{source}.csv"), "0".repeat(64)),
        source: source.into(),
        recipe: json!({}),
        key: vec![],
        recipe_id: None,
        stated: None,
        same_list: false,
        person,
        at: Utc::now(),
    };
    if let Some(left) = start(pool, &import, Arc::new(made)).await?.left {
        left.bring_in(pool).await?;
    }
    Ok(())
}
