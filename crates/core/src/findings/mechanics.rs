//! Rules of what turns and what holds: chain, shaft, key, coupler, mounts.

use super::rule::finding;
use super::{Evidence, Finding, Rule};
use crate::document::{CONTACTOR_BOX, Held, Holes, Mount, Slot};
use crate::mechanics::belt::{BeltSizing, LEAST_IN_MESH};
use crate::mechanics::plate::{MOST_RUN_OUT_MM, PlateSizing};
use crate::mechanics::{ChainSizing, LEAST_WRAP_DEG, MARGIN, MechanicalSizing, MountSizing, ShaftSizing, ratio_is_off};
use crate::quantity::{figure, machined_mm, sentence};

pub(super) fn drive(e: &Evidence<'_>) -> Vec<Finding> {
    let sizing = MechanicalSizing::of(e.document, e.chain, e.estimate.masses.test_kg);
    let mut out = Vec::new();
    if let Some(chain) = &sizing.chain {
        out.extend(of_chain(chain));
    }
    if let Some(belt) = &sizing.belt {
        out.extend(of_belt(belt));
    }
    if let Some(shaft) = &sizing.shaft {
        out.extend(of_shaft(shaft));
    }
    if let Some(holds_nm) = sizing.coupler_nm {
        let needs_nm = MARGIN * sizing.motor_nm;
        if holds_nm < needs_nm {
            let (holds, needs) = (figure(holds_nm, "N·m", 0), figure(needs_nm, "N·m", 0));
            out.push(finding(
                Rule::CouplerSlips,
                holds_nm,
                needs_nm,
                sentence!("The coupler's bolts hold {}; {} is needed.", holds, needs),
            ));
        }
    }
    if let Some(plate) = &sizing.plate {
        out.extend(of_plate(plate));
    }
    for mount in &sizing.mounts {
        out.extend(mount.said.into_iter().flat_map(|said| of_mount(mount, said, e.document.design.mechanics.no_new_holes)));
    }
    out
}

fn of_chain(c: &ChainSizing<'_>) -> Vec<Finding> {
    let kn = |n: f64| figure(n / 1000.0, "kN", 1);
    let mut out = Vec::new();
    if c.pull_n > 0.5 * c.breaks_n {
        let says = sentence!("The chain is pulled with {}; it breaks at {}, and a shock doubles the pull.", kn(c.pull_n), kn(c.breaks_n));
        out.push(finding(Rule::ChainBreaks, c.pull_n / 1000.0, 0.5 * c.breaks_n / 1000.0, says));
    } else if c.pull_n > c.working_n {
        let says = sentence!("The chain is pulled with {}; it bears {} for long.", kn(c.pull_n), kn(c.working_n));
        out.push(finding(Rule::ChainOverloaded, c.pull_n / 1000.0, c.working_n / 1000.0, says));
    }
    out.extend(teeth_off_ratio(c.teeth, c.teeth_ratio(), c.ratio));
    let smaller = c.teeth[0].min(c.teeth[1]);
    if smaller < c.fewest_teeth {
        let says = sentence!("The smaller sprocket has {} teeth; {} are the fewest here.", smaller, c.fewest_teeth);
        out.push(finding(Rule::FewTeeth, f64::from(smaller), f64::from(c.fewest_teeth), says));
    }
    match c.wrap_deg {
        None => out.push(collide(c.said.centre_mm, c.diameters_mm)),
        Some(wrap) if wrap < LEAST_WRAP_DEG => {
            let says = sentence!("The chain wraps the smaller sprocket by {}.", figure(wrap, "°", 0));
            out.push(finding(Rule::LittleWrap, wrap, LEAST_WRAP_DEG, says));
        }
        Some(_) => {}
    }
    out
}

fn teeth_off_ratio(teeth: [u32; 2], gives: f64, ratio: f64) -> Option<Finding> {
    ratio_is_off(gives, ratio).then(|| {
        let [front, rear] = teeth;
        let says = sentence!("{} and {} teeth give {}; {} is counted with.", front, rear, figure(gives, "", 3), figure(ratio, "", 3));
        finding(Rule::TeethOffRatio, gives, ratio, says)
    })
}

fn collide(centre_mm: f64, diameters_mm: [f64; 2]) -> Finding {
    let reach_mm = 0.5 * (diameters_mm[0] + diameters_mm[1]);
    let says = sentence!("The shafts are {} apart; the sprockets reach {}.", machined_mm(centre_mm, 0), machined_mm(reach_mm, 0));
    finding(Rule::SprocketsCollide, centre_mm, reach_mm, says)
}

fn of_belt(b: &BeltSizing<'_>) -> Vec<Finding> {
    let kn = |n: f64| figure(n / 1000.0, "kN", 1);
    let mut out: Vec<Finding> = teeth_off_ratio(b.teeth, b.teeth_ratio(), b.ratio).into_iter().collect();
    if b.length.is_none() {
        out.push(collide(b.said.centre_mm, b.diameters_mm));
    } else if b.in_mesh < LEAST_IN_MESH {
        let says = sentence!("{} teeth of the belt are in mesh; {} are the fewest.", b.in_mesh, LEAST_IN_MESH);
        out.push(finding(Rule::FewInMesh, f64::from(b.in_mesh), f64::from(LEAST_IN_MESH), says));
    }
    if let Some(bears_n) = b.said.bears_n.filter(|n| b.pull_n > *n) {
        let says = sentence!("The belt is pulled with {}; it bears {}.", kn(b.pull_n), kn(bears_n));
        out.push(finding(Rule::BeltOverloaded, b.pull_n / 1000.0, bears_n / 1000.0, says));
    }
    out
}

