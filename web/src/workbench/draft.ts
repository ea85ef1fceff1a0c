import type { Brief, Conversion, Design, Document, Donor, UnitSystem } from '../api/types';

/** All of a conversion that a person edits here. Its designs are keyed by id. */
export interface Draft {
  name: string;
  notes: string;
  units: UnitSystem;
  brief: Brief;
  donor: Donor;
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
      designs: Object.fromEntries(c.designs.map((d) => [d.id, d.design])),
    },
    version: c.version,
    versions: Object.fromEntries(c.designs.map((d) => [d.id, d.version])),
  };
}

export const variantsOf = (c: Conversion): Variant[] => c.designs.map((d) => ({ id: d.id, label: d.label }));

/** The self-contained document of one variant; without the conditions of the search, on which no figure depends. */
export function documentOf(draft: Draft, variant: Variant): Document {
  const brief: Brief = { ...draft.brief };
  delete brief.search;
  return {
    format: 'joulethesis-design',
    version: 1,
    name: `${draft.name.trim() || 'Unnamed'} ${variant.label}`,
    brief,
    donor: draft.donor,
    design: draft.designs[variant.id] ?? {},
  };
}
