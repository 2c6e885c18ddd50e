import { useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { Empty, Loaded } from '../../ui/states';

/** The test interviews kept with the questionnaire, answered again in the draft: what has changed for each. */
export function TestsTab({ questionnaireId }: { questionnaireId: number }) {
  const tests = useQuery({
    queryKey: ['tests', questionnaireId],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/tests', {
          params: { path: { questionnaire_id: questionnaireId } },
        }),
      ),
    gcTime: 0,
    staleTime: 0,
  });
  return (
    <Loaded query={tests}>
      {(data) => {
        if (data.tests === 0)
          return (
            <Empty title="No test interviews yet.">
              The proof makes a small set that visits every branch. It is kept and tried again with every change.
            </Empty>
          );
        if (data.replayed == null) return <p className="muted">Tried again as soon as the script has no errors.</p>;
        return (
          <>
            <p>
              <b>
                {data.tests - data.replayed.length} of {data.tests}
              </b>{' '}
              test interviews go through the draft as they went when they were made.
            </p>
            {data.replayed.map((r) => (
              <Changed key={r.name} test={r} />
            ))}
          </>
        );
      }}
    </Loaded>
  );
}

function Changed({ test }: { test: Schemas['Replayed'] }) {
  const lines: [string, string[]][] = [
    ['asked now', test.newly_asked ?? []],
    ['no longer asked', test.no_longer_asked ?? []],
    ['answers to what is gone', test.lost ?? []],
    ['derived otherwise', test.derived ?? []],
    ['found now', test.findings ?? []],
  ];
  return (
    <section className="told">
      <h3>{test.name}</h3>
      {lines
        .filter(([, found]) => found.length > 0)
        .map(([words, found]) => (
          <p key={words}>
            <span className="muted">{words}:</span> <span className="mono small">{found.join(' · ')}</span>
          </p>
        ))}
    </section>
  );
}
