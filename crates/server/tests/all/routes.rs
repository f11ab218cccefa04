//! Every route × every role × signed out × a person of another area.

use std::collections::BTreeSet;
use std::time::Duration;

use quality::account::Account;
use quality::role::Role;
use reqwest::StatusCode;
use serde_json::{Value, json};
use sqlx::PgPool;
use store::people::NewPerson;
use uuid::Uuid;

use crate::common::{self, PASSWORD, Server, Visitor, read, start};
use crate::routes_table::{Objects, Route, routes};

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
    let placed =
        routes(&site, &Objects { episode: nil, sample: nil, signature: nil, file: nil, study: nil, tree: nil });
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
    common::save_wall(pool, site, 60, 5.8).await;
    let question = json!({"sort": "capability", "of": {"characteristic": site.wall}, "specification": {"lsl": 5.0}});
    let (status, kept) = read(sue.post("/api/studies", json!({"name": "Wall", "question": question})).await).await;
    assert_eq!(status, StatusCode::CREATED, "{kept}");
    let study = kept["id"].as_str().unwrap().parse().unwrap();
    let origin = json!({"from": "study", "characteristic": site.wall, "study": study});
    let tree = json!({"name": "Wall too thick", "origin": origin});
    let (status, kept) = read(sue.post("/api/cause-trees", tree).await).await;
    assert_eq!(status, StatusCode::CREATED, "{kept}");
    let tree = kept["id"].as_str().unwrap().parse().unwrap();
    Objects { episode, sample: saved.sample, signature, file, study, tree }
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
    let ids = [
        site.wall,
        site.viscosity,
        site.leaks,
        site.station,
        objects.episode,
        objects.sample,
        objects.signature,
        objects.study,
        objects.tree,
    ];
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
            let more = tokio::time::timeout(Duration::from_secs(60), stream.next()).await;
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
