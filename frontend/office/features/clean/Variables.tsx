// Every variable of the data set: its shape, how many have an answer, whether anything stands out.
import { Input } from 'antd';
import { useEffect, useMemo, useState, type KeyboardEvent } from 'react';
import { t } from '../../texts/texts';
import type { Profile } from './plan';
import { Answered, Spark } from './Shape';

interface Props {
  profiles: Profile[];
  chosen: string;
  onChoose: (variable: string) => void;
}

export function Variables({ profiles, chosen, onChoose }: Props) {
  const [text, setText] = useState('');
  const [only, setOnly] = useState(false);
  const standing = profiles.filter((p) => p.findings.length > 0).length;
  useEffect(() => {
    document.getElementById(`variable-${chosen}`)?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  const found = useMemo(() => {
    const wanted = text.trim().toLowerCase();
    return profiles.filter(
      (p) =>
        (!only || p.findings.length > 0) &&
        (wanted === '' || p.variable.includes(wanted) || p.label.toLowerCase().includes(wanted)),
    );
  }, [profiles, text, only]);
  const go = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const at = found.findIndex((p) => p.variable === chosen);
    const next = found[Math.min(found.length - 1, Math.max(0, at + step))];
    if (next) {
      onChoose(next.variable);
    }
  };
  return (
    <section className="clean-variables" aria-label={t('clean.variables')}>
      <div className="pane-head">
        <h2>{t('clean.variables')}</h2>
        <button
          type="button"
          className={`plain-link small ${only ? 'on' : 'muted'}`}
          aria-pressed={only}
          onClick={() => {
            setOnly(!only);
          }}
        >
          {t('clean.variablesStanding', { count: profiles.length, standing })}
        </button>
      </div>
      <Input
        className="find-variable"
        allowClear
        size="small"
        placeholder={t('clean.findVariable')}
        aria-label={t('clean.findVariable')}
        value={text}
        onKeyDown={go}
        onChange={(event) => {
          setText(event.target.value);
        }}
      />
      <ul className="pane-body">
        {found.map((p) => (
          <li key={p.variable} id={`variable-${p.variable}`}>
            <button
              type="button"
              aria-current={p.variable === chosen}
              title={p.label}
              onKeyDown={go}
              onClick={() => {
                onChoose(p.variable);
              }}
            >
              <code>{p.variable}</code>
              <Spark bars={p.bars} />
              <Answered profile={p} />
              <b>{p.findings.length > 0 ? p.findings.length : ''}</b>
            </button>
          </li>
        ))}
        {found.length === 0 && <li className="muted nothing">{t('clean.noVariableLike')}</li>}
      </ul>
    </section>
  );
}
