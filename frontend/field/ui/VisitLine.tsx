import { Link } from 'react-router';
import { OutcomeMark } from '../../shared/map/OutcomeMark';
import type { Planned } from '../store/day';
import type { VisitsFrame } from '../store/db';
import { useTexts } from '../texts/texts';
import { distance, lookOf, nextWords } from './visits';

/** One visit in a list: whom, where, what became of it, how far. */
export function VisitLine({ visit, frame }: { visit: Planned; frame: VisitsFrame }) {
  const { t, language } = useTexts();
  const words = nextWords(visit, frame, t, language);
  return (
    <Link className="line" to={`/visits/${visit.visit}`}>
      <OutcomeMark look={lookOf(visit, frame)} />
      <span className="line-text">
        <b>
          <bdi>{visit.label}</bdi>
        </b>
        <span>{[visit.area, words].filter((piece) => piece !== '').join(' · ')}</span>
      </span>
      {visit.line.metres !== null && visit.line.is_due && (
        <span className="line-side quiet">{distance(visit.line.metres, t)}</span>
      )}
    </Link>
  );
}
