//! The adapter plate, its drawing and the plan of the vehicle: against geometry tried point by point, closed forms, and each rule on either
//! side of its limit.

use crate::common::{cases, check, documents::demo, read, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::AdapterPlate;
use joulethesis_core::layout::layout;
use joulethesis_core::mechanics::plate::{OutlineArc, PlateSizing};
use joulethesis_core::report::report;
use joulethesis_core::schematic::{Layer, Shape, account_csv, layout_plan, mechanics, plate_plan};
use proptest::prelude::*;
use serde_json::{Value, json};

fn plate(value: Value) -> AdapterPlate {
    serde_json::from_value(value).expect("a plate")
}

/// Whether a point lies within the outline: left of every stretch, as the outline is convex and runs counter-clockwise.
fn within(sized: &PlateSizing<'_>, p: [f64; 2]) -> bool {
    let ends: Vec<[[f64; 2]; 2]> = sized.outline.iter().map(OutlineArc::ends_mm).collect();
    let left_of_chords = |i: usize| {
        let (a, b) = (ends[i][1], ends[(i + 1) % ends.len()][0]);
        (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) >= -1e-6
    };
    let in_disc = |i: usize| {
        let arc = &sized.outline[i];
        let [a, b] = ends[i];
        let outside_chord = (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) < 0.0;
        !outside_chord || (p[0] - arc.centre_mm[0]).hypot(p[1] - arc.centre_mm[1]) <= arc.radius_mm + 1e-6
    };
    if ends.len() == 1 {
        let arc = &sized.outline[0];
        return (p[0] - arc.centre_mm[0]).hypot(p[1] - arc.centre_mm[1]) <= arc.radius_mm + 1e-6;
    }
    (0..ends.len()).all(left_of_chords) && (0..ends.len()).all(in_disc)
}

prop_compose! {
    fn drawn()(bore in 20.0_f64..200.0, holes in 2_u32..9, radius in 15.0_f64..140.0, hole in 4.0_f64..16.0, first in 0.0_f64..360.0, margin in 3.0_f64..30.0,
        gearbox in prop::collection::vec((-200.0_f64..200.0, -200.0_f64..200.0, 4.0_f64..20.0), 0..9)) -> Value {
        let gearbox: Vec<Value> = gearbox.iter().enumerate().map(|(i, (x, y, d))| json!({ "name": i.to_string(), "right_mm": x, "up_mm": y, "hole_mm": d })).collect();
        json!({ "thickness_mm": 10, "bore_mm": bore, "margin_mm": margin, "gearbox": gearbox,
            "motor": { "holes": holes, "radius_mm": radius, "hole_mm": hole, "first_deg": first } })
    }
}

proptest! {
    #![proptest_config(cases(80))]

    /// Whatever holes: each keeps its margin within the outline, the outline closes without a kink, it is no longer than a taut line (every
    /// arc is part of a hole's own margin), its area is that of points tried on a grid, and the least web is that of every pair.
    #[test]
    fn the_outline_is_the_taut_line_around_every_hole(value in drawn()) {
        let said = plate(value);
        let sized = PlateSizing::of(&said);
        for hole in &sized.holes {
            let r = 0.5 * hole.diameter_mm + sized.margin_mm;
            for k in 0..24 {
                let t = f64::from(k) * std::f64::consts::TAU / 24.0;
                prop_assert!(within(&sized, [hole.at_mm[0] + r * t.cos(), hole.at_mm[1] + r * t.sin()]), "{} sticks out", hole.name);
            }
        }
        for (i, arc) in sized.outline.iter().enumerate() {
            let own = |h: &joulethesis_core::mechanics::plate::Hole| h.at_mm == arc.centre_mm && (0.5 * h.diameter_mm + sized.margin_mm - arc.radius_mm).abs() < 1e-9;
            prop_assert!(sized.holes.iter().any(own));
            // The straight line to the next arc leaves along the one and arrives along the other.
            let next = &sized.outline[(i + 1) % sized.outline.len()];
            let turn = (arc.from_to[1] - next.from_to[0]).rem_euclid(std::f64::consts::TAU);
            prop_assert!(sized.outline.len() == 1 || !(1e-6..=std::f64::consts::TAU - 1e-6).contains(&turn), "{turn}");
        }
        let [[left, low], [right, high]] = sized.bounds_mm();
        let (n, mut inside) = (160, 0);
        let step = [(right - left) / f64::from(n), (high - low) / f64::from(n)];
        for i in 0..n {
            for j in 0..n {
                inside += u32::from(within(&sized, [left + (f64::from(i) + 0.5) * step[0], low + (f64::from(j) + 0.5) * step[1]]));
            }
        }
        let cut: f64 = sized.holes.iter().map(|h| std::f64::consts::PI * h.diameter_mm.powi(2) / 4.0).sum();
        let area = f64::from(inside) * step[0] * step[1];
        let told = sized.mass_kg / (2.7e-6 * 10.0);
        prop_assert!(told == 0.0 || (told + cut - area).abs() < 0.02 * area, "{told} + {cut} for {area}");
        let web = sized.web.as_ref().expect("holes");
        for (i, a) in sized.holes.iter().enumerate() {
            for b in &sized.holes[i + 1..] {
                let mm = (a.at_mm[0] - b.at_mm[0]).hypot(a.at_mm[1] - b.at_mm[1]) - 0.5 * (a.diameter_mm + b.diameter_mm);
                let bolt = if i == 0 { b.diameter_mm } else { a.diameter_mm.max(b.diameter_mm) };
                prop_assert!(web.mm - web.least_mm <= mm - 0.5 * bolt + 1e-9);
            }
        }
    }
}

/// Closed forms: two equal holes make a stadium, a bore alone over its bolts a ring; steel weighs 7.85 / 2.7 times aluminium; clockwise from
/// the top is to the right first.
#[test]
fn plates_of_simple_shapes_are_those_of_geometry() {
    let two = json!({ "thickness_mm": 10, "bore_mm": 1, "margin_mm": 10, "motor": { "holes": 2, "radius_mm": 50, "hole_mm": 20, "first_deg": 90 } });
    let said = plate(two.clone());
    let sized = PlateSizing::of(&said);
    let stadium = 100.0 * 40.0 + std::f64::consts::PI * 400.0 - std::f64::consts::PI * (2.0 * 100.0 + 0.25);
    check("stadium", sized.mass_kg, 2.7e-6 * 10.0 * stadium, 1e-9);
    let corners = [[-70.0, -20.0], [70.0, 20.0]];
    assert!(sized.bounds_mm().iter().flatten().zip(corners.iter().flatten()).all(|(a, b)| (a - b).abs() < 1e-9));
    assert!(sized.holes[1].at_mm[0] > 49.9 && sized.holes[1].at_mm[1].abs() < 1e-9, "{:?}", sized.holes[1]);
    let steel = plate(with(two, "/material", json!("steel")));
    check("steel", PlateSizing::of(&steel).mass_kg / sized.mass_kg, 7.85 / 2.7, 1e-9);
    let ring = plate(json!({ "thickness_mm": 10, "bore_mm": 200, "motor": { "holes": 6, "radius_mm": 60, "hole_mm": 5 } }));
    let ring = PlateSizing::of(&ring);
    assert_eq!((ring.outline.len(), ring.outline[0].radius_mm), (1, 112.0));
    assert!(ring.web.expect("holes").mm < 0.0);
}

/// The rules of the plate on either side of their limits, and what is said of it on the sheet.
#[test]
fn rules_of_the_plate() {
    let base = demo("dunlin-a");
    let rules = |path: &str, value: Value| -> Vec<String> {
        let d = read(&with(base.clone(), &format!("/design/mechanics/plate/{path}"), value));
        let ids = report(&d).expect("sound").findings.into_iter().map(|f| f.rule.id().to_owned());
        ids.filter(|id| id.contains("plate") || id.contains("run-out")).collect()
    };
    let none: [&str; 0] = [];
    assert_eq!(rules("run_out_mm", json!(0.05)), none);
    assert_eq!(rules("run_out_mm", json!(0.051)), ["drive.run-out"]);
    // Holes of 12.5 at 82: their edges stand 20.75 mm off the bore of 110, 6.25 is the least.
    assert_eq!(rules("bore_mm", json!(2.0 * (82.0 - 6.25 - 6.26))), none);
    assert_eq!(rules("bore_mm", json!(2.0 * (82.0 - 6.25 - 6.24))), ["drive.plate-thin-web"]);
    assert_eq!(rules("bore_mm", json!(2.0 * (82.0 - 6.24))), ["drive.plate-holes-meet"]);
    let sheet = mechanics(&read(&base), &Cancel::new()).expect("sound");
    let lines = &sheet.groups.iter().find(|g| g.id == "plate").expect("a plate").lines;
    assert_eq!(lines.iter().map(|l| l.id).collect::<Vec<_>>(), ["plate", "web", "run-out"]);
    assert!(lines[2].result.to_string().starts_with("0.030 mm of 0.050 mm"), "{}", lines[2].result);
    assert_eq!(sheet.plate.expect("drawn").holes_mm.len(), 12);
}

/// The plan has every bay and every block that is placed at its measures from above and from the side; the plate's drawing cuts each hole; a
/// drawing without shapes is none.
#[test]
fn plans_are_to_scale() {
    let van = read(&demo("whimbrel-9-a"));
    let (plan, sheet) = (layout_plan(&van), layout(&van));
    let lines: Vec<[[f64; 2]; 2]> = plan
        .shapes
        .iter()
        .filter_map(|(layer, s)| if let (Layer::Blocks, Shape::Line(l)) = (layer, s) { Some(*l) } else { None })
        .collect();
    let placed: Vec<_> = sheet.blocks.iter().filter(|b| b.placed && b.is_put_in()).collect();
    assert!(placed.len() > 3);
    assert_eq!(lines.len(), 8 * placed.len());
    for b in placed {
        let (x, y) = (1000.0 * (b.along_m - 0.5 * b.length_m), 1000.0 * (b.right_m - 0.5 * b.width_m));
        let edge = [[x, y], [x + 1000.0 * b.length_m, y]];
        assert!(lines.iter().any(|l| l.iter().flatten().zip(edge.iter().flatten()).all(|(a, b)| (a - b).abs() < 1e-6)), "{}", b.name);
    }
    assert!(plan.svg().starts_with("<svg") && plan.svg().contains("mm\""));
    assert_eq!(plate_plan(&van), None);
    let tug = plate_plan(&read(&demo("dunlin-a"))).expect("a plate");
    let count = |wanted: Layer| tug.shapes.iter().filter(|(layer, _)| *layer == wanted).count();
    assert_eq!((count(Layer::Holes), count(Layer::Words)), (12, 14));
    assert!(count(Layer::Cut) > 8);
}

/// What each axle carries of every block, summed up with the donor, is what the laden vehicle's axles carry.
#[test]
fn the_account_adds_up() {
    for name in ["whimbrel-9-a", "pipit-a", "dunlin-a"] {
        let csv = account_csv(&read(&demo(name)));
        let mut reader = csv::Reader::from_reader(csv.as_bytes());
        let rows: Vec<Vec<String>> = reader.records().map(|r| r.expect("a row").iter().map(str::to_owned).collect()).collect();
        let number = |row: &[String], i: usize| row[i].parse::<f64>().expect("a number");
        let state = |id: &str| rows.iter().find(|r| r[0] == "state" && r[1] == id).expect("a state");
        for column in [3, 7, 8] {
            let blocks: f64 = rows.iter().filter(|r| r[0] == "block").map(|r| number(r, column)).sum();
            let (donor, laden) = (number(state("donor"), column), number(state("laden"), column));
            assert!((donor + blocks - laden).abs() < 0.02, "{name}: {donor} + {blocks} for {laden}");
        }
    }
}

/// Words that a spreadsheet would run are kept from running, and numbers stay numbers, whatever their sign.
#[test]
fn names_in_the_account_run_nothing() {
    let at = json!({ "along": { "behind_front_axle_m": -0.4 }, "right_m": -0.2, "up_m": 0.5 });
    let d = with(demo("whimbrel-9-a"), "/design/added", json!([{ "name": "=HYPERLINK(\"x\")", "mass_kg": 7, "at": at }]));
    let csv = account_csv(&read(&d));
    let mut reader = csv::Reader::from_reader(csv.as_bytes());
    let row = reader.records().map(|r| r.expect("a row")).find(|r| &r[2] == "'=HYPERLINK(\"x\")").expect("guarded");
    let wheelbase = read(&d).donor.wheelbase_m;
    assert_eq!([&row[3], &row[4], &row[5], &row[6], &row[9]], ["7", "-0.4", "-0.2", "0.5", "stated"]);
    check("front axle", row[7].parse().expect("a number"), 7.0 * (1.0 + 0.4 / wheelbase), 1e-3);
    check("rear axle", row[8].parse().expect("a number"), -7.0 * 0.4 / wheelbase, 1e-3);
}

proptest! {
    #![proptest_config(cases(40))]

    /// Wherever a block is put and however large, the plan holds it from above and from the side, and its SVG holds the whole plan.
    #[test]
    fn plans_hold_every_block(x in -2.0_f64..5.0, y in -1.5_f64..1.5, z in 0.05_f64..2.5, size in prop::array::uniform3(0.05_f64..2.0)) {
        let at = json!({ "along": { "behind_front_axle_m": x }, "right_m": y, "up_m": z, "length_m": size[0], "width_m": size[1], "height_m": size[2] });
        let plan = layout_plan(&read(&with(demo("pipit-a"), "/design/layout/charger", at)));
        let [low, high] = plan.bounds_mm();
        let (lines, wanted): (Vec<[[f64; 2]; 2]>, _) = (
            plan.shapes.iter().filter_map(|(_, s)| if let Shape::Line(l) = s { Some(*l) } else { None }).collect(),
            [1000.0 * (x - 0.5 * size[0]), 1000.0 * (x + 0.5 * size[0])],
        );
        for edge in [1000.0 * (y - 0.5 * size[1]), 1000.0 * (y + 0.5 * size[1])] {
            let line = [[wanted[0], edge], [wanted[1], edge]];
            prop_assert!(lines.iter().any(|l| (0..2).all(|i| (0..2).all(|k| (l[i][k] - line[i][k]).abs() < 1e-6 || (l[1 - i][k] - line[i][k]).abs() < 1e-6))));
            let inside = |at: f64, axis: usize| at > low[axis] - 1e-6 && at < high[axis] + 1e-6;
            prop_assert!(wanted.iter().all(|at| inside(*at, 0)) && inside(edge, 1));
        }
        let svg = plan.svg();
        let view: Vec<f64> = svg.split("viewBox=\"").nth(1).expect("a view").split('"').next().expect("it ends").split(' ').map(|n| n.parse().expect("a number")).collect();
        prop_assert!((view[2] - (high[0] - low[0] + 20.0)).abs() < 0.01 && (view[3] - (high[1] - low[1] + 20.0)).abs() < 0.01, "{view:?}");
    }
}
