import { useNavigate } from 'react-router';
import type { ExerciseDifference } from '../../shared/engine/types';
import { headingOf } from '../../shared/interview/headings';
import { directionOf } from '../../shared/interview/languages';
import { textsIn } from '../../shared/interview/texts';
import { useTexts } from '../texts/texts';

/** After an exercise: what was entered otherwise than it was meant. */
export function Practised({
  differences,
  exercise,
  language,
}: {
  differences: ExerciseDifference[];
  exercise: string;
  language: string;
}) {
  const navigate = useNavigate();
  const t = textsIn(language);
  const { t: own } = useTexts();
  const said = (answer: string | null | undefined) =>
    answer == null ? own('notAsked') : answer === '' ? t('notAnswered') : answer;
  return (
    <div className="fill" dir={directionOf(language)} lang={language}>
      <header className="fill-head">
        <span className="fill-place">{exercise}</span>
      </header>
      <main className="fill-body">
        <p className="practice">{own('practice')}</p>
        <h1 className="question-wording">
          {differences.length === 0 ? own('practisedWell') : own('practisedOtherwise', { n: differences.length })}
        </h1>
        {differences.map((one) => (
          <div key={one.path} className="practised">
            <p className="quiet">{headingOf(one.around, t)}</p>
            <p>{one.wording}</p>
            <dl>
              <dt>{own('youEntered')}</dt>
              <dd>{said(one.mine)}</dd>
              <dt>{own('wasMeant')}</dt>
              <dd>
                <b>{said(one.wanted)}</b>
              </dd>
            </dl>
          </div>
        ))}
      </main>
      <footer className="fill-foot">
        <button type="button" className="next wide" onClick={() => void navigate('/')}>
          {own('today')}
        </button>
      </footer>
    </div>
  );
}
