import { NavLink, Outlet, useOutletContext } from 'react-router';
import { t } from '../../texts/texts';
import { useMay } from '../../ui/study';

/** What a study knows before anybody is asked; each a part of the station. */
const PARTS = [
  { to: '', words: t('plan.study'), needs: 'study.read' },
  { to: 'registers', words: t('plan.registers'), needs: 'register.read' },
  { to: 'samples', words: t('plan.samples'), needs: 'register.read' },
] as const;

/** The plan station: what the study is for, whom it returns to. */
export default function Plan() {
  const study: unknown = useOutletContext();
  const may = useMay();
  return (
    <div className="page">
      <div className="page-head parts-head">
        <h1>{t('common.plan')}</h1>
        <nav className="parts" aria-label={t('plan.parts')}>
          {PARTS.filter((part) => may(part.needs)).map((part) => (
            <NavLink key={part.to} to={part.to} end={part.to === ''}>
              {part.words}
            </NavLink>
          ))}
        </nav>
      </div>
      <Outlet context={study} />
    </div>
  );
}
