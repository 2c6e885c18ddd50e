// Steps of the plan as sentences, and as forms.
import { MISSING, shown } from '../data';
import { t } from '../../texts/texts';
import type { StepBody } from './plan';
import { KEEPS, UNITS, WAYS } from './words';

const MOST_PAIRS = 3;
const pairs = (mapping: Record<string, string>) => {
  const all = Object.entries(mapping).map(([from, to]) => `${from} → ${to}`);
  const more = all.length - MOST_PAIRS;
  return more > 1 ? t('clean.andMore', { said: all.slice(0, MOST_PAIRS).join(', '), count: more }) : all.join(', ');
};
const copiesByHand = (copies: number, apart: number): string =>
  [copies > 0 ? t('clean.doesByHand', { count: copies }) : '', apart > 0 ? t('clean.doesApart', { count: apart }) : '']
    .filter((words) => words !== '')
    .join(', ');
const where = (rule: string) => (rule.trim() === '' ? '' : ` ${t('clean.whereRule', { rule })}`);
const missing = (kind: string) => MISSING[kind] ?? kind;

/** Whether a step says what is in order, and so changes nothing. */
export const onlySays = (step: StepBody): boolean =>
  step.kind === 'in_order' || (step.kind === 'duplicates' && step.apart.length > 0);

/** A step as a sentence: what it is about, and what it does with it. */
export function stepWords(step: StepBody): [string, string] {
  switch (step.kind) {
    case 'correct': {
      const value = step.missing ? missing(step.missing) : shown(step.value);
      const place = [step.interview, ...step.row].join(' / ');
      return [step.variable, t('clean.doesCorrect', { place, value })];
    }
    case 'set':
      return [step.variable, t('clean.doesSet', { formula: step.formula }) + where(step.rule)];
    case 'recode':
      return [step.variable, t('clean.doesRecode', { mapping: pairs(step.mapping) })];
    case 'mark_missing':
      return [step.variable, t('clean.doesMark', { missing: missing(step.missing) }) + where(step.rule)];
    case 'tidy':
      return [step.variable, t('clean.doesTidy')];
    case 'convert':
      return [step.variable, t('clean.doesConvert', { amount: step.amount, factors: pairs(step.factors) })];
    case 'shift':
      return [
        step.variable,
        t('clean.doesShift', { by: step.by, unit: UNITS[step.unit] ?? step.unit }) + where(step.rule),
      ];
    case 'swap_day_month':
      return [step.variable, t('clean.doesSwap') + where(step.rule)];
    case 'dictionary':
      return [step.variable, t('clean.doesDictionary', { into: step.into, count: Object.keys(step.words).length })];
    case 'derive':
      return [step.into, t('clean.doesDerive', { formula: step.formula, table: step.table })];
    case 'classes':
      return [
        step.into,
        t('clean.doesClasses', { variable: step.variable, classes: step.classes.map((c) => c.code).join(', ') }),
      ];
    case 'read_as':
      return [step.into, t('clean.doesReadAs', { variable: step.variable, measure: step.measure })];
    case 'split':
      return [step.variable, t('clean.doesSplit')];
    case 'gather':
      return [step.into, t('clean.doesGather', { variables: Object.values(step.codes).join(', ') })];
    case 'join_texts':
      return [step.into, t('clean.doesJoin', { variables: step.variables.join(', ') })];
    case 'duplicates':
      return step.variables.length > 0
        ? [step.variables.join(', '), t('clean.doesDuplicates', { keep: KEEPS[step.keep] ?? step.keep })]
        : ['', copiesByHand(Object.keys(step.by_hand).length, step.apart.length)];
    case 'rows_out':
      return [step.table, t('clean.doesRowsOut') + where(step.rule)];
    case 'leave_out':
      return [
        '',
        step.rule.trim() === ''
          ? t('clean.doesLeaveOut', { interviews: step.interviews.join(', ') })
          : t('clean.doesLeaveOutWhere', { rule: step.rule }),
      ];
    case 'impute':
      return [
        step.variable,
        t('clean.doesImpute', { way: WAYS[step.way] ?? step.way }) +
          (step.by.length > 0 ? ` ${t('clean.byGroup', { by: step.by.join(', ') })}` : ''),
      ];
    case 'present':
      return [step.variable, t('clean.doesPresent', { name: step.name || Object.values(step.label).join(', ') })];
    case 'in_order':
      return [step.variable, t('clean.doesInOrder', { count: step.count })];
    case 'heading':
      return ['', step.text];
  }
}

/** What a field of a step is filled in with. */
export type FieldKind =
  | 'variable'
  | 'variables'
  | 'name'
  | 'table'
  | 'rule'
  | 'formula'
  | 'text'
  | 'value'
  | 'number'
  | 'yes'
  | 'choice'
  | 'mapping'
  | 'words'
  | 'codes'
  | 'factors'
  | 'classes'
  | 'list'
  | 'kinds';

