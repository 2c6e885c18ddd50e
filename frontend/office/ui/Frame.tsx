import { Dropdown } from 'antd';
import { useEffect, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../../shared/api/client';
import { useSession, useSignOut } from '../features/session/session';
import { Finder } from './Finder';
import { Mark } from './Mark';
import { momentsIn, offsetOf } from './moments';
import { t } from '../texts/texts';

const FINDER_KEYS = 'Ctrl K';

/** The page's frame: Skavo, the study, the finder, who is signed in. */
export function Frame({ study, children }: { study: Schemas['StudyOut'] | null; children: ReactNode }) {
  const session = useSession();
  const signOut = useSignOut();
  const [finding, setFinding] = useState(false);
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key === 'k') {
        event.preventDefault();
        setFinding(true);
      }
    };
    window.addEventListener('keydown', press);
    return () => {
      window.removeEventListener('keydown', press);
    };
  }, []);
  const name = session.data?.name ?? '';
  const initials = name
    .split(' ')
    .map((word) => word[0] ?? '')
    .join('');
  const role = session.data?.role?.replace('_', ' ') ?? '';
  return (
    <div className="frame">
      <header className="top">
        <Link to="/" title={t('frame.allStudies')}>
          <Mark />
        </Link>
        {study && (
          <Link className="top-study" to={`/studies/${String(study.id)}`}>
            {study.title}
          </Link>
        )}
        {study && <StudyClock zone={study.time_zone} />}
        <button
          type="button"
          className="find"
          onClick={() => {
            setFinding(true);
          }}
        >
          <span>{t('frame.findDoAnything')}</span>
          <kbd>{FINDER_KEYS}</kbd>
        </button>
        <Dropdown
          trigger={['click']}
          menu={{
            items: [
              { key: 'who', label: `${name}, ${role}`, disabled: true },
              {
                key: 'out',
                label: t('frame.signOut'),
                onClick: () => {
                  signOut.mutate();
                },
              },
            ],
          }}
        >
          <button type="button" className="me" aria-label={`${initials}: ${name}, ${role}`}>
            {initials}
          </button>
        </Dropdown>
      </header>
      {children}
      {finding && (
        <Finder
          study={study}
          onClose={() => {
            setFinding(false);
          }}
        />
      )}
    </div>
  );
}

/** What time it is in the field: the clock that every moment at the desk is shown by. */
function StudyClock({ zone }: { zone: string }) {
  const [now, setNow] = useState(() => new Date());
  useEffect(() => {
    const timer = window.setInterval(() => {
      setNow(new Date());
    }, 15_000);
    return () => {
      window.clearInterval(timer);
    };
  }, []);
  return (
    <span className="top-zone" title={t('frame.allTimesThoseStudy', { zone })}>
      {momentsIn(zone).timeOf(now)} {offsetOf(zone)}
    </span>
  );
}
