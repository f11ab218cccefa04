//! What is reviewed is given to peer groups once, and what becomes of it.

use std::collections::BTreeSet;

use chrono::{DateTime, Duration, Utc};
use quality::entry::{Accepted, Tags};
use quality::object::ObjectKind;
use quality::peer::given::{GivenResult, GivenState, RefusedThere, TakenResult};
use quality::peer::group::{PeerGroup, PeerLevel};
use quality::peer::statistic::{Month, PeerStatistic, WrongStatistic};
use quality::role::Role;
use quality::sample::Content;
use rstest::rstest;
use sqlx::PgPool;
use store::StoreError;
use store::lab::{self, RunView};
use store::limits::LimitsChange;
use store::peers::{self, GivenFilter, GivenView, Parcel, PeerGroupView, RefusedStatistic};
use store::trail::{Finding, verify};
use uuid::Uuid;

use crate::common::{act, person};
use crate::laboratory::{Laboratory, laboratory};

const MANY: i64 = 100;

fn group_of(laboratory: &Laboratory) -> PeerGroup {
    let level = |(of, code): (Uuid, &str)| PeerLevel { characteristic: of, code: code.into() };
    PeerGroup {
        name: "Fell and Tarn".into(),
        laboratory: "Laboratory 17".into(),
        url: Some("http://peers.example/".into()),
        levels: [(laboratory.levels[0], "AG-1"), (laboratory.levels[1], "AG-2")].map(level).to_vec(),
        since: laboratory.start,
        active: true,
    }
}

async fn begun(pool: &PgPool) -> (Laboratory, Uuid) {
    store::migrate(pool).await.unwrap();
    let laboratory = laboratory(pool).await;
    let by = (laboratory.site.engineer, laboratory.start);
    let id = peers::set_up(pool, group_of(&laboratory), Some("token-1"), by).await.unwrap();
    (laboratory, id)
}

impl Laboratory {
    /// Measured, released where it can be, and marked as reviewed.
    async fn reviewed(&self, hour: i64, z: [f64; 2]) -> RunView {
        let run = self.run(hour, z).await;
        let run = self.release(&run).await.unwrap_or(run);
        self.review(run.id).await
    }

    async fn review(&self, run: Uuid) -> RunView {
        let run = lab::find(&self.pool, self.site.engineer, run).await.unwrap();
        lab::review(&self.pool, run.id, run.version, None, (self.site.engineer, Utc::now())).await.unwrap()
    }

    /// The sample of a run at its first level.
    async fn sample(&self, run: Uuid) -> Uuid {
        sqlx::query_scalar("select id from sample where run_id = $1 and characteristic_id = $2")
            .bind(run)
            .bind(self.levels[0])
            .fetch_one(&self.pool)
            .await
            .unwrap()
    }
}

async fn given(pool: &PgPool, group: Uuid) -> Vec<GivenView> {
    peers::given(pool, group, GivenFilter::default(), MANY).await.unwrap()
}

/// Values and states, the oldest first, low before high.
async fn standing(pool: &PgPool, group: Uuid) -> Vec<(f64, GivenState)> {
    let mut all: Vec<_> = given(pool, group).await.iter().map(|it| (it.taken_at, it.value, it.state)).collect();
    all.sort_by(|a, b| (a.0, a.1).partial_cmp(&(b.0, b.1)).unwrap());
    all.into_iter().map(|(_, value, state)| (value, state)).collect()
}

async fn view(pool: &PgPool) -> PeerGroupView {
    peers::list(pool).await.unwrap().remove(0)
}

async fn claim(pool: &PgPool, now: DateTime<Utc>) -> Vec<Parcel> {
    peers::due(pool, now, MANY).await.unwrap()
}

fn of_parcel(parcel: &Parcel) -> Vec<TakenResult> {
    parcel.results.results.iter().map(|it| TakenResult { id: it.id, revision: it.revision }).collect()
}

/// Everything that waits is sent and taken.
async fn all_taken(pool: &PgPool) -> usize {
    let now = Utc::now();
    let mut many = 0;
    for parcel in claim(pool, now).await {
        let sent = of_parcel(&parcel);
        many += sent.len();
        peers::taken(pool, parcel.group, (&sent, &[]), now).await.unwrap();
    }
    many
}

