// The releases that the phone holds: the newest of each questionnaire, and those that interviews in hand were begun with.
import { Problem, type Schemas } from '../../shared/api/client';
import { FORMATS } from '../../shared/api/contract';
import type { ReleaseMedia } from '../../shared/interview/media';
import { db, type ReleaseRow } from './db';
import { hashOf } from '../../shared/hash';
import * as server from './server';
import { wordsHere } from '../texts/texts';

const isReadable = (line: Schemas['ReleaseLine']): boolean => line.format === FORMATS.release;

/** Fetch the releases that are not here; returns what the enumerator should know of those this build cannot read. */
export async function fetchReleases(token: string, lines: Schemas['ReleaseLine'][]): Promise<string> {
  let unread = '';
  for (const line of lines) {
    if (!isReadable(line)) {
      unread = wordsHere()('releaseNeedsNewer', { number: line.number });
      continue;
    }
    const held = await db.releases.get(line.hash);
    if (held === undefined) await fetchRelease(token, line.identity);
    await db.releases.update(line.hash, {
      identity: line.identity,
      number: line.number,
      practice: line.practice ? 1 : 0,
    });
    if ((held?.exercises?.mark ?? '') !== line.exercises) await takeExercises(token, line);
  }
  return unread;
}

async function takeExercises(token: string, line: Schemas['ReleaseLine']): Promise<void> {
  const all = line.exercises === '' ? [] : await server.fetchExercises(token, line.identity);
  await db.releases.update(line.hash, { exercises: { mark: line.exercises, all } });
}

/** Fetch a release and keep it; returns the hash of its content. */
export async function fetchRelease(token: string, identity: string): Promise<string> {
  const file = await server.fetchRelease(token, identity);
  await db.releases.put({
    hash: file.hash,
    identity: file.identity,
    number: file.number,
    questionnaireId: file.questionnaire_id,
    title: file.compiled.title,
    languages: file.compiled.languages,
    compiled: JSON.stringify(file.compiled),
    newest: 0,
    media: hashesIn(file.compiled.media ?? {}),
  });
  return file.hash;
}

const hashesIn = (media: ReleaseMedia): string[] => [
  ...new Set(Object.values(media).flatMap((files) => Object.values(files).map((file) => file.hash))),
];

/** The files that a release shows; one that an earlier build of this page fetched does not name them by itself. */
export const mediaOf = (release: ReleaseRow): string[] =>
  release.media ?? hashesIn((JSON.parse(release.compiled) as { media?: ReleaseMedia }).media ?? {});

/** Fetch the pictures, sounds and films that are not here, and forget those that no release shows any more. */
export async function fetchMedia(token: string): Promise<void> {
  const wanted = new Set((await db.releases.toArray()).flatMap(mediaOf));
  const held = new Set(await db.media.toCollection().primaryKeys());
  await db.media.bulkDelete([...held].filter((hash) => !wanted.has(hash)));
  let failed: unknown = null;
  for (const hash of wanted) {
    if (held.has(hash)) continue;
    try {
      const content = await server.fetchMedia(token, hash);
      if ((await hashOf(content)) !== hash) throw new Problem('wrong_file', wordsHere()('otherBytes'), 0);
      await db.media.put({ hash, content });
    } catch (error) {
      if (server.isUnreachable(error)) throw error;
      // One that cannot be had keeps none of the others away.
      failed ??= error;
    }
  }
  if (failed !== null) throw failed instanceof Error ? failed : new Error('A file could not be fetched.');
}

/** Older releases stay only while an interview in hand was begun with them, and while no newer one can be read. */
export async function forgetOldReleases(lines: Schemas['ReleaseLine'][], withdrawn: string[]): Promise<void> {
  // With what was withdrawn no interview begins; those in hand go on with it.
  await db.releases.where('hash').anyOf(withdrawn).modify({ newest: 0 });
  const newest = lines.filter(isReadable).map((line) => line.hash);
  if (newest.length === 0) return;
  // With those of kinds of unit nothing begins but what changes one.
  const ofKinds = (await db.device.get('me'))?.units?.kinds.map((kind) => kind.hash) ?? [];
  const inHand = (await db.interviews.where('state').equals('in hand').toArray()).map((i) => i.release);
  const used = new Set([...inHand, ...ofKinds]);
  for (const release of await db.releases.toArray()) {
    if (newest.includes(release.hash)) await db.releases.update(release.hash, { newest: 1 });
    else if (used.has(release.hash)) await db.releases.update(release.hash, { newest: 0 });
    else await db.releases.delete(release.hash);
  }
}
