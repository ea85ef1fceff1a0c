//! The state of a vehicle under way.

use super::split::{Account, Motion, Moving, Split};
use crate::pack::Terminals;
use crate::powertrain::{Chain, GearPath, PowerFlow, Rise, Supply};

/// State and account of a vehicle under way.
#[derive(Debug, Clone, PartialEq)]
pub struct CycleRun {
    /// State of charge now.
    pub soc: f64,
    /// Speed now, m/s.
    pub speed_m_s: f64,
    /// Distance driven, m.
    pub distance_m: f64,
    /// Time gone, s.
    pub time_s: f64,
    /// Seconds more than 2 km/h below the trace, the tolerance of UN GTR No. 15.
    pub off_trace_s: f64,
    /// Energy account.
    pub(super) account: Account,
    /// Charge that went through the terminals, less what was fed back, A s; what Peukert's law counts beside it stays in the cells.
    pub delivered_a_s: f64,
    /// Sum of squared battery current over time, A^2 s.
    pub current_squared_a2_s: f64,
    /// Greatest battery current of any instant, A.
    pub peak_current_a: f64,
    /// Lowest terminal voltage, V.
    pub lowest_v: f64,
    /// Torque, N m, and speed, rad/s, of the motor in the last step.
    pub motor: (f64, f64),
    /// Temperature rise of motor and controller now.
    pub rise: Rise,
    /// Highest of each so far.
    pub highest_rise: Rise,
    /// Seconds in which motor or controller were at their highest temperature and the torque was held back.
    pub derated_s: f64,
    /// Whether the pack could not give what even standing still draws.
    pub exhausted: bool,
    /// Whether it fell behind the trace by more than following it allows while there was charge left in the window.
    pub behind: bool,
    /// Whether it ended where heat held the torque back, as no more was asked.
    pub(super) cut_short: bool,
}

impl CycleRun {
    /// A vehicle at rest, motor and controller at some rise.
    #[must_use]
    pub(crate) fn at_rest(soc: f64, rise: Rise) -> Self {
        Self {
            soc,
            speed_m_s: 0.0,
            distance_m: 0.0,
            time_s: 0.0,
            off_trace_s: 0.0,
            account: Account::default(),
            delivered_a_s: 0.0,
            current_squared_a2_s: 0.0,
            peak_current_a: 0.0,
            lowest_v: f64::INFINITY,
            motor: (0.0, 0.0),
            rise,
            highest_rise: rise,
            derated_s: 0.0,
            exhausted: false,
            behind: false,
            cut_short: false,
        }
    }

    /// Whether it ended where heat held the torque back, as no more was asked.
    #[must_use]
    pub(crate) fn is_cut_short(&self) -> bool {
        self.cut_short
    }

    /// Energy drawn from the battery's terminals less what was fed back, J.
    #[must_use]
    pub fn battery_j(&self) -> f64 {
        self.account.battery_j
    }

    /// Where the energy went.
    #[must_use]
    pub fn split(&self) -> Split {
        self.account.split()
    }

    /// Root mean square battery current, A.
    #[must_use]
    pub fn rms_current_a(&self) -> f64 {
        if self.time_s > 0.0 { (self.current_squared_a2_s / self.time_s).sqrt() } else { 0.0 }
    }

    /// Notes an instant in which more flows than on the mean of its step.
    #[inline]
    pub(super) fn peaks_at(&mut self, Terminals { volts_v, current_a }: Terminals) {
        self.peak_current_a = self.peak_current_a.max(current_a);
        self.lowest_v = self.lowest_v.min(volts_v);
    }

    #[inline]
    fn draw_battery(&mut self, chain: &Chain, supply: &Supply, Terminals { volts_v, current_a }: Terminals, dt: f64) {
        let (energy_j, square_a2_s) = (volts_v * current_a * dt, current_a * current_a * dt);
        let account = &mut self.account;
        account.battery_j += energy_j;
        account.recovered_j -= energy_j.min(0.0);
        account.pack_j += square_a2_s * chain.pack.resistance_ohm;
        account.low_voltage_j += chain.low_voltage_w * dt;
        account.hvac_j += (supply.aux_w - chain.low_voltage_w) * dt;
        self.delivered_a_s += current_a * dt;
        self.current_squared_a2_s += square_a2_s;
        self.peaks_at(Terminals { volts_v, current_a });
        self.soc -= chain.pack.counted_a(current_a) * dt * chain.pack.per_a_s;
        self.time_s += dt;
    }

    /// Whether motor or controller is at its highest temperature.
    #[inline]
    pub(super) fn is_hot(&self, chain: &Chain) -> bool {
        // A hair below: a step that just keeps to the limit lands on it only to rounding.
        const NEARLY: f64 = 0.999;
        chain.is_hotter_than(Rise { motor: NEARLY, controller: NEARLY }, self.rise)
    }

    /// Whether a step may take motor or controller past the temperature allowed.
    #[inline]
    pub(super) fn would_get_hot(&self, chain: &Chain, flow: &PowerFlow, dt: f64) -> bool {
        const COLD: Rise = Rise { motor: 0.5, controller: 0.5 };
        chain.is_hotter_than(COLD, self.rise)
            && chain.is_hotter_than(Rise::WHOLE, chain.heat_step_of(&flow.point, flow.terminals, dt).after(self.rise))
    }

    /// Stands still for `dt` seconds.
    pub(super) fn stand(&mut self, chain: &Chain, supply: &Supply, dt: f64) {
        self.motor = (0.0, 0.0);
        self.rise = chain.heat_step(0.0, 0.0, 0.0, dt).after(self.rise);
        match chain.pack.under(supply.ocv_v, supply.aux_w) {
            Some(terminals) => self.draw_battery(chain, supply, terminals, dt),
            None => self.exhausted = true,
        }
    }

    /// Moves in a gear with a power flow, the speed changing linearly to that at the end of `motion`, which begins at the speed now.
    #[inline]
    pub(super) fn advance(&mut self, chain: &Chain, supply: &Supply, (gear, flow): (&GearPath, &PowerFlow), motion: &Motion) {
        let (v, dt) = (motion.mean_m_s(), motion.dt);
        let road = chain.road.resistance(v, motion.slope);
        self.account.book(chain.road.mass_kg, motion, &Moving { gear, point: flow.point, road });
        self.distance_m += v * dt;
        self.speed_m_s = motion.to_m_s;
        self.motor = (flow.point.torque_nm, flow.point.speed_rad_s);
        self.rise = chain.heat_step_of(&flow.point, flow.terminals, dt).after(self.rise);
        self.highest_rise = self.highest_rise.max(self.rise);
        self.draw_battery(chain, supply, flow.terminals, dt);
    }

    /// When the window has ended inside the last step, keeps the share of it that was left and says so.
    pub(super) fn end_at(&mut self, soc_end: f64, (soc, distance_m, battery_j): (f64, f64, f64)) -> bool {
        if self.soc > soc_end {
            return false;
        }
        let share = ((soc - soc_end) / (soc - self.soc)).clamp(0.0, 1.0);
        self.distance_m = distance_m + share * (self.distance_m - distance_m);
        self.account.battery_j = battery_j + share * (self.account.battery_j - battery_j);
        self.soc = soc_end;
        true
    }
}
