import type { Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { endOf, type Part, type Script } from '../script/model';
import type { Rehearsal } from './rehearsal';

/** The minutes of each block, the longest as wide as there is room; a click goes to it. */
export function BlockTimes({
  blocks,
  timing,
  script,
  partId,
  onGo,
}: {
  blocks: NonNullable<Rehearsal['blocks']>;
  timing: Schemas['TimingOut'] | undefined;
  script: Script;
  partId: string | undefined;
  onGo: (id: string) => void;
}) {
  const taken = new Map(timing?.blocks.map((m) => [m.part, m.seconds / 60]));
  const longest = Math.max(...blocks.map((block) => block.minutes ?? 0), ...taken.values(), 0.1);
  const at = script.parts.findIndex((p) => p.id === partId);
  const holds = (head: string) => {
    const start = script.parts.findIndex((p) => p.id === head);
    return start >= 0 && at >= start && at < endOf(script.parts, start);
  };
  return (
    <section>
      <h3>{t('rehearsal.minutesByBlock')}</h3>
      <ul className={timing ? 'block-times timed' : 'block-times'}>
        {blocks.map((block) => {
          const head = script.parts.find((p) => p.id === block.head);
          return (
            <li key={block.head} className={holds(block.head) ? 'here' : ''}>
              <button
                type="button"
                disabled={!head}
                title={t('rehearsal.metBy', { count: block.interviews, share: Math.round(100 * block.share) })}
                onClick={() => {
                  onGo(block.head);
                }}
              >
                <span className="clip">{head ? titleOf(head, script.languages) : t('rehearsal.gone')}</span>
                <i>
                  <b style={{ width: `${String((100 * (block.minutes ?? 0)) / longest)}%` }} />
                  {taken.has(block.head) && (
                    <b
                      className="measured"
                      style={{ width: `${String((100 * (taken.get(block.head) ?? 0)) / longest)}%` }}
                    />
                  )}
                </i>
                <span className="figure">
                  {block.minutes === null ? t('questionnaire.never') : block.minutes.toFixed(1)}
                </span>
                {timing && <span className="figure muted">{taken.get(block.head)?.toFixed(1)}</span>}
              </button>
            </li>
          );
        })}
      </ul>
      <p className="muted small">
        {t('rehearsal.assumption')}{' '}
        {timing
          ? t('rehearsal.measuredIn', { count: timing.interviews, practice: timing.practice })
          : t('rehearsal.notMeasured')}
      </p>
    </section>
  );
}

const titleOf = (part: Part, languages: string[]): string =>
  languages.map((tag) => part.wording[tag] ?? '').find((text) => text !== '') ?? (part.variable || part.kind);
