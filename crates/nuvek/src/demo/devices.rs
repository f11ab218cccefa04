//! Simulated devices at the demo site: set up once, and sending as long as the demo runs.

use std::net::SocketAddr;
use std::time::Duration;

use anyhow::{Context, Result};
use chrono::Utc;
use devices::broker::Broker;
use devices::simulate::{Analyser, AnalyserTest, Gauge, Sensor, Values};
use quality::device::{Address, Link, Make, Opens, Payload, ResultMapping};
use quality::role::Role;
use sqlx::PgPool;
use store::devices::NewDevice;
use tokio::net::{TcpListener, TcpStream};
use tokio::task::JoinSet;
use tokio::time::sleep;
use uuid::Uuid;

const GAUGE: &str = "127.0.0.1:8431";
const ANALYSER: &str = "127.0.0.1:8432";
const BROKER: u16 = 8433;
const TOPIC: &str = "tarn-valley/kiln/peak";

/// Ends the devices when it is dropped.
pub struct Simulated {
    _broker: Broker,
    _tasks: JoinSet<()>,
}

/// A test of the simulated analyser: specimen, test, unit, mean, sd, decimals, level's characteristic.
struct Test {
    specimen: String,
    analyte: String,
    unit: String,
    values: Values,
    characteristic: Uuid,
}

/// Sets the devices up where they are not yet, and lets them send.
pub async fn start(pool: &PgPool, server: SocketAddr) -> Result<Simulated> {
    let tests = tests(pool).await?;
    if store::devices::list(pool, Utc::now()).await?.is_empty() {
        set_up(pool, &tests).await?;
    }
    let broker = Broker::start(Some(BROKER))?;
    let mut tasks = JoinSet::new();
    let gauge = Gauge {
        values: Values { mean: 6.26, sigma: 0.085, decimals: 2 },
        unit: "mm".into(),
        every: Duration::from_secs(4),
    };
    let listener = TcpListener::bind(GAUGE).await.with_context(|| format!("{GAUGE} is taken"))?;
    tasks.spawn(async move {
        let _ = gauge.run(listener).await;
    });
    let sensor = Sensor {
        values: Values { mean: 1121.0, sigma: 5.5, decimals: 1 },
        unit: "°C".into(),
        topic: TOPIC.into(),
        every: Duration::from_secs(1),
    };
    tasks.spawn(async move { sensor.run("127.0.0.1", BROKER).await });
    let test =
        |test: Test| AnalyserTest { specimen: test.specimen, test: test.analyte, unit: test.unit, values: test.values };
    let analyser = Analyser { tests: tests.into_iter().map(test).collect() };
    tasks.spawn(async move {
        loop {
            sleep(Duration::from_secs(10)).await;
            if let Ok(mut stream) = TcpStream::connect(ANALYSER).await {
                let _ = Analyser::send(&mut stream, &analyser.records()).await;
            }
            sleep(Duration::from_secs(110)).await;
        }
    });
    println!("Devices send: a gauge for casting line 1, a thermometer at the kiln, an analyser at the test bench.");
    println!("Plan → Devices at http://{server}/plan/devices shows them.");
    Ok(Simulated { _broker: broker, _tasks: tasks })
}

async fn tests(pool: &PgPool) -> Result<Vec<Test>> {
    let mut tests = Vec::new();
    for bench in store::lab::benches(pool, Uuid::nil()).await? {
        for analyte in bench.analytes {
            for level in analyte.levels {
                let Some((mean, sd)) = level.mean.zip(level.sd) else { continue };
                tests.push(Test {
                    specimen: format!("{} {}", level.material, level.name),
                    analyte: analyte.name.clone(),
                    unit: analyte.unit.clone(),
                    values: Values { mean, sigma: sd * 0.6, decimals: analyte.decimals.unsigned_abs().into() },
                    characteristic: level.characteristic,
                });
            }
        }
    }
    Ok(tests)
}

async fn set_up(pool: &PgPool, tests: &[Test]) -> Result<()> {
    let plan = store::plan::plan(pool).await?;
    let engineers = store::people::with_role(pool, Role::Engineer).await?;
    let engineer = *engineers.first().context("an engineer")?;
    let station = |name: &str| plan.stations.iter().find(|s| s.name == name).map(|s| s.id).context("a station");
    let peak = plan.characteristics.iter().find(|c| c.characteristic.name == "Peak temperature").context("the kiln")?;
    let address = |opens, at: &str| Address { opens, at: at.into() };
    let mapping = |test: &Test| ResultMapping {
        specimen: test.specimen.clone(),
        test: test.analyte.clone(),
        characteristic: test.characteristic,
    };
    let pointer = |name: &str| Some(format!("/{name}"));
    let payload = Payload { value: "/value".into(), unit: pointer("unit"), at: pointer("at"), id: pointer("id") };
    let sensor = Link::Sensor {
        broker: format!("127.0.0.1:{BROKER}"),
        topic: TOPIC.into(),
        payload,
        characteristic: peak.id,
        make: Make::Bucket(60),
        round: false,
    };
    let analyser =
        Link::Analyser { address: address(Opens::Device, ANALYSER), results: tests.iter().map(mapping).collect() };
    for (name, at, link) in [
        ("Bench gauge G-1", "Casting line 1", Link::Gauge { address: address(Opens::Server, GAUGE) }),
        ("Kiln thermometer T-3", "Kiln", sensor),
        ("Analyser A-2", "Test bench", analyser),
    ] {
        let new = NewDevice { name: name.into(), stations: vec![station(at)?], link };
        store::devices::add(pool, &new, None, engineer, Utc::now()).await?;
    }
    Ok(())
}
