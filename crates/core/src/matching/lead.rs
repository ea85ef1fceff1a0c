//! The lightest of some kin, looked at in place of one of them: built and run with the grip of the best, it tells of all at once.

use super::candidates::Candidate;
use super::enumerate::SearchSpace;
use super::kin::Kin;
use super::pareto::Tie;
use super::search::Search;
use super::simulate::{Outcome, Work};
use super::space::SearchProblem;
use super::twins::{Came, Lead, Lesson, Stands, ToldByTwins, at_best, worsens_with_mass};
use crate::error::Result;
use crate::figures::{Evaluator, OperatingPoint};
use crate::findings::Rule;
use crate::inputs::Counted;

impl SearchSpace {
    /// The chain of the lightest of some kin of a candidate, with the grip of the best, and how it stands beside them.
    pub(super) fn lightest_chain(&self, problem: &SearchProblem, kin: &Kin, of: &Candidate) -> Result<(Stands, Counted, OperatingPoint)> {
        let look = self.look_at_kin(problem, kin, &self.packs[of.pack as usize]);
        let document = problem.document(&self.configuration(&Candidate { drive: kin.drive, charger: kin.charger, ..*of }));
        let point = OperatingPoint::of(&document)?;
        let grip_times = (look.worst.grip_n / point.chain.traction.drive_n).max(1.0);
        Ok((Stands::of(&look), document, point.gripping(grip_times)))
    }
}

impl Search<'_> {
    /// Looks at the lightest kin of a candidate, as far as has not been done: first at what it does beside its trips, then, if that does not
    /// rule the candidate out, at these. None where nothing is left to be told so, or no other of them has been simulated: then the candidate
    /// itself is simulated.
    pub(super) fn led(
        &self,
        candidate: &Candidate,
        (tie, lesson): (&mut Tie, &mut Lesson),
        dominated: &impl Fn(&Tie) -> bool,
    ) -> Result<Option<(Outcome, Work)>> {
        let (problem, space) = (self.problem, &self.space);
        let Some(known) = self.twins.lead(&space.kin_of(problem, candidate)).filter(|known| *known < Lead::Driven) else { return Ok(None) };
        let kin = space.kin(problem, candidate);
        if (kin.drive, kin.charger) == (candidate.drive, candidate.charger) {
            return Ok(None);
        }
        let (stands, document, point) = space.lightest_chain(problem, &kin, candidate)?;
        let own = Stands::of(&space.look_at(problem, candidate));
        let mut evaluator = Evaluator::new(&document, &point, &problem.trips, &self.cancel).giving_up_hot(problem.keeps(Rule::Heat));
        if known == Lead::None {
            let mut does = Vec::new();
            for kind in problem.cheapest_first.iter().filter(|kind| worsens_with_mass(**kind)) {
                does.push((*kind, at_best(*kind, evaluator.value(*kind)?)));
            }
            lesson.came.push((stands, Came::Does(does)));
            lesson.lead = Lead::Shown;
            if let Some(outcome) = self.judged(&ToldByTwins::by(&lesson.came, &own), tie, dominated) {
                return Ok(Some((outcome, Work::Simulated)));
            }
        }
        lesson.lead = Lead::Driven;
        if !self.twins.tells_of_range {
            return Ok(None);
        }
        let mut followed = true;
        for trip in &problem.followed {
            let driven = evaluator.trip(*trip)?;
            if !driven.followed || driven.derated {
                lesson.came.extend(self.twins.broke(&driven).map(|came| (stands, came)));
                followed = false;
                break;
            }
        }
        if let Some(trip) = problem.trip.filter(|_| followed) {
            lesson.came.extend(self.twins.reached(&evaluator.trip(trip)?).map(|came| (stands, came)));
        }
        let outcome = self.judged(&ToldByTwins::by(&lesson.came, &own), tie, dominated);
        Ok(Some((outcome.unwrap_or(Outcome::Bounded(tie.bins)), Work::Driven)))
    }
}
