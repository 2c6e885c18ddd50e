// Photos, recordings and other files of interviews: kept until the office has confirmed them.
import type { FileReference } from '../../shared/interview/answers/props';
import { referenceTo } from '../../shared/interview/answers/Files';
import { db } from './db';

/** Keep a file of an interview; the answer is its reference. */
export async function keepFile(interview: string, file: Blob, name: string, kind: string): Promise<FileReference> {
  const reference = await referenceTo(file, name);
  await db.attachments.put({ interview, hash: reference.file, kind, content: file, confirmed: 0 });
  return reference;
}
