// The answers of one interview in the order of asking, with what was found, cleaned and remarked at each.
import { Input } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../../../shared/api/client';
import { text } from '../../ui/text';
import { CellHistory, type CellPlace } from '../clean/CellHistory';
import { useMay } from '../../ui/study';
import { t } from '../../texts/texts';
import { Words } from '../../texts/Words';

type Data = Schemas['Reading'];
type AnswerLine = Schemas['AnswerLine'];

interface Props {
  data: Data;
  /** Remarks written so far, by path; null where nobody may send back. */
  remarks: Record<string, string> | null;
  onRemark: (path: string, words: string) => void;
}

const headingOf = (line: AnswerLine): string =>
  line.around
    .map((a) =>
      a.kind === 'roster' ? t('interviews.rowOf', { title: a.title, row: a.row ?? 0, rows: a.rows ?? 0 }) : a.title,
    )
    .join(' · ');

export function Answers({ data, remarks, onRemark }: Props) {
  const [onlyFound, setOnlyFound] = useState(false);
  const lines = onlyFound
    ? data.answers.filter(
        (a) => a.broken > 0 || a.edits.length > 0 || a.remark !== '' || data.findings.some((f) => f.path === a.path),
      )
    : data.answers;
  const headings = lines.map(headingOf);
  const [cell, setCell] = useState<CellPlace | null>(null);
  const mayLookBack = useMay()('analyse.read') && data.questionnaire_id !== null && !data.practice;
  return (
    <div className="sheet">
      <div className="sheet-head row">
        <h2>{t('interviews.answers')}</h2>
        <span className="muted small">{t('interviews.orderOfAsking', { release: data.release ?? '–' })}</span>
        <span className="grow" />
        <button
          type="button"
          className="plain-link"
          aria-pressed={onlyFound}
          onClick={() => {
            setOnlyFound(!onlyFound);
          }}
        >
          {onlyFound ? t('interviews.showAll') : t('interviews.onlyWhatWasFound')}
        </button>
      </div>
      {lines.map((line, i) => (
        <div key={line.path}>
          {headings[i] !== headings[i - 1] && <h3 className="reading-head">{headings[i]}</h3>}
          {line.kind !== 'statement' && (
            <Answer
              interview={data.id}
              line={line}
              onHistory={
                mayLookBack
                  ? () => {
                      setCell({ interview: data.key, ...cellOf(line.path) });
                    }
                  : null
              }
              findings={data.findings.filter((f) => f.path === line.path)}
              remark={remarks === null ? null : (remarks[line.path] ?? '')}
              onRemark={(words) => {
                onRemark(line.path, words);
              }}
            />
          )}
        </div>
      ))}
      {!onlyFound &&
        data.remarks.map((remark) => (
          <p key={remark.path} className="pad small">
            <code className="muted">{remark.path}</code> {t('interviews.remarked', { words: remark.text })}
          </p>
        ))}
      {lines.length === 0 && <p className="pad muted">{t('interviews.nothingWasFoundNothing')}</p>}
      {cell !== null && data.questionnaire_id !== null && (
        <CellHistory
          id={data.questionnaire_id}
          studyId={data.study_id}
          cell={cell}
          onClose={() => {
            setCell(null);
          }}
        />
      )}
    </div>
  );
}

/** The cell of the data set that an answer stands in: `staff/1/age` is age in row 1. */
function cellOf(path: string): { variable: string; row: string[] } {
  const pieces = path.split('/');
  return { variable: pieces.at(-1) ?? '', row: pieces.slice(0, -1).filter((_, at) => at % 2 === 1) };
}

interface AnswerProps {
  interview: number;
  line: AnswerLine;
  findings: Record<string, unknown>[];
  remark: string | null;
  onRemark: (words: string) => void;
  /** Opens all that happened to the answer; null for whoever may not see that. */
  onHistory: (() => void) | null;
}

function Answer({ interview, line, findings, remark, onRemark, onHistory }: AnswerProps) {
  const edit = line.edits.at(-1);
  return (
    <div className="reading-line" id={`at-${line.path}`}>
      {onHistory === null ? (
        <code className="muted">{line.variable}</code>
      ) : (
        <button
          type="button"
          className="plain-link variable-link"
          title={t('interviews.whatHappened')}
          onClick={onHistory}
        >
          <code>{line.variable}</code>
        </button>
      )}
      <span>
        {line.wording}
        {remark !== null && <RemarkField words={remark} path={line.path} onChange={onRemark} />}
      </span>
      <span>
        {edit ? (
          <>
            <b>{text(edit.after)}</b> <s className="muted">{text(edit.before)}</s>
            <span className="reading-note">
              {t('interviews.cleaned', {
                by: text(edit.by),
                reason: text(edit.reason) || text(edit.kind).replace('_', ' '),
              })}
            </span>
          </>
        ) : line.state === 'special' ? (
          <i>{line.answer}</i>
        ) : line.answer === '' ? (
          <span className="muted">{t('common.unanswered')}</span>
        ) : (
          <b>{line.answer}</b>
        )}
        {line.file != null && <FileShown interview={interview} file={line.file} wording={line.wording} />}
        {line.remark !== '' && <span className="reading-note">{t('interviews.remarked', { words: line.remark })}</span>}
        {findings.map((f, i) => (
          <span key={i} className={`reading-note ${f.strength === 'must' ? 'bad' : 'doubt'}`}>
            {text(f.message)}
            {text(f.kept) !== '' && ` · ${t('interviews.keptBecause', { kept: text(f.kept) })}`}
          </span>
        ))}
      </span>
    </div>
  );
}

/** What the enumerator should look at again in this question; it goes along when the interview is sent back. */
function RemarkField({ words, path, onChange }: { words: string; path: string; onChange: (words: string) => void }) {
  const [open, setOpen] = useState(false);
  if (!open && words === '')
    return (
      <>
        {' '}
        <button
          type="button"
          className="plain-link small remark-add"
          onClick={() => {
            setOpen(true);
          }}
        >
          {t('interviews.remark')}
        </button>
      </>
    );
  return (
    <span className="reading-remark">
      <Input
        size="small"
        autoFocus={open}
        prefix="◁"
        aria-label={t('interviews.remark2', { path })}
        placeholder={t('interviews.whatLookAgain')}
        value={words}
        onChange={(event) => {
          onChange(event.target.value);
        }}
        onBlur={() => {
          setOpen(false);
        }}
      />
    </span>
  );
}

function FileShown({ interview, file, wording }: { interview: number; file: Schemas['FileOut']; wording: string }) {
  const address = `/api/interviews/${String(interview)}/files/${file.hash}`;
  if (!file.there) return <span className="reading-note doubt">{t('interviews.fileItselfHasNot')}</span>;
  if (file.shown)
    return (
      <a href={address} target="_blank" rel="noreferrer">
        <img className="reading-photo" loading="lazy" src={`${address}/preview`} alt={wording} />
      </a>
    );
  if (file.type.startsWith('audio/'))
    return (
      <audio className="reading-photo" controls preload="none" src={address}>
        <track kind="captions" />
      </audio>
    );
  if (file.type.startsWith('video/'))
    return (
      <video className="reading-photo" controls preload="none" src={address}>
        <track kind="captions" />
      </video>
    );
  return (
    <span className="reading-note">
      <Words
        k="interviews.takeOutKb"
        values={{ value: Math.max(1, Math.round(file.bytes / 1000)) }}
        parts={{ a: <Link to={address} target="_blank" rel="noreferrer" /> }}
      />
    </span>
  );
}
