import { Select } from 'antd';
import type { ReactNode } from 'react';

/** A line that says what is shown; its underlined words can be changed. */
export const Sentence = ({ children, side }: { children: ReactNode; side?: ReactNode }) => (
  <div className="sentence">
    {children}
    {side !== undefined && <span className="sentence-side">{side}</span>}
  </div>
);

export interface Choice {
  value: string;
  label: string;
}

interface WordProps {
  label: string;
  value: string;
  options: Choice[];
  onChange: (value: string) => void;
  disabled?: boolean;
}

/** One word of a sentence: a choice that reads like text. */
export function Word({ label, value, options, onChange, disabled = false }: WordProps) {
  return (
    <Select
      className="word"
      variant="borderless"
      aria-label={label}
      value={value}
      options={options}
      onChange={onChange}
      disabled={disabled}
      popupMatchSelectWidth={false}
      suffix={null}
      showSearch={options.length > 8 ? { optionFilterProp: 'label' } : false}
    />
  );
}
