import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Table } from 'antd';
import { Link, useSearchParams } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { Sentence, Word } from '../../ui/Sentence';
import { useMoments } from '../../ui/moments';
import { Empty, Loaded } from '../../ui/states';
import { useStudy } from '../../ui/study';
import { text } from '../../ui/text';

type Line = Schemas['AccessOut'];
const ANY = 'any';
const PAGE = 100;

const WHAT: Record<string, string> = {
  interview: t('record.interview'),
  raw: t('record.raw'),
  file: t('record.file'),
  extract: t('record.extract'),
};

/** Who saw sensitive answers and who took something out. */
export default function RecordPage() {
  const study = useStudy();
  const { dayAndTime } = useMoments();
  const [params, setParams] = useSearchParams();
  const what = params.get('what') ?? '';
  const name = params.get('name') ?? '';
  const page = Number(params.get('page') ?? '1');
  const record = useQuery({
    queryKey: ['study', study.id, 'record', what, name, page],
    queryFn: () =>
      ask(
        api.GET('/api/studies/{study_id}/record', {
          params: { path: { study_id: study.id }, query: { what, name, offset: (page - 1) * PAGE, limit: PAGE } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const set = (field: string, value: string) => {
    setParams((before) => ({ ...Object.fromEntries(before), page: '1', [field]: value === ANY ? '' : value }), {
      replace: true,
    });
  };
  return (
    <div className="page">
      <div className="page-head">
        <h1>{t('record.record')}</h1>
        <span className="muted">{t('record.means')}</span>
      </div>
      <Sentence>
        <span>{t('record.show')}</span>
        <Word
          label={t('record.what')}
          value={what === '' ? ANY : what}
          options={[
            { value: ANY, label: t('record.everything') },
            ...Object.entries(WHAT).map(([value, label]) => ({ value, label })),
          ]}
          onChange={(value) => {
            set('what', value);
          }}
        />
        <span>{t('common.by')}</span>
        <Word
          label={t('record.who')}
          value={name === '' ? ANY : name}
          options={[
            { value: ANY, label: t('record.anyone') },
            ...(record.data?.names ?? []).map((one) => ({ value: one, label: one })),
          ]}
          onChange={(value) => {
            set('name', value);
          }}
        />
      </Sentence>
      <Loaded query={record}>
        {(data) => (
          <div className="sheet">
            <Table<Line>
              size="small"
              rowKey={(line) => `${line.at} ${line.name} ${line.what} ${line.interview ?? ''}`}
              dataSource={data.lines}
              locale={{ emptyText: <Empty title={t('record.nothing')} /> }}
              pagination={
                data.total > PAGE
                  ? {
                      current: page,
                      pageSize: PAGE,
                      total: data.total,
                      showSizeChanger: false,
                      onChange: (p) => {
                        set('page', String(p));
                      },
                    }
                  : false
              }
              columns={[
                { title: t('record.when'), width: 190, render: (_, l) => dayAndTime(l.at) },
                { title: t('record.who'), dataIndex: 'name', width: 220 },
                { title: t('record.what'), width: 260, render: (_, l) => WHAT[l.what] ?? l.what },
                {
                  title: t('record.which'),
                  render: (_, l) => (
                    <>
                      {l.interview_id != null && (
                        <Link to={`/studies/${String(study.id)}/interviews/${String(l.interview_id)}`}>
                          <code>{l.interview}</code>
                        </Link>
                      )}{' '}
                      <span className="muted">{detailOf(l)}</span>
                    </>
                  ),
                },
              ]}
            />
          </div>
        )}
      </Loaded>
    </div>
  );
}

function detailOf(line: Line): string {
  if (line.what === 'raw') return t('interviews.revision2', { number: text(line.detail.revision) });
  if (line.what === 'extract')
    return line.detail.masked === false
      ? `${text(line.detail.name)} · ${t('handover.sensitiveIncluded')}`
      : text(line.detail.name);
  return text(line.detail.file);
}
