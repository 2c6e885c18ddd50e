// The codes of a list in rows, however many: only those in view are in the page.
import { useVirtualizer } from '@tanstack/react-virtual';
import { Button, Popover } from 'antd';
import { useEffect, useMemo, useRef, useState } from 'react';
import { directionOf, languageName } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import { emptyCode, type Code, type CodeList, type Script } from '../script/model';
import { MediaField } from '../media/MediaField';
import { codeNamed } from '../sheet/answers';
import { rowsOfCells } from './cells';
import { holds } from './tree';
import type { Lists } from './useLists';

interface Props {
  studyId: number;
  list: CodeList;
  script: Script;
  wanted: string;
  readOnly: boolean;
  lists: Lists;
  onChange: (changed: Partial<CodeList>, what: string) => void;
}

const ROW_PX = 30;

export function CodeTable({ studyId, list, script, wanted, readOnly, lists, onChange }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const { codes } = list;
  const { languages } = script;
  const first = languages[0] ?? 'en';
  const attributes = useMemo(() => [...new Set(codes.flatMap((c) => Object.keys(c.attributes)))], [codes]);
  const shown = useMemo(
    () => codes.flatMap((code, i) => (wanted.trim() === '' || holds(code, wanted, first) ? [i] : [])),
    [codes, wanted, first],
  );
  const [focus, setFocus] = useState<{ row: number; column: string } | null>(null);
  const columns = ['code', ...languages, ...attributes.map((a) => `.${a}`)];
  const template = `34px minmax(90px, 1fr) ${languages.map(() => 'minmax(120px, 2fr)').join(' ')} ${attributes
    .map(() => 'minmax(80px, 1fr)')
    .join(' ')} 92px 64px 72px 28px`;
  const rows = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
  });
  useEffect(() => {
    if (!focus) return;
    const at = shown.indexOf(focus.row);
    if (at < 0) return;
    rows.scrollToIndex(at, { align: 'auto' });
    const frame = requestAnimationFrame(() => {
      const field = scroller.current?.querySelector<HTMLElement>(
        `[data-row="${String(focus.row)}"] [data-column="${focus.column}"]`,
      );
      if (!field) return;
      field.focus();
      setFocus(null);
    });
    return () => {
      cancelAnimationFrame(frame);
    };
  });

  const put = (changed: Code[], what: string) => {
    onChange({ codes: changed }, what);
  };
  const set = (i: number, what: string, changed: Partial<Code>) => {
    put(
      codes.map((code, j) => (j === i ? { ...code, ...changed } : code)),
      `${String(i)}.${what}`,
    );
  };
  const insert = (at: number) => {
    put([...codes.slice(0, at), emptyCode(), ...codes.slice(at)], 'add');
    setFocus({ row: at, column: first });
  };
  const shift = (i: number, by: 1 | -1, column: string) => {
    const [one, other] = [codes[i], codes[i + by]];
    if (!one || !other) return;
    put(
      codes.map((code, j) => (j === i ? other : j === i + by ? one : code)),
      'move',
    );
    setFocus({ row: i + by, column });
  };
  const remove = (i: number) => {
    put(
      codes.filter((_, j) => j !== i),
      'remove',
    );
    if (codes.length > 1) setFocus({ row: Math.max(0, i - 1), column: first });
  };
  /** A code that was left empty is made of its label, when that is left. */
  const complete = (i: number) => {
    const code = codes[i];
    const label = code?.label[first] ?? '';
    if (!code || code.code !== '' || label.trim() === '') return;
    set(i, 'code', { code: codeNamed(label, new Set(codes.map((c) => c.code)), String(i + 1)) });
  };
  const paste = (i: number, text: string): boolean => {
    const added = rowsOfCells(text, columns, codes, languages);
    if (added === null) return false;
    const kept = codes.filter((c, j) => j !== i || c.code !== '' || Object.values(c.label).some((l) => l !== ''));
    put([...kept.slice(0, i + 1), ...added, ...kept.slice(i + 1)], 'paste');
    return true;
  };
  const keys = (i: number, column: string) => (event: React.KeyboardEvent) => {
    const at = shown.indexOf(i);
    const alt = event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown');
    if (alt) shift(i, event.key === 'ArrowUp' ? -1 : 1, column);
    else if (event.key === 'Enter') {
      insert(i + 1);
    } else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      const next = shown[at + (event.key === 'ArrowDown' ? 1 : -1)];
      if (next === undefined) return;
      setFocus({ row: next, column });
    } else if (event.key === 'Backspace' && event.currentTarget instanceof HTMLInputElement) {
      const code = codes[i];
      const empty = code?.code === '' && Object.values(code.label).every((l) => l === '');
      if (event.currentTarget.value !== '' || !empty) return;
      remove(i);
    } else return;
    event.preventDefault();
  };

  return (
    <div className="code-table">
      <div className="code-row code-head" style={{ gridTemplateColumns: template }}>
        <span />
        <span>{t('questionnaire.code')}</span>
        {languages.map((tag) => (
          <span key={tag} dir={directionOf(tag)}>
            {languageName(tag)}
          </span>
        ))}
        {attributes.map((a) => (
          <span key={a} className="mono">
            {a}
          </span>
        ))}
        <span>{t('media.ofCode')}</span>
        <span title={t('questionnaire.questionWhichOtherFollows')}>{t('questionnaire.specify')}</span>
        <span title={t('questionnaire.goesNoOtherCode')}>{t('questionnaire.exclusive')}</span>
        <span />
      </div>
      <div ref={scroller} className="code-scroll">
        <div style={{ height: rows.getTotalSize(), position: 'relative' }}>
          {rows.getVirtualItems().map((item) => {
            const i = shown[item.index] ?? -1;
            const code = codes[i];
            if (!code) return null;
            return (
              <div
                key={item.key}
                data-row={i}
                className="code-row"
                style={{ gridTemplateColumns: template, transform: `translateY(${String(item.start)}px)` }}
              >
                <span className="faint small number">{i + 1}</span>
                <CodeField
                  code={code.code}
                  label={t('questionnaire.code2', { i: i + 1 })}
                  readOnly={readOnly}
                  onKeyDown={keys(i, 'code')}
                  onPaste={(text) => paste(i, text)}
                  onNamed={(to) => {
                    if (code.code === '') set(i, 'code', { code: to });
                    else void lists.recode(list.name, code.code, to);
                  }}
                />
                {languages.map((tag) => (
                  <input
                    key={tag}
                    data-column={tag}
                    aria-label={`${languageName(tag)} ${String(i + 1)}`}
                    readOnly={readOnly}
                    dir={directionOf(tag)}
                    value={code.label[tag] ?? ''}
                    onKeyDown={keys(i, tag)}
                    onBlur={() => {
                      if (tag === first) complete(i);
                    }}
                    onPaste={(event) => {
                      if (tag === first && paste(i, event.clipboardData.getData('text'))) event.preventDefault();
                    }}
                    onChange={(event) => {
                      set(i, tag, { label: { ...code.label, [tag]: event.target.value } });
                    }}
                  />
                ))}
                {attributes.map((a) => (
                  <input
                    key={a}
                    className="mono"
                    data-column={`.${a}`}
                    aria-label={`${a} ${String(i + 1)}`}
                    readOnly={readOnly}
                    value={code.attributes[a] ?? ''}
                    onKeyDown={keys(i, `.${a}`)}
                    onChange={(event) => {
                      set(i, a, { attributes: { ...code.attributes, [a]: event.target.value } });
                    }}
                  />
                ))}
                <CodeMedia
                  studyId={studyId}
                  code={code.code}
                  names={code.media}
                  readOnly={readOnly}
                  onChange={(media) => {
                    set(i, 'media', { media });
                  }}
                />
                <input
                  type="checkbox"
                  aria-label={`${t('questionnaire.specify')} ${code.code}`}
                  disabled={readOnly}
                  checked={code.specify}
                  onChange={(event) => {
                    set(i, 'specify', { specify: event.target.checked });
                  }}
                />
                <input
                  type="checkbox"
                  aria-label={`${t('questionnaire.exclusive')} ${code.code}`}
                  disabled={readOnly}
                  checked={code.exclusive}
                  onChange={(event) => {
                    set(i, 'exclusive', { exclusive: event.target.checked });
                  }}
                />
                {readOnly ? (
                  <span />
                ) : (
                  <button
                    type="button"
                    className="plain-link"
                    aria-label={t('questionnaire.remove', { code: code.code })}
                    onClick={() => {
                      remove(i);
                    }}
                  >
                    ×
                  </button>
                )}
              </div>
            );
          })}
        </div>
        {codes.length === 0 && <p className="muted">{t('questionnaire.noCodesYetAdd')}</p>}
        {codes.length > 0 && shown.length === 0 && <p className="muted">{t('lists.nothingFound', { wanted })}</p>}
      </div>
      {!readOnly && (
        <Button
          size="small"
          onClick={() => {
            insert(codes.length);
          }}
        >
          {t('questionnaire.addCode')}
        </Button>
      )}
    </div>
  );
}

