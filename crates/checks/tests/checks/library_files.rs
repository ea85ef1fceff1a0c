//! Library files in and out, and records that want a second look.

use joulethesis_core::error::Error;
use joulethesis_core::library::exchange::{from_csv, from_json, to_csv, to_json};
use joulethesis_core::library::{Part, builtin, implausible, look_alikes};

fn faults(result: Result<Vec<Part>, Error>) -> Vec<String> {
    result.expect_err("faulty").problems().iter().map(|p| p.message.clone()).collect()
}

#[test]
fn what_is_exported_imports_identically() {
    assert_eq!(from_csv(&to_csv(builtin())).expect("sound"), builtin());
    assert_eq!(from_json(&to_json(builtin())).expect("sound"), builtin());
}

#[test]
fn units_are_converted_and_refused_by_row() {
    let header = "part,name,output_min_v,output_max_v,output_current_a,output_power_w,efficiency,mass_kg\n";
    let parts = from_csv(&format!("{header}charger,Pound,48,60,20,1.5 kW,0.9,11 lb\n")).expect("sound");
    let Part::Charger(c) = &parts[0] else { panic!("a charger") };
    // One international pound is 0.45359237 kg exactly.
    assert!((c.mass_kg - 11.0 * 0.453_592_37).abs() < 1e-12 && c.output_power_w == 1500.0);
    let said = faults(from_csv(&format!(
        "{header}charger,A,48,60,20,1500,0.9,5 furlong\ncharger,B,48,60,\"1,500\",1500,0.9,5\ncharger,C,48,60,20,1500,90,5\n"
    )));
    assert_eq!(said.len(), 3, "{said:#?}");
    assert!(said[0].starts_with("row 2, mass_kg is \"5 furlong\"") && said[0].contains("kg, g, t, lb, oz"), "{said:#?}");
    assert!(said[1].starts_with("row 3, output_current_a is \"1,500\"") && said[1].contains("it may be 1.500 or 1500"), "{said:#?}");
    assert!(said[2].starts_with("row 4, efficiency is 90"), "{said:#?}");
}

/// As a spreadsheet set to decimal commas writes it: semicolons or tabs between the cells, shares in percent.
#[test]
fn files_of_people_who_write_decimal_commas_are_read() {
    let sheet = "part;name;output_min_v;output_max_v;output_current_a;output_power_w;efficiency;mass_kg\n\
                 charger;Tern 20;48,5;60;20;1.500,5;92 %;5,25\n";
    for text in [sheet.to_owned(), sheet.replace(';', "\t")] {
        let parts = from_csv(&text).expect("sound");
        let Part::Charger(c) = &parts[0] else { panic!("a charger") };
        assert_eq!((c.output_min_v, c.output_power_w, c.mass_kg), (48.5, 1500.5, 5.25));
        assert!((c.efficiency - 0.92).abs() < 1e-12);
    }
    // One's own export, stored again by such a spreadsheet, is the same library.
    let own = to_csv(builtin());
    let mut reader = csv::ReaderBuilder::new().from_reader(own.as_bytes());
    let mut writer = csv::WriterBuilder::new().delimiter(b';').from_writer(Vec::new());
    writer.write_record(reader.headers().expect("headings")).expect("written");
    let numbers = |cell: &str| cell.bytes().all(|b| b.is_ascii_digit() || b".-: ".contains(&b));
    for row in reader.records() {
        let row = row.expect("a row");
        writer.write_record(row.iter().map(|c| if numbers(c) { c.replace('.', ",") } else { c.to_owned() })).expect("written");
    }
    let text = String::from_utf8(writer.into_inner().expect("flushed")).expect("text");
    assert_eq!(from_csv(&text).expect("sound"), builtin());
}

#[test]
fn wrong_columns_ragged_rows_and_floods_are_named() {
    let said = faults(from_csv("part,name,mas_kg\nmotor,A,3\n"));
    assert!(said[0].starts_with("row 1, column \"mas_kg\" is not known; the nearest column is mass_kg"), "{said:?}");
    let said = faults(from_csv("part,name\nmotor,A,3\n"));
    assert!(said[0].contains("row 2 is 3 cells long, the header has 2"), "{said:?}");
    let said = faults(from_csv("part,name,capacity_ah\nmotor,A,3\n"));
    assert!(said[0].contains("row 2, capacity_ah") && said[0].contains("a motor has no capacity_ah"), "{said:?}");
    let mut flood = "part,name\n".to_owned();
    (0..100_000).for_each(|i| flood.push_str(&format!("motor,M{i}\n")));
    let said = faults(from_csv(&flood));
    assert!(said.len() == 1 && said[0].contains("100000 parts long; at most 5000"), "{said:?}");
    assert!(faults(from_csv("part,name\n"))[0].contains("without any part"));
    let twice = to_csv(&builtin()[..1]) + to_csv(&builtin()[..1]).lines().nth(1).expect("a row");
    assert!(faults(from_csv(&twice))[0].contains("row 2 has the same name"));
}

#[test]
fn boasts_and_slips_are_doubted_and_typical_parts_are_not() {
    for part in builtin() {
        assert!(implausible(part).is_empty(), "{}: {:?}", part.name(), implausible(part));
    }
    assert!(look_alikes(builtin()).iter().all(Vec::is_empty), "{:?}", look_alikes(builtin()));
    let motor = builtin().iter().find_map(|p| if let Part::Motor(m) = p { Some(m.clone()) } else { None }).expect("a motor");
    let boast = Part::Motor(joulethesis_core::library::Motor { mass_kg: 3.0, continuous_power_w: 100_000.0, ..motor.clone() });
    let said = implausible(&boast);
    assert!(said.iter().any(|d| d.key == "continuous_power_w" && d.message.contains("33333 W/kg")), "{said:?}");
    let again = Part::Motor(joulethesis_core::library::Motor { name: "Another name".to_owned(), price: 1.0, ..motor.clone() });
    let mut more = builtin().to_vec();
    more.push(again);
    assert_eq!(look_alikes(&more).last(), Some(&vec![motor.name]));
}

/// A spreadsheet runs cells that begin so; they are written with an apostrophe before them and read back without it.
#[test]
fn cells_that_a_spreadsheet_would_run_are_guarded_and_come_back() {
    for name in ["=1+1", "+1", "-1", "@x", "'=1", "'plain", "plain", "=HYPERLINK(\"x\")"] {
        let mut value = serde_json::to_value(&builtin()[0]).expect("JSON");
        value["name"] = serde_json::json!(name);
        let part = Part::from_value(&value).expect("sound");
        let csv = to_csv(std::slice::from_ref(&part));
        let bare = ["=", "+", "-", "@"].iter().any(|c| csv.contains(&format!(",{c}")) || csv.contains(&format!(",\"{c}")));
        assert!(!bare, "{csv}");
        assert_eq!(from_csv(&csv).expect("sound"), [part], "{name}");
    }
}

#[test]
fn every_record_is_sound_and_named_once() {
    let parts = builtin();
    assert!(parts.len() >= 60, "{} parts", parts.len());
    for (i, part) in parts.iter().enumerate() {
        assert!(!parts[..i].iter().any(|p| p.name() == part.name()), "{} twice", part.name());
    }
}
