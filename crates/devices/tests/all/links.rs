//! Devices over real sockets and a real broker, with the hub between them and the database.

use std::time::Duration;

use chrono::Utc;
use devices::astm::frame::{ACK, ENQ, EOT, NAK, frames};
use devices::broker::Broker;
use devices::folder::Folders;
use devices::simulate::{Analyser, AnalyserTest, Gauge, Sensor, Values};
use devices::{Networks, hub};
use quality::analyte::{Assigned, NewAnalyte, NewLevel};
use quality::device::{Address, Link, Make, Opens, Payload, Reason, ResultMapping};
use sqlx::PgPool;
use store::devices::{DeviceView, NewDevice, open_offers};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream};
use tokio::time::sleep;
use tokio_util::sync::{CancellationToken, DropGuard};
use uuid::Uuid;

use crate::common::{Site, site};
use crate::waiting::until;

struct Hall {
    pool: PgPool,
    site: Site,
    hub: Option<DropGuard>,
}

async fn hall(pool: &PgPool) -> Hall {
    store::migrate(pool).await.unwrap();
    let mut hall = Hall { pool: pool.clone(), site: site(pool, "").await, hub: None };
    hall.start();
    hall
}

impl Hall {
    fn start(&mut self) {
        let stop = CancellationToken::new();
        tokio::spawn(hub::run(self.pool.clone(), Networks::default(), Folders::default(), stop.clone()));
        self.hub = Some(stop.drop_guard());
    }

    async fn device(&self, link: Link) -> Uuid {
        let new = NewDevice { name: format!("Device {}", Uuid::new_v4()), stations: vec![self.site.station], link };
        store::devices::add(&self.pool, &new, None, self.site.engineer, Utc::now()).await.unwrap()
    }

    async fn view(&self, id: Uuid) -> DeviceView {
        store::devices::list(&self.pool, Utc::now()).await.unwrap().into_iter().find(|d| d.id == id).unwrap()
    }

    /// What was refused of the device, once it looks like that.
    async fn refused(&self, id: Uuid, expected: &[(Reason, i64)]) {
        until(async || {
            let refusals = self.view(id).await.refusals.into_iter();
            let mut seen: Vec<(Reason, i64)> = refusals.map(|r| (r.reason, r.count)).collect();
            seen.sort();
            if seen == expected { Ok(()) } else { Err((seen, expected)) }
        })
        .await;
    }

    /// Waits until a count is reached.
    async fn count(&self, question: &'static str, expected: i64) {
        let seen = until(async || {
            let seen: i64 = sqlx::query_scalar(question).fetch_one(&self.pool).await.unwrap();
            if seen >= expected { Ok(seen) } else { Err((question, seen)) }
        })
        .await;
        assert_eq!(seen, expected, "{question}");
    }
}

#[sqlx::test]
async fn a_gauge_elsewhere_than_allowed_is_not_connected_to(pool: PgPool) {
    let hall = hall(&pool).await;
    // An address for documentation: nobody is there, and nothing is sent to it.
    let at = "192.0.2.7:5025".to_owned();
    let device = hall.device(Link::Gauge { address: Address { opens: Opens::Server, at } }).await;
    hall.refused(device, &[(Reason::AddressNotAllowed, 1)]).await;
}

fn free_address() -> String {
    std::net::TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap().to_string()
}

async fn connected(at: &str) -> TcpStream {
    until(async || TcpStream::connect(at).await).await
}

const OFFERS: &str = "select count(*) from offer";

#[sqlx::test]
async fn a_gauge_is_connected_to_again_and_its_values_are_offered(pool: PgPool) {
    let hall = hall(&pool).await;
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let at = listener.local_addr().unwrap().to_string();
    let device = hall.device(Link::Gauge { address: Address { opens: Opens::Server, at } }).await;
    // The first connection is pulled in the middle of a line.
    let (mut stream, _) = listener.accept().await.unwrap();
    stream.write_all(b"5.01 mm\r\n4.").await.unwrap();
    hall.count(OFFERS, 1).await;
    drop(stream);
    let gauge = Gauge {
        values: Values { mean: 5.0, sigma: 0.1, decimals: 2 },
        unit: "mm".into(),
        every: Duration::from_millis(20),
    };
    let simulated = tokio::spawn(gauge.run(listener));
    hall.count("select least(count(*), 5) from offer", 5).await;
    simulated.abort();
    let view = hall.view(device).await;
    assert!(view.heard_at.is_some() && view.accepted >= 5, "{view:?}");
    assert!(view.refusals.iter().any(|r| r.reason == Reason::ConnectionLost), "{view:?}");
    let value: String =
        sqlx::query_scalar("select value from offer order by arrived_at limit 1").fetch_one(&pool).await.unwrap();
    assert_eq!(value, "5.01 mm");
}

