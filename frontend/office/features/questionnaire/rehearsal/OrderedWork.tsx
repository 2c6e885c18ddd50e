// Long work on a questionnaire that is ordered here and done in the background.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, Button, Progress } from 'antd';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';

export type Job = Schemas['JobOut'];

export const GoTo = ({ variable, onGo }: { variable: string; onGo: (variable: string) => void }) => (
  <button
    type="button"
    className="plain-link"
    onClick={() => {
      onGo(variable);
    }}
  >
    <code>{variable}</code>
  </button>
);

/**
 * The newest job of a kind for this questionnaire, looked at again while it runs. Results are large: nothing is asked
 * while nobody looks at them.
 */
export function useNewestJob(studyId: number, questionnaireId: number, kind: 'rehearsal' | 'proof', looked: boolean) {
  const queries = useQueryClient();
  const key = ['study', studyId, 'jobs', kind];
  const jobs = useQuery({
    queryKey: key,
    queryFn: () =>
      ask(api.GET('/api/studies/{study_id}/jobs', { params: { path: { study_id: studyId }, query: { kind } } })),
    enabled: looked,
    refetchInterval: (query) => (query.state.data?.some(isUnderWay) === true ? 500 : false),
  });
  const mine = jobs.data?.filter((j) => j.order.questionnaire_id === questionnaireId) ?? [];
  const job = mine[0];
  return {
    job,
    newestDone: mine.find((j) => j.state === 'done'),
    underWay: job !== undefined && isUnderWay(job),
    refresh: () => queries.invalidateQueries({ queryKey: key }),
  };
}

const isUnderWay = (job: Job): boolean => job.state === 'waiting' || job.state === 'running';

function UnderWay({ job, refresh }: { job: Job; refresh: () => Promise<void> }) {
  const cancel = useMutation({
    mutationFn: () => ask(api.POST('/api/jobs/{job_id}/cancel', { params: { path: { job_id: job.id } } })),
    onSuccess: refresh,
  });
  return (
    <div className="under-way" role="status">
      <Progress aria-label={t('common.howFar')} percent={Math.round(100 * job.progress)} />
      <span className="muted">{job.saying || t('common.waiting')}</span>
      <Button
        size="small"
        onClick={() => {
          cancel.mutate();
        }}
      >
        {t('common.cancel')}
      </Button>
    </div>
  );
}

interface WorkProps {
  order: { error: Error | null; isPending: boolean };
  work: ReturnType<typeof useNewestJob>;
}

/** How the newest order stands while it is under way, and why it failed. */
export function OrderedWork({ order, work: { job, underWay, refresh } }: WorkProps) {
  return (
    <>
      {order.error && <Alert type="error" showIcon title={messageOf(order.error)} />}
      {job && underWay && <UnderWay job={job} refresh={refresh} />}
      {job?.state === 'failed' && <Alert type="error" showIcon title={job.problem} />}
    </>
  );
}
