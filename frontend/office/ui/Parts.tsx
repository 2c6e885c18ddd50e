// A station that has several parts: which there are, and the one that is open.
import { NavLink, Outlet, useOutletContext } from 'react-router';
import { useMay } from './study';

export interface Part {
  /** Its address below the station's; "" for the first one. */
  to: string;
  words: string;
  /** The permission without which there is nothing to see there. */
  needs: string;
}

interface Props {
  title: string;
  /** What the row of parts is called. */
  label: string;
  parts: readonly Part[];
}

export function Parts({ title, label, parts }: Props) {
  const study: unknown = useOutletContext();
  const may = useMay();
  return (
    <div className="page">
      <div className="page-head parts-head">
        <h1>{title}</h1>
        <nav className="parts" aria-label={label}>
          {parts
            .filter((part) => may(part.needs))
            .map((part) => (
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
