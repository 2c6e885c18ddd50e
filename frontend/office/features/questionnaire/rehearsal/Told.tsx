import { GoTo } from './OrderedWork';

/** What the proof found of one kind, each with the question it is about. */
export function Told({
  title,
  tone,
  lines,
  onGo,
}: {
  title: string;
  tone: 'bad' | 'doubt';
  lines: { variable: string; text: string }[];
  onGo: (variable: string) => void;
}) {
  if (lines.length === 0) return null;
  return (
    <section className="told">
      <h3 className={tone}>
        {title} <span className="muted small">{lines.length}</span>
      </h3>
      {lines.map((line, i) => (
        <p key={i}>
          <GoTo variable={line.variable} onGo={onGo} /> {line.text}
        </p>
      ))}
    </section>
  );
}
