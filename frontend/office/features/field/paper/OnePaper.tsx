// One paper as it is keyed: question after question, with whatever is typed ahead of the engine.
import { Alert, Button } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Problem, type Schemas } from '../../../../shared/api/client';
import { theEngine } from '../../../../shared/engine/client';
import type { Json } from '../../../../shared/engine/types';
import { directionOf } from '../../../../shared/interview/languages';
import { headingOf } from '../../../../shared/interview/headings';
import { textsIn } from '../../../../shared/interview/texts';
import { useSections, type Shown } from '../../../../shared/interview/useSections';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import { useStudy } from '../../../ui/study';
import { KeyRow } from './KeyRow';
import type { Batch, BatchRelease, Paper } from './paper';
import { useKeeping } from './useKeeping';

type Keyed = Schemas['KeyedOut'];

export const SESSION = 'keying';
/** What stands on the paper is taken as it is. */
const KEYED = { isLax: true, withLines: false };

interface Ahead {
  text: string;
  ended: boolean;
}

function put(box: HTMLInputElement, text: string): void {
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set?.call(box, text);
  box.dispatchEvent(new Event('input', { bubbles: true }));
}

interface OnePaperProps {
  batch: Batch;
  release: BatchRelease;
  paper: Paper;
  first: Shown;
  onEnd: (keyed: Keyed) => void;
  onLeave: () => void;
}

const boxes = (): HTMLInputElement[] => [...document.querySelectorAll<HTMLInputElement>('.keying input[data-key]')];

