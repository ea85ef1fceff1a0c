//! What reading of every record shares: paths, names, currencies, and typed reading that names the place of a misfit.

use serde::de::DeserializeOwned;

use super::check_numbers;
use super::fields::Group;
use crate::error::{Error, Problem, Problems, Result};

/// Joins a parent path and a key with a dot, without one at the root.
pub(crate) fn join(path: &str, key: &str) -> String {
    if path.is_empty() { key.to_owned() } else { format!("{path}.{key}") }
}

/// Reports a name that is empty or unreasonably long.
pub(crate) fn check_name(name: &str, path: &str, problems: &mut Problems) {
    let length = name.trim().chars().count();
    if length == 0 || length > 120 {
        problems.push(match length {
            0 => Problem::new(join(path, "name"), "", "give it a name, up to 120 characters"),
            _ => Problem::new(join(path, "name"), format!("{length} characters long"), "1 to 120 characters are accepted"),
        });
    }
}

/// Reports a currency that is no three-letter code.
pub(crate) fn check_currency(code: Option<&str>, path: &str, problems: &mut Problems) {
    if let Some(code) = code
        && !(code.len() == 3 && code.chars().all(|c| c.is_ascii_uppercase()))
    {
        problems.push(Problem::new(
            join(path, "currency"),
            format!("\"{code}\""),
            "a code of three capitals is accepted, as EUR (ISO 4217)",
        ));
    }
}

/// Reads one typed value whose numbers keep to the bounds of a group of the catalogue; each that does not is named.
pub(crate) fn within<T: DeserializeOwned>(value: &serde_json::Value, group: &'static Group) -> Result<T> {
    let mut problems = Problems::new();
    check_numbers(value, "", group, &mut problems);
    if problems.is_empty() { deserialize(value, "") } else { Err(problems.into_error()) }
}

/// Reads one typed value, naming the path of whatever does not fit.
pub(crate) fn deserialize<T: DeserializeOwned>(value: &serde_json::Value, root: &str) -> Result<T> {
    serde_path_to_error::deserialize(value).map_err(|e| {
        let path = match e.path().to_string().as_str() {
            "." => root.to_owned(),
            path => join(root, path),
        };
        Error::Invalid(vec![Problem::worded(path, e.inner())])
    })
}
