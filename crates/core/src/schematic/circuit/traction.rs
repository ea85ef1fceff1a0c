//! The trunk from the pack to the bus, and what hangs on the bus.

use super::build::{Builder, New, Run};
use super::{CircuitKind, Symbol};
use crate::document::{HAZARDOUS_V, Item, ItemKind, LowVoltageSupply, MotorPlace, Slot, SocketKind};
use crate::electrics::FOR_HOURS;
use crate::electrics::cable::Cable;
use crate::electrics::fuse::least_fuse_a;
use crate::electrics::precharge::bleeder_ohm;
use crate::layout::CableKind;
use crate::limits::{FUSE_BURST, FUSE_MARGIN};
use crate::quantity::{Sentence, electric_kw, figure, load_w, sentence};
use crate::schematic::lines::amps;

/// Share of the traction cable on each stretch before the bus; the rest leads to the controllers (a guess until places are known).
const STRETCH: f64 = 0.1;
/// Signal wires, m (a guess until places are known).
const SIGNAL_M: f64 = 2.0;

/// From the bus to a fuse beside it, from the charger to its inlet and from the bus to the converter, m (guesses until places are known).
const TAP_M: f64 = 0.2;
const INLET_M: f64 = 2.0;
const CONVERTER_M: f64 = 1.0;

/// The bus, and the fuse before it.
pub(super) struct Bus {
    pub(super) id: String,
    pub(super) fuse: String,
}

fn run(circuit: CircuitKind, cable: Option<Cable>, length_m: f64, fuse: Option<&str>) -> Run {
    Run { circuit, cores: 2, cable, length_m, fuse: fuse.map(str::to_owned), three_phase: false }
}

fn signal(cores: u32, length_m: f64) -> Run {
    Run { circuit: CircuitKind::Signal, cores, cable: None, length_m, fuse: None, three_phase: false }
}

