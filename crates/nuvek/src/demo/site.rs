//! Who and what there is at the site. All names are invented.

use std::collections::HashMap;

use anyhow::{Result, anyhow};
use chrono::{DateTime, Duration, Utc};
use quality::characteristic::Bounds;
use quality::role::Role;
use spc::chart::ChartKind;
use spc::rules::{Preset, RuleSet};
use sqlx::PgPool;
use store::characteristics::NewCharacteristic;
use uuid::Uuid;

use super::process::Process;

/// Everybody at the demo site signs in with this.
const PASSWORD: &str = "tarn-valley";

const PEOPLE: [(&str, &str, Role); 5] = [
    ("tilda", "Tilda Testwell", Role::Technician),
    ("milo", "Milo Mockridge", Role::Technician),
    ("sanna", "Sanna Samplethorpe", Role::Supervisor),
    ("egon", "Egon Examplar", Role::Engineer),
    ("ada", "Ada Adminsworth", Role::Administrator),
];

/// Causes that answers can name.
const CAUSES: [&str; 7] = [
    "New clay lot",
    "Tool worn",
    "Water content of the slip",
    "Kiln burner out of adjustment",
    "Wrong piece measured",
    "Gauge not zeroed",
    "Mould changed",
];

/// The sign-ins, as the demo prints them.
pub fn sign_ins() -> String {
    PEOPLE
        .iter()
        .map(|(login, name, role)| {
            format!("  {login:<6} {PASSWORD}   {name}, {}\n", format!("{role:?}").to_lowercase())
        })
        .collect()
}

/// The site as its history needs it.
pub struct Site {
    pub technicians: Vec<Uuid>,
    pub supervisor: Uuid,
    pub engineer: Uuid,
    pub characteristics: Vec<(Uuid, Process)>,
    pub causes: HashMap<&'static str, Uuid>,
}

/// Weeks of history.
const WEEKS: i64 = 8;

fn bounds(lower: f64, upper: f64) -> Bounds {
    Bounds { lower: Some(lower), upper: Some(upper) }
}

/// Writes people, stations, products and characteristics.
pub async fn build(pool: &PgPool, now: DateTime<Utc>) -> Result<Site> {
    let hash = server::access::hash_password(PASSWORD).map_err(|error| anyhow!(error))?;
    let mut tx = pool.begin().await?;
    let mut people = Vec::new();
    for (login, name, role) in PEOPLE {
        people.push(store::people::add(&mut tx, login, name, role, &hash).await?);
    }
    let mut causes = HashMap::new();
    for (place, cause) in (0..).zip(CAUSES) {
        causes.insert(cause, store::causes::add(&mut tx, cause, place).await?);
    }
    let forming = store::sites::add_area(&mut tx, "Forming").await?;
    let firing = store::sites::add_area(&mut tx, "Firing").await?;
    let finishing = store::sites::add_area(&mut tx, "Finishing").await?;
    let mut stations = Vec::new();
    for (place, (area, name)) in (0..).zip([
        (forming, "Slip preparation"),
        (forming, "Casting line 1"),
        (forming, "Casting line 2"),
        (firing, "Kiln"),
        (finishing, "Leak test"),
    ]) {
        stations.push(store::sites::add_station(&mut tx, area, name, place).await?);
    }
    let slip = store::sites::add_product(&mut tx, "Slip S-4").await?;
    let cartridge = store::sites::add_product(&mut tx, "Cartridge C-20").await?;
    let large = store::sites::add_product(&mut tx, "Cartridge C-40").await?;
    let since = now - Duration::weeks(WEEKS);
    let plan = |steps: &[&str]| steps.iter().map(|step| (*step).to_owned()).collect::<Vec<_>>();
    let casting = plan(&[
        "Measure one more cartridge from the same mould.",
        "Look at the mould for wear and at the slip tank for settling.",
        "Hold the tray until a sample is back within limits.",
    ]);
    let kiln = plan(&["Compare with the second thermocouple.", "Look at the burner flame.", "Call the kiln foreman."]);
    let wet = plan(&["Stir the tank for ten minutes and measure again.", "Check the water dosing."]);
    let bench = plan(&["Zero the gauge and test the same cartridge again.", "Set the tray aside and mark it."]);
    #[rustfmt::skip]
    let rows = [
        // station, product, name, unit, decimals, pieces, minutes, hard bounds, soft bounds, plan, process
        (0, slip, "Viscosity", "mPa·s", 0, 1, 240, bounds(50.0, 900.0), bounds(250.0, 420.0), &wet, Process::one_bad_sample()),
        (1, cartridge, "Wall thickness", "mm", 2, 5, 60, bounds(1.0, 15.0), bounds(5.6, 6.8), &casting, Process::new_clay_lot()),
        (2, large, "Wall thickness", "mm", 2, 5, 60, bounds(1.0, 15.0), bounds(7.2, 8.6), &casting, Process::tool_wear()),
        (3, cartridge, "Peak temperature", "°C", 0, 1, 120, bounds(700.0, 1400.0), bounds(1080.0, 1160.0), &kiln, Process::sent_back()),
        (3, cartridge, "Firing shrinkage", "%", 2, 4, 240, bounds(0.0, 30.0), bounds(10.5, 13.5), &kiln, Process::waiting_for_review()),
        (4, cartridge, "Flow rate", "mL/min", 0, 3, 120, bounds(0.0, 3000.0), bounds(700.0, 1000.0), &bench, Process::one_open()),
        (4, large, "Burst pressure", "bar", 1, 2, 480, bounds(0.0, 60.0), bounds(14.0, 26.0), &bench, Process::on_trial()),
    ];
    let mut characteristics = Vec::new();
    for (station, product, name, unit, decimals, pieces, minutes, hard, soft, plan, process) in rows {
        let new = NewCharacteristic {
            station: stations[station],
            product,
            name: name.to_owned(),
            unit: unit.to_owned(),
            decimals,
            chart: if pieces == 1 { ChartKind::IMr } else { ChartKind::XbarR },
            subgroup_size: pieces,
            rule_set: RuleSet::Preset(Preset::WesternElectric),
            interval_minutes: minutes,
            hard_bounds: hard,
            soft_bounds: soft,
            reaction_plan: plan.clone(),
            created_at: since,
        };
        characteristics.push((store::characteristics::add(&mut tx, &new).await?, process));
    }
    tx.commit().await?;
    Ok(Site { technicians: people[..2].to_vec(), supervisor: people[2], engineer: people[3], characteristics, causes })
}
