//! Single published figures, each beside its source; each prints got, want and difference.

use crate::common::{check, plain, read, with};
use joulethesis_core::document::{Pack, Wiring};
use joulethesis_core::library::{Chemistry, Module};
use joulethesis_core::pack::temperature::{charge_share, factors};
use joulethesis_core::pack::{PackModel, Strings};
use joulethesis_core::powertrain::heat::ThermalModel;
use joulethesis_core::quantity::units::convert;
use joulethesis_core::report::report;
use joulethesis_core::vehicle::air::{density_kg_m3, standard_pressure_pa};
use serde_json::{Value, json};

/// US Standard Atmosphere 1976, table of geometric heights: temperature, pressure and density.
#[test]
fn us_standard_atmosphere_1976() {
    for (metres, celsius, pascal, density) in [
        (0.0, 15.0, 101_325.0, 1.2250),
        (500.0, 11.75, 95_461.0, 1.1673),
        (1000.0, 8.5, 89_876.0, 1.1117),
        (1500.0, 5.25, 84_560.0, 1.0581),
        (2000.0, 2.0, 79_501.0, 1.0066),
        (3000.0, -4.5, 70_121.0, 0.9093),
    ] {
        check(&format!("pressure at {metres} m"), standard_pressure_pa(metres), pascal, 4e-4);
        check(&format!("density at {metres} m"), density_kg_m3(metres, celsius), density, 4e-4);
    }
}

/// NIST Special Publication 811 (2008), appendix B.9.
#[test]
fn nist_sp_811() {
    for (value, from, to, want) in [
        (1.0, "mi", "km", 1.609_344),
        (1.0, "lb·ft", "N·m", 1.355_818),
        (1.0, "kgf·m", "N·m", 9.806_65),
        (1.0, "hp", "W", 745.699_9),
        (1.0, "kn", "m/s", 0.514_444_4),
        (1.0, "MJ", "kWh", 1.0 / 3.6),
        (212.0, "°F", "°C", 100.0),
    ] {
        check(&format!("{value} {from} in {to}"), convert(value, from, to).expect("known"), want, 2e-7);
    }
}

fn module(chemistry: &str, ah: f64, hours: f64, peukert: Option<f64>) -> Module {
    let d = with(plain(), "/design/pack/module/chemistry", json!(chemistry));
    let d = with(d, "/design/pack/module/capacity_ah", json!(ah));
    let d = with(d, "/design/pack/module/rated_hours", json!(hours));
    let d = with(d, "/design/pack/module/peukert_exponent", json!(peukert));
    read(&d).into_written().design.pack.expect("a pack").module
}

fn pack_of(module: Module, in_series: u32, in_parallel: u32) -> Pack {
    let mut pack = read(&plain()).into_written().design.pack.expect("a pack");
    pack.module = module;
    (pack.modules_in_series, pack.strings_in_parallel) = (in_series, in_parallel);
    pack
}

/// Peukert's law. Larminie and Lowry, 2nd ed., section 2.12 (from memory): a battery of 42 Ah at ten hours with k = 1.107 lasts as if
/// it held 34 Ah at 30 A. And the trade's own check of an exponent: capacity at twice the current is 2^(1-n) of itself.
#[test]
fn peukert() {
    let hours = |module: Module, amps: f64| {
        let pack = PackModel::of(&pack_of(module, 6, 1), &Wiring::default(), 25.0);
        pack.capacity_a_s / 3600.0 / pack.counted_a(amps)
    };
    let battery = || module("lead_agm", 42.0, 10.0, Some(1.107));
    check("hours at 4.2 A", hours(battery(), 4.2), 10.0, 1e-12);
    check("Ah at 30 A", 30.0 * hours(battery(), 30.0), 34.0, 0.01);
    // Cp = I^k t is the same at both rates: 4.2^1.107 x 10 = 49.
    check("Peukert capacity", 30f64.powf(1.107) * hours(battery(), 30.0), 49.0, 0.01);
    check(
        "Ah at twice the current, n 1.2",
        2.0 * hours(module("lead_flooded", 100.0, 20.0, None), 20.0) / hours(module("lead_flooded", 100.0, 20.0, None), 10.0),
        2f64.powf(-0.2),
        1e-9,
    );
}

