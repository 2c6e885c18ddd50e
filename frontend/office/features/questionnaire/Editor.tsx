import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { Empty } from '../../ui/states';
import { useMay } from '../../ui/study';
import { Beginnings } from './begin/Beginnings';
import { Dialogs, type Open } from './Dialogs';
import { Panes, usePane } from './Panes';
import { MOST_COLUMNS, ScriptBar } from './ScriptBar';
import { ClashNotice, SaveNotice, ScriptStatus } from './ScriptStatus';
import { addBelow, type Kind, type Script } from './script/model';
import { usePresence } from './script/usePresence';
import { reachOf } from './rehearsal/rehearsal';
import { useRehearsed } from './rehearsal/useRehearsed';
import { written } from './panes/useOpened';
import { useScript } from './script/useScript';
import { useWriting } from './script/useWriting';
import { FindBar } from './sheet/FindBar';
import { ScriptSheet } from './sheet/ScriptSheet';
import { SelectionBar } from './sheet/SelectionBar';
import { WHERE, patternOf, renamedBy, replaceIn, type Found, type Wanted } from './sheet/find';
import { around, useFolding, visibleOf } from './sheet/folding';
import { useSheet } from './sheet/useSheet';

const NOTHING_WANTED: Wanted = { text: '', where: new Set(WHERE), exact: false };

