import { Alert, Button } from 'antd';
import { useMemo } from 'react';
import { t } from '../../texts/texts';
import { useMoments } from '../../ui/moments';
import { withClash } from './script/merge';
import { numbersOf } from './script/model';
import type { AtWork } from './script/usePresence';
import type { ScriptEditor } from './script/useScript';

/** What stands in the way of saving, and the way out. */
export function SaveNotice({ editor }: { editor: ScriptEditor }) {
  if (editor.save === 'unreachable' || editor.save === 'refused')
    return (
      <Alert
        type="error"
        banner
        title={
          editor.save === 'unreachable'
            ? t('questionnaire.triedAgainItself', { problem: editor.problem })
            : editor.problem
        }
      />
    );
  return null;
}

/** Fields that somebody else changed at the same time: theirs stand, mine wait here until it is decided. */
export function ClashNotice({ editor, onGo }: { editor: ScriptEditor; onGo: (partId: string, field: string) => void }) {
  const [clash] = editor.clashes;
  if (clash === undefined) return null;
  const part = editor.script.parts.find((p) => p.id === clash.partId);
  return (
    <Alert
      type="warning"
      banner
      title={
        <>
          {t('questionnaire.clashBoth')}{' '}
          {part ? (
            <button
              type="button"
              className="plain-link"
              onClick={() => {
                onGo(part.id, clash.place);
              }}
            >
              {part.variable || part.kind} · {clash.place.replace(/_/g, ' ')}
            </button>
          ) : (
            <b>{clash.place.replace(/_/g, ' ')}</b>
          )}
          <br />
          {t('questionnaire.clashKept')} <q>{shortOf(clash.kept)}</q> {t('questionnaire.clashYours')}{' '}
          <q>{shortOf(clash.other)}</q>
        </>
      }
      action={
        <>
          <Button
            size="small"
            onClick={() => {
              editor.edit((now) => withClash(now, clash));
              editor.settle(clash);
            }}
          >
            {t('questionnaire.clashPutMine')}
          </Button>{' '}
          <Button
            size="small"
            onClick={() => {
              editor.settle(clash);
            }}
          >
            {t('questionnaire.clashLeave')}
          </Button>
        </>
      }
    />
  );
}

const shortOf = (value: unknown): string => {
  const text = typeof value === 'string' ? value : JSON.stringify(value);
  return text.length > 120 ? `${text.slice(0, 119)}…` : text;
};

/** Below the sheet: whether it is saved, how long it is, what is wrong with it. */
export function ScriptStatus({
  editor,
  errors,
  doubts,
  others,
  onGo,
  onFindings,
  onShortcuts,
}: {
  editor: ScriptEditor;
  errors: number;
  doubts: number;
  others: AtWork[];
  onGo: (partId: string) => void;
  onFindings: () => void;
  onShortcuts: () => void;
}) {
  const { timeOf } = useMoments();
  const { script } = editor;
  const questions = useMemo(() => numbersOf(script.parts).filter((n) => n !== null).length, [script.parts]);
  const saved: Record<ScriptEditor['save'], string> = {
    saved: t('questionnaire.saved', { changedAt: timeOf(editor.changedAt) }),
    waiting: t('questionnaire.notSavedYet'),
    saving: t('questionnaire.saving'),
    unreachable: t('questionnaire.notSavedNoServer'),
    refused: t('questionnaire.notSaved'),
  };
  return (
    <footer className="status">
      <span role="status">{saved[editor.save]}</span>
      <span>
        {t('questionnaire.questions', { count: questions })} ·{' '}
        {t('questionnaire.languages', { count: script.languages.length })}
      </span>
      <button type="button" className="plain-link" onClick={onFindings}>
        {errors > 0 ? (
          <b className="bad">{t('questionnaire.errors', { count: errors })}</b>
        ) : (
          t('questionnaire.noErrors')
        )}{' '}
        · {t('questionnaire.doubts', { count: doubts })}
      </button>
      {others.map((other, i) => (
        <button
          key={i}
          type="button"
          className="plain-link at-work-too"
          disabled={other.part_id === ''}
          title={t('questionnaire.goToTheirLine')}
          onClick={() => {
            onGo(other.part_id);
          }}
        >
          {other.same_person ? t('questionnaire.youElsewhere') : other.name}
        </button>
      ))}
      <span className="grow" />
      <button type="button" className="plain-link" disabled={editor.past.length === 0} onClick={editor.undo}>
        {t('common.undo')}
      </button>
      <button type="button" className="plain-link" disabled={editor.future.length === 0} onClick={editor.redo}>
        {t('questionnaire.redo')}
      </button>
      <button type="button" className="plain-link" onClick={onShortcuts}>
        {t('questionnaire.shortcuts')}
      </button>
    </footer>
  );
}
