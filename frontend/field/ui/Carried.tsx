// Work that goes by hand where there is no network: saved to a file, taken along by a colleague, receipts brought back.
import { useLiveQuery } from 'dexie-react-hooks';
import { useState } from 'react';
import { NoBundle, offerReceipts, putAway, takeAlong } from '../store/carried';
import { readReceipts } from '../store/bundle';
import { db, type CarriedRow } from '../store/db';
import { TROUBLES, troubleOf } from '../store/troubles';
import { useTexts } from '../texts/texts';

/** Files of colleagues' phones that this one carries. */
export function TakenAlong() {
  const { t } = useTexts();
  const rows = useLiveQuery(() => db.carried.orderBy('takenAt').toArray(), []) ?? [];
  const [said, setSaid] = useState('');
  const take = async (file: File | undefined) => {
    if (!file) return;
    try {
      await takeAlong(file);
      setSaid('');
    } catch (error) {
      setSaid(t(error instanceof NoBundle ? 'notWhole' : TROUBLES[troubleOf(error)]));
    }
  };
  return (
    <>
      <label className="plain-button as-button">
        {t('takeAlong')}
        <input
          type="file"
          accept=".zip,application/zip"
          className="visually-hidden"
          onChange={(event) => {
            void take(event.target.files?.[0]);
            event.target.value = '';
          }}
        />
      </label>
      {said !== '' && (
        <p className="note must" role="alert">
          {said}
        </p>
      )}
      {rows.map((row) => (
        <Carried key={row.name} row={row} />
      ))}
    </>
  );
}

function Carried({ row }: { row: CarriedRow }) {
  const { t } = useTexts();
  const { told } = row;
  return (
    <div className="carried">
      <p>
        <b>{row.called}</b>
      </p>
      <p className="quiet" role="status">
        {told === undefined
          ? `${t('waitsForNetwork')} · ${(row.bytes / 1e6).toFixed(1)} MB`
          : t('carriedThere', { count: told.arrived + told.known + told.revisions, who: told.enumerator })}
      </p>
      {row.problem !== undefined && <p className="line-problem">{row.problem}</p>}
      {told !== undefined && told.receipts !== null && (
        <button
          type="button"
          className="plain-button"
          onClick={() => {
            offerReceipts(told);
          }}
        >
          {t('saveReceipts', { who: told.enumerator })}
        </button>
      )}
      {(told !== undefined || row.problem !== undefined) && (
        <button type="button" className="plain-button" onClick={() => void putAway(row.name)}>
          {t('putAway')}
        </button>
      )}
    </div>
  );
}

/** Receipts that were carried back by hand. */
export function ReadReceipts() {
  const { t } = useTexts();
  const [said, setSaid] = useState('');
  const read = async (file: File | undefined) => {
    if (!file) return;
    try {
      setSaid(t('receiptsRead', { count: await readReceipts(file) }));
    } catch {
      setSaid(t('noReceipts'));
    }
  };
  return (
    <>
      <label className="plain-button as-button">
        {t('readReceipts')}
        <input
          type="file"
          accept=".json,application/json"
          className="visually-hidden"
          onChange={(event) => void read(event.target.files?.[0])}
        />
      </label>
      {said !== '' && (
        <p className="quiet" role="status">
          {said}
        </p>
      )}
    </>
  );
}
