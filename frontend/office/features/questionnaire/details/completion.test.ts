import { CompletionContext, type CompletionResult } from '@codemirror/autocomplete';
import { EditorState } from '@codemirror/state';
import { describe, expect, it } from 'vitest';
import { newCodeList, newPart, type Part, type Script } from '../script/model';
import { completeRule } from './completion';

const line = (variable: string, kind: string, more: Partial<Part> = {}): Part => ({
  ...newPart(1, kind),
  id: variable,
  variable,
  ...more,
});
const code = (name: string, label: string) => ({
  code: name,
  label: { en: label },
  specify: false,
  exclusive: false,
  media: [],
  attributes: {},
});
const script: Script = {
  name: 'q',
  title: {},
  languages: ['en'],
  parts: [
    line('trade', 'single answer', { code_list: 'trade' }),
    line('tools', 'multiple answer', { code_list: 'trade' }),
    line('opinions', 'grid', { code_list: 'trade' }),
    line('first', 'single answer', { level: 2 }),
    line('workers', 'whole number'),
    line('open_now', 'yes/no'),
    line('here', 'text'),
    line('later', 'whole number'),
  ],
  code_lists: [
    newCodeList('trade', [code('smith', 'Blacksmith'), code('refused', 'Would not say'), code('two words', 'École')]),
  ],
  unit_lists: [],
  phone_words: {},
  paradata: { device: true, place: false, timing: true, told_by: '' },
};
const functions = [
  { name: 'distance', parameters: ['point', 'point'], words: 'metres between two points', over_rows: false },
];

function offered(text: string, explicit = false): string[] {
  const context = new CompletionContext(EditorState.create({ doc: text }), text.length, explicit);
  const part = script.parts.find((p) => p.variable === 'here');
  const found = completeRule({ script, part, functions })(context) as CompletionResult | null;
  return found?.options.map((option) => option.label) ?? [];
}

describe('what may come next in a rule', () => {
  it('behind a comparison: the codes of the list, in quotes where they are no plain word, and how it was answered', () => {
    expect(offered('trade is ')).toEqual([
      'smith',
      '"refused"',
      '"two words"',
      'answered',
      'missing',
      'not known',
      'refused',
    ]);
    expect(offered('workers > 3 and tools includes ')).toEqual(['smith', '"refused"', '"two words"']);
    expect(offered('trade is not ')).toEqual(['smith', '"refused"', '"two words"']);
    expect(offered('first is ')).toContain('smith');
    expect(offered('open_now is ')).toEqual(['yes', 'no']);
  });

  it('in a list of codes, after each comma', () => {
    expect(offered('trade is one of (')).toContain('smith');
    expect(offered('tools includes any of (smith, ')).toContain('smith');
    expect(offered('trade is one of (smith) and ')).not.toContain('smith');
  });

  it('codes by any word of their label, without accents', () => {
    expect(offered('trade is black')).toEqual(['smith']);
    expect(offered('trade is ecole')).toEqual(['"two words"']);
    expect(offered('trade is sm')).toEqual(['smith']);
  });

  it('behind a variable: what is said of its kind', () => {
    expect(offered('workers ')[0]).toBe('between … and …');
    expect(offered('tools ')).toContain('includes any of (…)');
    expect(offered('open_now ').slice(0, 2)).toEqual(['is yes', 'is no']);
    expect(offered('nothing ')).toEqual([]);
  });

  it('variables by their beginning, the nearest before the rule first, later ones last', () => {
    expect(offered('', true).slice(0, 3)).toEqual(['here', 'open_now', 'workers']);
    expect(offered('', true).indexOf('later')).toBeGreaterThan(offered('', true).indexOf('trade'));
    expect(offered('wor')).toEqual(['workers']);
  });

  it('functions, and nothing once a word is whole', () => {
    expect(offered('dist')).toEqual(['distance()']);
    expect(offered('workers')).toEqual([]);
    expect(offered('open_now is yes')).toEqual([]);
  });
});
