//! What surely lies within a motor's curve, told by a few numbers.

use crate::quantity::larger;

/// Torques, powers and speeds that surely lie within a curve, in numbers that a voltage is held against without a jump; what an envelope
/// gives is all of it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Inside {
    pub(super) torque_nm: f64,
    /// At the reference voltage, W.
    pub(super) power_w: f64,
    /// Greatest [`Self::volts_v`] over a volt of the bus.
    pub(super) speed: f64,
    pub(super) offset_v: f64,
    pub(super) per_nm_v: f64,
    pub(super) per_reference: f64,
    /// 1 where the curve moves with the voltage, else 0.
    pub(super) moves: f64,
    pub(super) max_speed_rad_s: f64,
}

impl Inside {
    /// Whether a torque at a speed, on a bus of some voltage, surely lies within.
    #[inline(always)]
    pub(crate) fn holds(&self, torque_nm: f64, speed_rad_s: f64, bus_v: f64) -> bool {
        let volts = if self.moves > 0.0 { bus_v } else { 1.0 };
        (speed_rad_s <= self.max_speed_rad_s)
            & (torque_nm <= self.torque_nm)
            & (torque_nm * speed_rad_s * self.per_reference <= self.power_w * volts)
            & (self.volts_v(torque_nm, speed_rad_s) <= self.speed * volts)
    }

    /// What a torque at a speed takes: of points their speed at the reference voltage, of a motor told by its constants the volts of its field
    /// and of its resistance.
    #[inline(always)]
    fn volts_v(&self, torque_nm: f64, speed_rad_s: f64) -> f64 {
        speed_rad_s * self.per_reference + self.offset_v + torque_nm * self.per_nm_v
    }

    /// Voltage from which on a torque at a speed surely lies within, V; infinite where at none.
    #[inline(always)]
    pub(crate) fn holds_from_v(&self, torque_nm: f64, speed_rad_s: f64) -> f64 {
        let power_v = torque_nm * speed_rad_s * self.per_reference / self.power_w;
        let volts = larger(power_v, self.volts_v(torque_nm, speed_rad_s) / self.speed);
        let at_any = if volts <= 1.0 { 0.0 } else { f64::INFINITY };
        let from_v = if self.moves > 0.0 { volts } else { at_any };
        if (torque_nm <= self.torque_nm) & (speed_rad_s <= self.max_speed_rad_s) { from_v } else { f64::INFINITY }
    }
}
