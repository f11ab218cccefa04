//! Every route × every role × signed out × a person of another area.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod common;

use std::collections::BTreeSet;
use std::time::Duration;

use common::{PASSWORD, Server, Visitor, read, start, wall_thickness};
use quality::account::Account;
use quality::role::Role;
use reqwest::StatusCode;
use serde_json::{Value, json};
use sqlx::PgPool;
use store::people::NewPerson;
use uuid::Uuid;

/// Objects of the area Forming that routes name.
struct Objects {
    episode: Uuid,
    sample: Uuid,
    signature: Uuid,
    file: Uuid,
}

/// A route with a body that it understands, and those who may use it.
type Route = (&'static str, String, Value, Vec<&'static str>);

/// Every route that asks who is there. `ray` reads the area Forming, where all these objects are.
fn routes(site: &common::Site, objects: &Objects) -> Vec<Route> {
    let all = vec!["tess", "sue", "eve", "ann"];
    let read = vec!["tess", "sue", "eve", "ann", "ray"];
    let enter = vec!["tess", "sue", "eve"];
    let account = json!({"name": "", "role": "technician", "areas": [], "stations": [], "bound": false});
    let (episode, sample, signature, file) = (objects.episode, objects.sample, objects.signature, objects.file);
    let report =
        |kind: &str| format!("/api/report{kind}?report=episodes&from=2020-01-01T00:00:00Z&until=2100-01-01T00:00:00Z");
    let webhook = json!({"name": "", "url": "", "kinds": [], "areas": [], "active": true});
    let c = format!("/api/characteristics/{}", site.wall);
    vec![
        ("GET", "/api/session".into(), Value::Null, read.clone()),
        ("PUT", "/api/me/pin".into(), json!({"password": "", "pin": ""}), read.clone()),
        ("PUT", "/api/me/password".into(), json!({"password": "", "new": ""}), read.clone()),
        ("GET", "/api/accounts".into(), Value::Null, vec!["ann"]),
        ("POST", "/api/accounts".into(), json!({"login": "", "account": account}), vec!["ann"]),
        ("PUT", format!("/api/accounts/{episode}"), json!({"version": 1, "account": account}), vec!["ann"]),
        ("POST", format!("/api/accounts/{episode}/closing"), Value::Null, vec!["ann"]),
        ("POST", format!("/api/accounts/{episode}/reopening"), Value::Null, vec!["ann"]),
        ("POST", format!("/api/accounts/{episode}/password"), Value::Null, vec!["ann"]),
        ("DELETE", format!("/api/accounts/{episode}/pin"), Value::Null, vec!["ann"]),
        ("DELETE", format!("/api/accounts/{episode}/sessions"), Value::Null, vec!["ann"]),
        ("PUT", "/api/me/badge".into(), json!({"password": "", "badge": ""}), read.clone()),
        ("GET", "/api/rounds".into(), Value::Null, read.clone()),
        ("GET", "/api/site".into(), Value::Null, read.clone()),
        ("GET", "/api/plan".into(), Value::Null, read.clone()),
        ("GET", "/api/plan/choices".into(), Value::Null, read.clone()),
        ("GET", "/api/event-kinds".into(), Value::Null, read.clone()),
        ("PUT", format!("/api/stations/{}/pin", site.station), Value::Null, all.clone()),
        ("DELETE", format!("/api/stations/{}/pin", site.station), Value::Null, all.clone()),
        ("GET", format!("/api/samples/{sample}/corrections"), Value::Null, read.clone()),
        (
            "POST",
            format!("/api/samples/{sample}/corrections"),
            json!({"version": 9, "sample": {}, "reason": ""}),
            enter.clone(),
        ),
        ("POST", format!("/api/samples/{sample}/withdrawal"), json!({"version": 9, "reason": ""}), enter.clone()),
        (
            "POST",
            format!("/api/stations/{}/events", site.station),
            json!({"device": Uuid::nil(), "entry": Uuid::nil(), "kind": Uuid::nil()}),
            enter.clone(),
        ),
        (
            "POST",
            format!("/api/stations/{}/pieces", site.station),
            json!({"device": Uuid::nil(), "entry": Uuid::nil(), "pieces": 0}),
            enter.clone(),
        ),
        (
            "POST",
            format!("{c}/gaps"),
            json!({"device": Uuid::nil(), "entry": Uuid::nil(), "because": ""}),
            enter.clone(),
        ),
        ("GET", "/api/plan/devices".into(), Value::Null, vec!["eve"]),
        (
            "POST",
            "/api/plan/devices".into(),
            json!({"name": "", "stations": [], "link": {"kind": "ingest"}}),
            vec!["eve"],
        ),
        (
            "PUT",
            format!("/api/plan/devices/{episode}"),
            json!({"version": 1, "device": {"name": "", "stations": [], "link": {"kind": "ingest"}}}),
            vec!["eve"],
        ),
        ("POST", format!("/api/plan/devices/{episode}/revocation"), Value::Null, vec!["eve"]),
        ("GET", format!("/api/stations/{}/offers", site.station), Value::Null, enter.clone()),
        ("POST", format!("/api/offers/{episode}/taking"), json!({"characteristic": site.wall}), enter.clone()),
        ("GET", "/api/lab".into(), Value::Null, all.clone()),
        ("GET", format!("/api/stations/{}/lab-figures", site.station), Value::Null, all.clone()),
        ("GET", format!("/api/runs/{episode}"), Value::Null, all.clone()),
        ("POST", format!("/api/stations/{}/runs/preview", site.station), json!({"results": []}), enter.clone()),
        (
            "POST",
            format!("/api/stations/{}/runs", site.station),
            json!({"device": Uuid::nil(), "entry": Uuid::nil(), "results": []}),
            enter.clone(),
        ),
        ("GET", "/api/runs".into(), Value::Null, all.clone()),
        ("POST", format!("/api/runs/{episode}/reviews"), json!({"version": 1}), vec!["sue", "eve"]),
        ("POST", format!("/api/runs/{episode}/actions"), json!({"text": "", "entry": Uuid::nil()}), enter.clone()),
        ("POST", format!("/api/runs/{episode}/release"), json!({"version": 1}), enter.clone()),
        ("POST", format!("/api/runs/{episode}/override"), json!({"version": 1, "because": ""}), vec!["sue", "eve"]),
        (
            "POST",
            "/api/plan/analytes".into(),
            json!({"station": site.station, "name": "", "unit": "", "decimals": 0, "levels": []}),
            vec!["eve"],
        ),
        (
            "POST",
            format!("/api/plan/levels/{}/assigned", site.wall),
            json!({"name": "", "assigned": {"mean": 0, "sd": 0}}),
            vec!["eve"],
        ),
        ("POST", "/api/plan/stations".into(), json!({"area": "", "name": ""}), vec!["eve"]),
        ("POST", "/api/plan/products".into(), json!({"name": ""}), vec!["eve"]),
        (
            "POST",
            "/api/plan/characteristics".into(),
            json!({"station": site.station, "product": Uuid::nil(), "characteristic": wall_thickness()}),
            vec!["eve"],
        ),
        ("POST", "/api/plan/changes".into(), json!([]), vec!["eve"]),
        ("POST", "/api/plan/changes/preview".into(), json!([]), vec!["eve"]),
        (
            "POST",
            "/api/plan/chooser".into(),
            json!({"asked": {"kind": "measured", "pieces": 1, "varying": false, "taken": "consecutive"}}),
            vec!["eve"],
        ),
        ("GET", format!("{c}/chart"), Value::Null, read.clone()),
        ("GET", "/api/charts".into(), Value::Null, read.clone()),
        ("GET", format!("{c}/chart.csv"), Value::Null, read.clone()),
        ("GET", format!("{c}/chart.xlsx"), Value::Null, read.clone()),
        ("PUT", format!("{c}/pin"), Value::Null, read.clone()),
        ("DELETE", format!("{c}/pin"), Value::Null, read.clone()),
        ("GET", format!("{c}/trust"), Value::Null, read.clone()),
        ("GET", format!("{c}/limits"), Value::Null, read.clone()),
        (
            "POST",
            format!("{c}/limits/changes"),
            json!({"version": 0, "change": "take_back", "sample": sample}),
            vec!["sue", "eve"],
        ),
        ("POST", format!("{c}/limits/changes"), json!({"version": 0, "change": "merge", "phase": sample}), vec!["eve"]),
        (
            "POST",
            format!("{c}/limits/changes"),
            json!({"version": 0, "change": "keep", "phase": sample, "reason": "", "until": "2030-01-01"}),
            vec!["eve"],
        ),
        ("GET", "/api/limits/to-look-at".into(), Value::Null, vec!["eve"]),
        ("POST", format!("/api/plan/levels/{}/lots", Uuid::nil()), json!({"lot": ""}), vec!["eve"]),
        ("POST", format!("/api/plan/lots/{}/take-over", Uuid::nil()), Value::Null, vec!["eve"]),
        ("GET", format!("{c}/look"), Value::Null, read.clone()),
        ("GET", "/api/plan/rule-sets".into(), Value::Null, read.clone()),
        ("POST", "/api/plan/rule-sets".into(), json!({"name": "", "rules": []}), vec!["eve"]),
        (
            "POST",
            format!("/api/plan/rule-sets/{}/versions", Uuid::nil()),
            json!({"version": 1, "rules": []}),
            vec!["eve"],
        ),
        (
            "POST",
            format!("{c}/replay"),
            json!({"rule_set": {"list": []}, "k": 0.0, "since": "2026-01-01T00:00:00Z"}),
            vec!["eve"],
        ),
        ("GET", "/api/samples".into(), Value::Null, read.clone()),
        ("GET", "/api/episodes".into(), Value::Null, read.clone()),
        ("GET", "/api/episodes/waiting".into(), Value::Null, all.clone()),
        ("GET", "/api/episodes/count".into(), Value::Null, read.clone()),
        ("GET", "/api/learned?from=2020-01-01T00:00:00Z&until=2100-01-01T00:00:00Z".into(), Value::Null, read.clone()),
        ("GET", report(""), Value::Null, read.clone()),
        ("GET", report(".csv"), Value::Null, read.clone()),
        ("GET", report(".xlsx"), Value::Null, read.clone()),
        ("GET", "/api/me/notices".into(), Value::Null, all.clone()),
        ("POST", "/api/me/notices/seen".into(), json!({"until": site.since}), all.clone()),
        ("GET", "/api/me/wishes".into(), Value::Null, all.clone()),
        ("PUT", "/api/me/wishes".into(), json!({"email": null, "kinds": []}), all.clone()),
        ("GET", "/api/webhooks".into(), Value::Null, vec!["ann"]),
        ("POST", "/api/webhooks".into(), webhook.clone(), vec!["ann"]),
        ("PUT", format!("/api/webhooks/{episode}"), json!({"version": 1, "webhook": webhook}), vec!["ann"]),
        ("GET", "/api/handover".into(), Value::Null, all.clone()),
        (
            "POST",
            "/api/handover/words".into(),
            json!({"shift": site.since, "text": "", "entry": Uuid::nil()}),
            all.clone(),
        ),
        ("POST", "/api/handover/readings".into(), json!({"shift": site.since, "open": []}), all.clone()),
        ("GET", "/api/people".into(), Value::Null, all.clone()),
        ("GET", "/api/me/filters".into(), Value::Null, read.clone()),
        ("POST", "/api/me/filters".into(), json!({"name": "", "query": ""}), read.clone()),
        ("DELETE", format!("/api/me/filters/{episode}"), Value::Null, read.clone()),
        ("GET", format!("/api/episodes/{episode}"), Value::Null, read.clone()),
        ("GET", format!("/api/episodes/{episode}/explained"), Value::Null, read.clone()),
        ("GET", "/api/causes".into(), Value::Null, all.clone()),
        ("GET", "/api/causes/catalogue".into(), Value::Null, read.clone()),
        ("POST", "/api/causes".into(), json!({"name": "", "group": "machine"}), vec!["eve"]),
        (
            "PUT",
            format!("/api/causes/{episode}"),
            json!({"version": 1, "group": "machine", "state": "in_use"}),
            vec!["eve"],
        ),
        ("GET", format!("/api/files/{file}"), Value::Null, read.clone()),
        ("PUT", format!("/api/files/{episode}?name=die.png"), json!("no picture"), enter.clone()),
        (
            "POST",
            format!("/api/episodes/{episode}/additions"),
            json!({"answer": Uuid::nil(), "comment": ""}),
            enter.clone(),
        ),
        ("GET", "/api/live".into(), Value::Null, read.clone()),
        ("POST", "/api/analyze".into(), json!({"task": "none"}), all.clone()),
        ("POST", format!("{c}/preview"), json!({"readings": ["5"]}), enter.clone()),
        (
            "POST",
            format!("{c}/samples"),
            json!({"device": Uuid::nil(), "entry": Uuid::nil(), "readings": []}),
            enter.clone(),
        ),
        ("POST", format!("/api/samples/{sample}/notes"), json!({"text": "", "entry": Uuid::nil()}), all.clone()),
        ("PUT", format!("/api/notes/{episode}"), json!({"version": 1, "text": ""}), all),
        ("POST", format!("/api/episodes/{episode}/answers"), json!({"version": 0, "action": ""}), enter),
        (
            "POST",
            format!("/api/episodes/{episode}/reviews"),
            json!({"version": 0, "decision": "accepted"}),
            vec!["sue", "eve"],
        ),
        ("POST", "/api/episodes/reviews".into(), json!({"episodes": [], "decision": "accepted"}), vec!["sue", "eve"]),
        ("GET", "/api/reviews/unsigned".into(), Value::Null, vec!["sue", "eve"]),
        ("GET", "/api/signatures".into(), Value::Null, read.clone()),
        ("GET", format!("/api/signatures/{signature}"), Value::Null, read.clone()),
        ("POST", "/api/signatures".into(), json!({"by": {"password": ""}, "reviews": []}), vec!["sue", "eve"]),
        ("GET", "/api/trail.csv".into(), Value::Null, vec!["sue", "eve", "ann", "ray"]),
        ("GET", "/api/trail".into(), Value::Null, vec!["sue", "eve", "ann", "ray"]),
    ]
}

