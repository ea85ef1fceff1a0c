//! The field catalogue keeps its word: every number of a document and of a part is accepted within its bounds and refused beyond them, with
//! its own path, what was given, and what is accepted.

use crate::common::documents::{documents, numbers};
use crate::common::with;
use joulethesis_core::document::Document;
use joulethesis_core::error::Problem;
use joulethesis_core::library::{Part, builtin};
use joulethesis_core::quantity::fields::{DOCUMENT, Entry, Field, Group, group_of_part};
use serde_json::{Value, json};

/// A JSON pointer as problems tell it: `/brief/trips/0/hvac_w` is `brief.trips[0].hvac_w`.
fn dotted(pointer: &str) -> String {
    let mut path = String::new();
    for key in pointer.split('/').skip(1) {
        match key.parse::<usize>() {
            Ok(index) => path += &format!("[{index}]"),
            Err(_) if path.is_empty() => path += key,
            Err(_) => path += &format!(".{key}"),
        }
    }
    path
}

/// What is said about the range of one number.
fn about(problems: &[Problem], pointer: &str) -> Option<Problem> {
    problems.iter().find(|p| p.path == dotted(pointer) && p.accepted.contains("number from")).cloned()
}

fn problems(of: &dyn Fn(Value) -> Vec<Problem>, base: &Value, pointer: &str, value: Value) -> Option<Problem> {
    about(&of(with(base.clone(), pointer, value)), pointer)
}

/// A number just outside of a bound.
fn beyond(bound: f64, outwards: f64) -> f64 {
    bound + outwards * (1e-6 * bound.abs()).max(1e-9)
}

fn hold(of: &dyn Fn(Value) -> Vec<Problem>, base: &Value, pointer: &str, field: &Field) {
    let said = |value: Value| problems(of, base, pointer, value);
    let whole = |x: f64| if field.whole { json!(x as i64) } else { json!(x) };
    let middle = 0.5 * (field.min + field.max);
    for within in [field.min, field.max, if field.whole { middle.floor() } else { middle }] {
        assert_eq!(said(whole(within)), None, "{pointer} = {within}");
    }
    let outside = if field.whole {
        vec![json!(field.min as i64 - 1), json!(field.max as i64 + 1), json!(field.min + 0.5)]
    } else {
        vec![json!(beyond(field.min, -1.0)), json!(beyond(field.max, 1.0))]
    };
    for value in outside.into_iter().chain([json!("7"), json!(true), json!([]), json!({})]) {
        let p = said(value.clone()).unwrap_or_else(|| panic!("{pointer} = {value} is accepted"));
        let bounds = p.accepted.contains(&format!("{} to {}", field.min, field.max)) && p.accepted.contains(field.unit);
        assert!(bounds && !p.given.is_empty() && p.message.starts_with(&p.path), "{pointer} = {value}: {p:?}");
        assert_eq!(p.accepted.contains("whole"), field.whole, "{p:?}");
    }
    let mut absent = base.clone();
    let (parent, key) = pointer.rsplit_once('/').expect("a pointer");
    absent.pointer_mut(parent).and_then(Value::as_object_mut).expect("a record").remove(key);
    assert_eq!(about(&of(absent), pointer).is_some(), field.required, "{pointer} absent");
}

#[test]
fn every_number_of_a_document_keeps_to_its_bounds() {
    let of = |v: Value| Document::from_value(&v).err().map_or_else(Vec::new, |e| e.problems().to_vec());
    let mut tried: Vec<&str> = Vec::new();
    for base in documents() {
        let mut all = Vec::new();
        numbers(DOCUMENT, "", &base, &mut all);
        for (pointer, field) in all {
            let (parent, key) = pointer.rsplit_once('/').expect("a pointer");
            // Each number once in each kind of record, where that record stands.
            let name = format!("{}.{key}", parent.trim_end_matches(|c: char| c.is_ascii_digit() || c == '/'));
            if !base.pointer(parent).is_some_and(Value::is_object) || tried.contains(&name.as_str()) {
                continue;
            }
            tried.push(Box::leak(name.into_boxed_str()));
            hold(&of, &base, &pointer, field);
        }
    }
    assert!(tried.len() > 150, "only {} numbers tried", tried.len());
}

/// What is no number is refused with its field, what was given and what is accepted, and not in words of the program.
#[test]
fn a_choice_that_there_is_none_of_a_word_for_a_switch_and_a_missing_field_are_told_alike() {
    let goal = |measure: Value| {
        let d = with(documents().remove(0), "/brief/goals", json!([{ "id": "x", "measure": measure }]));
        Document::from_value(&d).expect_err("refused").problems()[0].clone()
    };
    let missing = goal(json!({ "kind": "speed_limit" }));
    assert_eq!((missing.path.as_str(), missing.given.as_str()), ("brief.goals[0].measure.at_most_kmh", ""), "{missing:?}");
    let switch = goal(json!({ "kind": "power_limit", "at_most_w": 900, "rated": "yes" }));
    assert!(switch.given.contains("yes") && switch.accepted == "true or false is accepted", "{switch:?}");
    let kind = goal(json!({ "kind": "beauty" }));
    assert!(kind.given == "\"beauty\"" && kind.accepted.contains("speed_limit, power_limit"), "{kind:?}");
}

/// Numbers of a group that stand in the record itself.
fn own(group: &'static Group) -> impl Iterator<Item = &'static Field> {
    group.entries.iter().filter_map(|e| if let Entry::Number(field) = e { Some(field) } else { None })
}

#[test]
fn every_number_of_a_part_keeps_to_its_bounds() {
    let of = |v: Value| Part::from_value(&v).err().map_or_else(Vec::new, |e| e.problems().to_vec());
    for kind in ["motor", "controller", "module", "charger"] {
        let part = builtin().iter().find(|p| p.kind() == kind).expect("one of each kind");
        let base = serde_json::to_value(part).expect("JSON");
        for field in own(group_of_part(kind).expect("a group")) {
            hold(&of, &base, &format!("/{}", field.key), field);
        }
    }
}
