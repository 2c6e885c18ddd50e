import { t } from '../../../texts/texts';
import { endOf, type Part, type Script } from '../script/model';
import type { Rehearsal } from './rehearsal';

/** The minutes of each block, the longest as wide as there is room; a click goes to it. */
export function BlockTimes({
  blocks,
  script,
  partId,
  onGo,
}: {
  blocks: NonNullable<Rehearsal['blocks']>;
  script: Script;
  partId: string | undefined;
  onGo: (id: string) => void;
}) {
  const longest = Math.max(...blocks.map((block) => block.minutes ?? 0), 0.1);
  const at = script.parts.findIndex((p) => p.id === partId);
  const holds = (head: string) => {
    const start = script.parts.findIndex((p) => p.id === head);
    return start >= 0 && at >= start && at < endOf(script.parts, start);
  };
  return (
    <section>
      <h3>{t('rehearsal.minutesByBlock')}</h3>
      <ul className="block-times">
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
                </i>
                <span className="figure">
                  {block.minutes === null ? t('questionnaire.never') : block.minutes.toFixed(1)}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
      <p className="muted small">{t('rehearsal.assumption')}</p>
    </section>
  );
}

const titleOf = (part: Part, languages: string[]): string =>
  languages.map((tag) => part.wording[tag] ?? '').find((text) => text !== '') ?? (part.variable || part.kind);
