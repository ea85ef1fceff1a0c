//! Choices laid side by side: locked in each gear against shifting, the volts a speed needs, other windings of the same motor.

use serde::Serialize;

use super::ratio_sweep::{RatioPoint, ratio_sweep, sprint};
use crate::cancel::Cancel;
use crate::document::{Document, Measure};
use crate::error::{Error, Result};
use crate::figures::performance::{pulls, run_soc, top};
use crate::figures::trips;
use crate::inputs::Counted;
use crate::library::MotorModel;
use crate::powertrain::{Chain, GearPath, Rating};
use crate::quantity::crossing;
use crate::quantity::units::{KMH_PER_M_S, RAD_S_PER_RPM};
use crate::simulate::{ACCELERATION_STEP_M_S, Demands, ShiftPolicy, TractiveForce, hill_at_speed, quickest_s, top_speed};
use crate::vehicle::masses;

/// One use of the gears.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GearChoice {
    /// Gear it is locked in; absent for shifting.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub gear: Option<u32>,
    /// Range of the transfer box; absent for shifting in any.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub range: Option<u32>,
    /// Overall ratio of the gear, or of the first one.
    pub overall_ratio: f64,
    /// Time of the sprint, s; absent when never reached.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub sprint_s: Option<f64>,
    /// Top speed, km/h.
    pub top_speed_kmh: f64,
    /// Steepest start, percent.
    pub hill_start_percent: f64,
    /// Energy use on the first trip, Wh/km; absent without a trip, or when the gear cannot keep up with it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub wh_per_km: Option<f64>,
}

/// What a wanted speed asks of motor and pack in one gear.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SpeedNeed {
    /// Gear, from 1.
    pub gear: u32,
    /// Range of the transfer box, from 1.
    pub range: u32,
    /// Motor at that speed, rpm.
    pub motor_rpm: f64,
    /// Bus under the load of that speed on the level, V; absent when the pack cannot give it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub loaded_bus_v: Option<f64>,
    /// Speed a volt the motor must have at that bus, loaded, rpm/V.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub needed_rpm_per_v: Option<f64>,
    /// What it has under that load, rpm/V: its highest speed with this torque over the bus voltage.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub loaded_rpm_per_v: Option<f64>,
    /// What it has without load, the figure sellers state, rpm/V; absent for motors not given in volts.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub no_load_rpm_per_v: Option<f64>,
    /// Whether it gets there.
    pub reached: bool,
}

/// One winding of the same motor.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Winding {
    /// Turns over those of the record.
    pub turns: f64,
    /// Torque a motor amp, N m/A.
    pub torque_constant_nm_a: f64,
    /// Winding resistance, ohm.
    pub resistance_ohm: f64,
    /// Greatest motor current, A.
    pub peak_current_a: f64,
    /// Top speed, km/h.
    pub top_speed_kmh: f64,
    /// Time of the sprint, s; absent when never reached.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub sprint_s: Option<f64>,
    /// Steepest start, percent.
    pub hill_start_percent: f64,
}

/// Choices of one design.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Choices {
    /// Shifting first, then locked in each gear; only shifting when there is one gear.
    pub gears: Vec<GearChoice>,
    /// The speed `speed_needs` are for: that of the first top-speed goal, else 50 km/h.
    pub wanted_kmh: f64,
    /// What it asks of the motor in each gear.
    pub speed_needs: Vec<SpeedNeed>,
    /// Speeds of the sprint: those of the first acceleration goal, else 0 to 50 km/h.
    pub sprint_from_kmh: f64,
    /// Speed it ends at, km/h.
    pub sprint_to_kmh: f64,
    /// The design over the ratio of its driveline; empty without gears or stages.
    pub ratios: Vec<RatioPoint>,
    /// Windings compared; empty for motors whose record has none.
    pub windings: Vec<Winding>,
}

/// Turns compared, over those of the record.
const TURNS: [f64; 5] = [0.7, 0.85, 1.0, 1.2, 1.4];

/// Choices of a checked document.
///
/// # Errors
/// As [`super::estimate`].
pub fn choices(document: &Counted, cancel: &Cancel) -> Result<Choices> {
    let chain = Chain::of(document, masses(document).test_kg)?;
    let goal = document.brief.goals.iter().find_map(|g| match g.measure {
        Measure::TopSpeed { at_least_kmh } => Some(at_least_kmh),
        _ => None,
    });
    let wanted_kmh = goal.unwrap_or(50.0);
    let (sprint_from_kmh, sprint_to_kmh) = sprint(document);
    let speeds = (sprint_from_kmh / KMH_PER_M_S, sprint_to_kmh / KMH_PER_M_S);
    Ok(Choices {
        gears: gear_choices(document, &chain, speeds, cancel)?,
        wanted_kmh,
        speed_needs: chain.gears.iter().map(|g| speed_need(document, &chain, g, wanted_kmh / KMH_PER_M_S)).collect(),
        sprint_from_kmh,
        sprint_to_kmh,
        ratios: ratio_sweep(document, cancel)?,
        windings: windings(document, speeds, cancel)?,
    })
}

