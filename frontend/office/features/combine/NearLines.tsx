// What is compared of rows whose keys do not agree, and which rows are looked at together.
import { Button, Checkbox, Select } from 'antd';
import type { Variable } from '../data';
import { variableChoices } from '../data';
import { t } from '../../texts/texts';
import { InWords } from './KeyLines';
import { HOW, type Join, type Near, type Outside } from './outside';
import { firstNear, howOf, usePossibleKeys } from './possibleKeys';

type Compared = Near['compare'][number];

interface Props {
  id: number;
  join: Join;
  variables: Variable[];
  table: Outside;
  learning: boolean;
  onLearn: () => void;
  onChange: (near: Near | null) => void;
}

export function NearLines({ id, join, variables, table, learning, onLearn, onChange }: Props) {
  const possible = usePossibleKeys(id, table, join.into);
  const near = join.near;
  if (near === null) {
    return (
      <div className="join-lines">
        <button
          type="button"
          className="plain-link"
          onClick={() => {
            onChange(firstNear(join, possible.data ?? [], variables));
          }}
        >
          {t('combine.addNear')}
        </button>
      </div>
    );
  }
  // What was learnt is about these comparisons, and goes with them.
  const put = (compare: Compared[], blocks = near.blocks) => {
    const names = compare.map((one) => one.ours);
    onChange({
      ...near,
      compare,
      blocks: blocks.map((block) => block.filter((name) => names.includes(name))).filter((block) => block.length > 0),
      learnt: null,
    });
  };
  const complete = near.compare.every((one) => one.ours !== '' && one.theirs !== '') && near.blocks.length > 0;
  return (
    <div className="join-lines">
      <h3>{t('combine.elseLikeness')}</h3>
      {near.compare.map((one, at) => {
        const change = (changed: Partial<Compared>) => {
          put(near.compare.map((old, place) => (place === at ? { ...old, ...changed } : old)));
        };
        const isBlock = near.blocks.some((block) => block.length === 1 && block[0] === one.ours);
        return (
          <div className="join-line" key={at}>
            <Select
              showSearch={{ optionFilterProp: 'label' }}
              aria-label={t('combine.variableInterview')}
              placeholder={t('common.whichVariable')}
              value={one.ours === '' ? null : one.ours}
              options={variableChoices(variables)}
              onChange={(ours: string) => {
                const measure = variables.find((v) => v.variable === ours)?.measure ?? '';
                change({ ours, how: howOf(measure), words: measure === 'code' ? 'en' : '' });
              }}
            />
            <InWords
              variable={variables.find((v) => v.variable === one.ours)}
              words={one.words}
              onChange={(words) => {
                change({ words });
              }}
            />
            <span>{t('combine.near')}</span>
            <Select
              showSearch
              aria-label={t('combine.columnTable')}
              placeholder={t('combine.columnTable')}
              value={one.theirs === '' ? null : one.theirs}
              options={table.columns.map((c) => ({ value: c.name, label: c.name }))}
              onChange={(theirs: string) => {
                change({ theirs });
              }}
            />
            <div className="row">
              <Select
                className="grow"
                aria-label={t('combine.compareHow')}
                value={one.how}
                options={Object.entries(HOW).map(([value, label]) => ({ value, label }))}
                onChange={(how: Compared['how']) => {
                  change({ how });
                }}
              />
              <Checkbox
                disabled={one.ours === ''}
                checked={isBlock}
                onChange={() => {
                  put(
                    near.compare,
                    isBlock ? near.blocks.filter((block) => block[0] !== one.ours) : [...near.blocks, [one.ours]],
                  );
                }}
              >
                {t('combine.block')}
              </Checkbox>
            </div>
            <Button
              type="text"
              aria-label={t('combine.removeLine')}
              onClick={() => {
                const left = near.compare.filter((_, place) => place !== at);
                if (left.length === 0) onChange(null);
                else put(left);
              }}
            >
              ×
            </Button>
          </div>
        );
      })}
      <div className="row">
        <button
          type="button"
          className="plain-link"
          onClick={() => {
            put([...near.compare, { ours: '', theirs: '', how: 'text', words: '' }]);
          }}
        >
          {t('combine.addComparison')}
        </button>
        <span className="muted small">{t('combine.blockMeans')}</span>
        <span className="grow" />
        <Checkbox
          checked={near.once}
          onChange={(event) => {
            onChange({ ...near, once: event.target.checked });
          }}
        >
          {t('combine.once')}
        </Checkbox>
        <Button disabled={!complete} loading={learning} onClick={onLearn}>
          {near.learnt === null ? t('combine.learn') : t('combine.learnAgain')}
        </Button>
      </div>
      <p className={near.learnt === null ? 'doubt small' : 'muted small'}>
        {near.learnt === null
          ? complete
            ? t('combine.learnFirst')
            : t('combine.blockFirst')
          : t('combine.learntFrom', { count: near.learnt.pairs })}
      </p>
    </div>
  );
}
