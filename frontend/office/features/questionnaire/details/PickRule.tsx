import { Button, Input, Modal, Segmented, Select } from 'antd';
import { useState } from 'react';
import { t } from '../../../texts/texts';
import { holdsParts, type Part, type Script } from '../script/model';
import { asWritten, codesOf, pick, takesOf, verbsFor, write, type Picked, type Row } from './picking';

interface Props {
  label: string;
  text: string;
  script: Script;
  onTake: (text: string) => void;
  onClose: () => void;
}

/** A rule picked instead of typed: it reads and writes the same sentences, and keeps those it has no rows for. */
export function PickRule({ label, text, script, onTake, onClose }: Props) {
  const [picked, setPicked] = useState<Picked>(() => {
    const found = pick(text, script);
    return found.pieces.length > 0 ? found : { ...found, pieces: [EMPTY] };
  });
  const asked = script.parts.filter((p) => p.variable !== '' && !holdsParts(p) && p.kind !== 'statement');
  const first = script.languages[0] ?? 'en';
  const put = (i: number, row: Row) => {
    setPicked({ ...picked, pieces: picked.pieces.map((piece, j) => (j === i ? row : piece)) });
  };
  return (
    <Modal
      open
      width={760}
      title={label}
      okText={t('questionnaire.setHere')}
      onCancel={onClose}
      onOk={() => {
        onTake(write(picked));
      }}
    >
      {picked.pieces.length > 1 && (
        <Segmented<Picked['join']>
          options={[
            { value: 'and', label: t('questionnaire.pickAll') },
            { value: 'or', label: t('questionnaire.pickAny') },
          ]}
          value={picked.join}
          onChange={(join) => {
            setPicked({ ...picked, join });
          }}
        />
      )}
      {picked.pieces.map((piece, i) => (
        <div key={i} className="pick-row">
          {piece.kind === 'written' ? (
            <code className="pick-written" title={t('questionnaire.pickWritten')}>
              {piece.text}
            </code>
          ) : (
            <PickRow
              row={piece}
              part={asked.find((p) => p.variable === piece.variable)}
              script={script}
              options={asked.map((p) => ({ value: p.variable, label: `${p.variable} · ${p.wording[first] ?? ''}` }))}
              onChange={(row) => {
                put(i, row);
              }}
            />
          )}
          <Button
            size="small"
            type="text"
            aria-label={t('questionnaire.pickRemove', { number: i + 1 })}
            onClick={() => {
              setPicked({ ...picked, pieces: picked.pieces.filter((_, j) => j !== i) });
            }}
          >
            ×
          </Button>
        </div>
      ))}
      <Button
        size="small"
        onClick={() => {
          setPicked({ ...picked, pieces: [...picked.pieces, EMPTY] });
        }}
      >
        {t('questionnaire.pickMore')}
      </Button>
      <p className="pick-says">
        <code>{write(picked) || t('questionnaire.always')}</code>
      </p>
    </Modal>
  );
}

const EMPTY: Row = { kind: 'row', variable: '', verb: 'is', value: '' };

interface RowProps {
  row: Row;
  part: Part | undefined;
  script: Script;
  options: { value: string; label: string }[];
  onChange: (row: Row) => void;
}

/** One sentence: which answer, what is said of it, a value that fits its kind. */
function PickRow({ row, part, script, options, onChange }: RowProps) {
  const verbs = verbsFor(part?.kind ?? '');
  const takes = takesOf(row.verb);
  const [low = '', high = ''] = takes === 'two' ? row.value.split(' and ') : [row.value];
  return (
    <>
      <Select
        showSearch={{ optionFilterProp: 'label' }}
        aria-label={t('common.variable')}
        placeholder={t('questionnaire.pickVariable')}
        value={row.variable === '' ? null : row.variable}
        options={options}
        onChange={(variable: string) => {
          const kind = script.parts.find((p) => p.variable === variable)?.kind ?? '';
          onChange({ kind: 'row', variable, verb: verbsFor(kind)[0]?.word ?? 'is', value: '' });
        }}
      />
      <Select
        aria-label={t('questionnaire.pickVerb')}
        disabled={part === undefined}
        value={row.verb}
        options={verbs.map(({ word }) => ({ value: word, label: word }))}
        onChange={(verb: string) => {
          onChange({ ...row, verb, value: takesOf(verb) === takes ? row.value : '' });
        }}
      />
      {takes === 'two' ? (
        <span className="row">
          {[low, high].map((value, i) => (
            <Input
              key={i}
              className="mono"
              aria-label={t(i === 0 ? 'questionnaire.pickLow' : 'questionnaire.pickHigh')}
              value={value}
              onChange={(event) => {
                const typed = event.target.value.trim();
                onChange({ ...row, value: i === 0 ? `${typed} and ${high}` : `${low} and ${typed}` });
              }}
            />
          ))}
        </span>
      ) : takes === 'none' ? (
        <span />
      ) : (
        <ValueOf row={row} part={part} script={script} several={takes === 'list'} onChange={onChange} />
      )}
    </>
  );
}

const commaList = (text: string): string[] =>
  text
    .split(',')
    .map((value) => value.trim())
    .filter(Boolean);

function ValueOf({
  row,
  part,
  script,
  several,
  onChange,
}: Pick<RowProps, 'row' | 'part' | 'script' | 'onChange'> & { several: boolean }) {
  const first = script.languages[0] ?? 'en';
  const yesNo = part?.kind === 'yes/no' || part?.kind === 'read-back';
  const codes = yesNo
    ? ['yes', 'no'].map((word) => ({ value: word, label: word }))
    : codesOf(part, script).map((code) => ({
        value: asWritten(code.code),
        label: `${code.label[first] ?? ''} · ${code.code}`,
      }));
  const label = t('questionnaire.pickValue');
  if (codes.length === 0)
    return (
      <Input
        className="mono"
        aria-label={label}
        value={row.value}
        onChange={(event) => {
          onChange({ ...row, value: event.target.value });
        }}
      />
    );
  return several ? (
    <Select
      mode="multiple"
      aria-label={label}
      value={commaList(row.value)}
      options={codes}
      onChange={(values: string[]) => {
        onChange({ ...row, value: values.join(', ') });
      }}
    />
  ) : (
    <Select
      showSearch={{ optionFilterProp: 'label' }}
      aria-label={label}
      value={row.value === '' ? null : row.value}
      options={codes}
      onChange={(value: string) => {
        onChange({ ...row, value });
      }}
    />
  );
}
