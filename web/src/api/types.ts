import type { components } from './schema';

type S = components['schemas'];

export type Document = S['Document'];
export type Brief = S['Brief'];
export type Donor = S['Donor'];
export type Design = S['Design'];
export type Pack = S['Pack'];
export type Goal = S['Goal'];
export type Measure = S['Measure'];
export type Trip = S['Trip'];
export type Socket = S['Socket'];
export type Driveline = S['Driveline'];
export type Estimate = S['Estimate'];
export type Band = S['Band'];
export type Bands = S['Bands'];
export type Tornado = S['Tornado'];
export type Reason = S['Reason'];
export type TripStudy = S['TripStudy'];
export type TripAlong = S['TripAlong'];
export type TripCase = S['TripCase'];
export type Choices = S['Choices'];
export type RoadLoadEvidence = S['RoadLoadEvidence'];
export type RoadLoadProposal = S['RoadLoadProposal'];
export type CoastRun = S['CoastRun'];
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
export type PartKind = S['PartKind'];
export type Conversion = S['ConversionView'];
export type ConversionSummary = S['ConversionSummary'];
export type DesignRecord = S['DesignView'];
export type UnitSystem = S['UnitSystem'];
export type VehicleKind = S['VehicleKind'];
export type Provenance = S['Provenance'];
export type ProblemDocument = S['ProblemDocument'];
