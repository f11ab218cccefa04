//! Control runs by the interface: what is refused, and where it says so.

use reqwest::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

use crate::common::{Server, Site, Visitor, read, start};

pub struct Bench {
    pub site: Site,
    pub server: Server,
    pub levels: [Uuid; 2],
}

/// An analyte at two levels, mean 10 and 100, sd 1 and 10, set up by the interface.
pub async fn bench(pool: &PgPool) -> Bench {
    let (server, site) = start(pool).await;
    let engineer = Visitor::signed_in(&server, "eve").await;
    let (_, material) = read(engineer.post("/api/plan/products", json!({"name": "Control material K-1"})).await).await;
    let level = |name: &str, mean: f64| json!({"name": name, "material": material["id"], "assigned": {"mean": mean, "sd": mean / 10.0}});
    let analyte = json!({"station": site.station, "name": "Assay", "unit": "mg/kg", "decimals": 1,
        "levels": [level("low", 10.0), level("high", 100.0)], "reaction_plan": []});
    let (status, answer) = read(engineer.post("/api/plan/analytes", analyte).await).await;
    assert_eq!(status, StatusCode::CREATED, "{answer}");
    let (_, benches) = read(engineer.get("/api/lab").await).await;
    let id = |n: usize| benches[0]["analytes"][0]["levels"][n]["characteristic"].as_str().unwrap().parse().unwrap();
    Bench { site, server, levels: [id(0), id(1)] }
}

impl Bench {
    pub fn results(&self, low: &str, high: &str) -> Value {
        json!([{"characteristic": self.levels[0], "result": low, "reagent_lot": "R-1"},
               {"characteristic": self.levels[1], "result": high, "reagent_lot": "R-1"}])
    }

    fn path(&self) -> String {
        format!("/api/stations/{}/runs", self.site.station)
    }

    pub async fn save(&self, who: &Visitor, results: Value, repeats: Option<&Value>) -> (StatusCode, Value) {
        let body =
            json!({"device": Uuid::from_u128(1), "entry": Uuid::new_v4(), "results": results, "repeats": repeats});
        read(who.post(&self.path(), body).await).await
    }
}

#[sqlx::test]
async fn a_run_is_judged_as_it_is_typed_saved_and_released(pool: PgPool) {
    let bench = bench(&pool).await;
    let tess = Visitor::signed_in(&bench.server, "tess").await;
    let so_far = json!({"results": [{"characteristic": bench.levels[1], "result": "131,5"}]});
    let (status, preview) = read(tess.post(&format!("{}/preview", bench.path()), so_far).await).await;
    assert_eq!((status, &preview["outcome"]), (StatusCode::OK, &json!("rejected")), "{preview}");
    let findings = preview["judgements"][0]["findings"].as_array().unwrap();
    assert_eq!(findings.iter().map(|f| &f["rule"]).collect::<Vec<_>>(), ["1-2s", "1-3s"]);
    let (status, run) = bench.save(&tess, bench.results("10,2", "101.5 mg/kg"), None).await;
    assert_eq!((status, &run["verdict"], &run["number"]), (StatusCode::CREATED, &json!("accepted"), &json!(1)));
    let path = format!("/api/runs/{}/release", run["id"].as_str().unwrap());
    assert_eq!(tess.post(&path, json!({"version": 0})).await.status(), StatusCode::CONFLICT, "not what was seen");
    let (status, released) = read(tess.post(&path, json!({"version": run["version"]})).await).await;
    assert_eq!((status, &released["released"]["person"]), (StatusCode::OK, &json!("tess")));
    let (status, again) = read(tess.post(&path, json!({"version": released["version"]})).await).await;
    assert_eq!((status, &again["code"]), (StatusCode::CONFLICT, &json!("run_released")));
}

