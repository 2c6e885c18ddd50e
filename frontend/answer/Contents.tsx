// All sections with how far each is; one may go to those that were reached.
import type { OverviewLine } from '../shared/engine/types';
import { headingOf } from '../shared/interview/headings';
import type { textsIn } from '../shared/interview/texts';

export interface Section {
  title: string;
  paths: string[];
  answered: number;
  questions: number;
  toMend: number;
}

/** Neighbouring lines that stand in the same section, or in the same row of a roster. */
export function sectionsOf(lines: OverviewLine[], words: ReturnType<typeof textsIn>): Section[] {
  const sections: Section[] = [];
  for (const line of lines) {
    const title = headingOf(line.around, words);
    let section = sections.at(-1);
    if (section?.title !== title) {
      section = { title, paths: [], answered: 0, questions: 0, toMend: 0 };
      sections.push(section);
    }
    section.paths.push(line.path);
    if (line.kind === 'statement') continue;
    section.questions += 1;
    if (line.state !== 'open') section.answered += 1;
    if (line.broken > 0) section.toMend += 1;
  }
  return sections;
}

interface Props {
  sections: Section[];
  here: number;
  title: string;
  onGo: (path: string) => void;
}

export function Contents({ sections, here, title, onGo }: Props) {
  return (
    <nav className="answering-contents" aria-label={title}>
      <ol>
        {sections.map((section, i) => (
          <li key={section.paths[0]}>
            <button
              type="button"
              aria-current={i === here ? 'step' : undefined}
              onClick={() => {
                onGo(section.paths[0] ?? '');
              }}
            >
              <span>{section.title === '' ? '–' : section.title}</span>
              <span
                className={section.toMend > 0 && (here === -1 || i < here) ? 'answering-count bad' : 'answering-count'}
              >
                {section.questions > 0 && `${String(section.answered)}/${String(section.questions)}`}
              </span>
            </button>
          </li>
        ))}
      </ol>
    </nav>
  );
}