export function OnePaper({ batch, release, paper, first, onEnd, onLeave }: OnePaperProps) {
  const study = useStudy();
  const keeping = useKeeping(paper);
  const filling = useSections(SESSION, first, keeping.keep, KEYED);
  const { page } = filling;
  const words = textsIn(batch.language);
  const [atEnd, setAtEnd] = useState(false);
  const [problem, setProblem] = useState('');
  const buffer = useRef<HTMLInputElement>(null);
  /** What is typed while the engine is busy: an answer each, the last one perhaps not ended yet. */
  const queue = useRef<Ahead[]>([]);
  const busy = useRef(false);

  useEffect(() => {
    boxes()[0]?.focus();
  }, []);

  /** To a box, with what was typed while there was none to type into. */
  const goTo = (box: HTMLInputElement | undefined) => {
    if (box === undefined) return;
    const typed = queue.current.shift();
    // More may follow what is typed already: it is still caught ahead.
    if (typed === undefined) box.focus();
    box.scrollIntoView({ block: 'nearest' });
    busy.current = false;
    if (typed !== undefined) type(box, typed);
  };

  /** As if it were typed now, sign by sign: where an answer is whole before its end, the rest belongs to the next one. */
  const type = (box: HTMLInputElement, { text, ended }: Ahead) => {
    const signs = Array.from(text);
    for (let i = 0; i < signs.length; i += 1) {
      put(box, signs.slice(0, i + 1).join(''));
      if (!busy.current) continue;
      const rest = signs.slice(i + 1).join('');
      if (rest !== '' || ended) queue.current.unshift({ text: rest, ended });
      return;
    }
    if (ended) box.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
    else box.focus();
  };

  const onNext = async (path: string, value: Json | undefined) => {
    if (value !== undefined) {
      await filling.answer(path, value);
      if (await isBroken(path)) {
        // What breaks a check is looked at once more; Enter takes it as it stands on the paper.
        await painted();
        queue.current = [];
        boxes()
          .find((box) => box.dataset.key === path)
          ?.focus();
        return;
      }
    }
    // The boxes are those of the page as it is after the answer.
    await painted();
    const all = boxes();
    const here = all.findIndex((box) => box.dataset.key === path);
    if (here + 1 < all.length) {
      goTo(all[here + 1]);
      return;
    }
    const onward = await filling.onward();
    if (onward === 'stopped') return;
    if (onward.path === null) {
      setAtEnd(true);
      return;
    }
    await filling.go(onward.path);
    await painted();
    goTo(boxes()[0]);
  };

  const onBack = async (path: string) => {
    const all = boxes();
    const here = all.findIndex((box) => box.dataset.key === path);
    if (here > 0) {
      goTo(all[here - 1]);
      return;
    }
    await filling.back();
    await painted();
    goTo(boxes().at(-1));
  };

  const end = async () => {
    setProblem('');
    try {
      await filling.settled();
      onEnd(await keeping.end());
    } catch (error) {
      setProblem(messageOf(error));
      // Somebody dropped it meanwhile: there is nothing to go on with.
      if (error instanceof Problem && error.code === 'not_found') onLeave();
    }
  };

  const section = headingOf(page[0]?.around ?? [], words);
  return (
    <section className="keying sheet pad" dir={directionOf(batch.language)} lang={batch.language}>
      <header className="row">
        <h2 className="grow">
          {t('keying.paperWhich', { number: paper.number })}
          {paper.turn === 2 && <span className="muted"> · {t('keying.second')}</span>}
        </h2>
        <progress aria-label={words('progress')} max={1} value={atEnd ? 1 : (page[0]?.progress ?? 0)} />
        <Button size="small" type="text" onClick={onLeave}>
          {t('keying.goOnLater')}
        </Button>
      </header>
      {(keeping.trouble !== '' || problem !== '' || filling.trouble !== null) && (
        <Alert
          type="error"
          showIcon
          title={
            problem !== '' ? problem : t('keying.notKept', { why: keeping.trouble || (filling.trouble?.message ?? '') })
          }
        />
      )}
      {atEnd ? (
        <div className="key-end">
          <p>{t('keying.allKeyed')}</p>
          <Button type="primary" autoFocus onClick={() => void end()}>
            {t('keying.endPaper')}
          </Button>{' '}
          <Button
            onClick={() => {
              setAtEnd(false);
              void painted().then(() => {
                goTo(boxes().at(-1));
              });
            }}
          >
            {t('keying.back')}
          </Button>
        </div>
      ) : (
        <>
          <h3>{section}</h3>
          {page.map((screen) => (
            <KeyRow
              key={`${screen.path} ${JSON.stringify(screen.value)}${screen.special ?? ''}`}
              screen={screen}
              number={release.numbers[screen.variable]}
              timeZone={study.time_zone}
              findCodes={(typed) => filling.findCodes(typed, screen.path)}
              onNext={(path, value) => void onNext(path, value)}
              onBack={(path) => void onBack(path)}
              onBusy={() => {
                busy.current = true;
                buffer.current?.focus();
              }}
              onSlip={() => {
                queue.current = [];
              }}
            />
          ))}
          <input
            ref={buffer}
            className="key-ahead"
            aria-hidden
            tabIndex={-1}
            value=""
            onChange={(event) => {
              const last = queue.current.at(-1);
              if (last === undefined || last.ended) queue.current.push({ text: event.target.value, ended: false });
              else last.text += event.target.value;
            }}
            onKeyDown={(event) => {
              if (event.key === 'Enter' || event.key === 'Tab') {
                event.preventDefault();
                const last = queue.current.at(-1);
                if (last === undefined || last.ended) queue.current.push({ text: '', ended: true });
                else last.ended = true;
              }
            }}
          />
        </>
      )}
    </section>
  );
}

/** Whether an answer breaks a check, other than by being missing. */
async function isBroken(path: string): Promise<boolean> {
  const { findings } = await theEngine().call('show', SESSION, path);
  return findings.some((finding) => finding.code !== 'needed');
}

/** Resolves once what was set is on the screen. */
const painted = (): Promise<void> =>
  new Promise((resolve) => {
    window.requestAnimationFrame(() => {
      window.setTimeout(resolve, 0);
    });
  });
