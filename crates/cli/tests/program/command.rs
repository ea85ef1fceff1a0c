//! The command as a person runs it.

use std::io::Write;
use std::process::{Command, Output, Stdio};

use serde_json::Value;

fn run(arguments: &[&str], input: &[u8]) -> Output {
    let mut child = Command::new(env!("CARGO_BIN_EXE_joulethesis"))
        .args(arguments)
        .current_dir(concat!(env!("CARGO_MANIFEST_DIR"), "/../.."))
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .expect("the command");
    child.stdin.take().expect("piped").write_all(input).ok();
    child.wait_with_output().expect("it ends")
}

fn json(output: &Output) -> Value {
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    serde_json::from_slice(&output.stdout).expect("JSON")
}

#[test]
fn estimates_a_file_and_standard_input_alike() {
    let text = std::fs::read(concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/pipit-b.json")).expect("demo file");
    let (file, piped) = (run(&["estimate", "demo/pipit-b.json"], b""), run(&["estimate", "-"], &text));
    assert_eq!(json(&file), json(&piped));
    assert!(json(&file)["curves"].is_object());
    assert!(json(&run(&["estimate", "-", "--no-curves"], &text)).get("curves").is_none());
}

#[test]
fn the_estimate_carries_its_bands_and_they_repeat() {
    let (once, again) = (run(&["estimate", "demo/wren-a.json"], b""), run(&["estimate", "demo/wren-a.json"], b""));
    assert_eq!(once.stdout, again.stdout);
    let estimate = json(&once);
    assert_eq!(estimate["bands"]["samples"], 256);
    assert!(estimate["claims"][0]["probability"].is_number());
    assert!(json(&run(&["estimate", "demo/wren-a.json", "--no-bands"], b"")).get("bands").is_none());
}

#[test]
fn a_layout_is_told_and_drawn_without_a_database() {
    let sheet = json(&run(&["layout", "demo/dunlin-a.json"], b""));
    assert!(sheet["states"].as_array().is_some_and(|s| s.len() == 5));
    let text = |form: &str, file: &str| run(&["layout", file, "--of", form], b"");
    assert!(String::from_utf8_lossy(&text("account", "demo/dunlin-a.json").stdout).contains("\nstate,laden,"));
    for form in ["plan", "plate"] {
        assert!(text(form, "demo/dunlin-a.json").stdout.starts_with(b"<svg"), "{form}");
    }
    let none = text("plate", "demo/wren-a.json");
    assert_eq!(none.status.code(), Some(2));
    assert!(String::from_utf8_lossy(&none.stderr).contains("design.mechanics.plate is absent"));
}

#[test]
fn a_week_and_the_years_are_told_without_a_database() {
    let week = json(&run(&["week", "demo/whimbrel-9-a.json"], b""));
    assert!(week["seasons"][0].get("shortfall").is_none() && week["seasons"][1]["shortfall"]["short_km"].as_f64() > Some(0.0));
    assert!(week["mends"].as_array().is_some_and(|m| !m.is_empty()));
    let years = json(&run(&["years", "demo/wren-a.json"], b""));
    assert!(years["options"].as_array().is_some_and(|o| o.iter().all(|o| o["parts"]["central"].is_number())));
}

#[test]
fn the_simulated_network_is_told_as_a_log_and_can_lose_its_engine() {
    let text = |arguments: &[&str]| String::from_utf8(run(arguments, b"").stdout).expect("text");
    let (whole, without) = (text(&["network", "--seconds", "2"]), text(&["network", "--seconds", "2", "--without-engine"]));
    assert_eq!(whole.lines().filter(|l| l.contains(" 0C4#")).count(), 200, "each 10 ms for two seconds");
    assert!(
        !without.contains(" 0C4#") && without.contains(" 0D8#") && whole.lines().next() == Some("(0.000000) can0 0C4#0D48323C0000004B"),
        "{whole:.60}"
    );
    assert!(text(&["network", "--dbc"]).contains("BO_ 196 EngineState: 8 ENGINE"));
}

#[test]
fn electrics_are_derived_without_a_database() {
    let sheet = json(&run(&["electrics", "demo/dunlin-a.json"], b""));
    let groups: Vec<&str> = sheet["groups"].as_array().expect("groups").iter().filter_map(|g| g["id"].as_str()).collect();
    assert_eq!(groups, ["traction", "precharge", "motor", "charge", "low_voltage", "heat", "safety"]);
    // Every line says how it comes about and where that is from.
    for line in sheet["groups"].as_array().expect("groups").iter().flat_map(|g| g["lines"].as_array().expect("lines")) {
        assert!(line["source"].as_str().is_some_and(|s| !s.is_empty()) && !line["result"].as_array().expect("words").is_empty(), "{line}");
    }
    for command in ["week", "years", "electrics", "drawing", "wiring"] {
        let output = run(&[command, "-"], b"{}");
        assert_eq!(output.status.code(), Some(2));
        assert!(String::from_utf8_lossy(&output.stderr).contains("format"), "{command} names what is missing");
    }
}

#[test]
fn drawing_and_lists_are_written_without_a_database() {
    let text = |arguments: &[&str]| String::from_utf8(run(arguments, b"").stdout).expect("text");
    let drawing = text(&["drawing", "demo/wren-a.json"]);
    assert!(drawing.starts_with("<svg") && drawing.trim_end().ends_with("</svg>") && drawing.contains("Wren"));
    let (wiring, parts) = (text(&["wiring", "demo/wren-a.json"]), text(&["wiring", "--parts", "demo/wren-a.json"]));
    assert!(wiring.starts_with("wire,from,to,") && parts.starts_with("part,name,rating,"));
    // Each part of the list stands on the drawing.
    let ids: Vec<&str> = parts.lines().skip(1).filter_map(|l| l.split(',').next()).collect();
    assert!(ids.len() > 20 && ids.iter().all(|id| drawing.matches(&format!("data-part=\"{id}\"")).count() == 1), "{ids:?}");
    // The estimate holds charge and electrics.
    let estimate = json(&run(&["estimate", "--no-bands", "--no-curves", "demo/wren-a.json"], b""));
    assert!(estimate["electrics"]["circuit"]["parts"].as_array().is_some_and(|p| p.len() > 20));
    assert_eq!(estimate["week"]["seasons"].as_array().map(Vec::len), Some(2));
    assert!(estimate["charging"].as_array().is_some_and(|c| !c.is_empty()));
}

#[test]
fn bad_input_ends_with_status_2_and_names_the_field() {
    for (input, words) in [
        (&b"not json"[..], "not a readable JSON"),
        (br#"{"format":"joulethesis-design","version":7}"#, "version is 7"),
        (
            br#"{"format":"joulethesis-design","version":1,"name":"x","brief":{},"design":{},"donor":{"curb_mass_kg":"heavy"}}"#,
            "donor.curb_mass_kg is \"heavy\"",
        ),
    ] {
        let output = run(&["estimate", "-"], input);
        let said = String::from_utf8_lossy(&output.stderr);
        assert_eq!(output.status.code(), Some(2), "{said}");
        assert!(said.contains(words), "{said}");
    }
    assert_eq!(run(&["estimate", "no/such/file.json"], b"").status.code(), Some(2));
}

/// The schema accepts the demo as far as keys, kinds and bounds go; a full validator would be a dependency for this alone.
#[test]
fn the_schema_describes_every_key_of_the_demo() {
    let schema = json(&run(&["schema", "design"], b""));
    assert_eq!(schema["$schema"], "https://json-schema.org/draft/2020-12/schema");
    for name in ["whimbrel-9-a", "pipit-a"] {
        let path = format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR"));
        let document: Value = serde_json::from_slice(&std::fs::read(path).expect("demo file")).expect("JSON");
        conforms(&document, &schema, &schema, "").unwrap_or_else(|e| panic!("{name}: {e}"));
        let mut wrong = document;
        wrong["donor"]["curb_mass_kg"] = serde_json::json!(-1);
        assert!(conforms(&wrong, &schema, &schema, "").is_err());
    }
}

fn conforms(value: &Value, schema: &Value, root: &Value, path: &str) -> Result<(), String> {
    if let Some(name) = schema["$ref"].as_str() {
        let target = root.pointer(name.trim_start_matches('#')).ok_or_else(|| format!("{path}: no {name}"))?;
        return conforms(value, target, root, path);
    }
    if let Some(options) = schema["oneOf"].as_array().or(schema["anyOf"].as_array()) {
        let tried: Vec<_> = options.iter().map(|o| conforms(value, o, root, path)).collect();
        return if tried.iter().any(Result::is_ok) { Ok(()) } else { Err(format!("{path}: {tried:?}")) };
    }
    if let Some(parts) = schema["allOf"].as_array() {
        return parts.iter().try_for_each(|p| conforms(value, p, root, path));
    }
    match value {
        Value::Object(map) => {
            for required in schema["required"].as_array().into_iter().flatten().filter_map(Value::as_str) {
                map.get(required).ok_or_else(|| format!("{path}: {required} is missing"))?;
            }
            for (key, inner) in map {
                let described = schema["properties"].get(key).or_else(|| schema.get("additionalProperties").filter(|a| a.is_object()));
                let described = described.ok_or_else(|| format!("{path}: {key} is not described"))?;
                conforms(inner, described, root, &format!("{path}/{key}"))?;
            }
            Ok(())
        }
        Value::Array(list) => list.iter().enumerate().try_for_each(|(i, v)| conforms(v, &schema["items"], root, &format!("{path}/{i}"))),
        Value::Number(number) => {
            let x = number.as_f64().unwrap_or(f64::NAN);
            let low = schema["minimum"].as_f64().unwrap_or(f64::NEG_INFINITY);
            let high = schema["maximum"].as_f64().unwrap_or(f64::INFINITY);
            if (low..=high).contains(&x) { Ok(()) } else { Err(format!("{path}: {x} is not within {low} to {high}")) }
        }
        Value::String(text) => match schema["enum"].as_array() {
            Some(words) if !words.iter().any(|w| w == text) => Err(format!("{path}: {text} is none of {words:?}")),
            _ => Ok(()),
        },
        _ => Ok(()),
    }
}

#[test]
fn matches_without_a_database_and_prints_what_it_reads() {
    let answer = json(&run(&["match", "demo/pipit-b.json"], b""));
    assert_eq!((&answer["complete"], &answer["designs"][0]["place"]), (&Value::Bool(true), &Value::from(1)));
    assert!(answer["report"]["raw"].as_u64().is_some_and(|n| n > 1_000_000) && answer["axes"].as_array().is_some_and(|a| a.len() == 6));
    let needs = json(&run(&["match", "demo/wren-a.json", "--needs"], b""));
    assert!(needs["gears"].as_array().is_some_and(|g| !g.is_empty()) && needs["impossible"].as_array().is_some_and(Vec::is_empty));
    let question = std::env::temp_dir().join(format!("question-{}.json", std::process::id()));
    std::fs::write(&question, r#"{ "charger": "Brook 6.6, 250-430 V" }"#).expect("written");
    let why = json(&run(&["match", "demo/pipit-b.json", "--why-not", question.to_str().expect("a path")], b""));
    assert!(why["summary"][0].as_str().is_some_and(|s| s.starts_with("None of")), "{why}");
    std::fs::remove_file(&question).ok();
    // What the library command prints it reads again.
    let csv = run(&["library", "--format", "csv"], b"");
    let file = std::env::temp_dir().join(format!("library-{}.csv", std::process::id()));
    std::fs::write(&file, &csv.stdout).expect("written");
    assert_eq!(run(&["library", "--format", "csv", file.to_str().expect("a path")], b"").stdout, csv.stdout);
    std::fs::write(&file, "part,name\nmotor,A\n").expect("written");
    let bad = run(&["match", "demo/pipit-b.json", "--library", file.to_str().expect("a path")], b"");
    assert_eq!(bad.status.code(), Some(2));
    assert!(String::from_utf8_lossy(&bad.stderr).contains("row 2, mass_kg is missing"), "{}", String::from_utf8_lossy(&bad.stderr));
    std::fs::remove_file(&file).ok();
}

/// A file of its own for as long as a test lasts.
struct Written(std::path::PathBuf);

impl Written {
    fn new(name: &str, text: &str) -> Self {
        let path = std::env::temp_dir().join(format!("{}-{name}", std::process::id()));
        std::fs::write(&path, text).expect("written");
        Self(path)
    }

    fn path(&self) -> &str {
        self.0.to_str().expect("a path")
    }
}

impl Drop for Written {
    fn drop(&mut self) {
        std::fs::remove_file(&self.0).ok();
    }
}

#[test]
fn a_search_keeps_the_conditions_of_its_file() {
    let all = json(&run(&["match", "demo/pipit-b.json"], b""));
    let conditions = Written::new("conditions.json", r#"{ "budget": 1500, "strings_in_parallel": 1 }"#);
    let some = json(&run(&["match", "demo/pipit-b.json", "--request", conditions.path()], b""));
    let designs = |answer: &Value| answer["designs"].as_array().expect("a list").clone();
    assert!(designs(&some).len() < designs(&all).len());
    assert!(designs(&some).iter().all(|d| d["cost"].as_f64().is_some_and(|c| c <= 1500.0) && d["pick"]["strings_in_parallel"] == 1));
    // Only what a library file holds is used; JSON and CSV hold the same.
    let known = json(&run(&["library"], b""));
    let few: Vec<&Value> = known["parts"].as_array().expect("parts").iter().step_by(3).collect();
    let file =
        Written::new("few.json", &serde_json::json!({ "format": known["format"], "version": known["version"], "parts": few }).to_string());
    let csv = run(&["library", "--format", "csv", file.path()], b"");
    let table = Written::new("few.csv", &String::from_utf8(csv.stdout).expect("text"));
    let [by_json, by_csv] = [&file, &table].map(|f| designs(&json(&run(&["match", "demo/pipit-b.json", "--library", f.path()], b""))));
    assert_eq!(by_json, by_csv);
    let names: Vec<&Value> = few.iter().map(|p| &p["name"]).collect();
    assert!(by_json.iter().all(|d| names.contains(&&d["pick"]["motor"]) && names.contains(&&d["pick"]["module"])));
}

#[test]
fn what_cannot_be_done_is_said_and_ends_with_a_status() {
    let unknown = Written::new("unknown.json", r#"{ "colour": "red" }"#);
    let far = Written::new("far.json", r#"{ "budget": -5 }"#);
    let question = Written::new("question.json", r#"{ "motor": "No such motor" }"#);
    let cases: [(&[&str], &str); 9] = [
        (&["match", "demo/pipit-b.json", "--request", unknown.path()], "colour"),
        (&["match", "demo/pipit-b.json", "--request", far.path()], "budget"),
        (&["match", "demo/pipit-b.json", "--request", "no/such/file.json"], "no/such/file.json"),
        (&["match", "demo/pipit-b.json", "--why-not", question.path()], "No such motor"),
        (&["match", "demo/pipit-b.json", "--why-not", question.path(), "--needs"], "cannot be used with"),
        (&["library", "--format", "pdf"], "pdf"),
        (&["library", unknown.path()], "colour"),
        (&["schema", "poem"], "poem"),
        (&["fly"], "fly"),
    ];
    for (arguments, words) in cases {
        let output = run(arguments, b"");
        let said = String::from_utf8_lossy(&output.stderr);
        assert_eq!(output.status.code(), Some(2), "{arguments:?}: {said}");
        assert!(said.contains(words) && output.stdout.is_empty(), "{arguments:?}: {said}");
        // No Rust in what people read.
        assert!(!said.contains("panicked") && !said.contains("Error {"), "{arguments:?}: {said}");
    }
    assert!(String::from_utf8_lossy(&run(&["--help"], b"").stdout).contains("estimate"));
    assert!(run(&["--version"], b"").status.success());
}
