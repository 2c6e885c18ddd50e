import { useQuery } from '@tanstack/react-query';
import { Button, Tabs } from 'antd';
import { useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useMay, useQuestionnaireId } from '../../ui/study';
import { Empty, Loaded } from '../../ui/states';
import { CodeListDrawer } from './lists/CodeListDrawer';
import { ComparisonDrawer } from './release/Comparison';
import { DetailsPane } from './details/DetailsPane';
import { FindingsPane } from './panes/FindingsPane';
import { FlowPane } from './panes/FlowPane';
import { KindPicker } from './sheet/KindPicker';
import { NewQuestionnaire } from './NewQuestionnaire';
import { PhonePane } from './panes/PhonePane';
import { RehearsalDrawer } from './rehearsal/RehearsalDrawer';
import { ReleaseDialog } from './release/ReleaseDialog';
import { RuleHelp } from './details/RuleHelp';
import { MOST_COLUMNS, ScriptBar, type Dialog } from './ScriptBar';
import { ScriptSheet } from './sheet/ScriptSheet';
import { SaveNotice, ScriptStatus } from './ScriptStatus';
import { Shortcuts } from './sheet/Shortcuts';
import { UnitListDrawer } from './lists/UnitListDrawer';
import { WorkbookDialog } from './release/WorkbookDialog';
import { addBelow, conditionOf, type Kind } from './script/model';
import { useScript } from './script/useScript';
import './questionnaire.css';
import { t } from '../../texts/texts';

/** The questionnaire station: the script sheet with its pane. */
export default function ScriptPage() {
  const id = useQuestionnaireId();
  const [params] = useSearchParams();
  return id === null || params.has('new') ? <NewQuestionnaire /> : <Draft key={id} id={id} />;
}

function Draft({ id }: { id: number }) {
  const draft = useQuery({
    queryKey: ['draft', id],
    queryFn: () =>
      ask(api.GET('/api/questionnaires/{questionnaire_id}', { params: { path: { questionnaire_id: id } } })),
    staleTime: Infinity,
    gcTime: 0,
    refetchOnWindowFocus: false,
  });
  const kinds = useQuery({ queryKey: ['kinds'], queryFn: () => ask(api.GET('/api/kinds')), staleTime: Infinity });
  return (
    <Loaded query={draft}>
      {(data) => <Loaded query={kinds}>{(k) => <Editor key={data.id} draft={data} kinds={k} />}</Loaded>}
    </Loaded>
  );
}

const PANES = ['details', 'phone', 'flow', 'findings'] as const;
type Pane = (typeof PANES)[number];

