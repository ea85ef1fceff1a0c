//! Chargers that a search gives a pack, against the whole charge with each of the library.

use super::proof::{Proof, spread};
use crate::charge::charge;
use crate::document::{Answers, Document, VehicleKind};
use crate::figures::FigureKind;
use crate::library::{Charger, Part, builtin};
use crate::limits::{charger_over_pack, charger_under_pack};
use crate::matching::configuration::Configuration;
use crate::matching::fed::Feeding;

/// Every charger several times over: dearer, cheaper, lighter and heavier, at other powers, and some just as they are.
fn many() -> Vec<Part> {
    let variants = |part: &Part| match part {
        Part::Charger(c) => (0..6_usize)
            .map(|i| {
                let times = |salt: f64| if i == 0 { 1.0 } else { 0.6 + 0.2 * spread(i + c.name.len(), salt, 5) as f64 };
                Part::Charger(Charger {
                    name: format!("{} {i}", c.name),
                    price: (c.price * times(0.137)).round(),
                    mass_kg: c.mass_kg * times(0.219),
                    output_power_w: c.output_power_w * times(0.311),
                    ..c.clone()
                })
            })
            .collect(),
        part => vec![part.clone()],
    };
    builtin().iter().flat_map(variants).collect()
}

/// Each charger that is left out does not fit, or one that is kept is as cheap, as light and as fast in the steps that count; none that is kept
/// betters another so. Their steps are those of the whole charge, or at an edge the one before.
#[test]
fn whatever_charger_is_left_out_another_betters() {
    let (mut kept, mut at_an_edge, mut bettered) = (0, 0, 0);
    for (k, kind) in VehicleKind::ALL.into_iter().enumerate() {
        let document = Document::starter("Chargers", kind, &Answers::default()).checked().expect("sound");
        let library = if k % 2 == 0 { many() } else { builtin().to_vec() };
        let Proof { problem, space, .. } = Proof::of_library(&document, &library);
        let Some(FigureKind::Charge(socket)) = problem.objectives.kinds[4] else { continue };
        let drivetrain = space.drivetrains[space.drive(0).drivetrain as usize].configuration;
        for i in 0..12 {
            let pack = &space.packs[spread(i + 1, 0.217, space.packs.len())];
            let full_v = pack.model.full_v;
            let whole = |place: u16| {
                let own = Configuration { module: pack.module, series: pack.series, parallel: pack.parallel, charger: place, ..drivetrain };
                let session =
                    charge(&problem.document(&own), &pack.model, &document.brief.sockets[socket], pack.model.soc_min, pack.model.soc_max);
                problem.objectives.bin(4, session.and_then(|s| s.hours_h).unwrap_or(f64::INFINITY))
            };
            let own: Vec<i32> = pack.chargers.iter().map(|side| whole(side.place)).collect();
            for (place, charger) in (0u16..).zip(&problem.chargers) {
                let Some(record) = charger.as_ref().map(|c| &c.counted) else { continue };
                let bin = whole(place);
                let betters = |other: usize| {
                    let side = &pack.chargers[other];
                    side.price <= record.price && side.mass_kg <= record.mass_kg && own[other] <= bin
                };
                let of = format!("{kind:?}: {} on {} in series", record.name, pack.series);
                if let Some(at) = pack.chargers.iter().position(|side| side.place == place) {
                    let told = problem.objectives.bin(4, pack.chargers[at].hours);
                    assert!((0..=1).contains(&(bin - told)), "{of}: {told} steps told, {bin} taken");
                    let (others, edge) = ((0..own.len()).filter(|other| *other != at), u32::from(told < bin));
                    // At an edge two may be kept of which one would do.
                    assert!(edge > 0 || others.into_iter().all(|other| !betters(other) || own[other] == bin), "{of} is kept for nothing");
                    (kept, at_an_edge) = (kept + 1, at_an_edge + edge);
                    continue;
                }
                let fits = !charger_over_pack(full_v, record.output_min_v) && !charger_under_pack(full_v, record.output_max_v);
                assert!(!fits || (0..own.len()).any(betters), "{of} was left out");
                bettered += u32::from(fits);
            }
        }
    }
    assert!(kept > 100 && bettered > 300 && 5 * at_an_edge < kept, "{kept} kept, {at_an_edge} at an edge, {bettered} bettered");
}

/// What is told of one voltage holds for all between the same limits: at each of them, just beside it and between.
#[test]
fn a_voltage_feeds_the_drives_that_take_it() {
    let Proof { space, .. } = Proof::of("whimbrel-9-a");
    let feeding = Feeding::of(&space.groups);
    let all: u64 = space.groups.iter().map(|g| g.drives.len() as u64).sum();
    let limits = space.groups.iter().flat_map(|g| [g.controller_max_v, g.motor_max_v, g.min_v]).filter(|v| v.is_finite());
    let beside = limits.flat_map(|v| [v, v * (1.0 - 1e-9), v * (1.0 + 1e-9)]).chain((0..400).map(|i| 3.0 * f64::from(i)));
    let (mut some, mut none) = (0, 0);
    for volts in beside {
        let takes = |g: &&crate::matching::groups::Group| volts <= g.controller_max_v && volts <= g.motor_max_v && volts >= g.min_v;
        let (fed, own) = (feeding.at(volts), space.groups.iter().filter(takes));
        let (mut drives, mut voltages, mut least) = (0, Vec::new(), f64::INFINITY);
        for group in own {
            drives += group.drives.len() as u64;
            voltages.push(group.voltages);
            least = least.min(group.least_price);
        }
        voltages.sort_unstable();
        voltages.dedup();
        assert_eq!((fed.drives, &*fed.voltages, fed.least_price), (drives, &*voltages, least), "at {volts} V");
        assert_eq!(fed.drives + fed.cut.iter().map(|(_, count)| count).sum::<u64>(), all, "at {volts} V");
        *(if drives > 0 { &mut some } else { &mut none }) += 1;
    }
    assert!(some > 50 && none > 50, "{some} voltages feed drives, {none} feed none");
}
