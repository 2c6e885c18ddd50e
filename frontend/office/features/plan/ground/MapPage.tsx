// The map: interviews, visits or units of a study, told apart by what is known of them.
import { Alert, Button } from 'antd';
import { lazy, Suspense, useMemo, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { OutcomeMark } from '../../../../shared/map/OutcomeMark';
import { SheetsContext } from '../../../../shared/map/sheets';
import { locale, t } from '../../../texts/texts';
import { Sentence, Word } from '../../../ui/Sentence';
import { Empty, messageOf } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { drawable, useMaps } from '../../field/maps/useMaps';
import { useKinds } from '../registers/registers';
import { useLists } from '../visits/visits';
import { GroundNarrowing } from './GroundNarrowing';
import { Layers } from './Layers';
import { Picture } from './Picture';
import { asGeojson, byWords, groupWords, lookOfGroup, useGround, type Ground, type Of } from './ground';
import './ground.css';

const GroundMap = lazy(() => import('./GroundMap'));
const number = new Intl.NumberFormat(locale);
const OFS = [
  { value: 'visits', label: t('ground.visits'), needs: 'field.read' },
  { value: 'ways', label: t('ground.ways'), needs: 'field.read' },
  { value: 'interviews', label: t('ground.interviews'), needs: 'interview.read' },
  { value: 'units', label: t('ground.units'), needs: 'register.read' },
] as const;

const dayWords = (day: string): string =>
  new Date(`${day}T12:00:00Z`).toLocaleDateString(locale, {
    weekday: 'short',
    day: 'numeric',
    month: 'long',
    timeZone: 'UTC',
  });

/** What may be drawn of each kind, by its number. */
function useNamed(of: Of): { value: string; label: string }[] | undefined {
  const study = useStudy();
  const ofLists = of === 'visits' || of === 'ways';
  const lists = useLists(study.id, ofLists);
  const kinds = useKinds(study.id);
  if (ofLists) return lists.data?.map((list) => ({ value: String(list.id), label: list.name }));
  if (of === 'units')
    return kinds.data
      ?.filter((kind) => kind.units > 0)
      .map((kind) => ({ value: String(kind.id), label: `${kind.settings.glyph} ${kind.title}` }));
  return study.questionnaires.map((one) => ({ value: String(one.id), label: one.title }));
}

export default function MapPage() {
  const study = useStudy();
  const may = useMay();
  const [params, setParams] = useSearchParams();
  const seen = OFS.filter((one) => may(one.needs));
  const of: Of = (seen.find((one) => one.value === params.get('of')) ?? seen[0] ?? OFS[0]).value;
  const named = useNamed(of);
  const chosen = named?.find((one) => one.value === params.get('named')) ?? named?.[0];
  const by = params.get('by') ?? '';
  const day = params.get('day') ?? '';
  const narrow = params.get('narrow') ?? '';
  const ground = useGround(study.id, of, Number(chosen?.value ?? '0'), by, day, narrow);
  const put = (change: Record<string, string>) => {
    setParams({ of, named: chosen?.value ?? '', by, narrow, ...change }, { replace: true });
  };
  return (
    <>
      <Sentence>
        {t('ground.mapOf')}{' '}
        <Word
          label={t('ground.what')}
          value={of}
          options={seen.map(({ value, label }) => ({ value, label }))}
          onChange={(value) => {
            setParams({ of: value }, { replace: true });
          }}
        />
        {chosen !== undefined && (
          <>
            {' '}
            {t('ground.ofWhich')}{' '}
            <Word
              label={t('ground.which')}
              value={chosen.value}
              options={named ?? []}
              onChange={(value) => {
                put({ named: value, by: '', narrow: '' });
              }}
            />
          </>
        )}
        {ground.data !== undefined && ground.data.days.length > 0 && (
          <>
            {' '}
            {t('ground.onDay')}{' '}
            <Word
              label={t('ground.day')}
              value={ground.data.day}
              options={[...ground.data.days].reverse().map((one) => ({ value: one, label: dayWords(one) }))}
              onChange={(value) => {
                put({ day: value });
              }}
            />
          </>
        )}
        {ground.data !== undefined && of !== 'ways' && (
          <>
            , {t('ground.toldApartBy')}{' '}
            <Word
              label={t('ground.by')}
              value={ground.data.by}
              options={ground.data.choices.map((choice) => ({ value: choice.value, label: byWords(choice) }))}
              onChange={(value) => {
                put({ by: value });
              }}
            />
          </>
        )}
        {chosen !== undefined && (
          <GroundNarrowing
            key={`${of} ${chosen.value}`}
            of={of}
            named={Number(chosen.value)}
            narrow={narrow}
            meant={
              ground.data === undefined ? undefined : ground.data.ids.length + ground.data.without + ground.data.left
            }
            onChange={(wanted) => {
              put({ narrow: wanted, day });
            }}
          />
        )}
      </Sentence>
      {ground.error && <Alert type="error" showIcon title={messageOf(ground.error)} />}
      {named?.length === 0 && (
        <div className="sheet">
          <Empty title={t('ground.none')}>{t('ground.noneMeans')}</Empty>
        </div>
      )}
      {chosen !== undefined && ground.data !== undefined && (
        <Shown
          key={`${of} ${chosen.value} ${ground.data.by} ${ground.data.day} ${narrow} ${params.getAll('off').join()}`}
          of={of}
          ground={ground.data}
          named={chosen.value}
          name={chosen.label}
          off={params.getAll('off')}
          narrow={narrow}
        />
      )}
    </>
  );
}

interface ShownProps {
  of: Of;
  ground: Ground;
  named: string;
  name: string;
  /** The values of groups that are switched off to begin with. */
  off: string[];
  narrow: string;
}

function Shown({ of, ground, named, name, off: offAtFirst, narrow }: ShownProps) {
  const study = useStudy();
  const maps = useMaps(study.id);
  const sheets = useMemo(() => (maps.data ?? []).map(drawable), [maps.data]);
  const [off, setOff] = useState<ReadonlySet<number>>(
    () => new Set(ground.groups.flatMap((group, at) => (offAtFirst.includes(group.value) ? [at] : []))),
  );
  const drawn = useRef<HTMLElement>(null);
  const [inside, setInside] = useState<number[] | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const shown = useMemo(
    () => ground.ids.map((_, at) => at).filter((at) => !off.has(ground.group_of[at] ?? -1)),
    [ground, off],
  );
  const meant = inside ?? shown;
  const counts = new Map<number, number>();
  for (const at of meant) counts.set(ground.group_of[at] ?? -1, (counts.get(ground.group_of[at] ?? -1) ?? 0) + 1);
  const keep = () => {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([asGeojson(ground, meant)], { type: 'application/geo+json' }));
    link.download = `${name}.geojson`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  const group = chosen === null ? undefined : ground.groups[ground.group_of[chosen] ?? -1];
  return (
    <SheetsContext.Provider value={sheets}>
      <div className="board ground">
        <section className="ground-map" ref={drawn}>
          <Suspense fallback={<div className="map" />}>
            <GroundMap ground={ground} shown={shown} chosen={chosen} onChoose={setChosen} onLasso={setInside} />
          </Suspense>
        </section>
        <section className="ground-side">
          <h2>
            {inside === null
              ? t('ground.points', { count: shown.length })
              : t('ground.inLasso', { count: inside.length })}
          </h2>
          <ul className="ground-groups">
            {ground.groups.map((one, at) => (
              <li key={one.value}>
                <button
                  type="button"
                  aria-pressed={!off.has(at)}
                  className={off.has(at) ? 'off' : ''}
                  onClick={() => {
                    const next = new Set(off);
                    if (off.has(at)) next.delete(at);
                    else next.add(at);
                    setOff(next);
                    setInside(null);
                  }}
                >
                  <OutcomeMark look={lookOfGroup(one, at, ground.by, ground.graded)} />
                  <span>{groupWords(one, ground.by)}</span>
                  <b>{number.format(counts.get(at) ?? 0)}</b>
                </button>
              </li>
            ))}
          </ul>
          {ground.without > 0 && <p className="muted small">{t('ground.without', { count: ground.without })}</p>}
          {ground.left > 0 && <p className="doubt small">{t('ground.left', { count: ground.left })}</p>}
          {chosen !== null && (
            <div className="ground-one">
              <b>{ground.labels[chosen]}</b>
              {group !== undefined && <p className="muted">{groupWords(group, ground.by)}</p>}
              <Link to={linkTo(of, study.id, named, ground.ids[chosen] ?? 0)}>{LINKS[of]}</Link>
            </div>
          )}
          <Button onClick={keep} disabled={meant.length === 0}>
            {t('ground.takeOut')}
          </Button>
          <Picture of={drawn} name={name} />
          <Layers
            name={name}
            query={{ of, named: Number(named), by: ground.by, day: '', narrow }}
            off={ground.groups.flatMap((group, at) => (off.has(at) ? [group.value] : []))}
          />
        </section>
      </div>
      <footer className="status">
        <span>{t('ground.keys')}</span>
      </footer>
    </SheetsContext.Provider>
  );
}

const LINKS: Record<Of, string> = {
  visits: t('ground.toVisit'),
  ways: t('ground.toVisit'),
  interviews: t('ground.toInterview'),
  units: t('ground.toUnit'),
};

function linkTo(of: Of, studyId: number, named: string, id: number): string {
  const study = `/studies/${String(studyId)}`;
  if (of === 'interviews') return `${study}/interviews/${String(id)}`;
  return of === 'units'
    ? `${study}/plan/registers?unit=${String(id)}`
    : `${study}/plan/visits?list=${named}&visit=${String(id)}`;
}
