//! Every failure that the interface describes is provoked, and comes with the status that its description names. Who adds
//! a code without a way to it, or answers one that is described nowhere, is told here.

use std::collections::BTreeMap;

use reqwest::Response;
use serde_json::{Value, json};
use server::{App, Settings};
use sqlx::PgPool;
use tokio_util::sync::CancellationToken;
use uuid::Uuid;

use crate::common::{self, PASSWORD, Server, Site, Visitor, read, start, wall_thickness};

/// Codes with their statuses.
type Codes = BTreeMap<String, u64>;

/// What the description of the interface says: each code, and the number at the head of what is said of it.
fn described(pool: PgPool) -> Codes {
    let app = App::new(pool, Settings::default(), CancellationToken::new()).unwrap();
    let description = serde_json::to_value(server::openapi(&app)).unwrap();
    let failures = description["components"]["schemas"]["Failure"]["oneOf"].as_array().unwrap();
    let code = |failure: &Value| failure["properties"]["code"]["enum"][0].as_str().unwrap().to_owned();
    let status = |failure: &Value| failure["description"].as_str().unwrap()[..3].parse().unwrap();
    failures.iter().map(|failure| (code(failure), status(failure))).collect()
}

/// What was provoked so far.
#[derive(Default)]
struct Provoked(Codes);

impl Provoked {
    fn note(&mut self, problem: &Value) {
        let code = problem["code"].as_str().unwrap_or_else(|| panic!("no code in {problem}")).to_owned();
        assert_eq!(problem["type"], format!("urn:nuvek:problem:{code}"));
        assert!(problem["params"].is_object(), "{problem}");
        self.0.insert(code, problem["status"].as_u64().unwrap());
    }

    async fn take(&mut self, response: Response) {
        assert_eq!(response.headers()["content-type"], "application/problem+json");
        let (status, problem) = read(response).await;
        assert_eq!(problem["status"], status.as_u16());
        self.note(&problem);
    }
}

#[sqlx::test]
async fn every_failure_is_provoked_with_the_status_of_its_description(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let mut provoked = Provoked::default();
    signing_in(&mut provoked, &server, &site).await;
    accounts(&mut provoked, &server, &site).await;
    reading_requests(&mut provoked, &server, &site).await;
    entries(&mut provoked, &server, &site, &pool).await;
    setting_up(&mut provoked, &server, &site).await;
    episodes(&mut provoked, &server, &site).await;
    runs(&mut provoked, &server, &site).await;
    limits(&mut provoked, &server, &site, &pool).await;
    tables(&mut provoked, &server, &site).await;
    analyses(&mut provoked, &server, &site).await;
    ours(&mut provoked, &server, pool.clone()).await;
    assert_eq!(provoked.0, described(pool));
}

async fn signing_in(provoked: &mut Provoked, server: &Server, site: &Site) {
    let nobody = Visitor::new(server);
    provoked.take(nobody.get("/api/rounds").await).await;
    provoked.take(nobody.sign_in("tess", "guess").await).await;
    provoked.take(nobody.post("/api/terminal", json!({"person": site.technician, "pin": "2580"})).await).await;
    provoked.take(nobody.post("/api/ingest", json!({"samples": []})).await).await;
    let sue = Visitor::signed_in(server, "sue").await;
    sue.put("/api/me/badge", json!({"password": PASSWORD, "badge": "SUE1CARD"})).await;
    let terminal = Visitor::signed_in(server, "tess").await;
    terminal.put("/api/me/pin", json!({"password": PASSWORD, "pin": "2580"})).await;
    for _ in 0..6 {
        provoked.take(terminal.post("/api/terminal", json!({"person": site.technician, "pin": "0852"})).await).await;
        provoked.take(terminal.put("/api/me/badge", json!({"password": PASSWORD, "badge": "SUE1CARD"})).await).await;
    }
    provoked.take(terminal.post("/api/plan/products", json!({"name": "Lid"})).await).await;
}

