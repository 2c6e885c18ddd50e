import { useQuery } from '@tanstack/react-query';
import { Input, Modal } from 'antd';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { api, ask, type Schemas } from '../../shared/api/client';
import { useMay } from '../features/session/session';
import { STATIONS } from './stations';

interface Found {
  key: string;
  label: string;
  what: string;
  to: string;
}

const MOST_SHOWN = 12;

/** Finds questions, interviews, tables, stations and studies; arrow keys and Enter go there. */
export function Finder({ study, onClose }: { study: Schemas['StudyOut'] | null; onClose: () => void }) {
  const [text, setText] = useState('');
  const [chosen, setChosen] = useState(0);
  const navigate = useNavigate();
  const everything = useEverything(study);
  const found = useMemo(() => search(everything, text, study), [everything, text, study]);
  const go = (entry: Found | undefined) => {
    if (!entry) return;
    onClose();
    void navigate(entry.to);
  };
  return (
    <Modal open closable={false} footer={null} onCancel={onClose} style={{ top: 60 }} title={null}>
      <Input
        autoFocus
        size="large"
        placeholder="A variable, an interview number, a table, a station …"
        aria-label="Find or do anything"
        value={text}
        onChange={(event) => { setText(event.target.value); setChosen(0); }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') setChosen(Math.min(chosen + 1, found.length - 1));
          else if (event.key === 'ArrowUp') setChosen(Math.max(chosen - 1, 0));
          else if (event.key === 'Enter') go(found[chosen]);
          else return;
          event.preventDefault();
        }}
      />
      <ul className="found" role="listbox">
        {found.map((entry, i) => (
          <li key={entry.key} role="option" aria-selected={i === chosen} onMouseEnter={() => { setChosen(i); }} onClick={() => { go(entry); }}>
            <span>{entry.label}</span><span className="muted">{entry.what}</span>
          </li>
        ))}
        {found.length === 0 && <li className="muted">Nothing is called that.</li>}
      </ul>
    </Modal>
  );
}

function useEverything(study: Schemas['StudyOut'] | null): Found[] {
  const may = useMay();
  const questionnaire = study?.questionnaires[0]?.id;
  const at = study ? `/studies/${String(study.id)}` : '';
  const studies = useQuery({ queryKey: ['studies'], queryFn: () => ask(api.GET('/api/studies')), enabled: !study });
  const draft = useQuery({
    queryKey: ['draft', questionnaire],
    queryFn: () => ask(api.GET('/api/questionnaires/{questionnaire_id}', { params: { path: { questionnaire_id: questionnaire ?? 0 } } })),
    enabled: questionnaire !== undefined && may('script.read'),
  });
  const tables = useQuery({
    queryKey: ['tables', questionnaire],
    queryFn: () => ask(api.GET('/api/questionnaires/{questionnaire_id}/tables', { params: { path: { questionnaire_id: questionnaire ?? 0 } } })),
    enabled: questionnaire !== undefined && may('analyse.read'),
  });
  const found: Found[] = [];
  for (const one of studies.data ?? []) found.push({ key: `s${String(one.id)}`, label: one.title, what: 'study', to: `/studies/${String(one.id)}` });
  if (study) {
    found.push({ key: 'logbook', label: 'Logbook', what: 'station', to: at });
    for (const s of STATIONS) found.push({ key: s.key, label: s.label, what: 'station', to: `${at}/${s.key}` });
  }
  const language = draft.data?.script.languages[0] ?? 'en';
  for (const part of draft.data?.script.parts ?? []) {
    const wording = part.wording[language] ?? '';
    found.push({ key: part.id, label: `${part.variable}  ${wording}`, what: part.kind, to: `${at}/questionnaire?part=${encodeURIComponent(part.id)}` });
  }
  for (const table of tables.data ?? []) found.push({ key: `t${String(table.id)}`, label: table.title, what: 'table', to: `${at}/analyse?table=${String(table.id)}` });
  return found;
}

function search(everything: Found[], text: string, study: Schemas['StudyOut'] | null): Found[] {
  const words = text.toLowerCase().split(/\s+/).filter((w) => w !== '');
  const hits = everything.filter((e) => words.every((w) => e.label.toLowerCase().includes(w)));
  if (study && /^\d+$/.test(text.trim())) {
    const key = text.trim().padStart(4, '0');
    hits.unshift({ key: `i${key}`, label: `Interview ${key}`, what: 'interview', to: `/studies/${String(study.id)}/interviews?keys=${key}` });
  }
  const first = words[0] ?? '';
  const rank = (entry: Found) => (entry.label.toLowerCase().startsWith(first) ? 0 : 1);
  return [...hits].sort((a, b) => rank(a) - rank(b)).slice(0, MOST_SHOWN);
}
