//! Documents and files spoilt the way that slips, other programs and malice spoil them.

use super::documents::numbers;
use super::with;
use joulethesis_core::quantity::fields::DOCUMENT;
use proptest::prelude::*;
use serde_json::{Value, json};

/// One spoilt place of a document: which of its numbers, and what stands there then.
pub(crate) fn spoilt() -> impl Strategy<Value = (usize, f64, usize)> {
    (any::<usize>(), 0.0..1.0f64, 0usize..12)
}

/// Sets some numbers to the ends of what is accepted, between them, and beyond.
pub(crate) fn spoil(mut document: Value, places: &[(usize, f64, usize)]) -> Value {
    let mut all = Vec::new();
    numbers(DOCUMENT, "", &document, &mut all);
    all.retain(|(pointer, _)| document.pointer(pointer.rsplit_once('/').expect("a pointer").0).is_some_and(Value::is_object));
    for (which, share, how) in places {
        let (pointer, field) = &all[which % all.len()];
        let between = field.min + share * (field.max - field.min);
        let small = field.min + (field.max - field.min) * share.powi(8);
        let value = match how {
            0 | 1 => json!(field.min),
            2 | 3 => json!(field.max),
            4..=6 => json!(if field.whole { between.round() } else { between }),
            7..=9 => json!(if field.whole { small.round() } else { small }),
            10 => [json!(null), json!("1,5"), json!([]), json!({}), json!(true), json!("\u{0}")][which % 6].clone(),
            _ => [json!(-1e308), json!(1e308), json!(-0.0), json!(5e-324), json!(field.max * 1.0001)][which % 5].clone(),
        };
        if document.pointer(pointer.rsplit_once('/').expect("a pointer").0).is_some_and(Value::is_object) {
            let value = if field.whole { value.as_f64().map_or(value.clone(), |x| json!(x as i64)) } else { value };
            document = with(document, pointer, value);
        }
    }
    document
}

/// Words that have confused readers of files before.
const WORDS: &[&str] = &[
    "",
    " ",
    "0",
    "-0",
    "1",
    "-1",
    "1,5",
    "1.5",
    "1,000",
    "1.000,5",
    "1e308",
    "1e999",
    "-1e308",
    "5e-324",
    "nan",
    "NaN",
    "inf",
    "-inf",
    "null",
    "\"",
    "\"\"",
    "'",
    "=1+1",
    "@x",
    "+1",
    "\t",
    "\u{0}",
    "\u{feff}",
    "\u{202e}",
    "kg",
    "5 furlong",
    "9999999999999999999999",
    "1970-01-01T00:00:00Z",
    "1980-01-06T00:00:00Z",
    "2026-02-30T25:61:61Z",
    "motor",
    "rotor",
    "<",
    ">",
    "</trk>",
    "<trkpt>",
    "<![CDATA[",
    "<!DOCTYPE x [<!ENTITY a \"b\">]>",
    "&a;",
    "{",
    "[",
    "}",
    "]",
    ":",
    ",",
    ";",
    "\n",
    "\r\n",
    "time_s",
    "speed_kmh",
];

/// Edits of a text, for [`edited`]: an operation, a place as a share of the lines and of the cells, and a word.
pub(crate) fn edits() -> impl Strategy<Value = Vec<(u8, usize, usize, usize)>> {
    prop::collection::vec((0u8..8, any::<usize>(), any::<usize>(), 0..WORDS.len()), 1..8)
}

/// A text after [`edits`] of its lines and of the cells between separators.
pub(crate) fn edited(text: &str, separators: &[char], edits: &[(u8, usize, usize, usize)]) -> String {
    let mut lines: Vec<String> = text.lines().map(str::to_owned).collect();
    for (how, line, cell, word) in edits {
        let (i, word) = (line % lines.len(), WORDS[*word]);
        let cells: Vec<(usize, usize)> = {
            let l = &lines[i];
            let mut at = vec![0];
            at.extend(l.char_indices().filter(|(_, c)| separators.contains(c)).map(|(i, c)| i + c.len_utf8()));
            at.iter().enumerate().map(|(n, from)| (*from, at.get(n + 1).map_or(l.len(), |next| next - 1))).collect()
        };
        let (from, to) = cells[cell % cells.len()];
        let to = to.max(from);
        match how {
            // A cell becomes a word, or grows by one.
            0..=3 if lines[i].is_char_boundary(from) && lines[i].is_char_boundary(to) => lines[i].replace_range(from..to, word),
            4 if lines[i].is_char_boundary(from) => lines[i].insert_str(from, word),
            5 => {
                let again = lines[i].clone();
                lines.insert(cell % lines.len(), again);
            }
            6 if lines.len() > 1 => drop(lines.remove(i)),
            _ => lines[i] = lines[i].repeat(2),
        }
    }
    lines.join("\n")
}
