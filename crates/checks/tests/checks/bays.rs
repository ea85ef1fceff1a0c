//! What fits into a bay, against trying every arrangement; the pack spread over bays, against trying every split; and what is said of
//! places that cannot be.

use crate::common::{cases, check, documents::demo, read, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Bay, Document, Placement};
use joulethesis_core::error::Error;
use joulethesis_core::layout::{PackSplit, layout, offers, pack_splits, packed};
use joulethesis_core::library::{Module, Part, builtin};
use joulethesis_core::report::report;
use proptest::prelude::*;
use serde_json::{Value, json};

/// Most rectangles `a` by `b` on a floor of whole cells, every arrangement tried: at the first cell one lies along, or across, or none; left
/// off where the cells that remain cannot hold more than were laid before.
fn brute(floor: &mut Vec<Vec<bool>>, [a, b]: [usize; 2], laid: usize, most: &mut usize) {
    *most = laid.max(*most);
    let cells = floor.iter().flatten().filter(|taken| !**taken).count();
    let first = (0..floor.len()).flat_map(|y| (0..floor[0].len()).map(move |x| (x, y))).find(|(x, y)| !floor[*y][*x]);
    let Some((x, y)) = first.filter(|_| laid + cells / (a * b) > *most) else { return };
    let fill = |floor: &mut Vec<Vec<bool>>, w: usize, h: usize, to: bool| floor[y..y + h].iter_mut().for_each(|row| row[x..x + w].fill(to));
    for (w, h) in [(a, b), (b, a)] {
        let fits =
            y + h <= floor.len() && x + w <= floor[0].len() && floor[y..y + h].iter().all(|row| row[x..x + w].iter().all(|taken| !taken));
        if fits {
            fill(floor, w, h, true);
            brute(floor, [a, b], laid + 1, most);
            fill(floor, w, h, false);
        }
    }
    fill(floor, 1, 1, true);
    brute(floor, [a, b], laid, most);
    fill(floor, 1, 1, false);
}

/// Layers of boxes standing on each side, every stack that the height holds tried.
fn brute_stack([l, w, h]: [usize; 3], [a, b, c]: [usize; 3], upright: bool) -> usize {
    let sides = if upright { vec![(a, b, c)] } else { vec![(a, b, c), (a, c, b), (b, c, a)] };
    let layer = |(x, y, up): (usize, usize, usize)| {
        let mut most = 0;
        brute(&mut vec![vec![false; l]; w], [x, y], 0, &mut most);
        (up, most)
    };
    let layers: Vec<(usize, usize)> = sides.into_iter().map(layer).collect();
    fn best(left: usize, layers: &[(usize, usize)]) -> usize {
        layers.iter().filter(|(up, _)| *up <= left).map(|(up, n)| n + best(left - up, layers)).max().unwrap_or(0)
    }
    best(h, &layers)
}