/** What a code shows; chosen in a small window, so that the row stays one line. */
function CodeMedia({
  studyId,
  code,
  names,
  readOnly,
  onChange,
}: {
  studyId: number;
  code: string;
  names: string[];
  readOnly: boolean;
  onChange: (names: string[]) => void;
}) {
  return (
    <Popover
      trigger="click"
      destroyOnHidden
      content={
        <div style={{ width: 340 }}>
          <MediaField studyId={studyId} label={t('media.ofCode')} {...{ names, readOnly, onChange }} />
        </div>
      }
    >
      <button type="button" className="plain-link small clip" aria-label={`${t('media.ofCode')} ${code}`}>
        {names.length === 0 ? '+' : names.join(', ')}
      </button>
    </Popover>
  );
}

/** A code is called otherwise once its field is left: rules follow then, and not at every letter. */
export function CodeField({
  code,
  label,
  readOnly,
  onKeyDown,
  onPaste,
  onNamed,
}: {
  code: string;
  label: string;
  readOnly: boolean;
  onKeyDown?: (event: React.KeyboardEvent) => void;
  onPaste?: (text: string) => boolean;
  onNamed: (to: string) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <input
      className="mono"
      data-column="code"
      aria-label={label}
      readOnly={readOnly}
      value={typed ?? code}
      onKeyDown={(event) => {
        if (event.key === 'Escape') setTyped(null);
        onKeyDown?.(event);
      }}
      onPaste={(event) => {
        if (onPaste?.(event.clipboardData.getData('text')) === true) event.preventDefault();
      }}
      onChange={(event) => {
        setTyped(event.target.value.trim());
      }}
      onBlur={() => {
        if (typed !== null && typed !== '' && typed !== code) onNamed(typed);
        setTyped(null);
      }}
    />
  );
}
