import { useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { Empty, Loaded } from '../../../ui/states';
import { t } from '../../../texts/texts';
import { Words } from '../../../texts/Words';

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
          return <Empty title={t('questionnaire.noTestInterviewsYet')}>{t('questionnaire.proofMakesSmallSet')}</Empty>;
        if (data.replayed == null) return <p className="muted">{t('questionnaire.triedAgainSoonScript')}</p>;
        return (
          <>
            <p>
              <Words
                k="questionnaire.testsGoThroughDraft"
                values={{ tests: data.tests - data.replayed.length, all: data.tests }}
                parts={{ b: <b /> }}
              />
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
    [t('questionnaire.askedNow'), test.newly_asked ?? []],
    [t('questionnaire.noLongerAsked'), test.no_longer_asked ?? []],
    [t('questionnaire.answersWhatGone'), test.lost ?? []],
    [t('questionnaire.derivedOtherwise'), test.derived ?? []],
    [t('questionnaire.foundNow'), test.findings ?? []],
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
