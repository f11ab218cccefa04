//! Which episode is which, when signals are gathered anew.

use uuid::Uuid;

use super::gather::Episode;

/// The identity of each episode: that of the first of its signals that had one which no earlier episode has taken.
/// So what is split goes on as its first part, and what is joined as the earlier one. Nothing where it is new.
/// `held` says for each signal which episode it was in until now.
pub fn keep(episodes: &[Episode], held: &[Option<Uuid>]) -> Vec<Option<Uuid>> {
    let mut taken: Vec<Option<Uuid>> = Vec::with_capacity(episodes.len());
    for episode in episodes {
        let free = |id: &Uuid| !taken.contains(&Some(*id));
        let id = episode.signals.iter().filter_map(|&i| held[i]).find(free);
        taken.push(id);
    }
    taken
}
