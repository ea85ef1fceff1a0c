/** Hands a text over as a file. */
export function download(name: string, type: string, text: string) {
  const url = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}

/** A name that every system takes for a file. */
export const fileName = (words: string) => words.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-+|-+$/g, '');
