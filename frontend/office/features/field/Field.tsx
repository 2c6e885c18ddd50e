import { Navigate, NavLink, Outlet, useLocation, useOutletContext } from 'react-router';
import { t } from '../../texts/texts';
import { useMay } from '../../ui/study';
import './field.css';

/** The ways in which answers come in; each a part of the field station. */
const PARTS = [
  { to: '', words: t('field.phones'), needs: 'field.read' },
  { to: 'maps', words: t('field.maps'), needs: 'field.read' },
  { to: 'links', words: t('field.links'), needs: 'field.read' },
  { to: 'practice', words: t('field.practice'), needs: 'interview.read' },
  { to: 'paper', words: t('field.paper'), needs: 'paper.key' },
] as const;

/** The field station: phones out there, links answered in a browser, and papers. */
export default function Field() {
  const study: unknown = useOutletContext();
  const may = useMay();
  const { pathname } = useLocation();
  const parts = PARTS.filter((part) => may(part.needs));
  const [first] = parts;
  // A keyer has nothing to do with phones.
  if (/\/field\/?$/.test(pathname) && first !== undefined && first.to !== '') return <Navigate to={first.to} replace />;
  return (
    <div className="page">
      <div className="page-head parts-head">
        <h1>{t('common.field')}</h1>
        <nav className="parts" aria-label={t('field.parts')}>
          {parts.map((part) => (
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
