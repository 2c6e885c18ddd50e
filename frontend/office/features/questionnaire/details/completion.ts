// What may come next in a rule: variables, codes by code or label, what is said of a variable of that kind, functions.
import {
  snippetCompletion,
  type Completion,
  type CompletionContext,
  type CompletionSource,
} from '@codemirror/autocomplete';
import type { Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { holdsParts, type Part, type Script } from '../script/model';
import { asWritten } from './picking';

export interface Vocabulary {
  script: Script;
  /** The line that the rule stands in: what is asked later cannot be spoken of. */
  part: Part | undefined;
  functions: Schemas['FunctionWords'][];
}

const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

export const completeRule =
  (words: Vocabulary): CompletionSource =>
  (context) => {
    const typed = context.matchBefore(/[\p{L}_][\p{L}\p{N}_]*/u);
    const before = context.state.sliceDoc(context.state.doc.lineAt(context.pos).from, typed?.from ?? context.pos);
    const codes = codesAfter(words.script, before);
    const verbs = codes.length === 0 ? verbsAfter(words.script, before) : [];
    if (!typed && !context.explicit && codes.length === 0 && verbs.length === 0) return null;
    const options = codes.length > 0 ? codes : [...verbs, ...variables(words), ...functions(words), ...WORDS];
    return offered(options, typed?.text ?? '', typed?.from ?? context.pos, context);
  };

function offered(options: Offer[], typed: string, from: number, context: CompletionContext) {
  const wanted = plain(typed);
  const found = options
    .filter((option) => plain(option.label).startsWith(wanted))
    .concat(options.filter((option) => !plain(option.label).startsWith(wanted) && inside(option, wanted)));
  // Nothing is left to complete: Enter and Tab mean what they always do.
  if (found.length === 0 || (!context.explicit && found.length === 1 && found[0]?.label === typed)) return null;
  return { from, options: found, filter: false };
}

/** By any word of the label of a code, from its third letter on. */
const inside = (option: Offer, wanted: string): boolean =>
  option.by !== undefined &&
  wanted.length > 1 &&
  plain(option.by)
    .split(/\s+/)
    .some((word) => word.startsWith(wanted));

type Offer = Completion & { by?: string };

const AFTER_CODE = /([a-z][a-z0-9_]*)\s+(?:is(?:\s+not)?|includes)\s+$/;
const IN_LIST =
  /([a-z][a-z0-9_]*)\s+(?:is\s+(?:one|none)\s+of|includes\s+(?:any\s+of|all\s+of|only))\s*\((?:[^()]*,)?\s*$/;

/** The codes that may be named here: behind a comparison with something that is answered by codes. */
function codesAfter(script: Script, before: string): Offer[] {
  const name = (AFTER_CODE.exec(before) ?? IN_LIST.exec(before))?.[1];
  const asked = script.parts.find((p) => p.variable === name);
  if (!asked) return [];
  if (asked.kind === 'yes/no') return ['yes', 'no'].map((word) => ({ label: word, type: 'keyword' }));
  const list = script.code_lists.find((l) => l.name === listOf(script, asked));
  const first = script.languages[0] ?? 'en';
  const special = /(?:is(?:\s+not)?)\s+$/.test(before) && !/\bnot\s+$/.test(before) ? STATES : [];
  return [
    ...(list?.codes ?? []).map((code) => {
      const label = code.label[first] ?? Object.values(code.label)[0] ?? '';
      return { label: asWritten(code.code), detail: label, by: label, type: 'enum' };
    }),
    ...(list ? special : []),
  ];
}

const STATES: Offer[] = ['answered', 'missing', 'not known', 'refused'].map((label) => ({ label, type: 'keyword' }));
function listOf(script: Script, asked: Part): string {
  if (asked.code_list !== '') return asked.code_list;
  const at = script.parts.indexOf(asked);
  const around = script.parts.slice(0, at).findLast((p) => p.level < asked.level);
  return around?.kind === 'grid' ? around.code_list : '';
}

const snippet = (template: string, label: string): Completion => snippetCompletion(template, { label, type: 'text' });
const NUMBERS = [
  snippet('between ${1} and ${2}', 'between … and …'),
  snippet('>= ${}', '>='),
  snippet('<= ${}', '<='),
  snippet('> ${}', '>'),
  snippet('< ${}', '<'),
  snippet('is ${}', 'is'),
];
const ANSWERED = ['is answered', 'is missing', 'is not known', 'is refused', 'was asked'].map((label) => ({
  label,
  type: 'keyword',
}));
const VERBS: Record<string, Completion[]> = {
  'whole number': NUMBERS,
  decimal: NUMBERS,
  quantity: NUMBERS,
  instrument: NUMBERS,
  'derived value': NUMBERS,
  'carried value': NUMBERS,
  date: NUMBERS,
  time: NUMBERS,
  'date-time': NUMBERS,
  'yes/no': [
    { label: 'is yes', type: 'keyword' },
    { label: 'is no', type: 'keyword' },
  ],
  'read-back': [
    { label: 'is yes', type: 'keyword' },
    { label: 'is no', type: 'keyword' },
  ],
  'single answer': [
    { label: 'is', apply: 'is ', type: 'keyword' },
    { label: 'is not', apply: 'is not ', type: 'keyword' },
    snippet('is one of (${})', 'is one of (…)'),
    snippet('is none of (${})', 'is none of (…)'),
  ],
  'multiple answer': [
    { label: 'includes', apply: 'includes ', type: 'keyword' },
    snippet('includes any of (${})', 'includes any of (…)'),
    snippet('includes all of (${})', 'includes all of (…)'),
    snippet('includes only (${})', 'includes only (…)'),
  ],
  text: [
    { label: 'is', apply: 'is ', type: 'keyword' },
    snippet('matches "${}"', 'matches "…"'),
    snippet('matches pattern "${}"', 'matches pattern "…"'),
  ],
};

/** What is said of a variable of that kind, right behind it. */
function verbsAfter(script: Script, before: string): Completion[] {
  const name = /(?:^|[\s(])(?:[a-z][a-z0-9_]*\.)?([a-z][a-z0-9_]*)\s+$/.exec(before)?.[1];
  const asked = script.parts.find((p) => p.variable !== '' && p.variable === name);
  if (!asked || holdsParts(asked)) return [];
  return [...(VERBS[asked.kind] ?? []), ...ANSWERED];
}

/** Those asked before the rule first, the nearest on top; what stands in a roster of its own comes with it. */
function variables({ script, part }: Vocabulary): Offer[] {
  const here = part === undefined ? script.parts.length : script.parts.findIndex((p) => p.id === part.id);
  const first = script.languages[0] ?? 'en';
  const named = script.parts
    .map((p, i) => ({ p, i }))
    .filter(({ p }) => p.variable !== '' && p.kind !== 'section' && p.kind !== 'statement' && p.kind !== 'grid');
  const order = (i: number) => (i <= here ? here - i : script.parts.length + i);
  return named
    .sort((a, b) => order(a.i) - order(b.i))
    .map(({ p, i }) => ({
      label: p.variable,
      detail: i > here && !holdsParts(p) ? `${p.kind} · ${t('questionnaire.askedLater')}` : p.kind,
      info: p.wording[first] ?? '',
      type: 'variable',
    }));
}

const functions = ({ functions: known }: Vocabulary): Completion[] =>
  known.map((f) =>
    snippetCompletion(f.over_rows && ROW_TESTS.has(f.name) ? `${f.name}(\${roster} where \${})` : `${f.name}(\${})`, {
      label: `${f.name}()`,
      detail: f.words,
      type: 'function',
    }),
  );
const ROW_TESTS = new Set(['any', 'every']);

const WORDS: Completion[] = [
  ...['and', 'or', 'not', 'yes', 'no', 'where', 'today', 'now', 'row'].map((label) => ({ label, type: 'keyword' })),
  snippetCompletion('if ${condition} then ${} else ${}', { label: 'if … then … else …', type: 'keyword' }),
  { label: 'earlier.', detail: t('questionnaire.earlierRound'), type: 'keyword' },
];
