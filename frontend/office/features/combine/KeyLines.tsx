// The keys of a join: which variable is which column, and what is not told apart in them.
import { Button, Select } from 'antd';
import type { Variable } from '../data';
import { variableChoices } from '../data';
import { t } from '../../texts/texts';
import { ALIKE, type Join, type KeyPair, type Outside } from './outside';
import { usePossibleKeys } from './possibleKeys';

interface Props {
  id: number;
  join: Join;
  variables: Variable[];
  table: Outside;
  onChange: (keys: KeyPair[]) => void;
}

/** What is known of a row besides its answers, and can be a key. */
export function knownOf(into: string): { value: string; label: string }[] {
  const interview = { value: 'interview.key', label: t('combine.interviewNumber') };
  return into === 'interviews'
    ? [interview]
    : [{ value: `${into}.row`, label: t('combine.rowOf', { into }) }, interview];
}

export function KeyLines({ id, join, variables, table, onChange }: Props) {
  const put = (at: number, pair: Partial<KeyPair>) => {
    onChange(join.keys.map((one, place) => (place === at ? { ...one, ...pair } : one)));
  };
  return (
    <div className="join-lines">
      <h3>{t('combine.sameKey')}</h3>
      {join.keys.map((pair, at) => (
        <div className="join-line" key={at}>
          <Select
            showSearch={{ optionFilterProp: 'label' }}
            aria-label={t('combine.variableInterview')}
            placeholder={t('common.whichVariable')}
            value={pair.ours === '' ? null : pair.ours}
            options={[...knownOf(join.into), ...variableChoices(variables)]}
            onChange={(ours: string) => {
              put(at, { ours, words: '' });
            }}
          />
          <InWords
            variable={variables.find((v) => v.variable === pair.ours)}
            words={pair.words}
            onChange={(words) => {
              put(at, { words });
            }}
          />
          <span>{t('combine.is')}</span>
          <Select
            showSearch
            aria-label={t('combine.columnTable')}
            placeholder={t('combine.columnTable')}
            value={pair.theirs === '' ? null : pair.theirs}
            options={table.columns.map((c) => ({ value: c.name, label: c.name }))}
            onChange={(theirs: string) => {
              put(at, { theirs });
            }}
          />
          <Select
            mode="multiple"
            aria-label={t('combine.notToldApart')}
            placeholder={t('combine.exactly')}
            value={pair.alike}
            maxTagCount="responsive"
            options={Object.entries(ALIKE).map(([value, label]) => ({ value, label }))}
            onChange={(alike: KeyPair['alike']) => {
              put(at, { alike });
            }}
          />
          <Button
            type="text"
            aria-label={t('combine.removeLine')}
            onClick={() => {
              onChange(join.keys.filter((_, place) => place !== at));
            }}
          >
            ×
          </Button>
        </div>
      ))}
      {join.keys.every((pair) => pair.ours === '' && pair.theirs === '') && (
        <PossibleKeys
          id={id}
          table={table}
          into={join.into}
          onTake={(pair) => {
            onChange([pair]);
          }}
        />
      )}
      <button
        type="button"
        className="plain-link"
        onClick={() => {
          onChange([...join.keys, { ours: '', theirs: '', alike: ['case'], words: '' }]);
        }}
      >
        {join.keys.length === 0 ? t('combine.addKey') : t('combine.addAnotherKey')}
      </button>
    </div>
  );
}

interface PossibleProps {
  id: number;
  table: Outside;
  into: string;
  onTake: (pair: KeyPair) => void;
}

/** Columns whose cells meet the values of a variable: one of them may be the key. */
function PossibleKeys({ id, table, into, onTake }: PossibleProps) {
  const possible = usePossibleKeys(id, table, into);
  if (!possible.data?.length) return null;
  return (
    <div className="possible-keys">
      <p className="small muted">{t('combine.possibleKeys')}</p>
      <ul>
        {possible.data.map(({ pair, matched, rows }) => (
          <li key={`${pair.ours} ${pair.theirs}`}>
            <button
              type="button"
              className="plain-link"
              onClick={() => {
                onTake(pair);
              }}
            >
              {t(pair.words === '' ? 'combine.isColumn' : 'combine.isColumnByLabel', {
                ours: pair.ours,
                theirs: pair.theirs,
              })}
            </button>{' '}
            <span className="small muted">{t('combine.possibleMatches', { count: rows, matched })}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** Whether a code is compared as it is, or by its label. */
export function InWords({
  variable,
  words,
  onChange,
}: {
  variable: Variable | undefined;
  words: string;
  onChange: (words: string) => void;
}) {
  if (variable === undefined || Object.keys(variable.codes).length === 0) return <span />;
  return (
    <Select
      aria-label={t('combine.comparedAs')}
      value={words}
      options={[
        { value: '', label: t('combine.byCode') },
        { value: 'en', label: t('combine.byLabel') },
      ]}
      onChange={onChange}
    />
  );
}
