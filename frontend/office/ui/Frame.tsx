import { Dropdown } from 'antd';
import { useEffect, useState, type ReactNode } from 'react';
import { Link, useLocation, useNavigate, useSearchParams } from 'react-router';
import type { Schemas } from '../../shared/api/client';
import { useSession, useSignOut } from '../features/session/session';
import { Finder } from './Finder';
import { Mark } from './Mark';
import { momentsIn, offsetOf } from './moments';
import { t } from '../texts/texts';
import { roleWords } from './roles';
import { questionnaireOf, rememberQuestionnaire } from './study';

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
  const roles = (study?.roles ?? []).map(roleWords).join(', ');
  const told = roles === '' ? name : `${name}, ${roles}`;
  return (
    <div className="frame">
      <header className="top">
        <Link to="/" title={t('frame.allStudies')}>
          <Mark />
        </Link>
        {study && <StudyMenu study={study} />}
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
              { key: 'who', label: told, disabled: true },
              { key: 'account', label: <Link to="/account">{t('frame.account')}</Link> },
              ...(session.data?.is_administrator === true
                ? [{ key: 'server', label: <Link to="/server">{t('frame.server')}</Link> }]
                : []),
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
          <button type="button" className="me" aria-label={`${initials}: ${told}`}>
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

/** The pages of a study that are no stations. */
function StudyMenu({ study }: { study: Schemas['StudyOut'] }) {
  const may = (permission: string) => study.permissions.includes(permission);
  const at = `/studies/${String(study.id)}`;
  const items = [
    { key: 'logbook', label: <Link to={at}>{t('common.logbook')}</Link> },
    ...(may('people.read') ? [{ key: 'people', label: <Link to={`${at}/people`}>{t('people.people')}</Link> }] : []),
    ...(may('record.read') ? [{ key: 'record', label: <Link to={`${at}/record`}>{t('record.record')}</Link> }] : []),
    ...(may('script.write') && study.questionnaires.length > 0
      ? [
          { type: 'divider' as const },
          { key: 'another', label: <Link to={`${at}/questionnaire?new=1`}>{t('questionnaire.anotherOpen')}</Link> },
        ]
      : []),
  ];
  return (
    <span className="top-study">
      <Link to={at}>{study.title}</Link>
      {study.teams.length > 0 && (
        <span className="top-teams" title={t('frame.onlyTheseTeams')}>
          {study.teams.join(', ')}
        </span>
      )}
      <Dropdown trigger={['click']} menu={{ items }}>
        <button type="button" className="top-menu" aria-label={t('frame.pagesOfStudy')}>
          ▾
        </button>
      </Dropdown>
      {study.questionnaires.length > 1 && may('script.read') && <QuestionnaireChoice study={study} />}
    </span>
  );
}

// The stations that are about one questionnaire; the others are about the study.
const OF_ONE = ['questionnaire', 'clean', 'combine', 'analyse', 'hand-over'];

/** Which of the study's questionnaires the stations are about; choosing another one stays at the station. */
function QuestionnaireChoice({ study }: { study: Schemas['StudyOut'] }) {
  const [params] = useSearchParams();
  const station = useLocation().pathname.split('/')[3] ?? '';
  const navigate = useNavigate();
  const chosen = questionnaireOf(study, params);
  if (chosen === null || !OF_ONE.includes(station)) return null;
  const choose = (id: string) => {
    rememberQuestionnaire(study.id, Number(id));
    void navigate(`/studies/${String(study.id)}/${station}?questionnaire=${id}`);
  };
  const items = study.questionnaires.map((q) => ({ key: String(q.id), label: q.title }));
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items,
        selectedKeys: [String(chosen.id)],
        onClick: ({ key }) => {
          choose(key);
        },
      }}
    >
      <button type="button" className="top-choice" aria-label={t('frame.questionnaireIs', { title: chosen.title })}>
        <span className="clip">{chosen.title}</span> ▾
      </button>
    </Dropdown>
  );
}
