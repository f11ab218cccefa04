//! A stream tells again what was missed since a position, and says where that is not known any more.

use std::time::Duration;

use futures::Stream;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

use crate::common::{Server, Visitor, events_by_id, instance, next, start};

/// The position that an answer knows.
async fn position(tess: &Visitor) -> u64 {
    let answer = tess.get("/api/session").await;
    answer.headers()["news-position"].to_str().unwrap().parse().unwrap()
}

async fn since(tess: &Visitor, position: u64) -> impl Stream<Item = (String, String, Value)> + Unpin {
    events_by_id(tess.get(&format!("/api/live?since={position}")).await)
}

/// Tells news as a transaction does.
async fn tell(pool: &PgPool, news: Value) {
    sqlx::query("select pg_notify($1, $2)")
        .bind(store::news::CHANNEL)
        .bind(news.to_string())
        .execute(pool)
        .await
        .unwrap();
}

/// News of something.
fn news(number: u128) -> Value {
    json!({"kind": "cause_tree", "tree": Uuid::from_u128(number)})
}

/// Waits until an instance has told so much more.
async fn told(tess: &Visitor, at: u64) {
    while position(tess).await < at {
        tokio::time::sleep(Duration::from_millis(20)).await;
    }
}

/// Signed in on an instance that listens, and has told all that it was to tell.
async fn tess(pool: &PgPool, server: &Server) -> Visitor {
    let tess = Visitor::signed_in(server, "tess").await;
    let mut stream = events_by_id(tess.get("/api/live").await);
    let mut heard = false;
    while !heard {
        tell(pool, news(0)).await;
        let soon = tokio::time::timeout(Duration::from_millis(100), next(&mut stream)).await;
        heard = soon.is_ok_and(|(_, event, _)| event == "news");
    }
    tell(pool, news(1)).await;
    while next(&mut stream).await.2 != news(1) {}
    tess
}

#[sqlx::test]
async fn what_was_told_between_an_answer_and_the_stream_is_told_again(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = tess(&pool, &server).await;
    let before = position(&tess).await;
    tess.enter(site.wall, &["5", "5.1", "5"]).await;
    told(&tess, before + 1).await;
    let mut stream = since(&tess, before).await;
    let (id, first, _) = next(&mut stream).await;
    assert_eq!((id, first.as_str()), (before.to_string(), "standing"));
    let (id, event, data) = next(&mut stream).await;
    assert_eq!((event.as_str(), &data["characteristic"]), ("news", &json!(site.wall)));
    // What the browser says by itself when it connects again goes before what the page said at first.
    let again = tess.client.get(format!("{}/api/live?since={before}", server.url)).header("last-event-id", &id);
    let mut again = events_by_id(again.send().await.unwrap());
    let (standing, first, _) = next(&mut again).await;
    assert_eq!((&standing, first.as_str()), (&id, "standing"));
    tell(&pool, news(7)).await;
    let (at, _, data) = next(&mut stream).await;
    assert_eq!(data, news(7), "each is told once");
    assert_eq!(next(&mut again).await, (at.clone(), "news".to_owned(), data));
    assert!(at.parse::<u64>().unwrap() > id.parse().unwrap());
}

#[sqlx::test]
async fn an_offer_is_of_its_moment(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = tess(&pool, &server).await;
    let before = position(&tess).await;
    tell(&pool, json!({"kind": "offer", "station": site.station, "offer": Uuid::nil()})).await;
    tell(&pool, news(7)).await;
    told(&tess, before + 2).await;
    let mut stream = since(&tess, before).await;
    assert_eq!(next(&mut stream).await.1, "standing");
    assert_eq!(next(&mut stream).await.2, news(7));
}

#[sqlx::test]
async fn more_than_is_known_is_looked_at_as_a_whole(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let tess = tess(&pool, &server).await;
    let before = position(&tess).await;
    let count = 300;
    for number in 1..=count {
        tell(&pool, news(number)).await;
    }
    let now = before + u64::try_from(count).unwrap();
    told(&tess, now).await;
    for (position, first) in
        [(now, "standing"), (now - 256, "standing"), (now - 257, "resync"), (before, "resync"), (now + 1, "resync")]
    {
        let (id, event, _) = next(&mut since(&tess, position).await).await;
        assert_eq!(event, first, "{}", i128::from(now) - i128::from(position));
        assert_eq!(id, if first == "standing" { position } else { now }.to_string());
    }
    // Another instance has told other things by other numbers.
    let other = instance(&pool).await;
    let sue = Visitor::signed_in(&other, "sue").await;
    assert_eq!(next(&mut since(&sue, now).await).await.1, "resync");
}