proptest! {
    #![proptest_config(cases(60))]

    /// The count is that of every arrangement in layers.
    #[test]
    fn packing_is_the_best_of_all(room in prop::array::uniform3(1_usize..=6), size in prop::array::uniform3(1_usize..=4), upright: bool) {
        let dm = |cells: [usize; 3]| cells.map(|n| n as f64 * 0.1);
        prop_assert_eq!(packed(dm(room), dm(size), upright).count as usize, brute_stack(room, size, upright));
    }

    /// A cell more of room never holds fewer, a box a cell larger never more; turning the whole bay a quarter changes nothing.
    #[test]
    fn more_room_never_holds_fewer(
        room in prop::array::uniform3(1_usize..=6), size in prop::array::uniform3(1_usize..=4), axis in 0_usize..3, upright: bool,
    ) {
        let dm = |cells: [usize; 3]| cells.map(|n| n as f64 * 0.1);
        let count = |room: [usize; 3], size: [usize; 3]| packed(dm(room), dm(size), upright).count;
        let (mut wider, mut larger) = (room, size);
        (wider[axis], larger[axis]) = (room[axis] + 1, size[axis] + 1);
        let here = count(room, size);
        prop_assert!(count(wider, size) >= here && count(room, larger) <= here);
        prop_assert_eq!(count([room[1], room[0], room[2]], [size[1], size[0], size[2]]), here);
    }

    /// Whatever bays, ratings and places: no split that the bays hold is better than the first that is told, and none is told twice.
    #[test]
    fn the_first_split_is_the_best_of_any_bays(
        bays in prop::collection::vec((-0.4_f64..2.9, -0.5_f64..0.5, 0.3_f64..0.9, prop::array::uniform3(0.2_f64..1.0)), 1..4),
        front in 500.0_f64..900.0, rear in 600.0_f64..1000.0, index in 70_u32..90, room_for in prop::option::of(20.0_f64..120.0),
    ) {
        let mut all: Vec<Value> = bays.iter().enumerate().map(|(i, (x, y, z, size))| bay(&format!("bay {i}"), *x, *y, *z, *size)).collect();
        if let Some(kg) = room_for {
            all[0]["mass_limit_kg"] = json!(kg);
        }
        let mut d = with(van(), "/donor/bays", json!(all));
        for (key, value) in [("front_axle_limit_kg", json!(front)), ("rear_axle_limit_kg", json!(rear)), ("tyre_load_index", json!(index))] {
            d = with(d, &format!("/donor/{key}"), value);
        }
        let (document, go) = (read(&d), Cancel::new());
        let found = pack_splits(&document, None, &[], &go).expect("not cancelled");
        let held: u32 = found.room.iter().sum();
        prop_assert_eq!(found.none.is_some(), held < 9);
        let Some(best) = found.splits.first() else { return Ok(()) };
        let room = |i: usize| found.room.get(i).copied().unwrap_or(0).min(9);
        let mut tried = 0;
        for a in 0..=room(0) {
            for b in 0..=room(1).min(9 - a) {
                let split: Vec<u32> = [a, b, 9 - a - b].into_iter().take(all.len()).collect();
                if 9 - a - b <= room(2) && split.iter().sum::<u32>() == 9 {
                    let one = pack_splits(&document, Some(&split), &[], &go).expect("a split").splits.remove(0);
                    prop_assert!(order(best, &one).is_le(), "{:?} before {:?}", one.modules, best.modules);
                    tried += 1;
                }
            }
        }
        prop_assert_eq!(found.tried, tried);
        let mut told: Vec<_> = found.splits.iter().map(|s| s.modules.clone()).collect();
        told.sort();
        told.dedup();
        prop_assert_eq!(told.len(), found.splits.len());
    }

    /// Whatever the sizes: as many boxes as counted, each inside the bay, none within another, no more than the room allows, and no fewer than
    /// in plain rows.
    #[test]
    fn boxes_lie_apart_and_inside(
        room in prop::array::uniform3(0.05_f64..1.6), size in prop::array::uniform3(0.03_f64..0.6), upright: bool,
    ) {
        let packed = packed(room, size, upright);
        let boxes = packed.boxes_m(u32::MAX);
        prop_assert_eq!(boxes.len(), packed.count as usize);
        prop_assert!(packed.count <= packed.at_most);
        let volume = |m: [f64; 3]| m.iter().product::<f64>();
        prop_assert!(f64::from(packed.count) * volume(size) <= volume(room) * 1.01);
        let tenths = |m: f64| (m * 1e4).round() as u32;
        let rows: u32 = (0..3).map(|i| tenths(room[i]) / tenths(size[i])).product();
        prop_assert!(packed.count >= rows);
        let sorted = |mut m: [f64; 3]| { m.sort_by(f64::total_cmp); m };
        for (i, b) in boxes.iter().enumerate().take(60) {
            prop_assert!((0..3).all(|k| b[k] >= 0.0 && b[k] + b[k + 3] <= room[k] + 1e-4), "{b:?} in {room:?}");
            let (own, given) = (sorted([b[3], b[4], b[5]]), sorted(size));
            prop_assert!((0..3).all(|k| (own[k] - given[k]).abs() < 1e-4));
            prop_assert!(!upright || (b[5] - size[2]).abs() < 1e-4);
            for other in &boxes[i + 1..] {
                let apart = (0..3).any(|k| b[k] + b[k + 3] <= other[k] + 1e-9 || other[k] + other[k + 3] <= b[k] + 1e-9);
                prop_assert!(apart, "{b:?} and {other:?}");
            }
        }
    }
}

