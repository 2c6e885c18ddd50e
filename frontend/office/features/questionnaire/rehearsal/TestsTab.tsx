import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Button } from 'antd';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { Words } from '../../../texts/Words';
import { Empty, Loaded, messageOf } from '../../../ui/states';

const keyOf = (questionnaireId: number) => ['tests', questionnaireId];

/** The test interviews of a questionnaire, answered again in the draft each time they are asked for. */
export function useTests(questionnaireId: number) {
  return useQuery({
    queryKey: keyOf(questionnaireId),
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/tests', {
          params: { path: { questionnaire_id: questionnaireId } },
        }),
      ),
    staleTime: 0,
  });
}

/** Let everybody see the tests as an answer of the server told them. */
export function useToldTests(questionnaireId: number): (told: Schemas['TestsOut']) => void {
  const queries = useQueryClient();
  return (told) => {
    queries.setQueryData(keyOf(questionnaireId), told);
  };
}

interface Props {
  questionnaireId: number;
  readOnly: boolean;
  onOpenTest: (name: string) => void;
}

/** The test interviews kept with the questionnaire: what has changed for each since it was kept. */
export function TestsTab({ questionnaireId, readOnly, onOpenTest }: Props) {
  const tests = useTests(questionnaireId);
  return (
    <Loaded query={tests}>
      {(data) => {
        if (data.tests.length === 0)
          return <Empty title={t('questionnaire.noTestInterviewsYet')}>{t('questionnaire.proofMakesSmallSet')}</Empty>;
        const changed = data.tests.filter((test) => test.changed != null).length;
        return (
          <>
            <p>
              {data.ran ? (
                <Words
                  k="questionnaire.testsGoThroughDraft"
                  values={{ tests: data.tests.length - changed, all: data.tests.length }}
                  parts={{ b: <b /> }}
                />
              ) : (
                t('questionnaire.triedAgainSoonScript')
              )}
            </p>
            {data.tests.map((test) => (
              <Test key={test.name} test={test} {...{ questionnaireId, readOnly, onOpenTest }} ran={data.ran} />
            ))}
          </>
        );
      }}
    </Loaded>
  );
}

function Test({
  test,
  ran,
  questionnaireId,
  readOnly,
  onOpenTest,
}: Props & { test: Schemas['TestOut']; ran: boolean }) {
  const told = useToldTests(questionnaireId);
  const { modal } = App.useApp();
  const params = { path: { questionnaire_id: questionnaireId }, query: { name: test.name } };
  const accept = useMutation({
    mutationFn: () => ask(api.POST('/api/questionnaires/{questionnaire_id}/tests/accepted', { params })),
    onSuccess: told,
  });
  const remove = useMutation({
    mutationFn: () => ask(api.DELETE('/api/questionnaires/{questionnaire_id}/tests', { params })),
    onSuccess: told,
  });
  const problem = accept.error ?? remove.error;
  return (
    <section className="told test-kept">
      <header className="row">
        <h3>
          {test.changed ? <b className="doubt">≠ </b> : ran ? <b className="good">✓ </b> : null}
          {test.name}
        </h3>
        <span className="muted small">
          {test.by === '' ? t('rehearsal.byProof') : t('rehearsal.byHand', { by: test.by })} ·{' '}
          {t('rehearsal.answers', { count: test.answers })}
        </span>
        <span className="grow" />
        <Button
          size="small"
          onClick={() => {
            onOpenTest(test.name);
          }}
        >
          {t('rehearsal.openOnPhone')}
        </Button>
        {!readOnly && test.changed && (
          <Button
            size="small"
            loading={accept.isPending}
            title={t('rehearsal.asMeantLong')}
            onClick={() => {
              accept.mutate();
            }}
          >
            {t('rehearsal.asMeant')}
          </Button>
        )}
        {!readOnly && (
          <Button
            size="small"
            type="text"
            aria-label={t('rehearsal.removeTest', { name: test.name })}
            onClick={() => {
              modal.confirm({
                title: t('rehearsal.removeTest', { name: test.name }),
                content: test.by === '' ? t('rehearsal.proofMakesItAgain') : t('rehearsal.goneForGood'),
                okText: t('common.remove'),
                okButtonProps: { danger: true },
                onOk: () => remove.mutateAsync(),
              });
            }}
          >
            ×
          </Button>
        )}
      </header>
      {problem && <Alert type="error" showIcon title={messageOf(problem)} />}
      {test.visits.length > 0 && (
        <p className="muted small">
          {t('rehearsal.visits')} <span className="mono">{test.visits.slice(0, 4).join(' · ')}</span>
          {test.visits.length > 4 && ` ${t('rehearsal.andMore', { count: test.visits.length - 4 })}`}
        </p>
      )}
      {test.changed && <Changed changed={test.changed} />}
    </section>
  );
}

function Changed({ changed }: { changed: Schemas['Replayed'] }) {
  const lines: [string, string[]][] = [
    [t('questionnaire.askedNow'), changed.newly_asked ?? []],
    [t('questionnaire.noLongerAsked'), changed.no_longer_asked ?? []],
    [t('questionnaire.answersWhatGone'), changed.lost ?? []],
    [t('questionnaire.derivedOtherwise'), changed.derived ?? []],
    [t('questionnaire.foundNow'), changed.findings ?? []],
  ];
  return (
    <>
      {lines
        .filter(([, found]) => found.length > 0)
        .map(([words, found]) => (
          <p key={words}>
            <span className="muted">{words}:</span> <span className="mono small">{found.join(' · ')}</span>
          </p>
        ))}
    </>
  );
}
