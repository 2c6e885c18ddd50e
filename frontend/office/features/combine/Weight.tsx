// What a comparison is worth, as a bar to either side.
const HALF = 45;

export function Weight({ bits, most }: { bits: number; most: number }) {
  const width = (HALF * Math.abs(bits)) / most;
  return (
    <span className="weight" aria-hidden>
      <i className={bits < 0 ? 'against' : ''} style={{ insetInlineStart: bits < 0 ? HALF - width : HALF, width }} />
    </span>
  );
}
