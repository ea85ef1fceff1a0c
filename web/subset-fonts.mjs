// Leaves out of the built fonts what no screen shows: figures are set in plain Latin letters and signs, words in all of Latin-1. What is left out
// is shown in the next font of the row.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import subsetFont from 'subset-font';

const from = (first, last) => Array.from({ length: last - first + 1 }, (_, i) => String.fromCodePoint(first + i)).join('');
const signs = '  °±²³µ·×–—‘’“”…−≤≥€£Ω▲';
const kept = [
  [/^spline-sans-mono-latin-wght/, from(0x20, 0x7e) + signs],
  [/^instrument-sans-latin-wght/, from(0x20, 0x7e) + from(0xa0, 0xff) + signs],
];

const folder = new URL('dist/assets/', import.meta.url);
for (const name of readdirSync(folder).filter((n) => n.endsWith('.woff2'))) {
  const text = kept.find(([font]) => font.test(name))?.[1];
  if (!text) continue;
  const file = new URL(name, folder);
  writeFileSync(file, await subsetFont(readFileSync(file), text, { targetFormat: 'woff2', variationAxes: { wght: { min: 400, max: 700 } } }));
}
