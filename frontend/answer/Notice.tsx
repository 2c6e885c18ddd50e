import type { ReactNode } from 'react';

interface Props {
  title: string;
  study?: string;
  /** Whether something has arrived, and is said so by its shape. */
  mark?: boolean;
  children?: ReactNode;
}

/** A page with one thing to say. */
export const Notice = ({ title, study, mark = false, children }: Props) => (
  <main className="door">
    {study !== undefined && <p className="door-study">{study}</p>}
    <h1>
      {mark && (
        <span className="door-mark" aria-hidden>
          ▲
        </span>
      )}
      {title}
    </h1>
    {children}
  </main>
);
