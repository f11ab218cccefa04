//! A recipe on the first line, a file behind it: read, or refused with what is wrong.
#![no_main]

use formats::shape::{RawTable, Recipe, draw, row_keys};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|input: &[u8]| {
    let Some(end) = input.iter().position(|byte| *byte == b'\n') else { return };
    let Ok(recipe) = std::str::from_utf8(&input[..end]) else { return };
    let Ok(recipe) = Recipe::from_json(recipe) else { return };
    let Ok(table) = RawTable::open(&input[end + 1..], &recipe.read) else { return };
    let Ok(shaped) = draw(&recipe, &table) else { return };
    let known = row_keys(&table, &shaped.samples, &["#1".to_owned()]);
    if let Ok(keys) = known {
        assert_eq!(keys.len(), shaped.samples.len());
    }
    // What was read can be told.
    for sample in shaped.samples.iter() {
        let _ = (sample.row(), sample.time(), sample.content(), sample.drawn(), sample.is_gap());
        assert!(sample.tags().all(|(name, text)| !name.is_empty() && !text.is_empty()));
    }
});
