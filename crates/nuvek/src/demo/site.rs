//! Who and what there is at the site. All names are invented.

use std::collections::HashMap;
use std::sync::Arc;

use anyhow::{Result, anyhow};
use chrono::{DateTime, Duration, NaiveTime, Utc};
use quality::account::Account;
use quality::cause::CauseGroup;
use quality::characteristic::Characteristic;
use quality::role::Role;
use quality::shift::Shift;
use sqlx::PgPool;
use store::characteristics::Belongs;
use store::people::NewPerson;
use uuid::Uuid;

use super::characteristics::{self, Row};
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

/// Those who belong somewhere, with the place of their area among the areas.
const PEOPLE_OF_AREAS: [(&str, &str, Role, usize); 2] =
    [("lotta", "Lotta Labcoat", Role::Technician, 3), ("rita", "Rita Readwell", Role::Reader, 1)];

const AREAS: [&str; 4] = ["Forming", "Firing", "Finishing", "Laboratory"];

/// Causes that answers can name, with their group and the area where they occur.
const CAUSES: [(&str, CauseGroup, Option<usize>); 13] = [
    ("New clay lot", CauseGroup::Material, Some(0)),
    ("Tool worn", CauseGroup::Machine, Some(0)),
    ("Water content of the slip", CauseGroup::Material, Some(0)),
    ("Kiln burner out of adjustment", CauseGroup::Machine, Some(1)),
    ("Wrong piece measured", CauseGroup::Measurement, None),
    ("Gauge not zeroed", CauseGroup::Measurement, None),
    ("Mould changed", CauseGroup::Machine, Some(0)),
    ("End caps out of round", CauseGroup::Material, Some(2)),
    ("Setting not as the work instruction says", CauseGroup::Method, None),
    ("Handed over in the middle of a change", CauseGroup::Person, None),
    ("Draught from the yard door", CauseGroup::Surroundings, Some(0)),
    ("Wrong reagent lot on the bench", CauseGroup::Material, Some(3)),
    ("Control material not at room temperature", CauseGroup::Method, Some(3)),
];

/// Where a new lot proposes a phase.
const LOTS_MATTER: [&str; 2] = ["Wall thickness", "Viscosity"];

/// What can happen to a process, and whether it names a lot.
const EVENT_KINDS: [(&str, bool); 7] = [
    ("Tool change", false),
    ("New lot", true),
    ("Maintenance", false),
    ("Cleaning", false),
    ("Stop", false),
    ("Start", false),
    ("Setting changed", false),
];

/// The sign-ins, as the demo prints them.
pub fn sign_ins() -> String {
    let of_areas = PEOPLE_OF_AREAS.iter().map(|(login, name, role, area)| (login, name, role, Some(AREAS[*area])));
    let all = PEOPLE.iter().map(|(login, name, role)| (login, name, role, None)).chain(of_areas);
    all.map(|(login, name, role, area)| {
        let of = area.map(|area| format!(" of {area}")).unwrap_or_default();
        format!("  {login:<6} {PASSWORD}   {name}, {}{of}\n", format!("{role:?}").to_lowercase())
    })
    .collect()
}

/// The site as its history needs it.
pub struct Site {
    pub technicians: Vec<Uuid>,
    pub supervisor: Uuid,
    pub engineer: Uuid,
    /// The station of the laboratory.
    pub bench: Uuid,
    pub characteristics: Vec<(Uuid, Arc<Process>)>,
    pub causes: HashMap<&'static str, Uuid>,
    pub event_kinds: HashMap<&'static str, Uuid>,
}

/// Place of the laboratory's station among the stations.
const BENCH: usize = 7;

/// Weeks of history.
const WEEKS: i64 = 8;

async fn add(pool: &PgPool, login: &str, account: Account, password_hash: &str) -> Result<Uuid> {
    let new = NewPerson { login, account, password_hash, password_is_first: false };
    Ok(store::people::add(pool, new, None, Utc::now()).await?)
}

/// Writes people, stations, products and characteristics.
pub async fn build(pool: &PgPool, now: DateTime<Utc>) -> Result<Site> {
    let hash = server::hash_password(PASSWORD).map_err(|error| anyhow!(error))?;
    let mut people = Vec::new();
    for (login, name, role) in PEOPLE {
        people.push(add(pool, login, Account::everywhere(name, role), &hash).await?);
    }
    let mut conn = pool.acquire().await?;
    let mut event_kinds = HashMap::new();
    for (place, (name, names_lot)) in (0..).zip(EVENT_KINDS) {
        event_kinds.insert(name, store::events::add_kind(&mut conn, name, place, names_lot).await?);
    }
    let shift = |name: &str, hour| {
        let begins = NaiveTime::from_hms_opt(hour, 0, 0).unwrap_or_default();
        Shift { name: name.to_owned(), begins }
    };
    let tarn_valley = store::sites::Site {
        name: "Tarn Valley Filterworks".into(),
        time_zone: "Europe/London".into(),
        shifts: vec![shift("Early", 6), shift("Late", 14), shift("Night", 22)],
    };
    store::sites::set_site(&mut conn, &tarn_valley).await?;
    let mut areas = Vec::new();
    for name in AREAS {
        areas.push(store::sites::add_area(&mut conn, name).await?);
    }
    for (login, name, role, area) in PEOPLE_OF_AREAS {
        let account = Account { areas: vec![areas[area]], ..Account::everywhere(name, role) };
        add(pool, login, account, &hash).await?;
    }
    let mut causes = HashMap::new();
    for (cause, group, area) in CAUSES {
        let area = area.map(|area| areas[area]);
        causes.insert(cause, store::causes::add(pool, cause, group, area, (None, Utc::now())).await?);
    }
    let mut stations = Vec::new();
    for (place, (area, name)) in (0..).zip([
        (0, "Slip preparation"),
        (0, "Casting line 1"),
        (0, "Casting line 2"),
        (1, "Kiln"),
        (2, "End-cap gluing"),
        (2, "Leak test"),
        (2, "Packing"),
        (3, "Test bench"),
    ]) {
        stations.push(store::sites::add_station(&mut conn, areas[area], name, place).await?);
    }
    let mut products = Vec::new();
    for name in ["Slip S-4", "Cartridge C-20", "Cartridge C-40"] {
        products.push(store::sites::add_product(&mut conn, name).await?);
    }
    let since = now - Duration::weeks(WEEKS);
    let mut characteristics = Vec::new();
    for Row { station, product, characteristic, process } in characteristics::rows() {
        let at = Belongs { station: stations[station], product: products[product], since };
        // Limits of what is cast and poured go with the lot.
        let new_lot = event_kinds.get("New lot").filter(|_| LOTS_MATTER.contains(&characteristic.name.as_str()));
        let characteristic = Characteristic { phase_events: new_lot.into_iter().copied().collect(), ..characteristic };
        let id = store::plan::add_characteristic(pool, at, &characteristic, people[3]).await?;
        characteristics.push((id, Arc::new(process)));
    }
    let technicians = people[..2].to_vec();
    let (supervisor, engineer, bench) = (people[2], people[3], stations[BENCH]);
    Ok(Site { technicians, supervisor, engineer, bench, characteristics, causes, event_kinds })
}
