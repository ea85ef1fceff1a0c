//! `joulethesis match`: the search without a database.

use std::path::Path;

use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::Document;
use joulethesis_core::document::MatchRequest;
use joulethesis_core::error::{Error, Problem};
use joulethesis_core::library::{Part, builtin, exchange};
use joulethesis_core::matching::{Compared, Question, needs, relaxations, search, why_not};
use serde::de::DeserializeOwned;
use serde_json::json;

use crate::{Failure, print, read};

/// What the command was given.
pub(crate) struct Inputs<'a> {
    pub(crate) file: &'a Path,
    pub(crate) request: Option<&'a Path>,
    pub(crate) library: Option<&'a Path>,
    pub(crate) why_not: Option<&'a Path>,
    pub(crate) needs: bool,
}

fn parse<T: DeserializeOwned + Default>(file: Option<&Path>) -> Result<T, Failure> {
    let Some(file) = file else { return Ok(T::default()) };
    let text = read(file)?;
    let mut reader = serde_json::Deserializer::from_slice(&text);
    serde_path_to_error::deserialize(&mut reader).map_err(|e| {
        let problem = Problem::worded(e.path().to_string(), e.inner());
        Error::Invalid(vec![Problem { message: format!("{}, {}", file.display(), problem.message), ..problem }]).into()
    })
}

/// The parts of a library file, or the built-in ones.
pub(crate) fn library(file: Option<&Path>) -> Result<Vec<Part>, Failure> {
    let Some(file) = file else { return Ok(builtin().to_vec()) };
    let bytes = read(file)?;
    let text = std::str::from_utf8(&bytes).map_err(|e| Failure::input(format!("{}: not text in UTF-8: {e}", file.display())))?;
    let is_json = text.trim_start().starts_with(['{', '[']);
    Ok(if is_json { exchange::from_json(text)? } else { exchange::from_csv(text)? })
}

pub(crate) fn run(inputs: &Inputs<'_>) -> Result<(), Failure> {
    let document = Document::from_json(&read(inputs.file)?)?;
    if inputs.needs {
        return print(&json!(needs(&document)?));
    }
    let request: MatchRequest = if inputs.request.is_some() { parse(inputs.request)? } else { document.brief.search.clone() };
    let library = library(inputs.library)?;
    if inputs.why_not.is_some() {
        let question: Question = parse(inputs.why_not)?;
        let answer = search(&document, &library, &request, &Cancel::new(), |_| true)?;
        let picks: Vec<_> = answer.designs.iter().map(|d| d.pick.clone()).collect();
        return print(&json!(why_not(
            &document,
            &library,
            &request,
            &question,
            Compared { beside: picks.first(), against: &picks },
            &Cancel::new(),
            || true
        )?));
    }
    let answer = search(&document, &library, &request, &Cancel::new(), |_| true)?;
    let mut value = json!(answer);
    if answer.designs.is_empty() {
        value["relaxations"] = json!(relaxations(&document, &library, &request, &Cancel::new(), |_| true)?);
    }
    print(&value)
}