/// Routes that are open to everybody: signing in and out, taking a terminal over; and those that ask for a token of
/// their own.
const OPEN: [(&str, &str); 7] = [
    ("GET", "/api/wall"),
    ("GET", "/api/wall/live"),
    ("POST", "/api/session"),
    ("DELETE", "/api/session"),
    ("GET", "/api/terminal"),
    ("POST", "/api/terminal"),
    ("POST", "/api/ingest"),
];

/// The description of the interface.
fn described(pool: &PgPool) -> Value {
    let stopped = tokio_util::sync::CancellationToken::new();
    stopped.cancel();
    let app = server::App::new(pool.clone(), server::Settings::default(), stopped).unwrap();
    serde_json::to_value(server::openapi(&app)).unwrap()
}

/// A path with `{}` where it names an object.
fn shape(path: &str) -> String {
    let path = path.split('?').next().unwrap();
    let part = |part: &str| if part.starts_with('{') || Uuid::parse_str(part).is_ok() { "{}" } else { part }.to_owned();
    path.split('/').map(part).collect::<Vec<_>>().join("/")
}

/// Each route of the description stands in the table of [`routes`] or is open: a new one fails until it is placed.
#[sqlx::test]
async fn every_route_of_the_description_is_placed(pool: PgPool) {
    let (_server, site) = start(&pool).await;
    let nil = Uuid::nil();
    let placed = routes(&site, &Objects { episode: nil, sample: nil, signature: nil, file: nil });
    let placed = placed.iter().map(|(method, path, ..)| ((*method).to_owned(), shape(path)));
    let placed: BTreeSet<_> = placed.chain(OPEN.map(|(m, p)| (m.to_owned(), p.to_owned()))).collect();
    let description = described(&pool);
    let paths = description["paths"].as_object().unwrap();
    let operations = paths.iter().flat_map(|(path, item)| item.as_object().unwrap().keys().map(move |m| (m, path)));
    let there: BTreeSet<_> = operations.map(|(method, path)| (method.to_uppercase(), shape(path))).collect();
    assert_eq!(placed, there);
}

