// The texts of a questionnaire in rows, a column for each language: only those in view are in the page.
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { directionOf, languageName } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import type { Script } from '../script/model';
import type { ScriptEditor } from '../script/useScript';
import { sourceOf, type ScriptText, type State } from './texts';

interface TableProps {
  script: Script;
  texts: ScriptText[];
  shown: number[];
  tags: string[];
  states: Map<string, State[]>;
  outdated: ScriptEditor['outdated'];
  readOnly: boolean;
  onText: (key: string, tag: string, said: string) => void;
  onConfirm: (key: string, tag: string) => void;
  onGo: (partId: string) => void;
}

export function TextsTable({
  script,
  texts,
  shown,
  tags,
  states,
  outdated,
  readOnly,
  onText,
  onConfirm,
  onGo,
}: TableProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const first = script.languages[0] ?? 'en';
  const template = `150px minmax(200px, 1fr) ${tags.map(() => 'minmax(200px, 1fr)').join(' ')}`;
  const rows = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 44,
    overscan: 10,
    getItemKey: (i) => texts[shown[i] ?? -1]?.key ?? i,
  });
  return (
    <div className="translation-table">
      <div className="translation-row translation-head" style={{ gridTemplateColumns: template }}>
        <span>{t('languages.where')}</span>
        <span dir={directionOf(first)}>{languageName(first)}</span>
        {tags.map((tag) => (
          <span key={tag} dir={directionOf(tag)}>
            {languageName(tag)}
          </span>
        ))}
      </div>
      <div ref={scroller} className="code-scroll">
        <div style={{ height: rows.getTotalSize(), position: 'relative' }}>
          {rows.getVirtualItems().map((item) => {
            const i = shown[item.index] ?? -1;
            const text = texts[i];
            if (!text) return null;
            const source = sourceOf(script, text.key);
            return (
              <div
                key={item.key}
                data-index={item.index}
                data-key={text.key}
                ref={rows.measureElement}
                className="translation-row"
                style={{ gridTemplateColumns: template, transform: `translateY(${String(item.start)}px)` }}
              >
                <span className="small">
                  {text.partId === '' ? (
                    <span className="mono">{text.place}</span>
                  ) : (
                    <button
                      type="button"
                      className="plain-link mono"
                      onClick={() => {
                        onGo(text.partId);
                      }}
                    >
                      {text.place}
                    </button>
                  )}
                  <br />
                  <span className="muted">{text.field}</span>
                </span>
                <span className="translation-source" dir={directionOf(source)}>
                  {text.texts[source]}
                </span>
                {tags.map((tag) => (
                  <Translation
                    key={tag}
                    tag={tag}
                    label={`${languageName(tag)} · ${text.place} · ${text.field}`}
                    said={text.texts[tag] ?? ''}
                    state={states.get(tag)?.[i] ?? 'done'}
                    was={outdated[text.key]?.[tag]}
                    readOnly={readOnly}
                    onText={(said) => {
                      onText(text.key, tag, said);
                    }}
                    onConfirm={() => {
                      onConfirm(text.key, tag);
                    }}
                  />
                ))}
              </div>
            );
          })}
        </div>
        {shown.length === 0 && <p className="muted">{t('languages.nothing')}</p>}
      </div>
    </div>
  );
}

function Translation({
  tag,
  label,
  said,
  state,
  was,
  readOnly,
  onText,
  onConfirm,
}: {
  tag: string;
  label: string;
  said: string;
  state: State;
  was: string | undefined;
  readOnly: boolean;
  onText: (said: string) => void;
  onConfirm: () => void;
}) {
  return (
    <span className={`translation ${state}`}>
      <textarea
        rows={1}
        aria-label={label}
        readOnly={readOnly}
        dir={directionOf(tag)}
        lang={tag}
        value={said}
        placeholder={state === 'missing' ? t('languages.missing') : ''}
        onChange={(event) => {
          onText(event.target.value);
        }}
      />
      {state === 'values' && <span className="small bad">{t('languages.valuesDiffer')}</span>}
      {state === 'outdated' && (
        <span className="small doubt">
          {t('languages.was')} <s>{was}</s>{' '}
          {!readOnly && (
            <button type="button" className="plain-link" onClick={onConfirm}>
              {t('languages.stillRight')}
            </button>
          )}
        </span>
      )}
    </span>
  );
}
