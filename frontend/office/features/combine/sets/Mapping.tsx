// How a source goes under those before it: each of its variables, what it is called, and what its codes become.
import { AutoComplete, Button, Popover, Segmented } from 'antd';
import { useState } from 'react';
import { t } from '../../../texts/texts';
import type { Pairing, Source } from './recipe';

type Wish = 'said' | 'apart' | 'all';

interface Props {
  source: Source;
  pairings: Pairing[];
  /** What variables are called before. */
  known: string[];
  onChange: (source: Source) => void;
}

const BY: Record<string, string> = {
  identity: t('sets.byIdentity'),
  name: t('sets.byName'),
  label: t('sets.byLabel'),
  new: t('sets.byNothing'),
};

export function Mapping({ source, pairings, known, onChange }: Props) {
  const calledNow = (one: Pairing) => source.names[one.theirs] ?? one.theirs;
  const said = pairings.filter((one) => one.theirs !== calledNow(one) || source.codes[one.theirs] !== undefined);
  const apart = pairings.filter((one) => one.apart !== '' || one.by === 'new');
  const [wish, setWish] = useState<Wish>(said.length > 0 ? 'said' : 'all');
  const shown = wish === 'said' ? said : wish === 'apart' ? apart : pairings;
  const call = (one: Pairing, name: string) => {
    const rest = but(source.names, one.theirs);
    onChange({ ...source, names: name === one.theirs ? rest : { ...rest, [one.theirs]: name } });
  };
  return (
    <div className="set-mapping">
      <Segmented<Wish>
        size="small"
        value={wish}
        options={[
          { value: 'said', label: t('sets.mappedOtherwise', { count: said.length }) },
          { value: 'apart', label: t('sets.mappedApart', { count: apart.length }) },
          { value: 'all', label: t('sets.mappedAll', { count: pairings.length }) },
        ]}
        onChange={setWish}
      />
      {shown.length === 0 ? (
        <p className="muted small">{t('sets.mappedNone')}</p>
      ) : (
        <div className="scroll-x" role="region" aria-label={t('sets.goesUnder')} tabIndex={0}>
          <table className="plain">
            <thead>
              <tr>
                <th>{t('sets.here')}</th>
                <th>{t('sets.inSet')}</th>
                <th>{t('sets.foundBy')}</th>
                <th>{t('sets.codes')}</th>
              </tr>
            </thead>
            <tbody>
              {shown.map((one) => (
                <tr key={one.theirs}>
                  <td>
                    <code>{one.theirs}</code>
                    <div className="muted small clip">{one.label}</div>
                  </td>
                  <td>
                    <AutoComplete
                      size="small"
                      className="set-name"
                      aria-label={t('sets.calledInSet', { variable: one.theirs })}
                      value={calledNow(one)}
                      placeholder={t('sets.staysOut')}
                      options={known.map((name) => ({ value: name }))}
                      showSearch={{ filterOption: (typed, option) => option?.value.includes(typed) ?? false }}
                      onChange={(name: string) => {
                        call(one, name.trim());
                      }}
                    />
                  </td>
                  <td className="small">
                    {BY[one.by] ?? one.by}
                    {one.apart !== '' && <div className="doubt">{one.apart}</div>}
                  </td>
                  <td>
                    <Codes
                      one={one}
                      codes={source.codes[one.theirs] ?? {}}
                      onChange={(codes) => {
                        const rest = but(source.codes, one.theirs);
                        onChange({
                          ...source,
                          codes: Object.keys(codes).length === 0 ? rest : { ...rest, [one.theirs]: codes },
                        });
                      }}
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </div>
  );
}

const but = <Kept,>(all: Record<string, Kept>, name: string): Record<string, Kept> =>
  Object.fromEntries(Object.entries(all).filter(([key]) => key !== name));

/** Codes that become others, written one to a line: `1 = 2`. */
function Codes({
  one,
  codes,
  onChange,
}: {
  one: Pairing;
  codes: Record<string, string>;
  onChange: (codes: Record<string, string>) => void;
}) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const told = Object.entries(codes).map(([from, to]) => `${from} = ${to}`);
  const keep = () => {
    const pairs = text
      .split('\n')
      .map((line) => line.split('=').map((piece) => piece.trim()))
      .filter((pieces) => pieces.length === 2 && pieces.every((piece) => piece !== ''));
    onChange(Object.fromEntries(pairs.map(([from, to]) => [from ?? '', to ?? ''])));
    setOpen(false);
  };
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={(now) => {
        if (now) setText(told.join('\n'));
        setOpen(now);
      }}
      content={
        <div className="set-codes">
          <textarea
            rows={6}
            value={text}
            aria-label={t('sets.codesOf', { variable: one.theirs })}
            onChange={(event) => {
              setText(event.target.value);
            }}
          />
          <p className="muted small">{t('sets.codesHow')}</p>
          <Button type="primary" size="small" onClick={keep}>
            {t('sets.codesKeep')}
          </Button>
        </div>
      }
    >
      <button type="button" className="plain-link small">
        {told.length > 0 ? told.join(', ') : t('sets.codesSame')}
      </button>
    </Popover>
  );
}