#[sqlx::test]
async fn no_two_routes_are_called_alike(pool: PgPool) {
    store::migrate(&pool).await.unwrap();
    let description = described(&pool);
    let paths = description["paths"].as_object().unwrap().values().flat_map(|item| item.as_object().unwrap().values());
    let ids: Vec<&str> = paths.filter_map(|operation| operation.get("operationId")?.as_str()).collect();
    let unlike: BTreeSet<&&str> = ids.iter().collect();
    assert_eq!(unlike.len(), ids.len(), "the types of the browser would mix them up");
}

async fn ask(visitor: &Visitor, (method, path, body, _): &Route) -> reqwest::Response {
    match *method {
        "GET" => visitor.get(path).await,
        "PUT" if !body.is_null() => visitor.put(path, body.clone()).await,
        "PUT" | "DELETE" => visitor.without_body(method, path).await,
        _ => visitor.post(path, body.clone()).await,
    }
}

/// An answered, reviewed and signed episode with a picture, all in the area Forming.
async fn objects(pool: &PgPool, server: &Server, site: &common::Site) -> Objects {
    let saved = common::save_wall(pool, site, 0, 5.9).await;
    let episode = saved.asking[0];
    let tess = Visitor::signed_in(server, "tess").await;
    let file = Uuid::new_v4();
    let png = [0x89, b'P', b'N', b'G', 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, b'I', b'H', b'D', b'R'];
    let url = format!("{}/api/files/{file}?name=die.png", server.url);
    assert!(tess.client.put(url).body(png.to_vec()).send().await.unwrap().status().is_success());
    let version = |seen: &Value| seen["version"].clone();
    let (_, seen) = read(tess.get(&format!("/api/episodes/{episode}")).await).await;
    let answer = json!({"version": version(&seen), "nothing_found": true, "action": "Looked", "files": [file]});
    let (status, seen) = read(tess.post(&format!("/api/episodes/{episode}/answers"), answer).await).await;
    assert!(status.is_success(), "{seen}");
    let sue = Visitor::signed_in(server, "sue").await;
    let (_, seen) = read(sue.get(&format!("/api/episodes/{episode}")).await).await;
    let review = json!({"version": version(&seen), "decision": "accepted"});
    assert!(sue.post(&format!("/api/episodes/{episode}/reviews"), review).await.status().is_success());
    let (_, unsigned) = read(sue.get("/api/reviews/unsigned").await).await;
    let seen: Vec<Value> =
        unsigned.as_array().unwrap().iter().map(|d| json!({"review": d["review"], "digest": d["digest"]})).collect();
    let (status, signed) =
        read(sue.post("/api/signatures", json!({"by": {"password": PASSWORD}, "reviews": seen})).await).await;
    assert_eq!(status, StatusCode::CREATED, "{signed}");
    let signature = signed["id"].as_str().unwrap().parse().unwrap();
    Objects { episode, sample: saved.sample, signature, file }
}

