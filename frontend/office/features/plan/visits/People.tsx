// Who goes: everybody with what they have open and done; what is chosen is given with one press, or shared out.
import { Alert, App, Button, Checkbox, InputNumber, Segmented } from 'antd';
import { useState } from 'react';
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
  const [sharing, setSharing] = useState(false);
  const [before, setBefore] = useState<{ shares: Share[]; given: number } | null>(null);
  const give = useVisitAct(study.id, acts.give);
  const put = (shares: Share[], isUndo = false) => {
    give.mutate(
      { id: list.id, shares, version: list.version },
      {
        onSuccess: (done) => {
          setBefore(isUndo || done.given === 0 ? null : { shares: done.before, given: done.given });
          setSharing(false);
          onGiven();
        },
        onError: (error) => {
          void message.error(messageOf(error), 8);
        },
      },
    );
  };
  const most = Math.max(1, ...list.people.map((person) => person.open + person.done));
  return (
    <section className="visit-people" aria-label={t('visits.people')}>
      <div className="visit-people-head">
        <b>{t('visits.people')}</b>
        <span className="muted small">{t('visits.doneAndOpen')}</span>
      </div>
      <div className="visit-people-lines">
        {[{ person_id: NOBODY, name: t('visits.nobody'), team: '', left: false, open: list.not_given, done: 0 }]
          .concat(list.people)
          .map((person, at, all) => (
            <div key={person.person_id}>
              {person.team !== '' && person.team !== all[at - 1]?.team && <p className="visit-team">{person.team}</p>}
              <div className={`visit-person${which.person_id === person.person_id ? ' chosen' : ''}`}>
                <button
                  type="button"
                  className="visit-person-name"
                  aria-pressed={which.person_id === person.person_id}
                  onClick={() => {
                    onPerson(which.person_id === person.person_id ? null : person.person_id);
                  }}
                >
                  <span className={person.left ? 'muted' : ''}>
                    {person.name}
                    {person.left && ` · ${t('visits.hasLeft')}`}
                  </span>
                  <span className="visit-load">
                    {person.person_id !== NOBODY && `${number.format(person.done)} · `}
                    {number.format(person.open)}
                  </span>
                  {person.person_id !== NOBODY && (
                    <span className="visit-bar" aria-hidden>
                      <i style={{ width: `${String((100 * person.done) / most)}%` }} />
                      <i className="still" style={{ width: `${String((100 * person.open) / most)}%` }} />
                    </span>
                  )}
                </button>
                {chosen.size > 0 && may('field.manage') && !person.left && (
                  <Button
                    size="small"
                    loading={give.isPending}
                    aria-label={t('visits.giveTo', { count: chosen.size, name: person.name })}
                    onClick={() => {
                      put([{ person_id: person.person_id, visits: [...chosen] }]);
                    }}
                  >
                    {t('visits.give')}
                  </Button>
                )}
              </div>
            </div>
          ))}
      </div>
      {before !== null && (
        <Alert
          type="success"
          title={t('visits.given', { count: before.given })}
          action={
            <Button
              size="small"
              onClick={() => {
                put(before.shares, true);
              }}
            >
              {t('common.undo')}
            </Button>
          }
          closable={{
            onClose: () => {
              setBefore(null);
            },
          }}
        />
      )}
      {may('field.manage') && !sharing && (
        <Button
          onClick={() => {
            setSharing(true);
          }}
        >
          {chosen.size > 0
            ? t('visits.shareOutChosen', { count: chosen.size })
            : t('visits.shareOut', { count: meant })}
        </Button>
      )}
      {sharing && (
        <ShareOut
          list={list}
          which={which}
          chosen={chosen}
          onGive={put}
          giving={give.isPending}
          onClose={() => {
            setSharing(false);
          }}
        />
      )}
    </section>
  );
}

interface ShareOutProps {
  list: VisitList;
  which: Which;
  chosen: ReadonlySet<number>;
  giving: boolean;
  onGive: (shares: Share[]) => void;
  onClose: () => void;
}

/** Who, in which way; what each would get is said before anything is given. */
function ShareOut({ list, which, chosen, giving, onGive, onClose }: ShareOutProps) {
  const study = useStudy();
  const here = list.people.filter((person) => !person.left);
  const [people, setPeople] = useState<number[]>(
    here.map((person) => person.person_id).filter((id) => id !== which.person_id),
  );
  const [way, setWay] = useState<Way>('by area');
  const [most, setMost] = useState<number | null>(null);
  const propose = useVisitAct(study.id, acts.propose);
  const proposal = propose.data;
  const nameOf = new Map(list.people.map((person) => [person.person_id, person.name]));
  return (
    <div className="share-out">
      <Segmented vertical options={[...WAYS]} value={way} onChange={setWay} />
      <p className="muted small">{MEANS[way]}</p>
      {way === 'nearest' && (
        <label className="small">
          {t('visits.noMoreThan')} <InputNumber size="small" min={1} value={most} onChange={setMost} />
        </label>
      )}
      <Checkbox.Group
        className="share-people"
        value={people}
        onChange={setPeople}
        options={here.map((person) => ({ value: person.person_id, label: person.name }))}
      />
      {propose.error && <Alert type="error" title={messageOf(propose.error)} />}
      {proposal !== undefined && (
        <ul className="share-lines">
          {proposal.shares.map((share) => (
            <li key={share.person_id}>
              {nameOf.get(share.person_id)} <b>+{number.format(share.visits.length)}</b>
            </li>
          ))}
          {proposal.over > 0 && <li className="doubt">{t('visits.over', { count: proposal.over })}</li>}
        </ul>
      )}
      <div className="acts">
        <Button
          disabled={people.length === 0}
          loading={propose.isPending}
          onClick={() => {
            propose.mutate({
              id: list.id,
              body: { which: { ...which, ids: [...chosen] }, people, how: way, most: way === 'nearest' ? most : null },
            });
          }}
        >
          {t('visits.tryOut')}
        </Button>
        {proposal !== undefined && proposal.shares.length > 0 && (
          <Button
            type="primary"
            loading={giving}
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