export interface Field {
  name: string;
  as: FieldKind;
  /** Of which measures a variable may be. */
  measures?: string[];
  choices?: { value: string; label: string }[];
  optional?: boolean;
  /** Of which measures a variable has no use for it. */
  notOf?: string[];
  about?: string;
  /** What it is called where that is not by its name. */
  label?: string;
}

export interface StepKind {
  kind: StepBody['kind'];
  group: 'cells' | 'texts' | 'variables' | 'rows' | 'plan';
  label: string;
  fields: Field[];
  /** What it begins with. */
  begins: Record<string, unknown>;
}

const choice = (values: string[], key: (value: string) => string) =>
  values.map((value) => ({ value, label: key(value) }));
const choicesOf = (words: Record<string, string>) => Object.entries(words).map(([value, label]) => ({ value, label }));
const KINDS_OF_MISSING = choice(['unanswered', 'not_asked', 'dont_know', 'refused'], missing);
const variable = (measures?: string[]): Field => ({ name: 'variable', as: 'variable', measures });
const optionalRule: Field = { name: 'rule', as: 'rule', optional: true };
const into: Field = { name: 'into', as: 'name' };
const label: Field = { name: 'label', as: 'text', optional: true };

export const STEP_KINDS: StepKind[] = [
  {
    kind: 'correct',
    group: 'cells',
    label: t('clean.kindCorrect'),
    fields: [
      variable(),
      { name: 'interview', as: 'text' },
      { name: 'row', as: 'list', optional: true },
      { name: 'value', as: 'value' },
      { name: 'missing', as: 'choice', choices: KINDS_OF_MISSING, optional: true, label: t('clean.orNothing') },
    ],
    begins: { row: [] },
  },
  {
    kind: 'set',
    group: 'cells',
    label: t('clean.kindSet'),
    fields: [variable(), { name: 'formula', as: 'formula' }, optionalRule],
    begins: { rule: '' },
  },
  {
    kind: 'recode',
    group: 'cells',
    label: t('clean.kindRecode'),
    fields: [
      variable(['code', 'codes', 'text']),
      { name: 'mapping', as: 'mapping' },
      { name: 'codes', as: 'codes', optional: true, notOf: ['text'], about: t('clean.newCodes') },
    ],
    begins: { mapping: {}, codes: {} },
  },
  {
    kind: 'mark_missing',
    group: 'cells',
    label: t('clean.kindMark'),
    fields: [variable(), { name: 'rule', as: 'rule' }, { name: 'missing', as: 'choice', choices: KINDS_OF_MISSING }],
    begins: { missing: 'unanswered' },
  },
  {
    kind: 'convert',
    group: 'cells',
    label: t('clean.kindConvert'),
    fields: [
      variable(['number']),
      { name: 'amount', as: 'variable', measures: ['number'] },
      { name: 'unit', as: 'variable', measures: ['code', 'text'] },
      { name: 'factors', as: 'factors' },
    ],
    begins: { factors: {} },
  },
  {
    kind: 'shift',
    group: 'cells',
    label: t('clean.kindShift'),
    fields: [
      variable(['date', 'date-time']),
      { name: 'by', as: 'number' },
      {
        name: 'unit',
        as: 'choice',
        choices: choicesOf(UNITS),
      },
      optionalRule,
    ],
    begins: { unit: 'days', rule: '' },
  },
  {
    kind: 'swap_day_month',
    group: 'cells',
    label: t('clean.kindSwap'),
    fields: [variable(['date']), optionalRule],
    begins: { rule: '' },
  },
  {
    kind: 'impute',
    group: 'cells',
    label: t('clean.kindImpute'),
    fields: [
      variable(),
      {
        name: 'way',
        as: 'choice',
        choices: choicesOf(WAYS),
      },
      { name: 'value', as: 'value', optional: true, about: t('clean.onlyForFixed') },
      { name: 'by', as: 'variables', optional: true },
      { name: 'missing', as: 'kinds', choices: KINDS_OF_MISSING },
      { name: 'seed', as: 'number', optional: true },
    ],
    begins: { way: 'median', by: [], missing: ['unanswered', 'dont_know', 'refused'], seed: 1 },
  },
  {
    kind: 'tidy',
    group: 'texts',
    label: t('clean.kindTidy'),
    fields: [
      variable(['text']),
      { name: 'trim', as: 'yes' },
      { name: 'blanks', as: 'yes' },
      { name: 'alike', as: 'yes' },
      {
        name: 'case',
        as: 'choice',
        choices: [
          { value: '', label: t('clean.case_') },
          { value: 'upper', label: t('clean.case_upper') },
          { value: 'lower', label: t('clean.case_lower') },
          { value: 'title', label: t('clean.case_title') },
          { value: 'sentence', label: t('clean.case_sentence') },
        ],
      },
    ],
    begins: { trim: true, blanks: true, alike: true, case: '' },
  },
  {
    kind: 'dictionary',
    group: 'texts',
    label: t('clean.kindDictionary'),
    fields: [
      variable(['text']),
      { name: 'into', as: 'variable', measures: ['code', 'codes'], label: t('clean.intoCodesOf') },
      { name: 'words', as: 'words' },
      { name: 'codes', as: 'codes', optional: true, about: t('clean.newCodes') },
      { name: 'replaces', as: 'text', optional: true },
    ],
    begins: { words: {}, codes: {}, replaces: 'other' },
  },
  {
    kind: 'read_as',
    group: 'texts',
    label: t('clean.kindReadAs'),
    fields: [
      variable(['text']),
      into,
      {
        name: 'measure',
        as: 'choice',
        choices: [
          { value: 'number', label: t('clean.asNumber') },
          { value: 'date', label: t('clean.asDate') },
        ],
      },
      {
        name: 'form',
        as: 'choice',
        choices: [
          { value: '', label: t('clean.form_') },
          { value: 'decimal_comma', label: t('clean.form_decimal_comma') },
          { value: 'day_month_year', label: t('clean.form_day_month_year') },
          { value: 'month_day_year', label: t('clean.form_month_day_year') },
        ],
      },
      label,
    ],
    begins: { measure: 'number', form: '', label: '' },
  },
  {
    kind: 'split',
    group: 'texts',
    label: t('clean.kindSplit'),
    fields: [
      variable(['codes', 'text']),
      { name: 'separator', as: 'text', optional: true, about: t('clean.onlyForTexts') },
      { name: 'into', as: 'list', optional: true, about: t('clean.onlyForTexts') },
    ],
    begins: { separator: '', into: [] },
  },
  {
    kind: 'join_texts',
    group: 'texts',
    label: t('clean.kindJoin'),
    fields: [into, { name: 'variables', as: 'variables' }, { name: 'separator', as: 'text', optional: true }, label],
    begins: { separator: ' ', label: '', variables: [] },
  },
  {
    kind: 'derive',
    group: 'variables',
    label: t('clean.kindDerive'),
    fields: [
      into,
      { name: 'table', as: 'table' },
      { name: 'formula', as: 'formula' },
      label,
      { name: 'unit', as: 'text', optional: true, about: t('clean.countedIn') },
      { name: 'codes', as: 'codes', optional: true, about: t('clean.codesOfTexts') },
    ],
    begins: { table: 'interviews', label: '', unit: '', codes: {} },
  },
  {
    kind: 'classes',
    group: 'variables',
    label: t('clean.kindClasses'),
    fields: [variable(['number']), into, { name: 'classes', as: 'classes' }, label],
    begins: { label: '', classes: [] },
  },
  {
    kind: 'gather',
    group: 'variables',
    label: t('clean.kindGather'),
    fields: [into, { name: 'codes', as: 'codes', about: t('clean.codesOfVariables') }, label],
    begins: { codes: {}, label: '' },
  },
  {
    kind: 'present',
    group: 'variables',
    label: t('clean.kindPresent'),
    fields: [
      variable(),
      { name: 'name', as: 'name', optional: true },
      { name: 'label', as: 'codes', optional: true, about: t('clean.labelsByLanguage') },
      { name: 'before', as: 'variable', optional: true },
    ],
    begins: { name: '', label: {}, before: '' },
  },
  {
    kind: 'duplicates',
    group: 'rows',
    label: t('clean.kindDuplicates'),
    fields: [
      { name: 'variables', as: 'variables' },
      {
        name: 'keep',
        as: 'choice',
        choices: choicesOf(KEEPS),
      },
    ],
    begins: { variables: [], keep: 'first', by_hand: {}, apart: [] },
  },
  {
    kind: 'leave_out',
    group: 'rows',
    label: t('clean.kindLeaveOut'),
    fields: [optionalRule, { name: 'interviews', as: 'list', optional: true }],
    begins: { rule: '', interviews: [] },
  },
  {
    kind: 'rows_out',
    group: 'rows',
    label: t('clean.kindRowsOut'),
    fields: [
      { name: 'table', as: 'table' },
      { name: 'rule', as: 'rule' },
    ],
    begins: { rows: [], but: [] },
  },
  {
    kind: 'heading',
    group: 'plan',
    label: t('clean.kindHeading'),
    fields: [{ name: 'text', as: 'text' }],
    begins: {},
  },
];

export const kindOf = (kind: string): StepKind | undefined => STEP_KINDS.find((k) => k.kind === kind);

/** Whether everything is filled in that a step cannot do without. */
export function isWhole(draft: Record<string, unknown>, fields: Field[]): boolean {
  return fields.every(({ name, optional, as }) => {
    const value = draft[name];
    if (optional === true || as === 'yes' || as === 'choice') return true;
    // A correction may also say that there is nothing.
    if (as === 'value' && typeof draft.missing === 'string') return true;
    if (Array.isArray(value)) return value.length > 0;
    if (typeof value === 'object' && value !== null) return Object.keys(value).length > 0;
    return value !== undefined && value !== null && value !== '';
  });
}
