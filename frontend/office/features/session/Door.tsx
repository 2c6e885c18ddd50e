import type { ReactNode } from 'react';
import { Mark } from '../../ui/Mark';
import './session.css';

/** A page in front of everything: signing in, choosing a passphrase, beginning. */
export const Door = ({ title, children }: { title: string; children: ReactNode }) => (
  <main className="sign-in">
    <Mark dark />
    <h1>{title}</h1>
    {children}
  </main>
);
