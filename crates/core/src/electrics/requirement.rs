//! What each place in the circuits asks of a component, what one falls short of, and the least that suffices.

use super::Sizing;
use super::cable::{Surroundings, resistance_ohm};
use crate::document::{BrakeAssistance, LowVoltageSupply, Slot};
use crate::library::{Component, ComponentKind, ThrottleSignal};
use crate::limits::{FUSE_MARGIN, FUSE_OVER_CABLE};
use crate::quantity::{Sentence, figure, load_w, sentence};

/// Seconds in which a vacuum pump makes up for one press (judgement: the next press may follow as soon).
const RECOVERS_S: f64 = 5.0;

/// One thing asked of a component.
#[derive(Debug, Clone, PartialEq)]
pub enum Ask {
    /// It bears a voltage, V.
    Bears(f64),
    /// It works from a voltage down to which the pack falls, V.
    WorksFrom(f64),
    /// It carries a current for hours, A.
    Carries(f64),
    /// It carries no more than a current before it opens, A.
    OpensBy(f64),
    /// It carries a current, A, for some time, s.
    CarriesFor(f64, f64),
    /// It breaks a current, A.
    Breaks(f64),
    /// It gives a power, W.
    Gives(f64),
    /// It moves air, l/min.
    Moves(f64),
    /// It watches so many cells.
    Watches(u32),
    /// It speaks one of some signals.
    Speaks(Vec<ThrottleSignal>),
    /// A broken wire does not look like a foot: two tracks, or a range that it falls out of.
    TellsABrokenWire,
    /// A cable: it bears a current for hours where it lies, A.
    BearsHere(f64),
    /// A cable: a metre of it loses at most so much while it is hot, ohm.
    Loses(f64),
}

impl Ask {
    /// As people say it.
    #[must_use]
    pub fn words(&self) -> Sentence {
        match self {
            Self::Bears(volts) => sentence!("bears {}", figure(*volts, "V", 0)),
            Self::WorksFrom(volts) => sentence!("works down to {}", figure(*volts, "V", 0)),
            Self::Carries(amps) => sentence!("carries {} for hours", figure(*amps, "A", 0)),
            Self::OpensBy(amps) => sentence!("is {} at most, for the cable", figure(*amps, "A", 0)),
            Self::CarriesFor(amps, seconds) => sentence!("{} for {}", figure(*amps, "A", 0), figure(*seconds, "s", 0)),
            Self::Breaks(amps) => sentence!("breaks {}", figure(*amps, "A", 0)),
            Self::Gives(watts) => sentence!("gives {}", load_w(*watts, 0)),
            Self::Moves(flow) => sentence!("moves {}", figure(*flow, "l/min", 0)),
            Self::Watches(cells) => sentence!("watches {} cells", *cells),
            Self::Speaks(signals) => sentence!("sends {}", signals.iter().map(|s| s.word()).collect::<Vec<_>>().join(" or ")),
            Self::TellsABrokenWire => "a broken wire does not look like a foot".into(),
            Self::BearsHere(amps) => sentence!("bears {} where it lies", figure(*amps, "A", 0)),
            Self::Loses(most_ohm_per_m) => sentence!("loses {} mΩ a metre at most", figure(1000.0 * most_ohm_per_m, "", 2)),
        }
    }
}

/// What a component falls short of.
#[derive(Debug, Clone, PartialEq)]
pub struct Shortfall {
    /// What was asked.
    pub ask: Ask,
    /// What it has, in the unit of what was asked.
    pub found: f64,
    /// What was asked, as one figure.
    pub limit: f64,
    /// In words: "bears 60 V; 84 V are needed".
    pub words: Sentence,
}

/// What a place asks.
#[derive(Debug, Clone, PartialEq)]
pub struct Requirement {
    /// The place.
    pub slot: Slot,
    /// Kinds that go there.
    pub kinds: Vec<ComponentKind>,
    /// All that is asked.
    pub asks: Vec<Ask>,
    /// Where cables lie.
    here: Surroundings,
}

