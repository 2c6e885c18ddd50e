import type { ReactNode } from 'react';
import { NavLink } from 'react-router';

const PLACES = [
  { to: '/', label: 'Today' },
  { to: '/interviews', label: 'Interviews' },
  { to: '/me', label: 'Me' },
];

/** A page of the phone with its places at the bottom. */
export function Frame({ head, children, action }: { head: ReactNode; children: ReactNode; action?: ReactNode }) {
  return (
    <div className="frame">
      <header className="frame-head">{head}</header>
      <main className="frame-body">{children}</main>
      {action !== undefined && <div className="frame-action">{action}</div>}
      <nav className="places" aria-label="Places">
        {PLACES.map((place) => (
          <NavLink key={place.to} to={place.to} end className={({ isActive }) => (isActive ? 'on' : '')}>
            {place.label}
          </NavLink>
        ))}
      </nav>
    </div>
  );
}
