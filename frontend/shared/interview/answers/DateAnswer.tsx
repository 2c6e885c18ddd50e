// A date: today and yesterday by a tap, and what was chosen in words, in the other calendar that is used with the language.
import type { ComponentProps } from 'react';
import type { AnswerProps } from './props';

interface Props extends Pick<AnswerProps, 'screen' | 't' | 'language' | 'onAnswer'> {
  text: string;
  onText: (text: string) => void;
  shared: ComponentProps<'input'>;
}

/** The calendar that people use beside the common one, by language (Unicode CLDR's names). */
const OTHER_CALENDAR: Record<string, string> = {
  am: 'ethiopic',
  ar: 'islamic-umalqura',
  fa: 'persian',
  he: 'hebrew',
  th: 'buddhist',
  ti: 'ethiopic',
  ur: 'islamic-umalqura',
};

const ISO = /^\d{4}-\d{2}-\d{2}$/;

/** The phone's own day, so many days ago, as 2026-03-14. */
export function dayHere(daysAgo: number): string {
  const now = new Date();
  const day = new Date(now.getFullYear(), now.getMonth(), now.getDate() - daysAgo, 12);
  const two = (n: number) => String(n).padStart(2, '0');
  return `${String(day.getFullYear())}-${two(day.getMonth() + 1)}-${two(day.getDate())}`;
}

/** A date in words, and in the other calendar of a language; "" where it is none. */
export function dateInWords(iso: string, language: string): string {
  if (!ISO.test(iso)) return '';
  const day = new Date(`${iso}T12:00:00Z`);
  if (Number.isNaN(day.getTime())) return '';
  const form = { day: 'numeric', month: 'long', year: 'numeric', timeZone: 'UTC' } as const;
  // Digits are the same in all languages of the phone: they are compared with what is typed.
  const inWords = (calendar: string, weekday: boolean) =>
    day.toLocaleDateString(`${language}-u-ca-${calendar}-nu-latn`, weekday ? { ...form, weekday: 'long' } : form);
  const other = OTHER_CALENDAR[language.split('-')[0] ?? ''];
  return [inWords('gregory', true), ...(other === undefined ? [] : [inWords(other, false)])].join(' · ');
}

export function DateAnswer({ screen, t, language, text, onText, shared, onAnswer }: Props) {
  const choose = (iso: string) => {
    onText(iso);
    onAnswer(iso);
  };
  const inWords = dateInWords(text, language);
  return (
    <div className="answer-block">
      <input className="typed" type="date" {...shared} />
      {inWords !== '' && <p className="answer-hint">{inWords}</p>}
      <div className="answer-pair">
        {(['today', 'yesterday'] as const).map((name, daysAgo) => (
          <button
            key={name}
            type="button"
            className="answer-button"
            aria-pressed={screen.value === dayHere(daysAgo)}
            onClick={() => {
              choose(dayHere(daysAgo));
            }}
          >
            {t(name)}
          </button>
        ))}
      </div>
    </div>
  );
}
