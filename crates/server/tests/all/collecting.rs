//! Setting up, counting, skipping, correcting through the interface: what is kept, refused, and why.

use reqwest::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

use crate::common::{END_CAP, Visitor, leak_failures, read, start, wall_thickness};

fn counted(entry: u128, inspected: &str, count: u32) -> Value {
    let defects = if count == 0 { json!([]) } else { json!([{"kind": END_CAP, "word": null, "count": count}]) };
    json!({"device": Uuid::nil(), "entry": Uuid::from_u128(entry), "inspected": inspected, "defects": defects,
           "tags": {"lot": " K-17 "}})
}

#[sqlx::test]
async fn a_count_grows_in_pencil_and_is_saved_with_its_tags(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let path = format!("/api/characteristics/{}", site.leaks);
    let (_, none) = read(tess.post(&format!("{path}/preview"), json!({"inspected": ""})).await).await;
    assert_eq!(none["pencil"], Value::Null);
    let typed = json!({"inspected": "50", "defects": [{"kind": END_CAP, "word": null, "count": 9}]});
    let (_, some) = read(tess.post(&format!("{path}/preview"), typed).await).await;
    assert_eq!(some["pencil"]["panels"][0]["value"], 0.18);
    assert_eq!(some["pencil"]["findings"].as_array().unwrap().len(), 1);
    let (status, saved) = read(tess.post(&format!("{path}/samples"), counted(1, "50", 2)).await).await;
    assert_eq!((status, &saved["number"]), (StatusCode::CREATED, &json!(1)));
    let (_, chart) = read(tess.get(&format!("{path}/chart")).await).await;
    assert_eq!(chart["points"]["details"]["tag_sets"][0]["lot"], "K-17");
    assert_eq!(chart["points"]["details"]["inspected"], json!([50]));
}

#[rstest]
#[case::none_inspected(counted(1, "0", 0), json!({"code": "inspected", "given": "0", "expected": null}))]
#[case::too_many(counted(1, "4", 5), json!({"code": "more_than_inspected", "given": 5, "inspected": 4}))]
#[case::readings(json!({"device": Uuid::nil(), "entry": Uuid::nil(), "inspected": "5", "readings": ["5"]}),
    json!({"code": "other_kind"}))]
#[case::tag(json!({"device": Uuid::nil(), "entry": Uuid::nil(), "inspected": "5", "tags": {"colour": "red"}}),
    json!({"code": "tag", "tag": "colour"}))]