/// Four of 3 by 2 fit on 5 by 5 only around a hole; straight cuts leave room for three (hand count).
#[test]
fn a_pinwheel_is_found() {
    assert_eq!(packed([0.5, 0.5, 0.1], [0.3, 0.2, 0.1], true).count, 4);
    // Filled to the edge, whatever the rounding: ten of 0.1 in 1.
    assert_eq!(packed([1.0, 0.1, 0.1], [0.1, 0.1, 0.1], true).count, 10);
    assert_eq!(packed([0.09, 1.0, 1.0], [0.1, 0.1, 0.1], false).count, 0);
    // The smallest module in the largest bay: counted, and not laid one by one.
    let vast = packed([12.0, 4.0, 4.0], [0.005; 3], false);
    assert_eq!((vast.count, vast.stack.len()), (2400 * 800 * 800, 800));
    assert!(vast.kinds.iter().all(|k| k.pieces.len() <= 5000) && vast.boxes_m(1000).len() == 1000);
    // So small that not every place is looked at: rows at least.
    assert!(packed([4.0, 2.0, 0.1], [0.018, 0.018, 0.065], true).count >= 222 * 111);
}

pub(crate) fn bay(name: &str, along: f64, right: f64, up: f64, size: [f64; 3]) -> Value {
    json!({ "name": name, "clearance_m": 0.01, "at": { "along": { "behind_front_axle_m": along }, "right_m": right, "up_m": up,
        "length_m": size[0], "width_m": size[1], "height_m": size[2] } })
}

/// The van with its engine bay, the room under its load floor and a slot beside it, its own places of the pack taken away.
pub(crate) fn van() -> Value {
    let bays = json!([
        bay("under the bonnet", 0.1, 0.0, 0.7, [0.75, 0.7, 0.28]),
        bay("under the floor", 1.5, 0.0, 0.35, [1.1, 0.8, 0.16]),
        bay("beside the tank", 2.2, 0.35, 0.4, [0.4, 0.4, 0.3]),
    ]);
    let d = with(demo("whimbrel-9-a"), "/donor/bays", bays);
    with(d, "/design/layout/boxes", json!([]))
}

/// With the layout of a spread taken over, and the places of what was moved.
pub(crate) fn taken(d: &Value, spread: &PackSplit) -> Value {
    let d = with(d.clone(), "/design/layout", json!(spread.layout));
    spread.moved.iter().fold(d, |d, m| with(d, &format!("/{}", m.path.replace('.', "/")), json!(m.at)))
}

/// The order that the answer promises, smaller first.
pub(crate) fn order(a: &PackSplit, b: &PackSplit) -> std::cmp::Ordering {
    let coarse = |s: &PackSplit| (s.off_donor / 0.005).floor();
    a.over_kg
        .total_cmp(&b.over_kg)
        .then(a.unplaced.cmp(&b.unplaced))
        .then(a.cut_strings.cmp(&b.cut_strings))
        .then(coarse(a).total_cmp(&coarse(b)))
        .then(a.cable_m.total_cmp(&b.cable_m))
}

/// Every split of the pack looked at by itself: none is better than the first that is told; and what is told of it is what the layout says
/// once it is taken.
#[test]
fn the_first_spread_is_the_best_of_all() {
    for limits in [json!({}), json!({ "front_axle_limit_kg": 690, "rear_axle_limit_kg": 790, "tyre_load_index": 82 })] {
        let mut d = van();
        for (key, value) in limits.as_object().expect("an object") {
            d = with(d, &format!("/donor/{key}"), value.clone());
        }
        let document = read(&d);
        let found = pack_splits(&document, None, &[], &Cancel::new()).expect("not cancelled");
        assert_eq!((found.step, found.modules, found.none.as_ref()), (1, 9, None));
        let (mut tried, best) = (0, &found.splits[0]);
        for a in 0..=found.room[0].min(9) {
            for b in 0..=found.room[1].min(9 - a) {
                let c = 9 - a - b;
                if c <= found.room[2] {
                    let one = pack_splits(&document, Some(&[a, b, c]), &[], &Cancel::new()).expect("a split").splits.remove(0);
                    assert!(order(best, &one).is_le(), "{:?} before {:?}", one.modules, best.modules);
                    tried += 1;
                }
            }
        }
        assert!(tried > 5);
        assert_eq!(found.tried, tried);
        assert!(found.splits.windows(2).all(|w| order(&w[0], &w[1]).is_le()));
        for spread in &found.splits {
            let with_it = read(&taken(&d, spread));
            let sheet = layout(&with_it);
            let laden = sheet.states.last().expect("states");
            check("front share", laden.front_share, spread.front_share, 1e-9);
            check("the mass stays", laden.mass_kg, layout(&document).states.last().expect("states").mass_kg, 1e-12);
            let over: f64 =
                sheet.limits.iter().skip(usize::from(sheet.limits[0].limit_kg > 1500.0)).map(|l| (l.laden_kg - l.limit_kg).max(0.0)).sum();
            assert!((over - spread.over_kg).abs() < 1e-6, "{over} kg over, told {}", spread.over_kg);
            let holds: Vec<u32> = sheet.bays.iter().map(|b| b.holds).collect();
            assert_eq!(holds, spread.modules);
            assert!(
                report(&with_it).expect("sound").findings.iter().all(|f| !f.rule.id().starts_with("layout.bay")),
                "{:?}",
                spread.modules
            );
        }
    }
}

