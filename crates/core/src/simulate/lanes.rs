//! What many steps ask, worked out side by side: each formula over all of them before the next one.
//!
//! Where something out of the ordinary may hold a step back it is asked by itself ([`Asker::ask`]), which says the same of the others, bit
//! by bit. Compiled once for any processor and once for those with wide registers.

#![allow(clippy::needless_range_loop, reason = "one index runs over many lanes")]

use pulp::{Arch, Simd, WithSimd};

use super::asked::{Asked, Asker, StepDemand};
use super::split::Motion;
use crate::powertrain::{Drawn, GearPath, HeatStep, MotorPoint, Plain};
use crate::quantity::{either, larger};
use crate::vehicle::Resistance;

/// Steps side by side: few enough that a run of them seldom holds both pulling and braking.
pub(super) const LANES: usize = 16;

type Lane<T = f64> = [T; LANES];
const NONE: Lane = [0.0; LANES];

/// Steps of one chain, asked side by side.
pub(super) struct Lanes<'d, 'a> {
    one: Asker<'d, 'a>,
    /// Absent where the motor's losses are no polynomial: then each step is asked by itself.
    plain: Option<Plain<'a>>,
    arch: Arch,
}

/// Some steps and what they ask, by formula. A step that [`Self::doubt`] is not 0 of is to be asked by itself.
pub(super) struct SideBySide {
    v: Lane,
    accel: Lane,
    from: Lane,
    to: Lane,
    sin: Lane,
    cos: Lane,
    dt: Lane,
    air: Lane,
    rolling: Lane,
    climb: Lane,
    total: Lane,
    gear: Lane<u64>,
    speed: Lane,
    torque: Lane,
    wheel: Lane,
    motor: Lane,
    bus: Lane,
    peak: Lane,
    least_v: Lane,
    warming: [Lane; 4],
    pub(super) doubt: Lane,
}

impl SideBySide {
    pub(super) fn none() -> Self {
        let ([v, accel, from, to, sin], [air, rolling, climb, total]) = ([NONE; 5], [NONE; 4]);
        let ([speed, torque, wheel, motor, bus, peak, least_v], gear) = ([NONE; 7], [0; LANES]);
        let (cos, dt, doubt, warming) = ([1.0; LANES], [1.0; LANES], [1.0; LANES], [NONE; 4]);
        Self {
            v,
            accel,
            from,
            to,
            sin,
            cos,
            dt,
            air,
            rolling,
            climb,
            total,
            gear,
            speed,
            torque,
            wheel,
            motor,
            bus,
            peak,
            least_v,
            warming,
            doubt,
        }
    }
}

/// One go through all of them, for the registers the processor has.
struct Asking<'x, 'd, 'a> {
    lanes: &'x Lanes<'d, 'a>,
    plain: &'x Plain<'a>,
    motions: &'x [Motion],
    told: &'x mut SideBySide,
}

impl WithSimd for Asking<'_, '_, '_> {
    type Output = ();

    #[inline(always)]
    fn with_simd<S: Simd>(self, _: S) {
        let Self { lanes, plain, motions, told } = self;
        lanes.moved(motions, told);
        lanes.geared(plain, told);
        lanes.drawn(plain, told);
    }
}

/// 0 where something holds, else 1.
#[inline(always)]
fn unless(holds: bool) -> f64 {
    if holds { 0.0 } else { 1.0 }
}

impl<'d, 'a> Lanes<'d, 'a> {
    pub(super) fn of(one: Asker<'d, 'a>) -> Self {
        let plain = Plain::of(one.driver.chain, (one.high, one.low));
        Self { one, plain, arch: Arch::new() }
    }

    /// Works out what some steps, [`LANES`] at most, ask; [`Self::asked`] says it of each.
    pub(super) fn ask(&self, motions: &[Motion], told: &mut SideBySide) {
        match &self.plain {
            // A few are not worth the lanes that stay empty.
            Some(plain) if motions.len() > LANES / 4 => self.arch.dispatch(Asking { lanes: self, plain, motions, told }),
            _ => told.doubt = [1.0; LANES],
        }
    }