/// Pack, fuse, disconnect, contactors with precharge, cable and bus.
pub(super) fn traction(b: &mut Builder<'_>) -> Bus {
    const T: CircuitKind = CircuitKind::Traction;
    let s = b.s;
    let design = &s.document.design;
    let full_v = s.full_v();
    let volts = figure(full_v, "V", 0);
    let cable = s.cable().cloned();
    let stretch = |fuse: Option<&str>| run(T, cable.clone(), 0.5 * STRETCH * s.length_m, fuse);

    let rating = sentence!("{}, full {}", figure(s.chain.pack.nominal_v, "V", 0), volts.clone());
    let mut pack = New::of(Symbol::Battery, "Traction pack", rating, T);
    if let Some(p) = &design.pack {
        let modules = p.modules().next().map_or("", |m| m.name.as_str());
        let items: Vec<Item<'_>> = design.items().into_iter().filter(|i| i.kind == ItemKind::Module).collect();
        let others = if p.added_strings.is_empty() { "" } else { " and others" };
        let name = format!("{} × {modules}{others}", items.iter().map(|i| i.count).sum::<f64>());
        pack = pack.record(&name, items.iter().map(Item::total_kg).sum(), items.iter().map(Item::total_price).sum());
    }
    let pack = b.link(pack, "pack");
    let pack = b.add("G", pack);

    let fuse = New::of(Symbol::Fuse, "Pack fuse", sentence!("{}, {} DC", amps(s.fuse_a), volts.clone()), T).sized_by("fuse");
    let fuse = b.place(fuse, Slot::PackFuse);
    let fuse = b.add("F", fuse);
    // The stretch between pack and fuse is the one that nothing protects: short, double insulated.
    b.wire(&pack, &fuse, stretch(None));

    let disconnect = New::of(Symbol::Disconnector, "Service disconnect", sentence!("{}, {}", amps(s.fuse_a), volts.clone()), T);
    let disconnect = b.place(disconnect.sized_by("disconnect"), Slot::Disconnect);
    let disconnect = b.add("Q", disconnect);
    b.wire(&fuse, &disconnect, stretch(Some(&fuse)));

    let both = full_v > HAZARDOUS_V;
    let rating = sentence!("{}, {} peak", amps(s.rms_a), amps(s.peak_a));
    let first = New::of(Symbol::Contactor, if both { "Main contactor +" } else { "Main contactor" }, rating.clone(), T);
    let first = b.place(first.sized_by("contactor"), Slot::MainContactor).times(1.0);
    let first = b.add("K", first);
    b.wire(&disconnect, &first, stretch(Some(&fuse)));

    let resistor =
        New::of(Symbol::Resistor, "Precharge", sentence!("{} Ω", figure(s.precharge.resistor_ohm, "", 0)), T).sized_by("resistor");
    let resistor = b.add("R", resistor);
    let relay = New::of(Symbol::Contactor, "Precharge relay", sentence!("{}", figure(full_v / s.precharge.resistor_ohm, "A", 1)), T)
        .sized_by("pulse");
    let relay = b.add("K", relay);
    let bypass = || run(T, s.tap_for(full_v / s.precharge.resistor_ohm, 1.0), 0.3, Some(&fuse));
    let one = |r: Run| Run { cores: 1, ..r };
    b.wire(&first, &resistor, one(bypass()));
    b.wire(&resistor, &relay, one(bypass()));

    let mut before = first.clone();
    if both {
        let second = New::of(Symbol::Contactor, "Main contactor −", rating, T).sized_by("contactor");
        let second = b.place(second, Slot::MainContactor).times(1.0);
        let second = b.add("K", second);
        b.wire(&before, &second, stretch(Some(&fuse)));
        before = second;
    }
    b.closing(&relay, &before, one(bypass()));

    let name = cable.as_ref().map_or_else(String::new, |c| c.name.clone());
    let length = New::of(Symbol::Cable, "Traction cable", sentence!("{}, {}", &name, figure(s.length_m, "m", 1)), T).sized_by("cable");
    let length = b.place(length, Slot::TractionCable);
    let length = b.add("W", length);
    b.wire(&before, &length, stretch(Some(&fuse)));

    let bus = b.add("X", New::of(Symbol::Bus, "Distribution", sentence!("{}", volts), T));
    b.wire(&length, &bus, stretch(Some(&fuse)));

    // By hand nothing is wired for it; lead-acid has none unless somebody chose it.
    let by_hand = s.said.hand_checked_every.is_some();
    if let Some(p) = design.pack.as_ref().filter(|p| design.monitored() || p.has_lithium() && !by_hand) {
        let cells = p.cells_in_series();
        let monitor = New::of(Symbol::Monitor, "Cell monitoring", sentence!("{} cells", cells), CircuitKind::Signal);
        let monitor = b.place(monitor.sized_by("monitoring"), Slot::Monitor);
        let monitor = b.add("B", monitor);
        b.wire(&pack, &monitor, signal(cells + 1, 1.0));
    }
    Bus { id: bus, fuse }
}

/// Controllers with motors and throttle, charger, stations, heater, discharge and converter, whose designation it gives.
pub(super) fn branches(b: &mut Builder<'_>, bus: &Bus) -> Option<String> {
    drives(b, bus);
    charging(b, bus);
    let s = b.s;
    let full_v = s.full_v();
    if let Some(watts) = s.said.heating_w {
        let length_m = s.placed_m(CableKind::Heater).unwrap_or(0.5 * s.length_m);
        let fuse = fuse_for(b, s.drawn_a(watts), length_m, bus, "Heater fuse");
        let heater =
            New::of(Symbol::Heater, "Heater", sentence!("{}", electric_kw(watts / 1000.0, 1)), CircuitKind::Traction).sized_by("heater");
        let heater = b.place(heater, Slot::Heater);
        let heater = b.add("E", heater);
        b.wire(&fuse.0, &heater, run(CircuitKind::Traction, fuse.1, length_m, Some(&fuse.0)));
    }
    if let Some(ohm) = bleeder_ohm(full_v, s.capacitance_f) {
        let rating = sentence!("{} Ω, when open", figure(ohm, "", 0));
        let bleeder = b.add("R", New::of(Symbol::Resistor, "Discharge", rating, CircuitKind::Traction).sized_by("bleeder"));
        b.wire(&bus.id, &bleeder, run(CircuitKind::Traction, s.tap_for(full_v / ohm, 1.0), 0.5, Some(&bus.fuse)));
    }
    if s.said.supply == LowVoltageSupply::Battery {
        return None;
    }
    let watts = s.converter_w().unwrap_or_else(|| s.converter_needed_w());
    let length_m = s.placed_m(CableKind::Converter).unwrap_or(CONVERTER_M);
    let drawn_a = s.drawn_a(watts / s.document.design.low_voltage.converter_efficiency);
    let fuse = fuse_for(b, drawn_a, length_m, bus, "Converter fuse");
    let converter =
        New::of(Symbol::Chopper, "Converter", sentence!("{}, 12 V", load_w(watts, 0)), CircuitKind::Traction).sized_by("converter");
    let converter = b.place(converter, Slot::Converter);
    let converter = b.add("T", converter);
    b.wire(&fuse.0, &converter, run(CircuitKind::Traction, fuse.1, length_m, Some(&fuse.0)));
    Some(converter)
}

