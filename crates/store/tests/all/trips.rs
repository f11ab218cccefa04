//! Trips to the database, counted on the way there: each takes as long as the network between the two.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering::SeqCst};

use quality::entry::Tags;
use quality::sample::Content;
use sqlx::PgPool;
use sqlx::postgres::{PgPoolOptions, PgSslMode};
use store::samples::{Pencilling, save};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream};

use crate::common::{sample, save_wall, site};

/// Asks nothing: a connection that is given back is tried with it, when nobody waits.
const SYNC: &[u8] = b"S\0\0\0\x04";

/// Passes on what one side says; `heard` gets each piece before.
async fn pass_on(mut from: impl AsyncReadExt + Unpin, mut to: impl AsyncWriteExt + Unpin, heard: impl Fn(&[u8])) {
    let mut piece = vec![0; 1 << 16];
    while let Ok(bytes @ 1..) = from.read(&mut piece).await {
        heard(&piece[..bytes]);
        if to.write_all(&piece[..bytes]).await.is_err() {
            break;
        }
    }
}

/// The same database over one connection, and how often the program spoke after the database had.
async fn counted(pool: &PgPool) -> (PgPool, Arc<AtomicUsize>) {
    let database = pool.connect_options();
    let there = (database.get_host().to_owned(), database.get_port());
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let here = listener.local_addr().unwrap().port();
    let trips = Arc::new(AtomicUsize::new(0));
    let counts = trips.clone();
    tokio::spawn(async move {
        while let Ok((program, _)) = listener.accept().await {
            let server = TcpStream::connect((there.0.as_str(), there.1)).await.unwrap();
            let ((asks, hears), (answers, takes)) = (program.into_split(), server.into_split());
            let (answered, counts) = (Arc::new(AtomicBool::new(true)), counts.clone());
            let spoke = answered.clone();
            tokio::spawn(pass_on(answers, hears, move |_| spoke.store(true, SeqCst)));
            tokio::spawn(pass_on(asks, takes, move |piece| {
                if piece != SYNC && answered.swap(false, SeqCst) {
                    counts.fetch_add(1, SeqCst);
                }
            }));
        }
    });
    let options = (*database).clone().host("127.0.0.1").port(here).ssl_mode(PgSslMode::Disable);
    // As the server has it: one that was used just now is not asked whether it is there.
    let one = PgPoolOptions::new().max_connections(1).test_before_acquire(false).connect_with(options).await.unwrap();
    (one, trips)
}

/// Begin, hold, insert with what lies beside it, trail, commit; the session, with its person, is one more.
#[sqlx::test]
async fn a_sample_is_saved_in_five_trips_behind_the_session(pool: PgPool) {
    let site = site(&pool, "").await;
    let (pool, trips) = counted(&pool).await;
    let mut minutes = 0..;
    let mut took = async |mean: f64| {
        let new = sample(&site, site.wall, minutes.next().unwrap(), &[mean - 0.01, mean, mean + 0.01]);
        let before = trips.load(SeqCst);
        let saved = save(&pool, &new).await.unwrap();
        (trips.load(SeqCst) - before, saved.asking.len())
    };
    // The first ones are read with what they are judged by, and each statement is told once.
    for mean in [5.0, 5.001, 4.999, 5.0] {
        took(mean).await;
    }
    for mean in [5.001, 4.999] {
        assert_eq!(took(mean).await, (5, 0));
    }
}

#[sqlx::test]
async fn a_point_in_pencil_takes_two(pool: PgPool) {
    let site = site(&pool, "").await;
    let (pool, trips) = counted(&pool).await;
    for (minutes, mean) in [(0, 5.0), (1, 5.001), (2, 4.999)] {
        save_wall(&pool, &site, minutes, mean).await;
    }
    let took = async || {
        let before = trips.load(SeqCst);
        let pencilling = Pencilling::begin(&pool, site.wall).await.unwrap();
        let entered = (&Content::readings([5.01, 5.02, 5.03]), &Tags::default());
        pencilling.point(entered, site.since + chrono::Duration::minutes(3)).await.unwrap();
        trips.load(SeqCst) - before
    };
    // Each statement is told once.
    took().await;
    assert_eq!(took().await, 2);
}
