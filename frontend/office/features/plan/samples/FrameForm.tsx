// Whom a sample could reach: units of the register, or the rows of a file.
import { Alert, Button, Input, Select, Upload } from 'antd';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import type { Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { sendLarge } from '../../../ui/sendLarge';
import { messageOf } from '../../../ui/states';
import { useStudy } from '../../../ui/study';
import { NarrowingSentence } from '../registers/NarrowingSentence';
import { EVERYTHING, useKinds } from '../registers/registers';
import type { Frame } from './samples';

interface Props {
  frame: Frame | null;
  onChange: (frame: Frame | null) => void;
}

/** `count` is how many are in the frame, once that is known; `ofRegister` leaves files out. */
type FormProps = Props & { count: number | undefined; ofRegister?: boolean };

const RULE_EXAMPLE = 'opened >= 2000 and condition is not broken';

export function FrameForm({ frame, count, onChange, ofRegister = false }: FormProps) {
  const study = useStudy();
  const kinds = useKinds(study.id);
  const units = frame?.units ?? null;
  const [rule, setRule] = useState(units?.rule ?? '');
  return (
    <div className="frame-form">
      <div className="row">
        <Select
          aria-label={t('samples.frame')}
          style={{ minWidth: 280 }}
          placeholder={t('samples.chooseFrame')}
          value={units !== null ? `kind ${String(units.kind)}` : frame?.table != null ? 'file' : undefined}
          options={[
            ...(kinds.data ?? [])
              .filter((kind) => kind.units > 0)
              .map((kind) => ({
                value: `kind ${String(kind.id)}`,
                label: `${kind.settings.glyph} ${t('samples.ofRegister', { kind: kind.title })}`,
              })),
            ...(frame?.table != null ? [{ value: 'file', label: frame.table.name }] : []),
          ]}
          onChange={(chosen) => {
            const kind = Number(chosen.replace('kind ', ''));
            setRule('');
            onChange({ table: null, units: { kind, narrowing: { ...EVERYTHING, kind }, rule: '' } });
          }}
        />
        {!ofRegister && <FrameFile frame={frame} onChange={onChange} />}
      </div>
      {units !== null && (
        <>
          <NarrowingSentence
            kinds={(kinds.data ?? []).filter((kind) => kind.id === units.kind)}
            narrowing={{ ...EVERYTHING, ...units.narrowing }}
            ofOneKind
            meant={count}
            chosen={null}
            below=""
            onChange={(narrowing) => {
              onChange({ table: null, units: { ...units, narrowing: { ...narrowing, kind: units.kind } } });
            }}
          />
          <Input
            className="mono"
            aria-label={t('samples.rule')}
            prefix={<span className="muted">{t('samples.rule')}</span>}
            placeholder={RULE_EXAMPLE}
            value={rule}
            onChange={(event) => {
              setRule(event.target.value);
            }}
            onBlur={() => {
              if (rule !== units.rule) onChange({ table: null, units: { ...units, rule } });
            }}
            onPressEnter={(event) => {
              event.currentTarget.blur();
            }}
          />
        </>
      )}
    </div>
  );
}

function FrameFile({ frame, onChange }: Props) {
  const study = useStudy();
  const [columns, setColumns] = useState<string[]>([]);
  const send = useMutation({
    mutationFn: async (file: File) => {
      const answer = await sendLarge<Schemas['ArrivingFrameOut']>({
        address: `/api/studies/${String(study.id)}/frame-files`,
        query: { called: file.name },
        file,
        isWhole: ({ file: whole }) => whole != null,
      });
      return answer.file ?? null;
    },
    onSuccess: (file) => {
      if (file === null) return;
      setColumns(file.columns);
      onChange({ units: null, table: { file: file.file, name: file.name, key: file.columns[0] ?? '' } });
    },
  });
  const table = frame?.table ?? null;
  return (
    <>
      <Upload
        accept=".csv,.xlsx"
        showUploadList={false}
        beforeUpload={(file) => {
          if (!send.isPending) send.mutate(file);
          return false;
        }}
      >
        <Button loading={send.isPending}>{t('samples.fromFile')}</Button>
      </Upload>
      {table !== null && columns.length > 0 && (
        <label className="row">
          {t('samples.keyColumn')}
          <Select
            value={table.key}
            style={{ minWidth: 140 }}
            options={columns.map((column) => ({ value: column, label: column }))}
            onChange={(key) => {
              onChange({ units: null, table: { ...table, key } });
            }}
          />
        </label>
      )}
      {send.error && <Alert type="error" showIcon title={messageOf(send.error)} />}
    </>
  );
}