/// IEC 60028: annealed copper 17.241 mohm for 1 m of 1 mm2 at 20 degC. ASTM B258: AWG 4/0 is 11.684 mm across (107.2 mm2); NEC chapter 9
/// table 8 gives it 0.0608 ohm/kft at 75 degC (from memory), brought to 20 degC here with 0.00393 /K (IEC 60028).
#[test]
fn copper() {
    let ohm = |length_m: f64, mm2: f64| {
        let wiring = Wiring { cable_length_m: Some(length_m), cable_section_mm2: Some(mm2), ..Wiring::default() };
        PackModel::of(&pack_of(module("nmc", 100.0, 1.0, None), 100, 1), &wiring, 25.0).resistance_ohm
    };
    check("1 m of 1 mm2", ohm(1.0, 1.0), 0.017_241, 1e-9);
    let awg = |n: f64| std::f64::consts::FRAC_PI_4 * (0.127 * 92f64.powf((36.0 - n) / 39.0)).powi(2);
    check("section of 4/0 AWG, mm2", awg(-3.0), 107.2, 1e-3);
    for (name, n, nec) in
        [("4 AWG", 4.0, 0.308), ("2 AWG", 2.0, 0.194), ("1/0 AWG", 0.0, 0.122), ("2/0 AWG", -1.0, 0.0967), ("4/0 AWG", -3.0, 0.0608)]
    {
        let at_75 = ohm(304.8, awg(n)) * (1.0 + 0.00393 * 55.0);
        // Table 8 is for stranded wire, some 2 % longer in its lay than solid.
        check(&format!("{name}, ohm a thousand feet at 75 degC"), at_75, nec, 0.025);
    }
}

/// IEC 60034-1: continuous duty S1 and short-time duty S2 as two points of one heating curve; after one, two and three time constants a
/// body has covered 63.2, 86.5 and 95.0 % of its rise (any textbook on transients).
#[test]
fn heating_curve() {
    // Twice the load of a machine with copper losses only: four times the loss.
    let w = ThermalModel::of(100.0, 400.0, 60.0, 140.0, 40.0);
    for (taus, share) in [(1.0, 0.632_12), (2.0, 0.864_66), (3.0, 0.950_21)] {
        let mut rise = 0.0;
        for _ in 0..(taus * 1000.0) as u32 {
            rise = w.after(rise, 100.0, w.tau_s / 1000.0);
        }
        check(&format!("share of the rise after {taus} time constants"), rise, share, 1e-5);
    }
    check("twice the continuous load lasts its peak time", w.seconds_left(400.0, 0.0).expect("finite"), 60.0, 1e-12);
    // tau = -60 / ln(1 - 1/4) = 208.6 s; from half warm ln((4 - 0.5) / 3) of it is left.
    check("from half warm", w.seconds_left(400.0, 0.5).expect("finite"), 208.564 * (3.5_f64 / 3.0).ln(), 1e-4);
    check("ten minutes from cold", w.held_for(600.0, 0.0), 100.0 / (1.0 - (-600.0_f64 / 208.564).exp()), 1e-4);
}

/// Gillespie, Fundamentals of Vehicle Dynamics (1992), chapter 2 (from memory): power on a grade is weight times sine times speed. A
/// 1500 kg vehicle at 20 m/s on 6 % needs 17.6 kW for the grade alone; the model must hold just that grade with that power.
#[test]
fn grade_power() {
    let d = with(plain(), "/donor/test_mass_kg", json!(1500));
    let d = with(d, "/donor/rolling_coefficient", json!(0.001));
    let d = with(d, "/donor/drag_coefficient", json!(0.05));
    let d = with(d, "/donor/frontal_area_m2", json!(0.1));
    let power = 1500.0 * 9.806_65 * (0.06_f64.atan().sin() + 0.001 * 0.06_f64.atan().cos()) * 20.0 + 0.5 * 1.25 * 0.005 * 8000.0;
    let d = with(d, "/design/motor/model", json!({ "kind": "envelope", "peak_torque_nm": 2000, "peak_power_w": power }));
    let d = with(d, "/design/motor/continuous_power_w", json!(power));
    let d = with(d, "/brief/goals", json!([{ "id": "h", "measure": { "kind": "hill_at_speed", "speed_kmh": 72, "at_least_percent": 6 } }]));
    let hill = report(&read(&d)).expect("sound").performance.hills.at_speed.iter().find(|h| h.speed_kmh == 72.0).expect("asked").peak;
    check("W for the grade", power, 17_900.0, 0.01);
    check("grade held", hill.grade_percent, 6.0, 1e-6);
}