#[sqlx::test]
async fn what_a_gauge_sends_amiss_is_counted_by_reason_and_the_next_value_is_taken(pool: PgPool) {
    let hall = hall(&pool).await;
    let at = free_address();
    let device = hall.device(Link::Gauge { address: Address { opens: Opens::Device, at: at.clone() } }).await;
    let mut stream = connected(&at).await;
    let long = [&vec![b'7'; 5000][..], b"\r\n"].concat();
    for bytes in
        [&b"hello\r\n"[..], b"\xff\xfe\x00\r\n", b"0.197 in\r\n", b"99.9 mm\r\n", &long, b"5.", b"02 m", b"m\r\n"]
    {
        stream.write_all(bytes).await.unwrap();
        stream.flush().await.unwrap();
    }
    hall.count(OFFERS, 1).await;
    hall.refused(
        device,
        &[
            (Reason::Garbage, 1),
            (Reason::LineTooLong, 1),
            (Reason::NotANumber, 1),
            (Reason::OtherUnit, 1),
            (Reason::OutsideHardBounds, 1),
        ],
    )
    .await;
    // Revoked, it is no longer listened to.
    store::devices::revoke(&pool, device, hall.site.engineer, Utc::now()).await.unwrap();
    let mut byte = [0];
    assert_eq!(stream.read(&mut byte).await.unwrap_or(0), 0, "the connection is closed");
}

#[sqlx::test]
async fn a_device_that_lost_its_connections_without_a_word_is_heard_on_the_next(pool: PgPool) {
    let hall = hall(&pool).await;
    let at = free_address();
    let device = hall.device(Link::Gauge { address: Address { opens: Opens::Device, at: at.clone() } }).await;
    // Two that nobody closed.
    let mut lost = connected(&at).await;
    let _also_lost = connected(&at).await;
    let mut stream = connected(&at).await;
    stream.write_all(b"5.01 mm\r\n").await.unwrap();
    hall.count(OFFERS, 1).await;
    assert_eq!(lost.read(&mut [0]).await.unwrap_or(0), 0, "the oldest is closed");
    hall.refused(device, &[(Reason::ConnectionLost, 1)]).await;
}

/// An analyte at two levels, mapped to the specimens `K-1` and `K-2`.
async fn analyser(hall: &Hall, at: &str) -> (Uuid, [Uuid; 2]) {
    let mut conn = hall.pool.acquire().await.unwrap();
    let material = store::sites::add_product(&mut conn, "Control material").await.unwrap();
    let level = |name: &str, mean| NewLevel { name: name.into(), material, assigned: Assigned { mean, sd: 1.0 } };
    let new = NewAnalyte {
        station: hall.site.station,
        name: "Assay".into(),
        unit: "mg/kg".into(),
        decimals: 1,
        rules: None,
        levels: vec![level("low", 42.0), level("high", 118.0)],
        reaction_plan: vec![],
    };
    store::lab::add_analyte(&hall.pool, &new, hall.site.engineer, hall.site.since).await.unwrap();
    let bench = store::lab::benches(&hall.pool, Uuid::nil()).await.unwrap().pop().unwrap();
    let levels = [0, 1].map(|n| bench.analytes[0].levels[n].characteristic);
    let mapping =
        |n: usize| ResultMapping { specimen: format!("K-{}", n + 1), test: "AG".into(), characteristic: levels[n] };
    let address = Address { opens: Opens::Device, at: at.into() };
    let link = Link::Analyser { address, results: vec![mapping(0), mapping(1)] };
    (hall.device(link).await, levels)
}

fn records(results: &[(&str, &str, &str)]) -> Vec<String> {
    let mut records = vec![r"H|\^&".to_owned()];
    for (n, (specimen, value, unit)) in results.iter().enumerate() {
        records.push(format!("P|{n}"));
        records.push(format!("O|1|{specimen}||^^^AG"));
        records.push(format!("R|1|^^^AG|{value}|{unit}||N||F"));
    }
    records.push("L|1|N".into());
    records
}

async fn say(stream: &mut TcpStream, bytes: &[u8]) -> u8 {
    stream.write_all(bytes).await.unwrap();
    let mut answer = [0];
    stream.read_exact(&mut answer).await.unwrap();
    answer[0]
}

