import { showText } from '../../units/units';
import { useUnits } from '../../units/UnitsContext';

/** Sizes and shares in the units shown. */
export function useSystemWords() {
  const system = useUnits();
  return {
    kg: (kg: number) => showText(kg, 'kg', system, 3),
    m: (m: number) => showText(m, 'm', system, 3),
    size: (size: readonly number[]) => size.map((m) => showText(m, 'm', system, 3)).join(' × '),
    percent: (share: number) => `${(100 * share).toFixed(1)} %`,
  };
}

const same = (words: string[]): [string, string][] => words.map((w) => [w, w]);

/** Chains by their numbers. */
export const chainNumbers: [string, string][] = same(['25', '35', '40', '50', '60', '420', '428', '520', '530']);

/** Choices of a bolt. */
export const boltFields = {
  threads: same(['M5', 'M6', 'M8', 'M10', 'M12', 'M14', 'M16']),
  classes: same(['5.8', '8.8', '10.9']),
  holes: [
    ['existing', 'holes it has'],
    ['drilled', 'new holes'],
    ['welded', 'welded brackets'],
  ] as [string, string][],
};

/** What a kind of block belongs to. */
export const groups: Record<string, string> = {
  removed: 'came out',
  motor: 'motor',
  controller: 'controller',
  pack: 'pack',
  charger: 'charger',
  electrics: 'electrics',
  component: 'electrics',
  added: 'put in',
  driver: 'rides',
  payload: 'rides',
};
