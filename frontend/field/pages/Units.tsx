// The register on the phone: what lies outermost of the branch that it carries, and finding any unit in it.
import { useMemo, useState } from 'react';
import { Navigate } from 'react-router';
import { useTexts } from '../texts/texts';
import { Frame } from '../ui/Frame';
import { MakeUnit } from '../ui/MakeUnit';
import { UnitLine } from '../ui/UnitLine';
import { madeUnder, useUnits } from './useUnits';

const SHOWN_AT_ONCE = 60;
const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

export function Units() {
  const { t } = useTexts();
  const units = useUnits();
  const [words, setWords] = useState('');
  const [shown, setShown] = useState(SHOWN_AT_ONCE);
  const wanted = plain(words.trim());
  const found = useMemo(() => {
    if (units == null) return [];
    if (wanted === '') return units.below.get('') ?? [];
    return [...units.byId.values()].filter((unit) => plain(`${unit.label} ${unit.key}`).includes(wanted));
  }, [units, wanted]);
  if (units === null) return <Navigate to="/" replace />;
  if (units === undefined) return null;
  const waiting = [...units.byId.values()].filter((unit) => unit.waits || unit.inHand !== '' || unit.undecided);
  const makes = madeUnder(units, null);
  const lineOf = (unit: (typeof found)[number], withWay: boolean) => (
    <UnitLine
      key={unit.unit}
      unit={unit}
      kind={units.kinds.get(unit.kind)}
      below={units.below.get(unit.unit)?.length ?? 0}
      under={
        withWay
          ? units
              .way(unit)
              .map((one) => one.label)
              .join(' · ')
          : ''
      }
    />
  );
  return (
    <Frame
      head={<h1>{t('register')}</h1>}
      action={makes.length > 0 ? <MakeUnit kinds={makes} above={null} /> : undefined}
    >
      <div className="find">
        <input
          className="typed"
          type="search"
          aria-label={t('findUnit')}
          placeholder={t('findUnit')}
          dir="auto"
          value={words}
          onChange={(event) => {
            setWords(event.target.value);
            setShown(SHOWN_AT_ONCE);
          }}
        />
      </div>
      {wanted === '' && waiting.length > 0 && (
        <section>
          <h2>{t('unitsChanged', { count: waiting.length })}</h2>
          {waiting.slice(0, SHOWN_AT_ONCE).map((unit) => lineOf(unit, true))}
        </section>
      )}
      <section>
        <h2>{wanted === '' ? t('unitsHere', { count: units.byId.size }) : t('unitsFound', { count: found.length })}</h2>
        {found.slice(0, shown).map((unit) => lineOf(unit, wanted !== ''))}
        {found.length > shown && (
          <button
            type="button"
            className="plain-button"
            onClick={() => {
              setShown(shown + 5 * SHOWN_AT_ONCE);
            }}
          >
            {t('showMore', { count: found.length - shown })}
          </button>
        )}
      </section>
      {found.length === 0 && (
        <div className="empty">
          <p>
            <b>{wanted === '' ? t('noUnits') : t('noSuchUnit')}</b>
          </p>
        </div>
      )}
    </Frame>
  );
}
