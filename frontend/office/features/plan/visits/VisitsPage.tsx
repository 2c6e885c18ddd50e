// Visits of a study: whom a list visits, who goes, what became of it, and where: a day is planned from this one screen.
import { Alert, Button, Input, Segmented } from 'antd';
import { lazy, Suspense, useDeferredValue, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { SheetsContext } from '../../../../shared/map/sheets';
import { locale, t } from '../../../texts/texts';
import { Sentence, Word } from '../../../ui/Sentence';
import { Empty, Loaded, messageOf } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { drawable, useMaps } from '../../field/maps/useMaps';
import { ListSettings } from './ListSettings';
import { NewList } from './NewList';
import { People } from './People';
import { Rates } from './Rates';
import { VisitPane } from './VisitPane';
import { VisitTable } from './VisitTable';
import {
  acts,
  ALL,
  called,
  NOBODY,
  STANDINGS,
  useList,
  useLists,
  useOutcomes,
  usePoints,
  useVisit,
  useVisitAct,
  useVisits,
  type Outcome,
  type Standing,
  type VisitList,
  type Which,
} from './visits';
import './visits.css';

const VisitMap = lazy(() => import('./VisitMap'));
const PAGE = 100;
const NEW = 'new';
const number = new Intl.NumberFormat(locale);

export default function VisitsPage() {
  const study = useStudy();
  const may = useMay();
  const lists = useLists(study.id);
  const outcomes = useOutcomes(study.id);
  const [params, setParams] = useSearchParams();
  const asked = params.get('list') ?? '';
  const begin = () => {
    setParams({ list: NEW });
  };
  return (
    <Loaded query={lists}>
      {(found) => {
        if (asked === NEW && may('study.write'))
          return (
            <NewList
              taken={found.map((list) => list.name)}
              onMade={(id) => {
                setParams(id === null ? {} : { list: String(id) }, { replace: true });
              }}
            />
          );
        const chosen =
          found.find((list) => String(list.id) === asked) ?? found.find((list) => !list.closed) ?? found[0];
        if (chosen === undefined)
          return (
            <div className="sheet">
              <Empty
                title={t('visits.none')}
                action={
                  may('study.write') ? (
                    <Button type="primary" onClick={begin}>
                      {t('visits.newList')}
                    </Button>
                  ) : undefined
                }
              >
                {t('visits.noneMeans')}
              </Empty>
            </div>
          );
        return (
          <OneList
            key={chosen.id}
            listId={chosen.id}
            lists={found}
            outcomes={outcomes.data?.outcomes ?? []}
            onBegin={begin}
          />
        );
      }}
    </Loaded>
  );
}

/** Which visits the address means. */
function whichOf(params: URLSearchParams): Which {
  const standing = params.get('standing');
  const person = /^\d+$/.exec(params.get('person') ?? '')?.[0];
  return {
    standing: standing !== null && standing in STANDINGS ? (standing as Standing) : null,
    person_id: person === undefined ? null : Number(person),
    outcome: params.get('outcome') ?? '',
    area: params.get('area') ?? '',
    words: params.get('words') ?? '',
  };
}

interface OneListProps {
  listId: number;
  lists: { id: number; name: string; closed: boolean }[];
  outcomes: Outcome[];
  onBegin: () => void;
}

function OneList({ listId, lists, outcomes, onBegin }: OneListProps) {
  const may = useMay();
  const list = useList(listId);
  const [params, setParams] = useSearchParams();
  const [settings, setSettings] = useState(false);
  const isRates = params.get('view') === 'rates';
  const put = (change: Record<string, string>, replace = true) => {
    setParams(
      (before) => {
        const now = new URLSearchParams(before);
        now.set('list', String(listId));
        for (const [name, value] of Object.entries(change)) {
          if (value === '') now.delete(name);
          else now.set(name, value);
        }
        return now;
      },
      { replace },
    );
  };
  return (
    <Loaded query={list}>
      {(found) => (
        <>
          <div className="row visits-head">
            <Sentence>
              {t('visits.visitsOf')}{' '}
              <Word
                label={t('visits.whichList')}
                value={String(listId)}
                options={lists.map((one) => ({
                  value: String(one.id),
                  label: one.closed ? t('visits.closedList', { name: one.name }) : one.name,
                }))}
                onChange={(value) => {
                  setParams({ list: value });
                }}
              />{' '}
              <span className="muted">{summary(found)}</span>
            </Sentence>
            <span className="grow" />
            <Segmented
              value={isRates ? 'rates' : 'visits'}
              options={[
                { value: 'visits', label: t('visits.visits') },
                { value: 'rates', label: t('visits.rates') },
              ]}
              onChange={(view) => {
                put({ view: view === 'rates' ? 'rates' : '' }, false);
              }}
            />
            {may('extract.make') && <a href={`/api/visit-lists/${String(listId)}/file`}>{t('visits.takeOut')}</a>}
            <Button
              type="text"
              onClick={() => {
                setSettings(true);
              }}
            >
              {t('visits.settings')}
            </Button>
            {may('study.write') && <Button onClick={onBegin}>{t('visits.newList')}</Button>}
          </div>
          {isRates ? (
            <Rates list={found} outcomes={outcomes} />
          ) : (
            <Board list={found} outcomes={outcomes} params={params} put={put} />
          )}
          <ListSettings
            list={found}
            open={settings}
            onClose={() => {
              setSettings(false);
            }}
            onRemoved={() => {
              setSettings(false);
              setParams({});
            }}
          />
        </>
      )}
    </Loaded>
  );
}

function summary(list: VisitList): string {
  const parts = [
    t('visits.ofAll', { interviews: number.format(list.interviews), total: number.format(list.total) }),
    list.to_pass_on > 0 ? t('visits.toPassOn', { count: list.to_pass_on }) : '',
    list.not_given > 0 ? t('visits.notGiven', { count: list.not_given }) : '',
  ];
  return parts.filter((part) => part !== '').join(' · ');
}

interface BoardProps {
  list: VisitList;
  outcomes: Outcome[];
  params: URLSearchParams;
  put: (change: Record<string, string>, replace?: boolean) => void;
}

const ANY = '';
const any = (label: string) => ({ value: ANY, label });

function Board({ list, outcomes, params, put }: BoardProps) {
  const study = useStudy();
  const may = useMay();
  const which = useMemo(() => whichOf(params), [params]);
  const looked = useDeferredValue(which);
  const page = Math.max(1, Number(params.get('page') ?? '1') || 1);
  const open = Number(params.get('visit') ?? '0') || 0;
  const [words, setWords] = useState(which.words);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const visits = useVisits(list.id, looked, (page - 1) * PAGE, PAGE);
  const points = usePoints(list.id, looked);
  const visit = useVisit(list.id, open);
  const maps = useMaps(study.id);
  const sheets = useMemo(() => (maps.data ?? []).map(drawable), [maps.data]);
  const reserves = useVisitAct(study.id, acts.reserves);
  const narrow = (change: Partial<Record<'standing' | 'person' | 'outcome' | 'area' | 'words', string>>) => {
    setChosen(new Set());
    put({ ...change, page: '' });
  };
  const show = (id: number) => {
    put({ visit: String(id) });
  };
  const inHand = visit.data?.id === open ? visit.data : undefined;
  const narrows = JSON.stringify(which) !== JSON.stringify(ALL);
  const total = visits.data?.total ?? 0;
  return (
    <SheetsContext.Provider value={sheets}>
      <div className="board visits">
        <People
          list={list}
          which={which}
          meant={total}
          chosen={chosen}
          onPerson={(id) => {
            narrow({ person: id === null ? '' : String(id) });
          }}
          onGiven={() => {
            setChosen(new Set());
          }}
        />
        <section className="visits-middle">
          <div className="inline-sentence">
            <Word
              label={t('visits.standing')}
              value={which.standing ?? ANY}
              options={[
                any(t('visits.allVisits')),
                ...Object.entries(STANDINGS).map(([value, label]) => ({ value, label })),
              ]}
              onChange={(value) => {
                narrow({ standing: value });
              }}
            />
            <span>{t('visits.ofWhom')}</span>
            <Word
              label={t('visits.who')}
              value={which.person_id === null ? ANY : String(which.person_id)}
              options={[
                any(t('visits.anybody')),
                { value: String(NOBODY), label: t('visits.nobody') },
                ...list.people.map((person) => ({ value: String(person.person_id), label: person.name })),
              ]}
              onChange={(value) => {
                narrow({ person: value });
              }}
            />
            <span>{t('visits.inArea')}</span>
            <Word
              label={t('visits.area')}
              value={which.area}
              options={[
                any(t('visits.anyArea')),
                ...list.areas
                  .filter((area) => area.name !== '')
                  .map((area) => ({ value: area.name, label: `${area.name} (${number.format(area.visits)})` })),
              ]}
              onChange={(value) => {
                narrow({ area: value });
              }}
            />
            <span>{t('visits.endedAs')}</span>
            <Word
              label={t('visits.outcome')}
              value={which.outcome}
              options={[
                any(t('visits.anyOutcome')),
                ...outcomes.map((one) => ({ value: one.code, label: called(outcomes, one.code) })),
              ]}
              onChange={(value) => {
                narrow({ outcome: value });
              }}
            />
            <span className="muted">· {number.format(total)}</span>
          </div>
          <Input
            size="small"
            type="search"
            allowClear
            aria-label={t('visits.find')}
            placeholder={t('visits.find')}
            value={words}
            onChange={(event) => {
              setWords(event.target.value);
              narrow({ words: event.target.value });
            }}
          />
          {chosen.size > 0 && (
            <div className="visits-chosen" role="status">
              <b>{t('visits.chosen', { count: chosen.size })}</b>
              {may('study.write') && list.reserves > 0 && (
                <Button
                  size="small"
                  loading={reserves.isPending}
                  title={t('visits.reservesMean')}
                  onClick={() => {
                    reserves.mutate(
                      { id: list.id, instead: [...chosen], version: list.version },
                      {
                        onSuccess: () => {
                          setChosen(new Set());
                        },
                      },
                    );
                  }}
                >
                  {t('visits.takeReserves')}
                </Button>
              )}
              <Button
                size="small"
                type="text"
                onClick={() => {
                  setChosen(new Set());
                }}
              >
                {t('visits.chooseNone')}
              </Button>
            </div>
          )}
          {reserves.error && <Alert type="error" showIcon closable title={messageOf(reserves.error)} />}
          {visits.error && <Alert type="error" showIcon title={messageOf(visits.error)} />}
          {visits.data !== undefined && total === 0 ? (
            <Empty title={t('visits.nothing')}>{narrows ? t('visits.nothingMeans') : t('visits.emptyMeans')}</Empty>
          ) : (
            <VisitTable
              lines={visits.data?.lines ?? []}
              total={total}
              page={page}
              size={PAGE}
              outcomes={outcomes}
              open={open}
              chosen={chosen}
              onOpen={show}
              onChosen={setChosen}
              onPage={(next) => {
                put({ page: String(next) });
              }}
            />
          )}
        </section>
        <section className={`visits-right${inHand === undefined ? '' : ' with-visit'}`}>
          <Suspense fallback={<div className="map" />}>
            <VisitMap
              points={points.data}
              outcomes={outcomes}
              visit={inHand}
              chosen={chosen}
              onChoose={show}
              onLasso={(ids) => {
                setChosen(new Set(ids));
              }}
            />
          </Suspense>
          {visit.error && <Alert type="error" showIcon title={messageOf(visit.error)} />}
          {inHand !== undefined && <VisitPane visit={inHand} outcomes={outcomes} />}
        </section>
      </div>
      <footer className="status">
        <span>{t('visits.shortcuts')}</span>
      </footer>
    </SheetsContext.Provider>
  );
}
