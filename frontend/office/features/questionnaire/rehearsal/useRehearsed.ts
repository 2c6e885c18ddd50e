// What is known of the questionnaire from its newest rehearsal and proof, and how both are ordered.
import { useMutation, useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { useMay } from '../../../ui/study';
import { useNewestJob } from './OrderedWork';
import { isProof, isRehearsal, type Proof, type Rehearsal } from './rehearsal';

export interface Wanted {
  interviews: number;
  seed: number;
  /** The day they are made on; empty for today. */
  day: string;
}

/** `done` is null until there is a result. */
export interface Work<Result> {
  work: ReturnType<typeof useNewestJob>;
  done: { job: Schemas['JobOut']; result: Result } | null;
}

/** `looked` says whether anybody looks at it now. */
export function useRehearsed(
  studyId: number,
  questionnaireId: number,
  looked: boolean,
): { rehearsal: Work<Rehearsal>; proof: Work<Proof> } {
  const rehearsal = useNewestJob(studyId, questionnaireId, 'rehearsal', looked);
  const proof = useNewestJob(studyId, questionnaireId, 'proof', looked);
  return { rehearsal: withResult(rehearsal, isRehearsal), proof: withResult(proof, isProof) };
}

function withResult<Result>(
  work: ReturnType<typeof useNewestJob>,
  is: (result: Schemas['JobOut']['result']) => result is Record<string, unknown> & Result,
): Work<Result> {
  const job = work.newestDone;
  return { work, done: job && is(job.result) ? { job, result: job.result } : null };
}

/** How long questions took in the interviews held last; undefined until that is known, or where none was timed. */
export function useTiming(questionnaireId: number): Schemas['TimingOut'] | undefined {
  const may = useMay();
  const { data } = useQuery({
    queryKey: ['timing', questionnaireId],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/timing', {
          params: { path: { questionnaire_id: questionnaireId } },
        }),
      ),
    enabled: may('interview.read'),
    staleTime: 60_000,
  });
  return data && data.interviews > 0 ? data : undefined;
}

export function useOrders(questionnaireId: number, known: ReturnType<typeof useRehearsed>) {
  const path = { questionnaire_id: questionnaireId };
  const rehearse = useMutation({
    mutationFn: ({ interviews, seed, day }: Wanted) =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/rehearsals', {
          params: { path },
          body: { interviews, seed, day: day === '' ? null : day },
        }),
      ),
    onSuccess: known.rehearsal.work.refresh,
  });
  const prove = useMutation({
    mutationFn: () => ask(api.POST('/api/questionnaires/{questionnaire_id}/proofs', { params: { path } })),
    onSuccess: known.proof.work.refresh,
  });
  return { rehearse, prove };
}