async fn accounts(provoked: &mut Provoked, server: &Server, site: &Site) {
    let ann = Visitor::signed_in(server, "ann").await;
    let (_, who) = read(ann.get("/api/session").await).await;
    let own = format!("/api/accounts/{}/closing", who["id"].as_str().unwrap());
    provoked.take(ann.post(&own, Value::Null).await).await;
    let kiln = json!({"area": "Firing", "name": "Kiln 9"});
    let (_, kiln) = read(Visitor::signed_in(server, "eve").await.post("/api/plan/stations", kiln).await).await;
    let account = json!({"name": "Bo", "role": "technician", "areas": [], "stations": [kiln["id"]], "bound": true});
    let (_, added) = read(ann.post("/api/accounts", json!({"login": "bo", "account": account})).await).await;
    let bo = Visitor::new(server);
    let first = added["password"].as_str().unwrap();
    bo.sign_in("bo", first).await;
    provoked.take(bo.get("/api/rounds").await).await;
    bo.put("/api/me/password", json!({"password": first, "new": "seven brown kettles"})).await;
    let sample = json!({"device": Uuid::nil(), "entry": Uuid::nil(), "readings": ["5", "5", "5"]});
    provoked.take(bo.post(&format!("/api/characteristics/{}/samples", site.wall), sample).await).await;
}

async fn reading_requests(provoked: &mut Provoked, server: &Server, site: &Site) {
    let tess = Visitor::signed_in(server, "tess").await;
    let url = format!("{}/api/characteristics/{}/gaps", server.url, site.wall);
    let post = |kind: &str, body: String| tess.client.post(&url).header("content-type", kind).body(body).send();
    let skip = json!({"device": Uuid::nil(), "entry": Uuid::nil(), "because": "a\u{0}b"}).to_string();
    for (kind, body) in [
        ("application/json", "{".to_owned()),
        ("application/json", "{}".to_owned()),
        ("application/json", " ".repeat(70_000)),
        ("text/plain", "{}".to_owned()),
        ("application/json", skip),
    ] {
        provoked.take(post(kind, body).await.unwrap()).await;
    }
    let elsewhere = tess.client.post(&url).header("sec-fetch-site", "cross-site").json(&json!({})).send();
    provoked.take(elsewhere.await.unwrap()).await;
}

async fn entries(provoked: &mut Provoked, server: &Server, site: &Site, pool: &PgPool) {
    let (tess, tom) = (Visitor::signed_in(server, "tess").await, Visitor::signed_in(server, "tom").await);
    let path = format!("/api/characteristics/{}/samples", site.wall);
    let sample = |entry: u128, readings: [&str; 3], at: Option<&str>| json!({"device": Uuid::nil(), "entry": Uuid::from_u128(entry), "readings": readings, "taken_at": at});
    let five = ["5", "5", "5"];
    for body in [
        sample(1, ["x", "5", "5"], None),
        sample(1, ["7", "5", "5"], None),
        sample(1, five, Some("1999-12-31T23:00:00Z")),
        sample(1, five, Some("2999-01-01T00:00:00Z")),
        sample(1, five, Some("1969-01-01T00:00:00Z")),
    ] {
        provoked.take(tess.post(&path, body).await).await;
    }
    let (_, saved) = read(tess.post(&path, sample(2, five, None)).await).await;
    provoked.take(tess.post(&path, sample(2, ["5", "5", "5.1"], None)).await).await;
    provoked
        .take(tess.post(&format!("/api/characteristics/{}/samples", Uuid::nil()), sample(3, five, None)).await)
        .await;
    let old = common::save_wall(pool, site, 0, 5.0).await;
    let withdraw = |sample: String, version: i32, reason: &str| {
        (format!("/api/samples/{sample}/withdrawal"), json!({"version": version, "reason": reason}))
    };
    let mine = saved["sample"].as_str().unwrap().to_owned();
    for (who, (path, body)) in [
        (&tess, withdraw(mine.clone(), 1, " ")),
        (&tess, withdraw(mine.clone(), 9, "wrong piece")),
        (&tom, withdraw(mine, 1, "wrong piece")),
        (&tess, withdraw(old.sample.to_string(), 1, "wrong piece")),
    ] {
        provoked.take(who.post(&path, body).await).await;
    }
    let note = json!({"text": "The slip looked thin", "entry": Uuid::nil()});
    let (_, note) = read(tess.post(&format!("/api/samples/{}/notes", old.sample), note).await).await;
    let theirs = format!("/api/notes/{}", note["id"].as_str().unwrap());
    provoked.take(tom.put(&theirs, json!({"version": 1, "text": "It did not"})).await).await;
}

