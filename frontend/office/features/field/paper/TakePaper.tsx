import { Alert, AutoComplete, Button, Input } from 'antd';
import { useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import { dateOf } from './keyed';
import { useForms, type Batch, type Paper } from './paper';

/** The number on the paper, who held the interview and when; one that is known already is gone on with. */
export function TakePaper({
  batch,
  studyId,
  onTake,
}: {
  batch: Batch;
  studyId: number;
  onTake: (paper: Paper) => Promise<void>;
}) {
  const [number, setNumber] = useState('');
  const [enumerator, setEnumerator] = useState('');
  const [day, setDay] = useState('');
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const forms = useForms(studyId, batch.id, { number: number.trim() });
  const known = forms.data?.lines.find((form) => form.number === number.trim());
  const names = forms.data?.enumerators ?? [];
  const submit = async () => {
    const held = day.trim() === '' ? null : dateOf(day.trim());
    if (day.trim() !== '' && held === null) {
      setProblem(t('keying.slipNoDate'));
      return;
    }
    setBusy(true);
    setProblem('');
    try {
      const taken = await ask(
        api.POST('/api/batches/{batch_id}/forms', {
          params: { path: { batch_id: batch.id } },
          body: { number: number.trim(), enumerator: enumerator.trim(), held_on: held },
        }),
      );
      await onTake(taken as Paper);
    } catch (error) {
      setProblem(messageOf(error));
      setBusy(false);
    }
  };
  return (
    <form
      className="sheet pad take-paper"
      onSubmit={(event) => {
        event.preventDefault();
        if (!busy && number.trim() !== '') void submit();
      }}
    >
      <h2>{t('keying.nextPaper')}</h2>
      {batch.second > 0 && <p className="muted">{t('keying.waitForSecond', { count: batch.second })}</p>}
      <label>
        {t('keying.number')}
        <Input
          autoFocus
          maxLength={40}
          value={number}
          onChange={(event) => {
            setNumber(event.target.value);
            setProblem('');
          }}
        />
      </label>
      {known === undefined && (
        <>
          <label>
            {t('common.enumerator')}
            <AutoComplete
              value={enumerator}
              options={names.map((value) => ({ value }))}
              onChange={(value) => {
                setEnumerator(value);
              }}
            />
          </label>
          <label>
            {t('keying.heldOn')}
            <Input
              value={day}
              placeholder={t('keying.dayExample')}
              onChange={(event) => {
                setDay(event.target.value);
              }}
            />
          </label>
        </>
      )}
      {known?.state === 'second to key' && <p className="muted">{t('keying.keyedBy', { name: known.first })}</p>}
      {problem !== '' && <Alert type="error" showIcon title={problem} />}
      <Button type="primary" htmlType="submit" loading={busy} disabled={number.trim() === ''}>
        {t('keying.key')}
      </Button>
    </form>
  );
}
