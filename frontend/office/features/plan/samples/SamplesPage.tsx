// Samples of a study: those that were drawn, and a new one.
import { Button } from 'antd';
import { useSearchParams } from 'react-router';
import { locale, t } from '../../../texts/texts';
import { useMoments } from '../../../ui/moments';
import { Empty, Loaded } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { NewSample } from './NewSample';
import { SamplePane } from './SamplePane';
import { useSamples, WAYS, type By } from './samples';
import './samples.css';

const number = new Intl.NumberFormat(locale);

export default function SamplesPage() {
  const study = useStudy();
  const may = useMay();
  const { dayOf } = useMoments();
  const samples = useSamples(study.id);
  const [params, setParams] = useSearchParams();
  const asked = params.get('sample') ?? '';
  const begin = (
    <Button
      type="primary"
      onClick={() => {
        setParams({ sample: 'new' });
      }}
    >
      {t('samples.draw')}
    </Button>
  );
  return (
    <Loaded query={samples}>
      {(found) => {
        if (asked === 'new' && may('study.write'))
          return (
            <NewSample
              taken={found.map((sample) => sample.name)}
              onDrawn={(id) => {
                setParams(id === null ? {} : { sample: String(id) });
              }}
            />
          );
        const chosen = found.find((sample) => String(sample.id) === asked) ?? found[0];
        if (chosen === undefined)
          return (
            <div className="sheet">
              <Empty title={t('samples.none')} action={may('study.write') ? begin : undefined}>
                {t('samples.noneMeans')}
              </Empty>
            </div>
          );
        return (
          <div className="columns narrow-left">
            <div className="stack">
              {may('study.write') && begin}
              <nav className="sheet lines" aria-label={t('plan.samples')}>
                {found.map((sample) => (
                  <button
                    key={sample.id}
                    type="button"
                    className={`sample-line${sample.id === chosen.id ? ' chosen' : ''}`}
                    aria-current={sample.id === chosen.id}
                    onClick={() => {
                      setParams({ sample: String(sample.id) });
                    }}
                  >
                    <b>{sample.name}</b>
                    <span className="muted small">
                      {t('samples.line', {
                        drawn: number.format(sample.drawn),
                        frame: number.format(sample.frame_count),
                        way: WAYS[sample.by as By].name,
                        day: dayOf(sample.created_at),
                      })}
                    </span>
                  </button>
                ))}
              </nav>
            </div>
            <SamplePane key={chosen.id} sampleId={chosen.id} />
          </div>
        );
      }}
    </Loaded>
  );
}