async fn setting_up(provoked: &mut Provoked, server: &Server, site: &Site) {
    let eve = Visitor::signed_in(server, "eve").await;
    let change = |differing: Value| {
        let mut new = serde_json::to_value(wall_thickness()).unwrap();
        new.as_object_mut().unwrap().extend(differing.as_object().unwrap().clone());
        json!([{"id": site.wall, "version": 1, "characteristic": new}])
    };
    provoked.take(eve.post("/api/plan/changes", change(json!({"decimals": 99}))).await).await;
    provoked.take(eve.post("/api/plan/changes", change(json!({"unit": "inch"}))).await).await;
    provoked.take(eve.post("/api/plan/products", json!({"name": "Cartridge C-1"})).await).await;
    let (_, plan) = read(eve.get("/api/plan").await).await;
    // Two events at one moment.
    let mut rare = serde_json::to_value(wall_thickness()).unwrap();
    let differing = json!({"name": "Trips", "kind": "rare_event", "chart": "t", "sampling": {"every": "never"}, "unit": "h",
        "subgroup_size": 1, "decimals": 0, "hard_bounds": {}, "soft_bounds": {}});
    rare.as_object_mut().unwrap().extend(differing.as_object().unwrap().clone());
    let product = &plan["products"][0]["id"];
    let new = json!({"station": site.station, "product": product, "characteristic": rare});
    let (_, made) = read(eve.post("/api/plan/characteristics", new).await).await;
    let tess = Visitor::signed_in(server, "tess").await;
    let path = format!("/api/characteristics/{}/samples", made["id"].as_str().unwrap());
    for entry in [71u128, 72] {
        let event = json!({"device": Uuid::nil(), "entry": Uuid::from_u128(entry), "taken_at": "2026-09-01T06:00:00Z", "confirmed": true});
        let answer = tess.post(&path, event).await;
        if entry == 72 {
            provoked.take(answer).await;
        }
    }
}

async fn episodes(provoked: &mut Provoked, server: &Server, site: &Site) {
    let (tess, sue) = (Visitor::signed_in(server, "tess").await, Visitor::signed_in(server, "sue").await);
    let (_, saved) = tess.enter(site.wall, &["5.9", "5.9", "5.9"]).await;
    let path = |step: &str| format!("/api/episodes/{}/{step}", saved["asking"][0].as_str().unwrap());
    let review = json!({"version": 1, "decision": "accepted"});
    provoked.take(sue.post(&path("reviews"), review).await).await;
    sue.post(&path("answers"), json!({"version": 1, "nothing_found": true, "action": "Looked."})).await;
    provoked.take(sue.post(&path("reviews"), json!({"version": 2, "decision": "accepted"})).await).await;
}

