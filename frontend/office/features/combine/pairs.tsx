// Two rows that may be the same unit, held side by side: what each comparison found and is worth, and the keys that decide.
import { Button } from 'antd';
import { useEffect, type ReactNode } from 'react';
import { t } from '../../texts/texts';
import { inTwenty, signed } from './outside';

export interface Part {
  name: string;
  title?: string;
  left: string;
  right: string;
  found: string;
  bits: number;
}

interface SheetProps {
  /** What both columns are called. */
  left: ReactNode;
  right: ReactNode;
  parts: Part[];
  /** The most bits that any comparison can be worth: the length of a whole bar. */
  most: number;
  prior: number;
  priorMeans: string;
  total: number;
  chance: number;
}

const HALF = 45;

export function PairSheet({ left, right, parts, most, prior, priorMeans, total, chance }: SheetProps) {
  return (
    <div className="sheet pair-sheet">
      <table>
        <thead>
          <tr>
            <th />
            <th>{left}</th>
            <th>{right}</th>
            <th>{t('combine.likeness')}</th>
            <th />
            <th className="n">{t('combine.weight')}</th>
          </tr>
        </thead>
        <tbody>
          {parts.map((part) => (
            <tr key={part.name}>
              <th scope="row" title={part.title}>
                {part.name}
              </th>
              <Cell text={part.left} />
              <Cell text={part.right} />
              <td className="small muted">{part.found}</td>
              <td>
                <Weight bits={part.bits} most={most} />
              </td>
              <td className={`n ${part.bits > 0 ? 'for' : part.bits < 0 ? 'bad' : 'muted'}`}>{signed(part.bits)}</td>
            </tr>
          ))}
          <tr className="prior">
            <th scope="row" colSpan={3}>
              {t('combine.prior')}
            </th>
            <td className="small muted" colSpan={2}>
              {priorMeans}
            </td>
            <td className="n muted">{signed(prior)}</td>
          </tr>
        </tbody>
      </table>
      <p className="pair-sum">
        <b>{signed(total)}</b> <span className="muted">{t('combine.inAll', { times: inTwenty(chance) })}</span>
      </p>
    </div>
  );
}

const Cell = ({ text }: { text: string }) => (
  <td className="cell">{text === '' ? <span className="muted small">{t('common.nothing')}</span> : text}</td>
);

function Weight({ bits, most }: { bits: number; most: number }) {
  const width = (HALF * Math.abs(bits)) / most;
  return (
    <span className="weight" aria-hidden>
      <i className={bits < 0 ? 'against' : ''} style={{ insetInlineStart: bits < 0 ? HALF - width : HALF, width }} />
    </span>
  );
}

export interface Verdict {
  letter: string;
  words: string;
  say: () => void;
}

/** The ways to decide a pair, the first of which is the usual one. */
export function Verdicts({ verdicts, children }: { verdicts: Verdict[]; children?: ReactNode }) {
  return (
    <div className="row verdicts">
      {verdicts.map(({ letter, words, say }, at) => (
        <Button key={letter} size="large" type={at === 0 ? 'primary' : 'default'} onClick={say}>
          {words} <kbd>{letter}</kbd>
        </Button>
      ))}
      <span className="grow" />
      {children}
    </div>
  );
}

/** What single letters do on a page, where nobody is writing. */
export function useLetters(acts: { letter: string; say: () => void }[]) {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
      if (event.target instanceof Element && event.target.closest('input, textarea, [role=dialog]')) return;
      acts.find((act) => act.letter.toLowerCase() === event.key.toLowerCase())?.say();
    };
    document.addEventListener('keydown', onKey);
    return () => {
      document.removeEventListener('keydown', onKey);
    };
  });
}
