// Units from a file: what each column is, what would become of every row, and only then the register is changed.
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Alert, Button, Checkbox, Drawer, Progress, Select, Upload } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { locale, t } from '../../../texts/texts';
import { sendLarge } from '../../../ui/sendLarge';
import { messageOf } from '../../../ui/states';
import { useStudy } from '../../../ui/study';
import type { UnitKind } from './registers';
import { useOrderedJob } from './useOrderedJob';

type FileOut = Schemas['UnitsTableOut'];
type Order = Schemas['BringInOrder'];

interface Row {
  row: number;
  verdict: 'new' | 'changed' | 'same' | 'doubtful' | 'wrong';
  key: string;
  label: string;
  kind: string;
  moves: boolean;
  doubts: { column: string; text: string }[];
  changes: { field: string; before: string; after: string }[];
}

interface Result {
  rows: number;
  counts: Partial<Record<Row['verdict'], number>>;
  told: Row[];
  untold: number;
  made?: number;
  changed?: number;
}

const KEY = '#key';
const ABOVE = '#above';
const KIND = '#kind';
const VERDICTS: Record<Row['verdict'], { words: string; tone: string }> = {
  new: { words: t('register.rowNew'), tone: '' },
  changed: { words: t('register.rowChanged'), tone: '' },
  same: { words: t('register.rowSame'), tone: 'muted' },
  doubtful: { words: t('register.rowDoubtful'), tone: 'doubt' },
  wrong: { words: t('register.rowWrong'), tone: 'bad' },
};
const number = new Intl.NumberFormat(locale);
const FORMS = '.csv,.xlsx,.geojson,.json';

export function BringIn({ kinds, onClose }: { kinds: UnitKind[]; onClose: () => void }) {
  const study = useStudy();
  const [share, setShare] = useState<number | null>(null);
  const send = useMutation({
    mutationFn: async (file: File) => {
      const answer = await sendLarge<Schemas['UnitFileOut']>({
        address: `/api/studies/${String(study.id)}/unit-files`,
        query: { called: file.name },
        file,
        isWhole: ({ file: whole }) => whole != null,
        onSent: setShare,
      });
      return answer.file ?? null;
    },
    onSettled: () => {
      setShare(null);
    },
  });
  return (
    <Drawer open onClose={onClose} size={960} title={t('register.bringIn')}>
      <p className="muted">{t('register.bringInMeans')}</p>
      <Upload
        accept={FORMS}
        showUploadList={false}
        beforeUpload={(file) => {
          if (!send.isPending) send.mutate(file);
          return false;
        }}
      >
        <Button loading={send.isPending} type={send.data == null ? 'primary' : 'default'}>
          {share !== null
            ? t('maps.sending', { name: '', percent: Math.floor(100 * share) })
            : send.data == null
              ? t('register.chooseFile')
              : t('register.otherFile')}
        </Button>
      </Upload>
      {send.error && <Alert type="error" showIcon title={messageOf(send.error)} style={{ marginTop: 12 }} />}
      {send.data != null && <Columns key={send.data.file} file={send.data} kinds={kinds} onClose={onClose} />}
    </Drawer>
  );
}

