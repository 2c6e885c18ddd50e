import { useLayoutEffect, useRef, useState } from 'react';
import { directionOf } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import { holdsParts, type Part } from '../script/model';
import type { SheetActs } from './useSheet';

interface VariableProps {
  part: Part;
  faulty: boolean;
  readOnly: boolean;
  sought: RegExp | null;
  acts: SheetActs;
}

/** The short name: kept when the cell is left, because everything that mentions it is renamed with it. */
export function VariableCell({ part, faulty, readOnly, sought, acts }: VariableProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const field = useRef<HTMLInputElement>(null);
  useLayoutEffect(() => {
    // A name that is proposed while the caret waits here gives way to what is typed, from the first letter on.
    if (typed === null && field.current === document.activeElement) field.current?.select();
    // Only when the name becomes another one.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [part.variable]);
  const keep = () => {
    if (typed !== null && typed !== part.variable) acts.rename(part.id, typed);
    setTyped(null);
  };
  const found = sought !== null && typed === null && part.variable.search(sought) >= 0;
  return (
    <input
      ref={field}
      className={`script-cell mono${faulty ? ' faulty' : ''}${found ? ' sought' : ''}`}
      data-column="variable"
      aria-label={t('common.variable')}
      spellCheck={false}
      autoComplete="off"
      readOnly={readOnly}
      value={typed ?? part.variable}
      placeholder={part.kind === 'statement' || holdsParts(part) ? '' : t('questionnaire.variable')}
      style={{ paddingInlineStart: 4 + 10 * (part.level - 1) }}
      onFocus={() => {
        acts.enter(part.id);
      }}
      onChange={(event) => {
        setTyped(event.target.value.toLowerCase().replace(/[\s-]+/g, '_'));
      }}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === 'Escape' && typed !== null && typed !== part.variable) {
          setTyped(null);
          event.preventDefault();
          return;
        }
        if (event.key === 'Enter' || event.key === 'Tab') keep();
        acts.press(event, part.id, 'variable');
      }}
    />
  );
}

interface WordingProps {
  id: string;
  tag: string;
  name: string;
  text: string;
  active: boolean;
  faulty: boolean;
  readOnly: boolean;
  sought: RegExp | null;
  acts: SheetActs;
}

/** A wording: typed where the line is active, shown with its placeholders set off elsewhere. */
export function WordingCell({ id, tag, name, text, active, faulty, readOnly, sought, acts }: WordingProps) {
  const column = `wording.${tag}`;
  const className = `script-cell wording${faulty ? ' faulty' : ''}`;
  if (active && !readOnly) {
    return (
      <textarea
        className={className}
        data-column={column}
        aria-label={name}
        dir={directionOf(tag)}
        lang={tag}
        rows={1}
        value={text}
        onFocus={() => {
          acts.enter(id);
        }}
        onChange={(event) => {
          const value = event.target.value.replace(/\n/g, ' ');
          acts.change(id, column, (part) => ({ ...part, wording: { ...part.wording, [tag]: value } }));
        }}
        onBlur={() => {
          acts.worded(id);
        }}
        onKeyDown={(event) => {
          acts.press(event, id, column);
        }}
      />
    );
  }
  return (
    // Becomes the field itself as soon as it is entered.
    // eslint-disable-next-line jsx-a11y/no-static-element-interactions
    <span
      className={className}
      data-column={column}
      dir={directionOf(tag)}
      lang={tag}
      // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
      tabIndex={0}
      onFocus={() => {
        acts.enter(id);
        if (!readOnly) acts.goTo(id, column);
      }}
      onKeyDown={(event) => {
        if (readOnly) acts.press(event, id, column);
      }}
    >
      {text.split(/(\{[^{}]*\})/).map((piece, i) =>
        piece.startsWith('{') ? (
          <b key={i} className="placeholder">
            <Marked text={piece} sought={sought} />
          </b>
        ) : (
          <Marked key={i} text={piece} sought={sought} />
        ),
      )}
    </span>
  );
}

/** A text with what is looked for marked in it. */
export function Marked({ text, sought }: { text: string; sought: RegExp | null }) {
  if (sought === null || text.search(sought) < 0) return text;
  const hits = text.match(sought) ?? [];
  return text.split(sought).flatMap((piece, i) =>
    i < hits.length
      ? [
          piece,
          <mark key={i} className="sought">
            {hits[i]}
          </mark>,
        ]
      : [piece],
  );
}
