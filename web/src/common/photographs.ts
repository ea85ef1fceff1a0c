/** Where the pixels of a photograph are. */
export const pictureOf = (id: string, small = false) =>
  `/api/v1/photographs/${id}/picture${small ? '?small=true' : ''}`;

/** Longest side that is sent, pixels. */
const longest = 1800;
/** Largest file that is read, bytes: a large camera's photograph. */
export const largestPhotograph = 40 * 1024 * 1024;

/** Files that are taken: photographs, and drawings, which are kept as pictures too. */
export const pictureTypes = 'image/jpeg,image/png,image/webp,image/svg+xml';

/** The pixels of a file, and the scale at which they are kept. Throws where the browser knows no such picture. */
async function pixelsOf(file: File) {
  if (file.type !== 'image/svg+xml') {
    const picture = await createImageBitmap(file, { imageOrientation: 'from-image' });
    const { width, height } = picture;
    return { picture, width, height, scale: Math.min(1, longest / Math.max(width, height)) };
  }
  // As an image a drawing runs nothing and fetches nothing; it is as sharp at any size.
  const picture = new Image();
  picture.src = `data:image/svg+xml;base64,${btoa(Array.from(new TextEncoder().encode(await file.text()), (byte) => String.fromCharCode(byte)).join(''))}`;
  await picture.decode();
  const { naturalWidth: width, naturalHeight: height } = picture;
  if (width === 0 || height === 0) throw new Error('a drawing without a size');
  return { picture, width, height, scale: longest / Math.max(width, height) };
}

/**
 * A photograph or drawing as base 64 of a JPEG, scaled and upright: what a camera wrote beside the pixels stays behind. Throws where the
 * browser knows no such picture.
 */
export async function smallPicture(file: File): Promise<string> {
  const { picture, width, height, scale } = await pixelsOf(file);
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(width * scale));
  canvas.height = Math.max(1, Math.round(height * scale));
  const pen = canvas.getContext('2d');
  if (!pen) throw new Error('this browser draws no pictures');
  pen.fillStyle = '#fff';
  pen.fillRect(0, 0, canvas.width, canvas.height);
  pen.drawImage(picture, 0, 0, canvas.width, canvas.height);
  if ('close' in picture) picture.close();
  return canvas.toDataURL('image/jpeg', 0.85).split(',')[1] ?? '';
}
