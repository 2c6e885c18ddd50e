// Single and multiple answers from a code list, short or long.
import { toggled } from '../Grid';
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
  const choose = (code: string) => {
    onAnswer(toggled(screen, code));
  };
  if (screen.codes_left > 0) return <LongList {...props} chosen={chosen} many onChoose={choose} />;
  return <Choices labelledBy={labelledBy} options={screen.codes} chosen={chosen} many onChoose={choose} />;
}