#[sqlx::test]
async fn an_analysers_results_wait_for_the_run(pool: PgPool) {
    let hall = hall(&pool).await;
    let at = free_address();
    let (device, levels) = analyser(&hall, &at).await;
    let mut stream = connected(&at).await;
    let test = |specimen: &str, mean| AnalyserTest {
        specimen: specimen.into(),
        test: "AG".into(),
        unit: "mg/kg".into(),
        values: Values { mean, sigma: 0.5, decimals: 1 },
    };
    let simulated = Analyser { tests: vec![test("K-1", 42.0), test("K-2", 118.0)] };
    let sent = simulated.records();
    Analyser::send(&mut stream, &sent).await.unwrap();
    // The same message once more, as after a cable was pulled: no second offer.
    Analyser::send(&mut stream, &sent).await.unwrap();
    let mut offered: Vec<Uuid> = open_offers(&pool, hall.site.station, Utc::now())
        .await
        .unwrap()
        .iter()
        .map(|offer| offer.characteristic.unwrap())
        .collect();
    offered.sort();
    let mut expected = levels.to_vec();
    expected.sort();
    assert_eq!(offered, expected);
    hall.count(OFFERS, 2).await;
    hall.refused(device, &[(Reason::SentBefore, 2)]).await;
    assert_eq!(hall.view(device).await.accepted, 2);
}

#[sqlx::test]
async fn broken_frames_are_sent_again_and_odd_results_are_counted(pool: PgPool) {
    let hall = hall(&pool).await;
    let at = free_address();
    let (device, _) = analyser(&hall, &at).await;
    let mut stream = connected(&at).await;
    stream.write_all(b"\x00what").await.unwrap();
    assert_eq!(say(&mut stream, &[ENQ]).await, ACK);
    let all = [("K-1", "42.3", "mg/kg"), ("K-2", "118.25", "mg/kg"), ("K-2", "0.1", "lb"), ("X-9", "1", "mg/kg")];
    for (n, frame) in frames(&records(&all)).into_iter().enumerate() {
        if n == 2 {
            let mut broken = frame.clone();
            broken[3] ^= 1;
            assert_eq!(say(&mut stream, &broken).await, NAK);
        }
        assert_eq!(say(&mut stream, &frame).await, ACK);
        if n == 3 {
            assert_eq!(say(&mut stream, &frame).await, ACK, "its acknowledgement was lost");
        }
    }
    stream.write_all(&[EOT]).await.unwrap();
    // Pulled in the middle of the next message.
    assert_eq!(say(&mut stream, &[ENQ]).await, ACK);
    assert_eq!(say(&mut stream, &frames(&records(&all[..1]))[0]).await, ACK);
    drop(stream);
    hall.refused(
        device,
        &[
            (Reason::Checksum, 1),
            (Reason::FrameSentAgain, 1),
            (Reason::Garbage, 1),
            (Reason::OtherUnit, 1),
            (Reason::StoppedInTheMiddle, 1),
            (Reason::TooManyDecimals, 1),
            (Reason::UnknownTest, 1),
        ],
    )
    .await;
    hall.count(OFFERS, 1).await;
    let mut stream = connected(&at).await;
    Analyser::send(&mut stream, &records(&[("K-2", "117.9", "mg/kg")])).await.unwrap();
    hall.count(OFFERS, 2).await;
}

fn sensor(broker: u16, site: &Site, make: Make) -> Link {
    Link::Sensor {
        broker: format!("127.0.0.1:{broker}"),
        topic: "hall/slip".into(),
        payload: Payload {
            value: "/value".into(),
            unit: Some("/unit".into()),
            at: Some("/at".into()),
            id: Some("/id".into()),
        },
        characteristic: site.viscosity,
        make,
        round: true,
    }
}

const SAMPLES: &str = "select count(*) from sample";

/// Publishes by hand and waits until the broker has it all.
async fn publish(port: u16, payloads: Vec<String>) {
    let mut options = rumqttc::MqttOptions::new(format!("test-{}", Uuid::new_v4()), "127.0.0.1", port);
    options.set_max_packet_size(1 << 20, 1 << 20);
    let (client, mut events) = rumqttc::AsyncClient::new(options, payloads.len() + 1);
    let count = payloads.len();
    for payload in payloads {
        client.publish("hall/slip", rumqttc::QoS::AtLeastOnce, false, payload).await.unwrap();
    }
    let mut acknowledged = 0;
    while acknowledged < count {
        if let rumqttc::Event::Incoming(rumqttc::Packet::PubAck(_)) = events.poll().await.unwrap() {
            acknowledged += 1;
        }
    }
}

fn message(id: u32, value: f64) -> String {
    serde_json::json!({"id": id, "at": Utc::now(), "value": value, "unit": "mPa·s"}).to_string()
}

/// Waits until the broker knows the device's subscription.
async fn subscribed(hall: &Hall, port: u16, device: Uuid) {
    until(async || {
        publish(port, vec!["{".into()]).await;
        hall.view(device).await.heard_at.map(|_| ()).ok_or("not heard")
    })
    .await;
}

