import { useLiveQuery } from 'dexie-react-hooks';
import type { ReactNode } from 'react';
import { NavLink } from 'react-router';
import { db } from '../store/db';
import { useTexts } from '../texts/texts';

const PLACES = [
  { to: '/', label: 'today' },
  { to: '/interviews', label: 'interviews' },
  { to: '/map', label: 'map' },
  { to: '/units', label: 'register' },
  { to: '/me', label: 'me' },
] as const;

/** A page of the phone with its places at the bottom. */
export function Frame({ head, children, action }: { head: ReactNode; children: ReactNode; action?: ReactNode }) {
  return (
    <div className="frame">
      <header className="frame-head">{head}</header>
      <main className="frame-body">{children}</main>
      {action !== undefined && <div className="frame-action">{action}</div>}
      <Places />
    </div>
  );
}

/** The places at the bottom; the map is one where the phone has a sheet, or is to have one, the register where it carries
 * units. */
export function Places() {
  const { t } = useTexts();
  const sheets = useLiveQuery(() => db.sheets.count(), []) ?? 0;
  const carries = useLiveQuery(async () => (await db.device.get('me'))?.units !== undefined, []) ?? false;
  const isHere = { '/': true, '/interviews': true, '/map': sheets > 0, '/units': carries, '/me': true };
  return (
    <nav className="places" aria-label={t('places')}>
      {PLACES.filter((place) => isHere[place.to]).map((place) => (
        <NavLink key={place.to} to={place.to} end className={({ isActive }) => (isActive ? 'on' : '')}>
          {t(place.label)}
        </NavLink>
      ))}
    </nav>
  );
}
