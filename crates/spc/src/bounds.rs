//! What an answer may take: a request that would take more is refused with the bound.

use std::fmt;
use std::marker::PhantomData;

use serde::de::{Error, SeqAccess, Visitor};
use serde::{Deserialize, Deserializer};

/// Points of a chart.
pub const POINTS_AT_MOST: usize = 1_000_000;

/// Points times rules of a chart.
pub const JUDGEMENTS_AT_MOST: usize = 20_000_000;

/// Signals in an answer: nobody reads more, and each takes a hundred bytes.
pub const SIGNALS_AT_MOST: usize = 200_000;

/// Values of a distribution or a series.
pub const VALUES_AT_MOST: usize = 200_000;

/// Values of a probability plot, whose band asks for two quantiles of each rank.
pub const RANKS_AT_MOST: usize = 20_000;

/// Reads a list of at most so many entries; one that is longer is not read to its end.
pub(crate) fn list<'de, D: Deserializer<'de>, T: Deserialize<'de>, const MOST: usize>(
    deserializer: D,
) -> Result<Vec<T>, D::Error> {
    struct List<T, const MOST: usize>(PhantomData<T>);
    impl<'de, T: Deserialize<'de>, const MOST: usize> Visitor<'de> for List<T, MOST> {
        type Value = Vec<T>;

        fn expecting(&self, f: &mut fmt::Formatter) -> fmt::Result {
            f.write_str("a sequence")
        }

        fn visit_seq<A: SeqAccess<'de>>(self, mut entries: A) -> Result<Vec<T>, A::Error> {
            let mut list = Vec::new();
            while let Some(entry) = entries.next_element()? {
                if list.len() == MOST {
                    return Err(A::Error::custom(format_args!("more than {MOST} entries, expected at most {MOST}")));
                }
                list.push(entry);
            }
            Ok(list)
        }
    }
    deserializer.deserialize_seq(List::<T, MOST>(PhantomData))
}
