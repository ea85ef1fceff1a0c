//! The course of a search: a first look, then everything, in steps as wide as an answer of so many members needs.
//!
//! What nobody asked about tells designs apart by steps that may be widened. What beats a design in narrow steps does so in wide ones, so the
//! answer in wide steps is among that in narrow ones, and what is beaten is set aside for narrower ones. A search begins with the widest steps
//! where a first look finds many members even so, else with moderate ones, and widens them when there are too many members. Once everything has
//! been looked at the answers in all wider steps follow, and that one is taken which would be found by narrowing from the widest: moderate steps
//! at least, and narrower ones while there are too few members.

use super::count::Counts;
use super::kin::Twins;
use super::open::OpenList;
use super::pack_tree::PackTree;
use super::pareto::{ParetoFront, Widening};
use super::search::{Aside, End, Found, Search};
use super::twins::SeenTwins;
use crate::document::Certainty;
use crate::error::Result;

/// Every so many-th string is looked at first, so many packs of those with about so many trains of motors on a gearing, of each of which the energy of the trip has
/// to be bounded first, and so many candidates simulated.
const THIN: usize = 31;
const THIN_TRAINS: usize = 48;
const THIN_PACKS: usize = 16;
const FIRST: u64 = 96;
/// Members in the widest steps above which a first look says that there will be many.
const MANY: usize = 5;

impl Search<'_> {
    /// Runs to the end, or until `go_on` says no; it is asked between batches.
    pub(super) fn run(&mut self, mut go_on: impl FnMut(&Self) -> bool) -> Result<()> {
        if !self.first_look(&mut go_on)? {
            return Ok(());
        }
        let mut counts = Counts::new(self.problem);
        self.space.lay_packs(self.problem, 1, &mut counts, &self.cancel)?;
        self.counts.add(&counts);
        let Some(packs) = PackTree::of(&self.space, self.problem) else {
            (self.left, self.complete) = (0, true);
            self.front = ParetoFront::new(Widening::none(self.problem.objectives.widened()));
            return Ok(());
        };
        let open = self.everything(&packs, 1);
        (self.left, self.total) = (open.combinations(), open.combinations());
        self.in_fitting_steps(&packs, open, &mut go_on)?;
        if self.complete {
            self.aside.combinations += std::mem::take(&mut self.left);
            self.settled_above = f64::NEG_INFINITY;
        }
        Ok(())
    }

    /// Looks at everything in steps that give as many members as wanted.
    fn in_fitting_steps(&mut self, packs: &PackTree, mut open: OpenList<Twins>, go_on: &mut impl FnMut(&Self) -> bool) -> Result<()> {
        let mut whole: Option<ParetoFront<Found>> = None;
        loop {
            let wider = self.front.widening.wider();
            // Once something is complete, only what stays tells that there will be too many in the end. Before, more than wanted are reason
            // enough to try wider steps: out of them narrower ones can follow.
            let too_many = |search: &Self| match (&whole, &wider) {
                (Some(_), _) => search.stay() > search.wanted.most,
                (None, Some(_)) => search.front.kept.len() > search.wanted.most,
                (None, None) => false,
            };
            match (self.look(packs, &mut open, too_many, go_on)?, wider) {
                (End::Stopped, _) => break,
                (End::TooMany, Some(wider)) if whole.is_none() => {
                    self.front = self.front.told_by(wider, &mut self.aside.found);
                    open = open.again(|open| self.ranked(open));
                }
                (End::TooMany, _) => break,
                (End::Exhausted, _) => {
                    self.complete = true;
                    if whole.is_some() && self.front.kept.len() > self.wanted.most {
                        break;
                    }
                    let fitting = self.front.fitting(self.wanted);
                    whole = Some(fitting.clone().unwrap_or_else(|| self.front.clone()));
                    let finer = self.front.widening.finer();
                    let Some(finer) = finer.filter(|_| fitting.is_none() && !self.aside.overflowed) else { break };
                    self.front = self.front.told_by(finer, &mut self.aside.found);
                    self.aside.combinations = 0;
                    for beaten in std::mem::take(&mut self.aside.open) {
                        open.push(self.ranked(beaten));
                    }
                }
            }
        }
        // What was complete in wider steps still is.
        if let Some(whole) = whole {
            self.front = whole;
        }
        Ok(())
    }

    /// Looks at a thin selection, so that the first answers come while the rest is made ready. False when it was told to stop.
    fn first_look(&mut self, go_on: &mut impl FnMut(&Self) -> bool) -> Result<bool> {
        let before = self.counts.clone();
        self.space.lay_packs(self.problem, THIN, &mut Counts::new(self.problem), &self.cancel)?;
        self.space.thin_packs(THIN_PACKS);
        let mut went_on = true;
        if let Some(packs) = PackTree::of(&self.space, self.problem) {
            let every = (self.space.branches.len() / THIN_TRAINS).max(1);
            let mut open = self.everything(&packs, every);
            self.look(&packs, &mut open, |_| false, &mut |search| {
                went_on = go_on(search);
                went_on && search.counts.simulated - before.simulated < FIRST
            })?;
        }
        // Whatever is a member for a while costs many samples where it has to be sure.
        let few = self.front.kept.len() <= MANY && self.problem.request.certainty == Certainty::P50;
        if few && let Some(moderate) = self.front.widening.moderate() {
            self.front = self.front.told_by(moderate, &mut self.aside.found);
        }
        // Its combinations come again: only the work is counted, not what became of them.
        let Counts { tried, simulated, driven, bounded, blocks, .. } = self.counts;
        self.counts = Counts { tried, simulated, driven, bounded, blocks, ..before };
        self.aside = Aside::default();
        // Packs are numbered anew.
        self.twins = SeenTwins::none(self.problem);
        self.left = u64::MAX;
        Ok(went_on)
    }
}
