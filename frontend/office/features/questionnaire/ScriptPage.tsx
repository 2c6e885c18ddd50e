import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Button, Dropdown, Form, Input, Select, Tabs } from 'antd';
import { useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { languageName } from '../../../shared/interview/languages';
import { useStudy } from '../../ui/StudyFrame';
import { useMoments } from '../../ui/moments';
import { Empty, Loaded } from '../../ui/states';
import { useMay } from '../session/session';
import { CodeListDrawer } from './CodeListDrawer';
import { ComparisonDrawer } from './Comparison';
import { DetailsPane } from './DetailsPane';
import { FindingsPane } from './FindingsPane';
import { FlowPane } from './FlowPane';
import { KindPicker } from './KindPicker';
import { PhonePane } from './PhonePane';
import { RehearsalDrawer } from './RehearsalDrawer';
import { ReleaseDialog } from './ReleaseDialog';
import { RuleHelp } from './RuleHelp';
import { ScriptSheet } from './ScriptSheet';
import { Shortcuts } from './Shortcuts';
import { UnitListDrawer } from './UnitListDrawer';
import { WorkbookDialog } from './WorkbookDialog';
import { addBelow, conditionOf, numbersOf, type Kind, type Script } from './model';
import { useScript, type ScriptEditor } from './useScript';
import './questionnaire.css';

/** The questionnaire station: the script sheet with its pane. */
export default function ScriptPage() {
  const study = useStudy();
  const id = study.questionnaires[0]?.id;
  return id === undefined ? <NewQuestionnaire /> : <Draft id={id} />;
}

function NewQuestionnaire() {
  const study = useStudy();
  const may = useMay();
  const queries = useQueryClient();
  const make = useMutation({
    mutationFn: (body: Schemas['QuestionnaireIn']) =>
      ask(api.POST('/api/studies/{study_id}/questionnaires', { params: { path: { study_id: study.id } }, body })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['study', study.id] }),
  });
  if (!may('script.write'))
    return (
      <div className="page">
        <Empty title="The questionnaire is not written yet." />
      </div>
    );
  return (
    <div className="page narrow">
      <div className="page-head">
        <h1>Questionnaire</h1>
      </div>
      <div className="sheet pad">
        <Form<Schemas['QuestionnaireIn']>
          layout="vertical"
          requiredMark={false}
          initialValues={{ title: study.title, languages: ['en'] }}
          onFinish={(values) => {
            if (!make.isPending) make.mutate(values);
          }}
        >
          <Form.Item
            name="title"
            label="Title"
            rules={[{ required: true, whitespace: true, message: 'It needs a title' }]}
          >
            <Input autoFocus />
          </Form.Item>
          <Form.Item
            name="languages"
            label="Languages, the first one first"
            rules={[{ required: true, message: 'At least one' }]}
          >
            <Select
              mode="tags"
              options={['en', 'fr', 'ar', 'es', 'pt', 'sw'].map((tag) => ({
                value: tag,
                label: `${languageName(tag)} (${tag})`,
              }))}
            />
          </Form.Item>
          {make.error && <Alert type="error" showIcon title={make.error.message} style={{ marginBottom: 12 }} />}
          <Button type="primary" htmlType="submit" loading={make.isPending}>
            Begin
          </Button>
        </Form>
      </div>
    </div>
  );
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
const MOST_COLUMNS = 2;

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
  const [dialog, setDialog] = useState<
    'release' | 'workbook' | 'shortcuts' | 'rehearsal' | 'comparison' | 'help' | null
  >(null);
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
        <div className="script-bar">
          <TitleField script={script} readOnly={readOnly} onEdit={edit} />
          <span className="muted small">
            {draft.newest_release == null
              ? 'not released yet'
              : editor.sameAsNewest
                ? `as release ${String(draft.newest_release)}`
                : `draft after release ${String(draft.newest_release)}`}
          </span>
          <span className="grow" />
          <LanguagePicker script={script} shown={shown} readOnly={readOnly} onShow={setShown} onEdit={edit} />
          <Dropdown
            trigger={['click']}
            menu={{
              items: [
                ...(draft.newest_release == null
                  ? []
                  : [
                      {
                        key: 'compare',
                        label: `Compare with release ${String(draft.newest_release)} …`,
                        onClick: () => {
                          setDialog('comparison');
                        },
                      },
                    ]),
                {
                  key: 'help',
                  label: 'The rule language …',
                  onClick: () => {
                    setDialog('help');
                  },
                },
                { type: 'divider' as const },
                {
                  key: 'out',
                  label: (
                    <a href={`/api/questionnaires/${String(draft.id)}/workbook`} download>
                      Take out as a workbook (.xlsx)
                    </a>
                  ),
                },
                {
                  key: 'out-csv',
                  label: (
                    <a href={`/api/questionnaires/${String(draft.id)}/workbook?form=csv`} download>
                      Take out as .csv files
                    </a>
                  ),
                },
                ...(readOnly
                  ? []
                  : [
                      {
                        key: 'in',
                        label: 'Bring in a workbook …',
                        onClick: () => {
                          setDialog('workbook');
                        },
                      },
                    ]),
              ],
            }}
          >
            <Button aria-label="More">⋯</Button>
          </Dropdown>
          {!readOnly && script.parts.length > 0 && (
            <Button
              onClick={() => {
                setDialog('rehearsal');
              }}
            >
              Rehearse
            </Button>
          )}
          {may('release.make') && (
            <Button
              type="primary"
              disabled={editor.sameAsNewest}
              onClick={() => {
                setDialog('release');
              }}
            >
              Release {next} …
            </Button>
          )}
        </div>
        <SaveNotice editor={editor} />
        {script.parts.length === 0 ? (
          <Empty
            title="An empty page"
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
                  Write the first section
                </Button>
              )
            }
          >
            Every question is a line: a short name, the wording in each language, the answer and its rules. Or bring in
            a workbook.
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
            { key: 'details', label: 'Details' },
            { key: 'phone', label: 'Phone' },
            { key: 'flow', label: 'Flow' },
            {
              key: 'findings',
              label: (
                <>
                  Findings{' '}
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
              <p className="muted">Choose a line to see its rules, checks and codes.</p>
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

function TitleField({ script, readOnly, onEdit }: { script: Script; readOnly: boolean; onEdit: ScriptEditor['edit'] }) {
  const first = script.languages[0] ?? 'en';
  return (
    <Input
      className="script-title"
      variant="borderless"
      aria-label="Title of the questionnaire"
      readOnly={readOnly}
      value={script.title[first] ?? ''}
      onChange={(event) => {
        onEdit({ ...script, title: { ...script.title, [first]: event.target.value } }, 'title');
      }}
    />
  );
}

function LanguagePicker({
  script,
  shown,
  readOnly,
  onShow,
  onEdit,
}: {
  script: Script;
  shown: string[];
  readOnly: boolean;
  onShow: (tags: string[]) => void;
  onEdit: ScriptEditor['edit'];
}) {
  const { modal } = App.useApp();
  const add = () => {
    let tag = '';
    modal.confirm({
      title: 'Add a language',
      icon: null,
      content: (
        <Input
          placeholder="BCP 47 tag: ar, sw, pt-BR …"
          onChange={(event) => {
            tag = event.target.value.trim();
          }}
        />
      ),
      okText: 'Add',
      onOk: () => {
        if (!/^[a-z]{2,3}(-[A-Za-z0-9]+)*$/.test(tag) || script.languages.includes(tag)) return;
        onEdit({ ...script, languages: [...script.languages, tag] });
        onShow([...shown.slice(0, MOST_COLUMNS - 1), tag]);
      },
    });
  };
  const items = script.languages.map((tag) => ({
    key: tag,
    label: `${shown.includes(tag) ? '✓ ' : '   '}${languageName(tag)}`,
    onClick: () => {
      const next = shown.includes(tag) ? shown.filter((t) => t !== tag) : [...shown, tag].slice(-3);
      if (next.length > 0) onShow(next);
    },
  }));
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: readOnly
          ? items
          : [...items, { type: 'divider' as const }, { key: '+', label: 'Add a language …', onClick: add }],
      }}
    >
      <button type="button" className="plain-link">
        {script.languages
          .filter((t) => shown.includes(t))
          .map(languageName)
          .join(' · ')}
        {script.languages.length > shown.length ? ` · +${String(script.languages.length - shown.length)}` : ' ▾'}
      </button>
    </Dropdown>
  );
}

