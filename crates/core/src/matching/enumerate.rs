//! Every combination looked at by closed forms; what cannot meet a rule, a goal or the answer is cut and counted.

use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};

use rayon::prelude::*;

use super::bests::DriveBest;
use super::branches::Sapling;
use super::constraint::Constraint;
use super::count::{Counts, Why, goal, rule};
use super::fed::{Fed, Feeding};
use super::fixed_vehicle::FixedVehicle;
use super::groups::{Group, groups};
use super::keep_up::KeepUp;
use super::kept_drives::kept_drives;
use super::kin::Kinship;
use super::packs::PackSide;
use super::road_energy::RoadEnergy;
use super::size::{MOST_PACKS, check_size, too_many_packs};
use super::space::SearchProblem;
use super::subsystems::{Drive, Drivetrain, KeptDrive, drivetrains};
use crate::cancel::Cancel;
use crate::error::Result;
use crate::figures::FigureKind;
use crate::inputs::Counted;
use crate::library::Module;

/// Both sides made ready, drives grouped by the voltages they take.
#[derive(Debug)]
pub(super) struct SearchSpace {
    pub(super) vehicle: FixedVehicle,
    pub(super) drivetrains: Vec<Drivetrain>,
    pub(super) drives: Vec<KeptDrive>,
    /// Motors with a controller on no gearing, of which they are made.
    pub(super) machines: Vec<Drive>,
    pub(super) groups: Vec<Group>,
    /// Voltages that each drive takes, as in its group.
    pub(super) voltages_of: Vec<u32>,
    /// Drives of motors of the same ratings on a gearing as a tree.
    pub(super) branches: Vec<Sapling<DriveBest>>,
    pub(super) kinship: Kinship,
    pub(super) packs: Vec<PackSide>,
    /// Voltages of groups that each pack may feed, in their order; packs share them.
    pub(super) feeds: Vec<Arc<[u32]>>,
    pub(super) raw: u64,
    /// The range goal on the trip that counts, with what the trip takes at least.
    road: Option<(usize, RoadEnergy)>,
    /// The speed that the trip that counts takes.
    pub(super) keep_up: Option<KeepUp>,
}

/// Packs of a string, with the voltages of groups that each may feed.
type FedPacks = (Arc<[u32]>, Vec<PackSide>);

impl SearchSpace {
    /// # Errors
    /// Where the library is too large to be held in memory, or the search was told to stop.
    pub(super) fn of(problem: &SearchProblem, counts: &mut Counts, cancel: &Cancel) -> Result<Self> {
        check_size(problem)?;
        let vehicle = FixedVehicle::of(problem);
        let road = problem.trip.filter(|_| problem.keeps_up()).and_then(|trip| {
            let constraint = problem.constraints.iter().position(|m| m.kind == FigureKind::Range(trip))?;
            Some((constraint, RoadEnergy::of(problem, &vehicle, trip)?))
        });
        let drivetrains = drivetrains(problem, &vehicle);
        let packs = |m: &Module| problem.series(m).map(|s| problem.parallel(s).len() as u64).sum::<u64>();
        let strings: u64 = problem.modules.iter().map(|m| packs(&m.written)).sum();
        let energies = strings * problem.chargers.len() as u64;
        let raw = drivetrains.len() as u64 * problem.controllers.len() as u64 * energies;
        let (kept, machines) = kept_drives(problem, (&vehicle, &drivetrains), energies, counts, cancel)?;
        let drivetrain = |drive: &KeptDrive| &drivetrains[drive.drivetrain as usize];
        let made = |drive: &KeptDrive| drivetrain(drive).with(drive.drivetrain, &machines[drive.machine as usize]);
        let groups = groups(problem, &drivetrains, kept.iter().map(made));
        let mut voltages_of = vec![0; kept.len()];
        for group in &groups {
            group.drives.iter().for_each(|number| voltages_of[*number as usize] = group.voltages);
        }
        let mut first = 0;
        let best = |kept: &KeptDrive| DriveBest::of(problem, &made(kept), drivetrain(kept));
        let sapling = |drives: &[KeptDrive]| {
            first += drives.len() as u32;
            Sapling::of(first - drives.len() as u32, drives.iter().map(best))
        };
        let branches = kept.chunk_by(|a, b| drivetrain(a).is_rated_as(drivetrain(b))).filter_map(sapling).collect();
        let kinship = Kinship::of(problem, &drivetrains, kept.iter().map(made));
        let (packs, feeds) = (Vec::new(), Vec::new());
        Ok(Self {
            kinship,
            vehicle,
            drivetrains,
            drives: kept,
            machines,
            groups,
            voltages_of,
            branches,
            packs,
            feeds,
            raw,
            road,
            keep_up: KeepUp::of(problem),
        })
    }

    /// A drive by its number.
    pub(super) fn drive(&self, number: u32) -> Drive {
        let KeptDrive { drivetrain, machine } = self.drives[number as usize];
        self.drivetrains[drivetrain as usize].with(drivetrain, &self.machines[machine as usize])
    }

