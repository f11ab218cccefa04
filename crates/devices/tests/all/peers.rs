//! Results to a peer group over real sockets: it is down and comes up, loses its answer, knows another token, stands
//! elsewhere.

use std::net::SocketAddr;
use std::time::Duration;

use chrono::Utc;
use devices::Networks;
use devices::peers::run;
use devices::simulate::{Kept, Peers, PeersLevel};
use quality::peer::group::{PeerGroup, PeerLevel};
use sqlx::PgPool;
use store::lab;
use store::peers::{GivenFilter, PeerGroupView, comparison, given, list, set_up, withdraw};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpListener;
use tokio::sync::mpsc::{UnboundedReceiver, unbounded_channel};
use tokio::time::timeout;
use tokio_util::sync::{CancellationToken, DropGuard};
use uuid::Uuid;

use crate::laboratory::{Laboratory, laboratory};
use crate::waiting::{in_time, until};

const TOKEN: &str = "token-1";

struct Exchange {
    pool: PgPool,
    laboratory: Laboratory,
    group: Uuid,
    _sending: DropGuard,
}

/// An address where nobody listens yet.
async fn nobody() -> SocketAddr {
    TcpListener::bind("127.0.0.1:0").await.unwrap().local_addr().unwrap()
}

async fn exchange(pool: &PgPool, at: SocketAddr, networks: Networks) -> Exchange {
    store::migrate(pool).await.unwrap();
    let laboratory = laboratory(pool).await;
    let level = |(of, code): (Uuid, &str)| PeerLevel { characteristic: of, code: code.into() };
    let group = PeerGroup {
        name: "Fell and Tarn".into(),
        laboratory: "Laboratory 17".into(),
        url: Some(format!("http://{at}/compare")),
        levels: [(laboratory.levels[0], "AG-1"), (laboratory.levels[1], "AG-2")].map(level).to_vec(),
        since: laboratory.start,
        active: true,
    };
    let group = set_up(pool, group, Some(TOKEN), (laboratory.site.engineer, Utc::now())).await.unwrap();
    let stop = CancellationToken::new();
    tokio::spawn(run(pool.clone(), networks, stop.clone()));
    Exchange { pool: pool.clone(), laboratory, group, _sending: stop.drop_guard() }
}

impl Exchange {
    /// A run of two levels is measured, released and reviewed.
    async fn reviews_a_run(&self, hour: i64) {
        let run = self.laboratory.run(hour, [0.1, 0.2]).await;
        let run = self.laboratory.release(&run).await.unwrap();
        lab::review(&self.pool, run.id, run.version, None, (self.laboratory.site.engineer, Utc::now())).await.unwrap();
    }

    async fn fares(&self, so: impl Fn(&PeerGroupView) -> bool) -> PeerGroupView {
        until(async || {
            let view = list(&self.pool).await.unwrap().remove(0);
            if so(&view) { Ok(view) } else { Err(view) }
        })
        .await
    }
}

fn group_of_laboratories(token: &str) -> (Peers, UnboundedReceiver<Kept>) {
    let (hears, heard) = unbounded_channel();
    let level =
        |(code, mean): (&str, f64)| PeersLevel { code: code.into(), unit: "mg/kg".into(), mean, sd: mean / 10.0 };
    (Peers::new(token.into(), [("AG-1", 10.0), ("AG-2", 100.0)].map(level).to_vec(), hears), heard)
}

/// It listens where nobody did.
async fn comes_up(peers: Peers, at: SocketAddr) {
    let listener = TcpListener::bind(at).await.unwrap();
    tokio::spawn(peers.run(listener));
}

async fn hear(from: &mut UnboundedReceiver<Kept>) -> Kept {
    in_time(from.recv()).await.unwrap()
}

#[sqlx::test]
async fn what_was_reviewed_while_the_group_was_down_reaches_it_once(pool: PgPool) {
    let at = nobody().await;
    let exchange = exchange(&pool, at, Networks::default()).await;
    exchange.reviews_a_run(1).await;
    let fares = exchange.fares(|fares| fares.failed.is_some()).await;
    assert_eq!((fares.given, fares.waiting), (0, 2));
    let (peers, mut heard) = group_of_laboratories(TOKEN);
    comes_up(peers, at).await;
    let (one, other) = (hear(&mut heard).await, hear(&mut heard).await);
    assert!(one.new && other.new && one.result.id != other.result.id, "{one:?} {other:?}");
    let fares = exchange.fares(|fares| fares.given == 2).await;
    assert_eq!((fares.waiting, fares.failed.as_deref()), (0, None));
    // Taken back, it is told so once.
    let back = given(&pool, exchange.group, GivenFilter::default(), 9).await.unwrap().remove(0);
    let by = (exchange.laboratory.site.supervisor, Utc::now());
    withdraw(&pool, (exchange.group, back.id), "Wrong calibrator", by).await.unwrap();
    let told = hear(&mut heard).await;
    assert_eq!((told.new, told.result.id, told.result.withdrawn, told.result.value), (true, back.id, true, None));
    exchange.fares(|fares| fares.waiting == 0 && fares.given == 1).await;
    assert!(timeout(Duration::from_secs(3), heard.recv()).await.is_err(), "told twice");
}

