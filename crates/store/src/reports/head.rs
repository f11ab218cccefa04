//! What a report was asked for, by whom, when, and where the trail stood at that moment.

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::people::Person;
use crate::trail::seal;

/// What a report tells of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum ReportKind {
    /// Episodes that were raised, with answers and reviews.
    Episodes,
    /// Points that broke a rule, or carry an action or a remark.
    Points,
    /// Decisions of reviewers, with signatures.
    Reviews,
}

/// What is asked for; what is left out does not narrow it.
#[derive(Debug, Clone)]
pub struct Asked {
    pub kind: ReportKind,
    /// From then on.
    pub from: DateTime<Utc>,
    /// Before then.
    pub until: DateTime<Utc>,
    pub area: Option<Uuid>,
    pub station: Option<Uuid>,
    pub characteristic: Option<Uuid>,
    pub analyte: Option<Uuid>,
    /// Only of these stations.
    pub within: Option<Vec<Uuid>>,
}

/// The head of a report: each of its pages says this.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ReportHead {
    pub report: ReportKind,
    pub from: DateTime<Utc>,
    pub until: DateTime<Utc>,
    /// The area it is kept to.
    pub area: Option<String>,
    /// The station it is kept to.
    pub station: Option<String>,
    /// The characteristic it is kept to.
    pub characteristic: Option<String>,
    /// The analyte it is kept to.
    pub analyte: Option<String>,
    /// Who asked.
    pub by: String,
    /// When.
    pub at: DateTime<Utc>,
    /// The name of the site.
    pub site: String,
    /// Entries of the trail at that moment.
    pub entries: i64,
    /// Where its chains ended then: what `nuvek verify-trail --against` takes.
    pub seal: String,
    /// SHA-256 of that text, in hexadecimal.
    pub digest: String,
}

impl Asked {
    /// The head, as it stands at `at`. The seal is that of the chains that `within` lets see.
    pub(super) async fn head(&self, pool: &PgPool, by: &Person, at: DateTime<Utc>) -> Result<ReportHead, StoreError> {
        let names = sqlx::query!(
            r#"select s.name as site, (select name from area where id = $1) as area,
                      (select name from station where id = $2) as station,
                      (select c.name || ', ' || p.name || ', ' || t.name from characteristic c
                       join product p on p.id = c.product_id join station t on t.id = c.station_id
                       where c.id = $3) as characteristic,
                      (select name from analyte where id = $4) as analyte
               from site s"#,
            self.area,
            self.station,
            self.characteristic,
            self.analyte
        );
        let names = names.fetch_one(pool).await?;
        let mut seal = seal(pool, at).await?;
        if let Some(stations) = &self.within {
            let theirs = sqlx::query_scalar!("select id from characteristic where station_id = any($1)", stations);
            let theirs = theirs.fetch_all(pool).await?;
            seal.chains.retain(|chain, _| theirs.contains(chain));
        }
        let entries = seal.chains.values().map(|sealed| sealed.position).sum();
        let seal = serde_json::to_string(&seal)?;
        let digest = hex::encode(Sha256::digest(&seal));
        Ok(ReportHead {
            report: self.kind,
            from: self.from,
            until: self.until,
            area: names.area,
            station: names.station,
            characteristic: names.characteristic,
            analyte: names.analyte,
            by: by.name.clone(),
            at,
            site: names.site,
            entries,
            seal,
            digest,
        })
    }
}
