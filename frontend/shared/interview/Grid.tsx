// A grid where there is room for one: a line for each question, a column for each code.
import { useId } from 'react';
import type { Json, Screen } from '../engine/types';
import { FindingNote } from './FindingNote';
import type { InterviewText } from './texts';

interface Props {
  lines: Screen[];
  t: (key: InterviewText, values?: Record<string, string | number>) => string;
  showNeeded: boolean;
  onAnswer: (path: string, value: Json) => void;
  onKeep: (path: string, check: number, reason: string) => void;
}

/** Questions that need more than a tick beside their wording do not stand in a table. */
export const standsInGrid = (lines: Screen[]): boolean =>
  lines.length > 1 && lines.every((line) => line.codes.length > 0 && line.codes_left === 0);

export function Grid({ lines, t, showNeeded, onAnswer, onKeep }: Props) {
  const id = useId();
  const codes = lines[0]?.codes ?? [];
  const title = lines[0]?.around.at(-1)?.title ?? '';
  return (
    <div className="question grid-question">
      <h1 className="question-wording" id={id}>
        {title}
      </h1>
      <table aria-labelledby={id}>
        <thead>
          <tr>
            <th />
            {codes.map((code) => (
              <th key={code.code} scope="col">
                {code.label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => {
            const wording = line.wording.map((piece) => piece.text).join('');
            const chosen = Array.isArray(line.value) ? line.value : [line.value];
            const many = line.kind === 'multiple answer';
            const shown = line.findings.filter((f) => f.code !== 'needed' || showNeeded);
            const offered = new Set(line.codes.map((code) => code.code));
            return (
              <tr key={line.path} className={shown.length > 0 ? 'wrong' : undefined}>
                <th scope="row">
                  {wording}
                  {shown.map((finding) => (
                    <FindingNote
                      key={`${finding.code}${String(finding.check)}`}
                      finding={finding}
                      t={t}
                      onKeep={(check, reason) => {
                        onKeep(line.path, check, reason);
                      }}
                    />
                  ))}
                </th>
                {codes.map((code) => (
                  <td key={code.code}>
                    <label>
                      <input
                        type={many ? 'checkbox' : 'radio'}
                        name={`${id}${line.path}`}
                        aria-label={`${wording}: ${code.label}`}
                        disabled={!offered.has(code.code)}
                        checked={chosen.includes(code.code)}
                        onChange={() => {
                          onAnswer(line.path, many ? toggled(line, code.code) : code.code);
                        }}
                      />
                    </label>
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

/** Many answers with one more or less; one that goes with no other stands alone. */
export function toggled(screen: Screen, code: string): Json {
  const chosen = Array.isArray(screen.value) ? screen.value.filter((v): v is string => typeof v === 'string') : [];
  const exclusive = new Set(screen.codes.filter((c) => c.exclusive).map((c) => c.code));
  if (chosen.includes(code)) {
    const left = chosen.filter((c) => c !== code);
    return left.length > 0 ? left : null;
  }
  return exclusive.has(code) ? [code] : [...chosen.filter((c) => !exclusive.has(c)), code];
}