fn of_shaft(s: &ShaftSizing<'_>) -> Vec<Finding> {
    let over = |rule: Rule, what: &'static str, [found, allowed]: [f64; 2]| {
        (found > allowed).then(|| {
            let says = sentence!("{}: {} at full torque; {} is allowed.", what, figure(found, "N/mm²", 0), figure(allowed, "N/mm²", 0));
            finding(rule, found, allowed, says)
        })
    };
    let key = s.key_shear_n_mm2.and_then(|s| over(Rule::KeyYields, "The key is sheared", s));
    let flank = s.key_bearing_n_mm2.and_then(|s| over(Rule::KeyYields, "The key's flank is pressed", s));
    over(Rule::ShaftYields, "The shaft is twisted", s.torsion_n_mm2).into_iter().chain(key.or(flank)).collect()
}

fn of_plate(p: &PlateSizing<'_>) -> Vec<Finding> {
    let mut out = Vec::new();
    if let Some(web) = p.web.as_ref().filter(|w| w.mm < w.least_mm) {
        let [one, other] = [0, 1].map(|i| web.between[i].clone());
        out.push(if web.mm < 0.0 {
            let says = sentence!("On the adapter plate, {} and {} run into each other by {}.", one, other, machined_mm(-web.mm, 1));
            finding(Rule::HolesMeet, web.mm, 0.0, says)
        } else {
            let (found, least) = (machined_mm(web.mm, 1), machined_mm(web.least_mm, 1));
            let says = sentence!("On the adapter plate, {} stands between {} and {}; {} is the least.", found, one, other, least);
            finding(Rule::ThinWeb, web.mm, web.least_mm, says)
        });
    }
    if let Some(mm) = p.said.run_out_mm.filter(|mm| *mm > MOST_RUN_OUT_MM) {
        let says = sentence!("The bore runs out by {}; {} is borne.", machined_mm(mm, 3), machined_mm(MOST_RUN_OUT_MM, 3));
        out.push(finding(Rule::RunOut, mm, MOST_RUN_OUT_MM, says));
    }
    out
}

fn of_mount(m: &MountSizing<'_>, said: &Mount, no_new_holes: bool) -> Vec<Finding> {
    let kn = |n: f64| figure(n / 1000.0, "kN", 1);
    let name = held_words(m);
    let mut out = Vec::new();
    let pull_n = m.pull_n();
    if !m.bolts_bear() {
        let bolts = sentence!("{} bolts {} {}", said.bolts, said.thread.word(), said.class.word());
        let says = sentence!("{} pulls with {} in a crash; its ", name.clone(), kn(pull_n)).then(bolts).then(sentence!(
            " bear {}: {} of them are needed.",
            kn(m.bears_n),
            m.fewest
        ));
        out.push(finding(Rule::MountBreaks, m.bears_n / 1000.0, pull_n / 1000.0, says));
    }
    if let Some(sheet_n) = m.sheet_n
        && !m.sheet_bears()
    {
        let says = sentence!("{} pulls with {} in a crash; the sheet at its bolts bears {}.", name.clone(), kn(pull_n), kn(sheet_n));
        out.push(finding(Rule::MountTears, sheet_n / 1000.0, pull_n / 1000.0, says));
    }
    if no_new_holes && said.holes != Holes::Existing {
        let how = if said.holes == Holes::Welded { "welded on" } else { "bolted into new holes" };
        out.push(finding(Rule::NewHoles, 0.0, 0.0, sentence!("{} is {}; nothing was to be drilled or welded.", name.clone(), how)));
    }
    if let Some(pattern) = m.pattern {
        let points = pattern.points.len() as u32;
        if !pattern.points.is_empty() && said.bolts > points {
            let says = sentence!("{} takes {} bolts; {} has {} holes.", name.clone(), said.bolts, &pattern.name, points);
            out.push(finding(Rule::PatternOff, f64::from(said.bolts), f64::from(points), says));
        } else if pattern.thread != said.thread {
            let says = sentence!("{} is held by {}; {} is cut for {}.", name, said.thread.word(), &pattern.name, pattern.thread.word());
            out.push(finding(Rule::PatternOff, said.thread.diameter_mm(), pattern.thread.diameter_mm(), says));
        }
    }
    out
}

/// What a mount holds, as the subject of a sentence.
pub(crate) fn held_words(m: &MountSizing<'_>) -> String {
    match m.of {
        Held::Pack => "The pack".to_owned(),
        Held::PackBox | Held::Added => m.name.to_owned(),
        Held::Motor => "The motor".to_owned(),
        Held::Controller => "The controller".to_owned(),
        Held::Charger => "The charger".to_owned(),
        Held::Electrics => CONTACTOR_BOX.to_owned(),
        Held::Component => Slot::ALL.into_iter().find(|s| s.key() == m.name).map_or("", Slot::word).to_owned(),
    }
}
