import type { components } from './schema';

type S = components['schemas'];

export type Document = S['Document'];
/** Words and figures of the core; said in the units of the reader. */
export type Sentence = S['Sentence'];
export type Brief = S['Brief'];
export type Answers = S['Answers'];
export type Plate = S['Plate'];
export type ProposalAnswer = S['ProposalAnswer'];
export type Donor = S['Donor'];
export type Design = S['Design'];
export type Pack = S['Pack'];
export type Goal = S['Goal'];
export type Measure = S['Measure'];
export type Trip = S['Trip'];
export type Socket = S['Socket'];
export type Driveline = S['Driveline'];
export type Estimate = S['Report'];
export type Band = S['Band'];
export type Bands = S['Bands'];
export type Tornado = S['Tornado'];
export type Reason = S['Reason'];
export type TripAlong = S['TripAlong'];
export type TripCase = S['TripCase'];
export type RoadLoadEvidence = S['RoadLoadEvidence'];
export type RoadLoadProposal = S['RoadLoadProposal'];
export type Track = S['Track'];
export type BenchSheet = S['BenchSheet'];
export type BenchResult = S['BenchResult'];
/** Where a value comes from, and how far it is trusted when that is not the usual for its source. */
export interface Source {
  from: Provenance;
  spread_percent?: number | null;
}
export type Motor = S['Motor'];
export type Claim = S['Claim'];
export type Finding = S['Finding'];
export type Link = S['Link'];
export type LinkKind = S['LinkKind'];
export type TripResult = S['TripResult'];
export type Alternative = S['Alternative'];
export type Part = S['Part'];
export type PartView = S['PartView'];
export type UnreadablePartView = S['UnreadablePartView'];
export type PartKind = S['PartKind'];
export type Conversion = S['ConversionView'];
export type ConversionSummary = S['ConversionSummary'];
export type UnitSystem = S['UnitSystem'];
export type VehicleKind = S['VehicleKind'];
export type Provenance = S['Provenance'];
export type ProblemDocument = S['ProblemDocument'];
export type MatchRequest = S['MatchRequest'];
export type Match = S['Match'];
export type MatchAnswer = S['MatchAnswer'];
export type Pick = S['Pick'];
export type SearchProgress = S['SearchProgress'];
export type SearchReport = S['SearchReport'];
export type AxisInfo = S['AxisInfo'];
export type Axis = S['Axis'];
export type Relaxations = S['Relaxations'];
export type RelaxProgress = S['RelaxProgress'];
export type Examined = S['Examined'];
export type Question = S['Question'];
export type Needs = S['Needs'];
export type Gearing = S['Gearing'];
export type Newer = S['Newer'];
export type ApproachBest = S['ApproachBest'];
