import { useQuery } from '@tanstack/react-query';
import { Input, InputNumber, Select } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import type { Part, Script } from '../script/model';

type Mentioned = Schemas['Mentioned'];
type Answers = Record<string, unknown>;

interface Props {
  questionnaireId: number;
  part: Part;
  text: string;
  script: Script;
  onClose: () => void;
}

const ROWS = 2;

/** A rule with values made up for what it mentions: what it gives, part by part, at once. */
export function TryOut({ questionnaireId, part, text, script, onClose }: Props) {
  const [answers, setAnswers] = useState<Answers>({});
  const [rows, setRows] = useState<Record<string, number>>({});
  const trial = useQuery({
    queryKey: ['trial', questionnaireId, part.id, text, JSON.stringify([answers, rows])],
    queryFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/trials', {
          params: { path: { questionnaire_id: questionnaireId } },
          body: { script, part_id: part.id, text, answers, rows },
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
  const mentions = trial.data?.mentions ?? [];
  const counted = rowsOf(rows, mentions);
  const put = (path: string, value: unknown) => {
    setAnswers((before) => {
      const rest = Object.fromEntries(Object.entries(before).filter(([key]) => key !== path));
      return value === undefined ? rest : { ...rest, [path]: value };
    });
  };
  return (
    <section className="try-out" aria-label={t('questionnaire.tryOut')}>
      {mentions.map((mentioned) =>
        mentioned.kind === 'roster' ? (
          <label key={mentioned.variable} className="try-line">
            <code>{mentioned.variable}</code>
            <InputNumber
              size="small"
              min={0}
              max={20}
              value={counted[mentioned.variable] ?? ROWS}
              suffix={t('questionnaire.tryRows')}
              onChange={(value) => {
                setRows({ ...rows, [mentioned.variable]: value ?? 0 });
              }}
            />
          </label>
        ) : (
          pathsOf(mentioned, counted, part, script).map((path) => (
            <div key={path} className="try-line">
              <code>{path}</code>
              <Value
                mentioned={mentioned}
                script={script}
                label={path}
                onPut={(value) => {
                  put(path, value);
                }}
              />
            </div>
          ))
        ),
      )}
      <ul className="why" aria-label={t('common.why')}>
        {(trial.data?.steps ?? []).map((step, i) => (
          <li key={i} style={{ paddingInlineStart: `${String(14 * step.depth)}px` }}>
            <span className={`outcome ${step.outcome}`}>{step.outcome}</span> <code>{step.text}</code>
          </li>
        ))}
      </ul>
      <button type="button" className="plain-link" onClick={onClose}>
        {t('questionnaire.tryClose')}
      </button>
    </section>
  );
}

/** How many rows each roster of the mentions has: as set, else a few. */
const rowsOf = (set: Record<string, number>, mentions: Mentioned[]): Record<string, number> =>
  Object.fromEntries(
    mentions
      .flatMap((m) => (m.kind === 'roster' ? [...m.rosters, m.variable] : m.rosters))
      .map((roster) => [roster, set[roster] ?? ROWS]),
  );

/** Where a variable is answered: in the same row as the rule, or in every row of its rosters. */
function pathsOf(mentioned: Mentioned, rows: Record<string, number>, part: Part, script: Script): string[] {
  const own = rostersAround(script, part);
  return mentioned.rosters
    .reduce<string[]>(
      (paths, roster) =>
        paths.flatMap((path) =>
          own.includes(roster)
            ? [`${path}${roster}/1/`]
            : Array.from({ length: rows[roster] ?? ROWS }, (_, i) => `${path}${roster}/${String(i + 1)}/`),
        ),
      [''],
    )
    .map((path) => `${path}${mentioned.variable}`);
}

function rostersAround(script: Script, part: Part): string[] {
  const found: string[] = [];
  let level = part.level;
  for (let i = script.parts.findIndex((p) => p.id === part.id) - 1; i >= 0; i -= 1) {
    const above = script.parts[i];
    if (!above || above.level >= level) continue;
    level = above.level;
    if (above.kind === 'roster') found.unshift(above.variable);
  }
  return found;
}

interface ValueProps {
  mentioned: Mentioned;
  script: Script;
  label: string;
  onPut: (value: unknown) => void;
}

const SPECIAL: Record<string, unknown> = {
  "don't know": { special: 'dont_know' },
  refused: { special: 'refused' },
};

/** A value for one variable, in the form its kind is answered in; empty is unanswered. */
function Value({ mentioned, script, label, onPut }: ValueProps) {
  const first = script.languages[0] ?? 'en';
  const list = script.code_lists.find((l) => l.name === mentioned.code_list);
  if (mentioned.kind === 'yes/no' || mentioned.kind === 'read-back')
    return (
      <Select
        size="small"
        allowClear
        aria-label={label}
        placeholder={t('common.unanswered')}
        style={{ minWidth: 150 }}
        options={[
          { value: 'yes', label: t('common.yes') },
          { value: 'no', label: t('common.no') },
          ...Object.keys(SPECIAL).map((word) => ({ value: word, label: word })),
        ]}
        onChange={(value?: string) => {
          onPut(value === undefined ? undefined : (SPECIAL[value] ?? value === 'yes'));
        }}
      />
    );
  if (list)
    return (
      <Select
        size="small"
        allowClear
        showSearch={{ optionFilterProp: 'label' }}
        mode={mentioned.kind === 'single answer' ? undefined : 'multiple'}
        aria-label={label}
        placeholder={t('common.unanswered')}
        style={{ minWidth: 150 }}
        options={list.codes.map((code) => ({ value: code.code, label: code.label[first] ?? code.code }))}
        onChange={(value?: string | string[]) => {
          onPut(value === undefined || value.length === 0 ? undefined : value);
        }}
      />
    );
  return (
    <Input
      size="small"
      className="mono"
      aria-label={label}
      placeholder={HINTS[mentioned.kind] ?? t('common.unanswered')}
      onChange={(event) => {
        const typed = event.target.value.trim();
        onPut(typed === '' ? undefined : (SPECIAL[typed] ?? valueOf(mentioned.kind, typed)));
      }}
    />
  );
}

const HINTS: Record<string, string> = {
  date: '2027-03-14',
  time: '14:30',
  'date-time': '2027-03-14T14:30:00+00:00',
  quantity: '12 kg',
};

/** What is typed, in the JSON form of the kind. */
function valueOf(kind: string, typed: string): unknown {
  if (kind === 'whole number' && /^-?\d+$/.test(typed)) return Number(typed);
  const amount = /^(\S+)\s+(\S+)$/.exec(typed);
  if (kind === 'quantity' && amount) return { amount: amount[1], unit: amount[2] };
  return typed;
}