impl Requirement {
    /// What a place of a design asks; `None` where the design needs nothing there.
    #[must_use]
    pub fn of(slot: Slot, s: &Sizing<'_>) -> Option<Self> {
        let full_v = s.full_v();
        let design = &s.document.design;
        let mut kinds = slot.kinds().to_vec();
        let asks = match slot {
            Slot::PackFuse => {
                let mut asks = vec![Ask::Bears(full_v), Ask::Carries((FUSE_MARGIN * s.rms_a).max(s.peak_a / s.holds))];
                asks.extend(s.wiring.cable_current_a.map(|a| Ask::OpensBy(FUSE_OVER_CABLE * a)));
                asks.push(Ask::Breaks(s.short_circuit_a));
                asks
            }
            Slot::Disconnect => vec![Ask::Bears(full_v), Ask::Carries(s.fuse_a)],
            Slot::MainContactor => {
                vec![Ask::Bears(full_v), Ask::Carries(s.rms_a), Ask::CarriesFor(s.peak_a, s.peak_s), Ask::Breaks(s.peak_a)]
            }
            Slot::TractionCable => vec![Ask::Bears(full_v), Ask::BearsHere(s.fuse_a), Ask::Loses(s.most_ohm_per_m)],
            Slot::ChargeFuse => {
                let charger = design.charger.as_ref()?;
                vec![Ask::Bears(full_v), Ask::Carries(FUSE_MARGIN * charger.output_current_a), Ask::Breaks(s.short_circuit_a)]
            }
            Slot::ChargeInlet => {
                let (amps, volts) = s.inlet?;
                vec![Ask::Bears(volts), Ask::Carries(amps)]
            }
            Slot::FastInlet => {
                let (amps, volts) = s.fast_inlet?;
                vec![Ask::Bears(volts), Ask::Carries(amps)]
            }
            Slot::Converter => match s.said.supply {
                LowVoltageSupply::Battery => return None,
                LowVoltageSupply::Converter => {
                    vec![Ask::Bears(full_v), Ask::WorksFrom(s.chain.pack.cutoff_v), Ask::Gives(s.converter_needed_w())]
                }
            },
            Slot::Throttle => {
                let signals = design.controller.as_ref().map(|c| c.throttle_signals.clone()).filter(|s| !s.is_empty());
                signals.map(Ask::Speaks).into_iter().chain([Ask::TellsABrokenWire]).collect()
            }
            Slot::BrakeAssistance => match s.said.brakes {
                BrakeAssistance::None | BrakeAssistance::Lost => return None,
                BrakeAssistance::Vacuum => {
                    kinds = vec![ComponentKind::VacuumPump];
                    s.vacuum.iter().map(|v| Ask::Moves(v.pump_l_min * v.recovers_s(1) / RECOVERS_S)).collect()
                }
                BrakeAssistance::Electric => {
                    kinds = vec![ComponentKind::Booster];
                    Vec::new()
                }
            },
            Slot::Heater => vec![Ask::Bears(full_v), Ask::WorksFrom(s.chain.pack.cutoff_v), Ask::Gives(s.said.heating_w?)],
            Slot::Monitor => {
                let pack = design.pack.as_ref().filter(|p| p.has_lithium())?;
                if s.said.hand_checked_every.is_some() {
                    return None;
                }
                vec![Ask::Watches(pack.cells_in_series())]
            }
        };
        Some(Self { slot, kinds, asks, here: s.here })
    }

    /// All that is asked, in words.
    #[must_use]
    pub fn words(&self) -> Vec<Sentence> {
        self.asks.iter().map(Ask::words).collect()
    }

    /// What a component falls short of; empty when it suffices. What a record does not say is not there.
    #[must_use]
    pub fn shortfalls(&self, c: &Component) -> Vec<Shortfall> {
        self.asks.iter().filter_map(|ask| self.short(ask, c)).collect()
    }

    /// Whether a component is of the kind and has all that is asked.
    #[must_use]
    pub(crate) fn is_met_by(&self, c: &Component) -> bool {
        self.kinds.contains(&c.kind) && self.asks.iter().all(|ask| self.short(ask, c).is_none())
    }

