//! A cause tree that a team has finished: why rims cracked after firing.

use anyhow::{Result, anyhow};
use chrono::{DateTime, Days, Utc};
use quality::cause::CauseGroup;
use quality::cause_tree::{Evidence, Facts, Idea, IdeaState, Origin, TreeAction};
use sqlx::PgPool;
use store::cause_trees::{NewTree, start, to_catalogue};
use uuid::Uuid;

use super::site::Site;

pub async fn write(pool: &PgPool, site: &Site, now: DateTime<Utc>) -> Result<()> {
    let all = store::characteristics::list(pool).await?;
    let of = |name: &str| {
        let found = all.iter().find(|one| one.characteristic.name == name);
        found.map(|one| one.id).ok_or_else(|| anyhow!("no characteristic {name}"))
    };
    let (cracked, peak) = (of("Cracked after firing")?, of("Peak temperature")?);
    let mut tree = Tree { ideas: vec![], today: now.date_naive(), site };
    let [machine, material, method, person, measurement, surroundings] = [
        (CauseGroup::Machine, "Machine"),
        (CauseGroup::Material, "Material"),
        (CauseGroup::Method, "Method"),
        (CauseGroup::Person, "Person"),
        (CauseGroup::Measurement, "Measurement"),
        (CauseGroup::Surroundings, "Surroundings"),
    ]
    .map(|(group, text)| tree.branch(group, text));
    let burner = tree.idea(machine, "Burner 3 fires hotter than the others", IdeaState::FoundTrue);
    tree.evidence(burner, "Peak temperature moved up at the same time", &format!("/charts/{peak}?last=200"));
    tree.action(
        burner,
        "Burner 3 adjusted; checked with each change of the firing plan",
        Some("No rim crack in 12 firings"),
    );
    tree.idea(burner, "Its nozzle is worn", IdeaState::FoundTrue);
    tree.idea(burner, "Its gas valve sticks", IdeaState::RuledOut);
    let car = tree.idea(machine, "Kiln car jolts on the rails", IdeaState::RuledOut);
    tree.evidence(car, "Cracks are on all layers alike", &format!("/studies/defects?of={cracked}&by=tag.car"));
    let clay = tree.idea(material, "Clay lot K-17 shrinks more", IdeaState::ToCheck);
    tree.action(clay, "Two firings with the rest of lot K-16", None);
    tree.idea(clay, "It was stored too dry", IdeaState::Idea);
    tree.idea(method, "Heated up too fast between 500 and 600 °C", IdeaState::RuledOut);
    tree.idea(method, "Set too close to one another on the car", IdeaState::Idea);
    tree.idea(person, "Rims are trimmed while too wet", IdeaState::RuledOut);
    tree.idea(measurement, "Light at the inspection shows more cracks than before", IdeaState::RuledOut);
    tree.idea(surroundings, "Draught from the open gate in the night shift", IdeaState::Idea);
    let found = tree.ideas[burner].id;
    let new = NewTree {
        name: "Rim cracks after firing".into(),
        facts: Facts {
            what: "Cracks at the rim after firing; walls and feet are as before".into(),
            place: "Kiln, upper layers of the car; not on the lowest one".into(),
            since: "About three weeks ago, in the night".into(),
            share: "Twice as many as in the weeks before".into(),
            cost: "Some 40 cartridges a week".into(),
        },
        origin: Some(Origin::Defect { characteristic: cracked, kind: "Rim crack".into() }),
        ideas: tree.ideas,
    };
    let by = (site.engineer, now);
    let id = start(pool, &new, by).await?;
    to_catalogue(pool, id, found, ("Burner fires too hot", CauseGroup::Machine), by).await?;
    Ok(())
}

struct Tree<'a> {
    ideas: Vec<Idea>,
    today: chrono::NaiveDate,
    site: &'a Site,
}

impl Tree<'_> {
    fn add(&mut self, parent: Option<Uuid>, group: Option<CauseGroup>, text: &str, state: IdeaState) -> usize {
        let checked = state == IdeaState::ToCheck;
        self.ideas.push(Idea {
            id: Uuid::new_v4(),
            parent,
            place: self.ideas.len() as f64,
            text: text.into(),
            group,
            state,
            owner: checked.then_some(self.site.engineer),
            due: if checked { self.today.checked_add_days(Days::new(5)) } else { None },
            evidence: vec![],
            actions: vec![],
        });
        self.ideas.len() - 1
    }

    fn branch(&mut self, group: CauseGroup, text: &str) -> usize {
        self.add(None, Some(group), text, IdeaState::Idea)
    }

    fn idea(&mut self, under: usize, text: &str, state: IdeaState) -> usize {
        let parent = self.ideas[under].id;
        self.add(Some(parent), None, text, state)
    }

    fn evidence(&mut self, of: usize, says: &str, path: &str) {
        self.ideas[of].evidence.push(Evidence { says: says.into(), path: path.into() });
    }

    fn action(&mut self, of: usize, text: &str, outcome: Option<&str>) {
        let check_on = self.today.checked_add_days(Days::new(7));
        let owner = Some(self.site.engineer);
        self.ideas[of].actions.push(TreeAction {
            text: text.into(),
            owner,
            check_on,
            outcome: outcome.map(str::to_owned),
        });
    }
}
