//! The hours of a charge told from a few steps, against the charge itself.

use super::{charge, charge_hours};
use crate::document::{Checked, Document, Pack};
use crate::library::{Part, builtin};
use crate::pack::PackModel;
use crate::vehicle::Conditions;

/// What holds a charge back differs with all of these: mains and station, cells in the cold, tapers that end at once or never, a window
/// that ends before the taper and one that ends full.
#[test]
fn hours_told_from_a_few_steps_hold_those_of_the_charge() {
    let path = format!("{}/../../demo/whimbrel-9-a.json", env!("CARGO_MANIFEST_DIR"));
    let van: Checked = Document::from_json(&std::fs::read(path).expect("a demo")).expect("sound");
    let own = van.design.pack.clone().expect("a pack");
    let modules = builtin().iter().filter_map(|p| if let Part::Module(m) = p { Some(m) } else { None });
    let chargers: Vec<_> = builtin().iter().filter_map(|p| if let Part::Charger(c) = p { Some(c) } else { None }).collect();
    let (mut filled, mut unfilled, mut looser) = (0, 0, 0);
    for (i, module) in modules.enumerate() {
        for charger in chargers.iter().skip(i % 3).step_by(3) {
            // As many in series as the charger ends at, or a few fewer.
            let each_v = f64::from(module.cells_in_series) * module.full_voltage_v;
            let series = ((charger.output_max_v / each_v) as u32).saturating_sub(i as u32 % 2).max(1);
            let pack = Pack { module: module.clone(), modules_in_series: series, strings_in_parallel: 1 + i as u32 % 4, ..own.clone() };
            let document = van.with_sound(|d| (d.design.pack, d.design.charger) = (Some(pack.clone()), Some((*charger).clone())));
            for (day_c, window) in [(20.0, (0.1, 1.0)), (Conditions::of(&van).pack_temperature_c, (0.2, 0.9)), (-5.0, (0.0, 0.97))] {
                let model = PackModel::of(&pack, &van.design.wiring, day_c);
                for socket in &van.brief.sockets {
                    let whole = charge(&document, &model, socket, window.0, window.1).and_then(|s| s.hours_h);
                    for share in [0.2, 0.04, 0.004] {
                        let (least, most) =
                            charge_hours((module, Some(charger)), &model, socket, window, |least, most| most <= least * (1.0 + share));
                        let of = format!("{} x{series} with {} at {day_c} degC, {}", module.name, charger.name, socket.name);
                        let Some(hours) = whole else {
                            assert!(least.is_infinite(), "{of}: never full, told {least}");
                            unfilled += 1;
                            continue;
                        };
                        assert!(least <= hours && hours <= most, "{of}: {hours} h, told {least} to {most}");
                        assert!(most <= least * (1.0 + share) * (1.0 + 3e-9), "{of}: told {least} to {most}");
                        filled += 1;
                        looser += i32::from(most > least * (1.0 + 1e-6));
                    }
                }
            }
        }
    }
    assert!(filled > 5000 && unfilled > 500 && looser > 2000, "{filled} filled, {unfilled} not, {looser} told from fewer steps");
}
