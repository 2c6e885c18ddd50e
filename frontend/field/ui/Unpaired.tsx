import type { ReactNode } from 'react';
import { NAME } from '../../shared/texts/catalogue';

/** A page of the phone before anything is on it, or when nothing can be kept. */
export const Unpaired = ({ title, children }: { title: string; children: ReactNode }) => (
  <main className="pair">
    <p className="brand">
      <i aria-hidden />
      {NAME}
    </p>
    <h1>{title}</h1>
    {children}
  </main>
);
