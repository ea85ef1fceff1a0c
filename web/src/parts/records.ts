import type { LibraryKind, Part } from '../api/types';

/** Whether a record is a link of the chain; the others have their places in the circuits. */
export const isOfChain = (part: Part): part is Exclude<Part, { part: 'component' }> => part.part !== 'component';

/** Group of the field catalogue and its kinds, by kind of part. */
export const groups: Record<LibraryKind, string> = {
  motor: 'Motor',
  controller: 'Controller',
  module: 'Module',
  charger: 'Charger',
  component: 'Component',
};

export const titles: Record<LibraryKind, string> = {
  motor: 'Motors',
  controller: 'Controllers',
  module: 'Cells and modules',
  charger: 'Chargers',
  component: 'Fuses to connectors',
};

export const one: Record<LibraryKind, string> = {
  motor: 'motor',
  controller: 'controller',
  module: 'cell or module',
  charger: 'charger',
  component: 'fuse, contactor or the like',
};

export const motorKinds: [string, string][] = [
  ['series_dc', 'series DC'],
  ['brushed_pm', 'brushed, permanent magnet'],
  ['hub', 'hub'],
  ['pm_synchronous', 'permanent-magnet synchronous'],
  ['induction', 'induction'],
];

export const cellCases: [string, string][] = [
  ['hard', 'a hard case or a frame'],
  ['bare_pouch', 'a wrapper alone'],
];

export const chemistries: [string, string][] = [
  ['lead_flooded', 'flooded lead-acid'],
  ['lead_agm', 'AGM lead-acid'],
  ['lfp', 'LFP'],
  ['nmc', 'NMC/NCA'],
  ['lmo', 'LMO'],
  ['lipo', 'lithium-polymer'],
  ['lto', 'LTO'],
  ['nimh', 'NiMH'],
];

export const models: [string, string][] = [
  ['envelope', 'peak torque and peak power'],
  ['points', 'curve of its data sheet'],
  ['constants', 'constants of a magnet motor'],
  ['series_dc', 'constants of a series motor'],
];

/** Numbers of a motor's curve, by the kind of its record. */
export const modelKeys: Record<string, string[]> = {
  envelope: ['peak_torque_nm', 'peak_power_w'],
  points: [],
  constants: ['torque_constant_nm_a', 'resistance_ohm', 'no_load_current_a', 'peak_current_a', 'field_weakening'],
  series_dc: [
    'saturated_constant_nm_a',
    'saturation_current_a',
    'resistance_ohm',
    'brush_drop_v',
    'drag_torque_nm',
    'peak_current_a',
  ],
};

/** What a new record begins with; the service says what is still missing. */
export const blank: Record<LibraryKind, unknown> = {
  motor: { part: 'motor', name: '', kind: 'pm_synchronous', model: { kind: 'envelope' } },
  controller: { part: 'controller', name: '', motor_kinds: ['pm_synchronous'] },
  module: { part: 'module', name: '', chemistry: 'lfp', ocv: [] },
  charger: { part: 'charger', name: '' },
  component: { part: 'component', kind: 'fuse', name: '' },
};

/** A copy under a name of its own. */
export const copyOf = (part: Part): unknown => ({ ...part, name: `${part.name}, own` });
