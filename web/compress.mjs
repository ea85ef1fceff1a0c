// Stores each asset also compressed, once and well, so that no request has to.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';

const folder = new URL('dist/assets/', import.meta.url);
for (const name of readdirSync(folder)) {
  if (!/\.(js|css|svg)$/.test(name)) continue;
  const text = readFileSync(new URL(name, folder));
  const best = { params: { [constants.BROTLI_PARAM_QUALITY]: 11, [constants.BROTLI_PARAM_SIZE_HINT]: text.length } };
  writeFileSync(new URL(`${name}.br`, folder), brotliCompressSync(text, best));
  writeFileSync(new URL(`${name}.gz`, folder), gzipSync(text, { level: 9 }));
}
