//! Who gets in, and what is kept out.

use std::time::{Duration, Instant};

use reqwest::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

use crate::common::{self, PASSWORD, Server, Visitor, read, start};

#[sqlx::test]
async fn a_person_signs_in_and_out(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let visitor = Visitor::new(&server);
    assert_eq!(visitor.get("/api/session").await.status(), StatusCode::UNAUTHORIZED);
    let response = visitor.sign_in("TESS", PASSWORD).await;
    let cookies = response.headers().get_all("set-cookie").iter().map(|cookie| cookie.to_str().unwrap().to_owned());
    let cookie = cookies.into_iter().find(|cookie| cookie.starts_with("nuvek_session")).unwrap();
    assert!(cookie.contains("HttpOnly") && cookie.contains("SameSite=Strict"), "{cookie}");
    let (_, who) = read(visitor.get("/api/session").await).await;
    assert_eq!((&who["login"], &who["role"]), (&json!("tess"), &json!("technician")));
    let out = visitor.client.delete(format!("{}/api/session", server.url)).send().await.unwrap();
    assert_eq!(out.status(), StatusCode::NO_CONTENT);
    let stolen = visitor.client.get(format!("{}/api/session", server.url)).header("cookie", cookie);
    assert_eq!(stolen.send().await.unwrap().status(), StatusCode::UNAUTHORIZED);
}

#[sqlx::test]
async fn a_session_is_worth_nothing_once_it_has_expired_or_the_person_is_gone(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let visitor = Visitor::signed_in(&server, "tess").await;
    sqlx::query("update session set expires_at = now()").execute(&pool).await.unwrap();
    assert_eq!(visitor.get("/api/rounds").await.status(), StatusCode::UNAUTHORIZED);
    let visitor = Visitor::signed_in(&server, "tess").await;
    sqlx::query("update person set active = false where id = $1").bind(site.technician).execute(&pool).await.unwrap();
    assert_eq!(visitor.get("/api/rounds").await.status(), StatusCode::UNAUTHORIZED);
    assert_eq!(visitor.sign_in("tess", PASSWORD).await.status(), StatusCode::UNAUTHORIZED);
}

async fn wrong(server: &Server, login: &str) -> (StatusCode, Value, Duration) {
    let start = Instant::now();
    let (status, body) = read(Visitor::new(server).sign_in(login, "guess").await).await;
    (status, body, start.elapsed())
}

#[sqlx::test]
async fn a_wrong_password_tells_nothing_about_the_name(pool: PgPool) {
    let (server, _) = start(&pool).await;
    // The first check of a process warms it up.
    wrong(&server, "warm-up").await;
    // The soonest of three: other tests compute beside it.
    let (mut known, mut unknown) = (Duration::MAX, Duration::MAX);
    for _ in 0..3 {
        let (of_known, of_unknown) = (wrong(&server, "tess").await, wrong(&server, "nobody-here").await);
        assert_eq!((of_known.0, &of_known.1), (StatusCode::UNAUTHORIZED, &of_unknown.1));
        (known, unknown) = (known.min(of_known.2), unknown.min(of_unknown.2));
    }
    let ratio = known.as_secs_f64() / unknown.as_secs_f64();
    // Both verify one hash; without it the unknown name would answer many times faster.
    assert!((0.2..5.0).contains(&ratio), "known {known:?}, unknown {unknown:?}");
}

async fn make_it_later(pool: &PgPool, seconds: i32) {
    let earlier = "update sign_in_attempt set at = at - make_interval(secs => $1)";
    sqlx::query(earlier).bind(f64::from(seconds)).execute(pool).await.unwrap();
}