    /// What the `i`th of the steps asked asks.
    #[inline(always)]
    pub(super) fn asked(&self, motion: &Motion, i: usize, told: &SideBySide) -> Asked<'a> {
        if told.doubt[i] > 0.0 {
            return self.one.ask(motion);
        }
        let driver = self.one.driver;
        let road = Resistance { air_n: told.air[i], rolling_n: told.rolling[i], climb_n: told.climb[i] };
        let point = MotorPoint {
            torque_nm: told.torque[i],
            speed_rad_s: told.speed[i],
            wheel_n: told.wheel[i],
            motor_w: told.motor[i],
            bus_w: told.bus[i],
            held_back: false,
        };
        let step = StepDemand { power_w: point.bus_w + driver.aux_w, peak_w: told.peak[i] + driver.aux_w, least_v: told.least_v[i] };
        let warming = HeatStep::new([told.warming[0][i], told.warming[1][i], told.warming[2][i], told.warming[3][i]]);
        Asked { road, step, taken: Some((&driver.choice.gears[told.gear[i] as usize], point)), warming }
    }

    /// The steps' motion, and what the road asks.
    #[inline(always)]
    fn moved(&self, motions: &[Motion], s: &mut SideBySide) {
        for (i, m) in motions.iter().take(LANES).enumerate() {
            (s.from[i], s.to[i], s.dt[i], s.sin[i], s.cos[i]) = (m.from_m_s, m.to_m_s, m.dt, m.slope.0, m.slope.1);
        }
        let road = &self.one.driver.chain.road;
        for i in 0..LANES {
            let motion = Motion { slope: (s.sin[i], s.cos[i]), from_m_s: s.from[i], to_m_s: s.to[i], dt: s.dt[i] };
            (s.v[i], s.accel[i]) = (motion.mean_m_s(), motion.accel_m_s2());
            let resistance = road.resistance(s.v[i], motion.slope);
            (s.air[i], s.rolling[i], s.climb[i]) = (resistance.air_n, resistance.rolling_n, resistance.climb_n);
            s.total[i] = resistance.total_n();
            // Standing still is told by itself.
            s.doubt[i] = unless(s.v[i] > 0.0);
        }
    }

    /// The cheapest gear of each step, as [`super::gear_choice::GearChoice`] takes it, and the torque in it.
    #[inline(always)]
    fn geared(&self, plain: &Plain<'a>, s: &mut SideBySide) {
        let choice = &self.one.driver.choice;
        let (chain, gears) = (self.one.driver.chain, choice.gears);
        let mass_kg = chain.road.mass_kg;
        let force_n = |s: &SideBySide, i: usize, rotating: f64| s.total[i] + mass_kg * rotating * s.accel[i];
        let (mut least, mut most, mut best) = ([f64::INFINITY; LANES], [f64::NEG_INFINITY; LANES], [f64::INFINITY; LANES]);
        s.gear = [0; LANES];
        for g in gears {
            for i in 0..LANES {
                let force_n = force_n(s, i, g.rotating_factor);
                least[i] = -larger(-least[i], -force_n);
                most[i] = larger(most[i], force_n);
            }
        }
        for (k, cost) in (0u64..).zip(choice.costs()) {
            for i in 0..LANES {
                let watts = cost.watts(s.v[i], s.total[i] + cost.rotating_kg * s.accel[i]);
                let better = (s.v[i] <= cost.fastest_m_s) & (watts < best[i]);
                best[i] = either(better, watts, best[i]);
                s.gear[i] = either(better, k, s.gear[i]);
            }
        }
        let mut share = NONE;
        let brakes = most.iter().any(|n| *n < 0.0);
        if brakes {
            for i in 0..LANES {
                share[i] = plain.braking_share(s.v[i]);
            }
        }
        if brakes && gears.len() > 1 {
            let (mut best_braking, mut braking, mut held) = ([f64::INFINITY; LANES], [0u64; LANES], NONE);
            for (k, g) in (0u64..).zip(gears) {
                for i in 0..LANES {
                    let speed = s.v[i] * g.rad_per_m;
                    let asked_n = force_n(s, i, g.rotating_factor) * share[i];
                    let drawn = plain.drawn(plain.braking_nm(g.brake_nm_per_n, speed, asked_n), speed);
                    let turns = speed <= chain.motor.max_speed_rad_s;
                    held[i] += unless(!turns | plain.brakes_freely(&drawn, speed));
                    let better = turns & (drawn.bus_w < best_braking[i]);
                    best_braking[i] = either(better, drawn.bus_w, best_braking[i]);
                    braking[i] = either(better, k, braking[i]);
                }
            }
            for i in 0..LANES {
                let brakes = most[i] < 0.0;
                s.gear[i] = either(brakes, braking[i], s.gear[i]);
                best[i] = either(brakes, best_braking[i], best[i]);
                s.doubt[i] += either(brakes, held[i], 0.0);
            }
        }
        if gears.len() > 1 {
            for i in 0..LANES {
                // Pulling in one gear and braking in another is asked by itself; so is what no gear turns slowly enough for.
                s.doubt[i] += unless((least[i] >= 0.0) | (most[i] < 0.0)) + unless(best[i] < f64::INFINITY);
            }
        }
        let gear = |i: usize, s: &SideBySide| &gears[s.gear[i] as usize];
        let (mut drive, mut brake, mut back) = (NONE, NONE, NONE);
        for i in 0..LANES {
            let g = gear(i, s);
            (s.speed[i], s.wheel[i], drive[i], brake[i], back[i]) =
                (g.rad_per_m, g.rotating_factor, g.drive_nm_per_n, g.brake_nm_per_n, g.brake_n_per_nm);
        }
        for i in 0..LANES {
            (s.speed[i], s.wheel[i]) = (s.v[i] * s.speed[i], force_n(s, i, s.wheel[i]));
            s.torque[i] = s.wheel[i] * drive[i];
        }
        if brakes {
            for i in 0..LANES {
                let braking_nm = plain.braking_nm(brake[i], s.speed[i], s.wheel[i] * share[i]);
                let brakes = s.wheel[i] < 0.0;
                s.torque[i] = either(brakes, braking_nm, s.torque[i]);
                s.wheel[i] = either(brakes, braking_nm * back[i], s.wheel[i]);
            }
        }
    }

    /// What motor and controller draw, how near that is to a limit, and how it warms them.
    #[inline(always)]
    fn drawn(&self, plain: &Plain<'a>, s: &mut SideBySide) {
        let driver = self.one.driver;
        let (chain, gears) = (driver.chain, driver.choice.gears);
        let (mass_kg, max_rad_s) = (chain.road.mass_kg, chain.motor.max_speed_rad_s);
        let (mut rad_per_m, mut drive, mut rotating) = (NONE, NONE, NONE);
        for i in 0..LANES {
            let g: &GearPath = &gears[s.gear[i] as usize];
            (rad_per_m[i], drive[i], rotating[i]) = (g.rad_per_m, g.drive_nm_per_n, g.rotating_factor);
        }
        for i in 0..LANES {
            let drawn = plain.drawn(s.torque[i], s.speed[i]);
            (s.motor[i], s.bus[i]) = (drawn.motor_w, drawn.bus_w);
        }
        for i in 0..LANES {
            let drawn = Drawn { torque_nm: s.torque[i], motor_w: s.motor[i], bus_w: s.bus[i] };
            let pulls = drawn.torque_nm > 0.0;
            let freely = (pulls & plain.reaches(&drawn, s.speed[i])) | (!pulls & plain.brakes_freely(&drawn, s.speed[i]));
            s.least_v[i] = plain.easy_above_v(&drawn, s.speed[i], s.wheel[i], larger(s.from[i], s.to[i]) * rad_per_m[i]);
            let told = s.least_v[i] >= 0.0;
            s.doubt[i] += unless(freely & told & (s.speed[i] <= max_rad_s) & plain.has(drawn.torque_nm));
        }
        for i in 0..LANES {
            // Power at the end of a step that speeds up, where it is greatest.
            let end_n = chain.road.resistance_n(s.to[i], (s.sin[i], s.cos[i])) + mass_kg * rotating[i] * s.accel[i];
            let end_rad_s = s.to[i] * rad_per_m[i];
            let end_w = plain.drawn(end_n * drive[i], end_rad_s).bus_w;
            let speeds_up = (s.to[i] > s.from[i]) & (s.torque[i] > 0.0) & (end_rad_s <= max_rad_s);
            s.peak[i] = either(speeds_up, larger(end_w, s.bus[i]), s.bus[i]);
            s.doubt[i] += unless(!speeds_up | (end_n >= 0.0));
        }
        for i in 0..LANES {
            let heat = plain.heat(&Drawn { torque_nm: s.torque[i], motor_w: s.motor[i], bus_w: s.bus[i] }, s.dt[i]);
            (s.warming[0][i], s.warming[1][i], s.warming[2][i], s.warming[3][i]) = (heat[0], heat[1], heat[2], heat[3]);
        }
    }
}
