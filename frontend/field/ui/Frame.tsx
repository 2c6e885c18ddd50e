import type { ReactNode } from 'react';
import { NavLink } from 'react-router';
import { useTexts } from '../texts/texts';

const PLACES = [
  { to: '/', label: 'today' },
  { to: '/interviews', label: 'interviews' },
  { to: '/me', label: 'me' },
] as const;

/** A page of the phone with its places at the bottom. */
export function Frame({ head, children, action }: { head: ReactNode; children: ReactNode; action?: ReactNode }) {
  const { t } = useTexts();
  return (
    <div className="frame">
      <header className="frame-head">{head}</header>
      <main className="frame-body">{children}</main>
      {action !== undefined && <div className="frame-action">{action}</div>}
      <nav className="places" aria-label={t('places')}>
        {PLACES.map((place) => (
          <NavLink key={place.to} to={place.to} end className={({ isActive }) => (isActive ? 'on' : '')}>
            {t(place.label)}
          </NavLink>
        ))}
      </nav>
    </div>
  );
}
