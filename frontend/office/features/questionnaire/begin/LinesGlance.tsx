import { t } from '../../../texts/texts';
import { answerWords, holdsParts, type Kind, type Part, type Script } from '../script/model';

interface Props {
  script: Pick<Script, 'parts' | 'code_lists' | 'languages' | 'unit_lists'>;
  kinds: Kind[];
  most: number;
}

/** What comes out: the first lines as the sheet will show them. */
export function LinesGlance({ script, kinds, most }: Props) {
  const glyphs = new Map(kinds.map((kind) => [kind.name, kind.glyph]));
  const lines = script.parts.slice(0, most);
  return (
    <div className="glance">
      <table>
        <tbody>
          {lines.map((part) => (
            <tr key={part.id} className={holdsParts(part) ? 'holds' : ''}>
              <td className="script-kind">{glyphs.get(part.kind) ?? ''}</td>
              <td style={{ paddingInlineStart: 4 + 12 * (part.level - 1) }}>{wordingOf(part, script.languages)}</td>
              <td>
                <code>{part.variable}</code>
              </td>
              <td className="muted">{part.kind === 'section' ? '' : answerWords(part, script)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {script.parts.length > most && (
        <p className="muted small">{t('questionnaire.pasteMore', { count: script.parts.length - most })}</p>
      )}
    </div>
  );
}

const wordingOf = (part: Part, languages: string[]): string =>
  languages.map((tag) => part.wording[tag]).find((text) => text !== undefined && text !== '') ?? '';

export const questionsOf = (parts: Part[], kinds: Kind[]): number => {
  const numbered = new Set(kinds.filter((kind) => kind.numbered).map((kind) => kind.name));
  return parts.filter((part) => numbered.has(part.kind)).length;
};
