// The visits that are meant, a page at a time; rows are chosen with the mouse or with the keyboard.
import { Checkbox, Pagination } from 'antd';
import { t } from '../../../texts/texts';
import { useMoments } from '../../../ui/moments';
import { OutcomeMark } from '../../../../shared/map/OutcomeMark';
import { called, lookOf, STANDINGS, type Outcome, type VisitLine } from './visits';

interface Props {
  lines: VisitLine[];
  total: number;
  page: number;
  size: number;
  outcomes: Outcome[];
  open: number;
  chosen: ReadonlySet<number>;
  onOpen: (visitId: number) => void;
  onChosen: (chosen: ReadonlySet<number>) => void;
  onPage: (page: number) => void;
}

export function VisitTable({ lines, total, page, size, outcomes, open, chosen, onOpen, onChosen, onPage }: Props) {
  const { dayAndTime } = useMoments();
  const byCode = new Map(outcomes.map((one) => [one.code, one]));
  const here = lines.filter((line) => chosen.has(line.id)).length;
  const toggle = (ids: number[], on: boolean) => {
    const next = new Set(chosen);
    for (const id of ids) {
      if (on) next.add(id);
      else next.delete(id);
    }
    onChosen(next);
  };
  const step = (by: number) => {
    const at = lines.findIndex((line) => line.id === open);
    const next = lines[Math.max(0, Math.min(lines.length - 1, at + by))];
    if (next !== undefined) onOpen(next.id);
  };
  return (
    <div className="visit-table">
      <table
        className="listing"
        tabIndex={0}
        role="grid"
        aria-label={t('visits.visits')}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') step(1);
          else if (event.key === 'ArrowUp') step(-1);
          else if (event.key === 'x' && open > 0) toggle([open], !chosen.has(open));
          else return;
          event.preventDefault();
        }}
      >
        <thead>
          <tr>
            <th>
              <Checkbox
                aria-label={t('visits.chooseAll')}
                checked={lines.length > 0 && here === lines.length}
                indeterminate={here > 0 && here < lines.length}
                onChange={(event) => {
                  toggle(
                    lines.map((line) => line.id),
                    event.target.checked,
                  );
                }}
              />
            </th>
            <th>{t('visits.unit')}</th>
            <th>{t('visits.who')}</th>
            <th>{t('visits.outcome')}</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => (
            <tr
              key={line.id}
              className={line.id === open ? 'chosen' : ''}
              onClick={() => {
                onOpen(line.id);
              }}
            >
              <td
                onClick={(event) => {
                  event.stopPropagation();
                }}
              >
                <Checkbox
                  aria-label={t('visits.choose', { label: line.label })}
                  checked={chosen.has(line.id)}
                  onChange={(event) => {
                    toggle([line.id], event.target.checked);
                  }}
                />
              </td>
              <td>
                <button type="button" className="visit-name" aria-current={line.id === open}>
                  {line.label}
                </button>
                <span className="muted small">
                  <span className="mono">{line.key}</span> · {line.area}
                  {line.reserve && ` · ${t('visits.reserve')}`}
                </span>
              </td>
              <td className={line.person === '' ? 'muted' : ''}>
                {line.person === '' ? t('visits.nobody') : line.person}
              </td>
              <td>
                <OutcomeMark look={lookOf(byCode.get(line.outcome))} /> {called(outcomes, line.outcome)}
                {line.tried > 1 && <span className="muted small"> · {t('visits.times', { count: line.tried })}</span>}
                <span className="visit-next">
                  {line.appointment !== null ? (
                    <b className="visit-agreed">{t('visits.agreed', { at: dayAndTime(line.appointment) })}</b>
                  ) : line.standing === 'to pass on' || line.standing === 'tried enough' ? (
                    <span className="visit-agreed">{STANDINGS[line.standing]}</span>
                  ) : (
                    line.last_at !== null && t('visits.lastAt', { at: dayAndTime(line.last_at) })
                  )}
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {total > size && (
        <Pagination
          size="small"
          current={page}
          pageSize={size}
          total={total}
          showSizeChanger={false}
          onChange={onPage}
        />
      )}
    </div>
  );
}
