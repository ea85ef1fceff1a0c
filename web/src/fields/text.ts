/**
 * The text of a file: UTF-8, UTF-16 with its mark, or where it is neither the Latin alphabet of western Windows (WHATWG Encoding
 * Standard: what pages call latin-1), as spreadsheets still write it.
 */
export function textOf(bytes: ArrayBuffer): string {
  const [first, second] = new Uint8Array(bytes.slice(0, 2));
  if (first === 0xff && second === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (first === 0xfe && second === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}
