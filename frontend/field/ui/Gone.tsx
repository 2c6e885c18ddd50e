import { Link } from 'react-router';

/** What stands at an address that leads nowhere any more, and where to go on. */
export function Gone({ words, to, label }: { words: string; to: string; label: string }) {
  return (
    <div className="frame">
      <main className="frame-body">
        <div className="empty">
          <p>
            <b>{words}</b>
          </p>
          <Link className="plain-button as-button" to={to}>
            {label}
          </Link>
        </div>
      </main>
    </div>
  );
}
