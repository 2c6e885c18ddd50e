import { Tabs } from 'antd';
import { useMemo } from 'react';
import { useSearchParams } from 'react-router';
import type { Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { useMay } from '../../ui/study';
import type { Open } from './Dialogs';
import { DetailsPane } from './details/DetailsPane';
import { FindingsPane } from './panes/FindingsPane';
import { FlowPane } from './panes/FlowPane';
import { PhonePane } from './panes/PhonePane';
import { RehearsalPane } from './rehearsal/RehearsalPane';
import type { useRehearsed } from './rehearsal/useRehearsed';
import { conditionOf, endOf, type Kind } from './script/model';
import type { ScriptEditor } from './script/useScript';
import { withNewList, withNewUnits } from './lists/newLists';

export const PANES = [
  { key: 'details', label: t('questionnaire.details') },
  { key: 'phone', label: t('questionnaire.phone') },
  { key: 'flow', label: t('questionnaire.flow') },
  { key: 'findings', label: t('common.findings') },
  { key: 'rehearsal', label: t('questionnaire.rehearsal') },
] as const;
export type Pane = (typeof PANES)[number]['key'];

/** Which pane is open and which line is at hand, as the address says. */
export function usePane(): { pane: Pane; partId: string | null; opens: string | null } {
  const [params] = useSearchParams();
  return {
    pane: PANES.find(({ key }) => key === params.get('pane'))?.key ?? 'details',
    partId: params.get('part'),
    opens: params.get('opens'),
  };
}

interface Props {
  draft: Schemas['Draft'];
  editor: ScriptEditor;
  kinds: Kind[];
  language: string;
  pane: Pane;
  partId: string | null;
  /** The interview that the phone begins with, as the address says it. */
  opens: string | null;
  rehearsed: ReturnType<typeof useRehearsed>;
  readOnly: boolean;
  openField: string | null;
  onPane: (pane: string) => void;
  onGo: (id: string) => void;
  onOpenRule: (id: string, field: string) => void;
  onOpen: (open: Open) => void;
  onOpenInterview: (opens: string | null) => void;
}

/** Beside the sheet: the line in hand, the phone, what leads where, what is wrong. */
export function Panes({
  draft,
  editor,
  kinds,
  language,
  pane,
  partId,
  opens,
  rehearsed,
  readOnly,
  openField,
  onPane,
  onGo,
  onOpenRule,
  onOpen,
  onOpenInterview,
}: Props) {
  const { script, edit } = editor;
  const part = script.parts.find((p) => p.id === partId);
  const errors = editor.findings.filter((f) => f.severity === 'error').length;
  const inside = useMemo(() => {
    const at = script.parts.findIndex((p) => p.id === partId);
    const lines = at < 0 ? [] : script.parts.slice(at, endOf(script.parts, at));
    return lines.map((line) => line.variable).filter(Boolean);
  }, [script.parts, partId]);
  const may = useMay();
  const goToVariable = (variable: string) => {
    const found = script.parts.find((p) => p.variable === variable);
    if (found) onGo(found.id);
  };
  const doubts = editor.findings.filter((f) => f.severity === 'doubt').length;
  return (
    <>
      <Tabs
        activeKey={pane}
        onChange={onPane}
        items={PANES.filter(({ key }) => key !== 'rehearsal' || may('job.read')).map(({ key, label }) => ({
          key,
          label: key === 'findings' ? <FindingsLabel {...{ label, errors, doubts }} /> : label,
        }))}
      />
      {pane === 'rehearsal' && (
        <RehearsalPane
          draft={draft}
          script={script}
          part={part}
          known={rehearsed}
          releaseHash={editor.releaseHash}
          blocked={readOnly ? null : blockedBy(errors, editor.save !== 'saved')}
          onGo={goToVariable}
          onGoToPart={onGo}
          onFigures={(tab) => {
            onOpen({ what: 'figures', tab });
          }}
        />
      )}
      {pane === 'details' &&
        (part ? (
          <DetailsPane
            questionnaireId={draft.id}
            studyId={draft.study_id}
            part={part}
            script={script}
            kinds={kinds}
            findings={editor.findings}
            languages={script.languages}
            readOnly={readOnly}
            saved={editor.save === 'saved'}
            openField={openField}
            onChange={(what, changed) => {
              edit(
                (now) => ({ ...now, parts: now.parts.map((p) => (p.id === changed.id ? changed : p)) }),
                `${changed.id}.${what}`,
              );
            }}
            onEditList={(name) => {
              const made = withNewList(script, part.id);
              if (name === '') edit(made.script);
              onOpen({ what: 'list', name: name === '' ? made.name : name });
            }}
            onEditUnits={(name) => {
              const made = withNewUnits(script, part.id);
              if (name === '') edit(made.script);
              onOpen({ what: 'units', name: name === '' ? made.name : name });
            }}
          />
        ) : (
          <div className="pane-body">
            <p className="muted">{t('questionnaire.chooseLineSeeIts')}</p>
          </div>
        ))}
      {pane === 'phone' && (
        <PhonePane
          questionnaireId={draft.id}
          studyId={draft.study_id}
          releaseHash={editor.releaseHash}
          languages={script.languages}
          begins={language}
          part={part}
          inside={inside}
          condition={conditionOf(script.parts, part)}
          stale={errors > 0}
          readOnly={readOnly}
          opens={opens}
          onOpen={onOpenInterview}
          onGo={goToVariable}
        />
      )}
      {pane === 'flow' && (
        <FlowPane
          script={script}
          part={part}
          onGo={onGo}
          onWhole={() => {
            onOpen({ what: 'flow' });
          }}
        />
      )}
      {pane === 'findings' && (
        <FindingsPane
          questionnaireId={draft.id}
          editor={editor}
          readOnly={readOnly}
          onGo={onOpenRule}
          onOpenList={(name) => {
            onOpen({ what: 'list', name });
          }}
          onStandard={() => {
            onOpen({ what: 'standard' });
          }}
          onOpenUnits={(name) => {
            onOpen({ what: 'units', name });
          }}
        />
      )}
    </>
  );
}

/** Why the questionnaire can be neither rehearsed nor proved now; empty where it can. */
function blockedBy(errors: number, waiting: boolean): string {
  if (errors > 0) return t('questionnaire.mendErrorsFirstWhat');
  return waiting ? t('questionnaire.lastChangeBeingSaved') : '';
}

const FindingsLabel = ({ label, errors, doubts }: { label: string; errors: number; doubts: number }) => (
  <>
    {label} {errors > 0 ? <b className="bad">{errors}</b> : doubts > 0 ? <b className="doubt">{doubts}</b> : null}
  </>
);