/// Common practice (no source): cold takes capacity and adds resistance; lithium takes no charge at freezing, titanate does.
#[test]
fn cold_cells() {
    for chemistry in [Chemistry::Lfp, Chemistry::Nmc, Chemistry::Lmo, Chemistry::Lipo, Chemistry::LeadAgm, Chemistry::Lto, Chemistry::Nimh]
    {
        assert_eq!(factors(chemistry, 25.0, 1.0), (1.0, 1.0), "{chemistry:?}");
        let mut last = factors(chemistry, -30.0, 1.0);
        for celsius in [-20.0, -10.0, 0.0, 5.0, 10.0, 15.0] {
            let now = factors(chemistry, celsius, 1.0);
            assert!(now.0 >= last.0 && now.1 <= last.1, "{chemistry:?} at {celsius}");
            last = now;
        }
    }
    assert_eq!(charge_share(Chemistry::Lfp, 0.0), 0.0);
    assert_eq!(charge_share(Chemistry::Lfp, 10.0), 1.0);
    assert_eq!(charge_share(Chemistry::Lto, 0.0), 1.0);
}

fn levelled(pack: &Pack) -> PackModel {
    PackModel::of(pack, &Wiring::default(), 25.0)
}

/// Kirchhoff: parallel strings share by conductance; equal ones added later are as if they had been there; a worn one lets the whole
/// carry less than the sum.
#[test]
fn strings_added_in_parallel() {
    let mut cell = module("nmc", 50.0, 1.0, None);
    cell.resistance_ohm = 0.001;
    let steps: Value = json!([{ "soc": 0, "volts_v": 3.2 }, { "soc": 0.4, "volts_v": 3.6 }, { "soc": 1, "volts_v": 4.1 }]);
    cell.ocv = serde_json::from_value(steps).expect("points");
    let two = levelled(&pack_of(cell.clone(), 20, 2));
    let mut grown = pack_of(cell.clone(), 20, 1);
    let strings = |module: Module| {
        serde_json::from_value(json!({ "module": module, "modules_in_series": 20, "strings_in_parallel": 1 })).expect("strings")
    };
    grown.added_strings = vec![strings(cell.clone())];
    let grown = levelled(&grown);
    for (what, got, want) in [
        ("resistance", grown.resistance_ohm, two.resistance_ohm),
        ("capacity", grown.capacity_a_s, two.capacity_a_s),
        ("peak", grown.peak_a, two.peak_a),
        ("volts at 0.3", grown.ocv_v(0.3), two.ocv_v(0.3)),
        ("volts at 0.75", grown.ocv_v(0.75), two.ocv_v(0.75)),
    ] {
        check(what, got, want, 1e-9);
    }
    // An old string of half the capacity and twice the resistance beside a new one: 75 Ah, 2/3 of the new one's resistance; at the
    // new one's limit it carries half of that one's current, which is its own limit too.
    let mut old = cell.clone();
    (old.capacity_share, old.resistance_factor) = (0.5, 2.0);
    let mut mixed = pack_of(cell.clone(), 20, 1);
    mixed.added_strings = vec![strings(old.clone())];
    let both = levelled(&mixed);
    check("mixed capacity, Ah", both.capacity_a_s / 3600.0, 75.0, 1e-9);
    check("mixed resistance", both.resistance_ohm, 20.0 * 0.001 * 2.0 / 3.0, 1e-9);
    check("mixed peak", both.peak_a, 1.5 * levelled(&pack_of(cell.clone(), 20, 1)).peak_a, 1e-9);
    // Twice as weak again without less capacity: now the new string binds first.
    old.resistance_factor = 4.0;
    mixed.added_strings = vec![strings(old)];
    let parts = Strings::of(&mixed, 25.0);
    check("the new string binds", levelled(&mixed).peak_a, parts[0].peak_a * 1.25, 1e-9);
}
