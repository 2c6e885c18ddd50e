// What may come next in a rule.
import type { CompletionSource } from '@codemirror/autocomplete';

export interface Name {
  name: string;
  detail: string;
}

const WORDS = [
  'is',
  'is not',
  'is one of ()',
  'is none of ()',
  'between',
  'and',
  'or',
  'not',
  'includes',
  'includes any of ()',
  'is answered',
  'is missing',
  'is not known',
  'is refused',
  'was asked',
  'matches ""',
  'if',
  'then',
  'else',
  'yes',
  'no',
  'today',
  'row',
  'count()',
  'sum()',
  'mean()',
  'any()',
  'every()',
  'where',
  'round()',
  'years()',
  'year()',
];

/** Variables and words of the rule language, as soon as a word is begun. */
export const completeRule =
  (names: Name[]): CompletionSource =>
  (context) => {
    const word = context.matchBefore(/[a-z_][a-z0-9_]*/i);
    if (!word && !context.explicit) return null;
    const typed = word?.text ?? '';
    const variables = names.map((n) => ({ label: n.name, detail: n.detail, type: 'variable' }));
    const words = WORDS.map((w) => ({ label: w, type: 'keyword' }));
    const options = [...variables, ...words];
    // Nothing is left to complete: Enter and Tab mean what they always do.
    const begun = options.filter((option) => option.label.startsWith(typed));
    if (!context.explicit && begun.length === 1 && begun[0]?.label === typed) return null;
    return { from: word?.from ?? context.pos, options, validFor: (text) => !options.some((o) => o.label === text) };
  };
