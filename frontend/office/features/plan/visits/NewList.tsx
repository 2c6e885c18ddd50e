// A new list of visits: to whom, asking what, by which rules.
import { Alert, Button, Input, Segmented, Select } from 'antd';
import { useState } from 'react';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import { useStudy } from '../../../ui/study';
import { useKinds } from '../registers/registers';
import { FrameForm } from '../samples/FrameForm';
import { useSamples, type Frame } from '../samples/samples';
import { RulesForm, USUAL, type Rules } from './RulesForm';
import { acts, useVisitAct } from './visits';

const NO_SOURCE = { sample_id: null, units: null, named: null };
type From = 'sample' | 'register' | 'keys';

interface Props {
  taken: string[];
  onMade: (listId: number | null) => void;
}

export function NewList({ taken, onMade }: Props) {
  const study = useStudy();
  const samples = useSamples(study.id);
  const kinds = useKinds(study.id);
  const asked = study.questionnaires;
  const [from, setFrom] = useState<From>('sample');
  const [picked, setSample] = useState<number | null>(null);
  const sample = picked ?? samples.data?.[0]?.id ?? null;
  const [frame, setFrame] = useState<Frame | null>(null);
  const [kind, setKind] = useState<number | null>(null);
  const [keys, setKeys] = useState('');
  const [name, setName] = useState('');
  const [questionnaire, setQuestionnaire] = useState(asked.length === 1 ? (asked[0]?.id ?? null) : null);
  const [rules, setRules] = useState<Rules>(USUAL);
  const [due, setDue] = useState('');
  const make = useVisitAct(study.id, acts.make(study.id));
  const chosenSample = samples.data?.find((one) => one.id === sample);
  const called = name === '' ? free(chosenSample?.name ?? '', taken) : name;
  const named = keys.split(/[\n,;\t]+/).filter((key) => key.trim() !== '');
  const source =
    from === 'sample'
      ? sample === null
        ? null
        : { sample_id: sample }
      : from === 'register'
        ? frame?.units == null
          ? null
          : { units: frame.units }
        : kind === null || named.length === 0
          ? null
          : { named: { kind, keys: named } };
  return (
    <section className="sheet pad new-list">
      <h2>{t('visits.newList')}</h2>
      <p className="muted">{t('visits.newListMeans')}</p>
      <Segmented
        value={from}
        onChange={setFrom}
        options={[
          { value: 'sample', label: t('visits.fromSample') },
          { value: 'register', label: t('visits.fromRegister') },
          { value: 'keys', label: t('visits.fromKeys') },
        ]}
      />
      {from === 'sample' &&
        (samples.data?.length === 0 ? (
          <p className="muted">{t('visits.noSamples')}</p>
        ) : (
          <Select
            aria-label={t('visits.whichSample')}
            placeholder={t('visits.whichSample')}
            value={sample}
            onChange={setSample}
            options={samples.data?.map((one) => ({
              value: one.id,
              label: t('visits.sampleOf', { name: one.name, count: one.drawn }),
            }))}
          />
        ))}
      {from === 'register' && <FrameForm frame={frame} count={undefined} onChange={setFrame} ofRegister />}
      {from === 'keys' && (
        <>
          <Select
            aria-label={t('visits.whichKind')}
            placeholder={t('visits.whichKind')}
            value={kind}
            onChange={setKind}
            options={kinds.data?.map((one) => ({ value: one.id, label: one.title }))}
          />
          <Input.TextArea
            rows={5}
            aria-label={t('visits.keys')}
            placeholder={t('visits.keys')}
            value={keys}
            onChange={(event) => {
              setKeys(event.target.value);
            }}
          />
        </>
      )}
      <label>
        {t('visits.asking')}
        <Select
          value={questionnaire}
          onChange={setQuestionnaire}
          options={asked.map((one) => ({ value: one.id, label: one.title }))}
        />
      </label>
      <label>
        {t('visits.calledAs')}
        <Input
          maxLength={64}
          value={called}
          onChange={(event) => {
            setName(event.target.value);
          }}
        />
      </label>
      <RulesForm rules={rules} due={due} onRules={setRules} onDue={setDue} />
      {make.error && <Alert type="error" showIcon title={messageOf(make.error)} />}
      <div className="row">
        <Button
          type="primary"
          loading={make.isPending}
          disabled={source === null || questionnaire === null || called.trim() === ''}
          onClick={() => {
            make.mutate(
              { name: called, questionnaire_id: questionnaire ?? 0, ...NO_SOURCE, ...source, rules, due },
              {
                onSuccess: (made) => {
                  onMade(made.id);
                },
              },
            );
          }}
        >
          {t('visits.makeList')}
        </Button>
        <Button
          type="text"
          onClick={() => {
            onMade(null);
          }}
        >
          {t('common.cancel')}
        </Button>
      </div>
    </section>
  );
}

/** A name that no list has yet. */
function free(name: string, taken: string[]): string {
  if (!taken.includes(name)) return name;
  let at = 2;
  while (taken.includes(`${name} (${String(at)})`)) at += 1;
  return `${name} (${String(at)})`;
}
