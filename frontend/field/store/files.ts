// Photos, recordings and other files of interviews: kept until the office has them.
import type { FileReference } from '../../shared/interview/answers/props';
import { referenceTo } from '../../shared/interview/answers/Files';
import { db } from './db';

/** Keep a file of an interview; the answer is its reference. */
export async function keepFile(interview: string, file: Blob, name: string): Promise<FileReference> {
  const reference = await referenceTo(file, name);
  await db.files.put({ hash: reference.file, interview, content: file });
  return reference;
}
