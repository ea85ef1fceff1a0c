/** Rows of readings as people paste them: numbers apart by spaces, commas or tabs, a row a line; or what is wrong with one. */
export function rows(text: string, columns: number[]): number[][] | string {
  const out: number[][] = [];
  for (const [i, line] of text.split('\n').entries()) {
    if (line.trim() === '') continue;
    const cells = line
      .trim()
      .split(/[\s;,]+/)
      .map(Number);
    if (!columns.includes(cells.length) || cells.some((c) => !Number.isFinite(c))) {
      return `line ${String(i + 1)}: "${line.trim()}" is not ${columns.join(' or ')} numbers`;
    }
    out.push(cells);
  }
  return out;
}
