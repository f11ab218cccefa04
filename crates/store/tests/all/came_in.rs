//! Everything that came in: each sample once, the last taken first, with what became of it.

use chrono::Duration;
use quality::role::Role;
use quality::sample::{Content, Readings};
use quality::signal::SignalState;
use sqlx::PgPool;
use store::StoreError;
use store::came_in::{Became, CameIn, CameInFilter, list};
use store::limits::LimitsChange;
use store::samples::{NewSample, Visit};
use uuid::Uuid;

use crate::common::{self, accepted, act, leaked, person, sample, save_wall, site};
use crate::laboratory;

async fn all(pool: &PgPool, filter: CameInFilter) -> Vec<CameIn> {
    list(pool, &filter, 100).await.unwrap()
}

fn became(became: Became) -> CameInFilter {
    CameInFilter { became: Some(became), ..CameInFilter::default() }
}

#[sqlx::test]
async fn each_sample_says_what_became_of_it(pool: PgPool) {
    let site = site(&pool, "").await;
    let clean = save_wall(&pool, &site, 0, 5.0).await.sample;
    let flagged = save_wall(&pool, &site, 1, 5.9).await;
    let skip = NewSample { visit: Visit::Skipped { because: "No pieces".into() }, ..sample(&site, site.wall, 2, &[]) };
    let skipped = store::samples::save(&pool, &skip).await.unwrap().sample;
    let corrected = save_wall(&pool, &site, 3, 5.01).await.sample;
    let withdrawn = save_wall(&pool, &site, 4, 5.02).await.sample;
    let aside = save_wall(&pool, &site, 5, 5.03).await.sample;
    let supervisor = person(site.supervisor, Role::Supervisor);
    let at = site.since + Duration::minutes(10);
    let content = Content::Readings(Readings { values: vec![Some(5.0); 3], components: vec![] });
    store::samples::correct(&pool, corrected, 1, &supervisor, at, &accepted(content), "Mistyped").await.unwrap();
    store::samples::withdraw(&pool, withdrawn, 1, &supervisor, at, "Wrong line").await.unwrap();
    let change = LimitsChange::SetAside { sample: aside, cause: None, cause_text: Some("Wrong piece".into()) };
    act(&pool, site.wall, &change, site.supervisor, at).await.unwrap();

    let lines = all(&pool, CameInFilter::default()).await;
    let ids: Vec<Uuid> = lines.iter().map(|line| line.sample).collect();
    assert_eq!(ids, [aside, withdrawn, corrected, skipped, flagged.sample, clean], "the last taken first");
    let line = |id: Uuid| lines.iter().find(|line| line.sample == id).unwrap();
    assert_eq!(line(flagged.sample).episode.map(|e| e.state), Some(SignalState::Open));
    assert!(flagged.asking.contains(&line(flagged.sample).episode.unwrap().id));
    assert_eq!(line(skipped).gap.as_ref().map(|gap| (gap.withdrawn, gap.because.as_str())), Some((false, "No pieces")));
    assert_eq!(line(withdrawn).gap.as_ref().map(|gap| (gap.withdrawn, gap.person.as_str())), Some((true, "sue")));
    assert!(line(corrected).corrected && !line(clean).corrected);
    assert_eq!(line(aside).aside.as_ref().map(|said| said.because.as_str()), Some("Wrong piece"));
    assert!(line(clean).aside.is_none());

    for (asked, found) in [
        (Became::Flagged, vec![flagged.sample]),
        (Became::InControl, vec![corrected, clean]),
        (Became::Skipped, vec![skipped]),
        (Became::Withdrawn, vec![withdrawn]),
        (Became::Corrected, vec![corrected]),
        (Became::SetAside, vec![aside]),
        (Became::Doubted, vec![]),
    ] {
        let ids: Vec<Uuid> = all(&pool, became(asked)).await.iter().map(|line| line.sample).collect();
        assert_eq!(ids, found, "{asked:?}");
    }
}

/// Many samples of several characteristics share one moment; no page skips or repeats one.
#[sqlx::test]
async fn page_after_page_is_the_whole_list(pool: PgPool) {
    let site = site(&pool, "").await;
    for minute in [0, 0, 0, 1, 1, 2, 0, 3, 1] {
        save_wall(&pool, &site, minute, 5.0).await;
        let visit = NewSample { visit: leaked(1, 100), ..sample(&site, site.leaks, minute, &[]) };
        store::samples::save(&pool, &visit).await.unwrap();
    }
    let whole: Vec<Uuid> = all(&pool, CameInFilter::default()).await.iter().map(|line| line.sample).collect();
    assert_eq!(whole.len(), 18);
    for page in [1, 4, 7] {
        let mut paged: Vec<Uuid> = Vec::new();
        loop {
            let filter = CameInFilter { behind: paged.last().copied(), ..CameInFilter::default() };
            let next = list(&pool, &filter, page).await.unwrap();
            paged.extend(next.iter().map(|line| line.sample));
            if next.len() < usize::try_from(page).unwrap() {
                break;
            }
        }
        assert_eq!(paged, whole, "pages of {page}");
    }
    let nowhere = CameInFilter { behind: Some(Uuid::nil()), ..CameInFilter::default() };
    assert!(matches!(list(&pool, &nowhere, 9).await, Err(StoreError::Missing(_))));
}

#[sqlx::test]
async fn it_is_narrowed_by_place_person_time_and_laboratory(pool: PgPool) {
    let laboratory = laboratory::laboratory(&pool).await;
    let site = laboratory.site;
    save_wall(&pool, &site, 0, 5.0).await;
    laboratory.run(0, [0.1, 3.4]).await;
    let by = |narrow: fn(&mut CameInFilter, common::Site)| {
        let mut filter = CameInFilter::default();
        narrow(&mut filter, site);
        all(&pool, filter)
    };
    assert_eq!(by(|_, _| {}).await.len(), 3);
    assert_eq!(by(|f, _| f.laboratory = Some(true)).await.len(), 2);
    assert_eq!(by(|f, _| f.laboratory = Some(false)).await.len(), 1);
    assert_eq!(by(|f, site| f.person = Some(site.technician)).await.len(), 3);
    assert_eq!(by(|f, site| f.person = Some(site.supervisor)).await.len(), 0);
    assert_eq!(by(|f, site| f.station = Some(site.station)).await.len(), 3);
    assert_eq!(by(|f, _| f.station = Some(Uuid::nil())).await.len(), 0);
    assert_eq!(by(|f, _| f.within = Some(vec![])).await.len(), 0);
    assert_eq!(by(|f, site| f.from = Some(site.since + Duration::hours(1))).await.len(), 2);
    assert_eq!(by(|f, site| f.until = Some(site.since + Duration::hours(1))).await.len(), 1);
    let of_run = by(|f, _| f.laboratory = Some(true)).await;
    let mut flagged: Vec<bool> = of_run.iter().map(|line| line.episode.is_some()).collect();
    flagged.sort_unstable();
    assert_eq!((flagged, of_run[0].run.map(|run| run.number)), (vec![false, true], Some(1)));
}