/// Somebody who belongs to one area alone.
async fn of_area(pool: &PgPool, login: &str, role: Role, area: &str, bound: bool) {
    let area = sqlx::query_scalar("select id from area where name = $1").bind(area).fetch_one(pool).await.unwrap();
    let account = Account { areas: vec![area], bound, ..Account::everywhere(login, role) };
    let hash = server::hash_password(PASSWORD).unwrap();
    let new = NewPerson { login, account, password_hash: &hash, password_is_first: false };
    store::people::add(pool, new, None, chrono::Utc::now()).await.unwrap();
}

#[sqlx::test]
async fn every_route_asks_who_is_there_and_what_they_may(pool: PgPool) {
    let (server, site) = start(&pool).await;
    of_area(&pool, "ray", Role::Reader, "Forming", false).await;
    let routes = routes(&site, &objects(&pool, &server, &site).await);
    for login in ["", "tess", "sue", "eve", "ann", "ray"] {
        let visitor = match login {
            "" => Visitor::new(&server),
            login => Visitor::signed_in(&server, login).await,
        };
        for route in &routes {
            let (method, path, _, allowed) = route;
            let status = ask(&visitor, route).await.status();
            let expected = match login {
                "" => Some(StatusCode::UNAUTHORIZED),
                login if !allowed.contains(&login) => Some(StatusCode::FORBIDDEN),
                _ => None,
            };
            match expected {
                Some(expected) => assert_eq!(status, expected, "{login:?} {method} {path}"),
                None => {
                    assert!(status != StatusCode::FORBIDDEN && !status.is_server_error(), "{login} {path}: {status}");
                }
            }
        }
    }
}

