/** Where the pixels of a photograph are. */
export const pictureOf = (id: string, small = false) =>
  `/api/v1/photographs/${id}/picture${small ? '?small=true' : ''}`;

/** Longest side that is sent, pixels. */
const longest = 1800;
/** Largest file that is read, bytes: a large camera's photograph. */
export const largestPhotograph = 40 * 1024 * 1024;

/**
 * A photograph as base 64 of a JPEG, scaled down and upright: what a camera wrote beside the pixels stays behind. Throws where the browser
 * knows no such picture.
 */
export async function smallPicture(file: File): Promise<string> {
  const picture = await createImageBitmap(file, { imageOrientation: 'from-image' });
  const scale = Math.min(1, longest / Math.max(picture.width, picture.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(picture.width * scale));
  canvas.height = Math.max(1, Math.round(picture.height * scale));
  const pen = canvas.getContext('2d');
  if (!pen) throw new Error('this browser draws no pictures');
  pen.fillStyle = '#fff';
  pen.fillRect(0, 0, canvas.width, canvas.height);
  pen.drawImage(picture, 0, 0, canvas.width, canvas.height);
  picture.close();
  return canvas.toDataURL('image/jpeg', 0.85).split(',')[1] ?? '';
}
