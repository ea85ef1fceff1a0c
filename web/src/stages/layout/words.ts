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