#[sqlx::test]
async fn wrong_passwords_slow_the_next_tries_down_even_when_they_come_at_once(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let tries = (0..12).map(|_| wrong(&server, "tess"));
    let heard = futures::future::join_all(tries).await;
    let checked = heard.iter().filter(|(status, ..)| *status == StatusCode::UNAUTHORIZED).count();
    // Five, and whatever comes a second later on a slow host.
    assert!((5..=7).contains(&checked), "{checked}");
    let more = "insert into sign_in_attempt (login, address, at) select 'tess', '127.0.0.1', now() from generate_series(1, 20)";
    sqlx::query(more).execute(&pool).await.unwrap();
    let (status, problem) = read(Visitor::new(&server).sign_in("Tess", PASSWORD).await).await;
    assert_eq!((status, &problem["code"]), (StatusCode::TOO_MANY_REQUESTS, &json!("too_many_tries")));
    let wait = problem["params"]["retry_after_seconds"].as_i64().unwrap();
    assert!((20..=31).contains(&wait), "{wait}");
    assert_eq!(Visitor::new(&server).sign_in("tom", PASSWORD).await.status(), StatusCode::OK);
    // Nobody is locked out: however many tries there were, half a minute later the next is heard.
    make_it_later(&pool, 30).await;
    assert_eq!(Visitor::new(&server).sign_in("tess", PASSWORD).await.status(), StatusCode::OK);
    // That one fitted takes back one try, not the others.
    assert_eq!(wrong(&server, "tess").await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(wrong(&server, "tess").await.0, StatusCode::TOO_MANY_REQUESTS);
    let told: i64 = sqlx::query_scalar("select count(*) from trail where action = 'sign_in_failed'")
        .fetch_one(&pool)
        .await
        .unwrap();
    assert!((6..=8).contains(&told), "{told}");
}

#[sqlx::test]
async fn where_a_person_signed_in_before_tries_elsewhere_do_not_matter(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let own = Visitor::signed_in(&server, "tess").await;
    for _ in 0..5 {
        wrong(&server, "tess").await;
    }
    assert_eq!(wrong(&server, "tess").await.0, StatusCode::TOO_MANY_REQUESTS);
    assert_eq!(own.sign_in("tess", PASSWORD).await.status(), StatusCode::OK);
}

/// Behind a trusted proxy each client is a place of its own; the word of others counts for nothing.
#[rstest]
#[case::trusted(vec!["127.0.0.1/32".parse().unwrap()], StatusCode::OK)]
#[case::not_trusted(vec![], StatusCode::TOO_MANY_REQUESTS)]
#[sqlx::test]
async fn tries_behind_a_proxy_count_by_client(
    #[ignore] pool: PgPool,
    #[case] trusted_proxies: Vec<ipnet::IpNet>,
    #[case] expected: StatusCode,
) {
    let (_first, _) = start(&pool).await;
    let settings = server::Settings { trusted_proxies, ..server::Settings::default() };
    let server = common::instance_with(&pool, settings).await;
    let sign_in = |from: &'static str, password: &'static str| {
        let request = Visitor::new(&server).client.post(format!("{}/api/session", server.url));
        request.header("x-forwarded-for", from).json(&json!({"login": "tess", "password": password})).send()
    };
    for _ in 0..5 {
        assert_eq!(sign_in("198.51.100.1", "guess").await.unwrap().status(), StatusCode::UNAUTHORIZED);
    }
    assert_eq!(sign_in("198.51.100.1", PASSWORD).await.unwrap().status(), StatusCode::TOO_MANY_REQUESTS);
    assert_eq!(sign_in("198.51.100.2", PASSWORD).await.unwrap().status(), expected);
}

#[sqlx::test]
async fn a_flood_of_invented_names_keeps_nobody_out_where_they_are_known(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let own = Visitor::signed_in(&server, "tess").await;
    let flood = Visitor::new(&server);
    let floods = (0..150).map(|i| {
        let flood = &flood;
        async move { flood.sign_in(&format!("nobody{i}"), "guess").await.status() }
    });
    let (heard, own) = futures::join!(futures::future::join_all(floods), own.sign_in("tess", PASSWORD));
    assert_eq!(own.status(), StatusCode::OK);
    assert!(heard.iter().all(|status| status.is_client_error()), "{heard:?}");
    let checked = heard.iter().filter(|status| **status == StatusCode::UNAUTHORIZED).count();
    assert!((1..=40).contains(&checked), "{checked} were checked");
}

/// A request whose header never ends, and one whose body never comes.
#[rstest]
#[case::header("GET /api/session HTTP/1.1\r\nhost: x\r\n")]
#[case::body("POST /api/session HTTP/1.1\r\nhost: x\r\ncontent-type: application/json\r\ncontent-length: 9\r\n\r\n{")]
#[sqlx::test]
async fn a_half_sent_request_holds_neither_others_nor_the_stop(#[ignore] pool: PgPool, #[case] half: &str) {
    let (_first, _) = start(&pool).await;
    let listener = tokio::net::TcpListener::bind("127.0.0.1:0").await.unwrap();
    let at = listener.local_addr().unwrap();
    let stop = tokio_util::sync::CancellationToken::new();
    let settings = server::Settings { connections: Some(8), ..server::Settings::default() };
    let serving = tokio::spawn(server::serve(listener, pool.clone(), settings, stop.clone()));
    let mut halves = Vec::new();
    for _ in 0..12 {
        let mut stream = tokio::net::TcpStream::connect(at).await.unwrap();
        tokio::io::AsyncWriteExt::write_all(&mut stream, half.as_bytes()).await.unwrap();
        halves.push(stream);
    }
    // One place has half of all connections; the others are turned away, so there is room.
    let others = tokio::net::TcpStream::connect(at).await;
    assert!(others.is_ok());
    let begun = Instant::now();
    stop.cancel();
    tokio::time::timeout(Duration::from_secs(20), serving).await.expect("the server stops").unwrap().unwrap();
    assert!(begun.elapsed() < Duration::from_secs(12), "{:?}", begun.elapsed());
}

#[sqlx::test]
async fn an_analysis_is_answered_or_refused_with_its_bound(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let request = json!({"task": "chart", "chart": "i_mr", "points": [{"values": [1]}, {"values": [3]}]});
    let (status, answer) = read(tess.post("/api/analyze", request).await).await;
    assert_eq!((status, &answer["phases"][0]["center"]), (StatusCode::OK, &json!(2.0)));
    let values: Vec<u32> = (0..30_000).collect();
    let request = json!({"task": "probability_plot", "family": "normal", "values": values});
    let (status, problem) = read(tess.post("/api/analyze", request).await).await;
    assert_eq!((status.as_u16(), &problem["params"]["expected"]["most"]), (422, &json!(20_000)));
}

#[rstest]
#[case::other_site("sec-fetch-site", "cross-site")]
#[case::other_port("sec-fetch-site", "same-site")]
#[case::old_browser("origin", "http://elsewhere.example")]
#[sqlx::test]
async fn requests_from_other_sites_are_refused(#[ignore] pool: PgPool, #[case] name: &str, #[case] value: &str) {
    let (server, site) = start(&pool).await;
    let visitor = Visitor::signed_in(&server, "tess").await;
    let url = format!("{}/api/characteristics/{}/samples", server.url, site.wall);
    let body = json!({"device": Uuid::nil(), "entry": Uuid::nil(), "readings": ["5", "5", "5"]});
    let response = visitor.client.post(url).header(name, value).json(&body).send().await.unwrap();
    let (status, problem) = read(response).await;
    assert_eq!((status, &problem["code"]), (StatusCode::FORBIDDEN, &json!("cross_site")));
}

#[rstest]
#[case("/")]
#[case("/charts/any")]
#[case("/api/session")]
#[case("/assets/none.js")]
#[sqlx::test]
async fn every_answer_carries_the_security_headers(#[ignore] pool: PgPool, #[case] path: &str) {
    let (server, _) = start(&pool).await;
    let response = Visitor::new(&server).get(path).await;
    let header = |name: &str| response.headers()[name].to_str().unwrap().to_owned();
    let policy = header("content-security-policy");
    assert!(policy.contains("script-src 'self';") && policy.contains("frame-ancestors 'none'"), "{policy}");
    assert_eq!(header("x-content-type-options"), "nosniff");
    assert_eq!(header("x-frame-options"), "DENY");
}