/// What stands in another area is not there for a reader: no route answers with it, and no list holds it.
#[sqlx::test]
async fn a_reader_of_another_area_finds_nothing_of_this_one(pool: PgPool) {
    let (server, site) = start(&pool).await;
    of_area(&pool, "ray", Role::Reader, "Forming", false).await;
    of_area(&pool, "rhea", Role::Reader, "Firing", false).await;
    let objects = objects(&pool, &server, &site).await;
    let (ray, rhea) = (Visitor::signed_in(&server, "ray").await, Visitor::signed_in(&server, "rhea").await);
    let ids = [site.wall, site.viscosity, site.leaks, site.station, objects.episode, objects.sample, objects.signature];
    let mut held = 0;
    for route in routes(&site, &objects).iter().filter(|route| route.3.contains(&"ray") && route.1 != "/api/live") {
        let (method, path, ..) = route;
        let own = path.starts_with("/api/me/");
        if !own && path.split('/').any(|part| Uuid::parse_str(part).is_ok()) {
            assert!(ask(&ray, route).await.status().is_success(), "ray {method} {path}");
            assert_eq!(ask(&rhea, route).await.status(), StatusCode::NOT_FOUND, "rhea {method} {path}");
            continue;
        }
        let (seen, of_others) = (ask(&ray, route).await.text().await.unwrap(), ask(&rhea, route).await);
        let of_others = of_others.text().await.unwrap();
        for id in ids.map(|id| id.to_string()) {
            held += usize::from(seen.contains(&id));
            assert!(!of_others.contains(&id), "rhea {method} {path} {id}");
        }
    }
    // The plan holds four of them, episodes, signatures and the trail what is theirs.
    assert!(held >= 10, "{held}");
}

