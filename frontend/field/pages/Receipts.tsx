import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Schemas } from '../../shared/api/client';
import { deviceToken } from '../store/access';
import type { DeviceRow } from '../store/db';
import { receipts } from '../store/server';
import { useTexts, type FieldText } from '../texts/texts';
import { dayAndTime } from '../ui/states';

type Line = Schemas['ReceiptLine'];
const PAGE = 100;
const STATES: Record<string, FieldText> = {
  arrived: 'state_arrived',
  read: 'state_arrived',
  'sent back': 'state_sent_back',
  accepted: 'state_accepted',
  'set aside': 'state_set_aside',
};

/** What the office confirms to have, from all phones of this person: to be shown when pay is due. */
export function ReceiptsPage({ device }: { device: DeviceRow }) {
  const { t, language } = useTexts();
  const navigate = useNavigate();
  const [lines, setLines] = useState<Line[]>([]);
  const [isWhole, setWhole] = useState(false);
  const [failed, setFailed] = useState(false);
  const show = (before: Line[], page: Line[] | null) => {
    setFailed(page === null);
    if (page === null) return;
    setLines([...before, ...page]);
    setWhole(page.length < PAGE);
  };
  useEffect(() => {
    void pageAfter(device, null).then((page) => {
      show([], page);
    });
    // Once, when the page is opened: what the phone notes of itself meanwhile changes nothing at the office.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const { tally } = device;
  return (
    <div className="fill">
      <header className="fill-head">
        <button type="button" aria-label={t('back')} onClick={() => void navigate('/me')}>
          ‹
        </button>
        <span className="fill-place">
          {t('receiptsTitle')} · {device.enumerator}
        </span>
      </header>
      <main className="frame-body">
        <p className="note-plain quiet">{t('receiptsWhy')}</p>
        {tally !== undefined && (
          <dl className="facts">
            {(
              [
                ['tallyToday', tally.today],
                ['tallyAll', tally.all],
                ['tallyAccepted', tally.accepted],
              ] as const
            ).map(([what, value]) => (
              <div key={what}>
                <dt>{t(what)}</dt>
                <dd>{value}</dd>
              </div>
            ))}
          </dl>
        )}
        {failed && (
          <p className="note should" role="alert">
            {t('receiptsNeedNetwork')}
          </p>
        )}
        {lines.map((line) => (
          <div key={line.uuid} className="line">
            <span className="line-text">
              <b className="mono">{String(line.number).padStart(4, '0')}</b>
              <span>
                ▲ {dayAndTime(line.arrived_at, language)} · {line.device}
              </span>
              <span className="mono quiet small">{line.hash.slice(0, 16)}</span>
            </span>
            <span className="line-side quiet">{t(STATES[line.state] ?? 'state_arrived')}</span>
          </div>
        ))}
        {!isWhole && lines.length > 0 && (
          <button
            type="button"
            className="plain-button"
            onClick={() => {
              void pageAfter(device, lines.at(-1)?.number ?? null).then((page) => {
                show(lines, page);
              });
            }}
          >
            {t('moreReceipts')}
          </button>
        )}
      </main>
    </div>
  );
}

/** A page of receipts; null where the office cannot be asked. */
async function pageAfter(device: DeviceRow, last: number | null): Promise<Line[] | null> {
  try {
    const token = await deviceToken(device);
    return token === null ? null : await receipts(token, last);
  } catch {
    return null;
  }
}
