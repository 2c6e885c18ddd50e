// What is wrong with an answer: a hard check, or a soft one that may be kept with a reason.
import { useState } from 'react';
import type { Finding } from '../engine/types';
import type { AnswerProps } from './answers/props';

export function FindingNote({
  finding,
  t,
  onKeep,
}: {
  finding: Finding;
  t: AnswerProps['t'];
  onKeep: (check: number, reason: string) => void;
}) {
  const [reason, setReason] = useState(finding.kept);
  const [open, setOpen] = useState(false);
  if (finding.strength === 'must')
    return (
      <p className="note must" role="alert">
        {finding.message}
      </p>
    );
  if (finding.kept !== '' && !open) {
    return (
      <p className="note kept">
        {finding.message}{' '}
        <span>
          {t('kept')}: “{finding.kept}”
        </span>
        <button
          type="button"
          onClick={() => {
            onKeep(finding.check, '');
          }}
        >
          ×
        </button>
      </p>
    );
  }
  return (
    <div className="note should" role="alert">
      <p>{finding.message}</p>
      {open ? (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            setOpen(false);
            onKeep(finding.check, reason);
          }}
        >
          <input
            aria-label={t('reason')}
            placeholder={t('reason')}
            value={reason}
            autoFocus
            dir="auto"
            onChange={(event) => {
              setReason(event.target.value);
            }}
          />
          <button type="submit" disabled={reason.trim() === ''}>
            {t('keep')}
          </button>
        </form>
      ) : (
        <button
          type="button"
          onClick={() => {
            setOpen(true);
          }}
        >
          {t('keepAnyway')}
        </button>
      )}
    </div>
  );
}
