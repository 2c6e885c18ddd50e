// Who goes: everybody with what they have open and done; what is chosen is given with one press, or shared out.
import { Alert, App, Button, Checkbox, InputNumber, Radio } from 'antd';
import { useState } from 'react';
import type { Schemas } from '../../../../shared/api/client';
import { locale, t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { acts, NOBODY, useVisitAct, type Share, type VisitList, type Which } from './visits';

const number = new Intl.NumberFormat(locale);

const WAYS = [
  { value: 'by area', label: t('visits.byArea') },
  { value: 'evenly', label: t('visits.evenly') },
  { value: 'nearest', label: t('visits.nearest') },
  { value: 'one by one', label: t('visits.oneByOne') },
] as const;
type Way = (typeof WAYS)[number]['value'];

interface Props {
  list: VisitList;
  /** Which visits are meant where none are chosen one by one. */
  which: Which;
  meant: number;
  chosen: ReadonlySet<number>;
  onPerson: (personId: number | null) => void;
  onGiven: () => void;
}

export function People({ list, which, meant, chosen, onPerson, onGiven }: Props) {
  const may = useMay();
  const study = useStudy();
  const { message } = App.useApp();
  const here = list.people.filter((person) => !person.left).map((person) => person.person_id);
  /** Among whom visits are shared out; null while nothing is. */
  const [among, setAmong] = useState<number[] | null>(null);
  const [before, setBefore] = useState<{ shares: Share[]; given: number } | null>(null);
  const propose = useVisitAct(study.id, acts.propose);
  const give = useVisitAct(study.id, acts.give);
  const proposal = among === null ? undefined : propose.data;
  const put = (shares: Share[], isUndo = false) => {
    give.mutate(
      { id: list.id, shares, version: list.version },
      {
        onSuccess: (done) => {
          setBefore(isUndo || done.given === 0 ? null : { shares: done.before, given: done.given });
          setAmong(null);
          onGiven();
        },
        onError: (error) => {
          void message.error(messageOf(error), 8);
        },
      },
    );
  };
  const rethink = (people: number[]) => {
    propose.reset();
    setAmong(people);
  };
  const most = Math.max(1, ...list.people.map((person) => person.open + person.done));
  const nobody = { person_id: NOBODY, name: t('visits.nobody'), team: '', left: false, open: list.not_given, done: 0 };
  return (
    <section className="visit-people" aria-label={t('visits.people')}>
      <div className="visit-people-head">
        <b>{t('visits.people')}</b>
        <span className="muted small">{t('visits.doneAndOpen')}</span>
      </div>
      <div>
        {[nobody, ...list.people].map((person, at, all) => {
          const id = person.person_id;
          const more = proposal?.shares.find((share) => share.person_id === id)?.visits.length ?? 0;
          return (
            <div key={id}>
              {person.team !== '' && person.team !== all[at - 1]?.team && <p className="visit-team">{person.team}</p>}
              <div className={`visit-person${which.person_id === id ? ' chosen' : ''}`}>
                {among !== null && id !== NOBODY && (
                  <Checkbox
                    aria-label={t('visits.among', { name: person.name })}
                    disabled={person.left}
                    checked={among.includes(id)}
                    onChange={(event) => {
                      rethink(event.target.checked ? [...among, id] : among.filter((one) => one !== id));
                    }}
                  />
                )}
                <button
                  type="button"
                  className="visit-person-name"
                  aria-pressed={which.person_id === id}
                  onClick={() => {
                    onPerson(which.person_id === id ? null : id);
                  }}
                >
                  <span className={person.left ? 'muted' : ''}>
                    {person.name}
                    {person.left && ` · ${t('visits.hasLeft')}`}
                  </span>
                  <span className="visit-load">
                    {id !== NOBODY && `${number.format(person.done)} · `}
                    {number.format(person.open)}
                    {more > 0 && <b className="visit-more"> +{number.format(more)}</b>}
                  </span>
                  {id !== NOBODY && (
                    <span className="visit-bar" aria-hidden>
                      <i style={{ width: `${String((100 * person.done) / most)}%` }} />
                      <i className="still" style={{ width: `${String((100 * person.open) / most)}%` }} />
                    </span>
                  )}
                </button>
                {chosen.size > 0 && among === null && may('field.manage') && !person.left && (
                  <Button
                    size="small"
                    loading={give.isPending}
                    aria-label={t('visits.giveTo', { count: chosen.size, name: person.name })}
                    onClick={() => {
                      put([{ person_id: id, visits: [...chosen] }]);
                    }}
                  >
                    {t('visits.give')}
                  </Button>
                )}
              </div>
            </div>
          );
        })}
      </div>
      {before !== null && (
        <p className="visits-given" role="status">
          {t('visits.given', { count: before.given })}
          <Button
            size="small"
            onClick={() => {
              put(before.shares, true);
            }}
          >
            {t('common.undo')}
          </Button>
        </p>
      )}
      {may('field.manage') && among === null && (
        <Button
          onClick={() => {
            setBefore(null);
            rethink(here.filter((id) => id !== which.person_id));
          }}
        >
          {chosen.size > 0
            ? t('visits.shareOutChosen', { count: chosen.size })
            : t('visits.shareOut', { count: meant })}
        </Button>
      )}
      {among !== null && (
        <ShareOut
          among={among.length}
          proposal={proposal}
          problem={propose.error === null ? '' : messageOf(propose.error)}
          waits={propose.isPending || give.isPending}
          onWay={() => {
            propose.reset();
          }}
          onTry={(how, no) => {
            propose.mutate({
              id: list.id,
              body: { which: { ...which, ids: [...chosen] }, people: among, how, most: no },
            });
          }}
          onGive={put}
          onClose={() => {
            setAmong(null);
          }}
        />
      )}
    </section>
  );
}

interface ShareOutProps {
  among: number;
  proposal: Schemas['SharesProposed'] | undefined;
  problem: string;
  waits: boolean;
  onWay: () => void;
  onTry: (way: Way, most: number | null) => void;
  onGive: (shares: Share[]) => void;
  onClose: () => void;
}

/** In which way; what each would get is said beside their names before anything is given. */
function ShareOut({ among, proposal, problem, waits, onWay, onTry, onGive, onClose }: ShareOutProps) {
  const [way, setWay] = useState<Way>('by area');
  const [most, setMost] = useState<number | null>(null);
  return (
    <div className="share-out">
      <Radio.Group
        vertical
        options={[...WAYS]}
        value={way}
        onChange={(event) => {
          onWay();
          setWay(event.target.value as Way);
        }}
      />
      <p className="muted small">{MEANS[way]}</p>
      {way === 'nearest' && (
        <label className="small">
          {t('visits.noMoreThan')} <InputNumber size="small" min={1} value={most} onChange={setMost} />
        </label>
      )}
      {problem !== '' && <Alert type="error" title={problem} />}
      {proposal !== undefined && proposal.over > 0 && (
        <p className="doubt small">{t('visits.over', { count: proposal.over })}</p>
      )}
      <div className="row">
        {proposal === undefined || proposal.shares.length === 0 ? (
          <Button
            type="primary"
            disabled={among === 0}
            loading={waits}
            onClick={() => {
              onTry(way, way === 'nearest' ? most : null);
            }}
          >
            {t('visits.tryOut')}
          </Button>
        ) : (
          <Button
            type="primary"
            loading={waits}
            onClick={() => {
              onGive(proposal.shares);
            }}
          >
            {t('visits.giveLikeThat')}
          </Button>
        )}
        <Button type="text" onClick={onClose}>
          {t('common.cancel')}
        </Button>
      </div>
    </div>
  );
}

const MEANS: Record<Way, string> = {
  'by area': t('visits.byAreaMeans'),
  evenly: t('visits.evenlyMeans'),
  nearest: t('visits.nearestMeans'),
  'one by one': t('visits.oneByOneMeans'),
};
