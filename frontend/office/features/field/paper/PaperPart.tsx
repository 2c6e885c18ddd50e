import { Button } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { t } from '../../../texts/texts';
import { Empty, Loaded } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { BatchDialog } from './BatchDialog';
import { useBatches, useErrors, type Batch } from './paper';
import './paper.css';

/** Paper questionnaires entered together: batches with their tally, and how often keyers were wrong. */
export default function PaperPart() {
  const study = useStudy();
  const may = useMay();
  const batches = useBatches(study.id);
  const [making, setMaking] = useState(false);
  const make = may('paper.manage') && (
    <Button
      type="primary"
      onClick={() => {
        setMaking(true);
      }}
    >
      {t('keying.make')}
    </Button>
  );
  return (
    <>
      <div className="page-head">
        <span className="muted">{t('keying.what')}</span>
        <span className="grow" />
        {batches.data !== undefined && batches.data.length > 0 && make}
      </div>
      <Loaded query={batches}>
        {(found) =>
          found.length === 0 ? (
            <div className="sheet">
              <Empty title={t('keying.none')} action={make || undefined}>
                {t('keying.noneMeans')}
              </Empty>
            </div>
          ) : (
            <BatchTable batches={found} studyId={study.id} />
          )
        }
      </Loaded>
      {may('paper.manage') && <Errors studyId={study.id} />}
      {making && (
        <BatchDialog
          studyId={study.id}
          batch={null}
          onClose={() => {
            setMaking(false);
          }}
        />
      )}
    </>
  );
}

function BatchTable({ batches, studyId }: { batches: Batch[]; studyId: number }) {
  return (
    <div className="sheet">
      <table className="listing">
        <thead>
          <tr>
            <th>{t('keying.batch')}</th>
            <th>{t('common.questionnaire')}</th>
            <th className="figure">{t('keying.received')}</th>
            <th className="figure">{t('keying.keyedCount')}</th>
            <th className="figure">{t('keying.secondCount')}</th>
            <th className="figure">{t('keying.toSettle')}</th>
            <th className="figure">{t('keying.finished')}</th>
            <th>{t('keying.signature')}</th>
          </tr>
        </thead>
        <tbody>
          {batches.map((batch) => (
            <tr key={batch.id}>
              <td>
                <Link to={`/studies/${String(studyId)}/field/paper/${String(batch.id)}`}>{batch.name}</Link>
              </td>
              <td>
                {batch.questionnaire} <span className="muted">{t('keying.release', { number: batch.release })}</span>
              </td>
              <td className="figure">{batch.received}</td>
              <td className="figure">{batch.keyed}</td>
              <td className="figure">{batch.second}</td>
              <td className={batch.to_settle > 0 ? 'figure doubt' : 'figure'}>{batch.to_settle}</td>
              <td className="figure">{batch.finished}</td>
              <td>{batch.signed == null ? '–' : `${batch.signed.name}, ${batch.signed.on}`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** How often each keyer, and each question, was keyed otherwise than what counts in the end. */
function Errors({ studyId }: { studyId: number }) {
  const errors = useErrors(studyId, true);
  const found = errors.data;
  if (found === undefined || found.papers === 0) return null;
  return (
    <>
      <div className="page-head section-head">
        <h2>{t('keying.errors')}</h2>
        <span className="muted small">{t('keying.errorsOf', { count: found.papers })}</span>
      </div>
      <div className="cards">
        <Rates title={t('keying.byKeyer')} rates={found.by_keyer} />
        {found.by_question.length > 0 && <Rates title={t('keying.byQuestion')} rates={found.by_question} mono />}
      </div>
    </>
  );
}

function Rates({
  title,
  rates,
  mono = false,
}: {
  title: string;
  rates: { name: string; keyed: number; errors: number }[];
  mono?: boolean;
}) {
  return (
    <div className="sheet">
      <table className="listing">
        <thead>
          <tr>
            <th>{title}</th>
            <th className="figure">{t('keying.answersKeyed')}</th>
            <th className="figure">{t('keying.wrong')}</th>
            <th className="figure">%</th>
          </tr>
        </thead>
        <tbody>
          {rates.map((rate) => (
            <tr key={rate.name}>
              <td className={mono ? 'mono' : undefined}>{rate.name}</td>
              <td className="figure">{rate.keyed}</td>
              <td className="figure">{rate.errors}</td>
              <td className="figure">{((100 * rate.errors) / rate.keyed).toFixed(1)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