#[sqlx::test]
async fn only_what_is_reviewed_is_given_and_never_what_was_rejected(pool: PgPool) {
    let (laboratory, group) = begun(&pool).await;
    let waits = laboratory.run(1, [0.1, 0.2]).await;
    laboratory.release(&waits).await.unwrap();
    assert_eq!(given(&pool, group).await.len(), 0);
    let rejected = laboratory.reviewed(2, [4.0, 0.0]).await;
    assert!(rejected.reviewed.is_some());
    assert_eq!(given(&pool, group).await.len(), 0);
    laboratory.reviewed(3, [0.3, 0.4]).await;
    assert_eq!(standing(&pool, group).await, [(10.3, GivenState::Waiting), (104.0, GivenState::Waiting)]);
    laboratory.review(waits.id).await;
    assert_eq!(given(&pool, group).await.len(), 4);
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

#[sqlx::test]
async fn what_is_overridden_counts_and_what_is_older_than_the_group_does_not(pool: PgPool) {
    let (laboratory, group) = begun(&pool).await;
    let rejected = laboratory.run(2, [4.0, 0.0]).await;
    let by = laboratory.site.supervisor;
    lab::override_verdict(&pool, rejected.id, rejected.version, by, Utc::now(), "Bubble").await.unwrap();
    laboratory.review(rejected.id).await;
    assert_eq!(given(&pool, group).await.len(), 2);
    laboratory.reviewed(-3, [0.0, 0.0]).await;
    assert_eq!(given(&pool, group).await.len(), 2);
    // Taking part from an earlier day gives what was reviewed since.
    let earlier = PeerGroup { since: laboratory.start - Duration::days(1), ..group_of(&laboratory) };
    let by = (laboratory.site.engineer, Utc::now());
    peers::change(&pool, group, 1, (earlier, None), by).await.unwrap();
    assert_eq!(given(&pool, group).await.len(), 4);
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

#[sqlx::test]
async fn a_result_is_claimed_once_and_claimed_again_when_nobody_says_what_came_of_it(pool: PgPool) {
    let (laboratory, group) = begun(&pool).await;
    laboratory.reviewed(1, [0.1, 0.2]).await;
    let now = Utc::now();
    let parcels = claim(&pool, now).await;
    let [first] = parcels.as_slice() else { panic!("{parcels:?}") };
    assert_eq!((first.results.laboratory.as_str(), first.token.as_str()), ("Laboratory 17", "token-1"));
    let codes: BTreeSet<&str> = first.results.results.iter().map(|it| it.code.as_str()).collect();
    assert_eq!(codes, BTreeSet::from(["AG-1", "AG-2"]));
    assert_eq!(claim(&pool, now).await, []);
    let later = claim(&pool, now + Duration::minutes(5)).await;
    assert_eq!(of_parcel(&later[0]), of_parcel(first));
    peers::taken(&pool, group, (&of_parcel(first), &[]), now).await.unwrap();
    assert_eq!(claim(&pool, now + Duration::days(9)).await, []);
    assert_eq!((view(&pool).await.given, view(&pool).await.waiting), (2, 0));
}

#[sqlx::test]
async fn what_fails_waits_longer_each_time_until_it_is_given_up_and_tried_again_on_demand(pool: PgPool) {
    let (laboratory, group) = begun(&pool).await;
    laboratory.reviewed(1, [0.1, 0.2]).await;
    let mut now = Utc::now();
    let mut tries = 0;
    while let [parcel] = claim(&pool, now).await.as_slice() {
        peers::not_taken(&pool, parcel, &of_parcel(parcel), "answered 500", now).await.unwrap();
        tries += 1;
        now += Duration::hours(2);
        assert!(tries < 200, "tried for ever");
    }
    assert!(tries > 20, "given up after {tries}");
    let fares = view(&pool).await;
    assert_eq!((fares.waiting, fares.not_taken, fares.failed.as_deref()), (0, 2, Some("answered 500")));
    assert!(given(&pool, group).await.iter().all(|it| it.state == GivenState::NotTaken));
    peers::send_again(&pool, group, Utc::now()).await.unwrap();
    assert_eq!(all_taken(&pool).await, 2);
    assert_eq!(view(&pool).await.given, 2);
}

#[sqlx::test]
async fn what_is_refused_there_is_not_sent_again(pool: PgPool) {
    let (laboratory, group) = begun(&pool).await;
    laboratory.reviewed(1, [0.1, 0.2]).await;
    let now = Utc::now();
    let parcel = claim(&pool, now).await.remove(0);
    let [one, other] = of_parcel(&parcel)[..] else { panic!("{parcel:?}") };
    let refused = RefusedThere { id: other.id, revision: other.revision, reason: "not\u{0}compared".into() };
    peers::taken(&pool, group, (&[one], &[refused]), now).await.unwrap();
    assert_eq!(claim(&pool, now + Duration::days(9)).await, []);
    let states: Vec<_> =
        given(&pool, group).await.into_iter().map(|it| (it.id == one.id, it.state, it.failed)).collect();
    assert!(states.contains(&(true, GivenState::Given, None)), "{states:?}");
    assert!(states.contains(&(false, GivenState::NotTaken, Some("notcompared".into()))), "{states:?}");
}

#[sqlx::test]
async fn a_correction_goes_out_as_another_revision_once_it_is_reviewed(pool: PgPool) {
    let (laboratory, group) = begun(&pool).await;
    let run = laboratory.reviewed(1, [0.1, 0.2]).await;
    assert_eq!(all_taken(&pool).await, 2);
    let sample = laboratory.sample(run.id).await;
    let supervisor = person(laboratory.site.supervisor, Role::Supervisor);
    let tags = Tags::from([("reagent lot".into(), "R-1".into())]);
    let read = Accepted { content: Content::readings([10.5]), tags, typed_first: vec![] };
    store::samples::correct(&pool, sample, 1, &supervisor, Utc::now(), &read, "Mistyped").await.unwrap();
    assert!(given(&pool, group).await.iter().any(|it| it.changed_since));
    assert_eq!(claim(&pool, Utc::now()).await, []);
    laboratory.review(run.id).await;
    let parcel = claim(&pool, Utc::now()).await.remove(0);
    let again: Vec<_> = parcel.results.results.iter().map(|it| (it.revision, it.value)).collect();
    assert_eq!(again, [(2, Some(10.5))]);
    peers::taken(&pool, group, (&of_parcel(&parcel), &[]), Utc::now()).await.unwrap();
    assert_eq!(standing(&pool, group).await, [(10.5, GivenState::Given), (102.0, GivenState::Given)]);
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

#[sqlx::test]
async fn what_is_taken_back_is_told_where_it_was_heard_of_alone(pool: PgPool) {
    let (laboratory, group) = begun(&pool).await;
    laboratory.reviewed(1, [0.1, 0.2]).await;
    let by = (laboratory.site.supervisor, Utc::now());
    let never_sent = given(&pool, group).await[0].id;
    peers::withdraw(&pool, (group, never_sent), "Wrong calibrator", by).await.unwrap();
    assert_eq!(all_taken(&pool).await, 1);
    let there = given(&pool, group).await.into_iter().find(|it| it.id != never_sent).unwrap().id;
    peers::withdraw(&pool, (group, there), "Wrong calibrator", by).await.unwrap();
    assert!(given(&pool, group).await.iter().any(|it| it.state == GivenState::WithdrawalWaiting));
    let parcel = claim(&pool, Utc::now()).await.remove(0);
    let told: Vec<_> = parcel.results.results.iter().map(|it| (it.id, it.revision, it.withdrawn, it.value)).collect();
    assert_eq!(told, [(there, 2, true, None)]);
    peers::taken(&pool, group, (&of_parcel(&parcel), &[]), Utc::now()).await.unwrap();
    assert!(given(&pool, group).await.iter().all(|it| it.state == GivenState::Withdrawn));
    let again = peers::withdraw(&pool, (group, there), "Twice", by).await.unwrap_err();
    assert!(matches!(again, StoreError::Missing(ObjectKind::PeerResult)), "{again:?}");
    // What a person took back stays so, whatever is reviewed again.
    let run = given(&pool, group).await[0].run;
    let text = lab::NewRunAction { characteristic: None, text: "Looked again".into(), entry: Uuid::new_v4() };
    lab::act_on(&pool, run, &text, by).await.unwrap();
    laboratory.review(run).await;
    assert!(given(&pool, group).await.iter().all(|it| it.state == GivenState::Withdrawn));
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

/// While a try is under way nobody knows whether the group has heard of it.
#[sqlx::test]
async fn what_is_taken_back_while_it_is_sent_is_told(pool: PgPool) {
    let (laboratory, group) = begun(&pool).await;
    laboratory.reviewed(1, [0.1, 0.2]).await;
    let parcel = claim(&pool, Utc::now()).await.remove(0);
    let id = parcel.results.results[0].id;
    let by = (laboratory.site.supervisor, Utc::now());
    peers::withdraw(&pool, (group, id), "Wrong calibrator", by).await.unwrap();
    peers::taken(&pool, group, (&of_parcel(&parcel), &[]), Utc::now()).await.unwrap();
    let then = claim(&pool, Utc::now()).await.remove(0);
    assert_eq!(of_parcel(&then), [TakenResult { id, revision: 2 }]);
    // A failure that is told late of what was sent before changes nothing of that.
    peers::not_taken(&pool, &parcel, &of_parcel(&parcel), "no answer in time", Utc::now()).await.unwrap();
    peers::taken(&pool, group, (&of_parcel(&then), &[]), Utc::now()).await.unwrap();
    let states: Vec<_> = given(&pool, group).await.iter().map(|it| (it.id == id, it.state)).collect();
    assert!(
        states.contains(&(true, GivenState::Withdrawn)) && states.contains(&(false, GivenState::Given)),
        "{states:?}"
    );
}

#[sqlx::test]
async fn a_point_set_aside_is_taken_back_with_the_next_review_and_given_again_when_it_counts_again(pool: PgPool) {
    let (laboratory, group) = begun(&pool).await;
    for hour in 2..5 {
        laboratory.run(hour, [0.0, 0.0]).await;
    }
    let run = laboratory.reviewed(1, [0.1, 0.2]).await;
    assert_eq!(all_taken(&pool).await, 2);
    let sample = laboratory.sample(run.id).await;
    let aside = LimitsChange::SetAside { sample, cause: None, cause_text: Some("Spilt".into()) };
    let at = laboratory.start + Duration::hours(5);
    act(&pool, laboratory.levels[0], &aside, laboratory.site.supervisor, at).await.unwrap();
    assert!(given(&pool, group).await.iter().any(|it| it.changed_since));
    let again = async |entry: u128| {
        let text = lab::NewRunAction { characteristic: None, text: "Looked".into(), entry: Uuid::from_u128(entry) };
        lab::act_on(&pool, run.id, &text, (laboratory.site.supervisor, Utc::now())).await.unwrap();
        laboratory.review(run.id).await;
    };
    again(1).await;
    assert_eq!(standing(&pool, group).await[0], (10.1, GivenState::WithdrawalWaiting));
    act(&pool, laboratory.levels[0], &LimitsChange::TakeBack { sample }, laboratory.site.supervisor, at).await.unwrap();
    again(2).await;
    let parcel = claim(&pool, Utc::now()).await.remove(0);
    let sent: Vec<_> = parcel.results.results.iter().map(|it| (it.revision, it.withdrawn, it.value)).collect();
    assert_eq!(sent, [(3, false, Some(10.1))]);
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

#[sqlx::test]
async fn a_file_is_with_the_group_once_somebody_says_so_as_it_stood_in_it(pool: PgPool) {
    let (laboratory, group) = begun(&pool).await;
    let by_hand = PeerGroup { url: None, ..group_of(&laboratory) };
    let by = (laboratory.site.engineer, Utc::now());
    peers::change(&pool, group, 1, (by_hand, None), by).await.unwrap();
    laboratory.reviewed(1, [0.1, 0.2]).await;
    assert_eq!(claim(&pool, Utc::now() + Duration::days(1)).await, []);
    let file = peers::to_hand_over(&pool, group, true).await.unwrap();
    let handed: Vec<_> = file.results.iter().map(|it| TakenResult { id: it.id, revision: it.revision }).collect();
    assert_eq!(handed.len(), 2);
    // Taken back after the file was saved: the file says otherwise, so it waits to be said.
    peers::withdraw(&pool, (group, handed[0].id), "Wrong calibrator", by).await.unwrap();
    laboratory.reviewed(2, [0.3, 0.4]).await;
    assert_eq!(peers::hand_over(&pool, group, &handed, Utc::now()).await.unwrap(), 2);
    let waits = peers::to_hand_over(&pool, group, true).await.unwrap();
    let waits: Vec<_> = waits.results.iter().map(|it| (it.withdrawn, it.value.is_some())).collect();
    assert_eq!(waits, [(true, false), (false, true), (false, true)]);
    assert_eq!(peers::to_hand_over(&pool, group, false).await.unwrap().results.len(), 4);
    // An address makes of what waits something to send.
    peers::change(&pool, group, 2, (group_of(&laboratory), Some("token-2")), by).await.unwrap();
    assert_eq!(all_taken(&pool).await, 3);
}

#[sqlx::test]
async fn what_waits_of_a_level_that_is_compared_no_more_stays_here(pool: PgPool) {
    let (laboratory, group) = begun(&pool).await;
    laboratory.reviewed(1, [0.1, 0.2]).await;
    let low_alone = PeerGroup { levels: group_of(&laboratory).levels[..1].to_vec(), ..group_of(&laboratory) };
    peers::change(&pool, group, 1, (low_alone, None), (laboratory.site.engineer, Utc::now())).await.unwrap();
    let codes = |results: &[GivenResult]| results.iter().map(|it| it.code.clone()).collect::<Vec<_>>();
    assert_eq!(codes(&peers::to_hand_over(&pool, group, true).await.unwrap().results), ["AG-1"]);
    let parcels = claim(&pool, Utc::now()).await;
    assert_eq!(parcels.iter().map(|parcel| codes(&parcel.results.results)).collect::<Vec<_>>(), [["AG-1"]]);
}

#[sqlx::test]
async fn set_up_says_what_cannot_be(pool: PgPool) {
    let (laboratory, group) = begun(&pool).await;
    let by = (laboratory.site.engineer, Utc::now());
    let named = |name: &str| PeerGroup { name: name.into(), ..group_of(&laboratory) };
    let taken = peers::set_up(&pool, named("Fell and Tarn"), Some("t"), by).await.unwrap_err();
    assert!(matches!(&taken, StoreError::SetUp(_)), "{taken:?}");
    let no_token = peers::set_up(&pool, named("Other"), None, by).await.unwrap_err();
    assert!(matches!(&no_token, StoreError::Field(wrong) if wrong.field == "token"), "{no_token:?}");
    let other = PeerLevel { characteristic: Uuid::from_u128(9), code: "X".into() };
    let missing = PeerGroup { levels: vec![other], ..named("Other") };
    let missing = peers::set_up(&pool, missing, Some("t"), by).await.unwrap_err();
    assert!(matches!(missing, StoreError::Missing(ObjectKind::Level)), "{missing:?}");
    let late = peers::change(&pool, group, 7, (named("Other"), None), by).await.unwrap_err();
    assert!(matches!(late, StoreError::Changed(_)), "{late:?}");
    assert_eq!(peers::list(&pool).await.unwrap().len(), 1);
}

fn statistic(code: &str, n: u64, mean: f64) -> PeerStatistic {
    let month: Month = serde_json::from_value("2026-03".into()).unwrap();
    PeerStatistic {
        code: code.into(),
        month,
        control_lot: None,
        reagent_lot: None,
        unit: None,
        laboratories: Some(24),
        n,
        mean,
        sd: 2.0,
    }
}

#[sqlx::test]
async fn a_group_is_asked_by_one_and_tells_what_is_new_once(pool: PgPool) {
    let (_, group) = begun(&pool).await;
    let now = Utc::now();
    let asked = peers::asks(&pool, now).await.unwrap();
    assert_eq!(asked.iter().map(|it| it.group).collect::<Vec<_>>(), [group]);
    assert_eq!(peers::asks(&pool, now).await.unwrap(), []);
    peers::not_answered(&pool, &asked[0], "answered 503", now).await.unwrap();
    assert_eq!(view(&pool).await.not_answered.as_deref(), Some("answered 503"));
    assert_eq!(peers::asks(&pool, now + Duration::seconds(6)).await.unwrap().len(), 1);
    let told = [statistic("AG-1", 600, 9.0), statistic("AG-9", 600, 9.0), statistic("AG-2", 1, 90.0)];
    let taken = peers::take_in(&pool, group, &told, now).await.unwrap();
    assert_eq!((taken.changed, taken.known), (1, 0));
    assert_eq!(
        taken.refused.iter().map(|it| it.because).collect::<Vec<_>>(),
        [WrongStatistic::Code, WrongStatistic::N]
    );
    assert_eq!(view(&pool).await.not_answered, None);
    assert_eq!(peers::asks(&pool, now + Duration::minutes(59)).await.unwrap(), []);
    assert_eq!(peers::asks(&pool, now + Duration::minutes(61)).await.unwrap().len(), 1);
    let again = peers::take_in(&pool, group, &[statistic("AG-1", 600, 9.0)], now).await.unwrap();
    assert_eq!((again.changed, again.known), (0, 1));
    let revised = peers::take_in(&pool, group, &[statistic("AG-1", 650, 9.1)], now).await.unwrap();
    assert_eq!((revised.changed, revised.known), (1, 0));
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
}

#[sqlx::test]
async fn a_file_of_statistics_is_taken_in_whole_or_not_at_all(pool: PgPool) {
    let (laboratory, group) = begun(&pool).await;
    let by = (laboratory.site.supervisor, Utc::now());
    let twice = [statistic("AG-1", 600, 9.0), statistic(" AG-1", 600, 9.5)];
    let refused = peers::take_file(&pool, group, &twice, by).await.unwrap().refused;
    assert_eq!(refused, [RefusedStatistic { row: 2, level: " AG-1".into(), because: WrongStatistic::Twice }]);
    let kept: i64 = sqlx::query_scalar("select count(*) from peer_statistic").fetch_one(&pool).await.unwrap();
    assert_eq!(kept, 0);
    let taken = peers::take_file(&pool, group, &twice[..1], by).await.unwrap();
    assert_eq!(taken.changed, 1);
    let missing = peers::take_file(&pool, Uuid::nil(), &twice[..1], by).await.unwrap_err();
    assert!(matches!(missing, StoreError::Missing(ObjectKind::PeerGroup)), "{missing:?}");
}

#[sqlx::test]
async fn own_results_stand_beside_what_was_told_of_their_month(pool: PgPool) {
    let (laboratory, group) = begun(&pool).await;
    for hour in 1..4 {
        laboratory.reviewed(hour, [0.1 * hour as f64, 0.2]).await;
    }
    let back = given(&pool, group).await.into_iter().find(|it| it.value == 10.1).unwrap();
    let by = (laboratory.site.supervisor, Utc::now());
    peers::withdraw(&pool, (group, back.id), "Wrong calibrator", by).await.unwrap();
    let month = Month::at(laboratory.start, &Utc);
    let told = PeerStatistic { month, ..statistic("AG-1", 600, 10.0) };
    peers::take_in(&pool, group, &[told], Utc::now()).await.unwrap();
    let levels = peers::comparison(&pool, group, 2, laboratory.start).await.unwrap();
    let low = &levels[0];
    assert_eq!((low.level.as_str(), low.code.as_str()), ("low", "AG-1"));
    // Each hour has a reagent lot of its own here.
    let lots: Vec<_> = low.lots.iter().map(|lot| (lot.reagent_lot.as_deref(), lot.months[0].own.mean)).collect();
    assert_eq!(lots, [(Some("R-2"), Some(10.2)), (Some("R-3"), Some(10.3))]);
    assert!((low.lots[0].months[0].beside.unwrap().sdi - 0.1).abs() < 1e-9);
    assert_eq!(levels[1].lots[0].months[0].beside, None);
    let later = peers::comparison(&pool, group, 2, laboratory.start + Duration::days(200)).await.unwrap();
    assert!(later.iter().all(|level| level.lots.is_empty()));
}

/// Each is a change behind the trail's back.
#[rstest]
#[case::url("update peer_group set url = 'http://other.example/'", "peer_group", "url")]
#[case::token("update peer_group set token = 'another'", "peer_group", "token")]
#[case::code("update peer_level set code = 'AG-7' where code = 'AG-2'", "peer_group", "levels")]
#[case::value("update peer_result set value = 1 where value = 10.1", "peer_result", "value")]
#[case::lot("update peer_result set reagent_lot = 'R-9' where value = 10.1", "peer_result", "reagent_lot")]
#[case::gone("delete from peer_result where value = 10.1", "peer_result", "row")]
#[case::mean("update peer_statistic set mean = 1", "peer_statistic", "mean")]
#[case::untold("delete from peer_statistic", "peer_statistic", "row")]
#[sqlx::test]
async fn what_was_given_otherwise_than_the_trail_tells_is_named(
    #[ignore] pool: PgPool,
    #[case] tampered: &'static str,
    #[case] table: &str,
    #[case] field: &str,
) {
    let (laboratory, group) = begun(&pool).await;
    laboratory.reviewed(1, [0.1, 0.2]).await;
    peers::take_in(&pool, group, &[statistic("AG-1", 600, 9.0)], Utc::now()).await.unwrap();
    assert_eq!(verify(&pool, None).await.unwrap().findings, []);
    sqlx::raw_sql(tampered).execute(&pool).await.unwrap();
    let findings = verify(&pool, None).await.unwrap().findings;
    let [Finding::Row(found)] = findings.as_slice() else { panic!("{findings:?}") };
    assert_eq!((found.table, found.field.as_str()), (table, field));
}
