//! The rules: each with its id, how grave it is, and the words that do not depend on the design.

use serde::{Serialize, Serializer};

use super::{Finding, Severity};
use crate::document::Slot;
use crate::quantity::Sentence;

/// What a rule says wherever it fires.
#[derive(Debug)]
pub(super) struct Words {
    id: &'static str,
    severity: Severity,
    /// Link of the chain it belongs to, unless the finding says otherwise.
    part: &'static str,
    unit: &'static str,
    /// In a few words, for counts.
    short: &'static str,
    why: &'static str,
    change: &'static str,
    source: &'static str,
}

macro_rules! rules {
    ($($name:ident $id:literal $severity:ident $part:literal $unit:literal $short:literal why $why:literal change $change:literal source $source:literal)*) => {
        /// A rule of the findings. Told by its id, which never changes.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
        pub enum Rule {
            $(#[doc = $id] $name,)*
        }

        impl Rule {
            /// Every rule.
            pub const ALL: &[Self] = &[$(Self::$name,)*];

            fn words(self) -> &'static Words {
                match self {
                    $(Self::$name => &Words {
                        id: $id, severity: Severity::$severity, part: $part, unit: $unit, short: $short, why: $why, change: $change,
                        source: $source,
                    },)*
                }
            }
        }
    };
}

impl Rule {
    /// Its id, such as `volts.full-charge-over-controller`.
    #[must_use]
    pub fn id(self) -> &'static str {
        self.words().id
    }

    /// The rule of an id.
    ///
    /// ```
    /// use joulethesis_core::findings::Rule;
    /// assert!(Rule::ALL.iter().all(|r| Rule::of_id(r.id()) == Some(*r)));
    /// assert_eq!(Rule::of_id("volts.of-old"), None);
    /// ```
    #[must_use]
    pub fn of_id(id: &str) -> Option<Self> {
        Self::ALL.iter().copied().find(|r| r.id() == id)
    }

    /// In a few words.
    #[must_use]
    pub fn short(self) -> &'static str {
        self.words().short
    }

    /// How grave it is.
    #[must_use]
    pub fn severity(self) -> Severity {
        self.words().severity
    }
}

impl Rule {
    /// Place in the circuits that a rule is always about.
    fn slot(self) -> Option<Slot> {
        match self {
            Self::NoFuse | Self::FullChargeOverFuse | Self::ControllerOverFuse | Self::TripOverFuse => Some(Slot::PackFuse),
            Self::FuseOverCable | Self::CableTooThin | Self::CableFailsFirst | Self::CableOverrated => Some(Slot::TractionCable),
            Self::NoDisconnect => Some(Slot::Disconnect),
            Self::NoContactor | Self::PrechargeNever | Self::PrechargeEarly => Some(Slot::MainContactor),
            Self::BrakesUnassisted | Self::FewPresses => Some(Slot::BrakeAssistance),
            Self::BatteryEmpties => Some(Slot::Converter),
            Self::LithiumUnmonitored => Some(Slot::Monitor),
            _ => None,
        }
    }
}

impl Serialize for Rule {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.id())
    }
}

impl PartialEq<&str> for Rule {
    fn eq(&self, id: &&str) -> bool {
        self.id() == *id
    }
}

/// What a rule found, with both figures in words.
pub(super) fn finding(rule: Rule, found: f64, limit: f64, message: impl Into<Sentence>) -> Finding {
    let words = rule.words();
    Finding {
        rule,
        severity: words.severity,
        message: message.into(),
        why: words.why.to_owned(),
        change: words.change.to_owned(),
        source: words.source.to_owned(),
        found,
        limit,
        unit: words.unit.to_owned(),
        part: words.part.to_owned(),
        slot: rule.slot(),
    }
}

