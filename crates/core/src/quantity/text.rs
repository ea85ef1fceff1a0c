//! Reading JSON text within bounds: depth, number of records, and what words may hold, before anything typed is made of it.

use serde_json::Value;

use crate::error::{Error, Problem, Problems, Result};

/// Deepest nesting of a document, with room; ours need nine.
const DEEPEST: usize = 24;
/// Most records and lists in one text: a trace of 100,000 points, and as much again beside it.
const MOST_RECORDS: usize = 200_000;
/// Longest text of a remark, and of any other word, characters.
const LONGEST_NOTES: usize = 20_000;
const LONGEST_WORD: usize = 300;

/// Parses JSON text whose depth and number of records are bounded; the bounds are looked at before memory is taken.
///
/// # Errors
/// [`Error::Unreadable`] for text that is no JSON or beyond the bounds.
///
/// ```
/// use joulethesis_core::quantity::parse_json;
/// assert!(parse_json(b"{\"a\": [1, 2]}").is_ok());
/// assert!(parse_json("[".repeat(1000).as_bytes()).is_err());
/// ```
pub fn parse_json(text: &[u8]) -> Result<Value> {
    let (mut depth, mut records, mut in_string, mut escaped) = (0usize, 0usize, false, false);
    for byte in text {
        if in_string {
            match byte {
                _ if escaped => escaped = false,
                b'\\' => escaped = true,
                b'"' => in_string = false,
                _ => {}
            }
            continue;
        }
        match byte {
            b'"' => in_string = true,
            b'{' | b'[' => {
                depth += 1;
                records += 1;
                if depth > DEEPEST {
                    return Err(Error::Unreadable(format!("it is nested more than {DEEPEST} deep")));
                }
                if records > MOST_RECORDS {
                    return Err(Error::Unreadable(format!("it holds more than {MOST_RECORDS} records and lists")));
                }
            }
            b'}' | b']' => depth = depth.saturating_sub(1),
            _ => {}
        }
    }
    serde_json::from_slice(text).map_err(|e| Error::Unreadable(e.to_string()))
}

/// Reports control characters and overlong words anywhere in a value, keys included, by their path.
pub(crate) fn check_texts(value: &Value, path: &str, problems: &mut Problems) {
    let mut way = vec![path.to_owned()];
    walk(value, &mut way, problems);
}

fn walk(value: &Value, way: &mut Vec<String>, problems: &mut Problems) {
    match value {
        Value::String(text) => {
            let notes = way.last().is_some_and(|key| key == ".notes" || key == "notes");
            let control = |c: char| c.is_control() && !(notes && matches!(c, '\n' | '\r' | '\t'));
            let longest = if notes { LONGEST_NOTES } else { LONGEST_WORD };
            if let Some(c) = text.chars().find(|c| control(*c)) {
                problems.add(|| Problem::new(way.concat(), format!("a text with the control character {c:?}"), "plain text is accepted"));
            } else if text.len() > longest && text.chars().count() > longest {
                let given = || format!("{} characters long", text.chars().count());
                problems.add(|| Problem::new(way.concat(), given(), format!("at most {longest} are accepted")));
            }
        }
        Value::Array(items) => {
            for (i, item) in items.iter().enumerate() {
                // Numbers and the like have no text; the path is made for what may.
                if matches!(item, Value::String(_) | Value::Array(_) | Value::Object(_)) {
                    way.push(format!("[{i}]"));
                    walk(item, way, problems);
                    way.pop();
                }
            }
        }
        Value::Object(map) => {
            for (key, item) in map {
                let dotted = if way.iter().all(String::is_empty) { key.clone() } else { format!(".{key}") };
                if key.chars().count() > LONGEST_WORD || key.chars().any(char::is_control) {
                    problems.add(|| {
                        Problem::new(
                            way.concat(),
                            format!("a record with the key {key:?}"),
                            format!("keys of up to {LONGEST_WORD} plain characters are accepted"),
                        )
                    });
                } else if matches!(item, Value::String(_) | Value::Array(_) | Value::Object(_)) {
                    way.push(dotted);
                    walk(item, way, problems);
                    way.pop();
                }
            }
        }
        _ => {}
    }
}

/// What stands between the cells of a table: commas, semicolons or tabs, whichever its heading has most of.
pub(crate) fn delimiter(table: &str) -> u8 {
    let heading = table.trim_start_matches('\u{feff}').lines().next().unwrap_or_default();
    [b';', b'\t', b','].into_iter().max_by_key(|d| heading.bytes().filter(|b| b == d).count()).unwrap_or(b',')
}
