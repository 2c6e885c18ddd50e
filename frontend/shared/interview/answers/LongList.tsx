// Codes of a long list: what is chosen, a field to type in, and what any part of a word finds.
import { useEffect, useState } from 'react';
import type { CodesFound } from '../../engine/types';
import { Choices } from './Choices';
import type { AnswerProps } from './props';

interface Props extends AnswerProps {
  chosen: string[];
  many?: boolean;
  onChoose: (code: string) => void;
}

export function LongList({ screen, t, labelledBy, findCodes, chosen, many = false, onChoose }: Props) {
  const [typed, setTyped] = useState('');
  const [found, setFound] = useState<{ typed: string; codes: CodesFound } | null>(null);
  const wanted = typed.trim();
  useEffect(() => {
    if (wanted === '') return;
    let live = true;
    void findCodes(wanted).then((codes) => {
      if (live) setFound({ typed: wanted, codes });
    });
    return () => {
      live = false;
    };
    // The way of looking is made anew with every screen; what is looked for is not.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [wanted, screen.path]);
  const searched = wanted !== '' && found !== null;
  const options = searched ? found.codes.codes : screen.codes;
  const left = searched ? found.codes.more : screen.codes_left;
  return (
    <>
      <input
        className="typed"
        type="search"
        placeholder={t('findInList', { count: screen.codes.length + screen.codes_left })}
        aria-label={t('search')}
        autoComplete="off"
        enterKeyHint="search"
        dir="auto"
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
        }}
        onKeyDown={(event) => {
          const only = options.length === 1 ? options[0] : undefined;
          if (event.key !== 'Enter' || wanted === '' || !only || found?.typed !== wanted) return;
          event.preventDefault();
          onChoose(only.code);
          setTyped('');
        }}
      />
      <Choices
        labelledBy={labelledBy}
        options={options}
        chosen={chosen}
        many={many}
        onChoose={(code) => {
          onChoose(code);
          setTyped('');
        }}
      />
      {searched && options.length === 0 && <p className="question-instruction">{t('nothingFound', { wanted })}</p>}
      {left > 0 && <p className="question-instruction">{t('more', { count: left })}</p>}
    </>
  );
}
