// The script as a document: a line a question, keyboard first. Only the lines in view are in the page.
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useCallback, useEffect, useMemo, useRef, type KeyboardEvent } from 'react';
import { directionOf, languageName } from '../../../../shared/interview/languages';
import {
  addBelow,
  answerWords,
  duplicate,
  indent,
  move,
  numbersOf,
  removeLine,
  rulesOf,
  type Finding,
  type Kind,
  type Part,
  type Script,
} from '../script/model';
import { t } from '../../../texts/texts';

interface Props {
  script: Script;
  findings: Finding[];
  kinds: Kind[];
  languages: string[];
  activeId: string | null;
  readOnly: boolean;
  onActivate: (id: string) => void;
  onEdit: (script: Script, what?: string) => void;
  onOpenRule: (id: string, field: string) => void;
  onPickKind: (id: string) => void;
}

const LINE_PX = 31;

export function ScriptSheet({
  script,
  findings,
  kinds,
  languages,
  activeId,
  readOnly,
  onActivate,
  onEdit,
  onOpenRule,
  onPickKind,
}: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const { parts } = script;
  const numbers = useMemo(() => numbersOf(parts), [parts]);
  const glyphs = useMemo(() => new Map(kinds.map((k) => [k.name, k.glyph])), [kinds]);
  const faults = useMemo(() => byPart(findings), [findings]);
  const columns = `44px 26px minmax(126px, 0.8fr) ${languages.map(() => 'minmax(140px, 2fr)').join(' ')} minmax(96px, 0.9fr) minmax(180px, 2.4fr)`;
  const rows = useVirtualizer({
    count: parts.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE_PX,
    overscan: 14,
    getItemKey: (i) => parts[i]?.id ?? i,
  });
  // A page that was empty until now: what is typed next is the name of its first line.
  const only = parts.length === 1 && parts[0]?.variable === '' && !readOnly ? parts[0] : undefined;
  const focusNext = useRef<{ id: string; column: string } | null>(only ? { id: only.id, column: 'variable' } : null);

  useEffect(() => {
    const wanted = focusNext.current;
    if (!wanted) return;
    const index = parts.findIndex((p) => p.id === wanted.id);
    rows.scrollToIndex(index, { align: 'auto' });
    requestAnimationFrame(() => {
      const cell = scroller.current?.querySelector<HTMLElement>(
        `[data-part="${wanted.id}"] [data-column="${wanted.column}"]`,
      );
      cell?.focus();
      focusNext.current = null;
    });
  });

  useEffect(() => {
    if (activeId === null) return;
    const index = parts.findIndex((p) => p.id === activeId);
    if (index >= 0) rows.scrollToIndex(index, { align: 'auto' });
    // Only when another line becomes active, not at each edit.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [activeId]);

  const change = useCallback(
    (id: string, what: string, part: (before: Part) => Part) => {
      onEdit({ ...script, parts: script.parts.map((p) => (p.id === id ? part(p) : p)) }, `${id}.${what}`);
    },
    [onEdit, script],
  );

  const press = useCallback(
    (event: KeyboardEvent, index: number, column: string) => {
      const part = parts[index];
      if (!part || readOnly) return;
      const take = (next: Part[], focus: string) => {
        event.preventDefault();
        if (next !== parts) onEdit({ ...script, parts: next });
        focusNext.current = { id: focus, column };
      };
      const goTo = (neighbour: Part | undefined) => {
        if (!neighbour) return;
        event.preventDefault();
        onActivate(neighbour.id);
        focusNext.current = { id: neighbour.id, column };
      };
      if (event.key === 'Enter' && !event.shiftKey) {
        const { parts: next, added } = addBelow(parts, index);
        take(next, added.id);
        focusNext.current = { id: added.id, column: 'variable' };
        onActivate(added.id);
      } else if (event.key === 'Tab' && column === 'variable')
        take(indent(parts, index, event.shiftKey ? -1 : 1), part.id);
      else if (event.altKey && event.key === 'ArrowUp') take(move(parts, index, -1), part.id);
      else if (event.altKey && event.key === 'ArrowDown') take(move(parts, index, 1), part.id);
      else if (event.key === 'ArrowUp' && !event.shiftKey) goTo(parts[index - 1]);
      else if (event.key === 'ArrowDown' && !event.shiftKey) goTo(parts[index + 1]);
      else if ((event.ctrlKey || event.metaKey) && event.key === 'Backspace') {
        const neighbour = parts[index - 1] ?? parts[index + 1];
        take(removeLine(parts, index), neighbour?.id ?? '');
        if (neighbour) onActivate(neighbour.id);
      } else if ((event.ctrlKey || event.metaKey) && event.key === 'd') {
        const made = duplicate(parts, index);
        if (made) {
          take(made.parts, made.added.id);
          onActivate(made.added.id);
        }
      } else if (event.key === '/' && (event.target as HTMLInputElement).value === '') {
        event.preventDefault();
        onPickKind(part.id);
      }
    },
    [onActivate, onEdit, onPickKind, parts, readOnly, script],
  );

  return (
    <div className="script-sheet">
      <div className="script-head script-row" style={{ gridTemplateColumns: columns }}>
        <span />
        <span />
        <span>{t('common.variable')}</span>
        {languages.map((tag) => (
          <span key={tag} dir={directionOf(tag)}>
            {languageName(tag)}
          </span>
        ))}
        <span>{t('questionnaire.answer')}</span>
        <span>{t('questionnaire.rules')}</span>
      </div>
      <div ref={scroller} className="script-scroll">
        <div
          role="list"
          aria-label={t('questionnaire.script')}
          style={{ height: rows.getTotalSize(), position: 'relative' }}
        >
          {rows.getVirtualItems().map((item) => {
            const part = parts[item.index];
            if (!part) return null;
            return (
              <div
                key={item.key}
                data-index={item.index}
                ref={rows.measureElement}
                className="script-place"
                style={{ transform: `translateY(${String(item.start)}px)` }}
              >
                <Line
                  part={part}
                  index={item.index}
                  number={numbers[item.index] ?? null}
                  glyph={glyphs.get(part.kind) ?? '?'}
                  answer={answerWords(part, script)}
                  faults={faults.get(part.id) ?? NO_FAULTS}
                  languages={languages}
                  columns={columns}
                  active={part.id === activeId}
                  readOnly={readOnly}
                  onActivate={onActivate}
                  onChange={change}
                  onPress={press}
                  onOpenRule={onOpenRule}
                  onPickKind={onPickKind}
                />
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

const NO_FAULTS: Finding[] = [];

function byPart(findings: Finding[]): Map<string, Finding[]> {
  const found = new Map<string, Finding[]>();
  for (const finding of findings) {
    const id = finding.part_id.replace(/\.other$/, '');
    found.set(id, [...(found.get(id) ?? []), finding]);
  }
  return found;
}

interface LineProps {
  part: Part;
  index: number;
  number: number | null;
  glyph: string;
  answer: string;
  faults: Finding[];
  languages: string[];
  columns: string;
  active: boolean;
  readOnly: boolean;
  onActivate: (id: string) => void;
  onChange: (id: string, what: string, part: (before: Part) => Part) => void;
  onPress: (event: KeyboardEvent, index: number, column: string) => void;
  onOpenRule: (id: string, field: string) => void;
  onPickKind: (id: string) => void;
}

const Line = memo(function Line({
  part,
  index,
  number,
  glyph,
  answer,
  faults,
  languages,
  columns,
  active,
  readOnly,
  onActivate,
  onChange,
  onPress,
  onOpenRule,
  onPickKind,
}: LineProps) {
  const faulty = (field: string) => faults.some((f) => f.severity === 'error' && f.field === field);
  const tone = part.kind === 'section' ? ' section' : part.kind === 'roster' ? ' roster' : '';
  const errors = faults.filter((f) => f.severity === 'error').length;
  return (
    // Its cells take the keys; the line only notes which of them is worked on.
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions
    <div
      className={`script-row line${tone}${active ? ' active' : ''}`}
      style={{ gridTemplateColumns: columns }}
      role="listitem"
      aria-level={part.level}
      aria-current={active}
      data-part={part.id}
      onFocus={() => {
        onActivate(part.id);
      }}
      onMouseDown={() => {
        onActivate(part.id);
      }}
    >
      <span className="script-number">
        {Array.from({ length: part.level - 1 }, (_, i) => (
          <i key={i} style={{ insetInlineStart: 6 + 7 * i }} />
        ))}
        {errors > 0 ? (
          <b className="fault-mark" title={faults.map((f) => f.message).join('\n')}>
            !
          </b>
        ) : (
          number
        )}
      </span>
      <button
        type="button"
        className="script-kind"
        tabIndex={-1}
        title={part.kind}
        aria-label={t('questionnaire.kind2', { kind: part.kind })}
        disabled={readOnly}
        onClick={() => {
          onPickKind(part.id);
        }}
      >
        {glyph}
      </button>
      <input
        className={`script-cell mono${faulty('variable') ? ' faulty' : ''}`}
        data-column="variable"
        aria-label={t('common.variable')}
        spellCheck={false}
        readOnly={readOnly}
        value={part.variable}
        placeholder={part.kind === 'section' || part.kind === 'statement' ? '' : t('questionnaire.variable')}
        style={{ paddingInlineStart: 4 + 10 * (part.level - 1) }}
        onChange={(event) => {
          const value = event.target.value;
          onChange(part.id, 'variable', (p) => ({ ...p, variable: value }));
        }}
        onKeyDown={(event) => {
          onPress(event, index, 'variable');
        }}
      />
      {languages.map((tag) => (
        <WordingCell
          key={tag}
          tag={tag}
          text={part.wording[tag] ?? ''}
          active={active}
          faulty={faulty(`wording.${tag}`)}
          readOnly={readOnly}
          onChange={(value) => {
            onChange(part.id, `wording.${tag}`, (p) => ({ ...p, wording: { ...p.wording, [tag]: value } }));
          }}
          onKeyDown={(event) => {
            onPress(event, index, `wording.${tag}`);
          }}
        />
      ))}
      <button
        type="button"
        tabIndex={-1}
        className={part.mask === '' ? 'script-answer clip' : 'script-answer clip mono'}
        title={answer}
        onClick={() => {
          onOpenRule(part.id, 'code_list');
        }}
      >
        {part.kind === 'section' ? '' : answer}
      </button>
      <span className="script-rules">
        {rulesOf(part).map((rule) => (
          <button
            key={rule.field}
            type="button"
            tabIndex={-1}
            className="script-rule"
            title={rule.text}
            onClick={() => {
              onOpenRule(part.id, rule.field);
            }}
          >
            <span className={`rule-word ${rule.tone}`}>{rule.word}</span>{' '}
            <code className={faulty(rule.field) ? 'faulty' : ''}>{rule.text}</code>
          </button>
        ))}
      </span>
    </div>
  );
});

interface WordingProps {
  tag: string;
  text: string;
  active: boolean;
  faulty: boolean;
  readOnly: boolean;
  onChange: (value: string) => void;
  onKeyDown: (event: KeyboardEvent) => void;
}

/** A wording: typed where the line is active, shown with its placeholders set off elsewhere. */
function WordingCell({ tag, text, active, faulty, readOnly, onChange, onKeyDown }: WordingProps) {
  const column = `wording.${tag}`;
  const className = `script-cell wording${faulty ? ' faulty' : ''}`;
  if (active && !readOnly) {
    return (
      <textarea
        className={className}
        data-column={column}
        aria-label={languageName(tag)}
        dir={directionOf(tag)}
        lang={tag}
        rows={1}
        value={text}
        onChange={(event) => {
          onChange(event.target.value.replace(/\n/g, ' '));
        }}
        onKeyDown={onKeyDown}
      />
    );
  }
  return (
    <span
      className={className}
      data-column={column}
      dir={directionOf(tag)}
      lang={tag}
      tabIndex={readOnly ? undefined : 0}
    >
      {text.split(/(\{[^{}]*\})/).map((piece, i) =>
        piece.startsWith('{') ? (
          <b key={i} className="placeholder">
            {piece}
          </b>
        ) : (
          piece
        ),
      )}
    </span>
  );
}
