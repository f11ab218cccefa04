//! Studies that were made of the history: one of each sort, the one before and after a new clay lot signed.

use std::collections::BTreeMap;

use anyhow::{Result, anyhow};
use chrono::{DateTime, Utc};
use quality::study::{
    CapabilityQuestion, DefectsQuestion, Design, DesignRules, DistributionQuestion, Measure, OverTimeQuestion,
    Question, RuleSetsQuestion, Selection, SetAsked, SideBySideQuestion, Span, Split, SumUp, TakenDistribution,
};
use spc::rules::Preset;
use spc::sampling::SamplingPlan;
use sqlx::PgPool;
use store::studies::{NewStudy, find, freeze, keep, sign};
use uuid::Uuid;

use super::site::Site;

pub async fn write(pool: &PgPool, site: &Site, now: DateTime<Utc>) -> Result<()> {
    let engineer = store::people::find(pool, site.engineer).await?.ok_or_else(|| anyhow!("no engineer"))?;
    let by = (site.engineer, now);
    let lots = study(
        "Wall thickness before and after clay lot K-17",
        "Asked by the customer when the clay changed. The mean rose by 0.06 mm and came nearer to the middle; both lots \
         hold the drawing. What stands against it are the episodes of the wearing tool and the mixed-up batch.",
        capability(characteristic(pool, "Wall thickness").await?, Some(Split::Phase)),
    );
    let id = keep(pool, &lots, by).await?;
    let copy = freeze(pool, id, 1, by).await?;
    let digest = find(pool, copy).await?.digest;
    sign(pool, copy, &digest, &engineer, now).await?;
    let flow = study(
        "Flow rate, week by week",
        "There is a lower limit alone. Each week by itself, so that one good week hides no bad one.",
        capability(characteristic(pool, "Flow rate").await?, Some(Split::Week)),
    );
    keep(pool, &flow, by).await?;
    for study in others(pool).await? {
        keep(pool, &study, by).await?;
    }
    Ok(())
}

/// One of each other sort.
async fn others(pool: &PgPool) -> Result<Vec<NewStudy>> {
    let burst = Selection::of(characteristic(pool, "Burst pressure").await?);
    let wall = characteristic(pool, "Wall thickness").await?;
    let cosmetic = characteristic(pool, "Cosmetic defects").await?;
    let set = |name: &str, of: Selection| SetAsked { name: Some(name.into()), of };
    let design = |name: &str, rules: DesignRules, pieces: usize, interval_minutes: f64| Design {
        name: name.into(),
        rules,
        k: 3.0,
        plan: SamplingPlan { pieces, interval_minutes },
    };
    let western = DesignRules::Preset { preset: Preset::WesternElectric };
    let limits = DesignRules::Preset { preset: Preset::LimitsOnly };
    Ok(vec![
        study(
            "Burst pressure: which distribution?",
            "Asked by the designer of the housing, who reckons with the weakest cartridge in a thousand.",
            Question::Distribution(DistributionQuestion {
                of: burst,
                taken: TakenDistribution::Best,
                from_a_start: true,
                filter: None,
                bins: None,
                drawn: None,
            }),
        ),
        study(
            "Cosmetic defects, week by week",
            "For the meeting on Mondays. Stains, chips and scratches first: the others are few.",
            Question::Defects(DefectsQuestion {
                of: Selection::of(cosmetic),
                against: None,
                weights: BTreeMap::new(),
                pool_below: None,
                split: Some(Split::Week),
            }),
        ),
        study(
            "Wall thickness, shift beside shift",
            "A template: find it anew each month. The shifts were said to differ; over these weeks they do not.",
            Question::SideBySide(SideBySideQuestion {
                sets: vec![set("Wall thickness", Selection::of(wall))],
                split: Some(Split::Shift),
                confidence: None,
            }),
        ),
        study(
            "Wall thickness: five an hour, or three every half hour?",
            "The same work for the technicians, nearly; what is won is time until a worn tool is seen.",
            Question::RuleSets(RuleSetsQuestion {
                of: Some(wall),
                designs: vec![
                    design("As it is", DesignRules::Own, 5, 60.0),
                    design("Three, twice as often", western, 3, 30.0),
                    design("Limits alone", limits, 5, 60.0),
                ],
            }),
        ),
        study(
            "Spread of the wall, day by day",
            "Not a characteristic of its own: the mean range of a day, to see whether the mandrels wear.",
            Question::OverTime(OverTimeQuestion {
                of: Selection::of(wall),
                measure: Measure::Range,
                summary: SumUp::Mean,
                per: Span::Day,
                k: 3.0,
            }),
        ),
    ])
}

fn study(name: &str, remark: &str, question: Question) -> NewStudy {
    NewStudy { name: name.into(), remark: Some(remark.into()), question }
}

fn capability(of: Uuid, split: Option<Split>) -> Question {
    Question::Capability(CapabilityQuestion {
        of: Selection::of(of),
        sigma_method: None,
        distribution: None,
        specification: None,
        thresholds: None,
        bins: None,
        split,
    })
}

async fn characteristic(pool: &PgPool, name: &str) -> Result<Uuid> {
    let all = store::characteristics::list(pool).await?;
    let found = all.iter().find(|one| one.characteristic.name == name);
    Ok(found.ok_or_else(|| anyhow!("no characteristic {name}"))?.id)
}
