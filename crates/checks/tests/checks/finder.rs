//! Other blocks in the bays beside the pack: what is told against what the layout says once it is taken, and against trying everything by hand.

use crate::bays::{bay, order, taken, van};
use crate::common::{cases, read, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::error::Error;
use joulethesis_core::layout::{PackSplit, clashes, layout, pack_splits, packed};
use proptest::prelude::*;
use serde_json::{Value, json};

const OTHERS: [&str; 3] = ["design.layout.controller", "design.layout.charger", "design.added.0.at"];

/// The van of the bays with something else to put in, whose size is stated.
fn with_others(size: [f64; 3], kg: f64) -> Value {
    let at = json!({ "length_m": size[0], "width_m": size[1], "height_m": size[2] });
    with(with(van(), "/design/added", json!([{ "name": "heater", "mass_kg": kg, "at": at }])), "/donor/bays/1/mass_limit_kg", json!(150))
}

proptest! {
    #![proptest_config(cases(30))]

    /// Whatever is stood beside the pack: what is told of a way is what the layout says once it is taken; nothing stands in the way of
    /// anything, no bay holds or carries more than it may; more blocks to move never make the best way worse; and no split of the pack
    /// with the others where the first way has them is better than it.
    #[test]
    fn others_stand_beside_the_pack(size in prop::array::uniform3(0.1_f64..0.7), kg in 5.0_f64..90.0, asked in prop::sample::subsequence(OTHERS.to_vec(), 1..=3)) {
        let d = with_others(size, kg);
        let asked: Vec<String> = asked.into_iter().map(str::to_owned).collect();
        let go = Cancel::new();
        let find = |d: &Value, others: &[String]| pack_splits(&read(d), None, others, &go).expect("an answer");
        let (none, found) = (find(&d, &[]), find(&d, &asked));
        prop_assert!(found.left_alone.is_empty() && found.step == 1 && found.tried >= found.splits.len() as u64);
        let before: Vec<String> = clashes(&read(&d)).iter().map(|c| format!("{c:?}")).collect();
        for spread in &found.splits {
            let document = read(&taken(&d, spread));
            let laden = layout(&document).states.pop().expect("states");
            prop_assert!((laden.front_share - spread.front_share).abs() < 1e-3, "{} told {}", laden.front_share, spread.front_share);
            let new: Vec<String> = clashes(&document).iter().map(|c| format!("{c:?}")).filter(|c| !before.contains(c) && !c.starts_with("Outside")).collect();
            prop_assert!(new.is_empty(), "{new:?} by {:?}", spread.moved);
            prop_assert!(spread.moved.len() + spread.unplaced as usize <= asked.len());
        }
        prop_assert!(found.splits.windows(2).all(|w| order(&w[0], &w[1]).is_le()));
        let (Some(best), Some(bare)) = (found.splits.first(), none.splits.first()) else { return Ok(()) };
        // Without a place of its own a block is worse off than anywhere.
        let lost = PackSplit { unplaced: u32::try_from(asked.len()).expect("few"), ..bare.clone() };
        prop_assert!(order(best, &lost).is_le());
        let fixed = taken(&d, best);
        for other in find(&fixed, &[]).splits {
            let other = PackSplit { unplaced: best.unplaced, ..other };
            let rounded = (other.off_donor - best.off_donor).abs() < 1e-3;
            prop_assert!(rounded || order(best, &other).is_le(), "{:?} {other:?} before {best:?}", other.modules);
        }
    }
}

/// By hand: one bay holds nothing but the heater, which goes there; turned a quarter where it must be; what is in a bay already keeps its
/// room; a block that is asked for twice or cannot be moved is refused, and of too many the lightest stay where they are.
#[test]
fn what_else_goes_into_a_bay() {
    let go = Cancel::new();
    let heater = [OTHERS[2].to_owned()];
    let alone = |size: [f64; 3]| {
        let d = with(with_others(size, 12.0), "/donor/bays/2", bay("slot", 2.2, 0.35, 0.4, [0.5, 0.12, 0.2]));
        pack_splits(&read(&d), None, &heater, &go).expect("an answer").splits.remove(0)
    };
    let moved = |s: &PackSplit| s.moved.iter().map(|m| (m.bay, m.at.length_m, m.at.width_m, m.at.up_m)).collect::<Vec<_>>();
    // On the floor of the slot, 0.31 m up: 0.4 less half of 0.2, and the clearance.
    assert_eq!(moved(&alone([0.3, 0.1, 0.15])), [(2, Some(0.3), Some(0.1), Some(0.385))]);
    assert_eq!(moved(&alone([0.1, 0.3, 0.15])), [(2, Some(0.3), Some(0.1), Some(0.385))]);
    // The heater across the floor's middle leaves room on either side of it; the larger is counted, and its mass counts too.
    let d = with_others([0.2, 0.7, 0.1], 12.0);
    let put = |x: f64, kg: f64| {
        let at = json!({ "along": { "behind_front_axle_m": x }, "right_m": 0.0, "up_m": 0.35, "length_m": 0.2, "width_m": 0.7, "height_m": 0.1 });
        let d = with(d.clone(), "/design/added/0/at", at);
        let limit = if kg > 100.0 { json!(150) } else { json!(null) };
        let d = with(with(d, "/design/added/0/mass_kg", json!(kg)), "/donor/bays/1/mass_limit_kg", limit);
        pack_splits(&read(&d), None, &[], &go).expect("an answer").room[1]
    };
    let (whole, aside, amid) = (put(9.0, 12.0), put(1.05, 12.0), put(1.5, 12.0));
    assert!(whole > aside && aside > amid && amid > 0, "{whole} > {aside} > {amid}");
    assert_eq!(put(1.05, 149.0), 0);
    for wrong in ["design.layout.motor", "design.added.9.at", "x"] {
        let refused = pack_splits(&read(&d), None, &[wrong.to_owned()], &go);
        assert!(matches!(refused, Err(Error::Invalid(ref p)) if p[0].path == "others[0]" && p[0].message.contains(wrong)), "{refused:?}");
    }
    assert!(pack_splits(&read(&d), None, &[heater[0].clone(), heater[0].clone()], &go).is_err());
    let all: Vec<Value> = (0..12).map(|i| json!({ "name": format!("box {i}"), "mass_kg": 1.0 + f64::from(i) })).collect();
    let many = read(&with(d, "/design/added", json!(all)));
    let paths: Vec<String> = (0..12).map(|i| format!("design.added.{i}.at")).collect();
    let found = pack_splits(&many, None, &paths, &go).expect("an answer");
    assert_eq!(found.left_alone.len(), 12 - 7, "4^7 ways are no more than 20 000");
    assert!(found.left_alone.contains(&"box 4".to_owned()) && !found.left_alone.contains(&"box 5".to_owned()));
}

/// The same with nothing that keeps room: what is placed has no size.
fn sizeless(mut d: Value) -> Value {
    for key in ["motor", "controller", "charger", "electrics", "fitted/converter", "fitted/charge_inlet"] {
        let at = format!("/design/layout/{key}");
        let mut own = d.pointer(&at).expect("a place").clone();
        for size in ["length_m", "width_m", "height_m"] {
            own.as_object_mut().expect("a place").remove(size);
        }
        d = with(d, &at, own);
    }
    d
}

/// Where one thing stands in a room and what it leaves, written again from the rule alone: in the corner at the end nearer to the motor, along
/// or across, whichever leaves the larger cuboid beside or above it.
fn left_by([low, size]: [[f64; 3]; 2], thing: [f64; 3], gap: f64, motor: [f64; 3]) -> Option<([f64; 3], [[f64; 3]; 2])> {
    let volume = |s: &[f64; 3]| s.iter().product::<f64>();
    let mut best: Option<([f64; 3], [[f64; 3]; 2])> = None;
    for axis in 0..2 {
        let fits = |t: &[f64; 3]| (0..3).all(|i| t[i] <= size[i] + 1e-9);
        let ways = [thing, [thing[1], thing[0], thing[2]]].into_iter().filter(fits);
        let Some(own) = ways.min_by(|a, b| a[axis].total_cmp(&b[axis])) else { continue };
        let far = motor[axis] > low[axis] + 0.5 * size[axis];
        let mut centre: [f64; 3] = std::array::from_fn(|i| low[i] + 0.5 * own[i]);
        if far {
            centre[axis] = low[axis] + size[axis] - 0.5 * own[axis];
        }
        for side in 0..3 {
            let (mut left_low, mut left_size) = (low, size);
            left_size[side] = (size[side] - own[side] - gap).max(0.0);
            if side != axis || !far {
                left_low[side] = low[side] + size[side] - left_size[side];
            }
            if best.as_ref().is_none_or(|(_, [_, s])| volume(&left_size) >= volume(s)) {
                best = Some((centre, [left_low, left_size]));
            }
        }
    }
    best
}

proptest! {
    #![proptest_config(cases(40))]

    /// The pack and a heater over whatever bays: every bay for the heater and every split beside it tried here, with statics of one's own;
    /// none is better than the first way that is told.
    #[test]
    fn pack_and_heater_are_spread_as_by_trying_everything(
        drawn in prop::collection::vec((0.3_f64..2.6, -0.3_f64..0.3, 0.4_f64..0.8, prop::array::uniform3(0.25_f64..0.9)), 1..4),
        thing in prop::array::uniform3(0.1_f64..0.5), kg in 5.0_f64..60.0, rear in 650.0_f64..1000.0,
    ) {
        let bays: Vec<Value> = drawn.iter().enumerate().map(|(i, (x, y, z, size))| bay(&format!("bay {i}"), *x, *y, *z, *size)).collect();
        let at = json!({ "length_m": thing[0], "width_m": thing[1], "height_m": thing[2] });
        let mut d = with(with(van(), "/donor/bays", json!(bays)), "/design/added", json!([{ "name": "heater", "mass_kg": kg, "at": at }]));
        // Every module is a string, so that none can be cut.
        d = with(with(d, "/design/pack/modules_in_series", json!(1)), "/design/pack/strings_in_parallel", json!(9));
        d = sizeless(d);
        for (key, value) in [("front_axle_limit_kg", Value::Null), ("tyre_load_index", Value::Null), ("rear_axle_limit_kg", json!(rear))] {
            d = with(d, &format!("/donor/{key}"), value);
        }
        let document = read(&d);
        let found = pack_splits(&document, None, &["design.added.0.at".to_owned()], &Cancel::new()).expect("an answer");
        let sheet = layout(&document);
        let block = |kind: &str| sheet.blocks.iter().find(|b| b.kind == kind).expect("a block");
        let (motor, heater, pack) = (block("motor"), block("added"), block("pack"));
        let (motor_m, laden) = ([motor.along_m, motor.right_m, motor.up_m], sheet.states.last().expect("laden"));
        // All but pack and heater, about the front axle.
        let rest = [laden.mass_kg - pack.mass_kg - heater.mass_kg,
            laden.mass_kg * laden.along_m - pack.mass_kg * pack.along_m - heater.mass_kg * heater.along_m];
        let (wheelbase, module) = (sheet.outline.wheelbase_m, &document.design.pack.as_ref().expect("a pack").module);
        let rooms: Vec<[[f64; 3]; 2]> = drawn.iter().map(|(x, y, z, size)| {
            let free = size.map(|m| m - 0.02);
            [std::array::from_fn(|i| [*x, *y, *z][i] - 0.5 * free[i]), free]
        }).collect();
        let mut best = (f64::INFINITY, u32::MAX, f64::INFINITY);
        for home in std::iter::once(None).chain((0..rooms.len()).map(Some)) {
            let mut left = rooms.clone();
            let mut heater_m = heater.along_m;
            if let Some(i) = home {
                let Some((centre, rest)) = left_by(rooms[i], thing, 0.01, motor_m) else { continue };
                (left[i], heater_m) = (rest, centre[0]);
            }
            let hold: Vec<u32> = left.iter().map(|[_, size]| packed(*size, module.room().size_m, module.must_stand()).count.min(9)).collect();
            let get = |i: usize| hold.get(i).copied().unwrap_or(0);
            for a in 0..=get(0) {
                for b in 0..=get(1).min(9 - a) {
                    let split = [a, b, 9 - a - b];
                    if split[2] > get(2) {
                        continue;
                    }
                    let each = pack.mass_kg / 9.0;
                    let modules: f64 = split.iter().zip(&left).map(|(n, [low, size])| f64::from(*n) * each * (low[0] + 0.5 * size[0])).sum();
                    let mass = rest[0] + pack.mass_kg + kg;
                    let behind = (rest[1] + kg * heater_m + modules) / wheelbase;
                    let off = ((1.0 - behind / mass) - found.donor_front_share).abs();
                    let merit = ((behind - rear).max(0.0), u32::from(home.is_none()), (off / 0.005).floor());
                    if merit.0 < best.0 - 1e-9 || ((merit.0 - best.0).abs() <= 1e-9 && (merit.1, merit.2) < (best.1, best.2)) {
                        best = merit;
                    }
                }
            }
        }
        match found.splits.first() {
            None => prop_assert!(best.0.is_infinite(), "{best:?} was not found: {:?}", found.none),
            Some(first) => {
                prop_assert!((first.over_kg - best.0).abs() < 1e-6 * best.0.max(1.0), "{} over, {best:?}", first.over_kg);
                prop_assert_eq!(first.unplaced, best.1);
                prop_assert!((first.off_donor / 0.005 - best.2 - 0.5).abs() <= 0.5 + 1e-6, "{} for {best:?}", first.off_donor);
            }
        }
    }
}

proptest! {
    #![proptest_config(cases(40))]

    /// What stands in a bay leaves the room of the largest cuboid beside it: every cuboid between edges of things and walls tried here, and of
    /// equally large ones any.
    #[test]
    fn what_stands_in_a_bay_leaves_the_largest_cuboid(
        things in prop::collection::vec((prop::array::uniform3(0_u32..6), prop::array::uniform3(1_u32..4)), 1..5),
    ) {
        const CELL_M: f64 = 0.2;
        let cells = [6_u32, 6, 4];
        let (centre, size) = ([1.4, 0.0, 0.9], cells.map(|n| f64::from(n) * CELL_M));
        let mut room = bay("hold", centre[0], centre[1], centre[2], size);
        room["clearance_m"] = json!(0);
        let inside: Vec<[[u32; 2]; 3]> = things.iter().map(|(low, long)| {
            std::array::from_fn(|i| { let low = low[i].min(cells[i] - 1); [low, (low + long[i]).min(cells[i])] })
        }).collect();
        let added: Vec<Value> = inside.iter().enumerate().map(|(i, edges)| {
            let at = |axis: usize| centre[axis] - 0.5 * size[axis] + 0.5 * CELL_M * f64::from(edges[axis][0] + edges[axis][1]);
            let long = |axis: usize| CELL_M * f64::from(edges[axis][1] - edges[axis][0]);
            json!({ "name": format!("thing {i}"), "mass_kg": 1, "at": { "along": { "behind_front_axle_m": at(0) }, "right_m": at(1), "up_m": at(2),
                "length_m": long(0), "width_m": long(1), "height_m": long(2) } })
        }).collect();
        let d = sizeless(with(with(van(), "/donor/bays", json!([room])), "/design/added", json!(added)));
        let document = read(&d);
        let told = pack_splits(&document, None, &[], &Cancel::new()).expect("an answer").room[0];
        let spans = |most: u32| (0..most).flat_map(move |a| (a + 1..=most).map(move |b| [a, b]));
        let mut largest: (u32, Vec<[u32; 3]>) = (0, Vec::new());
        for x in spans(cells[0]) {
            for y in spans(cells[1]) {
                for z in spans(cells[2]) {
                    let own = [x, y, z];
                    let free = inside.iter().all(|thing| (0..3).any(|i| own[i][1] <= thing[i][0] || thing[i][1] <= own[i][0]));
                    let long = own.map(|[a, b]| b - a);
                    let volume = long.iter().product();
                    if free && volume >= largest.0 {
                        if volume > largest.0 {
                            largest = (volume, Vec::new());
                        }
                        largest.1.push(long);
                    }
                }
            }
        }
        let module = &document.design.pack.as_ref().expect("a pack").module;
        let hold = |long: &[u32; 3]| packed(long.map(|n| f64::from(n) * CELL_M), module.room().size_m, module.must_stand()).count;
        let may: Vec<u32> = largest.1.iter().map(hold).collect();
        prop_assert!(may.contains(&told) || may.is_empty() && told == 0, "{told}, not one of {may:?}");
    }
}