/// Splits that are not the pack are refused; where there is nothing to spread, it is said why; and more splits than can be tried are tried in
/// groups, with what that may miss.
#[test]
fn spreads_are_bounded_and_say_why_there_is_none() {
    let go = Cancel::new();
    for wrong in [vec![9], vec![9, 9, 9], vec![u32::MAX, 9, 0]] {
        let refused = pack_splits(&read(&van()), Some(&wrong), &[], &go);
        assert!(
            matches!(refused, Err(Error::Invalid(ref p)) if p[0].path == "modules" && p[0].message.contains("9 in all")),
            "{refused:?}"
        );
    }
    let none = |d: Value| pack_splits(&read(&d), None, &[], &go).expect("an answer").none.expect("a reason").to_string();
    assert!(none(with(van(), "/donor/bays", json!([]))).contains("no bay"));
    assert!(none(with(van(), "/design/front_axle_share", json!(0.5))).contains("as a whole"));
    assert!(none(with(van(), "/design/pack", json!(null))).contains("no pack"));
    assert!(none(with(van(), "/donor/bays", json!([bay("slot", 1.0, 0.0, 0.5, [0.4, 0.2, 0.2])]))).contains("the bays hold 1 of 9"));
    assert!(none(with(van(), "/donor/bays", json!([{ "name": "not measured" }]))).contains("the bays hold 0 of 9"));
    // Twelve bays, 240 modules.
    let many: Vec<Value> = (0..12).map(|i| bay("room", 0.2 * f64::from(i), 0.0, 0.5, [2.0, 1.0, 0.6])).collect();
    let d = with(with(van(), "/donor/bays", json!(many)), "/design/pack/strings_in_parallel", json!(80));
    let found = pack_splits(&read(&d), None, &[], &go).expect("an answer");
    assert!(found.step > 1 && found.may_miss > 0.0 && found.tried <= 400_000, "{} of {}", found.step, found.tried);
    assert!(found.splits.iter().all(|s| s.modules.iter().sum::<u32>() == 240));
    let stop = Cancel::new();
    stop.cancel();
    assert!(matches!(pack_splits(&read(&d), None, &[], &stop), Err(Error::Cancelled)));
    assert!(matches!(offers(&read(&d).donor.bays[0], modules(builtin()).into_iter(), &stop), Err(Error::Cancelled)));
}

fn modules(parts: &[Part]) -> Vec<&Module> {
    parts.iter().filter_map(|p| if let Part::Module(m) = p { Some(m) } else { None }).collect()
}

/// What fits where the tank was, of the whole library: each count is what packing and the rated mass allow, the most energy first.
#[test]
fn the_whole_library_is_held_against_a_bay() {
    let parts = builtin();
    let at = Placement { length_m: Some(0.62), width_m: Some(0.5), height_m: Some(0.26), ..Placement::default() };
    let room = Bay { name: "tank".into(), at, mass_limit_kg: Some(70.0), clearance_m: 0.015 };
    let go = Cancel::new();
    let all = offers(&room, modules(parts).into_iter(), &go).expect("not cancelled");
    assert!(all.len() > 40 && all.windows(2).all(|w| w[0].energy_kwh >= w[1].energy_kwh));
    let by_mass = all.iter().filter(|o| o.modules < o.by_room).count();
    assert!(by_mass > 3 && by_mass < all.len(), "{by_mass} of {}", all.len());
    for offer in &all {
        let module = modules(parts).into_iter().find(|m| m.name == offer.name).expect("in the library");
        assert!(offer.mass_kg <= 70.0 + 1e-9 && offer.stated);
        let fits = packed([0.59, 0.47, 0.23], module.room().size_m, module.must_stand()).count;
        assert_eq!(offer.modules, fits.min((70.0 / module.mass_kg + 1e-9) as u32), "{}", offer.name);
    }
    // Taller than the bay and not to be laid down.
    assert!(all.iter().all(|o| o.name != "Ballast 12 V 130 flooded"));
    let unmeasured = Bay { at: Placement::default(), ..room };
    assert_eq!(offers(&unmeasured, modules(parts).into_iter(), &go).expect("not cancelled"), []);
}

