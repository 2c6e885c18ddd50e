import { App, Button, Pagination, Progress } from 'antd';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { api, ask } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { Empty, Loaded, NotFound } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { useFieldChange } from '../phones';
import { BatchDialog } from './BatchDialog';
import { SettleDialog } from './SettleDialog';
import { FORM_STATES, PAGE, useBatches, useForms, type Batch, type Form } from './paper';
import './paper.css';

/** One batch: its tally, each paper with who keyed it, and what is to settle. */
export default function BatchPage() {
  const study = useStudy();
  const batchId = Number(useParams().batchId);
  const batches = useBatches(study.id);
  return (
    <Loaded query={batches}>
      {(found) => {
        const batch = found.find((one) => one.id === batchId);
        return batch === undefined ? <NotFound /> : <OneBatch batch={batch} studyId={study.id} />;
      }}
    </Loaded>
  );
}

function OneBatch({ batch, studyId }: { batch: Batch; studyId: number }) {
  const may = useMay();
  const navigate = useNavigate();
  const { modal } = App.useApp();
  const [page, setPage] = useState(1);
  const [state, setState] = useState<Form['state'] | ''>('');
  const forms = useForms(studyId, batch.id, { state, page });
  const [changing, setChanging] = useState(false);
  const [settling, setSettling] = useState<Form | null>(null);
  const here = `/studies/${String(studyId)}/field/paper`;
  const remove = useFieldChange(studyId, (id: number) =>
    ask(api.DELETE('/api/paper-forms/{form_id}', { params: { path: { form_id: id } } })),
  );
  const drop = (form: Form) => {
    void modal.confirm({
      title: t('keying.drop', { number: form.number }),
      content: t('keying.dropMeans'),
      okText: t('keying.dropIt'),
      okButtonProps: { danger: true },
      onOk: () => remove.mutateAsync(form.id),
    });
  };
  const key = (
    <Button type="primary" onClick={() => void navigate(`${here}/${String(batch.id)}/keying`)}>
      {t('keying.keyPapers')}
    </Button>
  );
  return (
    <>
      <div className="page-head">
        <Link to={here}>{t('keying.batches')}</Link>
        <h2>{batch.name}</h2>
        <span className="muted">
          {batch.questionnaire} · {t('keying.release', { number: batch.release })} ·{' '}
          {batch.signed == null
            ? t('keying.unsigned')
            : t('keying.signed', { name: batch.signed.name, on: batch.signed.on })}
        </span>
        <span className="grow" />
        {may('paper.manage') && (
          <Button
            onClick={() => {
              setChanging(true);
            }}
          >
            {t('keying.change')}
          </Button>
        )}
        {key}
      </div>
      <div className="tally">
        <Tally words={t('keying.keyedCount')} count={batch.keyed} of={batch.received} />
        <Tally words={t('keying.finished')} count={batch.finished} of={batch.received} />
      </div>
      <Loaded query={forms}>
        {(found) =>
          found.total === 0 && state === '' ? (
            <div className="sheet">
              <Empty title={t('keying.noForms')} action={key}>
                {t('keying.noFormsMeans')}
              </Empty>
            </div>
          ) : (
            <div className="sheet">
              <div className="sheet-head row wrap-row" role="group" aria-label={t('keying.state')}>
                {(['', ...(Object.keys(FORM_STATES) as Form['state'][])] as const).map((one) => (
                  <Button
                    key={one}
                    size="small"
                    type={state === one ? 'primary' : 'text'}
                    aria-pressed={state === one}
                    onClick={() => {
                      setState(one);
                      setPage(1);
                    }}
                  >
                    {one === '' ? t('keying.allPapers') : FORM_STATES[one]}
                  </Button>
                ))}
              </div>
              <table className="listing">
                <thead>
                  <tr>
                    <th>{t('keying.number')}</th>
                    <th>{t('common.enumerator')}</th>
                    <th>{t('keying.state')}</th>
                    <th>{t('keying.firstKeyer')}</th>
                    <th>{t('keying.secondKeyer')}</th>
                    <th />
                  </tr>
                </thead>
                <tbody>
                  {found.lines.map((form) => (
                    <tr key={form.id}>
                      <td className="mono">{form.number}</td>
                      <td>{form.enumerator}</td>
                      <td className={form.state === 'to settle' ? 'doubt' : undefined}>
                        {FORM_STATES[form.state]}
                        {form.differences > 0 && (
                          <span className="muted small">
                            {' '}
                            · {t('keying.settledCount', { count: form.differences })}
                          </span>
                        )}
                      </td>
                      <td>{form.first}</td>
                      <td>{form.is_twice ? form.second : <span className="muted">{t('keying.once')}</span>}</td>
                      <td className="figure">
                        {form.interview_id != null && may('interview.read') && (
                          <Link to={`/studies/${String(studyId)}/interviews/${String(form.interview_id)}`}>
                            {t('keying.read')}
                          </Link>
                        )}
                        {form.state === 'to settle' && may('paper.manage') && (
                          <Button
                            size="small"
                            type="primary"
                            onClick={() => {
                              setSettling(form);
                            }}
                          >
                            {t('keying.settle')}
                          </Button>
                        )}
                        {form.state !== 'finished' && may('paper.manage') && (
                          <Button
                            size="small"
                            type="text"
                            onClick={() => {
                              drop(form);
                            }}
                          >
                            {t('keying.dropIt')}
                          </Button>
                        )}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
              <Pagination
                className="pad"
                current={page}
                pageSize={PAGE}
                total={found.total}
                hideOnSinglePage
                showSizeChanger={false}
                onChange={setPage}
              />
            </div>
          )
        }
      </Loaded>
      {changing && (
        <BatchDialog
          studyId={studyId}
          batch={batch}
          onClose={() => {
            setChanging(false);
          }}
        />
      )}
      {settling && (
        <SettleDialog
          studyId={studyId}
          form={settling}
          release={batch.id}
          language={batch.language}
          onClose={() => {
            setSettling(null);
          }}
        />
      )}
    </>
  );
}

const Tally = ({ words, count, of }: { words: string; count: number; of: number }) => (
  <div>
    <span>
      {words} <b>{count}</b> <span className="muted">{t('keying.of', { of })}</span>
    </span>
    <Progress
      aria-label={words}
      percent={Math.min(100, Math.round((100 * count) / of))}
      strokeColor="var(--pine)"
      showInfo={false}
      size="small"
    />
  </div>
);
