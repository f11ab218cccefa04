//! A bench with one analyte at two levels.

use chrono::{DateTime, Duration, DurationRound, Utc};
use quality::analyte::{Assigned, NewAnalyte, NewLevel};
use quality::entry::{Accepted, Tags};
use quality::sample::Content;
use sqlx::PgPool;
use store::StoreError;
use store::lab::{self, Bench, NewResult, NewRun, RunView};
use uuid::Uuid;

use crate::common::{Site, site};

pub struct Laboratory {
    pub pool: PgPool,
    pub site: Site,
    pub levels: [Uuid; 2],
    pub start: DateTime<Utc>,
}

/// One analyte at two levels, mean 10 and 100, sd 1 and 10.
pub async fn laboratory(pool: &PgPool) -> Laboratory {
    let site = site(pool, "").await;
    let mut conn = pool.acquire().await.unwrap();
    let material = store::sites::add_product(&mut conn, "Control material K-1").await.unwrap();
    let level =
        |name: &str, mean: f64| NewLevel { name: name.into(), material, assigned: Assigned { mean, sd: mean / 10.0 } };
    let new = NewAnalyte {
        station: site.station,
        name: "Assay".into(),
        unit: "mg/kg".into(),
        decimals: 2,
        rules: None,
        levels: vec![level("low", 10.0), level("high", 100.0)],
        reaction_plan: vec![],
    };
    lab::add_analyte(pool, &new, site.engineer, site.since).await.unwrap();
    let bench = bench(pool).await;
    let levels = [bench.analytes[0].levels[0].characteristic, bench.analytes[0].levels[1].characteristic];
    // From midnight on: what is measured within hours belongs to one day and one month.
    let start = (site.since + Duration::days(2)).duration_trunc(Duration::days(1)).unwrap();
    Laboratory { pool: pool.clone(), site, levels, start }
}

pub async fn bench(pool: &PgPool) -> Bench {
    lab::benches(pool, Uuid::nil()).await.unwrap().pop().unwrap()
}

impl Laboratory {
    /// A run to save, with results by their z.
    pub fn new_run(&self, hour: i64, z: [f64; 2]) -> NewRun {
        let result = |(characteristic, value): (Uuid, f64)| NewResult {
            characteristic,
            accepted: Accepted {
                content: Content::readings([value]),
                tags: Tags::from([("reagent lot".into(), format!("R-{hour}"))]),
                typed_first: vec![],
            },
        };
        let at = self.start + Duration::hours(hour);
        NewRun {
            station: self.site.station,
            device: Uuid::from_u128(5),
            entry: Uuid::new_v4(),
            taken_at: at,
            arrived_at: at,
            person: self.site.technician,
            repeats: None,
            results: [(self.levels[0], 10.0 + z[0]), (self.levels[1], 100.0 + 10.0 * z[1])].map(result).to_vec(),
            offers: vec![],
        }
    }

    pub async fn run(&self, hour: i64, z: [f64; 2]) -> RunView {
        lab::save(&self.pool, &self.new_run(hour, z)).await.unwrap().0
    }

    pub async fn release(&self, run: &RunView) -> Result<RunView, StoreError> {
        lab::release(&self.pool, run.id, run.version, self.site.technician, Utc::now()).await
    }
}
