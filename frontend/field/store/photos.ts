// Photos are made smaller on the phone, as the profile says, before they are kept.

/** The size that fits `most` on its longer side; null where it is small enough. */
export function fitted(width: number, height: number, most: number): { width: number; height: number } | null {
  const longer = Math.max(width, height);
  if (longer <= most) return null;
  const scale = most / longer;
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}

/** A photo as a JPEG of at most `pixels` on its longer side and `quality` percent; what cannot be read stays as it is. */
export async function reduced(photo: Blob, pixels: number, quality: number): Promise<Blob> {
  try {
    const picture = await createImageBitmap(photo);
    const size = fitted(picture.width, picture.height, pixels);
    if (size === null) return photo;
    const canvas = new OffscreenCanvas(size.width, size.height);
    canvas.getContext('2d')?.drawImage(picture, 0, 0, size.width, size.height);
    picture.close();
    const made = await canvas.convertToBlob({ type: 'image/jpeg', quality: quality / 100 });
    return made.size < photo.size ? made : photo;
  } catch {
    return photo;
  }
}