/// Where nobody stated a size, it is that of its mass; every module shipped weighs what such modules weigh a litre.
#[test]
fn sizes_of_modules_are_plausible() {
    for module in modules(builtin()) {
        let litres = module.room().size_m.iter().product::<f64>() * 1000.0;
        let mut bare = module.clone();
        (bare.length_mm, bare.width_mm, bare.height_mm) = (None, None, None);
        check(&module.name, bare.room().size_m.iter().product::<f64>() * 1000.0, litres, 0.05);
        assert!(module.room().stated && !bare.room().stated);
    }
}

/// Blocks in one place, out of the body, a bay that holds too much: each is found with both figures, and only by what is stated.
#[test]
fn places_that_cannot_be_are_findings() {
    let first = pack_splits(&read(&van()), Some(&[0, 9, 0]), &[], &Cancel::new());
    let d = taken(&van(), &first.expect("a split").splits[0]);
    let tell = |d: &Value| -> Vec<(String, f64, f64)> {
        let found = report(&read(d)).expect("sound").findings;
        found.into_iter().filter(|f| f.rule.id().starts_with("layout.")).map(|f| (f.rule.id().to_owned(), f.found, f.limit)).collect()
    };
    assert_eq!(tell(&d), []);
    let pack = read(&d).design.layout.pack.clone();
    let size = |x: f64, up: f64| json!({ "along": { "behind_front_axle_m": x }, "right_m": 0.0, "up_m": up, "length_m": 0.4, "width_m": 0.3, "height_m": 0.1 });
    // Its middle a tenth below the top of the pack: they share less than the half of its height.
    let top = pack.up_m.expect("a height") + 0.5 * pack.height_m.expect("a height");
    let on = tell(&with(d.clone(), "/design/layout/charger", size(1.5, top - 0.03)));
    assert_eq!(on.len(), 1);
    assert_eq!(on[0].0, "layout.overlap");
    check("deep", on[0].1, 0.08, 1e-6);
    assert_eq!(tell(&with(d.clone(), "/design/layout/charger", size(1.5, top + 0.05))), []);
    assert_eq!(tell(&with(d.clone(), "/design/layout/charger", json!({ "along": { "behind_front_axle_m": 1.5 }, "up_m": top }))), []);
    // Half of it below the road.
    let under = tell(&with(d.clone(), "/design/layout/charger", size(0.6, 0.0)));
    assert_eq!(under, [("layout.outside".to_owned(), 0.05, 0.0)]);
    let narrow = tell(&with(d.clone(), "/donor/bays/1/at/width_m", json!(0.4)));
    assert!(
        matches!(narrow.as_slice(), [(rule, holds, fits)] if rule == "layout.bay-overfull" && *holds == 9.0 && *fits < 9.0),
        "{narrow:?}"
    );
    let weak = tell(&with(d, "/donor/bays/1/mass_limit_kg", json!(60)));
    assert!(matches!(weak.as_slice(), [(rule, kg, limit)] if rule == "layout.bay-overloaded" && *kg > 112.0 && *limit == 60.0), "{weak:?}");
}

/// A bay with a name alone, or measured in part, is kept and says nothing of what fits.
#[test]
fn a_bay_that_is_not_measured_is_kept() {
    let d = with(van(), "/donor/bays", json!([{ "name": "boot" }, { "name": "tank", "at": { "length_m": 0.5 } }]));
    let document: Document = (*read(&d)).clone();
    let sheet = layout(&document);
    assert!(sheet.bays.iter().all(|b| b.fit.is_none() && b.size_m.is_none() && b.holds == 0));
    assert_eq!(sheet.bays.iter().map(|b| b.name.as_str()).collect::<Vec<_>>(), ["boot", "tank"]);
}
