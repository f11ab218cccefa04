//! Somebody stops waiting: a browser that leaves a page ends its requests wherever they are.

use std::future::Future;
use std::pin::pin;
use std::task::{Context, Waker};
use std::time::Duration;

use sqlx::postgres::PgPoolOptions;
use sqlx::{Executor, PgPool};
use store::samples::Entering;
use uuid::Uuid;

use crate::common::site;

/// Polls so often, with time for the database to answer in between, and gives up.
async fn given_up_after(polls: usize, request: impl Future) {
    let mut request = pin!(request);
    for _ in 0..polls {
        if request.as_mut().poll(&mut Context::from_waker(Waker::noop())).is_ready() {
            return;
        }
        tokio::time::sleep(Duration::from_millis(20)).await;
    }
}

/// Two statements by themselves are of one transaction where somebody has left one open.
async fn is_within_another(pool: &PgPool) -> bool {
    let mut conn = pool.acquire().await.unwrap();
    let mut ids = [0_i64; 2];
    for id in &mut ids {
        *id = sqlx::query_scalar("select txid_current()").fetch_one(&mut *conn).await.unwrap();
    }
    conn.execute("rollback").await.unwrap();
    ids[0] == ids[1]
}

#[sqlx::test]
async fn a_request_that_ends_anywhere_leaves_no_transaction_to_whoever_comes_next(pool: PgPool) {
    let wall: Uuid = site(&pool, "").await.wall;
    let options = pool.connect_options().as_ref().clone();
    let one = PgPoolOptions::new().max_connections(1).test_before_acquire(false).connect_with(options).await.unwrap();
    for polls in 1..12 {
        given_up_after(polls, async { drop(Entering::begin(&one, wall).await.unwrap()) }).await;
        assert!(!is_within_another(&one).await, "given up after {polls} polls");
    }
}
