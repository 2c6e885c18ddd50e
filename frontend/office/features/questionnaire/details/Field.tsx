import { Checkbox } from 'antd';
import type { ReactNode } from 'react';

/** One fact about a line: its name above, what it is below. */
export const Field = ({ label, name, children }: { label: string; name: string; children: ReactNode }) => (
  <div className="detail" data-field={name}>
    <span className="detail-label">{label}</span>
    {children}
  </div>
);

interface TickProps {
  label: string;
  name: string;
  readOnly: boolean;
  checked: boolean;
  words: string;
  onTick: (on: boolean) => void;
}

/** A fact that is so or not. */
export const Tick = ({ label, name, readOnly, checked, words, onTick }: TickProps) => (
  <Field label={label} name={name}>
    <Checkbox
      disabled={readOnly}
      checked={checked}
      onChange={(event) => {
        onTick(event.target.checked);
      }}
    >
      {words}
    </Checkbox>
  </Field>
);
