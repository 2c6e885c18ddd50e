import { useMutation } from '@tanstack/react-query';
import { Alert, Button, Dropdown, Input, Popover } from 'antd';
import { useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import type { Outside, SavedInterview } from '../../../../shared/engine/types';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import { useTests, useToldTests } from '../rehearsal/TestsTab';
import { written, type Opens } from './useOpened';

interface Props {
  questionnaireId: number;
  answers: SavedInterview['answers'];
  language: string;
  outside: () => Outside;
  opens: Opens | null;
  readOnly: boolean;
  onOpen: (opens: string) => void;
}

/** Beneath the phone: what is answered on it is kept as a test, and tests are opened on it. */
export function TestBar({ questionnaireId, answers, language, outside, opens, readOnly, onOpen }: Props) {
  const tests = useTests(questionnaireId);
  const kept = tests.data?.tests ?? [];
  return (
    <div className="test-bar">
      {opens !== null && (
        <span className="muted small">
          {'test' in opens
            ? t('rehearsal.isTest', { name: opens.test })
            : t('rehearsal.isMadeUp', { number: opens.number })}
        </span>
      )}
      {!readOnly && (
        <KeepTest
          key={opens === null ? '' : written(opens)}
          {...{ questionnaireId, answers, language, outside, onOpen }}
          first={opens !== null && 'test' in opens ? opens.test : ''}
          mine={kept.filter((test) => test.by !== '').map((test) => test.name)}
        />
      )}
      {kept.length > 0 && (
        <Dropdown
          trigger={['click']}
          menu={{
            style: { maxHeight: 320, overflowY: 'auto' },
            items: kept.map((test) => ({
              key: test.name,
              label: test.name,
              extra: test.changed ? <span className="doubt">≠</span> : null,
              onClick: () => {
                onOpen(written({ test: test.name }));
              },
            })),
          }}
        >
          <Button size="small">{t('rehearsal.openTest', { count: kept.length })}</Button>
        </Dropdown>
      )}
    </div>
  );
}

function KeepTest({
  questionnaireId,
  answers,
  language,
  outside,
  onOpen,
  first,
  mine,
}: Omit<Props, 'opens' | 'readOnly'> & { first: string; mine: string[] }) {
  const [open, setOpen] = useState(false);
  const [name, setName] = useState(first);
  const told = useToldTests(questionnaireId);
  const keep = useMutation({
    mutationFn: () => {
      const { now, 'interview.started': started, earlier } = outside();
      return ask(
        api.POST('/api/questionnaires/{questionnaire_id}/tests', {
          params: { path: { questionnaire_id: questionnaireId } },
          body: {
            name: name.trim(),
            answers,
            language,
            now,
            started: started ?? now,
            earlier: earlier ?? {},
            replaces: mine.includes(name.trim()),
          },
        }),
      );
    },
    onSuccess: (all) => {
      told(all);
      setOpen(false);
      onOpen(written({ test: name.trim() }));
    },
  });
  const replaces = mine.includes(name.trim());
  const nothing = Object.keys(answers).length === 0;
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      content={
        <form
          className="keep-test"
          onSubmit={(event) => {
            event.preventDefault();
            if (!keep.isPending && name.trim() !== '') keep.mutate();
          }}
        >
          <Input
            autoFocus
            maxLength={120}
            aria-label={t('rehearsal.testName')}
            placeholder={t('rehearsal.testNameFor')}
            value={name}
            onChange={(event) => {
              setName(event.target.value);
            }}
          />
          <Button type="primary" htmlType="submit" disabled={name.trim() === ''} loading={keep.isPending}>
            {replaces ? t('rehearsal.replace') : t('rehearsal.keep')}
          </Button>
          {keep.error && <Alert type="error" title={messageOf(keep.error)} />}
          <p className="muted small">{t('rehearsal.keptFor')}</p>
        </form>
      }
    >
      <Button size="small" disabled={nothing} title={nothing ? t('rehearsal.answerFirst') : undefined}>
        {t('rehearsal.keepAsTest')}
      </Button>
    </Popover>
  );
}
