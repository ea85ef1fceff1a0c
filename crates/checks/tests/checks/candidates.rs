//! Donors side by side: what each row says is what its own document says; the better of two never stands behind; what is not known
//! flatters nobody. What a pack may weigh, against the axle loads with such a pack in place.

use crate::common::{cases, documents::demo, read, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::candidates::{CandidateRow, Contender, compare};
use joulethesis_core::document::{Donor, Shortlist, section};
use joulethesis_core::error::Error;
use joulethesis_core::layout::{laden, pack_room};
use joulethesis_core::quantity::Sentence;
use joulethesis_core::report::report;
use proptest::prelude::*;
use serde_json::{Value, json};

fn donor(value: &Value) -> Donor {
    section(value).expect("a sound donor")
}

/// Rows of donors with the design in hand, in the order of their rank.
fn ranked(document: &Value, donors: &[(&str, Value)]) -> Vec<CandidateRow> {
    let contenders: Vec<Contender> =
        donors.iter().map(|(id, d)| Contender { id: (*id).to_owned(), donor: donor(d), design: None }).collect();
    compare(&read(document), &contenders, &Cancel::new()).expect("compared")
}

fn order(rows: &[CandidateRow]) -> Vec<&str> {
    rows.iter().map(|r| r.id.as_str()).collect()
}

#[test]
fn each_row_says_what_its_own_document_does() {
    let van = demo("whimbrel-9-a");
    let shortlist: Shortlist = section(&demo("whimbrel-9-shortlist")).expect("a sound shortlist");
    let mut contenders: Vec<Contender> =
        shortlist.candidates.iter().map(|c| Contender { id: c.id.clone(), donor: c.donor.clone(), design: None }).collect();
    contenders.push(Contender {
        id: "own".to_owned(),
        donor: donor(&van["donor"]),
        design: Some(read(&demo("whimbrel-9-b")).design.clone()),
    });
    let rows = compare(&read(&van), &contenders, &Cancel::new()).expect("compared");
    assert_eq!(rows.iter().map(|r| r.place).collect::<Vec<_>>(), [1, 2, 3]);
    for contender in &contenders {
        let row = rows.iter().find(|r| r.id == contender.id).expect("a row");
        let document = read(&van)
            .with(|d| {
                d.donor = contender.donor.clone();
                if let Some(design) = &contender.design {
                    d.design = design.clone();
                }
            })
            .expect("sound");
        let own = report(&document).expect("a report");
        let f = row.figures.as_ref().expect("figures");
        assert_eq!((f.wh_per_km, f.range_km), (own.trips[0].wh_per_km, own.trips[0].range_km), "{}", row.id);
        assert_eq!((f.laden_kg, f.pack_kg), (own.masses.test_kg, own.masses.pack_kg));
        assert_eq!(f.total, contender.donor.purchase_price.map(|paid| paid + own.cost.bought - own.cost.sold));
        assert_eq!((row.own_chain, f.asked), (contender.design.is_some(), own.claims.len()));
        let ratings = [f.laden_kg <= contender.donor.gross_limit_kg.expect("stated"), f.pack_room.expect("ratings").most_kg >= f.pack_kg];
        assert!(ratings[0] || !ratings[1], "a pack that fits its ratings cannot overload the whole");
    }
}

#[test]
fn the_better_of_two_stands_before_and_the_reason_says_why() {
    let mut van = demo("whimbrel-9-a");
    // Where a must is missed whoever misses fewer stands before; here nothing is a must.
    van["brief"]["goals"].as_array_mut().expect("goals").iter_mut().for_each(|g| g["level"] = json!("wanted"));
    let plain = with(van["donor"].clone(), "/condition", json!({ "body": 3 }));
    for (key, worse, says) in [
        ("purchase_price", json!(5000), "more than the least"),
        ("purchase_price", Value::Null, "not known"),
        ("condition", json!({ "body": 1 }), "graded 1.0 of 5"),
        ("drag_coefficient", json!(0.9), "missed by"),
        ("curb_mass_kg", json!(1800), ""),
    ] {
        let spoilt = with(plain.clone(), &format!("/{key}"), worse.clone());
        let rows = ranked(&van, &[("worse", spoilt.clone()), ("plain", plain.clone())]);
        assert_eq!(order(&rows), ["plain", "worse"], "{key} {worse}");
        let against: Vec<String> = rows[1].reasons.iter().filter(|r| r.lifts < 0.0).map(|r| r.words.to_string()).collect();
        assert!(against.iter().any(|w| w.contains(says)), "{key}: {against:?}");
    }
    // More of what works without an engine is better, too; and equals keep the order in which they were named.
    let steered = with(plain.clone(), "/already_electric", json!(["steering", "brakes"]));
    assert_eq!(order(&ranked(&van, &[("plain", plain.clone()), ("steered", steered)])), ["steered", "plain"]);
    let rows = ranked(&van, &[("a", plain.clone()), ("b", plain.clone())]);
    assert_eq!((order(&rows), rows[0].rank), (vec!["a", "b"], rows[1].rank));
    assert!(rows.iter().all(|r| r.reasons.is_empty()), "nothing sets twins apart");
}

#[test]
fn a_missed_must_outweighs_any_price_and_what_cannot_be_told_stands_last() {
    let mut van = demo("whimbrel-9-a");
    let goals = json!([{ "id": "hill", "level": "required", "measure": { "kind": "hill_start", "at_least_percent": 20 } }]);
    van["brief"]["goals"] = goals;
    let mut heavy = van["donor"].clone();
    for (key, value) in [("curb_mass_kg", 12_000), ("gross_limit_kg", 20_000), ("purchase_price", 1)] {
        heavy[key] = json!(value);
    }
    let dear = with(van["donor"].clone(), "/purchase_price", json!(100_000));
    let rows = ranked(&van, &[("heavy", heavy), ("dear", dear)]);
    assert_eq!(order(&rows), ["dear", "heavy"]);
    let missed = &rows[1].figures.as_ref().expect("figures").missed;
    assert_eq!(missed.iter().map(Sentence::to_string).collect::<Vec<_>>().len(), 1);
    // A motor between a front and a rear axle needs both; a chain that the vehicle cannot take says so and counts in nothing.
    let mut bare = van.clone();
    bare["design"].as_object_mut().expect("a design").remove("motor");
    let own = Contender { id: "own".to_owned(), donor: donor(&van["donor"]), design: Some(read(&van).design.clone()) };
    let same = Contender { id: "same".to_owned(), donor: donor(&van["donor"]), design: None };
    let rows = compare(&read(&bare), &[same, own], &Cancel::new()).expect("compared");
    assert_eq!(order(&rows), ["own", "same"]);
    assert!(rows[1].refused.as_ref().is_some_and(|why| why.contains("motor")), "{:?}", rows[1].refused);
    assert_eq!((rows[1].rank, rows[1].figures.is_none()), (None, true));
}

#[test]
fn a_shortlist_is_refused_by_field_and_a_comparison_can_be_ended() {
    let list = demo("whimbrel-9-shortlist");
    for (at, bad, path) in [
        ("/candidates/1/id", json!("curlew"), "shortlist.candidates[1].id"),
        ("/candidates/0/donor/tyre/code", json!("round"), "shortlist.candidates[0].donor.tyre.code"),
        ("/candidates/0/donor/condition/body", json!(6), "shortlist.candidates[0].donor.condition.body"),
        ("/candidates/1/donor/curb_mass_kg", json!(-3), "shortlist.candidates[1].donor.curb_mass_kg"),
    ] {
        let error = section::<Shortlist>(&with(list.clone(), at, bad)).expect_err("refused");
        assert!(error.problems().iter().any(|p| p.path == path), "{at}: {error}");
    }
    let many = json!({ "candidates": (0..13).map(|i| json!({ "id": format!("c{i}"), "donor": list["candidates"][0]["donor"] })).collect::<Vec<_>>() });
    assert!(section::<Shortlist>(&many).expect_err("too many").to_string().contains("12"));
    let (van, ended) = (demo("whimbrel-9-a"), Cancel::new());
    ended.cancel();
    let own = Contender { id: "own".to_owned(), donor: donor(&van["donor"]), design: None };
    assert_eq!(compare(&read(&van), &[own], &ended), Err(Error::Cancelled));
}

/// The van with some of its figures drawn.
fn drawn() -> impl Strategy<Value = Value> {
    (0.3_f64..0.7, 1.6_f64..3.0, 900.0_f64..1300.0, 0.0_f64..6000.0, 1_u32..=5, prop::bool::ANY).prop_map(
        |(drag, area, kerb, price, grade, steers)| {
            let mut donor = demo("whimbrel-9-a")["donor"].clone();
            for (key, value) in [("drag_coefficient", drag), ("frontal_area_m2", area), ("curb_mass_kg", kerb), ("purchase_price", price)] {
                donor[key] = json!(value);
            }
            donor["condition"] = json!({ "body": grade });
            donor["already_electric"] = if steers { json!(["steering"]) } else { json!([]) };
            donor
        },
    )
}

proptest! {
    #![proptest_config(cases(25))]

    /// The order in which donors are named decides nothing; one that is bettered in anything never loses its place to another; one more,
    /// dearer and worse than all, changes the order of none.
    #[test]
    fn ranks_follow_what_donors_are(donors in prop::collection::vec(drawn(), 3..6), better in 0_usize..3, what in 0_usize..4) {
        let mut van = demo("whimbrel-9-a");
        van["brief"]["goals"].as_array_mut().expect("goals").iter_mut().for_each(|g| g["level"] = json!("wanted"));
        let names = ["a", "b", "c", "d", "e"];
        let named: Vec<(&str, Value)> = names.into_iter().zip(donors.clone()).collect();
        let rows = ranked(&van, &named);
        let reversed: Vec<(&str, Value)> = named.iter().rev().cloned().collect();
        // Twins keep the order in which they were named.
        let ranks = |rows: &[CandidateRow]| {
            let mut all: Vec<_> = rows.iter().map(|r| (r.rank.map(|x| (x * 1e9).round() as i64), r.id.clone())).collect();
            all.sort();
            all
        };
        prop_assert_eq!(ranks(&rows), ranks(&ranked(&van, &reversed)));

        let place = |rows: &[CandidateRow], id: &str| rows.iter().find(|r| r.id == id).expect("a row").place;
        let mut bettered = named.clone();
        let donor = &mut bettered[better].1;
        match what {
            0 => donor["drag_coefficient"] = json!(0.8 * donor["drag_coefficient"].as_f64().expect("drag")),
            1 => donor["purchase_price"] = json!(0.5 * donor["purchase_price"].as_f64().expect("a price")),
            2 => donor["condition"] = json!({ "body": 5 }),
            _ => donor["already_electric"] = json!(["steering", "brakes", "heating"]),
        }
        prop_assert!(place(&ranked(&van, &bettered), names[better]) <= place(&rows, names[better]), "{what}");

        let mut more = named;
        let mut worst = donors[0].clone();
        (worst["drag_coefficient"], worst["purchase_price"], worst["condition"]) = (json!(1.5), json!(1e6), json!({ "body": 1 }));
        more.push(("worst", worst));
        let with_worst = ranked(&van, &more);
        prop_assert_eq!(with_worst.last().map(|r| r.id.as_str()), Some("worst"));
        prop_assert_eq!(order(&with_worst[..with_worst.len() - 1]), order(&rows));
    }
}

proptest! {
    #![proptest_config(cases(60))]

    /// A pack as heavy as it may be brings one rating to its limit and none beyond; one that weighs a kilogram more does.
    #[test]
    fn a_pack_may_weigh_just_what_its_ratings_bear(
        gross in 1700.0_f64..2600.0, front in 700.0_f64..1400.0, rear in 700.0_f64..1400.0, index in 70_u32..110,
        behind in 0.2_f64..2.3, payload in 0.0_f64..300.0,
    ) {
        let mut van = demo("whimbrel-9-a");
        for (key, value) in [("gross_limit_kg", json!(gross)), ("front_axle_limit_kg", json!(front)), ("rear_axle_limit_kg", json!(rear)), ("tyre_load_index", json!(index))] {
            van["donor"][key] = value;
        }
        van["brief"]["payload_kg"] = json!(payload);
        van["design"]["layout"]["boxes"] = json!([]);
        van["design"]["layout"]["pack"] = json!({ "along": { "behind_front_axle_m": behind } });
        let room = pack_room(&read(&van)).expect("ratings");
        let pack = |kg: f64| {
            let mut v = van.clone();
            let cells = read(&v).design.pack.as_ref().map_or(0, joulethesis_core::document::Pack::module_count);
            v["design"]["pack"]["module"]["mass_kg"] = json!(kg / f64::from(cells));
            v["design"]["pack"]["box_mass_kg"] = json!(0.0);
            laden(&read(&v)).1.iter().map(|l| l.laden_kg - l.limit_kg).fold(f64::NEG_INFINITY, f64::max)
        };
        if room.most_kg > 5.0 {
            prop_assert!(pack(room.most_kg).abs() < 1e-6, "{room:?}: {} kg over", pack(room.most_kg));
            prop_assert!(pack(room.most_kg + 1.0) > 0.0, "{room:?} bears more");
        } else if room.most_kg == 0.0 {
            prop_assert!(pack(1.0) > 0.0, "it bears a pack of a kilogram");
        }
    }
}
