import { useQuery } from '@tanstack/react-query';
import { Link, NavLink, Outlet, useLocation, useParams } from 'react-router';
import { api, ask, Problem } from '../../shared/api/client';
import { Boundary } from './Boundary';
import { Frame } from './Frame';
import { stationsFor } from './stations';
import { Loaded, againWhilePrepared } from './states';
import { useStudyQuery } from './study';
import { figure, t } from '../texts/texts';

/** A study's pages under the line of its stations. */
export function StudyFrame() {
  const id = Number(useParams().studyId);
  const study = useStudyQuery();
  if (study.error instanceof Problem && study.error.code === 'not_found')
    return (
      <Frame study={null}>
        <NoStudy />
      </Frame>
    );
  return (
    <Frame study={study.data ?? null}>
      <Loaded query={study}>
        {(data) => (
          <>
            <Track id={id} permissions={data.permissions} />
            <Boundary>
              <Outlet context={data} />
            </Boundary>
          </>
        )}
      </Loaded>
    </Frame>
  );
}

function NoStudy() {
  return (
    <div className="page">
      <div className="empty">
        <h2>{t('frame.noStudy')}</h2>
        <p className="muted">{t('frame.noStudyMeans')}</p>
        <Link to="/">{t('frame.allStudies')}</Link>
      </div>
    </div>
  );
}

const STANDS: Record<string, string> = { empty: t('frame.empty'), 'in order': t('frame.inOrder') };

function Track({ id, permissions }: { id: number; permissions: string[] }) {
  const stations = stationsFor(permissions);
  const here = useLocation().pathname.split('/')[3] ?? '';
  const at = stations.findIndex((s) => s.key === here);
  const { data } = useQuery({
    queryKey: ['study', id, 'stations'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/stations', { params: { path: { study_id: id } } })),
    refetchInterval: (query) => againWhilePrepared(query) || 30_000,
  });
  return (
    <nav className="track" aria-label={t('frame.stations')}>
      {stations.map((station, i) => {
        const { state = 'empty', waiting = 0 } = data?.stations[station.key] ?? {};
        const told = state === 'waiting' ? t('frame.waiting', { waiting }) : (STANDS[state] ?? state);
        return (
          <NavLink
            key={station.key}
            to={station.key}
            className={`stop stands-${state.replace(' ', '-')}${i === at ? ' here' : ''}`}
            title={`${station.label}: ${told}`}
          >
            {station.label}
            {waiting > 0 && <em aria-label={told}>{figure(waiting)}</em>}
          </NavLink>
        );
      })}
    </nav>
  );
}
