import { useQueries, useQuery } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { api, ask, type Schemas } from '../../shared/api/client';
import { offeredActs } from './acts';
import { Picker } from './Picker';
import { stationsFor } from './stations';
import { t } from '../texts/texts';
import { useMay } from './study';

interface Found {
  key: string;
  label: string;
  what: string;
  /** An address to go to, or what to do. */
  to: string | (() => void);
}

const MOST_SHOWN = 12;

/** Finds what the open page can do, questions, interviews, tables, stations and studies; Enter does it or goes there. */
export function Finder({ study, onClose }: { study: Schemas['StudyOut'] | null; onClose: () => void }) {
  const navigate = useNavigate();
  const everything = useEverything(study);
  return (
    <Picker
      label={t('frame.findDoAnything')}
      placeholder={t('frame.variableInterviewNumberTable')}
      top={60}
      search={(text) => search(everything, text, study)}
      keyOf={(entry) => entry.key}
      onPick={(entry) => {
        onClose();
        if (typeof entry.to === 'string') void navigate(entry.to);
        else entry.to();
      }}
      onClose={onClose}
    >
      {(entry) => (
        <>
          <span>{entry.label}</span>
          <span className="muted">{entry.what}</span>
        </>
      )}
    </Picker>
  );
}

function useEverything(study: Schemas['StudyOut'] | null): Found[] {
  const may = useMay();
  const at = study ? `/studies/${String(study.id)}` : '';
  const studies = useQuery({ queryKey: ['studies'], queryFn: () => ask(api.GET('/api/studies')), enabled: !study });
  const questionnaires = study?.questionnaires ?? [];
  const drafts = useQueries({
    queries: questionnaires.map(({ id }) => ({
      queryKey: ['found draft', id],
      queryFn: () =>
        ask(api.GET('/api/questionnaires/{questionnaire_id}', { params: { path: { questionnaire_id: id } } })),
      enabled: may('script.read'),
      staleTime: 10_000,
    })),
  });
  const sets =
    useQuery({
      queryKey: ['study', study?.id, 'data sets'],
      queryFn: () =>
        ask(api.GET('/api/studies/{study_id}/data-sets', { params: { path: { study_id: study?.id ?? 0 } } })),
      enabled: study !== null && may('analyse.read'),
    }).data?.sets ?? [];
  const tables = useQueries({
    queries: sets
      .filter((set) => set.tables.length > 0)
      .map(({ id }) => ({
        queryKey: ['tables', id],
        queryFn: () => ask(api.GET('/api/data-sets/{data_set_id}/tables', { params: { path: { data_set_id: id } } })),
      })),
  });
  const found: Found[] = offeredActs().map(({ key, label, run }) => ({
    key: `act ${key}`,
    label,
    what: t('frame.act'),
    to: run,
  }));
  for (const one of studies.data ?? [])
    found.push({
      key: `s${String(one.id)}`,
      label: one.title,
      what: t('frame.study'),
      to: `/studies/${String(one.id)}`,
    });
  if (study) {
    found.push({ key: 'logbook', label: t('common.logbook'), what: t('frame.station'), to: at });
    for (const s of stationsFor(study.permissions))
      found.push({ key: s.key, label: s.label, what: t('frame.station'), to: `${at}/${s.key}` });
  }
  questionnaires.forEach(({ id, title }, i) => {
    // With several of them it is said which one something stands in.
    const where = (what: string) => (questionnaires.length > 1 ? `${what} · ${title}` : what);
    const script = drafts[i]?.data?.script;
    for (const part of script?.parts ?? []) {
      found.push({
        key: `${String(id)} ${part.id}`,
        label: `${part.variable}  ${part.wording[script?.languages[0] ?? 'en'] ?? ''}`,
        what: where(part.kind),
        to: `${at}/questionnaire?questionnaire=${String(id)}&part=${encodeURIComponent(part.id)}`,
      });
    }
  });
  sets
    .filter((set) => set.tables.length > 0)
    .forEach((set, i) => {
      for (const table of tables[i]?.data ?? [])
        found.push({
          key: `t${String(table.id)}`,
          label: table.title,
          what: sets.length > 1 ? `${t('frame.table')} · ${set.title}` : t('frame.table'),
          to: `${at}/analyse?data=${String(set.id)}&table=${String(table.id)}`,
        });
    });
  for (const set of sets)
    found.push({
      key: `d${String(set.id)}`,
      label: set.title,
      what: t('frame.dataSet'),
      to: `${at}/combine?set=${String(set.id)}`,
    });
  return found;
}

function search(everything: Found[], text: string, study: Schemas['StudyOut'] | null): Found[] {
  const words = text
    .toLowerCase()
    .split(/\s+/)
    .filter((w) => w !== '');
  const hits = everything.filter((e) => words.every((w) => e.label.toLowerCase().includes(w)));
  if (study && /^\d+$/.test(text.trim())) {
    const key = text.trim().padStart(4, '0');
    hits.unshift({
      key: `i${key}`,
      label: t('frame.interview', { key }),
      what: t('frame.oneInterview'),
      to: `/studies/${String(study.id)}/interviews?keys=${key}`,
    });
  }
  const first = words[0] ?? '';
  const rank = (entry: Found) => (entry.label.toLowerCase().startsWith(first) ? 0 : 1);
  return [...hits].sort((a, b) => rank(a) - rank(b)).slice(0, MOST_SHOWN);
}
