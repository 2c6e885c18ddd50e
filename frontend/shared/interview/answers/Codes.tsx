// Single and multiple answers from a code list, short or long.
import { Choices } from './Choices';
import { LongList } from './LongList';
import type { AnswerProps } from './props';

export function SingleAnswer(props: AnswerProps) {
  const { screen, labelledBy, onAnswer } = props;
  if (screen.codes_left > 0) {
    return <LongList {...props} chosen={typeof screen.value === 'string' ? [screen.value] : []} onChoose={onAnswer} />;
  }
  return (
    <Choices
      labelledBy={labelledBy}
      options={screen.codes}
      chosen={typeof screen.value === 'string' ? [screen.value] : []}
      onChoose={onAnswer}
    />
  );
}

export function ManyAnswers(props: AnswerProps) {
  const { screen, labelledBy, onAnswer } = props;
  const chosen = Array.isArray(screen.value) ? screen.value.filter((v): v is string => typeof v === 'string') : [];
  const exclusive = new Set(screen.codes.filter((c) => c.exclusive).map((c) => c.code));
  const choose = (code: string) => {
    if (chosen.includes(code)) {
      const left = chosen.filter((c) => c !== code);
      onAnswer(left.length > 0 ? left : null);
    } else if (exclusive.has(code)) {
      onAnswer([code]);
    } else {
      onAnswer([...chosen.filter((c) => !exclusive.has(c)), code]);
    }
  };
  if (screen.codes_left > 0) return <LongList {...props} chosen={chosen} many onChoose={choose} />;
  return <Choices labelledBy={labelledBy} options={screen.codes} chosen={chosen} many onChoose={choose} />;
}
