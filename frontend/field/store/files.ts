// Photos, recordings and other files of interviews: sealed, and kept until the office has confirmed them.
import type { FileReference } from '../../shared/interview/answers/props';
import { referenceTo } from '../../shared/interview/answers/Files';
import { db } from './db';
import { reduced } from './photos';
import { settingsHere } from './settings';
import { checkSeal, sealFile, sealsUnder, unsealFile } from './vault';

/** Keep a file of an interview; the answer is its reference. */
export async function keepFile(interview: string, given: Blob, name: string, kind: string): Promise<FileReference> {
  const { photo_pixels: pixels, photo_quality: quality } = await settingsHere();
  const file = kind === 'photo' ? await reduced(given, pixels, quality) : given;
  const reference = await referenceTo(file, file === given ? name : name.replace(/\.\w+$/, '') + '.jpg');
  const generation = sealsUnder();
  const sealed = await sealFile(file);
  const { size: bytes, type } = file;
  await db.transaction('rw', db.attachments, db.vault, async () => {
    await checkSeal(generation);
    await db.attachments.put({ interview, hash: reference.file, kind, bytes, type, sealed, confirmed: 0 });
  });
  return reference;
}

/** A file of an interview as it was taken; null where it is not on this phone, or no longer. */
export async function readFile(interview: string, hash: string): Promise<Blob | null> {
  const kept = await db.attachments.get([interview, hash]);
  return kept === undefined ? null : unsealFile(kept.sealed, kept.type);
}
