// The register of a study: the tree beside what is in hand, and where it lies.
import { Alert, App, Button, Dropdown, Input, type InputRef } from 'antd';
import { lazy, Suspense, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, ask } from '../../../../shared/api/client';
import { SheetsContext } from '../../../../shared/map/sheets';
import { locale, t } from '../../../texts/texts';
import { Empty, Loaded, messageOf } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { drawable, useMaps } from '../../field/maps/useMaps';
import { BringIn } from './BringIn';
import { DoubtsDrawer } from './Doubts';
import { KindsDrawer } from './KindsDrawer';
import { NarrowingSentence } from './NarrowingSentence';
import {
  acts,
  EVERYTHING,
  useDoubts,
  useKinds,
  usePoints,
  useRegisterChange,
  useUnit,
  type Narrowing,
  type UnitKind,
} from './registers';
import { Tree } from './Tree';
import { UnitPane } from './UnitPane';
import { useOrderedJob } from './useOrderedJob';
import { useTree } from './useTree';
import './registers.css';

const UnitMap = lazy(() => import('./UnitMap'));
const RESTS_MS = 400;
const number = new Intl.NumberFormat(locale);
const percent = new Intl.NumberFormat(locale, { style: 'percent', maximumFractionDigits: 0 });

export default function RegistersPage() {
  const study = useStudy();
  const kinds = useKinds(study.id);
  return <Loaded query={kinds}>{(found) => (found.length === 0 ? <NoKinds /> : <Register kinds={found} />)}</Loaded>;
}

function NoKinds() {
  const may = useMay();
  const [open, setOpen] = useState(false);
  return (
    <div className="sheet">
      <Empty
        title={t('register.none')}
        action={
          may('script.write') ? (
            <Button
              type="primary"
              onClick={() => {
                setOpen(true);
              }}
            >
              {t('register.firstKind')}
            </Button>
          ) : undefined
        }
      >
        {t('register.noneMeans')}
      </Empty>
      <KindsDrawer
        kinds={[]}
        open={open}
        onClose={() => {
          setOpen(false);
        }}
      />
    </div>
  );
}

/** The narrowing of the address, as far as it can be read. */
function narrowingOf(params: URLSearchParams): Narrowing {
  try {
    const read: unknown = JSON.parse(params.get('narrowing') ?? '{}');
    return { ...EVERYTHING, ...(read as Partial<Narrowing>) };
  } catch {
    return EVERYTHING;
  }
}

