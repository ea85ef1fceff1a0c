//! Chargers that a search gives a pack, against the whole charge with each of the library.

use super::proof::{Proof, spread};
use crate::charge::charge;
use crate::document::{Answers, Document, VehicleKind};
use crate::figures::FigureKind;
use crate::limits::{charger_over_pack, charger_under_pack};
use crate::matching::configuration::Configuration;
use crate::matching::packs::ChargerSide;

/// Each charger that is left out does not fit, or one that is kept is as cheap, as light and as fast in the steps that count; the steps of those
/// that are kept are those of the whole charge, or at an edge the one before.
#[test]
fn whatever_charger_is_left_out_another_betters() {
    let (mut kept, mut at_an_edge, mut bettered) = (0, 0, 0);
    for kind in VehicleKind::ALL {
        let document = Document::starter("Chargers", kind, &Answers::default()).checked().expect("sound");
        let Proof { problem, space, .. } = Proof::of_document(&document);
        let Some(FigureKind::Charge(socket)) = problem.objectives.kinds[4] else { continue };
        let drivetrain = space.drivetrains[space.drive(0).drivetrain as usize].configuration;
        for i in 0..12 {
            let pack = &space.packs[spread(i + 1, 0.217, space.packs.len())];
            for (place, charger) in (0u16..).zip(&problem.chargers) {
                let Some(record) = charger.as_ref().map(|c| &c.counted) else { continue };
                let own = Configuration { module: pack.module, series: pack.series, parallel: pack.parallel, charger: place, ..drivetrain };
                let with = problem.document(&own);
                let session = charge(&with, &pack.model, &document.brief.sockets[socket], pack.model.soc_min, pack.model.soc_max);
                let bin = problem.objectives.bin(4, session.and_then(|s| s.hours_h).unwrap_or(f64::INFINITY));
                let told = |side: &ChargerSide| problem.objectives.bin(4, side.hours);
                if let Some(side) = pack.chargers.iter().find(|side| side.place == place) {
                    assert!((0..=1).contains(&(bin - told(side))), "{kind:?}: {} on {} in series", record.name, pack.series);
                    (kept, at_an_edge) = (kept + 1, at_an_edge + u32::from(told(side) < bin));
                    continue;
                }
                let full_v = pack.model.full_v;
                let fits = !charger_over_pack(full_v, record.output_min_v) && !charger_under_pack(full_v, record.output_max_v);
                let betters = |side: &ChargerSide| side.price <= record.price && side.mass_kg <= record.mass_kg && told(side) <= bin;
                assert!(!fits || pack.chargers.iter().any(betters), "{kind:?}: {} was left out of {} in series", record.name, pack.series);
                bettered += u32::from(fits);
            }
        }
    }
    assert!(kept > 100 && bettered > 100 && 5 * at_an_edge < kept, "{kept} kept, {at_an_edge} at an edge, {bettered} bettered");
}