#[sqlx::test]
async fn every_second_value_makes_a_sample_and_what_came_while_nobody_listened_is_not_lost(pool: PgPool) {
    let mut hall = hall(&pool).await;
    let broker = Broker::start(None).unwrap();
    let device = hall.device(sensor(broker.port, &hall.site, Make::Every(2))).await;
    subscribed(&hall, broker.port, device).await;
    publish(broker.port, (0..10).map(|n| message(n, 330.4 + f64::from(n))).collect()).await;
    hall.count(SAMPLES, 5).await;
    // The program is stopped; the broker keeps what comes meanwhile.
    hall.hub = None;
    sleep(Duration::from_millis(300)).await;
    publish(broker.port, (10..20).map(|n| message(n, 335.0)).collect()).await;
    hall.start();
    hall.count(SAMPLES, 10).await;
    // What was sent before, wrong units, garbage: counted, and the next values are taken.
    let odd = r#"{"id":99,"at":"2026-01-01T00:00:00Z","value":1,"unit":"bar"}"#.to_owned();
    publish(broker.port, vec![message(19, 335.0), odd, "\u{0}".into(), message(20, 1.0), message(21, 336.0)]).await;
    hall.count(SAMPLES, 11).await;
    let reasons: Vec<Reason> = hall.view(device).await.refusals.into_iter().map(|r| r.reason).collect();
    for reason in [Reason::NoJson, Reason::OtherUnit, Reason::SentBefore] {
        assert!(reasons.contains(&reason), "{reason:?} in {reasons:?}");
    }
    let judged: i64 =
        sqlx::query_scalar("select count(*) from trail where action = 'sample_saved'").fetch_one(&pool).await.unwrap();
    assert_eq!(judged, 11);
}

#[sqlx::test]
async fn a_reading_can_take_more_values_than_a_broker_sends_unacknowledged(pool: PgPool) {
    let mut hall = hall(&pool).await;
    let broker = Broker::start(None).unwrap();
    let device = hall.device(sensor(broker.port, &hall.site, Make::Every(150))).await;
    subscribed(&hall, broker.port, device).await;
    // A message that no connection of ordinary size carries stands in nobody's way.
    let endless = serde_json::json!({"id": 1000, "value": "7".repeat(200_000)}).to_string();
    publish(broker.port, vec![endless]).await;
    publish(broker.port, (0..220).map(|n| message(n, 330.0 + f64::from(n))).collect()).await;
    hall.count(SAMPLES, 1).await;
    // Restarted in the middle: what was taken is not asked for again, and is not forgotten.
    hall.hub = None;
    sleep(Duration::from_millis(300)).await;
    hall.start();
    publish(broker.port, (220..300).map(|n| message(n, 330.0)).collect()).await;
    hall.count(SAMPLES, 2).await;
    let values: Vec<f64> =
        sqlx::query_scalar("select readings[1] from sample order by taken_at").fetch_all(&pool).await.unwrap();
    assert_eq!(values, [479.0, 330.0], "the 150th and the 300th");
    assert!(hall.view(device).await.refusals.iter().any(|r| r.reason == Reason::MessageTooLong && r.count == 1));
}

#[sqlx::test]
async fn the_mean_of_each_second_makes_a_sample_also_after_the_broker_was_gone(pool: PgPool) {
    let hall = hall(&pool).await;
    let broker = Broker::start(None).unwrap();
    let port = broker.port;
    let device = hall.device(sensor(port, &hall.site, Make::Bucket(1))).await;
    subscribed(&hall, port, device).await;
    let simulated = Sensor {
        values: Values { mean: 332.0, sigma: 5.0, decimals: 3 },
        unit: "mPa·s".into(),
        topic: "hall/slip".into(),
        every: Duration::from_millis(50),
    };
    let running = tokio::spawn(async move { simulated.run("127.0.0.1", port).await });
    hall.count("select least(count(*), 2) from sample", 2).await;
    drop(broker);
    sleep(Duration::from_millis(500)).await;
    let before: i64 = sqlx::query_scalar(SAMPLES).fetch_one(&pool).await.unwrap();
    let _broker = Broker::start(Some(port)).unwrap();
    until(async || {
        let now: i64 = sqlx::query_scalar(SAMPLES).fetch_one(&pool).await.unwrap();
        if now >= before + 2 { Ok(()) } else { Err((before, now)) }
    })
    .await;
    running.abort();
    assert!(hall.view(device).await.refusals.iter().any(|r| r.reason == Reason::ConnectionLost));
    let whole: bool = sqlx::query_scalar("select bool_and(readings[1] = round(readings[1])) from sample")
        .fetch_one(&pool)
        .await
        .unwrap();
    assert!(whole, "a mean is rounded to the decimals of the unit");
}
