import type { Design } from '../api/types';

/** Numbers of the wiring that a person states: what a chosen record says is not asked again. */
export function wiringKeys(design: Design): string[] {
  const fitted = design.electrics?.fitted;
  return [
    ...(fitted?.pack_fuse == null ? ['fuse_a', 'fuse_voltage_v'] : []),
    ...(fitted?.traction_cable == null ? ['cable_section_mm2'] : []),
    'cable_length_m',
    'cable_current_a',
  ];
}
