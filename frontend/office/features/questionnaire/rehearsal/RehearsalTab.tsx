import { useMutation } from '@tanstack/react-query';
import { Alert, Button, Input, InputNumber, Table } from 'antd';
import { useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import { language, t } from '../../../texts/texts';
import { Words } from '../../../texts/Words';
import { useMoments } from '../../../ui/moments';
import { Empty } from '../../../ui/states';
import { GoTo, OrderedWork, useNewestJob, type Job, type TabProps } from './OrderedWork';
import { isRehearsal, type Rehearsal } from './rehearsal';

/** Interviews made up by walking the questionnaire, and what they come to. */
export function RehearsalTab({ questionnaireId, studyId, blocked, onGo }: TabProps) {
  const [interviews, setInterviews] = useState(200);
  const [seed, setSeed] = useState(1);
  const [day, setDay] = useState('');
  const work = useNewestJob(studyId, questionnaireId, 'rehearsal');
  const order = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/rehearsals', {
          params: { path: { questionnaire_id: questionnaireId } },
          body: { interviews, seed, day: day === '' ? null : day },
        }),
      ),
    onSuccess: work.refresh,
  });
  const result = work.job?.state === 'done' && isRehearsal(work.job.result) ? work.job.result : null;
  return (
    <>
      <p className="muted">{t('questionnaire.interviewsMadeUpWalking')}</p>
      <div className="row order-line">
        <label>
          {t('common.interviews')}{' '}
          <InputNumber
            min={1}
            max={5000}
            value={interviews}
            onChange={(n) => {
              setInterviews(n ?? 200);
            }}
          />
        </label>
        <label>
          {t('questionnaire.seed')}{' '}
          <InputNumber
            value={seed}
            onChange={(n) => {
              setSeed(n ?? 1);
            }}
            title={t('questionnaire.sameSeedMakesSame')}
          />
        </label>
        <label>
          {t('questionnaire.if')}{' '}
          <Input
            type="date"
            value={day}
            onChange={(e) => {
              setDay(e.target.value);
            }}
            title={t('questionnaire.todayIfLeftEmpty')}
          />
        </label>
        <Button
          type="primary"
          disabled={blocked || order.isPending || work.underWay}
          onClick={() => {
            order.mutate();
          }}
        >
          {t('questionnaire.rehearse')}
        </Button>
      </div>
      <OrderedWork order={order} work={work} empty={t('questionnaire.notRehearsedYet')} />
      {work.job && result && <RehearsalResult job={work.job} result={result} onGo={onGo} />}
    </>
  );
}

function RehearsalResult({ job, result, onGo }: { job: Job; result: Rehearsal; onGo: (variable: string) => void }) {
  const { ago } = useMoments();
  return (
    <>
      <p>
        <Words
          k="questionnaire.interviewsSeed"
          values={{
            made: result.made,
            wanted: result.wanted,
            ended_at: ago(job.ended_at ?? job.created_at),
            seed: result.seed,
          }}
          parts={{ b: <b /> }}
        />
        {result.day !== undefined && `, ${t('questionnaire.rehearsedAsIfOn', { day: result.day })}`}.{' '}
        {result.minutes && (
          <>
            <Words
              k="questionnaire.aboutMinutesMostBetween"
              values={{
                median: result.minutes.median,
                tenth: result.minutes.tenth,
                ninetieth: result.minutes.ninetieth,
              }}
              parts={{ b: <b /> }}
            />
          </>
        )}
      </p>
      {result.unmet.length > 0 && (
        <Alert
          type="warning"
          title={t('questionnaire.checksCouldNotMet')}
          description={
            <>
              {result.unmet.some((u) => /\b(today|now)\b/.test(u.rule)) && <p>{t('questionnaire.someSpeakTodayIf')}</p>}
              <ul className="plain-list">
                {result.unmet.map((u) => (
                  <li key={u.variable + u.rule}>
                    <GoTo variable={u.variable} onGo={onGo} />
                    <Words
                      k="questionnaire.couldNotBeMet"
                      values={{ rule: u.rule, count: u.interviews, tries: u.tries.toLocaleString(language) }}
                      parts={{ code: <code /> }}
                    />
                  </li>
                ))}
              </ul>
            </>
          }
        />
      )}
      {result.made === 0 ? (
        <Empty title={t('questionnaire.noInterviewCouldMade')}>{t('questionnaire.whatEachQuestionRule')}</Empty>
      ) : (
        <RehearsalTables job={job} result={result} onGo={onGo} />
      )}
    </>
  );
}

/** Interviews made up by walking the questionnaire, and what they come to. */
export function RehearsalTables({
  job,
  result,
  onGo,
}: {
  job: Job;
  result: Rehearsal;
  onGo: (variable: string) => void;
}) {
  const share = (n: number) => `${String(Math.round((100 * n) / result.made))} %`;
  return (
    <>
      <Button size="small" href={`/api/jobs/${String(job.id)}/file`} download>
        {t('questionnaire.takeOutAllFiles')}
      </Button>
      <p className="muted small">{result.assumption}</p>
      <Table
        size="small"
        rowKey="variable"
        pagination={false}
        dataSource={result.reach}
        columns={[
          {
            title: t('common.question'),
            render: (_, r) => <GoTo variable={r.variable} onGo={onGo} />,
          },
          {
            title: t('questionnaire.kind'),
            dataIndex: 'kind',
            render: (kind: string) => <span className="muted">{kind}</span>,
          },
          {
            title: t('questionnaire.asked'),
            align: 'right',
            width: 90,
            render: (_, r) => (r.asked === 0 ? <b className="doubt">{t('questionnaire.never')}</b> : r.asked),
          },
          { title: '', align: 'right', width: 60, render: (_, r) => <span className="muted">{share(r.asked)}</span> },
          {
            title: t('questionnaire.answered'),
            align: 'right',
            width: 90,
            render: (_, r) => (r.kind === 'statement' ? '' : r.answered),
          },
        ]}
      />
      <h3 className="after-table">{t('questionnaire.howOftenEachRule')}</h3>
      <Table
        size="small"
        rowKey={(f) => `${f.variable}/${f.field}/${f.rule}`}
        pagination={false}
        dataSource={result.rules}
        columns={[
          { title: t('common.question'), render: (_, f) => <code>{f.variable}</code> },
          {
            title: t('questionnaire.rule'),
            render: (_, f) => (
              <>
                <span className="muted small">{f.field}</span> <code>{f.rule}</code>
              </>
            ),
          },
          { title: t('questionnaire.yes'), dataIndex: 'yes', align: 'right', width: 60 },
          { title: t('questionnaire.no'), dataIndex: 'no', align: 'right', width: 60 },
          { title: t('questionnaire.unknown'), dataIndex: 'unknown', align: 'right', width: 80 },
        ]}
      />
    </>
  );
}
