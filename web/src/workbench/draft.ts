import type { Brief, Conversion, Design, Document, Donor, Shortlist, UnitSystem } from '../api/types';

/** All of a conversion that a person edits here. Its designs are keyed by id. */
export interface Draft {
  name: string;
  notes: string;
  units: UnitSystem;
  brief: Brief;
  donor: Donor;
  /** Vehicles looked at beside the donor. */
  shortlist: Shortlist;
  designs: Record<string, Design>;
}

/** Labels and order of the designs, which are not edited but added and removed. */
export interface Variant {
  id: string;
  label: string;
}

/** What the service holds: the draft as last read or written, with the version of each stored row. */
export interface Saved {
  draft: Draft;
  version: number;
  versions: Record<string, number>;
}

export function savedOf(c: Conversion): Saved {
  return {
    draft: {
      name: c.name,
      notes: c.notes,
      units: c.units,
      brief: c.brief,
      donor: c.donor,
      shortlist: c.shortlist,
      designs: Object.fromEntries(c.designs.map((d) => [d.id, d.design])),
    },
    version: c.version,
    versions: Object.fromEntries(c.designs.map((d) => [d.id, d.version])),
  };
}

export const variantsOf = (c: Conversion): Variant[] => c.designs.map((d) => ({ id: d.id, label: d.label }));

/** The self-contained document of one variant, as it would be stored. */
export function wholeDocumentOf(draft: Draft, variant: Variant): Document {
  return {
    format: 'joulethesis-design',
    version: 1,
    name: `${draft.name.trim() || 'Unnamed'} ${variant.label}`,
    brief: draft.brief,
    donor: draft.donor,
    design: draft.designs[variant.id] ?? {},
  };
}

/**
 * As [`wholeDocumentOf`] without what no figure depends on: the conditions of the search, notes, and marks of what was assumed or proposed.
 * What is typed there computes nothing anew.
 */
export function documentOf(draft: Draft, variant: Variant): Document {
  const whole = wholeDocumentOf(draft, variant);
  const goals = whole.brief.goals?.map((goal) => without(goal, 'assumed'));
  const brief = without(without(whole.brief, 'search'), 'answers');
  // Sprints are told as people of these units compare them.
  const performance = draft.units === 'metric' ? brief.performance : { ...brief.performance, sprints: 'mph' as const };
  return {
    ...whole,
    name: 'design',
    brief: { ...brief, ...(goals ? { goals } : {}), ...(performance ? { performance } : {}) },
    donor: { ...without(whole.donor, 'notes'), name: 'donor' },
    design: without(without(without(whole.design, 'notes'), 'proposed'), 'name'),
  };
}

/** A copy without an optional key. */
function without<T extends object>(record: T, key: keyof T): T {
  const copy = { ...record };
  Reflect.deleteProperty(copy, key);
  return copy;
}
