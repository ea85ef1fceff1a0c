/** What a person's figures mean, or what they may mean where commas can be read two ways. */
export type Reading = { value: number } | { either: [number, number] } | null;

const sign = String.raw`[-+−]?`;

/**
 * Reads figures as people write them: 1234.5, 1 234,5, 1,234.5, 1.234,5, 12e3. One comma before three figures is a decimal comma to
 * some and a thousand to others: both readings come back, and what is asked for decides.
 */
export function readNumber(text: string): Reading {
  const t = text
    .trim()
    .replace('−', '-')
    .replaceAll(/[\s  ']/g, '');
  const plain = (s: string) => ({ value: Number(s) });
  if (new RegExp(`^${sign}\\d*\\.?\\d+(e[-+]?\\d+)?$|^${sign}\\d+\\.$`, 'i').test(t)) return plain(t);
  // Thousands by commas, a point before the rest; or the other way round.
  if (new RegExp(`^${sign}\\d{1,3}(,\\d{3})+\\.\\d+$|^${sign}\\d{1,3}(,\\d{3}){2,}$`).test(t)) {
    return plain(t.replaceAll(',', ''));
  }
  if (new RegExp(`^${sign}\\d{1,3}(\\.\\d{3})+,\\d+$|^${sign}\\d{1,3}(\\.\\d{3}){2,}$`).test(t)) {
    return plain(t.replaceAll('.', '').replace(',', '.'));
  }
  if (new RegExp(`^${sign}[1-9]\\d{0,2},\\d{3}$`).test(t)) {
    return { either: [Number(t.replace(',', '.')), Number(t.replace(',', ''))] };
  }
  if (new RegExp(`^${sign}\\d*,\\d+(e[-+]?\\d+)?$|^${sign}\\d+,$`, 'i').test(t)) return plain(t.replace(',', '.'));
  return null;
}

/** The one number that is meant among those accepted; undefined for nonsense, and both where either may be meant. */
export function meant(text: string, accepts: (value: number) => boolean): number | [number, number] | undefined {
  const read = readNumber(text);
  if (read === null) return undefined;
  if ('value' in read) return Number.isFinite(read.value) ? read.value : undefined;
  const fitting = read.either.filter(accepts);
  // Neither fits: the range is what is wrong, whichever was meant.
  return fitting.length === 1 ? fitting[0] : fitting.length === 0 ? read.either[1] : read.either;
}
