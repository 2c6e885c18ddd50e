import { Alert, Button } from 'antd';
import { useMemo } from 'react';
import { t } from '../../texts/texts';
import { useMoments } from '../../ui/moments';
import { numbersOf } from './script/model';
import type { ScriptEditor } from './script/useScript';

/** What stands in the way of saving, and the way out. */
export function SaveNotice({ editor }: { editor: ScriptEditor }) {
  if (editor.save === 'conflict') {
    return (
      <Alert
        type="warning"
        banner
        title={editor.problem}
        action={
          <>
            <Button size="small" onClick={() => void editor.reload(false)}>
              {t('questionnaire.loadTheirs')}
            </Button>{' '}
            <Button size="small" onClick={() => void editor.reload(true)}>
              {t('questionnaire.keepMineOver')}
            </Button>
          </>
        }
      />
    );
  }
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

/** Below the sheet: whether it is saved, how long it is, what is wrong with it. */
export function ScriptStatus({
  editor,
  errors,
  doubts,
  onFindings,
  onShortcuts,
}: {
  editor: ScriptEditor;
  errors: number;
  doubts: number;
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
    conflict: t('questionnaire.notSavedChangedElsewhere'),
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
