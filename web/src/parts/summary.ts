import type { Component, Part, UnitSystem } from '../api/types';
import { componentKinds, field, showText, throttleSignals } from '../units/units';

const kinds: Record<string, string> = {
  series_dc: 'series DC',
  brushed_pm: 'brushed, permanent magnet',
  hub: 'hub',
  pm_synchronous: 'permanent-magnet synchronous',
  induction: 'induction',
  lead_flooded: 'flooded lead-acid',
  lead_agm: 'AGM lead-acid',
  lfp: 'LFP',
  nmc: 'NMC/NCA',
  lmo: 'LMO',
  lipo: 'lithium-polymer',
  lto: 'LTO',
  nimh: 'NiMH',
};

/** A kind of motor or a chemistry in words. */
export const kindWordsOf = (kind: string) => kinds[kind] ?? kind;

/** A kind of component in words. */
export const componentWord = (kind: Component['kind']) => componentKinds.find((k) => k.kind === kind)?.word ?? kind;

/** The ratings of a component, each by its label. */
export function ratingsOf(component: Component, system: UnitSystem): string {
  const numbers = componentKinds.find((k) => k.kind === component.kind)?.numbers ?? [];
  const told = numbers.flatMap((key) => {
    const value = component[key as keyof Component] as number | null | undefined;
    if (value == null) return [];
    const of = field('Component', key);
    const label = of.label.split(/[;,]/)[0]?.toLowerCase() ?? '';
    return [`${label} ${showText(value, of.unit, system, 4, of.dimension)}`];
  });
  const signal = throttleSignals.find(([id]) => id === component.signal)?.[1];
  return [...(signal === undefined ? [] : [signal]), ...told, showText(component.mass_kg, 'kg', system)].join(' · ');
}

/** One line that tells a part from another. */
export function summary(part: Part, system: UnitSystem): string {
  const s = (v: number, unit: string, significant = 3) => showText(v, unit, system, significant);
  switch (part.part) {
    case 'motor': {
      const peak =
        part.model.kind === 'envelope'
          ? `${s(part.model.peak_power_w, 'W')} and ${s(part.model.peak_torque_nm, 'N·m')} peak`
          : part.model.kind === 'points'
            ? 'curve from its data sheet'
            : `up to ${s(part.model.peak_current_a, 'A')}, by its constants`;
      return `${kinds[part.kind] ?? part.kind} · ${s(part.continuous_power_w, 'W')} continuously, ${peak} · ${s(part.max_speed_rpm, 'rpm', 5)} · ${s(part.mass_kg, 'kg')}`;
    }
    case 'controller':
      return `${part.motor_kinds.map((k) => kinds[k] ?? k).join(', ')} · ${s(part.min_voltage_v, 'V')} to ${s(part.max_voltage_v, 'V')} · ${s(part.battery_current_a, 'A')} battery${part.motor_current_a == null ? '' : `, ${s(part.motor_current_a, 'A')} motor`} · ${s(part.mass_kg, 'kg')}`;
    case 'module': {
      const cells = part.cells_in_series ?? 1;
      const wh = part.nominal_voltage_v * cells * part.capacity_ah * (part.capacity_share ?? 1);
      const health =
        part.capacity_share != null && part.capacity_share < 1
          ? ` · ${(part.capacity_share * 100).toFixed(0)} % of its capacity left`
          : '';
      return `${kinds[part.chemistry] ?? part.chemistry} · ${s(part.nominal_voltage_v * cells, 'V')}, ${s(part.capacity_ah, 'Ah')} · ${s(wh / 1000, 'kWh')} in ${s(part.mass_kg, 'kg')}${health}`;
    }
    case 'component':
      return `${componentWord(part.kind)} · ${ratingsOf(part, system)}`;
    case 'charger':
      return `${part.output_min_v === part.output_max_v ? s(part.output_max_v, 'V', 4) : `${s(part.output_min_v, 'V')} to ${s(part.output_max_v, 'V')}`} · ${showText(part.output_power_w, 'W', system, 3, 'electric_power')}${(part.phases ?? 1) > 1 ? ', three phases' : ''} · ${s(part.mass_kg, 'kg')}`;
  }
}
