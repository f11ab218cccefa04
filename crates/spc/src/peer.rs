//! A laboratory's control results against those of its peers.

use crate::wrong_request::{Expected, WrongRequest, within_range};

use serde::{Deserialize, Serialize};

/// Own results and those of the peer group, for one level of one reagent lot.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct PeerRequest {
    /// Own results.
    pub own: Summary,
    /// Results of the group.
    pub peer: Summary,
}

/// Results of one group.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Summary {
    /// How many results; at least 1.
    pub n: u64,
    /// Mean, in the unit of the analyte.
    pub mean: f64,
    /// Standard deviation, divisor n − 1; of the peers above 0.
    pub sd: f64,
}

/// How far own results are from the peers'.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Peer {
    /// 100 (mean − peer mean)/peer mean; `None` where the peer mean is 0.
    pub bias_percent: Option<f64>,
    /// (mean − peer mean)/peer sd, the standard deviation index.
    pub sdi: f64,
    /// CV/peer CV, the coefficient of variation ratio; `None` where a mean is 0.
    pub cvr: Option<f64>,
}

/// Compares own results with the peers'. Source: CLSI C24, on interlaboratory comparison.
///
/// ```
/// use spc::peer::{PeerRequest, Summary, peer};
/// let own = Summary { n: 30, mean: 4.2, sd: 0.1 };
/// let answer = peer(&PeerRequest { own, peer: Summary { n: 400, mean: 4.0, sd: 0.2 } }).unwrap();
/// assert!((answer.bias_percent.unwrap() - 5.0).abs() < 1e-12);
/// assert!((answer.sdi - 1.0).abs() < 1e-12);
/// ```
///
/// # Errors
/// Figures that are no numbers, an n of 0, a negative sd, a peer sd of 0.
pub fn peer(request: &PeerRequest) -> Result<Peer, WrongRequest> {
    for (name, of) in [("own", request.own), ("peer", request.peer)] {
        if of.n == 0 {
            return Err(WrongRequest::new(format!("{name}.n"), of.n, Expected::whole_from(1)));
        }
        if !within_range(of.mean) {
            return Err(WrongRequest::new(format!("{name}.mean"), of.mean, Expected::NUMBER));
        }
        if !(of.sd >= 0.0 && within_range(of.sd)) {
            return Err(WrongRequest::new(format!("{name}.sd"), of.sd, Expected::NOT_NEGATIVE));
        }
    }
    let PeerRequest { own, peer } = *request;
    if peer.sd == 0.0 {
        return Err(WrongRequest::new("peer.sd", peer.sd, Expected::POSITIVE));
    }
    let difference = own.mean - peer.mean;
    let cv = |of: Summary| (of.mean != 0.0).then(|| of.sd / of.mean);
    Ok(Peer {
        bias_percent: (peer.mean != 0.0).then(|| 100.0 * difference / peer.mean),
        sdi: difference / peer.sd,
        cvr: cv(own).zip(cv(peer)).map(|(own, peer)| own / peer),
    })
}
