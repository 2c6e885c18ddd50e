// Lines on the clipboard: for Skavo as they are, for a spreadsheet as cells with the workbook's headings.
import type { Schemas } from '../../../../shared/api/client';
import { withInside, type Part, type Script } from '../script/model';

export type Fragment = Schemas['Fragment'];

const LINES = 'application/x-skavo-lines';

/** The chosen lines with everything inside them and the lists that they use. */
export function fragmentOf(script: Script, chosen: ReadonlySet<string>): Fragment {
  const parts = withInside(script.parts, chosen);
  const [lists, units] = [new Set(parts.map((p) => p.code_list)), new Set(parts.map((p) => p.unit))];
  return {
    languages: script.languages,
    parts,
    code_lists: script.code_lists.filter((list) => lists.has(list.name)),
    unit_lists: script.unit_lists.filter((list) => units.has(list.name)),
  };
}

export function copyLines(to: DataTransfer, fragment: Fragment): void {
  to.setData(LINES, JSON.stringify(fragment));
  to.setData(
    'text/plain',
    cellsOf(fragment)
      .map((row) => row.map((cell) => quoted(guarded(cell))).join('\t'))
      .join('\n'),
  );
}

/** The lines that were copied in Skavo, or null. */
export function copiedLines(from: DataTransfer): Fragment | null {
  const text = from.getData(LINES);
  if (text === '') return null;
  try {
    return JSON.parse(text) as Fragment;
  } catch {
    return null;
  }
}

const PLAIN: [heading: string, cell: (part: Part) => string][] = [
  ['Level', (p) => String(p.level)],
  ['Kind', (p) => p.kind],
  ['Variable', (p) => p.variable],
  ['Code list', (p) => p.code_list],
  ['Code filter', (p) => p.code_filter],
  ['Asked when', (p) => p.asked_when],
  ['Repeated', (p) => p.repeated],
  ['Derived', (p) => p.derived],
  ['Default', (p) => p.default],
  ['Answer needed', (p) => p.answer_needed],
  ['Special answers', (p) => p.special_answers.map((s) => (s === 'dont_know' ? "don't know" : s)).join(', ')],
  ['Mask', (p) => p.mask],
  ['Unit', (p) => p.unit],
  ['Least', (p) => String(p.least ?? '')],
  ['Most', (p) => String(p.most ?? '')],
  ['Reads back', (p) => p.reads_back],
  ['Register', (p) => p.register_name],
  ['Fills', (p) => p.fills],
  ['Sensitive', (p) => (p.sensitive ? 'yes' : '')],
  ['Read aloud', (p) => (p.read_aloud ? '' : 'no')],
  ['Order', (p) => p.order],
  ['Media', (p) => p.media.join('; ')],
  ['Remark', (p) => p.remark],
];

/** Rows of cells, headings first, with the columns that hold anything. */
export function cellsOf({ languages, parts }: Fragment): string[][] {
  const columns: typeof PLAIN = [
    ...PLAIN.slice(0, 3),
    ...languages.map((tag): (typeof PLAIN)[number] => [`Wording [${tag}]`, (p) => p.wording[tag] ?? '']),
    ...languages.map((tag): (typeof PLAIN)[number] => [`Instruction [${tag}]`, (p) => p.instruction[tag] ?? '']),
    ...PLAIN.slice(3),
    ...checks('Must hold', 'must_hold', languages, parts),
    ...checks('Should hold', 'should_hold', languages, parts),
  ];
  const said = columns.filter(([, cell], i) => i < 3 || parts.some((part) => cell(part) !== ''));
  return [said.map(([heading]) => heading), ...parts.map((part) => said.map(([, cell]) => cell(part)))];
}

function checks(heading: string, field: 'must_hold' | 'should_hold', languages: string[], parts: Part[]): typeof PLAIN {
  const most = Math.max(0, ...parts.map((part) => part[field].length));
  return Array.from({ length: most }, (_, i): typeof PLAIN => {
    const numbered = i === 0 ? heading : `${heading} ${String(i + 1)}`;
    return [
      [numbered, (p) => p[field][i]?.rule ?? ''],
      ...languages.map((tag): (typeof PLAIN)[number] => [
        `${numbered} message [${tag}]`,
        (p) => p[field][i]?.message[tag] ?? '',
      ]),
    ];
  }).flat();
}

/** No spreadsheet takes it for a formula; reading takes the sign away again. */
const guarded = (cell: string): string => (/^[=+\-@']/.test(cell) ? `'${cell}` : cell);

const quoted = (cell: string): string => (/["\t\n\r]/.test(cell) ? `"${cell.replace(/"/g, '""')}"` : cell);

/** Cells as a spreadsheet puts them on the clipboard: tabs between them, quoted where they hold a tab or a new line. */
export function cellsIn(text: string): string[][] {
  const rows: string[][] = [[]];
  let cell = '';
  let inside = false;
  for (let i = 0; i < text.length; i += 1) {
    const sign = text[i];
    if (inside) {
      if (sign === '"' && text[i + 1] === '"') {
        cell += '"';
        i += 1;
      } else if (sign === '"') inside = false;
      else cell += sign ?? '';
    } else if (sign === '"' && cell === '') inside = true;
    else if (sign === '\t' || sign === '\n' || sign === '\r') {
      if (sign === '\r' && text[i + 1] === '\n') i += 1;
      rows.at(-1)?.push(cell);
      cell = '';
      if (sign !== '\t') rows.push([]);
    } else cell += sign ?? '';
  }
  rows.at(-1)?.push(cell);
  return rows.filter((row) => row.some((c) => c.trim() !== ''));
}
