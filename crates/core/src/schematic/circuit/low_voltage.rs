//! The 12 V side: its bus, battery, the chain that lets the contactors close, and every load behind its fuse.

use super::build::{Builder, New, Run};
use super::{CircuitKind, Symbol};
use crate::document::Slot;
use crate::electrics::cable::{Cable, least_cable};
use crate::electrics::fuse::least_fuse_a;
use crate::electrics::low_voltage::BATTERY_V;
use crate::limits::{FUSE_BURST, FUSE_MARGIN};
use crate::quantity::{Sentence, figure, load_w, sentence};
use crate::schematic::lines::amps;

const L: CircuitKind = CircuitKind::LowVoltage;
/// Share of its voltage that a wire may lose (common practice).
const MOST_DROP: f64 = 0.03;
/// Length of a wire, one way, the chassis leading back: closed and open vehicles, m (a guess until places are known).
const LENGTH_M: (f64, f64) = (4.0, 1.5);

fn run(cable: Option<Cable>, length_m: f64, fuse: Option<&str>) -> Run {
    Run { circuit: L, cores: 1, cable, length_m, fuse: fuse.map(str::to_owned), three_phase: false }
}

/// The least wire for a fuse and a load.
fn wire_for(b: &Builder<'_>, fuse_a: f64, load_a: f64, length_m: f64) -> Option<Cable> {
    least_cable(b.s.said.series, fuse_a, MOST_DROP * BATTERY_V / (load_a.max(0.1) * length_m), &b.s.here)
}

fn fuse_of(load_a: f64) -> f64 {
    least_fuse_a(load_a, 0.0, FUSE_BURST).unwrap_or(FUSE_MARGIN * load_a)
}

fn symbol_of(id: &str, name: &str) -> Symbol {
    let words = format!("{id} {name}").to_lowercase();
    let any = |all: &[&str]| all.iter().any(|w| words.contains(w));
    if any(&["beam", "lamp", "tail", "light"]) {
        Symbol::Lamp
    } else if any(&["pump", "fan", "blower", "wiper", "steering", "booster"]) {
        Symbol::Pump
    } else if any(&["screen", "heat"]) {
        Symbol::Heater
    } else {
        Symbol::Consumer
    }
}

/// The 12 V side, behind a converter where there is one.
pub(super) fn low_voltage(b: &mut Builder<'_>, converter: Option<&str>) {
    let s = b.s;
    let length_m = if s.document.donor.kind.is_closed() { LENGTH_M.0 } else { LENGTH_M.1 };
    let most_w = s.situations.iter().map(|x| x.most_w).fold(0.0, f64::max);
    let supply_w = s.converter_w().unwrap_or(s.worst().mean_w);
    let bus = b.add("X", New::of(Symbol::Bus, "12 V distribution", sentence!("{}", load_w(most_w, 0)), L));
    let supply_a = supply_w / BATTERY_V;
    let battery_fuse_a = fuse_of(most_w / BATTERY_V);
    let fuse = b.add("F", New::of(Symbol::Fuse, "Battery fuse", sentence!("{}", amps(battery_fuse_a)), L));
    if let Some(converter) = converter {
        // The battery feeds a short circuit in it, through its own fuse.
        b.wire(converter, &bus, run(wire_for(b, battery_fuse_a.max(supply_a), supply_a, 1.0), 1.0, Some(&fuse)));
    }
    let cable = wire_for(b, battery_fuse_a, most_w / BATTERY_V, 0.5);
    b.wire(&bus, &fuse, run(cable.clone(), 0.5, Some(&fuse)));
    let battery = New::of(Symbol::Battery, "12 V battery", sentence!("{}", figure(s.auxiliary_ah, "Ah", 0)), L)
        .sized_by(if converter.is_some() { "battery" } else { "alone" });
    let battery = b.troubled(battery, |f| f.rule == crate::findings::Rule::BatteryEmpties);
    let battery = b.add("G", battery);
    b.wire(&fuse, &battery, run(cable, 0.5, Some(&fuse)));
    contactor_chain(b, &bus, length_m);
    for load in &s.loads {
        // The coils hang on their chain.
        if load.id == "contactors" {
            continue;
        }
        let load_a = load.draws_w / BATTERY_V;
        let fuse_a = fuse_of(load_a);
        let fuse = b.add("F", New::of(Symbol::Fuse, format!("{} fuse", load.name), sentence!("{}", amps(fuse_a)), L));
        let cable = wire_for(b, fuse_a, load_a, length_m);
        b.bar(&bus, &fuse);
        let mut consumer = New::of(symbol_of(&load.id, &load.name), load.name.clone(), sentence!("{}", load_w(load.draws_w, 0)), L);
        if load.id == "vacuum" || load.id == "booster" {
            let line = if s.vacuum.is_some() { "recovery" } else { "" };
            consumer = b.place(consumer.sized_by(line), Slot::BrakeAssistance);
        }
        let consumer = b.add("E", consumer);
        b.wire(&fuse, &consumer, run(cable, length_m, Some(&fuse)));
    }
}

/// Key, emergency stop, inertia switch and interlock loop in a row: each opens the contactors.
fn contactor_chain(b: &mut Builder<'_>, bus: &str, length_m: f64) {
    let coils_w = b.s.loads.iter().find(|l| l.id == "contactors").map_or_else(|| b.s.document.design.coils_w(), |l| l.draws_w);
    let fuse_a = fuse_of(coils_w / BATTERY_V);
    let fuse = b.add("F", New::of(Symbol::Fuse, "Contactor fuse", sentence!("{}", amps(fuse_a)), L));
    let cable = wire_for(b, fuse_a, coils_w / BATTERY_V, length_m);
    b.bar(bus, &fuse);
    let mut before = fuse.clone();
    let chain: [(Symbol, &str, Sentence); 4] = [
        (Symbol::KeySwitch, "Key", "drive".into()),
        (Symbol::EmergencyStop, "Emergency stop", "in reach of the seat".into()),
        (Symbol::BreakContact, "Inertia switch", "opens in a crash".into()),
        (Symbol::BreakContact, "Interlock loop", "opens with any cover or plug".into()),
    ];
    for (symbol, name, rating) in chain {
        let next = b.add("S", New::of(symbol, name, rating, L));
        b.wire(&before, &next, run(cable.clone(), length_m / 4.0, Some(&fuse)));
        before = next;
    }
    let coils = New::of(Symbol::Coil, "Contactor coils", sentence!("{}", load_w(coils_w, 0)), L).unlisted();
    let coils = b.add("KC", coils);
    b.wire(&before, &coils, run(cable, 1.0, Some(&fuse)));
}