/// A fuse on the bus for a current of hours, and the cable of some metres behind it.
fn fuse_for(b: &mut Builder<'_>, current_a: f64, length_m: f64, bus: &Bus, name: &str) -> (String, Option<Cable>) {
    let rating_a = least_fuse_a(current_a, 0.0, FUSE_BURST).unwrap_or(FUSE_MARGIN * current_a);
    let rating = sentence!("{}, {} DC", amps(rating_a), figure(b.s.full_v(), "V", 0));
    let fuse = b.add("F", New::of(Symbol::Fuse, name, rating, CircuitKind::Traction));
    b.wire(&bus.id, &fuse, run(CircuitKind::Traction, b.s.tap_for(rating_a, TAP_M), TAP_M, Some(&bus.fuse)));
    (fuse, b.s.cable_for(rating_a, 2.0 * length_m))
}

fn drives(b: &mut Builder<'_>, bus: &Bus) {
    const T: CircuitKind = CircuitKind::Traction;
    let s = b.s;
    let design = &s.document.design;
    let (Some(controller), Some(motor)) = (&design.controller, &design.motor) else { return };
    let three_phase = motor.kind.is_three_phase();
    // Several controllers on fewer motors work as one; several motors on one controller share it.
    let drives = design.controller_count.min(design.motor_count).max(1);
    // Of what does not divide the first ones have one more.
    let share = |of: u32, drive: u32| of / drives + u32::from(drive < of % drives);
    let mut throttled: Option<String> = None;
    let to_each_m = 0.5 * (1.0 - 6.0 * STRETCH).max(STRETCH) * s.length_m / f64::from(drives);
    for drive in 0..drives {
        let rating = sentence!("{}, up to {}", amps(controller.battery_current_a), figure(controller.max_voltage_v, "V", 0));
        let symbol = if three_phase { Symbol::Inverter } else { Symbol::Chopper };
        let unit = New::of(symbol, "Controller", rating, T).record(&controller.name, controller.mass_kg, controller.price);
        let unit = b.link(unit.times(f64::from(share(design.controller_count, drive))), "controller");
        let unit = b.add("T", unit);
        b.wire(&bus.id, &unit, run(T, s.cable().cloned(), to_each_m, Some(&bus.fuse)));
        let motor_cable = s.motor_cable_a().and_then(|a| s.cable_for(a, s.phase_m));
        for _ in 0..share(design.motor_count, drive) {
            let symbol = if three_phase { Symbol::MotorAc } else { Symbol::MotorDc };
            let rating = sentence!("{} for hours", electric_kw(motor.continuous_power_w / 1000.0, 1));
            let machine = New::of(symbol, "Motor", rating, T).record(&motor.name, motor.mass_kg, motor.price).sized_by("motor_cable");
            let machine = b.link(machine, "motor");
            let machine = b.add("M", machine);
            let cores = if three_phase { 3 } else { 2 };
            b.wire(&unit, &machine, Run { circuit: T, cores, cable: motor_cable.clone(), length_m: s.phase_m, fuse: None, three_phase });
        }
        match &throttled {
            None => {
                let rating = s.said.fitted.throttle.as_ref().and_then(|c| c.signal).map_or_else(Sentence::default, |s| s.word().into());
                let throttle = New::of(Symbol::Sender, "Throttle", rating, CircuitKind::Signal).sized_by("throttle");
                let throttle = b.place(throttle, Slot::Throttle);
                let throttle = b.add("B", throttle);
                b.wire(&unit, &throttle, signal(3, SIGNAL_M));
                throttled = Some(unit);
            }
            // The others follow the first.
            Some(first) => {
                let apart_m = if design.motor_place == MotorPlace::Shaft { 0.5 } else { SIGNAL_M };
                b.closing(&first.clone(), &unit, signal(2, apart_m));
            }
        }
    }
}

