// Words of the plan that are chosen by what a step says.
import { t } from '../../texts/texts';

/** What dates are moved by. */
export const UNITS: Record<string, string> = {
  minutes: t('clean.unit_minutes'),
  hours: t('clean.unit_hours'),
  days: t('clean.unit_days'),
  months: t('clean.unit_months'),
  years: t('clean.unit_years'),
};

/** Which of several copies stays. */
export const KEEPS: Record<string, string> = {
  first: t('clean.keep_first'),
  last: t('clean.keep_last'),
  fullest: t('clean.keep_fullest'),
};

/** What missing values are filled in with. */
export const WAYS: Record<string, string> = {
  fixed: t('clean.way_fixed'),
  mean: t('clean.way_mean'),
  median: t('clean.way_median'),
  commonest: t('clean.way_commonest'),
  donor: t('clean.way_donor'),
};

/** What steps are about. */
export const GROUPS: Record<string, string> = {
  cells: t('clean.group_cells'),
  texts: t('clean.group_texts'),
  variables: t('clean.group_variables'),
  rows: t('clean.group_rows'),
  plan: t('clean.group_plan'),
};

/** The fields of a step. */
export const FIELDS: Record<string, string> = {
  variable: t('clean.field_variable'),
  interview: t('clean.field_interview'),
  row: t('clean.field_row'),
  value: t('clean.field_value'),
  formula: t('clean.field_formula'),
  rule: t('clean.field_rule'),
  mapping: t('clean.field_mapping'),
  codes: t('clean.field_codes'),
  missing: t('clean.field_missing'),
  amount: t('clean.field_amount'),
  unit: t('clean.field_unit'),
  factors: t('clean.field_factors'),
  by: t('clean.field_by'),
  way: t('clean.field_way'),
  seed: t('clean.field_seed'),
  trim: t('clean.field_trim'),
  blanks: t('clean.field_blanks'),
  alike: t('clean.field_alike'),
  case: t('clean.field_case'),
  into: t('clean.field_into'),
  words: t('clean.field_words'),
  replaces: t('clean.field_replaces'),
  measure: t('clean.field_measure'),
  form: t('clean.field_form'),
  label: t('clean.field_label'),
  separator: t('clean.field_separator'),
  variables: t('clean.field_variables'),
  table: t('clean.field_table'),
  classes: t('clean.field_classes'),
  name: t('clean.field_name'),
  before: t('clean.field_before'),
  keep: t('clean.field_keep'),
  interviews: t('clean.field_interviews'),
  text: t('clean.field_text'),
};
