// The files of a release, as a page shows them: from the phone's own store, by addresses that end with the page.
import { useEffect, useMemo, useState } from 'react';
import { lookUpIn, type LookUp, type ReleaseMedia } from '../../shared/interview/media';
import { db, type ReleaseRow } from '../store/db';
import { mediaOf } from '../store/releases';

export function useMedia(release: ReleaseRow, language: string): LookUp {
  const media = useMemo(
    () => (JSON.parse(release.compiled) as { media?: ReleaseMedia }).media ?? {},
    [release.compiled],
  );
  const [urls, setUrls] = useState<ReadonlyMap<string, string>>(new Map());
  useEffect(() => {
    let live = true;
    const made: string[] = [];
    const show = async () => {
      const rows = await db.media.where('hash').anyOf(mediaOf(release)).toArray();
      if (!live) return;
      const found = new Map(rows.map((row) => [row.hash, URL.createObjectURL(row.content)]));
      made.push(...found.values());
      setUrls(found);
    };
    show().catch((error: unknown) => {
      // A question is asked without its picture rather than not at all.
      console.error(error);
    });
    return () => {
      live = false;
      made.forEach((url) => {
        URL.revokeObjectURL(url);
      });
    };
  }, [release]);
  return useMemo(
    () => lookUpIn(media, language, release.languages[0] ?? 'en', (hash) => urls.get(hash) ?? null),
    [media, language, release.languages, urls],
  );
}