/// Nor are they told of it as it happens.
#[sqlx::test]
async fn a_reader_is_told_of_their_areas_alone(pool: PgPool) {
    use futures::StreamExt;
    let (server, site) = start(&pool).await;
    of_area(&pool, "ray", Role::Reader, "Forming", false).await;
    of_area(&pool, "rhea", Role::Reader, "Firing", false).await;
    let (ray, rhea) = (Visitor::signed_in(&server, "ray").await, Visitor::signed_in(&server, "rhea").await);
    let mut streams = [ray.get("/api/live").await.bytes_stream(), rhea.get("/api/live").await.bytes_stream()];
    for stream in &mut streams {
        stream.next().await.unwrap().unwrap();
    }
    common::save_wall(&pool, &site, 0, 5.9).await;
    let eve = Visitor::signed_in(&server, "eve").await;
    // What everybody is told comes after it, so that what comes before is all there is.
    assert!(eve.post("/api/plan/products", json!({"name": "Lid"})).await.status().is_success());
    let mut told = [String::new(), String::new()];
    for (stream, told) in streams.iter_mut().zip(&mut told) {
        while !told.contains("plan") {
            let more = tokio::time::timeout(Duration::from_secs(5), stream.next()).await;
            told.push_str(&String::from_utf8_lossy(&more.unwrap().unwrap().unwrap()));
        }
    }
    let wall = site.wall.to_string();
    assert_eq!([told[0].contains(&wall), told[1].contains(&wall)], [true, false]);
}

/// Who is bound to stations of their own looks everywhere, and enters there alone.
#[sqlx::test]
async fn who_is_bound_enters_at_their_own_stations_alone(pool: PgPool) {
    let (server, site) = start(&pool).await;
    of_area(&pool, "bo", Role::Technician, "Firing", true).await;
    of_area(&pool, "bea", Role::Technician, "Forming", true).await;
    let (bo, bea) = (Visitor::signed_in(&server, "bo").await, Visitor::signed_in(&server, "bea").await);
    let objects = objects(&pool, &server, &site).await;
    let mut refused = 0;
    for route in &routes(&site, &objects) {
        let (status, body) = {
            let response = ask(&bo, route).await;
            (response.status(), if route.1 == "/api/live" { String::new() } else { response.text().await.unwrap() })
        };
        let looks = route.0 == "GET" && route.3.contains(&"tess");
        assert!(!looks || route.1.contains("/offers") || status != StatusCode::FORBIDDEN, "{} {status}", route.1);
        refused += usize::from(body.contains("not_your_station"));
        assert!(ask(&bea, route).await.status() != StatusCode::FORBIDDEN || !route.3.contains(&"tess"), "{}", route.1);
    }
    // Preview, sample, gap, correction, withdrawal, event, pieces, offers, run and its preview.
    assert_eq!(refused, 10);
    assert_eq!(bea.enter(site.wall, &["5", "5", "5"]).await.0, StatusCode::CREATED);
    assert_eq!(bo.enter(site.wall, &["5", "5", "5"]).await.1["code"], "not_your_station");
}