function Editor({ draft, kinds }: { draft: Schemas['Draft']; kinds: Kind[] }) {
  const may = useMay();
  const readOnly = !may('script.write');
  const editor = useScript(draft);
  const { script, edit, undo, redo } = editor;
  const [params, setParams] = useSearchParams();
  const pane: Pane = PANES.find((p) => p === params.get('pane')) ?? 'details';
  const activeId = params.get('part');
  const [openField, setOpenField] = useState<string | null>(null);
  const [list, setList] = useState<string | null>(null);
  const [units, setUnits] = useState<string | null>(null);
  const [picking, setPicking] = useState<string | null>(null);
  const [dialog, setDialog] = useState<Dialog | null>(null);
  const [shown, setShown] = useState(() => script.languages.slice(0, MOST_COLUMNS));
  const languages = script.languages.filter((tag) => shown.includes(tag));

  const go = (changes: Record<string, string>) => {
    setParams((before) => ({ ...Object.fromEntries(before), ...changes }), { replace: true });
  };
  const activate = (id: string) => {
    if (id !== activeId) {
      setOpenField(null);
      go({ part: id });
    }
  };
  const openRule = (id: string, field: string) => {
    setOpenField(field);
    go({ part: id, pane: 'details' });
  };

  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
      if (event.target instanceof Element && event.target.closest('.cm-editor')) return;
      event.preventDefault();
      if (event.shiftKey) redo();
      else undo();
    };
    window.addEventListener('keydown', press);
    return () => {
      window.removeEventListener('keydown', press);
    };
  }, [undo, redo]);

  const part = script.parts.find((p) => p.id === activeId);
  const errors = editor.findings.filter((f) => f.severity === 'error').length;
  const doubts = editor.findings.length - errors;
  const newList = (name: string) => {
    if (name !== '') {
      setList(name);
      return;
    }
    const base = part?.variable === '' || part === undefined ? 'list' : part.variable;
    let free = base;
    for (let n = 2; script.code_lists.some((l) => l.name === free); n += 1) free = `${base}_${String(n)}`;
    edit({
      ...script,
      code_lists: [...script.code_lists, { name: free, codes: [] }],
      parts: script.parts.map((p) => (p.id === part?.id ? { ...p, code_list: free } : p)),
    });
    setList(free);
  };
  const newUnits = (name: string) => {
    if (name !== '') {
      setUnits(name);
      return;
    }
    let free = `${part === undefined || part.variable === '' ? 'quantity' : part.variable}_unit`;
    for (let n = 2; script.unit_lists.some((l) => l.name === free); n += 1)
      free = `${free.replace(/_\d+$/, '')}_${String(n)}`;
    const made = { name: free, units: [{ unit: 'kg', dimension: 'mass', factor: '1', label: {} }] };
    edit({
      ...script,
      unit_lists: [...script.unit_lists, made],
      parts: script.parts.map((p) => (p.id === part?.id ? { ...p, unit: free } : p)),
    });
    setUnits(free);
  };
  const next = (draft.newest_release ?? 0) + 1;
  const goToVariable = (variable: string) => {
    const found = script.parts.find((p) => p.variable === variable.replace(/_other$/, '') || p.variable === variable);
    if (found) activate(found.id);
  };

  return (
    <div className="script-page">
      <div className="script-main">
        <ScriptBar
          draft={draft}
          editor={editor}
          readOnly={readOnly}
          shown={shown}
          onShow={setShown}
          onOpen={setDialog}
        />
        <SaveNotice editor={editor} />
        {script.parts.length === 0 ? (
          <Empty
            title={t('questionnaire.emptyPage')}
            action={
              !readOnly && (
                <Button
                  type="primary"
                  onClick={() => {
                    const { parts, added } = addBelow([], -1);
                    edit({ ...script, parts });
                    go({ part: added.id });
                  }}
                >
                  {t('questionnaire.writeFirstSection')}
                </Button>
              )
            }
          >
            {t('questionnaire.everyQuestionLineShort')}
          </Empty>
        ) : (
          <ScriptSheet
            script={script}
            findings={editor.findings}
            kinds={kinds}
            languages={languages}
            activeId={activeId}
            readOnly={readOnly}
            onActivate={activate}
            onEdit={edit}
            onOpenRule={openRule}
            onPickKind={setPicking}
          />
        )}
      </div>
      <aside className="script-pane">
        <Tabs
          activeKey={pane}
          onChange={(key) => {
            go({ pane: key });
          }}
          items={[
            { key: 'details', label: t('questionnaire.details') },
            { key: 'phone', label: t('questionnaire.phone') },
            { key: 'flow', label: t('questionnaire.flow') },
            {
              key: 'findings',
              label: (
                <>
                  {t('common.findings')}{' '}
                  {errors > 0 ? <b className="bad">{errors}</b> : doubts > 0 ? <b className="doubt">{doubts}</b> : null}
                </>
              ),
            },
          ]}
        />
        {pane === 'details' &&
          (part ? (
            <DetailsPane
              questionnaireId={draft.id}
              part={part}
              script={script}
              kinds={kinds}
              findings={editor.findings}
              languages={script.languages}
              readOnly={readOnly}
              openField={openField}
              onChange={(what, changed) => {
                edit(
                  { ...script, parts: script.parts.map((p) => (p.id === changed.id ? changed : p)) },
                  `${changed.id}.${what}`,
                );
              }}
              onEditList={newList}
              onEditUnits={newUnits}
            />
          ) : (
            <div className="pane-body">
              <p className="muted">{t('questionnaire.chooseLineSeeIts')}</p>
            </div>
          ))}
        {pane === 'phone' && (
          <PhonePane
            questionnaireId={draft.id}
            release={editor.release}
            releaseHash={editor.releaseHash}
            language={languages[0] ?? 'en'}
            part={part}
            condition={conditionOf(script.parts, part)}
            stale={errors > 0}
            onGo={(variable) => {
              const found = script.parts.find((p) => p.variable === variable);
              if (found) activate(found.id);
            }}
          />
        )}
        {pane === 'flow' && <FlowPane script={script} part={part} onGo={activate} />}
        {pane === 'findings' && (
          <FindingsPane
            findings={editor.findings}
            script={script}
            onGo={openRule}
            onOpenList={setList}
            onOpenUnits={setUnits}
          />
        )}
      </aside>
      <ScriptStatus
        editor={editor}
        errors={errors}
        doubts={doubts}
        onFindings={() => {
          go({ pane: 'findings' });
        }}
        onShortcuts={() => {
          setDialog('shortcuts');
        }}
      />
      {picking !== null && (
        <KindPicker
          kinds={kinds}
          present={script.parts.find((p) => p.id === picking)?.kind ?? ''}
          onClose={() => {
            setPicking(null);
          }}
          onPick={(kind) => {
            edit({ ...script, parts: script.parts.map((p) => (p.id === picking ? { ...p, kind } : p)) });
            setPicking(null);
          }}
        />
      )}
      {list !== null && (
        <CodeListDrawer
          name={list}
          script={script}
          findings={editor.findings}
          readOnly={readOnly}
          onClose={() => {
            setList(null);
          }}
          onChange={edit}
          onNamed={setList}
        />
      )}
      {dialog === 'release' && (
        <ReleaseDialog
          draft={draft}
          version={editor.version}
          waiting={editor.save !== 'saved'}
          number={next}
          errors={editor.findings.filter((f) => f.severity === 'error')}
          script={script}
          onReleased={editor.released}
          onClose={() => {
            setDialog(null);
          }}
          onGo={(id, field) => {
            setDialog(null);
            openRule(id, field);
          }}
        />
      )}
      {dialog === 'workbook' && (
        <WorkbookDialog
          questionnaireId={draft.id}
          onClose={() => {
            setDialog(null);
          }}
          onTake={(taken) => {
            edit(taken);
            setDialog(null);
          }}
        />
      )}
      {units !== null && (
        <UnitListDrawer
          name={units}
          script={script}
          findings={editor.findings}
          readOnly={readOnly}
          onClose={() => {
            setUnits(null);
          }}
          onChange={edit}
          onNamed={setUnits}
        />
      )}
      {dialog === 'rehearsal' && (
        <RehearsalDrawer
          questionnaireId={draft.id}
          studyId={draft.study_id}
          waiting={editor.save !== 'saved'}
          errors={errors}
          onClose={() => {
            setDialog(null);
          }}
          onGo={goToVariable}
        />
      )}
      {dialog === 'comparison' && (
        <ComparisonDrawer
          questionnaireId={draft.id}
          onClose={() => {
            setDialog(null);
          }}
          onGo={(id, field) => {
            setDialog(null);
            openRule(id, field);
          }}
        />
      )}
      {dialog === 'help' && (
        <RuleHelp
          onClose={() => {
            setDialog(null);
          }}
        />
      )}
      {dialog === 'shortcuts' && (
        <Shortcuts
          onClose={() => {
            setDialog(null);
          }}
        />
      )}
    </div>
  );
}