    /// Lays out the packs anew: those of every `every`-th string that can be made.
    ///
    /// # Errors
    /// Where there are more than are held, or [`Error::Cancelled`].
    pub(super) fn lay_packs(&mut self, problem: &SearchProblem, every: usize, counts: &mut Counts, cancel: &Cancel) -> Result<()> {
        self.packs.clear();
        self.feeds.clear();
        let strings: Vec<(u16, u16)> = (0u16..)
            .zip(&problem.modules)
            .flat_map(|(m, module)| problem.series(&module.written).map(move |s| (m, s)))
            .step_by(every)
            .collect();
        let (laid, feeding) = (AtomicUsize::new(0), Feeding::of(&self.groups));
        let found: Vec<(Vec<FedPacks>, Counts)> = strings
            .par_chunks(4)
            .with_max_len(1)
            .map(|some| {
                let (mut counts, mut found, mut template) = (Counts::new(problem), Vec::new(), problem.light.clone());
                for string in some {
                    let (record, series) = (&problem.modules[usize::from(string.0)].counted, f64::from(string.1));
                    let fed = feeding.at(series * f64::from(record.cells_in_series) * record.full_voltage_v);
                    let each = problem.parallel(string.1).len() as u64 * problem.chargers.len() as u64;
                    fed.cut.iter().for_each(|(why, drives)| counts.cut(*why, drives * each));
                    // More than are held are refused in the end, whichever they are.
                    if fed.drives == 0 || laid.load(Ordering::Relaxed) > MOST_PACKS {
                        continue;
                    }
                    let packs = self.packs_of(problem, &mut template, (*string, &fed), &mut counts, cancel);
                    laid.fetch_add(packs.len(), Ordering::Relaxed);
                    if !packs.is_empty() {
                        found.push((fed.voltages.clone(), packs));
                    }
                }
                (found, counts)
            })
            .collect();
        cancel.check()?;
        if laid.into_inner() > MOST_PACKS {
            return Err(too_many_packs());
        }
        for (found, own) in found {
            counts.add(&own);
            for (feeds, packs) in found {
                self.feeds.extend(std::iter::repeat_n(feeds, packs.len()));
                self.packs.extend(packs);
            }
        }
        Ok(())
    }

    /// Leaves some of the packs, evenly among them.
    pub(super) fn thin_packs(&mut self, some: usize) {
        let every = (self.packs.len() / some).max(1);
        let mut at = 0..;
        self.packs.retain(|_| at.next().is_some_and(|i: usize| i.is_multiple_of(every)));
        let mut at = 0..;
        self.feeds.retain(|_| at.next().is_some_and(|i: usize| i.is_multiple_of(every)));
    }

    /// Packs of some modules in series with their chargers, as many strings in parallel as any goal lets them have.
    fn packs_of(
        &self,
        problem: &SearchProblem,
        template: &mut Counted,
        ((module, series), fed): ((u16, u16), &Fed),
        counts: &mut Counts,
        cancel: &Cancel,
    ) -> Vec<PackSide> {
        let Fed { drives: fed, least_price: drive_price, least_kg: drive_kg, .. } = *fed;
        let chargers = || problem.chargers.iter().flatten();
        let charger_price = chargers().map(|c| c.counted.price).fold(f64::INFINITY, f64::min);
        let charger_kg = chargers().map(|c| c.counted.mass_kg).fold(f64::INFINITY, f64::min);
        let or_none = |x: f64| if x.is_finite() { x } else { 0.0 };
        let (charger_price, charger_kg) = (or_none(charger_price), or_none(charger_kg));
        let mut packs = Vec::new();
        PackSide::begin(problem, template, (module, series));
        for parallel in problem.parallel(series) {
            if cancel.is_cancelled() {
                break;
            }
            let (pack_kg, pack_price) = problem.pack_mass_and_price(module, series, parallel);
            let too_much = self.too_much(problem, drive_price + pack_price + charger_price, drive_kg + pack_kg + charger_kg);
            if let Some(why) = too_much {
                counts.cut(why, fed * problem.chargers.len() as u64);
                continue;
            }
            let Some(mut pack) = PackSide::of(problem, template, (module, series, parallel)) else { break };
            if let Some(before) = packs.last().map(|before: &PackSide| &before.model) {
                pack.model = pack.model.sharing_table(before);
            }
            // Too small for the road alone, whatever drives it.
            if let Some((constraint, road)) = &self.road {
                let lightest_kg = self.vehicle.test_kg(drive_kg + pack.mass_kg + charger_kg);
                if !problem.constraints[*constraint].may_be_met(road.furthest_km(pack.on_trip.usable_j, lightest_kg)) {
                    counts.cut(goal(*constraint), fed * problem.chargers.len() as u64);
                    continue;
                }
            }
            self.add_chargers(problem, (&mut pack, template), (drive_price, drive_kg), fed, counts);
            if !pack.chargers.is_empty() {
                packs.push(pack);
            }
        }
        packs.shrink_to_fit();
        packs
    }

    /// The goal or rating plate that some price and mass of drive, pack and charger cannot keep to.
    pub(super) fn too_much(&self, problem: &SearchProblem, price: f64, added_kg: f64) -> Option<Why> {
        let over = |constraint: &Constraint| match constraint.kind {
            FigureKind::Cost => !constraint.may_be_met(self.vehicle.bare_cost + price),
            FigureKind::AddedMass => !constraint.may_be_met(self.vehicle.bare_change_kg + added_kg),
            _ => false,
        };
        if let Some(i) = problem.constraints.iter().position(over) {
            return Some(goal(i));
        }
        let test_kg = self.vehicle.test_kg(added_kg);
        self.vehicle.mass_limits.iter().find(|(_, limit)| test_kg > limit * (1.0 + 1e-9)).map(|(plate, _)| rule(*plate))
    }
}
