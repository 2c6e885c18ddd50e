// What the field station asks about links: the links of a study, their addressees, and how they are told in words.
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';

export type Link = Schemas['LinkOut'];
export type Texts = Schemas['LinkTexts'];
export type Addressee = Schemas['AddresseeOut'];
export type Doing = Addressee['doing'];
export type Entry = Link['entry'];

const REFRESH_MS = 10_000;

export function useLinks(studyId: number) {
  return useQuery({
    queryKey: ['study', studyId, 'links'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/links', { params: { path: { study_id: studyId } } })),
    refetchInterval: REFRESH_MS,
  });
}

export const PAGE = 50;

export function useAddressees(
  studyId: number,
  linkId: number,
  asked: { find: string; doing: Doing | ''; page: number },
) {
  return useQuery({
    queryKey: ['study', studyId, 'addressees', linkId, asked],
    queryFn: () =>
      ask(
        api.GET('/api/links/{link_id}/addressees', {
          params: {
            path: { link_id: linkId },
            query: { find: asked.find, doing: asked.doing, offset: (asked.page - 1) * PAGE, limit: PAGE },
          },
        }),
      ),
    placeholderData: keepPreviousData,
    refetchInterval: REFRESH_MS,
  });
}

/** What a link says in a language where nobody has written anything. */
export function useReadyTexts(studyId: number, language: string) {
  return useQuery({
    queryKey: ['ready link texts', language],
    queryFn: () =>
      ask(
        api.GET('/api/studies/{study_id}/ready-link-texts', {
          params: { path: { study_id: studyId }, query: { language } },
        }),
      ),
    staleTime: Infinity,
  });
}

export const ENTRIES: Record<Entry, string> = {
  open: t('links.entryOpen'),
  personal: t('links.entryPersonal'),
  'signed in': t('links.entrySignedIn'),
};

export const ENTRY_MEANS: Record<Entry, string> = {
  open: t('links.entryOpenMeans'),
  personal: t('links.entryPersonalMeans'),
  'signed in': t('links.entrySignedInMeans'),
};

export const STANDINGS: Record<Link['standing'], string> = {
  open: t('links.standingOpen'),
  closed: t('links.standingClosed'),
  ended: t('links.standingEnded'),
  full: t('links.standingFull'),
  'not released': t('links.standingNotReleased'),
};

export const DOINGS: Record<Doing, string> = {
  'not written to': t('links.notWrittenTo'),
  'not reached': t('links.notReached'),
  waiting: t('links.waiting'),
  begun: t('links.begun'),
  answered: t('links.answered'),
  withdrawn: t('links.withdrawn'),
};