rules! {
    FullChargeOverController "volts.full-charge-over-controller" Stop "controller" "V" "full charge above the controller maximum"
        why "A full pack destroys the controller the first time it is connected; the nominal voltage hides it."
        change "Take fewer cells in series, or a controller rated above the full-charge voltage."
        source "common practice"
    FullChargeOverMotor "volts.full-charge-over-motor" Stop "motor" "V" "full charge above the motor rating"
        why "Winding insulation and commutator are rated for less."
        change "Take fewer cells in series, or a motor rated above the full-charge voltage."
        source "common practice"
    RegenerationHeadroom "volts.regeneration-headroom" Warn "controller" "V" "regeneration headroom"
        why "Regeneration on a full pack lifts the bus above the full-charge voltage and trips the controller."
        change "Charge to less than full before long descents, or take one cell fewer in series."
        source "common practice"
    PackBelowController "volts.pack-below-controller" Stop "controller" "V" "full charge below the controller minimum"
        why "Even a full pack is below the voltage at which the controller starts."
        change "Take more cells in series, or a controller for a lower voltage."
        source "common practice"
    ChargerOverPack "volts.charger-over-pack" Stop "charger" "V" "charger ends above full charge"
        why "It would overcharge the pack; overcharged lithium cells burn, lead-acid cells boil."
        change "Take a charger that ends at the pack's full-charge voltage."
        source "common practice"
    ChargerUnderPack "volts.charger-under-pack" Warn "charger" "V" "charger never gets to full charge"
        why "The pack never gets full, and its cells are never balanced at the top."
        change "Take a charger that reaches the pack's full-charge voltage."
        source "common practice"
    PackBelowStation "volts.pack-below-station" Warn "charger" "V" "pack below the station's lowest voltage"
        why "Most stations of direct current do not start below their lowest voltage: such a pack cannot charge there at all, however long it waits."
        change "Take more cells in series, or plan with a charger on mains."
        source "common practice"
    FullChargeOverStation "volts.full-charge-over-station" Note "charger" "V" "pack above the station's highest voltage"
        why "The station stops at its own highest voltage; the rest has to come from mains."
        change "Count on less than a full charge there, or take fewer cells in series."
        source "common practice"
    SagBelowCutoff "volts.sag-below-cutoff" Warn "pack" "V" "sags below the cut-off at full throttle"
        why "Full throttle on a low pack makes the controller or the cells' protection cut out, often mid-junction."
        change "Limit battery amps, add a string in parallel, or stop using the pack earlier."
        source "common practice"
    ControllerOverPack "amps.controller-over-pack" Warn "pack" "A" "controller asks more than the cells are rated for"
        why "The controller can ask the cells for more than they bear, which heats and ages them; printed rates are optimistic."
        change "Set the controller's battery amps to the pack's peak, or add strings in parallel."
        source "common practice"
    MotorTooSlow "speed.motor-too-slow" Warn "motor" "rpm" "motor too slow"
        why "At the wanted road speed the motor would turn faster than it may, even in the tallest gear."
        change "Gear it taller, or take a motor that turns faster."
        source "common practice"
    MotorKind "match.motor-kind" Stop "controller" "" "controller for another kind of motor"
        why "A controller drives only the kinds of motor it is made for."
        change "Take a controller for this kind of motor."
        source "common practice"
    UnitIntoGearbox "match.unit-into-gearbox" Warn "motor" "" "unit with its own reduction ahead of a gearbox"
        why "Such a unit drives half-shafts through its own reduction and differential; behind it a gearbox or a final drive gears down twice, and nothing is left to bolt it to."
        change "Put the unit in place of gearbox and final drive, or take a motor with a bare shaft."
        source "common practice"
    BarePouch "pack.bare-pouch" Warn "pack" "kg" "bare pouch cells in a heavy vehicle"
        why "Nothing presses or holds such cells: they swell, their tabs crack under vibration, and their labels promise twice what they bear for long."
        change "Take modules with a frame, or cells in hard cases."
        source "common practice"
    MassGross "mass.gross" Stop "pack" "kg" "over the rated gross mass"
        why "Brakes, tyres, springs and the road approval hold only up to the rated mass."
        change "Take a lighter pack, carry less, or have the vehicle re-rated by the authority."
        source "vehicle's rating plate; local road law"
    MassFrontAxle "mass.front-axle" Warn "pack" "kg" "over the rated front axle"
        why "Brakes, tyres, springs and the road approval hold only up to the rated mass."
        change "Take a lighter pack, carry less, or have the vehicle re-rated by the authority."
        source "vehicle's rating plate; local road law"
    MassRearAxle "mass.rear-axle" Warn "pack" "kg" "over the rated rear axle"
        why "Brakes, tyres, springs and the road approval hold only up to the rated mass."
        change "Take a lighter pack, carry less, or have the vehicle re-rated by the authority."
        source "vehicle's rating plate; local road law"
    MassTyre "mass.tyre" Warn "pack" "kg" "over a tyre's load"
        why "A tyre over its load runs hot and bursts, and the approval of the vehicle hangs on it."
        change "Take tyres of a higher load index, a lighter pack, or move the pack towards the other axle or side."
        source "ETRTO load index on the tyre; local road law"
    MassLightFront "mass.light-front" Warn "pack" "" "too little on the steered axle"
        why "With less than a fifth of the mass on the front wheels the vehicle hardly steers uphill, on a wet road or when it pulls hard."
        change "Move the pack or the motor forwards, or carry less behind the rear axle."
        source "Regulation (EU) 2015/208 asks a fifth of tractors (from memory); common practice elsewhere"
    BlocksOverlap "layout.overlap" Warn "layout" "m" "blocks in the same room"
        why "Two things cannot be in one place; what is found at the bench costs an afternoon, what is found after welding costs a frame."
        change "Move one of them, turn it, or measure again."
        source "common practice"
    BlockOutside "layout.outside" Warn "layout" "m" "out of the body"
        why "What sticks out is struck first, and below the body it meets every kerb; a battery there is in the crush zone."
        change "Move it inwards, or mend the measures of the body."
        source "common practice; UN R100 asks protection of the pack"
    RouteThroughPeople "route.through-people" Warn "layout" "m" "a cable through a person's place"
        why "A cable that is kicked, sat on or cut in a crash puts the pack's voltage where somebody sits."
        change "Lead it under the floor or along a sill, in conduit, out of reach."
        source "UN R100; common practice"
    NearHeat "route.near-heat" Warn "layout" "m" "too near to heat"
        why "Insulation and cells age twice as fast with every ten degrees, and fail first at the hottest place."
        change "Move one of them, or put a shield with air behind it between them."
        source "common practice"
    NearFuel "route.near-fuel" Warn "layout" "m" "too near to fuel"
        why "A spark at a damaged cable lights what drips."
        change "Move one of them, or put a wall and a drain between them; better, leave no fuel in the vehicle."
        source "common practice; local code"
    InCrushZone "route.crush-zone" Warn "layout" "m" "in the crush zone"
        why "What lies there is crushed first, in the crashes that happen most."
        change "Move it inwards, behind the axle or a cross member, or have a structure made around it by whoever may."
        source "UN R100 asks protection of the pack; depths are common practice"
    BayOverfull "layout.bay-overfull" Warn "layout" "" "more modules than the bay takes"
        why "The modules do not fit the hole, however they are turned."
        change "Put some of them into another bay, take smaller modules, or measure the bay again."
        source "every arrangement in layers"
    BayOverloaded "layout.bay-overloaded" Warn "layout" "kg" "over what the bay may carry"
        why "A floor or frame that carries more than it was made for cracks at its spot welds, and lets go in a crash."
        change "Put some of the modules elsewhere, or have the bay stiffened by whoever may weld the body."
        source "the limit stated for the bay"
    NetworkFallsSilent "donor.network-silent" Warn "donor" "" "a message falls silent"
        why "What listens to a message that stops lights its lamp, limps or switches itself off; inspection looks at those lamps."
        change "Send it from a small controller in the period that was logged, or keep the engine's unit powered."
        source "the log of the donor's network; local code decides what must work"
    ChainBreaks "drive.chain-breaks" Stop "driveline" "kN" "chain too weak"
        why "A chain that parts at full throttle whips what stands beside it and can lock the wheel."
        change "Take the next larger chain, two strands, or a larger front sprocket with its larger rear one."
        source "ANSI B29.1; half of the breaking load is judgement"
    ChainOverloaded "drive.chain-overloaded" Warn "driveline" "kN" "chain overloaded"
        why "Above an eighth of its breaking load a chain stretches within weeks and jumps."
        change "Take the next larger chain or larger sprockets, or tension it often and watch it."
        source "common practice"
    TeethOffRatio "drive.teeth-off-ratio" Warn "driveline" "" "teeth and ratio differ"
        why "Speed, hills and range are worked out with another ratio than the sprockets give."
        change "Write the ratio of the teeth as the stage's, or choose other teeth."
        source "teeth are whole"
    FewTeeth "drive.few-teeth" Warn "driveline" "" "few teeth"
        why "A small sprocket bends each link far: it shakes, wears and is loud."
        change "Take a larger front sprocket with its larger rear one."
        source "common practice"
    SprocketsCollide "drive.sprockets-collide" Warn "driveline" "mm" "sprockets too close"
        why "The sprockets run into each other."
        change "Move the shafts apart, or take smaller sprockets or a finer chain."
        source "geometry"
    LittleWrap "drive.little-wrap" Warn "driveline" "°" "little wrap"
        why "With few teeth in the chain each carries more, and it jumps under load."
        change "Move the shafts apart or add an idler on the slack side."
        source "common practice"
    BeltOverloaded "drive.belt-overloaded" Warn "driveline" "kN" "belt overloaded"
        why "A belt that is pulled beyond its rating jumps teeth and tears at the roots."
        change "Take a wider belt, larger pulleys, or limit the torque."
        source "the rating stated for the belt"
    FewInMesh "drive.belt-few-in-mesh" Warn "driveline" "" "few teeth in mesh"
        why "With fewer than six teeth in mesh each carries too much and is sheared off."
        change "Take a larger front pulley, move the shafts apart, or add an idler on the slack side."
        source "common practice"
    ShaftYields "drive.shaft-yields" Stop "driveline" "N/mm²" "shaft too thin"
        why "A shaft that yields twists a little more with every start and breaks without warning."
        change "Take a thicker shaft or a better steel, or limit the torque."
        source "16 T / (pi d³), von Mises; a reserve of a half"
    KeyYields "drive.key-yields" Stop "driveline" "N/mm²" "key too short"
        why "A key that yields rolls in its slot and ruins shaft and hub; then nothing drives, or brakes."
        change "Take a longer key, two of them, a taper lock or a splined hub."
        source "DIN 6885; a reserve of a half"
    CouplerSlips "drive.coupler-slips" Warn "driveline" "N·m" "coupler may slip"
        why "Bolts that do not clamp enough are sheared to and fro until they break."
        change "Take more or thicker bolts or a larger circle, or locate the faces by dowels."
        source "n mu F r; a reserve of a half"
    HolesMeet "drive.plate-holes-meet" Stop "driveline" "mm" "holes run into each other"
        why "Two holes of the plate are one slot; neither bolt holds."
        change "Turn the motor's bolt circle about the shaft, or sink its bolts in a second plate."
        source "geometry"
    ThinWeb "drive.plate-thin-web" Warn "driveline" "mm" "little between two holes"
        why "A thin web cracks or breaks out when the bolts are tightened."
        change "Turn the motor's bolt circle about the shaft, or take smaller holes."
        source "common practice: half the bolt hole"
    RunOut "drive.run-out" Warn "driveline" "mm" "motor out of true"
        why "A shaft that runs out shakes the coupler and wears bearings and splines within days."
        change "Loosen the plate, centre it by dial gauge on the gearbox shaft, and dowel it there."
        source "common practice"
    MountBreaks "mount.too-few-bolts" Stop "layout" "kN" "mount too weak"
        why "A box that tears loose in a crash is a projectile with a battery in it."
        change "Take more, thicker or better bolts, or a frame around the box."
        source "UN R100 annex 9D; bolts by EN 1993-1-8"
    MountTears "mount.sheet-tears" Warn "layout" "kN" "sheet too thin"
        why "The bolts hold and the sheet around them tears out."
        change "Put a plate behind the sheet, or bolt to a frame member."
        source "bearing of the hole at the yield of S235"
    NewHoles "mount.new-holes" Warn "layout" "" "not reversible"
        why "A new hole or a weld stays when the vehicle is put back as it was, and may weaken a rated member."
        change "Find holes that something stood on before, or clamp around a member."
        source "the wish stated for this design"
    PatternOff "mount.pattern-off" Warn "layout" "" "bolts do not match the holes"
        why "What does not match is drilled out at the last minute."
        change "Take as many bolts as there are holes, of their thread."
        source "the holes stated for the donor"
    NoFuse "safety.no-fuse" Warn "wiring" "A" "no fuse"
        why "A short circuit of an unfused pack cannot be switched off; it burns cable, tool and hand."
        change "Put a direct-current fuse and a service disconnect close to the pack."
        source "ISO 6469-3"
    FullChargeOverFuse "volts.full-charge-over-fuse" Stop "wiring" "V" "full charge over fuse"
        why "A fuse above its direct voltage keeps arcing instead of breaking."
        change "Take a fuse rated for direct current above the full-charge voltage."
        source "IEC 60269"
    ControllerOverFuse "amps.controller-over-fuse" Warn "wiring" "A" "controller over fuse"
        why "Full throttle may open the fuse on the road."
        change "Limit the controller's battery amps, or take a larger fuse with the cable to match."
        source "common practice"
    FuseOverCable "amps.fuse-over-cable" Warn "wiring" "A" "fuse over cable"
        why "The cable would burn before the fuse opens."
        change "Take a smaller fuse or a thicker cable."
        source "common practice"
    CableTooThin "amps.cable-too-thin" Stop "wiring" "A" "cable too thin"
        why "The cable overheats on an ordinary trip."
        change "Take a thicker cable."
        source "common practice"
    LithiumUnmonitored "safety.lithium-unmonitored" Warn "pack" "" "lithium unmonitored"
        why "One weak cell is overcharged or reversed while the pack's voltage looks right; lithium cells then burn."
        change "Watch every cell with a management system, or by a strict written routine at each charge."
        source "common practice; approaches differ on the routine"
    SeriesMotorUnloaded "safety.series-motor-unloaded" Note "motor" "" "series motor unloaded"
        why "A series motor without load speeds up until it bursts."
        change "Never run it at more than a few volts out of gear; fit an overspeed cut-out."
        source "common practice"
    NotFollowed "trip.not-followed" Warn "chain" "s" "cannot keep up with the trip"
        why "The vehicle cannot keep up with the traffic this trip assumes; driven slower it would use less, so neither range nor energy is told."
        change "Look at the weakest link, or ask less of the trip."
        source "tolerance of 2 km/h: UN GTR No. 15"
    HazardousVoltage "safety.hazardous-voltage" Note "pack" "V" "hazardous voltage"
        why "More than 60 V of direct current can kill, and a pack cannot be switched off."
        change "Work on it with two people, insulated tools and rated gloves, without jewellery; wait and measure before touching. Local code and licensed practice come first."
        source "UN R100, ISO 6469-3"
    SellersClaim "trust.claim" Note "controller" "%" "claim"
        why "What sellers print lies between 60 and 100 % of itself; the middle of that is counted on."
        change "Test a sample or the part itself, and enter what you measured."
        source "common practice"
    OtherCurrency "cost.other-currency" Warn "chain" "money" "other currency"
        why "Amounts of two currencies have been added up as if they were one."
        change "Enter the price in the currency of the brief."
        source "common practice"
    Heat "heat.trip" Warn "motor" "s" "heat limits it before the range is spent"
        why "At its highest temperature a motor or controller must cut back, and the vehicle slows when it is needed most."
        change "Gear it lower, take a larger motor or controller, cool it better, or climb slower."
        source "common practice"
    NoChargeInFrost "cold.no-charge" Warn "pack" "°C" "no charge"
        why "Charging lithium cells at or below freezing plates metal inside them: capacity goes for good, and a short may follow. That counts for braking too."
        change "Heat the box before charging and block charge and regeneration until it is warm."
        source "common practice"
    MixedStrings "volts.mixed-strings" Stop "pack" "V" "mixed strings"
        why "Joined in parallel, the higher string drives an unlimited current into the lower one and overcharges it."
        change "Give every string the same full-charge voltage."
        source "common practice"
    MixedChemistry "pack.mixed-chemistry" Warn "pack" "" "mixed chemistry"
        why "Different chemistries share the current unevenly as they empty, and one of them ages for the other."
        change "Use one chemistry, or keep the strings apart with their own contactors and converters."
        source "common practice"
    MotorPlaces "match.motor-places" Warn "motor" "" "motor places"
        why "The grip of all wheels is only there when a motor drives each of them."
        change "Match the number of motors to where they sit."
        source "common practice"
    FullChargeOverComponent "volts.full-charge-over-component" Stop "electrics" "V" "full charge above a component's voltage"
        why "Contacts that are opened above their voltage keep arcing; insulation and electronics break down."
        change "Take a component rated above the full-charge voltage, or fewer cells in series."
        source "common practice"
    PackBelowComponent "volts.pack-below-component" Warn "electrics" "V" "pack falls below a component's lowest voltage"
        why "It stops working while the pack still has charge, and with a converter the lamps and the contactors go out."
        change "Take one that works from a lower voltage, or stop using the pack earlier."
        source "common practice"
    CannotBreak "amps.cannot-break" Stop "electrics" "A" "cannot break the current"
        why "What cannot break a current welds or burns when it has to, and then nothing switches the pack off."
        change "Take one with a higher breaking capacity at this direct voltage."
        source "IEC 60269, IEC 60947"
    ComponentTooSmall "size.component-too-small" Warn "electrics" "A" "component too small"
        why "It overheats, opens or falls short under way."
        change "Take the least that suffices, or a larger one."
        source "common practice"
    TooFewCellsWatched "match.monitor-cells" Stop "electrics" "" "monitoring for fewer cells"
        why "A cell that nobody watches is overcharged or reversed while the pack's voltage looks right; lithium cells then burn."
        change "Take monitoring for all cells in series, or two units."
        source "common practice"
    ThrottleSignal "match.throttle-signal" Stop "electrics" "" "throttle of another signal"
        why "A controller that misreads its throttle stands still or runs away."
        change "Take a throttle that sends what the controller reads."
        source "common practice"
    ThrottleRunaway "safety.throttle-runaway" Warn "electrics" "" "throttle fault looks like a foot"
        why "When its ground is lost such a sender reads full travel, and the controller cannot tell it from a foot."
        change "Take a sender with two tracks or with a range that a broken wire falls out of, and keep an emergency stop in reach."
        source "common practice"
    TripOverFuse "amps.trip-over-fuse" Warn "wiring" "A" "trip over fuse"
        why "A fuse opens after an hour or so at a quarter more than it is meant for: on the road, on the longest hill."
        change "Take a larger fuse with the cable to match, or more volts."
        source "common practice"
    CableFailsFirst "amps.cable-fails-first" Stop "wiring" "s" "cable fails before the fuse opens"
        why "A short circuit melts the insulation before the fuse opens, and the pack feeds the fire."
        change "Take a thicker cable, or a smaller or faster fuse."
        source "IEC 60364-4-43"
    CableOverrated "amps.cable-overrated" Warn "wiring" "A" "cable said to bear more than its section"
        why "Printed ratings are for one cable in cool air; a bundle in a warm tunnel bears less."
        change "Count with what the section bears where it lies, or take a thicker one."
        source "NEC table 310.17 with its corrections"
    ChargerOverCells "amps.charger-over-cells" Warn "charger" "A" "charger gives more than the cells take"
        why "Charged faster than they may be, cells age, swell and plate."
        change "Set the charger's amps to what the cells take, or take a smaller one."
        source "common practice"
    NoDisconnect "safety.no-disconnect" Warn "electrics" "" "no service disconnect"
        why "Nobody can work on a circuit, and no rescuer can cut into it, that cannot be opened by hand at the pack."
        change "Put a disconnect beside the pack fuse, in reach from outside."
        source "UN R100, ISO 6469-3"
    NoContactor "safety.no-contactor" Warn "electrics" "" "no main contactor and precharge"
        why "Without a contactor neither key nor emergency stop cuts the pack off; without precharge its contacts weld when it first closes."
        change "Choose a main contactor, in each pole above 60 V, with a precharge resistor and its relay."
        source "common practice; ISO 6469-3 above 60 V"
    PrechargeNever "safety.precharge-never" Stop "electrics" "V" "the bus never fills"
        why "The contactor would weld, or never close."
        change "Hold the converter off until the contactor has closed, or take a smaller resistor."
        source "closed form"
    PrechargeEarly "safety.precharge-early" Stop "electrics" "s" "contactor closes too early"
        why "The rest of the charge rushes through the contacts, which weld: the pack then cannot be switched off."
        change "Take a smaller resistor, or a longer delay."
        source "closed form"
    BrakesUnassisted "safety.brakes-unassisted" Stop "electrics" "" "brakes without assistance"
        why "Without vacuum the pedal takes several times the force: most people cannot stop the vehicle."
        change "Fit a vacuum pump with a reservoir, or an electric booster."
        source "UN R13, UN R13-H"
    FewPresses "safety.few-presses" Stop "electrics" "" "too few presses without the pump"
        why "When the pump dies under way the brakes must still stop the vehicle, more than once."
        change "Take a larger reservoir, or a stronger vacuum."
        source "common practice"
    InsulationLow "safety.insulation-low" Stop "electrics" "kΩ" "insulation too low"
        why "A second fault makes the chassis live."
        change "Find the leak before anything is switched on: water, a pinched cable, a dirty commutator."
        source "UN R100, ISO 6469-3"
    BatteryEmpties "safety.battery-empties" Warn "electrics" "min" "12 V battery shorter than the trip"
        why "When it is empty the contactors drop out and the lamps go dark, on the road."
        change "Take a larger battery, fewer loads, or a converter."
        source "common practice"
}