#[sqlx::test]
async fn counts_are_refused_with_their_facts(#[ignore] pool: PgPool, #[case] body: Value, #[case] refusal: Value) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let path = format!("/api/characteristics/{}/samples", site.leaks);
    let (status, problem) = read(tess.post(&path, body).await).await;
    assert_eq!((status, &problem["params"]["refusals"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!([refusal])));
}

/// The first act on a characteristic may be to skip it; it must be possible to enter afterwards.
#[sqlx::test]
async fn a_chart_of_gaps_alone_can_be_looked_at_and_entered_on(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    for id in [site.wall, site.viscosity, site.leaks] {
        let path = format!("/api/characteristics/{id}");
        let body = json!({"device": Uuid::nil(), "entry": Uuid::new_v4(), "because": "No product."});
        assert_eq!(tess.post(&format!("{path}/gaps"), body).await.status(), StatusCode::CREATED);
        for query in ["chart", "chart?last=1"] {
            let (status, chart) = read(tess.get(&format!("{path}/{query}")).await).await;
            assert_eq!((status, &chart["points"]["gap"][0]["is"]["because"]), (StatusCode::OK, &json!("No product.")));
            assert_eq!(chart["panels"][0]["value"], json!([null]), "{query}");
        }
    }
    let (status, saved) = tess.enter(site.wall, &["5.00", "5.01", "5.02"]).await;
    assert_eq!((status, &saved["number"]), (StatusCode::CREATED, &json!(2)));
    let path = format!("/api/characteristics/{}", site.viscosity);
    let (status, pencil) = read(tess.post(&format!("{path}/preview"), json!({"readings": ["41"]})).await).await;
    assert_eq!((status, &pencil["pencil"]["panels"][0]["value"]), (StatusCode::OK, &json!(41.0)));
}

#[sqlx::test]
async fn a_skipped_sample_needs_a_reason_and_is_recorded_once(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let path = format!("/api/characteristics/{}/gaps", site.wall);
    let skip = |because: &str| json!({"device": Uuid::nil(), "entry": Uuid::nil(), "because": because});
    let (status, problem) = read(tess.post(&path, skip(" ")).await).await;
    assert_eq!((status.as_u16(), &problem["params"]["field"]), (422, &json!("because")));
    assert_eq!(tess.post(&path, skip("line stood")).await.status(), StatusCode::CREATED);
    assert_eq!(tess.post(&path, skip("line stood")).await.status(), StatusCode::OK);
    let (_, rounds) = read(tess.get("/api/rounds").await).await;
    let stops = rounds[0]["characteristics"].as_array().unwrap();
    let wall = stops.iter().find(|stop| stop["name"] == "Wall thickness").unwrap();
    assert_eq!(wall["state"], "done");
}

#[sqlx::test]
async fn a_sample_is_corrected_by_who_entered_it_and_by_a_supervisor(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let (_, saved) = tess.enter(site.wall, &["5.9", "5.9", "5.8"]).await;
    let path = format!("/api/samples/{}", saved["sample"].as_str().unwrap());
    let correction = |version: i32, readings: [&str; 3]| json!({"version": version, "reason": "slip", "sample": {"readings": readings}});
    let tom = Visitor::signed_in(&server, "tom").await;
    let (status, problem) =
        read(tom.post(&format!("{path}/corrections"), correction(1, ["5.0", "5.0", "5.0"])).await).await;
    assert_eq!((status, &problem["code"]), (StatusCode::FORBIDDEN, &json!("not_your_sample")));
    let (status, problem) = read(tess.post(&format!("{path}/corrections"), correction(1, ["5", "x", "5"])).await).await;
    assert_eq!((status.as_u16(), &problem["code"]), (422, &json!("readings_refused")));
    let (status, problem) = read(tess.post(&format!("{path}/corrections"), correction(1, ["5", "7", "5"])).await).await;
    assert_eq!((status.as_u16(), &problem["code"]), (422, &json!("confirm_readings")));
    let (status, changed) = read(tess.post(&format!("{path}/corrections"), correction(1, ["5", "5", "5"])).await).await;
    assert_eq!((status, &changed["version"]), (StatusCode::OK, &json!(2)));
    let (status, problem) = read(tess.post(&format!("{path}/corrections"), correction(1, ["5", "5", "5"])).await).await;
    assert_eq!((status, &problem["code"]), (StatusCode::CONFLICT, &json!("changed")));
    let sue = Visitor::signed_in(&server, "sue").await;
    let withdrawal = json!({"version": 2, "reason": "wrong tray"});
    assert_eq!(sue.post(&format!("{path}/withdrawal"), withdrawal).await.status(), StatusCode::OK);
    let (_, kept) = read(tess.get(&format!("{path}/corrections")).await).await;
    assert_eq!(kept[0]["old"]["readings"], json!([5.9, 5.9, 5.8]));
}

#[sqlx::test]
async fn an_engineer_sets_up_and_others_see_it_at_once(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let eve = Visitor::signed_in(&server, "eve").await;
    let (_, station) = read(eve.post("/api/plan/stations", json!({"area": "Firing", "name": "Kiln 2"})).await).await;
    let (_, product) = read(eve.post("/api/plan/products", json!({"name": "Tile T-1"})).await).await;
    let new = json!({"station": station["id"], "product": product["id"], "characteristic": leak_failures()});
    let (status, made) = read(eve.post("/api/plan/characteristics", new).await).await;
    assert_eq!(status, StatusCode::CREATED);
    let (_, rounds) = read(eve.get("/api/rounds").await).await;
    assert_eq!(rounds[1]["characteristics"][0]["id"], made["id"]);
    let (status, problem) = read(eve.post("/api/plan/products", json!({"name": "Tile T-1"})).await).await;
    assert_eq!((status, &problem["code"]), (StatusCode::CONFLICT, &json!("taken")));
    let mut wrong = serde_json::to_value(wall_thickness()).unwrap();
    wrong["subgroup_size"] = json!(0);
    let change = json!([{"id": made["id"], "version": 1, "characteristic": wrong}]);
    let (status, problem) = read(eve.post("/api/plan/changes", change).await).await;
    assert_eq!((status.as_u16(), &problem["code"]), (422, &json!("set_up_refused")));
    assert_eq!(problem["params"]["wrong"][0]["field"], "subgroup_size");
    let many = json!(vec![json!({"id": made["id"], "version": 1, "characteristic": wall_thickness()}); 201]);
    let (status, problem) = read(eve.post("/api/plan/changes", many).await).await;
    assert_eq!((status.as_u16(), &problem["params"]["field"]), (422, &json!("changes")));
}

#[sqlx::test]
async fn what_a_change_would_do_is_told_and_not_done(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let eve = Visitor::signed_in(&server, "eve").await;
    let change = |id: Uuid, differing: Value| {
        let mut new = serde_json::to_value(leak_failures()).unwrap();
        new.as_object_mut().unwrap().extend(differing.as_object().unwrap().clone());
        json!({"id": id, "version": 1, "characteristic": new})
    };
    let changes = json!([
        change(site.leaks, json!({"chart": "p_prime", "hidden": true})),
        change(site.leaks, json!({"subgroup_size": 0})),
        change(Uuid::nil(), json!({})),
        change(site.leaks, json!({"labels": ["spring"]})),
    ]);
    let (status, foreseen) = read(eve.post("/api/plan/changes/preview", changes).await).await;
    assert_eq!(status, StatusCode::OK);
    let first = &foreseen[0]["differing"];
    assert_eq!(first["old"], json!({"chart": "p", "hidden": false}));
    assert_eq!((&first["new"]["chart"], &first["starts_phase"]), (&json!("p_prime"), &json!(true)));
    assert_eq!(foreseen[1]["refused"]["code"], "set_up_refused");
    assert_eq!(foreseen[2]["refused"]["code"], "missing");
    // The second change of the same one names a version that the first has made old.
    assert_eq!(foreseen[3]["refused"]["code"], "changed");
    let (_, plan) = read(eve.get("/api/plan").await).await;
    let leaks = plan["characteristics"].as_array().unwrap().iter().find(|c| c["id"] == json!(site.leaks)).unwrap();
    assert_eq!((&leaks["chart"], &leaks["version"], &leaks["hidden"]), (&json!("p"), &json!(1), &json!(false)));
}

#[sqlx::test]
async fn the_chooser_says_why(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let eve = Visitor::signed_in(&server, "eve").await;
    let asked = json!({"kind": "nonconforming_units", "pieces": 50, "varying": true, "taken": "consecutive"});
    let (_, found) =
        read(eve.post("/api/plan/chooser", json!({"asked": asked, "characteristic": site.leaks})).await).await;
    assert_eq!((&found["chart"], &found["reason"]["code"]), (&json!("p"), &json!("units_varying")));
    assert_eq!(found["others"], json!(["p_prime"]));
}

#[sqlx::test]
async fn events_and_pieces_are_told_to_every_screen(pool: PgPool) {
    let (server, site) = start(&pool).await;
    let tess = Visitor::signed_in(&server, "tess").await;
    let (_, kinds) = read(tess.get("/api/event-kinds").await).await;
    let event = json!({"device": Uuid::nil(), "entry": Uuid::nil(), "kind": kinds[0]["id"], "text": "core 4"});
    let path = format!("/api/stations/{}", site.station);
    assert_eq!(tess.post(&format!("{path}/events"), event).await.status(), StatusCode::CREATED);
    let (_, made) = read(
        tess.post(&format!("{path}/pieces"), json!({"device": Uuid::nil(), "entry": Uuid::new_v4(), "pieces": 40}))
            .await,
    )
    .await;
    assert_eq!(made["made"], 40);
    let (status, problem) = read(
        tess.post(&format!("{path}/pieces"), json!({"device": Uuid::nil(), "entry": Uuid::new_v4(), "pieces": 0}))
            .await,
    )
    .await;
    assert_eq!((status.as_u16(), &problem["params"]["field"]), (422, &json!("pieces")));
    let (_, site_clock) = read(tess.get("/api/site").await).await;
    assert_eq!(site_clock["time_zone"], "UTC");
}
