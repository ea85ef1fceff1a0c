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

/** Points of a torque curve from rows of rpm, torque and perhaps efficiency, which is written as 0.91 or as 91. */
export const curvePoints = (read: number[][]) =>
  read.map(([speed_rpm = 0, torque_nm = 0, share]) =>
    share === undefined
      ? { speed_rpm, torque_nm }
      : { speed_rpm, torque_nm, efficiency: share > 1 ? share / 100 : share },
  );
