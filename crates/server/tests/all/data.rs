//! Tables by the interface: a file, the recipe proposed for it, the samples as they will be, and the import.

use reqwest::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;

use crate::common::{Server, Site, Visitor, read, start};

/// A file of an engineer.
async fn sent(pool: &PgPool, name: &str, table: &str) -> (Server, Site, Visitor, Value) {
    let (server, site) = start(pool).await;
    let eve = Visitor::signed_in(&server, "eve").await;
    let (status, file) = read(eve.send(&format!("/api/data/files?name={name}"), table.as_bytes().to_vec()).await).await;
    assert_eq!(status, StatusCode::CREATED, "{file}");
    (server, site, eve, file["id"].clone())
}

/// Three readings a row, on the site's clock in winter.
fn wall(rows: usize) -> String {
    let row = |i: usize| {
        format!("2026-01-{:02} 06:{:02};{};5,01;5,02\r\n", 5 + i / 60, i % 60, if i == 3 { "6,9" } else { "5,00" })
    };
    (0..rows).fold("taken;x1;x2;x3\r\n".into(), |table: String, i| table + &row(i))
}

async fn proposed(eve: &Visitor, file: &Value) -> Value {
    let (status, proposal) = read(eve.get(&format!("/api/data/files/{}/proposal", file.as_str().unwrap())).await).await;
    assert_eq!(status, StatusCode::OK, "{proposal}");
    proposal
}

#[sqlx::test]
async fn a_table_is_proposed_a_shape_looked_through_checked_and_brought_in_once(pool: PgPool) {
    let (_server, site, eve, file) = sent(&pool, "wall.csv", &wall(40)).await;
    let proposal = proposed(&eve, &file).await;
    let recipe = proposal["recipe"].clone();
    assert_eq!(proposal["reason"], "readings_beside_each_other");
    assert_eq!(recipe["shape"], json!({"kind": "across", "values": ["x1", "x2", "x3"]}));
    assert_eq!(recipe["time"], json!({"column": "taken", "format": "%Y-%m-%d %H:%M"}));
    let preview = format!("/api/data/files/{}/preview", file.as_str().unwrap());
    let (_, seen) = read(eve.post(&preview, json!({"recipe": recipe})).await).await;
    assert_eq!((&seen["samples"], &seen["refused"], &seen["has_times"]), (&json!(40), &json!(0), &json!(true)));
    assert_eq!(seen["first"][3]["values"], json!([6.9, 5.01, 5.02]));
    assert_eq!(seen["sheet"][1]["cells"][1], "5,00");
    let asked = json!({"file": file, "recipe": recipe, "characteristic": site.wall});
    let (_, check) = read(eve.post("/api/data/check", asked.clone()).await).await;
    assert_eq!((&check["new"], &check["refused"]), (&json!(40), &json!(0)), "{check}");
    let (status, made) = read(eve.post("/api/data/imports", asked.clone()).await).await;
    assert_eq!(status, StatusCode::CREATED, "{made}");
    let (_, import) = read(eve.get(&format!("/api/data/imports/{}", made["id"].as_str().unwrap())).await).await;
    assert_eq!(
        (&import["state"], &import["stored"], &import["file_name"]),
        (&json!("done"), &json!(40), &json!("wall.csv"))
    );
    // On the site's clock, judged as it was entered.
    let (first, signals): (chrono::DateTime<chrono::Utc>, i64) =
        sqlx::query_as("select min(taken_at), (select count(*) from signal) from sample where characteristic_id = $1")
            .bind(site.wall)
            .fetch_one(&pool)
            .await
            .unwrap();
    let zone: String = sqlx::query_scalar("select time_zone from site").fetch_one(&pool).await.unwrap();
    let local: String =
        sqlx::query_scalar("select ($1 at time zone $2)::text").bind(first).bind(zone).fetch_one(&pool).await.unwrap();
    assert_eq!(local, "2026-01-05 06:00:00");
    assert!(signals > 0);
    let (_, again) = read(eve.post("/api/data/check", asked).await).await;
    assert_eq!((&again["new"], &again["same"]), (&json!(0), &json!(40)));
}

