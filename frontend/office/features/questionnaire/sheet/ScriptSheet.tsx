// The script as a document: a line a question, keyboard first. Only the lines in view are in the page.
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef } from 'react';
import { directionOf, languageName } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import { answerWords, endOf, numbersOf, type Finding, type Kind, type Part, type Script } from '../script/model';
import type { AtWork } from '../script/usePresence';
import { Line } from './Line';
import type { Chosen } from './selection';
import type { Focus, SheetActs } from './useSheet';

interface Props {
  script: Script;
  seen: number[];
  findings: Finding[];
  kinds: Kind[];
  languages: string[];
  folded: ReadonlySet<string>;
  activeId: string | null;
  chosen: Chosen | null;
  readOnly: boolean;
  others: AtWork[];
  /** In which share of made-up interviews each variable is asked; null while that is not looked at. */
  reached: ReadonlyMap<string, number> | null;
  sought: RegExp | null;
  acts: SheetActs;
  wanted: Focus | null;
}

const LINE_PX = 31;

export function ScriptSheet({
  script,
  seen,
  findings,
  kinds,
  languages,
  folded,
  activeId,
  chosen,
  readOnly,
  others,
  reached,
  sought,
  acts,
  wanted,
}: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const { parts } = script;
  const numbers = useMemo(() => numbersOf(parts), [parts]);
  const glyphs = useMemo(() => new Map(kinds.map((k) => [k.name, k.glyph])), [kinds]);
  const faults = useMemo(() => byPart(findings), [findings]);
  const visitors = useMemo(() => byLine(others), [others]);
  const template = `52px 26px minmax(120px, 0.8fr) ${languages.map(() => 'minmax(140px, 2fr)').join(' ')} minmax(96px, 0.9fr) minmax(180px, 2.4fr)${reached ? ' 62px' : ''}`;
  const rows = useVirtualizer({
    count: seen.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE_PX,
    overscan: 14,
    getItemKey: (i) => partAt(parts, seen, i)?.id ?? i,
  });

  useEffect(() => {
    if (!wanted) return;
    const index = seen.findIndex((i) => parts[i]?.id === wanted.id);
    if (index < 0) return;
    rows.scrollToIndex(index, { align: 'auto' });
    requestAnimationFrame(() => {
      const line = scroller.current?.querySelector<HTMLElement>(`.line[data-part="${wanted.id}"]`);
      const cell =
        line?.dataset.column === wanted.column
          ? line
          : line?.querySelector<HTMLElement>(`[data-column="${wanted.column}"]`);
      // A wording becomes a field only once its line is the active one: then this is drawn, and asked, again.
      if (!cell || (!readOnly && cell.tagName === 'SPAN')) return;
      acts.reached(wanted);
      if (cell === document.activeElement) return;
      cell.focus();
      if (cell instanceof HTMLTextAreaElement) cell.setSelectionRange(cell.value.length, cell.value.length);
    });
  });

  useEffect(() => {
    if (activeId === null) return;
    const index = seen.findIndex((i) => parts[i]?.id === activeId);
    if (index >= 0) rows.scrollToIndex(index, { align: 'auto' });
    // Only when another line becomes active, not at each edit.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [activeId]);

  return (
    <div className="script-sheet">
      <div className="script-head script-row" style={{ gridTemplateColumns: template }}>
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
        {reached && <span className="script-reach">{t('questionnaire.asked')}</span>}
      </div>
      <div ref={scroller} className="script-scroll" onCopy={acts.copy} onCut={acts.cut} onPaste={acts.paste}>
        <div
          role="list"
          aria-label={t('questionnaire.script')}
          style={{ height: rows.getTotalSize(), position: 'relative' }}
        >
          {rows.getVirtualItems().map((item) => {
            const index = seen[item.index] ?? -1;
            const part = parts[index];
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
                  number={numbers[index] ?? null}
                  glyph={glyphs.get(part.kind) ?? '?'}
                  answer={answerWords(part, script)}
                  faults={faults.get(part.id) ?? NO_FAULTS}
                  languages={languages}
                  template={template}
                  active={part.id === activeId}
                  chosen={chosen?.ids.has(part.id) === true}
                  hides={folded.has(part.id) ? questionsIn(parts, numbers, index) : null}
                  readOnly={readOnly}
                  others={visitors.get(part.id) ?? NOBODY}
                  reach={reached ? (reached.get(part.variable) ?? NO_REACH) : null}
                  sought={sought}
                  acts={acts}
                />
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

/** Of a line that is not asked for, or that was not there when it was rehearsed. */
const NO_REACH = -1;
const NO_FAULTS: Finding[] = [];
const NOBODY: AtWork[] = [];

const partAt = (parts: Part[], seen: number[], i: number): Part | undefined => parts[seen[i] ?? -1];

const questionsIn = (parts: Part[], numbers: (number | null)[], index: number): number =>
  numbers.slice(index + 1, endOf(parts, index)).filter((number) => number !== null).length;

function byPart(findings: Finding[]): Map<string, Finding[]> {
  const found = new Map<string, Finding[]>();
  for (const finding of findings) {
    const id = finding.part_id.replace(/\.other$/, '');
    found.set(id, [...(found.get(id) ?? []), finding]);
  }
  return found;
}

function byLine(others: AtWork[]): Map<string, AtWork[]> {
  const found = new Map<string, AtWork[]>();
  for (const other of others) found.set(other.part_id, [...(found.get(other.part_id) ?? []), other]);
  return found;
}