#[sqlx::test]
async fn a_rejected_run_is_repeated_or_overridden_by_a_supervisor_and_not_released(pool: PgPool) {
    let bench = bench(&pool).await;
    let (tess, sue) = (Visitor::signed_in(&bench.server, "tess").await, Visitor::signed_in(&bench.server, "sue").await);
    let (_, run) = bench.save(&tess, bench.results("13.5", "100"), None).await;
    assert_eq!(run["verdict"], "rejected");
    let path = |step: &str| format!("/api/runs/{}/{step}", run["id"].as_str().unwrap());
    let (status, refused) = read(tess.post(&path("release"), json!({"version": run["version"]})).await).await;
    assert_eq!((status, &refused["code"]), (StatusCode::CONFLICT, &json!("run_rejected")));
    let overriding = |because: &str| json!({"version": run["version"], "because": because});
    assert_eq!(tess.post(&path("override"), overriding("bubble")).await.status(), StatusCode::FORBIDDEN);
    let (status, refused) = read(sue.post(&path("override"), overriding(" ")).await).await;
    assert_eq!((status, &refused["params"]["field"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("because")));
    let (status, repeat) = bench.save(&tess, bench.results("10.1", "99"), Some(&run["id"])).await;
    assert_eq!((status, &repeat["repeats"]["number"]), (StatusCode::CREATED, &run["number"]));
    let (status, refused) = bench.save(&tess, bench.results("10.1", "99"), Some(&run["id"])).await;
    assert_eq!((status, &refused["code"]), (StatusCode::CONFLICT, &json!("run_repeated")));
    let (status, refused) = read(sue.post(&path("override"), overriding("bubble")).await).await;
    assert_eq!((status, &refused["code"]), (StatusCode::CONFLICT, &json!("run_repeated")), "{refused}");
}

#[rstest]
#[case::no_number("ten", "100", "not_a_number")]
#[case::other_unit("10.1 g", "100", "other_unit")]
#[case::too_many_decimals("10.12", "100", "too_many_decimals")]
#[case::blank("", "100", "blank")]
#[sqlx::test]
async fn what_is_no_result_is_named_with_its_level_and_nothing_is_kept(
    #[ignore] pool: PgPool,
    #[case] low: &str,
    #[case] high: &str,
    #[case] code: &str,
) {
    let bench = bench(&pool).await;
    let tess = Visitor::signed_in(&bench.server, "tess").await;
    let (status, answer) = bench.save(&tess, bench.results(low, high), None).await;
    assert_eq!((status, &answer["code"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("results_refused")), "{answer}");
    let refused = &answer["params"]["refused"];
    assert_eq!(refused.as_array().unwrap().len(), 1);
    assert_eq!(refused[0]["characteristic"], json!(bench.levels[0]));
    assert_eq!(refused[0]["refusals"][0]["code"], code);
    let kept: i64 = sqlx::query_scalar("select count(*) from sample").fetch_one(&pool).await.unwrap();
    assert_eq!(kept, 0);
}

#[sqlx::test]
async fn results_that_do_not_fit_the_bench_are_refused(pool: PgPool) {
    let bench = bench(&pool).await;
    let tess = Visitor::signed_in(&bench.server, "tess").await;
    let low = json!({"characteristic": bench.levels[0], "result": "10"});
    for (results, status, code) in [
        (json!([]), StatusCode::CONFLICT, "run_results"),
        (json!([low, low]), StatusCode::CONFLICT, "run_results"),
        (json!([{"characteristic": bench.site.wall, "result": "5"}]), StatusCode::NOT_FOUND, "missing"),
        (json!(vec![low; 201]), StatusCode::UNPROCESSABLE_ENTITY, "field_refused"),
    ] {
        let (given, answer) = bench.save(&tess, results, None).await;
        assert_eq!((given, &answer["code"]), (status, &json!(code)), "{answer}");
    }
    let (status, answer) = bench.save(&tess, bench.results("10", "100"), Some(&json!(Uuid::nil()))).await;
    assert_eq!((status, &answer["code"]), (StatusCode::NOT_FOUND, &json!("missing")));
    // A level is measured in runs, not by itself.
    let (status, answer) = tess.enter(bench.levels[0], &["10"]).await;
    assert_eq!((status, &answer["code"]), (StatusCode::CONFLICT, &json!("in_a_run")), "{answer}");
}
