// How often a unit is tried, how far apart, until when.
import { Checkbox, InputNumber } from 'antd';
import { t } from '../../../texts/texts';
import type { Schemas } from '../../../../shared/api/client';

export type Rules = Schemas['AttemptRules'];
export const USUAL: Rules = { most: 4, hours_apart: 3, other_parts_of_day: true };

interface Props {
  rules: Rules;
  due: string;
  onRules: (rules: Rules) => void;
  onDue: (due: string) => void;
}

export function RulesForm({ rules, due, onRules, onDue }: Props) {
  return (
    <fieldset className="visit-rules">
      <label>
        {t('visits.most')}{' '}
        <InputNumber
          min={1}
          max={50}
          value={rules.most}
          onChange={(most) => {
            onRules({ ...rules, most: most ?? rules.most });
          }}
        />
      </label>
      <label>
        {t('visits.hoursApart')}{' '}
        <InputNumber
          min={0}
          max={720}
          value={rules.hours_apart}
          onChange={(hours) => {
            onRules({ ...rules, hours_apart: hours ?? rules.hours_apart });
          }}
        />
      </label>
      <Checkbox
        checked={rules.other_parts_of_day}
        onChange={(event) => {
          onRules({ ...rules, other_parts_of_day: event.target.checked });
        }}
      >
        {t('visits.otherParts')}
      </Checkbox>
      <label>
        {t('visits.due')}{' '}
        <input
          type="date"
          value={due}
          onChange={(event) => {
            onDue(event.target.value);
          }}
        />
      </label>
    </fieldset>
  );
}
