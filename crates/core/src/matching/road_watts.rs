//! What steps of a trip take at least and give back at most, many side by side.

#![allow(clippy::needless_range_loop, reason = "one index runs over many lanes")]

use pulp::{Arch, Simd, WithSimd};

use super::bounding::Step;
use super::rated_train::GearSide;
use super::trip_energy::OnRoad;
use crate::quantity::units::STANDARD_GRAVITY_M_S2;
use crate::quantity::{either, larger};

/// Steps side by side.
const LANES: usize = 16;

type Lane = [f64; LANES];

/// What a step takes of the motor, W.
#[derive(Debug, Clone, Copy)]
pub(super) struct Watts {
    /// The least drawn.
    pub(super) drawn_w: f64,
    /// The most given back by braking.
    pub(super) back_w: f64,
    /// The least lost while it drives.
    pub(super) lost_w: f64,
}

impl OnRoad<'_> {
    /// Of each of some steps: the least that any gear draws and loses, and the most that braking in any gives back; with the share of the motor's
    /// losses that is counted on it.
    pub(super) fn watts(&self, steps: &[Step], share: impl Fn(&Step) -> f64) -> Vec<Watts> {
        let mut told = Vec::with_capacity(steps.len());
        if let Some(loss) = self.map.polynomial() {
            let (loss_w, best_nm) = (|nm: f64, rad_s: f64| loss.loss_w(nm, rad_s), |rad_s: f64| loss.best_braking_nm(rad_s));
            Arch::new().dispatch(All { on: self, steps, counted: share, told: &mut told, loss_w, best_nm });
        } else {
            let (loss_w, best_nm) = (|nm: f64, rad_s: f64| self.map.loss_w(nm, rad_s), |rad_s: f64| self.map.best_braking_nm(rad_s));
            All { on: self, steps, counted: share, told: &mut told, loss_w, best_nm }.run();
        }
        told
    }
}

/// All of some steps on a road, with a motor's losses at a torque and speed and its best braking torque.
struct All<'x, 'a, C, L, B> {
    on: &'x OnRoad<'a>,
    steps: &'x [Step],
    counted: C,
    told: &'x mut Vec<Watts>,
    loss_w: L,
    best_nm: B,
}

impl<C: Fn(&Step) -> f64, L: Fn(f64, f64) -> f64, B: Fn(f64) -> f64> WithSimd for All<'_, '_, C, L, B> {
    type Output = ();

    #[inline(always)]
    fn with_simd<S: Simd>(self, _: S) {
        self.run();
    }
}

impl<C: Fn(&Step) -> f64, L: Fn(f64, f64) -> f64, B: Fn(f64) -> f64> All<'_, '_, C, L, B> {
    #[inline(always)]
    fn run(self) {
        let Self { on, steps, counted: of, told, loss_w, best_nm } = self;
        let (light_kg, heavy_kg) = on.masses_kg;
        for some in steps.chunks(LANES) {
            let [mut v, mut accel, mut sin, mut cos, mut counted] = [[0.0; LANES]; 5];
            for (i, step) in some.iter().enumerate() {
                (v[i], accel[i], sin[i], cos[i], counted[i]) = (step.v_m_s, step.accel_m_s2, step.sin, step.cos, of(step));
            }
            let (mut fixed, mut per_kg, mut share) = ([0.0; LANES], [0.0; LANES], [0.0; LANES]);
            for i in 0..LANES {
                fixed[i] = on.road.air_n(v[i]) + on.road.undriven_axle_drag_n;
                let rolling = on.road.rolling + on.road.rolling_per_m_s * v[i];
                per_kg[i] = STANDARD_GRAVITY_M_S2 * (rolling * cos[i] + sin[i]);
                share[i] = on.regeneration_share * on.fade.at(v[i]);
            }
            let (mut least, mut back, mut lost): (Lane, Lane, Lane) = ([f64::INFINITY; LANES], [0.0; LANES], [f64::INFINITY; LANES]);
            // Where no gear turns so fast, what is a hair slower takes what the road does.
            let mut road_w = [0.0; LANES];
            for i in 0..LANES {
                let light_n = fixed[i] + (per_kg[i] + accel[i]) * light_kg;
                let heavy_n = fixed[i] + (per_kg[i] + accel[i]) * heavy_kg;
                road_w[i] = v[i] * larger(either(heavy_n < light_n, heavy_n, light_n), 0.0);
            }
            for gear in &on.gears {
                let GearSide { fastest_m_s, rad_per_m, pull_n_per_nm, efficiency, .. } = **gear;
                let (inert_light_kg, inert_heavy_kg) = (gear.inert(light_kg), gear.inert(heavy_kg));
                for i in 0..LANES {
                    // The mass within the interval that asks the least: the light end where mass costs, the heavy one where it pushes.
                    let light_n = fixed[i] + per_kg[i] * light_kg + inert_light_kg * accel[i];
                    let heavy_n = fixed[i] + per_kg[i] * heavy_kg + inert_heavy_kg * accel[i];
                    let (force_n, speed) = (either(heavy_n < light_n, heavy_n, light_n), v[i] * rad_per_m);
                    let (turns, pulls) = (v[i] <= fastest_m_s, force_n >= 0.0);
                    let torque_nm = force_n / pull_n_per_nm;
                    let lost_w = counted[i] * loss_w(torque_nm, speed);
                    let drawn_w = either(pulls, torque_nm * speed + lost_w, 0.0);
                    let lost_w = either(pulls, lost_w, 0.0);
                    lost[i] = either(turns & (lost_w < lost[i]), lost_w, lost[i]);
                    least[i] = either(turns & (drawn_w < least[i]), drawn_w, least[i]);
                    // Braking harder than the losses reward gives back less.
                    let asked_nm = -force_n * share[i] * efficiency * efficiency / pull_n_per_nm;
                    let best_nm = best_nm(speed);
                    let braking_nm = either(asked_nm > best_nm, best_nm, asked_nm);
                    let back_w = braking_nm * speed - loss_w(-braking_nm, speed);
                    back[i] = either(turns & !pulls & (back_w > back[i]), back_w, back[i]);
                }
            }
            told.extend((0..some.len()).map(|i| Watts {
                drawn_w: either(least[i] < f64::INFINITY, larger(least[i], 0.0), road_w[i]),
                back_w: back[i],
                lost_w: either(lost[i] < f64::INFINITY, lost[i], 0.0),
            }));
        }
    }
}