#[sqlx::test]
async fn all_or_nothing_unless_only_what_is_right_is_asked_for(pool: PgPool) {
    let table = wall(10).replace("06:04;5,00", "06:04;900,00").replace("06:06;5,00", "06:06;thick");
    let (_server, site, eve, file) = sent(&pool, "wall.csv", &table).await;
    let recipe = proposed(&eve, &file).await["recipe"].clone();
    let mut asked = json!({"file": file, "recipe": recipe, "characteristic": site.wall});
    let (status, refused) = read(eve.post("/api/data/imports", asked.clone()).await).await;
    assert_eq!((status, &refused["code"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("cells_refused")));
    let (_, check) = read(eve.post("/api/data/check", asked.clone()).await).await;
    assert_eq!((&check["refused"], &check["first_refused"][0]["row"]), (&json!(1), &json!(6)));
    assert_eq!(check["first_refused"][0]["refusals"][0]["code"], "outside_hard_bounds");
    let stored: i64 = sqlx::query_scalar("select count(*) from sample").fetch_one(&pool).await.unwrap();
    assert_eq!(stored, 0);
    asked["only_right"] = json!(true);
    let (status, _) = read(eve.post("/api/data/imports", asked).await).await;
    let stored: i64 = sqlx::query_scalar("select count(*) from sample").fetch_one(&pool).await.unwrap();
    assert_eq!((status, stored), (StatusCode::CREATED, 8));
}

#[sqlx::test]
async fn rows_without_times_get_the_stated_ones(pool: PgPool) {
    let (_server, site, eve, file) = sent(&pool, "wall.csv", "x1,x2,x3\n5.00,5.01,5.02\n5.01,5.00,5.02\n").await;
    let recipe = proposed(&eve, &file).await["recipe"].clone();
    let mut asked = json!({"file": file, "recipe": recipe, "characteristic": site.wall});
    let (_, check) = read(eve.post("/api/data/check", asked.clone()).await).await;
    assert_eq!(check["first_refused"][0]["reason"], "no_time", "{check}");
    // Finer than a time is kept.
    asked["stated"] = json!({"first": "2026-01-05T06:00:00.1234567", "every_seconds": 900});
    let (_, check) = read(eve.post("/api/data/check", asked.clone()).await).await;
    assert_eq!(check["refused"], 0, "{check}");
    let times: Vec<chrono::DateTime<chrono::Utc>> =
        ["from", "to"].map(|end| check[end].as_str().unwrap().parse().unwrap()).to_vec();
    assert_eq!((times[1] - times[0]).num_minutes(), 15);
    assert_eq!(eve.post("/api/data/imports", asked).await.status(), StatusCode::CREATED);
    let report = store::trail::verify(&pool, None).await.unwrap();
    assert!(report.is_whole(), "{:?}", report.findings);
}

/// By a key the rows of a list are the same, however they stand; a list stays known by what it was known by first.
#[sqlx::test]
async fn rows_are_known_by_the_columns_of_a_kept_recipe(pool: PgPool) {
    let (_server, site, eve, file) = sent(&pool, "wall.csv", &wall(10)).await;
    let recipe = proposed(&eve, &file).await["recipe"].clone();
    let kept = json!({"name": "Wall by time", "recipe": recipe, "key": ["taken"]});
    assert_eq!(eve.post("/api/data/recipes", kept).await.status(), StatusCode::CREATED);
    let (_, recipes) = read(eve.get("/api/data/recipes").await).await;
    let key = recipes[0]["key"].clone();
    assert_eq!(key, json!(["taken"]));
    let asked =
        |file: &Value, key: &Value| json!({"file": file, "recipe": recipe, "key": key, "characteristic": site.wall});
    assert_eq!(eve.post("/api/data/imports", asked(&file, &key)).await.status(), StatusCode::CREATED);
    let turned = wall(12);
    let (header, rows) = turned.split_once("\r\n").unwrap();
    let newest_first = rows.lines().rev().fold(format!("{header}\r\n"), |table, row| table + row + "\r\n");
    let (_, file) = read(eve.send("/api/data/files?name=wall.csv", newest_first.into_bytes()).await).await;
    let (_, check) = read(eve.post("/api/data/check", asked(&file["id"], &key)).await).await;
    assert_eq!((&check["new"], &check["same"], &check["changed"]), (&json!(2), &json!(10), &json!(0)), "{check}");
    let (status, otherwise) = read(eve.post("/api/data/check", asked(&file["id"], &json!([]))).await).await;
    assert_eq!((status, &otherwise["params"]["key"]), (StatusCode::CONFLICT, &key), "{otherwise}");
    let (status, refused) = read(eve.post("/api/data/check", asked(&file["id"], &json!(["x2"]))).await).await;
    assert_eq!((status, &refused["params"]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("key")), "{refused}");
    assert_eq!(refused["params"]["given"], "rows 2 and 3 with the same");
}

#[sqlx::test]
async fn a_list_of_which_much_differs_is_asked_about(pool: PgPool) {
    let (_server, site, eve, file) = sent(&pool, "wall.csv", &wall(10)).await;
    let recipe = proposed(&eve, &file).await["recipe"].clone();
    let asked = |file: &Value| json!({"file": file, "recipe": recipe, "characteristic": site.wall});
    assert_eq!(eve.post("/api/data/imports", asked(&file)).await.status(), StatusCode::CREATED);
    let other = wall(10).replace("5,01", "5,03").into_bytes();
    let (_, file) = read(eve.send("/api/data/files?name=wall.csv", other).await).await;
    let mut again = asked(&file["id"]);
    let (status, another) = read(eve.post("/api/data/imports", again.clone()).await).await;
    assert_eq!(
        (status, &another["code"], &another["params"]["changed"]),
        (StatusCode::CONFLICT, &json!("another_list"), &json!(10))
    );
    again["source"] = json!("another wall");
    assert_eq!(eve.post("/api/data/imports", again).await.status(), StatusCode::CREATED);
    let stored: i64 = sqlx::query_scalar("select count(*) from sample").fetch_one(&pool).await.unwrap();
    assert_eq!(stored, 20);
}

#[rstest]
#[case::a_locked_sheet("a.xlsx", "\u{0}", json!({"read": {"format": "xlsx"}, "shape": {"kind": "down"}}), "read.format")]
#[case::an_unknown_column("a.csv", "x\n1", json!({"read": {"format": "csv"}, "shape": {"kind": "across", "values": ["y"]}}), "shape.values[0]")]
#[case::no_recipe_at_all("a.csv", "x\n1", json!("across"), "recipe")]
#[sqlx::test]
async fn what_cannot_be_read_is_named(
    #[ignore] pool: PgPool,
    #[case] name: &str,
    #[case] table: &str,
    #[case] recipe: Value,
    #[case] path: &str,
) {
    let (_server, _, eve, file) = sent(&pool, name, table).await;
    let preview = format!("/api/data/files/{}/preview", file.as_str().unwrap());
    let (status, refused) = read(eve.post(&preview, json!({"recipe": recipe})).await).await;
    assert_eq!((status, &refused["params"]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!(path)), "{refused}");
}

#[sqlx::test]
async fn a_file_is_for_who_sent_it(pool: PgPool) {
    let (server, _, _, file) = sent(&pool, "wall.csv", &wall(3)).await;
    let sue = Visitor::signed_in(&server, "sue").await;
    let path = format!("/api/data/files/{}/proposal", file.as_str().unwrap());
    assert_eq!(sue.get(&path).await.status(), StatusCode::NOT_FOUND);
}

#[sqlx::test]
async fn recipes_are_kept_and_changed_as_versions(pool: PgPool) {
    let (server, _) = start(&pool).await;
    let eve = Visitor::signed_in(&server, "eve").await;
    let recipe = |column: &str| json!({"read": {"format": "csv"}, "shape": {"kind": "across", "values": [column]}});
    let (status, kept) =
        read(eve.post("/api/data/recipes", json!({"name": "Kiln log", "recipe": recipe("x")})).await).await;
    assert_eq!(status, StatusCode::CREATED);
    let path = format!("/api/data/recipes/{}", kept["id"].as_str().unwrap());
    let change = |version: i32| json!({"version": version, "name": "Kiln log", "recipe": recipe("y")});
    assert_eq!(eve.put(&path, change(1)).await.status(), StatusCode::NO_CONTENT);
    assert_eq!(eve.put(&path, change(1)).await.status(), StatusCode::CONFLICT);
    let wrong = json!({"version": 2, "name": "Kiln log", "recipe": {"read": {"format": "csv"}}});
    assert_eq!(eve.put(&path, wrong).await.status(), StatusCode::UNPROCESSABLE_ENTITY);
    let (_, all) = read(eve.get("/api/data/recipes").await).await;
    assert_eq!((&all[0]["version"], &all[0]["recipe"]), (&json!(2), &recipe("y")));
    let report = store::trail::verify(&pool, None).await.unwrap();
    assert!(report.findings.is_empty(), "{:?}", report.findings);
}

#[sqlx::test]
async fn rows_that_changed_are_offered_and_corrected_with_a_reason(pool: PgPool) {
    let (_server, site, eve, file) = sent(&pool, "wall.csv", &wall(40)).await;
    let recipe = proposed(&eve, &file).await["recipe"].clone();
    let asked = |file: &Value| json!({"file": file, "recipe": recipe, "characteristic": site.wall});
    assert_eq!(eve.post("/api/data/imports", asked(&file)).await.status(), StatusCode::CREATED);
    // A reading, a time, and a row that is blank now.
    let table = wall(40)
        .replace("06:03;6,9", "06:03;5,09")
        .replace("06:20;5,00", "06:20:30;5,00")
        .replace("06:30;5,00;5,01;5,02", "06:30;;;");
    let table = table.replace("06:20:30", "05:20");
    let (_, second) = read(eve.send("/api/data/files?name=wall.csv", table.into_bytes()).await).await;
    let (_, check) = read(eve.post("/api/data/check", asked(&second["id"])).await).await;
    assert_eq!((&check["same"], &check["changed"], &check["new"]), (&json!(37), &json!(3), &json!(0)), "{check}");
    let rows: Vec<_> =
        check["first_changed"].as_array().unwrap().iter().map(|it| (&it["row"], &it["can_be_corrected"])).collect();
    assert_eq!(rows, [(&json!(5), &json!(true)), (&json!(22), &json!(false)), (&json!(32), &json!(false))]);
    let first = &check["first_changed"][0];
    assert_eq!(first["before"]["readings"]["values"][0], json!(6.9));
    assert_eq!(first["now"]["readings"]["values"][0], json!(5.09));
    assert_eq!(check["first_changed"][2]["now"], Value::Null);
    let correct = async |reason: &str| {
        read(eve.post("/api/data/corrections", json!({"table": asked(&second["id"]), "reason": reason})).await).await
    };
    let (status, problem) = correct(" ").await;
    assert_eq!((status, &problem["params"]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("reason")));
    assert_eq!(correct("misread").await, (StatusCode::OK, json!({"corrected": 1})));
    assert_eq!(correct("again").await, (StatusCode::OK, json!({"corrected": 0})));
    let (_, check) = read(eve.post("/api/data/check", asked(&second["id"])).await).await;
    assert_eq!((&check["same"], &check["changed"]), (&json!(38), &json!(2)));
    let (value, version): (f64, i32) =
        sqlx::query_as("select readings[1], version from sample where source_row = 5").fetch_one(&pool).await.unwrap();
    assert_eq!((value, version), (5.09, 2));
    assert!(store::trail::verify(&pool, None).await.unwrap().is_whole());
}

#[sqlx::test]
async fn a_table_in_a_watched_folder_is_fetched_by_hand(pool: PgPool) {
    store::migrate(&pool).await.unwrap();
    start(&pool).await;
    let root = tempfile::tempdir().unwrap();
    let kiln = root.path().join("kiln");
    for folder in ["done", "refused"] {
        std::fs::create_dir_all(kiln.join(folder)).unwrap();
    }
    let table = wall(3);
    for (path, content) in [
        ("refused/wall.csv", table.as_str()),
        ("refused/wall.csv.report.json", "{}"),
        ("done/older.csv", "x\n1\n"),
        ("coming.csv.part", "x"),
        ("../secret.csv", "x\n1\n"),
    ] {
        std::fs::write(kiln.join(path), content).unwrap();
    }
    std::os::unix::fs::symlink("/etc/hostname", kiln.join("link.csv")).unwrap();
    let settings = server::Settings { tables: Some(root.path().into()), ..server::Settings::default() };
    let server = crate::common::instance_with(&pool, settings).await;
    let eve = Visitor::signed_in(&server, "eve").await;
    let (_, listed) = read(eve.get("/api/data/folders").await).await;
    let names: Vec<_> = listed.as_array().unwrap().iter().map(|it| (it["place"].clone(), it["name"].clone())).collect();
    assert_eq!(names.len(), 2, "{names:?}");
    assert!(names.contains(&(json!("refused"), json!("wall.csv"))));
    let fetch = async |folder: &str, place: &str, name: &str| {
        read(eve.post("/api/data/folders", json!({"folder": folder, "place": place, "name": name})).await).await
    };
    let (status, file) = fetch("kiln", "refused", "wall.csv").await;
    assert_eq!((status, &file["name"], &file["bytes"]), (StatusCode::CREATED, &json!("wall.csv"), &json!(table.len())));
    assert_eq!(proposed(&eve, &file["id"]).await["reason"], "readings_beside_each_other");
    // Nothing but tables of these folders is to be had.
    for (folder, name) in [
        ("kiln", "link.csv"),
        ("kiln", "../secret.csv"),
        ("..", "secret.csv"),
        ("kiln/refused", "wall.csv"),
        ("kiln", "coming.csv.part"),
        ("kiln", "gone.csv"),
    ] {
        let (status, problem) = fetch(folder, "waiting", name).await;
        assert_eq!((status, &problem["code"]), (StatusCode::NOT_FOUND, &json!("missing")), "{folder} {name}");
    }
}