async fn runs(provoked: &mut Provoked, server: &Server, site: &Site) {
    let (tess, sue, eve) = (
        Visitor::signed_in(server, "tess").await,
        Visitor::signed_in(server, "sue").await,
        Visitor::signed_in(server, "eve").await,
    );
    let (_, material) = read(eve.post("/api/plan/products", json!({"name": "Control material K-1"})).await).await;
    let level = |name: &str, mean: f64| json!({"name": name, "material": material["id"], "assigned": {"mean": mean, "sd": mean / 10.0}});
    let analyte = json!({"station": site.station, "name": "Assay", "unit": "mg/kg", "decimals": 1, "levels": [level("low", 10.0), level("high", 100.0)]});
    eve.post("/api/plan/analytes", analyte).await;
    let (_, benches) = read(eve.get("/api/lab").await).await;
    let id = |n: usize| benches[0]["analytes"][0]["levels"][n]["characteristic"].clone();
    let (low, high) = (id(0), id(1));
    let group = json!({"name": "Peers", "laboratory": "17", "url": null, "since": "2026-01-01T00:00:00Z", "active": true,
                       "levels": [{"characteristic": low, "code": "AG-1"}]});
    let (_, group) = read(eve.post("/api/peers", json!({"group": group})).await).await;
    let statistics = format!("/api/peers/{}/statistics", group["id"].as_str().unwrap());
    provoked.take(sue.post(&statistics, json!({"text": "{}"})).await).await;
    let unknown = "code,month,n,mean,sd\nAG-9,2026-03,600,10,1\n";
    provoked.take(sue.post(&statistics, json!({"text": unknown})).await).await;
    let results = |texts: &[&str]| -> Value {
        [&low, &high].iter().zip(texts).map(|(level, text)| json!({"characteristic": level, "result": text})).collect()
    };
    let path = format!("/api/stations/{}/runs", site.station);
    let run = async |who: &Visitor, results: Value, repeats: Value| {
        let body = json!({"device": Uuid::nil(), "entry": Uuid::new_v4(), "results": results, "repeats": repeats});
        who.post(&path, body).await
    };
    let step = async |who: &Visitor, run: &Value, name: &str| {
        let because = if name == "override" { json!("bubble") } else { Value::Null };
        let mut body = json!({"version": run["version"], "because": because});
        body.as_object_mut().unwrap().retain(|_, value| !value.is_null());
        who.post(&format!("/api/runs/{}/{name}", run["id"].as_str().unwrap()), body).await
    };
    provoked.take(run(&tess, results(&["ten", "100"]), Value::Null).await).await;
    provoked.take(run(&tess, json!([]), Value::Null).await).await;
    provoked.take(tess.enter_one(&low).await).await;
    let (_, rejected) = read(run(&sue, results(&["13.5", "100"]), Value::Null).await).await;
    provoked.take(step(&tess, &rejected, "release").await).await;
    provoked.take(step(&sue, &rejected, "override").await).await;
    let (_, incomplete) = read(run(&tess, results(&["10"]), Value::Null).await).await;
    provoked.take(step(&tess, &incomplete, "release").await).await;
    let (_, accepted) = read(run(&tess, results(&["10", "100"]), rejected["id"].clone()).await).await;
    provoked.take(run(&tess, results(&["10", "100"]), rejected["id"].clone()).await).await;
    provoked.take(step(&sue, &accepted, "override").await).await;
    provoked.take(step(&sue, &accepted, "reviews").await).await;
    let (_, released) = read(step(&tess, &accepted, "release").await).await;
    provoked.take(step(&tess, &released, "release").await).await;
    // What is usual of a level is set where it is set up.
    let (_, plan) = read(eve.get("/api/plan").await).await;
    let mut usual = plan["characteristics"].as_array().unwrap().iter().find(|c| c["id"] == low).unwrap().clone();
    let (level, version) = (usual["id"].clone(), usual["version"].clone());
    let known = serde_json::to_value(wall_thickness()).unwrap();
    usual.as_object_mut().unwrap().retain(|field, _| known.get(field).is_some());
    usual["soft_bounds"] = json!({"lower": 5, "upper": 15});
    eve.post("/api/plan/changes", json!([{"id": level, "version": version, "characteristic": usual}])).await;
    provoked.take(run(&tess, results(&["18", "100"]), Value::Null).await).await;
}

impl Visitor {
    async fn enter_one(&self, characteristic: &Value) -> Response {
        let body = json!({"device": Uuid::nil(), "entry": Uuid::new_v4(), "readings": ["10"]});
        self.post(&format!("/api/characteristics/{}/samples", characteristic.as_str().unwrap()), body).await
    }
}