fn charging(b: &mut Builder<'_>, bus: &Bus) {
    const C: CircuitKind = CircuitKind::Charge;
    let s = b.s;
    if let (Some(charger), Some(fuse_a)) = (&s.document.design.charger, s.charge_fuse_a) {
        let rating = sentence!("{}, {} DC", amps(fuse_a), figure(s.full_v(), "V", 0));
        let fuse = b.place(New::of(Symbol::Fuse, "Charge fuse", rating, C).sized_by("charge_fuse"), Slot::ChargeFuse);
        let fuse = b.add("F", fuse);
        let cable = s.cable_for(fuse_a.max(FOR_HOURS * charger.output_current_a), s.charge_m);
        b.wire(&bus.id, &fuse, run(C, s.tap_for(fuse_a, TAP_M), TAP_M, Some(&bus.fuse)));
        let rating = sentence!("{}, {}", electric_kw(charger.output_power_w / 1000.0, 1), amps(charger.output_current_a));
        let unit =
            New::of(Symbol::Rectifier, "Charger", rating, C).record(&charger.name, charger.mass_kg, charger.price).sized_by("charge_cable");
        let unit = b.link(unit, "charger");
        let unit = b.add("T", unit);
        b.wire(&fuse, &unit, run(C, cable, 0.5 * s.charge_m, Some(&fuse)));
        if let Some((amps_a, volts)) = s.inlet {
            let rating = sentence!("{}, {}", amps(amps_a), figure(volts, "V", 0));
            let inlet = b.place(New::of(Symbol::Inlet, "Charge inlet", rating, C).sized_by("inlet"), Slot::ChargeInlet);
            let inlet = b.add("X", inlet);
            // What guards it is the socket's own circuit: it bears that, and what the charger draws for hours with a quarter more.
            let circuits = s.document.brief.sockets.iter().filter(|x| x.kind == SocketKind::Ac).map(|x| x.current_a);
            let length_m = s.placed_m(CableKind::Mains).unwrap_or(INLET_M);
            let cable = s.cable_for(circuits.fold(FOR_HOURS * amps_a, f64::max), 2.0 * length_m);
            b.wire(&unit, &inlet, Run { cores: 3, ..run(C, cable, length_m, None) });
        }
    }
    if let Some((amps_a, volts)) = s.fast_inlet {
        let rating = sentence!("{}, {}", amps(amps_a), figure(volts, "V", 0));
        let contactors = New::of(Symbol::Contactor, "Station contactors", rating.clone(), C).times(2.0).sized_by("fast_inlet");
        let contactors = b.add("K", contactors);
        let length_m = s.placed_m(CableKind::Station).unwrap_or(0.5 * s.charge_m);
        let cable = s.tap_for(amps_a, 2.0 * length_m);
        b.wire(&bus.id, &contactors, run(C, cable.clone(), TAP_M, Some(&bus.fuse)));
        let inlet = b.place(New::of(Symbol::Inlet, "Fast-charge inlet", rating, C).sized_by("fast_inlet"), Slot::FastInlet);
        let inlet = b.add("X", inlet);
        b.wire(&contactors, &inlet, run(C, cable, length_m, Some(&bus.fuse)));
    }
}
