// One rule, checked as it is typed: faults are underlined at their place, with the mend below.
import { autocompletion, type CompletionContext } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { EditorState, StateEffect, StateField } from '@codemirror/state';
import { Decoration, EditorView, keymap, placeholder as placeholderText, type DecorationSet } from '@codemirror/view';
import { useEffect, useRef } from 'react';
import type { Finding } from '../script/model';

interface Props {
  label: string;
  value: string;
  findings: Finding[];
  names: { name: string; detail: string }[];
  placeholder?: string;
  readOnly?: boolean;
  onChange: (value: string) => void;
}

const setFaults = StateEffect.define<Finding[]>();
const underline = Decoration.mark({ class: 'rule-fault' });
const faultField = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(marks, transaction) {
    let now = marks.map(transaction.changes);
    for (const effect of transaction.effects) {
      if (effect.is(setFaults)) {
        const length = transaction.state.doc.length;
        const ranges = effect.value
          .map((f) => ({ from: Math.min(f.start, length), to: Math.min(f.start + Math.max(1, f.length), length) }))
          .filter((r) => r.to > r.from)
          .sort((a, b) => a.from - b.from)
          .map((r) => underline.range(r.from, r.to));
        now = Decoration.set(ranges);
      }
    }
    return now;
  },
  provide: (field) => EditorView.decorations.from(field),
});

const WORDS = [
  'is',
  'is not',
  'is one of ()',
  'is none of ()',
  'between',
  'and',
  'or',
  'not',
  'includes',
  'includes any of ()',
  'is answered',
  'is missing',
  'is not known',
  'is refused',
  'was asked',
  'matches ""',
  'if',
  'then',
  'else',
  'yes',
  'no',
  'today',
  'row',
  'count()',
  'sum()',
  'mean()',
  'any()',
  'every()',
  'where',
  'round()',
  'years()',
  'year()',
];

export function RuleField({ label, value, findings, names, placeholder = '', readOnly = false, onChange }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const latest = useRef({ onChange, names });
  useEffect(() => {
    latest.current = { onChange, names };
  });

  useEffect(() => {
    if (!host.current) return;
    const complete = (context: CompletionContext) => {
      const word = context.matchBefore(/[a-z_][a-z0-9_]*/i);
      if (!word && !context.explicit) return null;
      const variables = latest.current.names.map((n) => ({ label: n.name, detail: n.detail, type: 'variable' }));
      const words = WORDS.map((w) => ({ label: w, type: 'keyword' }));
      return { from: word?.from ?? context.pos, options: [...variables, ...words], validFor: /^[a-z0-9_]*$/i };
    };
    const editor = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: value,
        extensions: [
          history(),
          autocompletion({ override: [complete], icons: false }),
          keymap.of([...defaultKeymap.filter((k) => k.key !== 'Mod-/'), ...historyKeymap]),
          EditorView.lineWrapping,
          EditorState.readOnly.of(readOnly),
          EditorView.contentAttributes.of({ 'aria-label': label }),
          placeholderText(placeholder),
          faultField,
          EditorView.updateListener.of((update) => {
            if (update.docChanged) latest.current.onChange(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = editor;
    return () => {
      editor.destroy();
    };
    // The editor is made once for a field; its text is brought up to date below.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);

  useEffect(() => {
    const editor = view.current;
    if (editor && editor.state.doc.toString() !== value)
      editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value } });
  }, [value]);
  useEffect(() => {
    view.current?.dispatch({ effects: setFaults.of(findings) });
  }, [findings]);

  return (
    <div className="rule-field">
      <div ref={host} className={findings.length > 0 ? 'rule-editor faulty' : 'rule-editor'} />
      {findings.map((f) => (
        <p key={`${f.code}${String(f.start)}`} className="rule-note" role="status">
          {f.message} <b>{f.mend}</b>
        </p>
      ))}
    </div>
  );
}