/// What is refused on the path of limits: of viscosity on trial with a few points, of wall thickness in force.
async fn limits(provoked: &mut Provoked, server: &Server, site: &Site, pool: &PgPool) {
    let (tess, sue, eve) = (
        Visitor::signed_in(server, "tess").await,
        Visitor::signed_in(server, "sue").await,
        Visitor::signed_in(server, "eve").await,
    );
    let change = async |who: &Visitor, of: Uuid, mut body: Value| {
        let (_, view) = read(who.get(&format!("/api/characteristics/{of}/limits")).await).await;
        body["version"] = view["version"].clone();
        who.post(&format!("/api/characteristics/{of}/limits/changes"), body).await
    };
    let (of, path) = (site.viscosity, format!("/api/characteristics/{}/samples", site.viscosity));
    let mut samples = Vec::new();
    for reading in 0..4 {
        let readings = [format!("30{reading}")];
        let body = json!({"device": Uuid::nil(), "entry": Uuid::new_v4(), "readings": readings});
        samples.push(read(tess.post(&path, body).await).await.1["sample"].clone());
    }
    let skipped = json!({"device": Uuid::nil(), "entry": Uuid::new_v4(), "because": "No slip."});
    let gap = read(tess.post(&path.replace("samples", "gaps"), skipped).await).await.1["sample"].clone();
    let (_, view) = read(eve.get(&format!("/api/characteristics/{of}/limits")).await).await;
    let phase = view["phases"][0]["id"].clone();
    let aside = |sample: &Value| json!({"change": "set_aside", "sample": sample, "cause_text": "mixed up"});
    let put = |phase: &Value, reason: Value| {
        json!({"change": "put_in_force", "phase": phase,
               "limits": {"name": "First", "basis": {"from": "phase"}, "reason": reason}})
    };
    let given = |phase: &Value| {
        let basis = json!({"from": "given", "figures": {"center": 300, "sigma": 2}, "source": "Known."});
        json!({"change": "put_in_force", "phase": phase, "limits": {"name": "Given", "basis": basis}})
    };
    provoked.take(change(&eve, of, put(&phase, Value::Null)).await).await;
    provoked.take(change(&eve, of, aside(&gap)).await).await;
    provoked.take(change(&sue, of, json!({"change": "take_back", "sample": samples[0]})).await).await;
    for sample in &samples[..3] {
        change(&sue, of, aside(sample)).await;
    }
    provoked.take(change(&sue, of, aside(&samples[0])).await).await;
    provoked.take(change(&sue, of, aside(&samples[3])).await).await;
    provoked.take(change(&eve, of, json!({"change": "merge", "phase": phase})).await).await;
    let start = |sample: &Value, with: &str| json!({"change": "start_phase", "sample": sample, "name": "Next", "limits": {"with": with}});
    provoked.take(change(&eve, of, start(&samples[0], "trial")).await).await;
    provoked.take(change(&eve, of, start(&samples[2], "carried")).await).await;
    change(&eve, of, start(&samples[2], "trial")).await;
    provoked.take(change(&eve, of, start(&samples[2], "trial")).await).await;
    change(&eve, of, given(&phase)).await;
    provoked.take(change(&eve, of, given(&phase)).await).await;
    // Ten points are enough for limits, and few all the same.
    for reading in 0..10 {
        let readings = [format!("30{reading}")];
        let body = json!({"device": Uuid::nil(), "entry": Uuid::new_v4(), "readings": readings});
        tess.post(&path, body).await;
    }
    let (_, view) = read(eve.get(&format!("/api/characteristics/{of}/limits")).await).await;
    provoked.take(change(&eve, of, put(&view["phases"][1]["id"], Value::Null)).await).await;
    sqlx::query(
        "insert into judging_again (characteristic_id, change, person_id, at, total) values ($1, '{}', $2, now(), 1)",
    )
    .bind(of)
    .bind(site.engineer)
    .execute(pool)
    .await
    .unwrap();
    provoked.take(change(&eve, of, put(&view["phases"][1]["id"], json!("Needed."))).await).await;
    sqlx::query("delete from judging_again").execute(pool).await.unwrap();
    cleared(provoked, (&tess, &sue, &eve), site, change).await;
}

/// An episode whose point was set aside before anybody answered is reviewed, and asks nobody back.
async fn cleared(
    provoked: &mut Provoked,
    (tess, sue, eve): (&Visitor, &Visitor, &Visitor),
    site: &Site,
    change: impl AsyncFn(&Visitor, Uuid, Value) -> Response,
) {
    let enter = async |readings: [&str; 3]| {
        let body = json!({"device": Uuid::nil(), "entry": Uuid::new_v4(), "readings": readings});
        read(tess.post(&format!("/api/characteristics/{}/samples", site.wall), body).await).await.1
    };
    // Clean points part it from what was asked before; their ranges are no run either.
    for _ in 0..2 {
        enter(["5.00", "5.01", "5.00"]).await;
        enter(["4.90", "5.10", "4.99"]).await;
    }
    let saved = enter(["5.90", "5.91", "5.92"]).await;
    let aside = json!({"change": "set_aside", "sample": saved["sample"], "cause_text": "mixed up"});
    change(sue, site.wall, aside).await;
    let path = format!("/api/episodes/{}", saved["asking"][0].as_str().unwrap());
    let (_, episode) = read(eve.get(&path).await).await;
    let back = json!({"version": episode["version"], "decision": "sent_back", "remark": "Which?"});
    provoked.take(eve.post(&format!("{path}/reviews"), back).await).await;
    let accepted = json!({"version": episode["version"], "decision": "accepted"});
    provoked.take(sue.post(&format!("{path}/reviews"), accepted.clone()).await).await;
    let (_, reviewed) = read(eve.post(&format!("{path}/reviews"), accepted).await).await;
    assert_eq!(reviewed["reviews"][0]["person"], "eve", "{reviewed}");
}

