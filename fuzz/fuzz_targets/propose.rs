//! Any file: what is proposed for it is a recipe, and reads it.
#![no_main]

use formats::shape::{Recipe, propose, shape};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|file: &[u8]| {
    let Ok(proposal) = propose(file, None) else { return };
    match Recipe::from_json(&proposal.recipe.to_string()) {
        Ok(recipe) => {
            let _ = shape(&recipe, file);
        }
        Err(wrong) => panic!("{} is proposed: {wrong}", proposal.recipe),
    }
});
