// Bringing a table in: the file is sent, looked at as it is read, read otherwise where that is wrong, and kept only then.
import { useQuery } from '@tanstack/react-query';
import { Alert, Button, Input, InputNumber, Modal, Progress, Select, Spin, Upload } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { HowFar, againWhilePrepared, isBeingPrepared, messageOf } from '../../ui/states';
import { sendLarge } from '../../ui/sendLarge';
import { t } from '../../texts/texts';
import { ColumnTable } from './Columns';
import { Differences } from './Differences';
import { useAct, type Outside, type OutsideColumn } from './outside';

type Look = Schemas['LookOut'];
type Reading = Schemas['FileReading'];

interface Sent {
  file: string;
  name: string;
}

interface Props {
  id: number;
  /** The table that is brought in again; null for a new one. */
  again: Outside | null;
  onClose: (made: number | null) => void;
}

export function BringIn({ id, again, onClose }: Props) {
  const [sent, setSent] = useState<Sent | null>(null);
  return (
    <Modal
      open
      width={1080}
      footer={null}
      destroyOnHidden
      mask={{ closable: false }}
      title={again === null ? t('combine.bringTable') : t('combine.bringAgainTitle', { name: again.name })}
      onCancel={() => {
        onClose(null);
      }}
    >
      {sent === null ? (
        <Choose id={id} onSent={setSent} />
      ) : (
        <LookAt
          key={sent.file}
          id={id}
          sent={sent}
          again={again}
          onOther={() => {
            setSent(null);
          }}
          onClose={onClose}
        />
      )}
    </Modal>
  );
}

function Choose({ id, onSent }: { id: number; onSent: (sent: Sent) => void }) {
  const [share, setShare] = useState<number | null>(null);
  const [failed, setFailed] = useState<Error | null>(null);
  const send = async (file: File) => {
    setFailed(null);
    setShare(0);
    try {
      const whole = await sendLarge<Schemas['SentOut']>({
        address: `/api/questionnaires/${String(id)}/sent-tables`,
        file,
        isWhole: (answer) => answer.file != null,
        onSent: setShare,
      });
      if (whole.file != null) onSent({ file: whole.file, name: file.name });
    } catch (error) {
      setFailed(error as Error);
      setShare(null);
    }
  };
  return (
    <>
      {failed && <Alert type="error" showIcon title={messageOf(failed)} style={{ marginBottom: 12 }} />}
      {share === null ? (
        <Upload.Dragger
          accept=".csv,.tsv,.txt,.xlsx,.sav,.dta,.parquet,.jsonl,.ndjson"
          showUploadList={false}
          beforeUpload={(file) => {
            void send(file);
            return false;
          }}
        >
          <p className="drop-words">{t('combine.dropFile')}</p>
          <p className="muted">{t('combine.whichFiles')}</p>
        </Upload.Dragger>
      ) : (
        <div className="sending">
          <Progress percent={Math.round(share * 100)} />
          <p className="muted">{share < 1 ? t('combine.sending') : t('combine.keeping')}</p>
        </div>
      )}
    </>
  );
}

interface LookProps extends Omit<Props, 'again'> {
  sent: Sent;
  again: Outside | null;
  onOther: () => void;
}