/// It keeps what it was sent and its answer is lost: what is sent again it knows.
#[sqlx::test]
async fn what_was_taken_without_an_answer_is_sent_again_and_counts_once(pool: PgPool) {
    let at = nobody().await;
    let exchange = exchange(&pool, at, Networks::default()).await;
    let (peers, mut heard) = group_of_laboratories(TOKEN);
    let listener = TcpListener::bind(at).await.unwrap();
    let lossy = peers.clone();
    let lost = tokio::spawn(async move {
        loop {
            let (mut stream, _) = listener.accept().await.unwrap();
            let mut request = vec![0; 64 * 1024];
            let read = stream.read(&mut request).await.unwrap();
            let request = String::from_utf8_lossy(&request[..read]).into_owned();
            if let (true, Some((_, body))) = (request.starts_with("POST"), request.split_once("\r\n\r\n")) {
                lossy.take(serde_json::from_str(body).unwrap());
                break;
            }
            let _ = stream.write_all(b"HTTP/1.1 503 Busy\r\ncontent-length: 0\r\n\r\n").await;
        }
    });
    exchange.reviews_a_run(1).await;
    in_time(lost).await.unwrap();
    assert!(hear(&mut heard).await.new && hear(&mut heard).await.new);
    comes_up(peers, at).await;
    exchange.fares(|fares| fares.given == 2 && fares.waiting == 0).await;
    assert!(!hear(&mut heard).await.new && !hear(&mut heard).await.new, "kept twice");
}

#[sqlx::test]
async fn what_the_group_found_is_taken_in_and_compared(pool: PgPool) {
    let at = nobody().await;
    let (peers, _heard) = group_of_laboratories(TOKEN);
    comes_up(peers, at).await;
    let exchange = exchange(&pool, at, Networks::default()).await;
    exchange.reviews_a_run(1).await;
    exchange.fares(|fares| fares.given == 2 && fares.answered_at.is_some()).await;
    store::peers::ask_now(&pool, exchange.group, Utc::now()).await.unwrap();
    until(async || {
        let levels = comparison(&pool, exchange.group, 1, exchange.laboratory.start).await.unwrap();
        let months: Vec<_> = levels.iter().flat_map(|level| &level.lots).flat_map(|lot| &lot.months).collect();
        assert_eq!(months.len(), 2);
        if months.iter().any(|month| month.beside.is_none()) {
            return Err("nothing was told");
        }
        let told = months[0].told.as_ref().unwrap();
        // Of the reagent lot that was given, which half of the laboratories use.
        assert_eq!((told.reagent_lot.as_deref(), told.laboratories), (Some("R-1"), Some(12)));
        Ok(())
    })
    .await;
}

#[sqlx::test]
async fn another_token_is_not_let_in_and_the_reason_is_kept(pool: PgPool) {
    let at = nobody().await;
    let (peers, _heard) = group_of_laboratories("token-2");
    comes_up(peers, at).await;
    let exchange = exchange(&pool, at, Networks::default()).await;
    exchange.reviews_a_run(1).await;
    let fares = exchange.fares(|fares| fares.failed.is_some() && fares.not_answered.is_some()).await;
    let said = (fares.failed.as_deref(), fares.not_answered.as_deref(), fares.given);
    assert_eq!(said, (Some("answered 401"), Some("answered 401"), 0));
}

#[sqlx::test]
async fn an_answer_of_another_kind_takes_nothing(pool: PgPool) {
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let at = listener.local_addr().unwrap();
    tokio::spawn(async move {
        while let Ok((mut stream, _)) = listener.accept().await {
            let _ = stream.read(&mut [0; 64 * 1024]).await;
            let _ = stream.write_all(b"HTTP/1.1 200 OK\r\ncontent-length: 13\r\n\r\n<html></html>").await;
        }
    });
    let exchange = exchange(&pool, at, Networks::default()).await;
    exchange.reviews_a_run(1).await;
    let fares = exchange.fares(|fares| fares.failed.is_some()).await;
    assert!(fares.failed.unwrap().starts_with("answered what cannot be read"));
    assert_eq!((fares.given, fares.waiting), (0, 2));
}

#[sqlx::test]
async fn nothing_is_sent_off_the_networks_that_are_allowed(pool: PgPool) {
    let at = nobody().await;
    let (peers, mut heard) = group_of_laboratories(TOKEN);
    comes_up(peers, at).await;
    let exchange = exchange(&pool, at, Networks::new(["10.20.0.0/16".parse().unwrap()])).await;
    exchange.reviews_a_run(1).await;
    let fares = exchange.fares(|fares| fares.failed.is_some()).await;
    assert!(fares.failed.unwrap().ends_with("on none of the networks that are allowed"));
    assert!(heard.try_recv().is_err());
}
