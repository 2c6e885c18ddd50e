// Cells of a spreadsheet pasted into a list: one column of labels, or codes with their labels and attributes.
import { emptyCode, type Code } from '../script/model';
import { codeNamed } from '../sheet/answers';

/** Rows of codes; null where the text is a single cell, that goes into its field as usual. */
export function rowsOfCells(text: string, columns: string[], present: Code[], languages: string[]): Code[] | null {
  const rows = text
    .split(/\r?\n/)
    .map((row) => row.split('\t').map((cell) => cell.trim()))
    .filter((row) => row.some((cell) => cell !== ''));
  const width = Math.max(0, ...rows.map((row) => row.length));
  if (rows.length < 2 && width < 2) return null;
  const taken = new Set(present.map((code) => code.code));
  // A single column holds labels; more begin with the code.
  const heads = width === 1 ? [languages[0] ?? 'en'] : columns;
  return rows.map((row, i) => {
    const made = emptyCode();
    row.forEach((cell, c) => {
      const head = heads[c];
      if (head === undefined) return;
      if (head === 'code') made.code = cell;
      else if (head.startsWith('.')) made.attributes[head.slice(1)] = cell;
      else made.label[head] = cell;
    });
    const label = made.label[languages[0] ?? 'en'] ?? '';
    if (made.code === '') made.code = codeNamed(label, taken, String(present.length + i + 1));
    taken.add(made.code);
    return made;
  });
}