async fn analyses(provoked: &mut Provoked, server: &Server, site: &Site) {
    let tess = Visitor::signed_in(server, "tess").await;
    let counts = json!({"sort": "capability", "of": {"characteristic": site.leaks}});
    provoked.take(tess.post("/api/studies/answer", counts).await).await;
    provoked.take(tess.post("/api/analyze", json!({"task": "none"})).await).await;
    // Each takes long enough for the others to meet it.
    let points: Vec<Value> = (0..20_000).map(|n| json!({"values": [n % 7]})).collect();
    let large = json!({"task": "chart", "chart": "i_mr", "points": points});
    let asked = (0..40).map(|_| tess.post("/api/analyze", large.clone()));
    for response in futures::future::join_all(asked).await {
        if !response.status().is_success() {
            provoked.take(response).await;
        }
    }
}

async fn tables(provoked: &mut Provoked, server: &Server, site: &Site) {
    let eve = Visitor::signed_in(server, "eve").await;
    let send = async |table: &str| {
        let path = "/api/data/files?name=list.csv";
        read(eve.send(path, table.as_bytes().to_vec()).await).await.1["id"].clone()
    };
    let times = json!({"column": "t", "format": "%Y-%m-%d"});
    let recipe =
        json!({"read": {"format": "csv"}, "shape": {"kind": "across", "values": ["a", "b", "c"]}, "time": times});
    let import = async |table: &str| {
        let file = send(table).await;
        let asked = json!({"file": file, "recipe": recipe, "characteristic": site.wall});
        eve.post("/api/data/imports", asked).await
    };
    provoked.take(import("t,a,b\n2026-01-05,5,5\n").await).await;
    provoked.take(import("t,a,b,c\n2026-01-05,5,5,thick\n").await).await;
    provoked.take(import("t,a,b,c\n2026-01-05,5,5,900\n").await).await;
    assert!(import("t,a,b,c\n2026-01-05,5,5,5\n").await.status().is_success());
    provoked.take(import("t,a,b,c\n2026-01-05,5,5,6\n").await).await;
    let by_time = json!({"file": send("t,a,b,c\n2026-01-05,5,5,5\n").await, "recipe": recipe, "key": ["t"],
        "characteristic": site.wall});
    provoked.take(eve.post("/api/data/imports", by_time).await).await;
}

/// What is our own fault, or the database's.
async fn ours(provoked: &mut Provoked, server: &Server, pool: PgPool) {
    let tess = Visitor::signed_in(server, "tess").await;
    sqlx::query("alter table cause rename to cause_away").execute(&pool).await.unwrap();
    provoked.take(tess.get("/api/causes").await).await;
    pool.close().await;
    provoked.take(tess.get("/api/rounds").await).await;
}

/// What a route says of its failures names codes that there are.
#[sqlx::test]
async fn routes_name_failures_that_there_are(pool: PgPool) {
    let codes = described(pool.clone());
    let app = App::new(pool, Settings::default(), CancellationToken::new()).unwrap();
    let description = serde_json::to_value(server::openapi(&app)).unwrap();
    let mut named = 0;
    for (path, operations) in description["paths"].as_object().unwrap() {
        for response in operations.as_object().unwrap().values().flat_map(|o| o["responses"].as_object().unwrap()) {
            let (status, text) =
                (response.0.parse::<u64>().unwrap(), response.1["description"].as_str().unwrap_or_default());
            for code in text.split('`').skip(1).step_by(2).filter(|_| status >= 400) {
                assert_eq!(codes.get(code), Some(&status), "{path} says `{code}`");
                named += 1;
            }
        }
    }
    assert!(named > 50, "{named} codes are named");
}
