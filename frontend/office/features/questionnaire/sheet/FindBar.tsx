import { Button, Checkbox, Input } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { t } from '../../../texts/texts';
import type { Script } from '../script/model';
import { WHERE, findIn, type Found, type Wanted, type Where } from './find';

interface Props {
  script: Script;
  wanted: Wanted;
  replacing: boolean;
  readOnly: boolean;
  onWant: (wanted: Wanted) => void;
  onGo: (found: Found) => void;
  onReplace: (found: Found[], by: string) => void;
  onClose: () => void;
}

const WORDS: Record<Where, string> = {
  wording: t('questionnaire.findWordings'),
  variable: t('questionnaire.findVariables'),
  rule: t('questionnaire.findRules'),
  text: t('questionnaire.findTexts'),
};

/** Finding and replacing over the whole script; Enter goes on to the next place. */
export function FindBar({ script, wanted, replacing, readOnly, onWant, onGo, onReplace, onClose }: Props) {
  const [at, setAt] = useState(-1);
  const [by, setBy] = useState('');
  const field = useRef<HTMLElement | null>(null);
  useEffect(() => {
    field.current?.querySelector('input')?.select();
  }, []);
  const found = findIn(script, wanted);
  const total = found.reduce((sum, place) => sum + place.count, 0);
  const here = found[at];
  const go = (step: 1 | -1) => {
    if (found.length === 0) return;
    const next = (at + step + found.length) % found.length;
    setAt(next);
    const place = found[next];
    if (place) onGo(place);
  };
  // What was found is gone, and with it what the caret stood on.
  const replace = (places: Found[]) => {
    onReplace(places, by);
    field.current?.querySelector('input')?.focus();
  };
  const toggle = (where: Where) => {
    const next = new Set(wanted.where);
    if (!next.delete(where)) next.add(where);
    onWant({ ...wanted, where: next });
    setAt(-1);
  };
  return (
    <search
      className="find-bar"
      ref={field}
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose();
        else if (event.key === 'Enter' && event.target instanceof HTMLInputElement && event.target.type !== 'checkbox')
          go(event.shiftKey ? -1 : 1);
        else return;
        event.preventDefault();
      }}
    >
      <div className="row">
        <Input
          className="grow"
          aria-label={t('questionnaire.find')}
          placeholder={t('questionnaire.findPlaceholder')}
          value={wanted.text}
          onChange={(event) => {
            onWant({ ...wanted, text: event.target.value });
            setAt(-1);
          }}
        />
        <span className="muted nowrap" role="status">
          {wanted.text === ''
            ? ''
            : here
              ? t('questionnaire.foundAt', { at: at + 1, of: found.length })
              : t('questionnaire.foundTimes', { count: total })}
        </span>
        <Button
          size="small"
          aria-label={t('questionnaire.findBefore')}
          disabled={found.length === 0}
          onClick={() => {
            go(-1);
          }}
        >
          ↑
        </Button>
        <Button
          size="small"
          aria-label={t('questionnaire.findNext')}
          disabled={found.length === 0}
          onClick={() => {
            go(1);
          }}
        >
          ↓
        </Button>
        <Button size="small" type="text" aria-label={t('questionnaire.closeFind')} onClick={onClose}>
          ×
        </Button>
      </div>
      {replacing && !readOnly && (
        <div className="row">
          <Input
            className="grow"
            aria-label={t('questionnaire.replaceBy')}
            placeholder={t('questionnaire.replaceBy')}
            value={by}
            onChange={(event) => {
              setBy(event.target.value);
            }}
          />
          <Button
            size="small"
            disabled={!here}
            onClick={() => {
              if (here) replace([here]);
            }}
          >
            {t('questionnaire.replace')}
          </Button>
          <Button
            size="small"
            disabled={found.length === 0}
            onClick={() => {
              replace(found);
            }}
          >
            {t('questionnaire.replaceAll', { count: total })}
          </Button>
        </div>
      )}
      <div className="row small">
        {WHERE.map((where) => (
          <Checkbox
            key={where}
            checked={wanted.where.has(where)}
            onChange={() => {
              toggle(where);
            }}
          >
            {WORDS[where]}
          </Checkbox>
        ))}
        <Checkbox
          checked={wanted.exact}
          onChange={(event) => {
            onWant({ ...wanted, exact: event.target.checked });
          }}
        >
          {t('questionnaire.findExact')}
        </Checkbox>
      </div>
    </search>
  );
}
