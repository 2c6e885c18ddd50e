// The map sheets of a study at the desk.
import { useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import type { Sheet } from '../../../../shared/map/sheets';
import { sendLarge } from '../../../ui/sendLarge';

export type MapSheet = Schemas['SheetOut'];

export function useMaps(studyId: number) {
  return useQuery({
    queryKey: ['study', studyId, 'maps'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/map-sheets', { params: { path: { study_id: studyId } } })),
  });
}

/** A sheet as the map draws it, read from the server a range at a time. */
export const drawable = (sheet: MapSheet): Sheet => ({
  line: sheet,
  read: async (from, length) => {
    const range = `bytes=${String(from)}-${String(from + length - 1)}`;
    const answer = await fetch(`/api/map-sheets/${String(sheet.id)}/content`, { headers: { Range: range } });
    if (!answer.ok) throw new Error(`The map answered with ${String(answer.status)}.`);
    return answer.arrayBuffer();
  },
});

/** What a new map is called: as its file, and numbered where that name is taken. */
export function freeName(file: string, taken: string[]): string {
  const name =
    file
      .replace(/\.[^.]*$/, '')
      .trim()
      .slice(0, 56) || file.slice(0, 56);
  let free = name;
  for (let number = 2; taken.includes(free); number += 1) free = `${name} ${String(number)}`;
  return free;
}

/** Send a map; `onSent` is told the share that has been sent, between 0 and 1. */
export async function bringIn(studyId: number, name: string, file: File, onSent: (share: number) => void) {
  const answer = await sendLarge<Schemas['ArrivingOut']>({
    address: `/api/studies/${String(studyId)}/map-files`,
    query: { name },
    file,
    isWhole: ({ sheet }) => sheet != null,
    onSent,
  });
  return answer.sheet;
}