/** The script in the making: sheet, pane beside it, and what opens over them. */
export function Editor({ draft, kinds }: { draft: Schemas['Draft']; kinds: Kind[] }) {
  const may = useMay();
  const readOnly = !may('script.write');
  const editor = useScript(draft);
  const writing = useWriting(draft.id, editor);
  const { script, edit, undo, redo } = editor;
  const [, setParams] = useSearchParams();
  const { pane, partId: activeId, opens } = usePane();
  const others = usePresence(draft.id, activeId, editor.heard);
  const [open, setOpen] = useState<Open | null>(null);
  const [openField, setOpenField] = useState<string | null>(null);
  const [shown, setShown] = useState(() => script.languages.slice(0, MOST_COLUMNS));
  const [finding, setFinding] = useState<{ wanted: Wanted; replacing: boolean } | null>(null);
  const { folded, fold } = useFolding(draft.id);
  const rehearsed = useRehearsed(draft.study_id, draft.id, pane === 'rehearsal');
  const reached = useMemo(
    () => (pane === 'rehearsal' ? reachOf(rehearsed.rehearsal.done?.result) : null),
    [pane, rehearsed.rehearsal.done?.result],
  );
  const aside = useRef<HTMLElement>(null);
  const languages = useMemo(() => script.languages.filter((tag) => shown.includes(tag)), [script.languages, shown]);
  const columns = useMemo(
    () => ['variable', ...languages.map((tag) => `wording.${tag}`), 'answer', 'rules'],
    [languages],
  );
  const seen = useMemo(() => visibleOf(script.parts, folded), [script.parts, folded]);
  const seenParts = useMemo(() => seen.flatMap((i) => script.parts[i] ?? []), [seen, script.parts]);

  const go = useCallback(
    (changes: Record<string, string>) => {
      setParams((before) => ({ ...Object.fromEntries(before), ...changes }), { replace: true });
    },
    [setParams],
  );
  const openInterview = (what: string | null) => {
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        if (what === null) next.delete('opens');
        else {
          next.set('opens', what);
          next.set('pane', 'phone');
        }
        return next;
      },
      { replace: true },
    );
  };
  const activate = (id: string) => {
    fold(around(script.parts, id), false);
    if (id === activeId) return;
    setOpenField(null);
    go({ part: id });
  };
  const openRule = (id: string, field: string) => {
    fold(around(script.parts, id), false);
    setOpenField(field);
    go({ part: id, pane: 'details' });
  };
  const { chosen, wanted, acts } = useSheet({
    script,
    seen: seenParts,
    columns,
    folded,
    activeId,
    readOnly,
    editor,
    writing,
    onActivate: activate,
    onFold: fold,
    onAnswer: (id, typed) => {
      setOpen({ what: 'answer', id, typed });
    },
    onRules: (id) => {
      setOpen({ what: 'rules', id });
    },
    onPane: () => {
      aside.current?.querySelector<HTMLElement>('.pane-body :is(input, textarea, .cm-content, button)')?.focus();
    },
    onFind: (replacing) => {
      setFinding((before) => ({ wanted: before?.wanted ?? NOTHING_WANTED, replacing }));
    },
    onPasteCells: (rows) => {
      setOpen({ what: 'paste', rows });
    },
  });
  const back = useCallback(() => {
    if (activeId !== null) acts.goTo(activeId, 'rules');
  }, [acts, activeId]);

  // A page that was empty until now: what is typed next is the wording of its first line.
  const first = useRef(script.parts.length === 1 && !readOnly ? script.parts[0] : undefined);
  useEffect(() => {
    if (first.current?.variable === '') acts.goTo(first.current.id, `wording.${script.languages[0] ?? 'en'}`);
    first.current = undefined;
  }, [acts, script.languages]);

  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const target = event.target instanceof Element ? event.target : null;
      const command = event.ctrlKey || event.metaKey;
      const key = event.key.toLowerCase();
      if (command && (key === 'z' || key === 'y')) {
        if (target?.closest('.cm-editor')) return;
        if (key === 'y' || event.shiftKey) redo();
        else undo();
      } else if (event.key === '?' && !target?.closest('input, textarea, .cm-editor')) setOpen({ what: 'shortcuts' });
      else if (command && key === '.' && !target?.closest('.script-sheet, .ant-modal, .ant-drawer')) back();
      else if (command && (key === 'f' || key === 'h') && !target?.closest('.ant-modal, .script-pane'))
        setFinding((before) => ({ wanted: before?.wanted ?? NOTHING_WANTED, replacing: key === 'h' }));
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', press);
    return () => {
      window.removeEventListener('keydown', press);
    };
  }, [undo, redo, back]);

  const start = () => {
    const { parts, added } = addBelow([], -1);
    edit((now) => ({ ...now, parts }));
    acts.goTo(added.id, `wording.${languages[0] ?? 'en'}`);
  };
  /** All of another questionnaire, in the languages of both. */
  const beginFrom = (earlier: Script) => {
    const more = earlier.languages.filter((tag) => !script.languages.includes(tag));
    if (more.length > 0) {
      edit((now) => ({ ...now, languages: [...now.languages, ...more] }));
      setShown([...shown, ...more].slice(0, MOST_COLUMNS));
    }
    const { languages: spoken, parts, code_lists, unit_lists } = earlier;
    return writing.putIn({ languages: spoken, parts, code_lists, unit_lists }, 0, 1);
  };
  const showFound = (found: Found) => {
    fold(around(script.parts, found.partId), false);
    if (found.where === 'text' || (found.where === 'wording' && !columns.includes(found.field)))
      openRule(found.partId, found.field.replace(/\.message\..*$/, '.rule'));
    else activate(found.partId);
  };
  const replace = (found: Found[], by: string) => {
    if (!finding) return;
    edit((now) => replaceIn(now, found, finding.wanted, by));
    const names = renamedBy(found, finding.wanted, by);
    // Once what was replaced is drawn: renaming goes by the script as it then is.
    if (Object.keys(names).length > 0) setTimeout(() => void writing.rename(names));
  };
  const errors = editor.findings.filter((f) => f.severity === 'error').length;
  const sought = useMemo(
    () => (finding === null || finding.wanted.text === '' ? null : patternOf(finding.wanted)),
    [finding],
  );
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
          onOpen={(what) => {
            setOpen({ what });
          }}
          onPane={(key) => {
            go({ pane: key });
          }}
        />
        <SaveNotice editor={editor} />
        <ClashNotice editor={editor} onGo={openRule} />
        {finding !== null && (
          <FindBar
            script={script}
            wanted={finding.wanted}
            replacing={finding.replacing}
            readOnly={readOnly}
            onWant={(wanted) => {
              setFinding({ ...finding, wanted });
            }}
            onGo={showFound}
            onReplace={replace}
            onClose={() => {
              setFinding(null);
              if (activeId !== null) acts.goTo(activeId, columns[1] ?? 'variable');
            }}
          />
        )}
        {script.parts.length === 0 ? (
          readOnly ? (
            <Empty title={t('questionnaire.emptyPage')}>{t('questionnaire.everyQuestionLineShort')}</Empty>
          ) : (
            <Beginnings
              draft={draft}
              kinds={kinds}
              language={languages[0] ?? 'en'}
              onWrite={start}
              onTakeModules={writing.takeModules}
              onTakeScript={beginFrom}
              onWorkbook={() => {
                setOpen({ what: 'workbook' });
              }}
              onPasteCells={(rows) => {
                setOpen({ what: 'paste', rows });
              }}
            />
          )
        ) : (
          <ScriptSheet
            script={script}
            seen={seen}
            findings={editor.findings}
            kinds={kinds}
            languages={languages}
            folded={folded}
            activeId={activeId}
            chosen={chosen}
            readOnly={readOnly}
            others={others}
            reached={reached}
            sought={sought}
            acts={acts}
            wanted={wanted}
          />
        )}
        {chosen !== null && chosen.ids.size > 0 && !readOnly && (
          <SelectionBar
            script={script}
            chosen={chosen}
            language={languages[0] ?? 'en'}
            acts={acts}
            onAskedWhen={() => {
              setOpen({ what: 'asked when', ids: chosen.ids });
            }}
            onSaveModule={() => {
              setOpen({ what: 'save module', ids: chosen.ids });
            }}
          />
        )}
      </div>
      <aside className="script-pane" ref={aside}>
        <Panes
          draft={draft}
          editor={editor}
          kinds={kinds}
          language={languages[0] ?? 'en'}
          pane={pane}
          partId={activeId}
          opens={opens}
          rehearsed={rehearsed}
          readOnly={readOnly}
          openField={openField}
          onPane={(key) => {
            go({ pane: key });
          }}
          onGo={activate}
          onOpenRule={openRule}
          onOpen={setOpen}
          onOpenInterview={openInterview}
        />
      </aside>
      <ScriptStatus
        editor={editor}
        errors={errors}
        doubts={editor.findings.filter((f) => f.severity === 'doubt').length}
        others={others}
        onGo={activate}
        onFindings={() => {
          go({ pane: 'findings' });
        }}
        onShortcuts={() => {
          setOpen({ what: 'shortcuts' });
        }}
      />
      <Dialogs
        open={open}
        draft={draft}
        editor={editor}
        writing={writing}
        kinds={kinds}
        readOnly={readOnly}
        acts={acts}
        columns={columns}
        partId={activeId}
        onOpen={setOpen}
        onOpenRule={openRule}
        onGoToVariable={goToVariable}
        onOpenTest={(name) => {
          setOpen(null);
          openInterview(written({ test: name }));
        }}
      />
    </div>
  );
}
