// A field for rules: faults underlined at their place, completion while typing.
import { acceptCompletion, autocompletion, completionStatus, type CompletionSource } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { EditorState, StateEffect, StateField } from '@codemirror/state';
import { Decoration, EditorView, keymap, placeholder as placeholderText, type DecorationSet } from '@codemirror/view';
import { useEffect, useRef } from 'react';

export interface Stretch {
  start: number;
  length: number;
}

interface Props {
  label: string;
  value: string;
  faults: Stretch[];
  complete: CompletionSource;
  placeholder?: string;
  readOnly?: boolean;
  /** Takes the caret as soon as it is there, at the end of the text. */
  takesCaret?: boolean;
  onChange: (value: string) => void;
  /** Escape while nothing is offered. */
  onLeave?: () => void;
  /** Tab and Shift+Tab while nothing is offered; without it they lead on as everywhere. */
  onTab?: (backwards: boolean) => void;
}

const setFaults = StateEffect.define<Stretch[]>();
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

export function RuleEditor({
  label,
  value,
  faults,
  complete,
  placeholder = '',
  readOnly = false,
  takesCaret = false,
  onChange,
  onLeave,
  onTab,
}: Props) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const latest = useRef({ onChange, complete, onLeave, onTab });
  useEffect(() => {
    latest.current = { onChange, complete, onLeave, onTab };
  });

  useEffect(() => {
    if (!host.current) return;
    const leading = (act: () => (() => void) | undefined, accepts: boolean) => (editor: EditorView) => {
      if (completionStatus(editor.state) === 'active') return accepts && acceptCompletion(editor);
      const lead = act();
      lead?.();
      return lead !== undefined;
    };
    const tab = (backwards: boolean) =>
      leading(() => {
        const { onTab: lead } = latest.current;
        return (
          lead &&
          (() => {
            lead(backwards);
          })
        );
      }, true);
    const editor = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: value,
        selection: { anchor: value.length },
        extensions: [
          history(),
          autocompletion({ override: [(context) => latest.current.complete(context)], icons: false }),
          keymap.of([
            { key: 'Escape', run: leading(() => latest.current.onLeave, false) },
            { key: 'Tab', run: tab(false), shift: tab(true) },
            ...defaultKeymap.filter((k) => k.key !== 'Mod-/'),
            ...historyKeymap,
          ]),
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
    if (takesCaret) editor.focus();
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
    view.current?.dispatch({ effects: setFaults.of(faults) });
  }, [faults]);

  return <div ref={host} className={faults.length > 0 ? 'rule-editor faulty' : 'rule-editor'} />;
}