function LookAt({ id, sent, again, onOther, onClose }: LookProps) {
  const [reading, setReading] = useState<Reading>({ encoding: '', delimiter: '', sheet: '', heading: null });
  const [said, setSaid] = useState<Record<string, OutsideColumn>>(() =>
    Object.fromEntries((again?.columns ?? []).map((column) => [column.name, column])),
  );
  const [name, setName] = useState('');
  const body = { file: sent.file, file_name: sent.name, reading, columns: Object.values(said) };
  const look = useQuery({
    queryKey: ['outside look', id, body],
    queryFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/outside/look', {
          params: { path: { questionnaire_id: id } },
          body,
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
    refetchInterval: againWhilePrepared,
  });
  const wrong = isBeingPrepared(look.error) ? null : (look.error ?? null);
  const keep = useAct(
    id,
    (chosen: Look) =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/outside', {
          params: { path: { questionnaire_id: id } },
          body: { ...body, reading: chosen.reading, columns: chosen.columns.map((one) => one.column), name },
        }),
      ),
    (made) => {
      onClose(made.id);
    },
  );
  const found = look.data;
  return (
    <div className="look">
      <div className="row">
        <b>{sent.name}</b>
        {found && <span className="muted">{t('combine.rowsOfKind', { count: found.rows, kind: found.kind })}</span>}
        {look.isFetching && <Spin size="small" />}
        <span className="grow" />
        <Button type="text" onClick={onOther}>
          {t('combine.otherFile')}
        </Button>
      </div>
      {isBeingPrepared(look.error) && <HowFar problem={look.error} />}
      {(wrong ?? keep.error) && <Alert type="error" showIcon title={messageOf(wrong ?? keep.error)} />}
      <ReadSo look={found ?? null} reading={reading} onRead={setReading} />
      {found && (
        <>
          {found.told.length > 0 && (
            <Alert
              type="warning"
              showIcon
              title={found.told.slice(0, 6).join(' ') + (found.told.length > 6 ? ' …' : '')}
            />
          )}
          <div className="look-columns">
            <ColumnTable
              looks={found.columns}
              said={{}}
              onSay={(column) => {
                setSaid({ ...said, [column.name]: column });
              }}
            />
          </div>
          {found.profiled < found.rows && (
            <p className="muted small">{t('combine.profiled', { count: found.profiled })}</p>
          )}
          <FirstRows look={found} />
          {again === null ? (
            <div className="row look-foot">
              <label className="row">
                {t('combine.calledHere')}
                <Input
                  style={{ width: 200 }}
                  maxLength={40}
                  placeholder={t('combine.calledAfterFile')}
                  value={name}
                  onChange={(event) => {
                    setName(event.target.value);
                  }}
                />
              </label>
              <span className="muted small">{t('combine.calledMeans')}</span>
              <span className="grow" />
              <Button
                type="primary"
                loading={keep.isPending}
                disabled={look.isFetching || look.error !== null}
                onClick={() => {
                  if (!keep.isPending) keep.mutate(found);
                }}
              >
                {t('combine.bringIn', { count: found.rows })}
              </Button>
            </div>
          ) : (
            <Differences
              id={id}
              table={again}
              file={{ ...body, reading: found.reading, columns: found.columns.map((one) => one.column) }}
              onClose={onClose}
            />
          )}
        </>
      )}
    </div>
  );
}

const ENCODINGS = [
  'utf-8',
  'utf-16',
  'cp1252',
  'cp1250',
  'cp1251',
  'cp1256',
  'iso-8859-15',
  'cp437',
  'mac-roman',
  'shift-jis',
  'gb18030',
];
const DELIMITERS: Record<string, string> = {
  ',': t('combine.comma'),
  ';': t('combine.semicolon'),
  '\t': t('combine.tab'),
  '|': t('combine.bar'),
};

/** How the file is read: what was found, and can be said otherwise. */
function ReadSo({
  look,
  reading,
  onRead,
}: {
  look: Look | null;
  reading: Reading;
  onRead: (reading: Reading) => void;
}) {
  const now = look?.reading;
  const kind = look?.kind ?? 'csv';
  const encodings = [...new Set([...ENCODINGS, ...(now?.encoding ? [now.encoding] : [])])];
  if (kind !== 'csv' && kind !== 'xlsx') return null;
  return (
    <div className="read-so">
      {kind === 'csv' ? (
        <>
          <label>
            {t('combine.encoding')}
            <Select
              showSearch
              value={reading.encoding || now?.encoding || ''}
              options={encodings.map((value) => ({ value, label: value }))}
              onChange={(encoding) => {
                onRead({ ...reading, encoding });
              }}
            />
          </label>
          <label>
            {t('combine.delimiter')}
            <Select
              value={reading.delimiter || now?.delimiter || ','}
              options={Object.entries(DELIMITERS).map(([value, label]) => ({ value, label }))}
              onChange={(delimiter) => {
                onRead({ ...reading, delimiter });
              }}
            />
          </label>
        </>
      ) : (
        <label>
          {t('combine.sheet')}
          <Select
            value={reading.sheet || now?.sheet || ''}
            options={(look?.sheets ?? []).map((value) => ({ value, label: value }))}
            onChange={(sheet) => {
              onRead({ ...reading, sheet, heading: null });
            }}
          />
        </label>
      )}
      <label>
        {t('combine.headingRow')}
        <InputNumber
          min={0}
          max={10_000}
          value={reading.heading ?? now?.heading ?? 1}
          onChange={(heading) => {
            onRead({ ...reading, heading });
          }}
        />
      </label>
      <span className="muted small">{t('combine.headingMeans')}</span>
    </div>
  );
}

function FirstRows({ look }: { look: Look }) {
  return (
    <div className="scroll-x outside-rows short">
      <table className="plain">
        <thead>
          <tr>
            {look.columns.map(({ column }) => (
              <th key={column.name}>{column.name}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {look.first.map((row, at) => (
            <tr key={at}>
              {row.map((cell, place) => (
                <td key={look.columns[place]?.column.name}>{cell ?? <span className="muted">–</span>}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
