import { Table } from 'antd';
import { t } from '../../../texts/texts';
import { Words } from '../../../texts/Words';
import { useMoments } from '../../../ui/moments';
import { shown } from '../../data';
import { Empty } from '../../../ui/states';
import { GoTo, type Job } from './OrderedWork';
import { Told } from './Told';
import type { Proof } from './rehearsal';
import type { Work } from './useRehearsed';

/** What can never be reached, never be met or never fail. */
export function ProofTab({ done, onGo }: { done: Work<Proof>['done']; onGo: (variable: string) => void }) {
  if (done === null)
    return <Empty title={t('questionnaire.notProvedYet')}>{t('questionnaire.eachQuestionWhetherInterview')}</Empty>;
  return <ProofResult job={done.job} result={done.result} onGo={onGo} />;
}

function ProofResult({ job, result, onGo }: { job: Job; result: Proof; onGo: (variable: string) => void }) {
  const { ago } = useMoments();
  const paired = new Set(
    result.contradictions.flatMap((c) => [`${c.first} ${c.first_rule}`, `${c.second} ${c.second_rule}`]),
  );
  const faulty = result.checks.filter((c) => c.verdict === 'never met' && !paired.has(`${c.variable} ${c.rule}`));
  const deadEnds = result.dead_ends ?? [];
  const idle = result.checks.filter((c) => c.verdict === 'never fails');
  const open = [
    ...result.undecided.map((u) => ({ variable: u.variable, text: u.why })),
    ...result.checks
      .filter((c) => c.verdict === 'undecided')
      .map((c) => ({ variable: c.variable, text: `${c.rule}: ${c.why}` })),
  ];
  const sound =
    result.unreachable.length === 0 &&
    deadEnds.length === 0 &&
    faulty.length === 0 &&
    result.contradictions.length === 0;
  return (
    <>
      <p>
        <Words
          k="questionnaire.hardChecksTestInterviews"
          values={{
            result: summary(result, sound),
            checks: result.checks.length,
            tests: result.tests.length,
            ended_at: ago(job.ended_at ?? job.created_at),
          }}
          parts={{ b: <b /> }}
        />
        {result.day !== undefined && `, ${t('questionnaire.provedFor', { day: result.day })}`}.
      </p>
      {result.day !== undefined && result.day > (job.ended_at ?? job.created_at).slice(0, 10) && (
        <p className="muted">{t('questionnaire.beforeDayNoInterview')}</p>
      )}
      <Told
        title={t('questionnaire.deadEnds')}
        tone="bad"
        lines={deadEnds.map((d) => ({ variable: d.variable, text: d.why }))}
        onGo={onGo}
      />
      <Told
        title={t('questionnaire.neverAsked')}
        tone="bad"
        lines={result.unreachable.map((u) => ({ variable: u.variable, text: u.why }))}
        onGo={onGo}
      />
      <Told
        title={t('questionnaire.checksCanNeverMet')}
        tone="bad"
        lines={faulty.map((c) => ({ variable: c.variable, text: `${c.rule}: ${c.why}` }))}
        onGo={onGo}
      />
      <Told
        title={t('questionnaire.checksContradictEachOther')}
        tone="bad"
        lines={result.contradictions.map((c) => ({
          variable: c.first,
          text: t('questionnaire.and', { first_rule: c.first_rule, second: c.second, second_rule: c.second_rule }),
        }))}
        onGo={onGo}
      />
      <Told
        title={t('questionnaire.checksCanNeverFail')}
        tone="doubt"
        lines={idle.map((c) => ({ variable: c.variable, text: `${c.rule}: ${c.why}` }))}
        onGo={onGo}
      />
      <Told title={t('questionnaire.undecided')} tone="doubt" lines={open} onGo={onGo} />
      <h3 className="after-table">{t('questionnaire.fewestAnswersLeadEach')}</h3>
      <Table
        size="small"
        rowKey="variable"
        pagination={false}
        dataSource={result.reached.filter((r) => Object.keys(r.answers).length > 0)}
        columns={[
          {
            title: t('common.question'),
            width: 200,
            render: (_, r) => <GoTo variable={r.variable} onGo={onGo} />,
          },
          {
            title: t('questionnaire.askedAfter'),
            render: (_, r) => (
              <span className="mono small">
                {Object.entries(r.answers)
                  .map(([path, value]) => `${path}: ${shown(value)}`)
                  .join(' · ')}
              </span>
            ),
          },
        ]}
      />
    </>
  );
}

function summary(result: Proof, sound: boolean): string {
  const reached = t('questionnaire.questionsCanReached', { count: result.reached.length });
  if (sound) return t('questionnaire.all', { reached });
  return result.unreachable.length > 0
    ? t('questionnaire.reachedNever', { reached, never: result.unreachable.length })
    : t('questionnaire.butSomeCannotFinished', { reached });
}
