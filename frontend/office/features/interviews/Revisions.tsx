// The revisions of one interview: each hand-in, which one counts, and what differs.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Button, Checkbox, Modal } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useMoments } from '../../ui/moments';
import { Loaded, messageOf } from '../../ui/states';
import { t } from '../../texts/texts';
import { useMay } from '../../ui/study';

type Data = Schemas['Reading'];
type Revision = Schemas['RevisionOut'];

export function Revisions({ data }: { data: Data }) {
  const { dayAndTime } = useMoments();
  const [looking, setLooking] = useState<number | null>(null);
  const may = useMay();
  if (data.revisions.length < 2 && data.problem == null) return null;
  return (
    <section className="sheet pad">
      <h2>{t('interviews.revisions')}</h2>
      {data.revisions.map((r) => (
        <div key={r.number} className="revision-line">
          <b>{r.number}</b>
          <span className="grow">
            {dayAndTime(r.arrived_at)} · {r.by}
            {r.device !== '' && `, ${r.device}`}
          </span>
          {r.counts && <span className="muted">{t('interviews.revisionCounts')}</span>}
          {r.waits !== '' && <span className="doubt">{t('interviews.revisionWaits')}</span>}
          {data.revisions.length > 1 && (
            <button
              type="button"
              className="plain-link"
              onClick={() => {
                setLooking(r.number);
              }}
            >
              {t('interviews.compare')}
            </button>
          )}
          {may('sensitive.read') && (
            <a
              href={`/api/interviews/${String(data.id)}/revisions/${String(r.number)}/raw`}
              title={t('interviews.whatArrivedByteByte')}
            >
              {t('interviews.raw')}
            </a>
          )}
        </div>
      ))}
      {looking !== null && (
        <Compare
          data={data}
          number={looking}
          onClose={() => {
            setLooking(null);
          }}
        />
      )}
    </section>
  );
}

/** What waits for a decision, above everything else on the page. */
export function WaitingRevision({ data }: { data: Data }) {
  const [looking, setLooking] = useState<number | null>(null);
  const waiting = data.revisions.filter((r) => r.waits !== '');
  const newest = waiting.at(-1);
  if (newest === undefined) return null;
  return (
    <>
      <Alert
        type="warning"
        showIcon
        style={{ marginBottom: 12 }}
        title={t('interviews.revisionWaitsDecision2', { number: newest.number, waits: newest.waits })}
        action={
          <Button
            size="small"
            onClick={() => {
              setLooking(newest.number);
            }}
          >
            {t('interviews.compareDecide')}
          </Button>
        }
      />
      {looking !== null && (
        <Compare
          data={data}
          number={looking}
          onClose={() => {
            setLooking(null);
          }}
        />
      )}
    </>
  );
}

function Compare({ data, number, onClose }: { data: Data; number: number; onClose: () => void }) {
  const may = useMay();
  const queries = useQueryClient();
  const { message } = App.useApp();
  const [takeBack, setTakeBack] = useState(true);
  const compared = useQuery({
    queryKey: ['interview', data.id, 'revision', number, data.hash],
    queryFn: () =>
      ask(
        api.GET('/api/interviews/{interview_id}/revisions/{number}', {
          params: { path: { interview_id: data.id, number } },
        }),
      ),
  });
  const count = useMutation({
    mutationFn: (chosen: number) =>
      ask(
        api.POST('/api/interviews/{interview_id}/revisions/{number}/count', {
          params: { path: { interview_id: data.id, number: chosen } },
          body: { take_back_edits: takeBack && chosen === number && data.desk_edits.length > 0 },
        }),
      ),
    onSuccess: (reading) => {
      queries.setQueryData(['interview', reading.id], reading);
      void queries.invalidateQueries({ queryKey: ['study', reading.study_id] });
      void queries.invalidateQueries({ queryKey: ['data'] });
      onClose();
    },
    onError: (error) => {
      void message.error(messageOf(error));
    },
  });
  const decides = may('interview.review');
  return (
    <Modal open width={860} title={t('interviews.revisions2', { key: data.key })} footer={null} onCancel={onClose}>
      <Loaded query={compared}>
        {({ before, after, lines, same }) => (
          <>
            <table className="compared">
              <thead>
                <tr>
                  <th scope="col">{t('common.question')}</th>
                  <Head revision={before} />
                  <Head revision={after} />
                </tr>
              </thead>
              <tbody>
                {lines.map((line) => (
                  <tr key={line.path}>
                    <td>
                      <code className="muted">{line.path}</code>
                      <br />
                      {line.wording}
                    </td>
                    <td>{line.before === '' ? <span className="muted">{t('common.nothing')}</span> : line.before}</td>
                    <td>
                      <b>{line.after === '' ? <span className="muted">{t('common.nothing')}</span> : line.after}</b>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            <p className="muted">
              {lines.length === 0 ? t('interviews.answersSame') : ''} {t('interviews.answersSameBoth', { same })}
            </p>
            {data.desk_edits.length > 0 && (
              <Alert
                type="warning"
                title={t('interviews.deskHasCorrectedThis', {
                  variables: data.desk_edits.map((edit) => edit.variable).join(', '),
                  reasons: data.desk_edits.map((edit) => `“${edit.reason}” (${edit.by})`).join(', '),
                })}
                description={
                  <Checkbox
                    checked={takeBack}
                    onChange={(event) => {
                      setTakeBack(event.target.checked);
                    }}
                  >
                    {t('interviews.takeTheseCorrectionsBack', { number })}
                  </Checkbox>
                }
                style={{ marginBottom: 12 }}
              />
            )}
            {decides && (
              <div className="row">
                {[before, after].map((r) => (
                  <Button
                    key={r.number}
                    type={r.number === number ? 'primary' : 'default'}
                    disabled={r.counts && data.revisions.every((other) => other.waits === '')}
                    loading={count.isPending}
                    onClick={() => {
                      count.mutate(r.number);
                    }}
                  >
                    {r.counts
                      ? t('interviews.leaveRevision', { number: r.number })
                      : t('interviews.letRevisionCount', { number: r.number })}
                  </Button>
                ))}
              </div>
            )}
          </>
        )}
      </Loaded>
    </Modal>
  );
}

function Head({ revision }: { revision: Revision }) {
  const { dayAndTime } = useMoments();
  return (
    <th scope="col">
      {t('interviews.revision2', { number: revision.number })}
      {revision.counts && `, ${t('interviews.revisionCounts')}`}
      <br />
      <span className="muted small">
        {revision.by}, {dayAndTime(revision.arrived_at)}
      </span>
    </th>
  );
}