    fn short(&self, ask: &Ask, c: &Component) -> Option<Shortfall> {
        let told = |found: f64, limit: f64, words: Sentence| Some(Shortfall { ask: ask.clone(), found, limit, words });
        let less = |own: Option<f64>, asked: f64, word: &'static str, unit: &'static str| {
            let found = own.unwrap_or(0.0);
            if found >= asked {
                return None;
            }
            told(found, asked, sentence!("{} {}; {} are needed", word, figure(found, unit, 0), figure(asked, unit, 0)))
        };
        match ask {
            Ask::Bears(volts) => less(c.max_voltage_v, *volts, "bears", "V"),
            Ask::WorksFrom(volts) => {
                let own = c.min_voltage_v.unwrap_or(0.0);
                if own <= *volts {
                    return None;
                }
                told(own, *volts, sentence!("works from {}; the pack falls to {}", figure(own, "V", 0), figure(*volts, "V", 0)))
            }
            Ask::Carries(amps) => less(c.current_a, *amps, "carries", "A"),
            Ask::OpensBy(amps) => {
                let own = c.current_a.unwrap_or(f64::INFINITY);
                if own <= *amps {
                    return None;
                }
                told(own, *amps, sentence!("is {}; the cable allows {}", figure(own, "A", 0), figure(*amps, "A", 0)))
            }
            Ask::CarriesFor(amps, seconds) => {
                // What it carries for hours it carries for any time; a shorter peak than asked says nothing.
                let peak = c.peak_a.filter(|_| c.peak_s.unwrap_or(60.0) >= *seconds);
                let own = peak.unwrap_or(0.0).max(c.current_a.unwrap_or(0.0));
                if own >= *amps {
                    return None;
                }
                let words =
                    sentence!("carries {} for {}; {} are needed", figure(own, "A", 0), figure(*seconds, "s", 0), figure(*amps, "A", 0));
                told(own, *amps, words)
            }
            Ask::Breaks(amps) => less(c.break_a, *amps, "breaks", "A"),
            Ask::Gives(watts) => {
                let found = c.rated_w.unwrap_or(0.0);
                if found >= *watts {
                    return None;
                }
                told(found, *watts, sentence!("gives {}; {} are needed", load_w(found, 0), load_w(*watts, 0)))
            }
            Ask::Moves(flow) => less(c.flow_l_min, *flow, "moves", "l/min"),
            Ask::Watches(cells) => {
                let own = c.cells.unwrap_or(0);
                if own >= *cells {
                    return None;
                }
                told(f64::from(own), f64::from(*cells), sentence!("watches {} cells; {} are in series", own, *cells))
            }
            Ask::Speaks(signals) => {
                if c.signal.is_some_and(|own| signals.contains(&own)) {
                    return None;
                }
                let own = c.signal.map_or("nothing", ThrottleSignal::word);
                let reads: Vec<&str> = signals.iter().map(|s| s.word()).collect();
                told(0.0, 0.0, sentence!("sends {}; the controller reads {}", own, reads.join(" or ")))
            }
            Ask::TellsABrokenWire => {
                if c.signal.is_some_and(ThrottleSignal::tells_a_broken_wire) || c.tracks.is_some_and(|t| t > 1) {
                    return None;
                }
                let signal = c.signal.map_or("no signal", ThrottleSignal::word);
                told(0.0, 0.0, sentence!("one track of {}: a broken wire looks like a foot", signal))
            }
            Ask::BearsHere(amps) => {
                let found = self.cable_bears_a(c).unwrap_or(0.0);
                if found >= *amps {
                    return None;
                }
                told(found, *amps, sentence!("bears {} here; {} are needed", figure(found, "A", 0), figure(*amps, "A", 0)))
            }
            Ask::Loses(most_ohm_per_m) => {
                let ohm = c.section_mm2.map_or(f64::INFINITY, |mm2| resistance_ohm(1.0, mm2, insulation_c(c)));
                if ohm <= *most_ohm_per_m {
                    return None;
                }
                let mohm = |ohm: f64| figure(1000.0 * ohm, "", 2);
                told(ohm, *most_ohm_per_m, sentence!("loses {} mΩ a metre; {} are allowed", mohm(ohm), mohm(*most_ohm_per_m)))
            }
        }
    }

    /// Current that a cable of the library bears where this design's cables lie, A.
    #[must_use]
    pub(crate) fn cable_bears_a(&self, c: &Component) -> Option<f64> {
        c.section_mm2.map(|mm2| Surroundings { insulation_c: insulation_c(c), ..self.here }.bears_a(mm2))
    }

    /// The least of some components that suffices: of fuses the smallest, else the cheapest, the lightest of equal ones. One without a price
    /// is not free: it comes last.
    #[must_use]
    pub fn least<'c>(&self, components: impl IntoIterator<Item = &'c Component>) -> Option<&'c Component> {
        let rank = |c: &Component| {
            let fuse_a = if c.kind == ComponentKind::Fuse { c.current_a.unwrap_or(f64::INFINITY) } else { 0.0 };
            [fuse_a, if c.price > 0.0 { c.price } else { f64::INFINITY }, c.mass_kg]
        };
        components.into_iter().filter(|c| self.is_met_by(c)).min_by(|a, b| {
            let (a, b) = (rank(a), rank(b));
            a.iter().zip(&b).map(|(a, b)| a.total_cmp(b)).find(|o| o.is_ne()).unwrap_or(std::cmp::Ordering::Equal)
        })
    }
}

/// What a cable's insulation bears where its record says nothing, degC.
const USUAL_INSULATION_C: f64 = 90.0;

fn insulation_c(c: &Component) -> f64 {
    c.insulation_c.unwrap_or(USUAL_INSULATION_C)
}
