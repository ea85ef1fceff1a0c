//! Checks every number of a parsed JSON value against the field catalogue.

use serde_json::Value;

use super::fields::{Entry, Field, Group};
use super::read::join;
use crate::error::{Problem, Problems};

/// Reports every number under `value` that is missing, no number, not finite or out of bounds.
/// Unknown keys and the shape of the rest are left to the typed reading that follows.
pub(crate) fn check_numbers(value: &Value, path: &str, group: &Group, problems: &mut Problems) {
    for entry in group.entries {
        match entry {
            Entry::Number(field) => check_field(value.get(field.key), || join(path, field.key), field, problems),
            Entry::Object(key, inner) => {
                if let Some(child) = value.get(key).filter(|v| v.is_object()) {
                    check_numbers(child, &join(path, key), inner, problems);
                }
            }
            Entry::List(key, inner, longest) => {
                let Some(items) = value.get(key).and_then(Value::as_array) else { continue };
                if items.len() > *longest {
                    problems.push(Problem::new(
                        join(path, key),
                        format!("{} entries long", items.len()),
                        format!("at most {longest} are accepted"),
                    ));
                    continue;
                }
                for (i, item) in items.iter().enumerate() {
                    check_numbers(item, &format!("{}[{i}]", join(path, key)), inner, problems);
                }
            }
        }
    }
}

fn check_field(value: Option<&Value>, path: impl Fn() -> String, field: &Field, problems: &mut Problems) {
    let accepted = || {
        let whole = if field.whole { "whole " } else { "" };
        let unit = if field.unit.is_empty() { String::new() } else { format!(" {}", field.unit) };
        format!("a {whole}number from {} to {}{unit} is accepted", field.min, field.max)
    };
    match value {
        None | Some(Value::Null) => {
            if field.required {
                problems.add(|| Problem::new(path(), "", accepted()));
            }
        }
        Some(Value::Number(number)) => {
            let given = number.as_f64().unwrap_or(f64::NAN);
            let fits = (field.min..=field.max).contains(&given) && (!field.whole || given.fract() == 0.0);
            if !fits {
                problems.add(|| Problem::new(path(), number, accepted()));
            }
        }
        Some(other) => {
            problems.add(|| Problem::new(path(), other, accepted()));
        }
    }
}
