// The media shelf of a study: what is on it, and files brought in.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { App } from 'antd';
import { useCallback, useState } from 'react';
import { api, ask, sendFile, type Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';

export type ShelfFile = Schemas['ShelfFileOut'];
type Brought = Schemas['BroughtOut'];

export const contentOf = (file: ShelfFile, size: 'whole' | 'phone' = 'phone'): string =>
  `/api/media/${String(file.id)}/content?size=${size}`;

export function useShelf(studyId: number) {
  const queries = useQueryClient();
  const { message } = App.useApp();
  /** Which of the files is on its way. */
  const [bringing, setBringing] = useState<{ number: number; of: number } | null>(null);
  const shelf = useQuery({
    queryKey: ['media', studyId],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/media', { params: { path: { study_id: studyId } } })),
    // Every line of the script shows a field of the shelf; where files are used is asked anew by the shelf itself.
    staleTime: Infinity,
  });
  const changed = useCallback(() => queries.invalidateQueries({ queryKey: ['media', studyId] }), [queries, studyId]);
  /** Bring files in, under their own names or, for one, under `name`; resolves to the names that are on the shelf now. */
  const bringIn = useCallback(
    async (files: File[], name?: string): Promise<string[]> => {
      const all: Brought = { added: [], replaced: [], same: [], refused: [] };
      for (const [number, file] of files.entries()) {
        setBringing({ number: number + 1, of: files.length });
        try {
          const query = new URLSearchParams({ name: name ?? file.name }).toString();
          const told = await sendFile<Brought>(`/api/studies/${String(studyId)}/media?${query}`, file);
          all.added.push(...told.added);
          all.replaced.push(...told.replaced);
          all.same.push(...told.same);
          all.refused.push(...told.refused);
        } catch (error) {
          all.refused.push(messageOf(error));
        }
      }
      await changed();
      setBringing(null);
      for (const words of all.refused.slice(0, 4)) message.error({ content: words, duration: 8 });
      const came = [
        all.added.length > 0 ? t('media.added', { count: all.added.length }) : '',
        all.replaced.length > 0 ? t('media.replaced', { count: all.replaced.length }) : '',
        all.same.length > 0 ? t('media.same', { count: all.same.length }) : '',
      ].filter(Boolean);
      if (came.length > 0) message.success(came.join(' '));
      return [...all.added, ...all.replaced, ...all.same];
    },
    [changed, message, studyId],
  );
  const failed = useCallback(
    (error: unknown) => {
      message.error({ content: messageOf(error), duration: 8 });
    },
    [message],
  );
  return { shelf, changed, bringIn, bringing, failed };
}

const KILO = 1000;

export function sizeWords(bytes: number): string {
  if (bytes < KILO * KILO) return `${String(Math.max(1, Math.round(bytes / KILO)))} kB`;
  return `${(bytes / KILO / KILO).toFixed(1)} MB`;
}

/** Pixels of a picture, the length of a sound or film, and its size. */
export function factsOf(file: ShelfFile): string {
  const pixels = file.width != null && file.height != null ? `${String(file.width)} × ${String(file.height)}` : '';
  const length = file.seconds != null ? lengthWords(file.seconds) : '';
  return [pixels, length, sizeWords(file.bytes)].filter(Boolean).join(', ');
}

const lengthWords = (seconds: number): string =>
  `${String(Math.floor(seconds / 60))}:${String(Math.round(seconds % 60)).padStart(2, '0')}`;

export const sortOf = (file: ShelfFile): 'picture' | 'sound' | 'film' =>
  file.type.startsWith('image/') ? 'picture' : file.type.startsWith('video/') ? 'film' : 'sound';