function SaveNotice({ editor }: { editor: ScriptEditor }) {
  if (editor.save === 'conflict') {
    return (
      <Alert
        type="warning"
        banner
        title={editor.problem}
        action={
          <>
            <Button size="small" onClick={() => void editor.reload(false)}>
              Load theirs
            </Button>{' '}
            <Button size="small" onClick={() => void editor.reload(true)}>
              Keep mine over it
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
        title={`${editor.problem}${editor.save === 'unreachable' ? ' It is tried again by itself.' : ''}`}
      />
    );
  return null;
}

function ScriptStatus({
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
    saved: `Saved ${timeOf(editor.changedAt)}`,
    waiting: 'Not saved yet …',
    saving: 'Saving …',
    unreachable: 'Not saved: no server',
    conflict: 'Not saved: changed elsewhere',
    refused: 'Not saved',
  };
  return (
    <footer className="status">
      <span role="status">{saved[editor.save]}</span>
      <span>
        {questions} {questions === 1 ? 'question' : 'questions'} · {script.languages.length}{' '}
        {script.languages.length === 1 ? 'language' : 'languages'}
      </span>
      <button type="button" className="plain-link" onClick={onFindings}>
        {errors > 0 ? (
          <b className="bad">
            {errors} {errors === 1 ? 'error' : 'errors'}
          </b>
        ) : (
          'no errors'
        )}{' '}
        · {doubts} {doubts === 1 ? 'doubt' : 'doubts'}
      </button>
      <span className="grow" />
      <button type="button" className="plain-link" disabled={editor.past.length === 0} onClick={editor.undo}>
        Undo
      </button>
      <button type="button" className="plain-link" disabled={editor.future.length === 0} onClick={editor.redo}>
        Redo
      </button>
      <button type="button" className="plain-link" onClick={onShortcuts}>
        ? shortcuts
      </button>
    </footer>
  );
}
