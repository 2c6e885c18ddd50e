// The map of a study at the desk: what lies where, in groups told apart by shape first and colour second.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import type { Look } from '../../../../shared/map/marks';
import { t } from '../../../texts/texts';
import { CLASSES, lookOfClass, STANDINGS, type Class, type Standing } from '../visits/visits';

export type Ground = Schemas['GroundOut'];
export type Group = Schemas['GroundGroup'];
export type Of = Schemas['GroundQuery']['of'];
export type Layer = Schemas['LayerOut'];
export const OTHERS = '…';

export const useGround = (studyId: number, of: Of, named: number, by: string, day = '', narrow = '') =>
  useQuery({
    queryKey: ['study', studyId, 'ground', of, named, by, day, narrow],
    queryFn: () =>
      ask(
        api.GET('/api/studies/{study_id}/ground', {
          params: { path: { study_id: studyId }, query: { of, named, by, day, narrow } },
        }),
      ),
    enabled: named > 0,
    placeholderData: keepPreviousData,
  });

/** The maps that were kept under a name. */
export const useLayers = (studyId: number, enabled = true) =>
  useQuery({
    enabled,
    queryKey: ['study', studyId, 'map-layers'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/map-layers', { params: { path: { study_id: studyId } } })),
  });

/** Keep a map under a name, or remove one; whoever shows them has them at once. */
export function useLayerChange<Wanted>(studyId: number, act: (wanted: Wanted) => Promise<Layer[]>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: act,
    onSuccess: (layers) => {
      queries.setQueryData(['study', studyId, 'map-layers'], layers);
    },
  });
}

export const layerActs = {
  keep: (studyId: number) => (body: Schemas['LayerIn']) =>
    ask(api.PUT('/api/studies/{study_id}/map-layers', { params: { path: { study_id: studyId } }, body })),
  remove: (id: number) => ask(api.DELETE('/api/map-layers/{layer_id}', { params: { path: { layer_id: id } } })),
};

/** Where a kept map is looked at. */
export function layerLink(studyId: number, { query, off }: Pick<Layer, 'query' | 'off'>): string {
  const { of, named, by, day, narrow } = query;
  const asked = new URLSearchParams({ of, named: String(named), by, day, narrow });
  for (const value of off) asked.append('off', value);
  return `/studies/${String(studyId)}/plan/map?${asked.toString()}`;
}

/** Words for what points are told apart by, where the office has none of the study's own. */
const BYS: Record<string, string> = {
  outcome: t('ground.byOutcome'),
  standing: t('ground.byStanding'),
  person: t('ground.byPerson'),
  area: t('ground.byArea'),
  state: t('ground.byState'),
  enumerator: t('ground.byEnumerator'),
  distance: t('ground.byDistance'),
  faults: t('ground.byFaults'),
  above: t('ground.byAbove'),
};
export const byWords = ({ value, label }: Schemas['GroundChoice']): string =>
  label === '' ? (BYS[value] ?? value) : label;

const VALUES: Record<string, Record<string, string>> = {
  distance: { at: t('ground.at'), near: t('ground.near'), far: t('ground.far') },
  faults: { faulty: t('ground.faulty'), whole: t('ground.whole') },
  state: {
    arrived: t('ground.arrived'),
    accepted: t('ground.accepted'),
    'sent back': t('ground.sentBack'),
  },
};

/** What a group is called. */
export function groupWords({ value, label }: Group, by: string): string {
  if (value === OTHERS) return t('ground.others');
  if (by === 'outcome') return value === '' ? t('visits.notYet') : CLASSES[value as Class];
  if (value === '') return t('ground.unknown');
  if (by === 'standing') return STANDINGS[value as Standing];
  return VALUES[by]?.[value] ?? (label === '' ? value : label);
}

/** Twelve looks that differ in shape or, where they share one, clearly in colour. */
const SERIES: Look[] = [
  { shape: 'disc', colour: '#1f5540' },
  { shape: 'triangle', colour: '#d9941e' },
  { shape: 'square', colour: '#2f6f8f' },
  { shape: 'cross', colour: '#a63d2f' },
  { shape: 'half', colour: '#6b4a86' },
  { shape: 'bar', colour: '#1f2a26' },
  { shape: 'disc', colour: '#d9941e' },
  { shape: 'triangle', colour: '#2f6f8f' },
  { shape: 'square', colour: '#a63d2f' },
  { shape: 'cross', colour: '#1f5540' },
  { shape: 'half', colour: '#1f2a26' },
  { shape: 'bar', colour: '#d9941e' },
];
const UNKNOWN: Look = { shape: 'ring', colour: '#5b6661' };
const DISTANCES: Record<string, Look> = {
  at: { shape: 'disc', colour: '#1f5540' },
  near: { shape: 'half', colour: '#d9941e' },
  far: { shape: 'cross', colour: '#a63d2f' },
};

/** From the least to the most: what is larger is darker, and drawn otherwise where two lie next to each other. */
const GRADES: Look[] = [
  { shape: 'ring', colour: '#d9941e' },
  { shape: 'half', colour: '#d9941e' },
  { shape: 'disc', colour: '#d9941e' },
  { shape: 'square', colour: '#a63d2f' },
  { shape: 'triangle', colour: '#6b1f16' },
];

export function lookOfGroup({ value }: Group, at: number, by: string, graded = false): Look {
  if (graded && value !== '') return GRADES[Math.min(at, GRADES.length - 1)] ?? UNKNOWN;
  if (by === 'outcome') return lookOfClass(value === '' ? undefined : (value as Class));
  if (value === '') return UNKNOWN;
  return (by === 'distance' ? DISTANCES[value] : undefined) ?? SERIES[at % SERIES.length] ?? UNKNOWN;
}

/** Points as GeoJSON (RFC 7946), each with what it is called and its group. */
export function asGeojson(ground: Ground, shown: readonly number[]): string {
  return JSON.stringify({
    type: 'FeatureCollection',
    features: shown.map((at) => ({
      type: 'Feature',
      geometry: { type: 'Point', coordinates: [ground.longitudes[at], ground.latitudes[at]] },
      properties: {
        id: ground.ids[at],
        label: ground.labels[at],
        [ground.by.replace('v/', '')]: ground.groups[ground.group_of[at] ?? -1]?.value ?? '',
      },
    })),
  });
}
