import { Link } from 'react-router';
import { inLanguage } from '../../shared/interview/languages';
import type { CarriedKind, UnitHere } from '../store/units';
import { useTexts } from '../texts/texts';

interface Props {
  unit: UnitHere;
  kind: CarriedKind | undefined;
  below: number;
  /** Where it lies, for a list that does not show it otherwise. */
  under?: string;
}

/** One unit in a list: what it is, what waits of it, how much lies below. */
export function UnitLine({ unit, kind, below, under = '' }: Props) {
  const { t, language } = useTexts();
  const said = [
    unit.key === unit.label ? '' : unit.key,
    under,
    unit.inHand === '' ? '' : t('in_hand'),
    unit.waits ? t('waitsToBeSent') : '',
    unit.undecided ? t('unitUndecided') : '',
  ].filter((piece) => piece !== '');
  return (
    <Link className="line" to={`/units/${unit.unit}`}>
      <span className="unit-glyph" title={inLanguage(kind?.title ?? {}, language)} aria-hidden>
        {kind?.settings.glyph ?? '●'}
      </span>
      <span className="line-text">
        <b>
          <bdi>{unit.label === '' ? inLanguage(kind?.title ?? {}, language) : unit.label}</bdi>
        </b>
        {said.length > 0 && <span>{said.join(' · ')}</span>}
        {unit.problem !== undefined && <span className="line-problem">{unit.problem}</span>}
      </span>
      {below > 0 && <span className="line-side quiet">{below} ›</span>}
    </Link>
  );
}
