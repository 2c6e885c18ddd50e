// The states that the plan has been in, and what the data has otherwise by one than by another.
import { useQuery } from '@tanstack/react-query';
import { Drawer, Select } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useMoments } from '../../ui/moments';
import { Empty, Loaded } from '../../ui/states';
import { t } from '../../texts/texts';
import { CellRows } from './CellRows';

export function States({ id, now, onClose }: { id: number; now: number; onClose: () => void }) {
  const states = useQuery({
    queryKey: ['data', id, 'states', now],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/plan/states', { params: { path: { questionnaire_id: id } } }),
      ),
  });
  return (
    <Drawer open size={720} title={t('clean.compareStates')} onClose={onClose}>
      <Loaded query={states}>
        {(data) =>
          data.length < 2 ? (
            <Empty title={t('clean.noStates')}>{t('clean.statesBegin')}</Empty>
          ) : (
            <Compared id={id} states={data} now={now} />
          )
        }
      </Loaded>
    </Drawer>
  );
}

function Compared({ id, states, now }: { id: number; states: Schemas['StateOut'][]; now: number }) {
  const { ago } = useMoments();
  const [before, setBefore] = useState(states.at(-1)?.number ?? 0);
  const [after, setAfter] = useState(now);
  const found = useQuery({
    queryKey: ['data', id, 'difference', before, after],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/plan/difference', {
          params: { path: { questionnaire_id: id }, query: { before, after } },
        }),
      ),
  });
  const options = states.map((s) => ({
    value: s.number,
    label:
      s.what === 'begun'
        ? t('clean.stateBegun')
        : t('clean.stateAfter', { what: s.what, by: s.by, ago: ago(s.at), steps: s.steps }) +
          (s.standing === 'done' ? '' : ` (${t('clean.undone')})`),
  }));
  return (
    <>
      <div className="stack">
        <Select aria-label={t('clean.before')} value={before} options={options} onChange={setBefore} />
        <Select aria-label={t('clean.after')} value={after} options={options} onChange={setAfter} />
      </div>
      <Loaded query={found}>
        {(data) => {
          const lines = [
            ...Object.entries(data.rows_gone).map(([name, count]) => t('clean.rowsGone', { table: name, count })),
            ...Object.entries(data.rows_come).map(([name, count]) => t('clean.rowsCome', { table: name, count })),
            ...(data.variables_gone.length > 0
              ? [t('clean.variablesGone', { names: data.variables_gone.join(', ') })]
              : []),
            ...(data.variables_come.length > 0
              ? [t('clean.variablesCome', { names: data.variables_come.join(', ') })]
              : []),
            ...Object.entries(data.cells).map(([name, count]) => t('clean.cellsDiffer', { name, count })),
          ];
          return lines.length === 0 ? (
            <Empty title={t('clean.sameData')} />
          ) : (
            <>
              <ul className="differs">
                {lines.map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
              <CellRows cells={data.shown} named />
            </>
          );
        }}
      </Loaded>
    </>
  );
}
