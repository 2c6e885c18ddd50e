import { Alert, Button, Table } from 'antd';
import { language, t } from '../../../texts/texts';
import { Words } from '../../../texts/Words';
import { useMoments } from '../../../ui/moments';
import { Empty } from '../../../ui/states';
import { GoTo, type Job } from './OrderedWork';
import type { Rehearsal } from './rehearsal';
import type { Work } from './useRehearsed';

/** Interviews made up by walking the questionnaire, and what they come to. */
export function RehearsalTab({ done, onGo }: { done: Work<Rehearsal>['done']; onGo: (variable: string) => void }) {
  if (done === null) return <Empty title={t('questionnaire.notRehearsedYet')} />;
  return <RehearsalResult job={done.job} result={done.result} onGo={onGo} />;
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

function RehearsalTables({ job, result, onGo }: { job: Job; result: Rehearsal; onGo: (variable: string) => void }) {
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
          {
            title: t('rehearsal.secondsHead'),
            align: 'right',
            width: 90,
            render: (_, r) => (r.seconds == null ? '' : r.seconds.toFixed(0)),
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