function Register({ kinds }: { kinds: UnitKind[] }) {
  const study = useStudy();
  const may = useMay();
  const { message } = App.useApp();
  const [params, setParams] = useSearchParams();
  const chosen = Number(params.get('unit') ?? '0');
  const on = /^\d{4}-\d{2}-\d{2}$/.exec(params.get('on') ?? '')?.[0] ?? '';
  const kept = useMemo(() => narrowingOf(params), [params]);
  // What is typed is there at once; the address follows when the hand rests.
  const [words, setWords] = useState(kept.words);
  const narrowing = useMemo(() => ({ ...kept, words }), [kept, words]);
  const looked = useDeferredValue(narrowing);
  const [dialog, setDialog] = useState<'kinds' | 'file' | null>(null);
  const find = useRef<InputRef>(null);
  const put = (change: Record<string, string>, replace = false) => {
    setParams(
      (before) => {
        const now = new URLSearchParams(before);
        for (const [name, value] of Object.entries(change)) {
          if (value === '') now.delete(name);
          else now.set(name, value);
        }
        return now;
      },
      { replace },
    );
  };
  const choose = (unitId: number) => {
    put({ unit: String(unitId), on: '' }, chosen !== 0);
  };
  const narrow = (wanted: Narrowing) => {
    const changed = JSON.stringify(wanted);
    setWords(wanted.words);
    put({ narrowing: changed === JSON.stringify(EVERYTHING) ? '' : changed }, true);
  };
  useEffect(() => {
    if (words === kept.words) return;
    const resting = setTimeout(() => {
      narrow({ ...kept, words });
    }, RESTS_MS);
    return () => {
      clearTimeout(resting);
    };
    // Only what is typed sets the clock going.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [words]);

  const tree = useTree(study.id, looked);
  const unit = useUnit(study.id, chosen, on);
  const points = usePoints(study.id, looked);
  const maps = useMaps(study.id);
  const sheets = useMemo(() => (maps.data ?? []).map(drawable), [maps.data]);
  const byId = useMemo(() => new Map(kinds.map((kind) => [kind.id, kind])), [kinds]);
  const inHand = unit.data?.id === chosen ? unit.data : undefined;
  const make = useRegisterChange(study.id, acts.make(study.id));

  // What is chosen from the map or by an address is unfolded to, and stays on show when the narrowing goes.
  const onShow = tree.rows.some((row) => row.what === 'unit' && row.line.id === chosen);
  const isLoaded = tree.root.data !== undefined;
  useEffect(() => {
    if (chosen > 0 && isLoaded && !onShow) tree.showUnit(chosen).catch(() => undefined);
    // Once for each unit that is chosen, and when another part of the tree is on show.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [chosen, isLoaded, looked]);

  const outermost = kinds.filter((kind) => kind.settings.stands_alone);
  const add = (kind: UnitKind, above: number) => {
    make.mutate(
      { kind_id: kind.id, above, key: '', answers: {} },
      {
        onSuccess: (made) => {
          choose(made.id);
        },
        onError: (error) => {
          void message.error(messageOf(error), 8);
        },
      },
    );
  };

  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement) return;
      if (event.ctrlKey || event.metaKey || event.altKey || document.querySelector('[role=dialog], dialog[open]'))
        return;
      if (event.key === '/') find.current?.focus();
      else if (event.key === 'a' && inHand !== undefined && may('register.write')) {
        const [kind] = kinds.filter((one) => one.settings.under.includes(inHand.kind_id));
        if (kind !== undefined) add(kind, inHand.id);
      } else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', press);
    return () => {
      window.removeEventListener('keydown', press);
    };
  });

  const root = tree.root.data;
  const waiting = useDoubts(study.id).data?.total ?? 0;
  return (
    <SheetsContext.Provider value={sheets}>
      <div className="register">
        <section className="register-left">
          <div className="register-look">
            <Input
              ref={find}
              allowClear
              type="search"
              aria-label={t('register.find')}
              placeholder={t('register.findHere')}
              value={narrowing.words}
              onChange={(event) => {
                setWords(event.target.value);
              }}
            />
            <NarrowingSentence
              kinds={kinds}
              narrowing={narrowing}
              meant={root?.meant}
              chosen={inHand === undefined ? null : { id: inHand.id, label: inHand.label }}
              below={narrowing.below === chosen ? (inHand?.label ?? '') : t('register.oneBranch')}
              onChange={narrow}
            />
          </div>
          {tree.root.error && <Alert type="error" showIcon title={messageOf(tree.root.error)} />}
          {root !== undefined && tree.rows.length === 0 ? (
            <Empty
              title={
                kinds.every((kind) => kind.units + kind.closed === 0)
                  ? t('register.noUnits')
                  : t('register.nothingFound')
              }
            >
              {t('register.noUnitsMean')}
            </Empty>
          ) : (
            <Tree
              rows={tree.rows}
              kinds={byId}
              chosen={chosen}
              onChoose={choose}
              onFold={tree.fold}
              onMore={tree.more}
            />
          )}
        </section>
        <section className="register-middle">
          <div className="register-acts">
            {may('register.write') && (
              <>
                <Dropdown
                  menu={{
                    items: outermost.map((kind) => ({ key: kind.id, label: `${kind.settings.glyph} ${kind.title}` })),
                    onClick: ({ key }) => {
                      const kind = byId.get(Number(key));
                      if (kind !== undefined) add(kind, 0);
                    },
                  }}
                >
                  <Button size="small">{t('register.addUnit')}</Button>
                </Dropdown>
                <Button
                  size="small"
                  onClick={() => {
                    setDialog('file');
                  }}
                >
                  {t('register.bringIn')}
                </Button>
              </>
            )}
            <TakeOut studyId={study.id} narrowing={looked} />
            {waiting > 0 && (
              <Button
                size="small"
                className="waits"
                onClick={() => {
                  put({ waiting: '1' });
                }}
              >
                {t('register.toDecide', { count: waiting })}
              </Button>
            )}
            <span className="grow" />
            <Button
              size="small"
              type="text"
              onClick={() => {
                setDialog('kinds');
              }}
            >
              {t('register.kinds')}
            </Button>
          </div>
          {unit.error && <Alert type="error" showIcon title={messageOf(unit.error)} />}
          {inHand !== undefined ? (
            <UnitPane
              key={inHand.id}
              unit={inHand}
              kinds={byId}
              onChoose={choose}
              onDay={(day) => {
                put({ on: day }, true);
              }}
            />
          ) : (
            chosen === 0 && <p className="muted register-hint">{t('register.chooseOne')}</p>
          )}
        </section>
        <section className="register-map">
          <Suspense>
            <UnitMap points={points.data} unit={inHand} onChoose={choose} />
          </Suspense>
        </section>
      </div>
      <footer className="status">
        <span>
          {kinds
            .filter((kind) => kind.units > 0)
            .map((kind) => `${number.format(kind.units)} ${kind.settings.glyph} ${kind.title}`)
            .join(' · ')}
          {root?.filled != null && ` · ${t('register.filled', { share: percent.format(root.filled) })}`}
        </span>
        <span className="grow" />
        <span>{t('register.keys')}</span>
      </footer>
      <KindsDrawer
        kinds={kinds}
        open={dialog === 'kinds'}
        onClose={() => {
          setDialog(null);
        }}
      />
      <DoubtsDrawer
        open={params.has('waiting')}
        onClose={() => {
          put({ waiting: '' }, true);
        }}
        onChoose={(unitId) => {
          put({ unit: String(unitId), on: '', waiting: '' });
        }}
      />
      {dialog === 'file' && (
        <BringIn
          kinds={kinds}
          onClose={() => {
            setDialog(null);
          }}
        />
      )}
    </SheetsContext.Provider>
  );
}

const FORMS = [
  { key: 'xlsx', label: t('register.asXlsx') },
  { key: 'csv', label: t('register.asCsv') },
  { key: 'geojson', label: t('register.asGeojson') },
] as const;

/** What is on show as a file; it is fetched as soon as it is made. */
function TakeOut({ studyId, narrowing }: { studyId: number; narrowing: Narrowing }) {
  const { message } = App.useApp();
  const work = useOrderedJob((format: (typeof FORMS)[number]['key']) =>
    ask(
      api.POST('/api/studies/{study_id}/unit-extracts', {
        params: { path: { study_id: studyId } },
        body: { narrowing, format },
      }),
    ),
  );
  const { job, error } = work;
  const fetched = useRef(0);
  useEffect(() => {
    if (job?.state === 'done' && fetched.current !== job.id) {
      fetched.current = job.id;
      window.location.assign(`/api/jobs/${String(job.id)}/file`);
    }
    const problem = job?.state === 'failed' ? job.problem : error === null ? '' : messageOf(error);
    if (problem !== '') void message.error(problem, 8);
  }, [job?.state, job?.id, job?.problem, error, message]);
  return (
    <Dropdown
      menu={{
        items: FORMS.map(({ key, label }) => ({ key, label })),
        onClick: ({ key }) => {
          const form = FORMS.find((one) => one.key === key);
          if (form !== undefined) work.order(form.key);
        },
      }}
    >
      <Button size="small" loading={work.underWay}>
        {t('register.takeOut')}
      </Button>
    </Dropdown>
  );
}
