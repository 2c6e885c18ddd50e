// All that is wrong with the script or may be better: each leads to its place, and what is no error can be set aside.
import { App, Button, Input } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { useMoments } from '../../../ui/moments';
import { messageOf } from '../../../ui/states';
import type { Finding, Script } from '../script/model';
import type { ScriptEditor } from '../script/useScript';
import './panes.css';

interface Props {
  questionnaireId: number;
  editor: ScriptEditor;
  readOnly: boolean;
  onGo: (id: string, field: string) => void;
  onOpenList: (name: string) => void;
  onOpenUnits: (name: string) => void;
  onStandard: () => void;
}

const KINDS = [
  { severity: 'error', words: 'questionnaire.errorsHead' },
  { severity: 'doubt', words: 'questionnaire.doubtsHead' },
  { severity: 'hint', words: 'questionnaire.hintsHead' },
] as const;

export function FindingsPane({ questionnaireId, editor, readOnly, onGo, onOpenList, onOpenUnits, onStandard }: Props) {
  const { findings, setAside: aside, script } = editor;
  const { message } = App.useApp();
  const { dayAndTime } = useMoments();
  const [asideOpen, setAsideOpen] = useState(false);
  const put = async (finding: Finding, reason: string) => {
    try {
      const draft = await ask(
        api.POST('/api/questionnaires/{questionnaire_id}/set-aside', {
          params: { path: { questionnaire_id: questionnaireId } },
          body: { finding, reason },
        }),
      );
      editor.judgedAnew(draft);
    } catch (error) {
      message.error({ content: messageOf(error), duration: 8 });
    }
  };
  const go = (f: Finding) => {
    const part = f.line == null ? undefined : script.parts[f.line];
    if (f.unit_list !== '') onOpenUnits(f.unit_list);
    else if (f.code_list !== '') onOpenList(f.code_list);
    else if (part) onGo(part.id, f.field);
  };
  return (
    <div className="pane-body findings">
      {findings.length === 0 && (
        <>
          <p>
            <b>{t('questionnaire.nothingWrong')}</b>
          </p>
          <p className="muted">{t('questionnaire.errorsDoubtsListedHere')}</p>
        </>
      )}
      {KINDS.map(({ severity, words }) => {
        const own = findings.filter((f) => f.severity === severity);
        if (own.length === 0) return null;
        return (
          <section key={severity}>
            <h3>{t(words, { count: own.length })}</h3>
            {own.map((f) => (
              <Told
                key={keyOf(f)}
                finding={f}
                script={script}
                onGo={() => {
                  go(f);
                }}
                onAside={readOnly || severity === 'error' ? null : (reason) => void put(f, reason)}
              />
            ))}
          </section>
        );
      })}
      {aside.length > 0 && (
        <section>
          <h3>
            <button
              type="button"
              className="plain-link"
              aria-expanded={asideOpen}
              onClick={() => {
                setAsideOpen(!asideOpen);
              }}
            >
              {asideOpen ? '▾' : '▸'} {t('questionnaire.setAsideHead', { count: aside.length })}
            </button>
          </h3>
          {asideOpen &&
            aside.map((entry) => (
              <div key={keyOf(entry.finding)} className="finding aside">
                <Place finding={entry.finding} script={script} />
                <span>{entry.finding.message}</span>
                <span className="small">
                  “{entry.reason}” <span className="muted">{`${entry.by}, ${dayAndTime(entry.at)}`}</span>
                </span>
                {!readOnly && (
                  <button type="button" className="plain-link small" onClick={() => void put(entry.finding, '')}>
                    {t('questionnaire.takeUpAgain')}
                  </button>
                )}
              </div>
            ))}
        </section>
      )}
      <p className="small">
        <button type="button" className="plain-link" onClick={onStandard}>
          {t('questionnaire.standardOpen')}
        </button>
      </p>
    </div>
  );
}

const keyOf = (f: Schemas['Finding']): string =>
  [f.code, f.part_id, f.field, f.code_list, f.unit_list, f.item, f.message, f.start].join('|');

function Place({ finding, script }: { finding: Finding; script: Script }) {
  const part = finding.line == null ? undefined : script.parts[finding.line];
  return (
    <span>
      <code>
        {part
          ? part.variable || part.kind
          : [finding.code_list || finding.unit_list, finding.item].filter((name) => name !== '').join(' · ')}
      </code>{' '}
      <span className="muted small">{finding.field.replace(/_/g, ' ')}</span>
    </span>
  );
}

function Told({
  finding,
  script,
  onGo,
  onAside,
}: {
  finding: Finding;
  script: Script;
  onGo: () => void;
  onAside: ((reason: string) => void) | null;
}) {
  const [reason, setReason] = useState<string | null>(null);
  return (
    <div className={`finding ${finding.severity}`}>
      <button type="button" className="finding-go" onClick={onGo}>
        <Place finding={finding} script={script} />
        <span>
          {finding.message} <b>{finding.mend}</b>
        </span>
      </button>
      {onAside && reason === null && (
        <button
          type="button"
          className="plain-link small"
          onClick={() => {
            setReason('');
          }}
        >
          {t('questionnaire.setAside')}
        </button>
      )}
      {onAside && reason !== null && (
        <form
          className="row"
          onSubmit={(event) => {
            event.preventDefault();
            if (reason.trim() !== '') onAside(reason.trim());
          }}
        >
          <Input
            autoFocus
            size="small"
            maxLength={1000}
            aria-label={t('questionnaire.whyAside')}
            placeholder={t('questionnaire.whyAside')}
            value={reason}
            onChange={(event) => {
              setReason(event.target.value);
            }}
            onKeyDown={(event) => {
              if (event.key === 'Escape') setReason(null);
            }}
          />
          <Button size="small" htmlType="submit" disabled={reason.trim() === ''}>
            {t('questionnaire.setAsideNow')}
          </Button>
        </form>
      )}
    </div>
  );
}
