// Everything that happened to one cell: asked, handed in, changed by steps, taken over from an outside table.
import { useQuery } from '@tanstack/react-query';
import { Drawer, Timeline } from 'antd';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useMoments } from '../../ui/moments';
import { Loaded } from '../../ui/states';
import { t } from '../../texts/texts';

export interface CellPlace {
  interview: string;
  row: string[];
  variable: string;
}

type Happening = Schemas['Happening'];

const KINDS: Record<Happening['kind'], string> = {
  noted: t('clean.happenedNoted'),
  'handed in': t('clean.happenedHandedIn'),
  step: t('clean.happenedStep'),
  'left out': t('clean.happenedLeftOut'),
  joined: t('clean.happenedJoined'),
};
const COLOURS: Record<Happening['kind'], string> = {
  noted: 'gray',
  'handed in': 'green',
  step: 'orange',
  'left out': 'red',
  joined: 'green',
};

interface Props {
  id: number;
  studyId: number;
  cell: CellPlace;
  onClose: () => void;
}

export function CellHistory({ id, studyId, cell, onClose }: Props) {
  const history = useQuery({
    queryKey: ['data', id, 'cell', cell],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/plan/cell', {
          params: { path: { questionnaire_id: id }, query: { ...cell } },
        }),
      ),
    retry: false,
  });
  return (
    <Drawer
      open
      size={460}
      title={
        <>
          <code>{cell.variable}</code>{' '}
          {t('clean.inInterview', { interview: [cell.interview, ...cell.row].join(' / ') })}
        </>
      }
      onClose={onClose}
    >
      <Loaded query={history}>
        {(found) => (
          <>
            <p className="muted">{found.wording || found.label}</p>
            <p>
              {t('clean.standsNow')} <b>{found.value === '' ? t('common.nothing') : found.value}</b>{' '}
              <Link to={`/studies/${String(studyId)}/interviews/${String(found.interview_id)}`}>
                {t('clean.readInterview')}
              </Link>
            </p>
            {found.place !== '' && <p className="muted small">{t('clean.beganAt', { place: found.place })}</p>}
            <Timeline
              items={found.history.map((one) => ({
                color: COLOURS[one.kind],
                content: <Told happening={one} />,
              }))}
            />
            {found.history.length === 0 && <p className="muted">{t('clean.madeByPlan')}</p>}
          </>
        )}
      </Loaded>
    </Drawer>
  );
}

function Told({ happening }: { happening: Happening }) {
  const { dayAndTime } = useMoments();
  const { kind, at, by, value, before, said, counts, step } = happening;
  const told = [by, at == null ? '' : dayAndTime(at)].filter((word) => word !== '').join(' · ');
  return (
    <div className={counts ? '' : 'muted'}>
      {kind === 'step' || kind === 'left out' ? t('clean.stepNumber', { step, kind: KINDS[kind] }) : KINDS[kind]}{' '}
      {before !== '' && (
        <>
          <s className="muted">{before}</s> →{' '}
        </>
      )}
      {value !== '' && <b>{value}</b>}
      {said !== '' && <div className="small">{said}</div>}
      {!counts && <div className="small">{t('clean.doesNotCount')}</div>}
      {told !== '' && <div className="small muted">{told}</div>}
    </div>
  );
}
