// A unit of a register, and an answer read back to be confirmed.
import type { AnswerProps } from './props';
import { Choices } from './Choices';
import { SingleAnswer } from './Codes';
import { useTyped } from './Typed';

/** Picks a unit; where the device has no register, its key is typed. */
export function UnitAnswer(props: AnswerProps) {
  const { screen, t, labelledBy, invalid, onAnswer } = props;
  const [typed, setTyped] = useTyped(typeof screen.value === 'string' ? screen.value : '', screen.special);
  if (screen.codes.length > 0) return <SingleAnswer {...props} />;
  return (
    <>
      <p className="question-instruction">{t('noRegister')}</p>
      <input
        className="typed mono"
        aria-labelledby={labelledBy}
        aria-invalid={invalid}
        autoComplete="off"
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          onAnswer(event.target.value.trim() === '' ? null : event.target.value.trim());
        }}
      />
    </>
  );
}

export function ReadBack({ screen, t, labelledBy, onAnswer }: AnswerProps) {
  const source = screen.reads_back;
  if (source === null) return null;
  const chosen = screen.value === true ? ['confirmed'] : screen.value === false ? ['wrong'] : [];
  return (
    <>
      <p className="answer-shown large">{source.shown}</p>
      {source.value !== null && (
        <Choices
          labelledBy={labelledBy}
          options={[
            { code: 'confirmed', label: t('isRight') },
            { code: 'wrong', label: t('isWrong') },
          ]}
          chosen={chosen}
          onChoose={(code) => {
            onAnswer({ [code]: source.value });
          }}
        />
      )}
    </>
  );
}
