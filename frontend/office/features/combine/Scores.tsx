// The scores of all pairs that were looked at, and the two limits between which somebody decides.
import { Alert, Slider } from 'antd';
import { useState } from 'react';
import { api, ask } from '../../../shared/api/client';
import { messageOf } from '../../ui/states';
import { t } from '../../texts/texts';
import type { Matches } from './matches';
import { signed, useAct, useJoins, useOutsides } from './outside';

const WIDTH = 348;
const HEIGHT = 70;

export function Scores({
  id,
  matches,
  disabled,
  onKept,
}: {
  id: number;
  matches: Matches;
  disabled: boolean;
  onKept: () => void;
}) {
  const { apart, match } = matches.near;
  const [limits, setLimits] = useState<[number, number]>([apart, match]);
  const joins = useJoins(id);
  const tables = useOutsides(id);
  const kept = joins.data?.find((one) => one.outside_id === matches.outside_id)?.join ?? null;
  const version = tables.data?.find((one) => one.id === matches.outside_id)?.version;
  const move = useAct(
    id,
    ([low, high]: [number, number]) => {
      if (kept?.near == null || version === undefined) throw new Error(t('combine.notRead'));
      return ask(
        api.PUT('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/join', {
          params: { path: { questionnaire_id: id, outside_id: matches.outside_id } },
          body: { join: { ...kept, near: { ...kept.near, apart: low, match: high } }, version },
        }),
      );
    },
    onKept,
  );
  if (matches.bars.length === 0) return null;
  const low = Math.min(matches.bars[0]?.low ?? 0, apart);
  const high = Math.max(matches.bars.at(-1)?.high ?? 1, match);
  // Most pairs are far apart: their bars would leave nothing of the others.
  const tall = (count: number) => (count === 0 ? 0 : Math.max(2, (HEIGHT * Math.sqrt(count)) / Math.sqrt(most)));
  const most = Math.max(...matches.bars.map((bar) => bar.count), 1);
  const x = (bits: number) => ((bits - low) / (high - low)) * WIDTH;
  const round = (bits: number) => Math.round(bits * 10) / 10;
  return (
    <div className="scores">
      {move.error && <Alert type="error" showIcon title={messageOf(move.error)} />}
      <svg
        width={WIDTH}
        height={HEIGHT + 2}
        role="img"
        aria-label={t('combine.scoresOfPairs', { count: matches.looked_at })}
      >
        {matches.bars.map((bar) => (
          <rect
            key={bar.low}
            className={
              (bar.low + bar.high) / 2 >= limits[1] ? 'alike' : (bar.low + bar.high) / 2 > limits[0] ? 'doubtful' : ''
            }
            x={x(bar.low)}
            y={HEIGHT - tall(bar.count)}
            width={Math.max(1, x(bar.high) - x(bar.low) - 1)}
            height={tall(bar.count)}
          >
            <title>
              {t('combine.pairsBetween', { count: bar.count, low: signed(bar.low), high: signed(bar.high) })}
            </title>
          </rect>
        ))}
        <line x1={0} x2={WIDTH} y1={HEIGHT + 0.5} y2={HEIGHT + 0.5} />
      </svg>
      <Slider
        range
        disabled={disabled || move.isPending}
        min={round(low)}
        max={round(high)}
        step={0.1}
        value={limits.map(round)}
        tooltip={{ formatter: (bits) => signed(bits ?? 0) }}
        ariaLabelForHandle={[t('combine.apartBelow'), t('combine.matchFrom')]}
        onChange={(value) => {
          setLimits([value[0] ?? apart, value[1] ?? match]);
        }}
        onChangeComplete={(value) => {
          move.mutate([value[0] ?? apart, value[1] ?? match]);
        }}
      />
      <div className="row small muted">
        <span>{t('combine.apartUpTo', { bits: signed(limits[0]) })}</span>
        <span className="grow" />
        <span>{t('combine.matchFromBits', { bits: signed(limits[1]) })}</span>
      </div>
    </div>
  );
}
