// Codes put into an order: tapped one after the other, tapped again to take one out.
import type { AnswerProps } from './props';

export function Ranking({ screen, t, labelledBy, onAnswer }: AnswerProps) {
  const ranked = Array.isArray(screen.value) ? screen.value.filter((v): v is string => typeof v === 'string') : [];
  const tap = (code: string) => {
    const next = ranked.includes(code) ? ranked.filter((c) => c !== code) : [...ranked, code];
    onAnswer(next.length > 0 ? next : null);
  };
  return (
    <>
      <p className="question-instruction">{t('rankHint')}</p>
      <div role="group" aria-labelledby={labelledBy} className="choices">
        {screen.codes.map((option) => {
          const place = ranked.indexOf(option.code) + 1;
          return (
            <button
              key={option.code}
              type="button"
              className={place > 0 ? 'choice on' : 'choice'}
              aria-pressed={place > 0}
              onClick={() => {
                tap(option.code);
              }}
            >
              <span className="mark rank">{place > 0 ? place : ''}</span>
              <span>{option.label}</span>
            </button>
          );
        })}
      </div>
    </>
  );
}