fn gear_choices(document: &Document, chain: &Chain, (from_m_s, to_m_s): (f64, f64), cancel: &Cancel) -> Result<Vec<GearChoice>> {
    let soc = run_soc(document, &chain.pack);
    let peak = chain.limits(soc, chain.low_voltage_w, Rating::Peak);
    let trip = trips::all(document).next();
    let on_trip = trip.as_ref().map(|t| Ok::<_, Error>((t, trips::chain(document, t)?))).transpose()?;
    let drive = |way: ShiftPolicy| {
        let (trip, chain) = on_trip.as_ref()?;
        let trace = trips::trace(document, chain, trip, trip.driving_style);
        let (way, start) = (ShiftPolicy { hvac_w: trip.hvac_w, ..way }, chain.pack.soc_max);
        let run = Demands::of(chain, &trace, way, (start, chain.pack.soc_min), cancel).run_while_followed(start);
        (!run.behind && run.distance_m > 0.0).then(|| run.battery_j() / 3.6 / run.distance_m)
    };
    let of = |gears: &[GearPath], gear: Option<&GearPath>| {
        let mut pulls = [TractiveForce::new(chain, gears, &peak, ACCELERATION_STEP_M_S)];
        let start = crate::simulate::hill_start_in(chain, gears, &peak);
        GearChoice {
            gear: gear.map(|g| g.gear),
            range: gear.map(|g| g.range),
            overall_ratio: gears[0].ratio,
            sprint_s: quickest_s(&mut pulls, from_m_s, to_m_s),
            top_speed_kmh: gears.iter().map(|g| top_speed(chain, g, &peak).speed_m_s).fold(0.0, f64::max) * KMH_PER_M_S,
            hill_start_percent: start.grade_percent,
            wh_per_km: drive(ShiftPolicy { gear: gear.map(|g| g.gear), transfer_range: gear.map(|g| g.range), hvac_w: 0.0 }),
        }
    };
    let mut choices = vec![of(chain.range(None), None)];
    if chain.gears.len() > 1 {
        choices.extend(chain.gears.iter().map(|g| of(std::slice::from_ref(g), Some(g))));
    }
    cancel.check()?;
    Ok(choices)
}

fn speed_need(document: &Document, chain: &Chain, gear: &GearPath, v_m_s: f64) -> SpeedNeed {
    let soc = run_soc(document, &chain.pack);
    let supply = chain.supply(soc, chain.low_voltage_w);
    let speed = v_m_s * gear.rad_per_m;
    let torque = chain.road.steady_n(v_m_s, 0.0) * gear.drive_nm_per_n;
    let power_w = (torque * speed + chain.motor.loss_w(torque, speed)) / chain.efficiency + supply.aux_w;
    let bus_v = chain.pack.under(supply.ocv_v, power_w).map(|t| t.volts_v);
    let rpm = |rad_s: f64| rad_s / RAD_S_PER_RPM;
    // The highest speed at which the curve still has this torque at this voltage; the curve falls with speed.
    let fastest = |bus_v: f64, torque: f64| {
        let highest = chain.motor.max_speed_rad_s;
        let over = |speed: f64| chain.motor.curve_nm(speed, bus_v) - torque;
        if over(highest) >= 0.0 { highest } else { crossing(0.0, highest, over).unwrap_or(0.0) }
    };
    let no_load = document.design.motor.as_ref().and_then(|m| match m.model {
        MotorModel::Constants { torque_constant_nm_a, resistance_ohm, no_load_current_a, .. } => {
            let volts = m.reference_voltage_v.unwrap_or(supply.ocv_v);
            Some(rpm((volts - no_load_current_a * resistance_ohm) / torque_constant_nm_a) / volts)
        }
        _ => None,
    });
    let loaded = bus_v.map(|v| fastest(v, torque));
    SpeedNeed {
        gear: gear.gear,
        range: gear.range,
        motor_rpm: rpm(speed),
        loaded_bus_v: bus_v,
        needed_rpm_per_v: bus_v.map(|v| rpm(speed) / v),
        loaded_rpm_per_v: bus_v.zip(loaded).map(|(v, w)| rpm(w) / v),
        no_load_rpm_per_v: no_load,
        reached: loaded.is_some_and(|w| w >= speed) && speed <= chain.motor.max_speed_rad_s,
    }
}

/// The same motor wound with other turns in the same slots: Ke with the turns, R with their square, amps with their inverse.
///
/// # Source
/// Copper of one cross-section divided among turns; e.g. Hendershot and Miller, Design of Brushless Permanent-Magnet Machines
/// (from memory).
fn windings(document: &Document, (from_m_s, to_m_s): (f64, f64), cancel: &Cancel) -> Result<Vec<Winding>> {
    let mut out = Vec::new();
    for turns in TURNS {
        cancel.check()?;
        let mut wound = document.clone();
        let Some(motor) = &mut wound.design.motor else { continue };
        let MotorModel::Constants { torque_constant_nm_a, resistance_ohm, no_load_current_a, peak_current_a, .. } = &mut motor.model else {
            return Ok(out);
        };
        *torque_constant_nm_a *= turns;
        *resistance_ohm *= turns * turns;
        *no_load_current_a /= turns;
        *peak_current_a /= turns;
        let (constant, resistance, peak_a) = (*torque_constant_nm_a, *resistance_ohm, *peak_current_a);
        let chain = Chain::of(&wound, masses(&wound).test_kg)?;
        let soc = run_soc(&wound, &chain.pack);
        let peak = chain.limits(soc, chain.low_voltage_w, Rating::Peak);
        let mut pulls = pulls(&wound, &chain, &peak);
        out.push(Winding {
            turns,
            torque_constant_nm_a: constant,
            resistance_ohm: resistance,
            peak_current_a: peak_a,
            top_speed_kmh: top(&chain, &peak).speed_m_s * KMH_PER_M_S,
            sprint_s: quickest_s(&mut pulls, from_m_s, to_m_s),
            hill_start_percent: hill_at_speed(&chain, soc, 0.0, Rating::Peak).grade_percent,
        });
    }
    Ok(out)
}
