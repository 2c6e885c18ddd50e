// A job that was ordered here, looked at until it has ended.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../../shared/api/client';

type Job = Schemas['JobOut'];

const isUnderWay = (job: Job | undefined): boolean => job?.state === 'waiting' || job?.state === 'running';

export function useOrderedJob<Order>(order: (wanted: Order) => Promise<Job>) {
  const queries = useQueryClient();
  const [jobId, setJobId] = useState(0);
  const key = ['job', jobId];
  const path = { job_id: jobId };
  const job = useQuery({
    queryKey: key,
    queryFn: () => ask(api.GET('/api/jobs/{job_id}', { params: { path } })),
    enabled: jobId > 0,
    refetchInterval: (query) => (isUnderWay(query.state.data) ? 400 : false),
  });
  const ordering = useMutation({
    mutationFn: order,
    onSuccess: (made) => {
      queries.setQueryData(['job', made.id], made);
      setJobId(made.id);
    },
  });
  const cancelling = useMutation({
    mutationFn: () => ask(api.POST('/api/jobs/{job_id}/cancel', { params: { path } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: key }),
  });
  const found = jobId > 0 ? job.data : undefined;
  return {
    job: found,
    underWay: ordering.isPending || isUnderWay(found),
    error: ordering.error ?? job.error,
    order: ordering.mutate,
    cancel: () => {
      cancelling.mutate();
    },
    forget: () => {
      setJobId(0);
      ordering.reset();
    },
  };
}
