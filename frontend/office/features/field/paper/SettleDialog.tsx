// Where two keyers differ: one question after the other, decided by what stands on the paper.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, Button, Modal } from 'antd';
import { useEffect, useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import type { Json } from '../../../../shared/engine/types';
import { t } from '../../../texts/texts';
import { Loaded, messageOf } from '../../../ui/states';
import { useFieldChange } from '../phones';
import { OtherAnswer } from './OtherAnswer';
import type { Form, Settling } from './paper';

interface Props {
  studyId: number;
  form: Form;
  /** The batch whose release was printed. */
  release: number;
  language: string;
  onClose: () => void;
}

type Take = 'first' | 'second' | 'other';

export function SettleDialog({ studyId, form, release, language, onClose }: Props) {
  const queries = useQueryClient();
  const key = ['study', studyId, 'differences', form.id];
  const path = { form_id: form.id };
  const found = useQuery({
    queryKey: key,
    queryFn: () => ask(api.GET('/api/paper-forms/{form_id}/differences', { params: { path } })),
  });
  const [other, setOther] = useState(false);
  const settle = useFieldChange(
    studyId,
    ({ at, take, value, version }: { at: string; take: Take; value: Json; version: number }) =>
      ask(
        api.POST('/api/paper-forms/{form_id}/differences', {
          params: { path },
          // What is keyed is JSON of any shape; the description of the interface says no more of it.
          body: { path: at, take, value: value as never, version },
        }),
      ),
  );
  const finish = useFieldChange(studyId, async () => {
    queries.setQueryData(key, await ask(api.POST('/api/paper-forms/{form_id}/finishing', { params: { path } })));
  });
  const now = found.data;
  const first = now?.open[0];
  const take = (which: Take, value: Json = null) => {
    if (now === undefined || first === undefined || settle.isPending) return;
    settle.mutate(
      { at: first.path, take: which, value, version: now.version },
      {
        onSuccess: (after: Settling) => {
          setOther(false);
          queries.setQueryData(key, after);
        },
      },
    );
  };
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLInputElement || event.ctrlKey || event.metaKey) return;
      if (event.key === '1') take('first');
      else if (event.key === '2') take('second');
      else if (event.key === '3') setOther(true);
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', press);
    return () => {
      window.removeEventListener('keydown', press);
    };
  });
  return (
    <Modal open width={680} footer={null} title={t('keying.settleWhich', { number: form.number })} onCancel={onClose}>
      <Loaded query={found}>
        {(settling) =>
          first === undefined && settling.state !== 'finished' ? (
            <>
              <p>{t('keying.notFinished')}</p>
              {finish.error && <Alert type="error" showIcon title={messageOf(finish.error)} />}
              <Button
                type="primary"
                autoFocus
                loading={finish.isPending}
                onClick={() => {
                  finish.mutate(undefined);
                }}
              >
                {t('keying.finishIt')}
              </Button>
            </>
          ) : first === undefined ? (
            <>
              <Alert type="success" showIcon title={t('keying.allSettled')} />
              <p>
                <Button type="primary" autoFocus onClick={onClose}>
                  {t('keying.close')}
                </Button>
              </p>
            </>
          ) : (
            <div className="settle">
              <p className="muted">
                {t('keying.leftToSettle', { count: settling.open.length, settled: settling.settled })}
                {first.around !== '' && ` · ${first.around}`}
              </p>
              <h3>{first.wording}</h3>
              <p className="muted small">{t('keying.lookAtPaper')}</p>
              <div className="settle-choices">
                <Choice
                  number="1"
                  who={settling.first}
                  shown={first.first}
                  onTake={() => {
                    take('first');
                  }}
                />
                <Choice
                  number="2"
                  who={settling.second}
                  shown={first.second}
                  onTake={() => {
                    take('second');
                  }}
                />
              </div>
              {other ? (
                <OtherAnswer
                  key={first.path}
                  batchId={release}
                  language={language}
                  form={form}
                  path={first.path}
                  onTake={(value) => {
                    take('other', value);
                  }}
                />
              ) : (
                <Button
                  type="text"
                  onClick={() => {
                    setOther(true);
                  }}
                >
                  <b className="settle-key">3</b> {t('keying.neither')}
                </Button>
              )}
              {settle.error && <Alert type="error" showIcon title={messageOf(settle.error)} />}
            </div>
          )
        }
      </Loaded>
    </Modal>
  );
}

function Choice({ number, who, shown, onTake }: { number: string; who: string; shown: string; onTake: () => void }) {
  return (
    <button type="button" className="settle-choice" onClick={onTake}>
      <span className="muted small">
        <b className="settle-key">{number}</b> {who}
      </span>
      <span>{shown === '' ? <i className="muted">{t('keying.leftEmpty')}</i> : shown}</span>
    </button>
  );
}