function Columns({ file, kinds, onClose }: { file: FileOut; kinds: UnitKind[]; onClose: () => void }) {
  const study = useStudy();
  const queries = useQueryClient();
  const [columns, setColumns] = useState<Record<string, string>>(() =>
    Object.fromEntries(file.columns.map((column) => [column.heading, column.what])),
  );
  const hasKinds = Object.values(columns).includes(KIND);
  const [kind, setKind] = useState(() => bestKind(kinds, file));
  const [empties, setEmpties] = useState(false);
  const [doubtful, setDoubtful] = useState(false);
  const work = useOrderedJob((order: Order) =>
    ask(api.POST('/api/studies/{study_id}/unit-arrivals', { params: { path: { study_id: study.id } }, body: order })),
  );
  const order = (trial: boolean) => {
    work.order({ file: file.file, name: file.name, kind: hasKinds ? 0 : kind, columns, empties, doubtful, trial });
  };
  const { job } = work;
  const result = job?.state === 'done' ? (job.result as unknown as Result) : undefined;
  const done = result?.made !== undefined;
  const choices = choicesOf(hasKinds ? kinds : kinds.filter((one) => one.id === kind));
  const coming =
    (result?.counts.new ?? 0) + (result?.counts.changed ?? 0) + (doubtful ? (result?.counts.doubtful ?? 0) : 0);
  const changing = () => {
    work.forget();
  };
  if (done)
    return (
      <div className="bring-done" role="status">
        <h2>
          {t('register.broughtIn', {
            made: number.format(result.made ?? 0),
            changed: number.format(result.changed ?? 0),
          })}
        </h2>
        <p className="muted">
          {t('register.leftOut', {
            count: (result.counts.wrong ?? 0) + (doubtful ? 0 : (result.counts.doubtful ?? 0)),
          })}
        </p>
        <div className="row">
          <Button
            type="primary"
            onClick={() => {
              void queries.invalidateQueries({ queryKey: ['study', study.id] });
              onClose();
            }}
          >
            {t('register.lookAtThem')}
          </Button>
          {job !== undefined && (result.counts.wrong ?? 0) + (result.counts.doubtful ?? 0) > 0 && (
            <a href={`/api/jobs/${String(job.id)}/file`}>{t('register.rowsToLookAt')}</a>
          )}
        </div>
      </div>
    );
  return (
    <>
      <h2 className="section-head">
        {file.name} <span className="muted">{t('register.rowCount', { count: file.rows })}</span>
      </h2>
      {!hasKinds && (
        <p className="row">
          {t('register.allAre')}
          <Select
            aria-label={t('register.kind')}
            value={kind}
            style={{ minWidth: 160 }}
            options={kinds.map((one) => ({ value: one.id, label: `${one.settings.glyph} ${one.title}` }))}
            onChange={(chosen) => {
              changing();
              setKind(chosen);
            }}
          />
        </p>
      )}
      <table className="listing bring-columns">
        <thead>
          <tr>
            <th>{t('register.column')}</th>
            <th>{t('register.firstCells')}</th>
            <th>{t('register.isWhat')}</th>
          </tr>
        </thead>
        <tbody>
          {file.columns.map(({ heading, samples }) => (
            <tr key={heading}>
              <th scope="row" className="wrap">
                {heading}
              </th>
              <td className="muted clip">{samples.filter((sample) => sample !== '').join(' · ')}</td>
              <td>
                <Select
                  aria-label={t('register.isWhatOf', { column: heading })}
                  value={columns[heading] ?? ''}
                  style={{ width: 260 }}
                  showSearch={{ optionFilterProp: 'label' }}
                  options={choices}
                  onChange={(what) => {
                    changing();
                    setColumns({ ...columns, [heading]: what });
                  }}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Checkbox
        checked={empties}
        onChange={(event) => {
          changing();
          setEmpties(event.target.checked);
        }}
      >
        {t('register.emptiesToo')}
      </Checkbox>
      {work.error && <Alert type="error" showIcon title={messageOf(work.error)} style={{ marginTop: 12 }} />}
      {job?.state === 'failed' && <Alert type="error" showIcon title={job.problem} style={{ marginTop: 12 }} />}
      {work.underWay && (
        <div className="under-way" role="status">
          <Progress aria-label={t('common.howFar')} percent={Math.round(100 * (job?.progress ?? 0))} />
          <span className="muted">{job?.saying === '' ? t('common.waiting') : job?.saying}</span>
          <Button size="small" onClick={work.cancel}>
            {t('common.cancel')}
          </Button>
        </div>
      )}
      {result === undefined ? (
        <p>
          <Button
            type="primary"
            disabled={work.underWay}
            onClick={() => {
              order(true);
            }}
          >
            {t('register.lookFirst')}
          </Button>
        </p>
      ) : (
        <>
          <Verdicts result={result} />
          <div className="row bring-foot">
            <Button
              type="primary"
              disabled={coming === 0 || work.underWay}
              onClick={() => {
                order(false);
              }}
            >
              {t('register.bringRowsIn', { count: coming })}
            </Button>
            {(result.counts.doubtful ?? 0) > 0 && (
              <Checkbox
                checked={doubtful}
                onChange={(event) => {
                  setDoubtful(event.target.checked);
                }}
              >
                {t('register.doubtfulToo', { count: result.counts.doubtful ?? 0 })}
              </Checkbox>
            )}
            <span className="grow" />
            {job !== undefined && (result.counts.wrong ?? 0) + (result.counts.doubtful ?? 0) > 0 && (
              <a href={`/api/jobs/${String(job.id)}/file`}>{t('register.rowsToLookAt')}</a>
            )}
          </div>
        </>
      )}
    </>
  );
}

function Verdicts({ result }: { result: Result }) {
  const verdicts = (['new', 'changed', 'same', 'doubtful', 'wrong'] as const).filter(
    (verdict) => (result.counts[verdict] ?? 0) > 0,
  );
  return (
    <>
      <p className="bring-counts" role="status">
        {verdicts.map((verdict) => (
          <span key={verdict} className={VERDICTS[verdict].tone}>
            <b>{number.format(result.counts[verdict] ?? 0)}</b> {VERDICTS[verdict].words}
          </span>
        ))}
      </p>
      <div className="bring-rows">
        <table className="listing">
          <thead>
            <tr>
              <th className="figure">{t('register.row')}</th>
              <th>{t('register.unit')}</th>
              <th>{t('register.becomes')}</th>
            </tr>
          </thead>
          <tbody>
            {result.told.map((row) => (
              <tr key={row.row}>
                <td className="figure">{row.row}</td>
                <th scope="row" className="wrap">
                  {row.label} <code>{row.key}</code> <span className="muted small">{row.kind}</span>
                </th>
                <td>
                  <span className={VERDICTS[row.verdict].tone}>{VERDICTS[row.verdict].words}</span>
                  {row.moves && ` ${t('register.rowMoves')}`}
                  {row.changes.map((change) => (
                    <span key={change.field} className="row-change">
                      {change.field} <s>{change.before}</s> → <b>{change.after}</b>
                    </span>
                  ))}
                  {row.doubts.map((doubt) => (
                    <span key={`${doubt.column} ${doubt.text}`} className="row-change">
                      {doubt.column !== '' && <code>{doubt.column}</code>} {doubt.text}
                    </span>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {result.untold > 0 && <p className="muted small">{t('register.untold', { count: result.untold })}</p>}
    </>
  );
}

/** The kind whose fields the columns of a file name most often. */
function bestKind(kinds: UnitKind[], file: FileOut): number {
  const named = new Set(file.columns.map((column) => column.what));
  const headings = new Set(file.columns.map((column) => column.heading.toLowerCase()));
  // What its key is called says more than a name that many kinds have.
  const hits = (kind: UnitKind) =>
    kind.fields.flatMap((field) => field.columns).filter((one) => named.has(one)).length +
    (headings.has(kind.settings.key_named.toLowerCase()) ? 2 : 0);
  return [...kinds].sort((a, b) => hits(b) - hits(a))[0]?.id ?? 0;
}

/** What a column may be: ours first, then the fields. */
function choicesOf(kinds: UnitKind[]) {
  const fields = new Map<string, string>();
  for (const kind of kinds)
    for (const field of kind.fields)
      for (const column of field.columns) {
        const suffix = column.slice(field.variable.length).replaceAll('_', ' ').trim();
        fields.set(column, suffix === '' ? field.wording : `${field.wording}: ${suffix}`);
      }
  return [
    { value: '', label: t('register.nothingOfIt') },
    { value: KEY, label: t('register.key') },
    { value: ABOVE, label: t('register.keyAbove') },
    { value: KIND, label: t('register.kindByName') },
    ...[...fields].map(([value, label]) => ({ value, label })),
  ];
}
