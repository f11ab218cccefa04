//! `nuvek shape`: a recipe and a table in, samples out. Exit 2 when the recipe is wrong, or the file as a whole.

use std::fs::File;
use std::io::{BufWriter, Read, Write};
use std::path::Path;
use std::process::ExitCode;

use anyhow::{Context, Result};
use formats::shape::{BYTES_AT_MOST, Recipe, Shaped, WrongRecipe, shape};

const WRONG_RECIPE: u8 = 2;

/// Shapes what stands in `file`.
pub fn run(recipe: &Path, file: &Path) -> Result<ExitCode> {
    let recipe = std::fs::read_to_string(recipe).with_context(|| format!("cannot read {}", recipe.display()))?;
    let bytes = read(file).with_context(|| format!("cannot read {}", file.display()))?;
    match shaped(&recipe, &bytes) {
        Ok(shaped) => {
            let mut out = BufWriter::new(std::io::stdout().lock());
            serde_json::to_writer(&mut out, &shaped)?;
            writeln!(out)?;
            out.flush()?;
            Ok(ExitCode::SUCCESS)
        }
        Err(wrong) => {
            eprintln!("{wrong}");
            Ok(ExitCode::from(WRONG_RECIPE))
        }
    }
}

fn shaped(recipe: &str, bytes: &[u8]) -> Result<Shaped, WrongRecipe> {
    shape(&Recipe::from_json(recipe)?, bytes)
}

/// As much of it as is too much.
fn read(file: &Path) -> std::io::Result<Vec<u8>> {
    let mut bytes = Vec::new();
    File::open(file)?.take(BYTES_AT_MOST as u64 + 1).read_to_end(&mut bytes)?;
    Ok(bytes)
}
