import { memo } from 'react';
import { languageName } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import { holdsParts, type Finding, type Part } from '../script/model';
import { rulesOf } from '../script/sentences';
import type { AtWork } from '../script/usePresence';
import { Marked, VariableCell, WordingCell } from './cells';
import { LINE, type SheetActs } from './useSheet';

interface Props {
  part: Part;
  number: number | null;
  glyph: string;
  answer: string;
  faults: Finding[];
  languages: string[];
  template: string;
  active: boolean;
  chosen: boolean;
  /** How many questions a folded line hides; null where it is not folded. */
  hides: number | null;
  readOnly: boolean;
  others: AtWork[];
  /** In which share of made-up interviews it is asked, negative where that is not known; null where it is not shown. */
  reach: number | null;
  /** What is looked for, to be marked. */
  sought: RegExp | null;
  acts: SheetActs;
}

/** One line of the sheet: number, kind, variable, wordings, answer, rules. */
export const Line = memo(function Line({
  part,
  number,
  glyph,
  answer,
  faults,
  languages,
  template,
  active,
  chosen,
  hides,
  readOnly,
  others,
  reach,
  sought,
  acts,
}: Props) {
  const { id } = part;
  const faulty = (field: string) => faults.some((f) => f.severity === 'error' && f.field === field);
  const errors = faults.filter((f) => f.severity === 'error').length;
  const rules = rulesOf(part);
  const shown =
    hides === null ? (part.kind === 'section' ? '' : answer) : t('questionnaire.questions', { count: hides });
  const tone = part.kind === 'section' ? ' section' : part.kind === 'roster' || part.kind === 'grid' ? ' roster' : '';
  const state = `${tone}${active ? ' active' : ''}${chosen ? ' chosen' : ''}${others.length > 0 ? ' visited' : ''}`;
  return (
    // Its cells take the keys; the line takes those that move and choose lines.
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions
    <div
      className={`script-row line${state}`}
      style={{ gridTemplateColumns: template }}
      role="listitem"
      tabIndex={-1}
      aria-level={part.level}
      aria-current={active}
      data-part={id}
      data-column={LINE}
      data-chosen={chosen}
      onKeyDown={(event) => {
        if (event.target === event.currentTarget) acts.press(event, id, LINE);
      }}
    >
      {/* A line is chosen by keys too: Escape, then Shift and arrows. */}
      {/* eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-static-element-interactions */}
      <span
        className="script-number"
        title={faults.map((f) => f.message).join('\n')}
        onMouseDown={(event) => {
          if (event.shiftKey) event.preventDefault();
        }}
        onClick={(event) => {
          acts.pick(event, id);
        }}
      >
        {Array.from({ length: part.level - 1 }, (_, i) => (
          <i key={i} style={{ insetInlineStart: 6 + 7 * i }} />
        ))}
        {holdsParts(part) && (
          <button
            type="button"
            className="script-fold"
            tabIndex={-1}
            aria-expanded={hides === null}
            aria-label={hides === null ? t('questionnaire.fold') : t('questionnaire.unfold')}
            onClick={(event) => {
              event.stopPropagation();
              acts.fold(id);
            }}
          >
            {hides === null ? '▾' : '▸'}
          </button>
        )}
        {errors > 0 ? <b className="fault-mark">!</b> : number}
      </span>
      <button
        type="button"
        className="script-kind"
        tabIndex={-1}
        title={part.kind}
        aria-label={t('questionnaire.kind2', { kind: part.kind })}
        disabled={readOnly}
        onClick={() => {
          acts.enter(id);
          acts.openAnswer(id, '');
        }}
      >
        {glyph}
      </button>
      <VariableCell part={part} faulty={faulty('variable')} readOnly={readOnly} sought={sought} acts={acts} />
      {languages.map((tag) => (
        <WordingCell
          key={tag}
          id={id}
          tag={tag}
          name={languageName(tag)}
          text={part.wording[tag] ?? ''}
          active={active && !chosen}
          faulty={faulty(`wording.${tag}`)}
          readOnly={readOnly}
          sought={sought}
          acts={acts}
        />
      ))}
      <button
        type="button"
        className={part.mask === '' ? 'script-cell script-answer clip' : 'script-cell script-answer clip mono'}
        data-column="answer"
        title={answer}
        aria-label={shown === '' ? t('questionnaire.answer') : undefined}
        onFocus={() => {
          acts.enter(id);
        }}
        onClick={() => {
          if (!readOnly) acts.openAnswer(id, '');
        }}
        onKeyDown={(event) => {
          acts.press(event, id, 'answer');
        }}
      >
        {shown}
      </button>
      <button
        type="button"
        className="script-cell script-rules"
        data-column="rules"
        aria-label={rules.length === 0 ? t('questionnaire.rules') : undefined}
        onFocus={() => {
          acts.enter(id);
        }}
        onClick={() => {
          if (!readOnly) acts.openRules(id);
        }}
        onKeyDown={(event) => {
          acts.press(event, id, 'rules');
        }}
      >
        {rules.map((rule) => (
          <span key={rule.place} className="script-rule" title={rule.text}>
            <span className={`rule-word ${rule.tone}`}>{rule.word}</span>{' '}
            <code className={faulty(rule.place) ? 'faulty' : ''}>
              <Marked text={rule.text} sought={sought} />
            </code>
          </span>
        ))}
      </button>
      {reach !== null && (
        <span className={reach === 0 ? 'script-reach doubt' : 'script-reach'}>
          {reach >= 0 && (
            <>
              {Math.round(100 * reach)} %
              <i style={{ width: `${String(100 * reach)}%` }} />
            </>
          )}
        </span>
      )}
      {others.length > 0 && (
        <span className="at-work" title={others.map(nameOf).join(', ')}>
          {others.map(nameOf).join(', ')}
        </span>
      )}
    </div>
  );
});

const nameOf = (other: AtWork): string => (other.same_person ? t('questionnaire.youElsewhere') : other.name);
