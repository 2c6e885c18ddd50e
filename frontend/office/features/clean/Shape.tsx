// The shape of a variable in bars: a small one in the list, a large one with its words.
import type { Profile } from './plan';
import { figure, t } from '../../texts/texts';
import './shape.css';

const WIDE = 56;

type Bars = Profile['bars'];

export function Spark({ bars }: { bars: Bars }) {
  const most = Math.max(1, ...bars.map((bar) => bar.count));
  const width = Math.min(14, WIDE / Math.max(bars.length, 1));
  return (
    <svg className="spark" width={WIDE} height={18} aria-hidden>
      {bars.map((bar, at) => {
        const height = bar.count === 0 ? 0 : Math.max(1, (16 * bar.count) / most);
        return (
          <rect
            key={at}
            className={bar.far ? 'far' : ''}
            x={at * width}
            y={18 - height}
            width={Math.max(1, width - 1)}
            height={height}
          />
        );
      })}
    </svg>
  );
}

/** How many have an answer, and of which kinds of nothing the rest are; not asked counts as no part of it. */
export function Answered({ profile }: { profile: Profile }) {
  const { base, missing } = profile.figures;
  const asked = Math.max(1, profile.rows - (missing.not_asked ?? 0));
  const part = (count: number) => `${String((100 * count) / asked)}%`;
  return (
    <span className="answered" aria-hidden>
      <i style={{ width: part(base) }} />
      <i className="said-nothing" style={{ width: part((missing.dont_know ?? 0) + (missing.refused ?? 0)) }} />
    </span>
  );
}

const WIDTH = 460;
const HEIGHT = 120;

export function Histogram({ profile }: { profile: Profile }) {
  const { bars, figures } = profile;
  const most = Math.max(1, ...bars.map((bar) => bar.count));
  if (profile.measure === 'number' || profile.measure === 'date' || profile.measure === 'date-time') {
    return <Columns bars={bars} most={most} median={figures.median ?? null} />;
  }
  return (
    <table className="bars">
      <tbody>
        {bars.map((bar) => (
          <tr key={bar.label} className={bar.far ? 'far' : ''}>
            <th scope="row">{bar.label}</th>
            <td>
              <i style={{ width: `${String((100 * bar.count) / most)}%` }} />
            </td>
            <td className="n">{figure(bar.count)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Columns({ bars, most, median }: { bars: Bars; most: number; median: number | null }) {
  const width = WIDTH / Math.max(bars.length, 8);
  const every = Math.ceil(bars.length / 8);
  const at =
    median === null
      ? -1
      : bars.findIndex((b) => b.low !== null && b.high !== null && b.low <= median && median <= b.high);
  return (
    <svg
      className="columns-chart"
      viewBox={`0 0 ${String(WIDTH)} ${String(HEIGHT + 34)}`}
      role="img"
      aria-label={t('clean.shape')}
    >
      {bars.map((bar, n) => {
        const height = bar.count === 0 ? 0 : Math.max(2, (HEIGHT * bar.count) / most);
        return (
          <g key={n}>
            <rect
              className={bar.far ? 'far' : ''}
              x={n * width}
              y={16 + HEIGHT - height}
              width={width - 1}
              height={height}
            >
              <title>{`${bar.label}: ${figure(bar.count)}`}</title>
            </rect>
            {(bar.far || (n % every === 0 && !bars.slice(n + 1, n + 4).some((b) => b.far))) && (
              <text
                x={bar.far && n > 0 ? (n + 1) * width : n * width}
                y={HEIGHT + 30}
                className={bar.far ? 'far' : ''}
                textAnchor={bar.far && n > 0 ? 'end' : 'start'}
              >
                {bar.label.replace(' –', bar.far ? ' –' : '')}
              </text>
            )}
          </g>
        );
      })}
      <line x1={0} x2={WIDTH} y1={16.5 + HEIGHT} y2={16.5 + HEIGHT} />
      {at >= 0 && median !== null && (
        <g className="median">
          <line x1={(at + 0.5) * width} x2={(at + 0.5) * width} y1={4} y2={16 + HEIGHT} />
          <text x={(at + 0.5) * width + 5} y={12}>
            {t('clean.median', { median: Math.round(median * 100) / 100 })}
          </text>
        </g>
      )}
    </svg>
  );
}
