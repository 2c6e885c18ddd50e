interface Props {
  label: string;
  value: string;
  onChange: (pin: string) => void;
  autoFocus?: boolean;
}

/** Where a PIN is typed; the browser is asked to remember nothing of it. */
export const PinField = ({ label, value, onChange, autoFocus = false }: Props) => (
  <label>
    {label}
    <input
      className="typed mono pin"
      type="password"
      inputMode="numeric"
      autoComplete="off"
      name="pin"
      autoFocus={autoFocus}
      value={value}
      onChange={(event) => {
        onChange(event.target.value);
      }}
    />
  </label>
);
