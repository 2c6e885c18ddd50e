import { useEffect, useMemo, useState, type ReactNode } from 'react';
import { directionOf } from '../../shared/interview/languages';
import { chooseLanguage, LanguageContext, languageHere } from './texts';

/** The phone's pages speak the language that was chosen on it, and are written in its direction. */
export function LanguageProvider({ children }: { children: ReactNode }) {
  const [language, setLanguage] = useState(languageHere);
  useEffect(() => {
    document.documentElement.lang = language;
    document.documentElement.dir = directionOf(language);
  }, [language]);
  const value = useMemo(
    () => ({
      language,
      speak: (chosen: typeof language) => {
        chooseLanguage(chosen);
        setLanguage(chosen);
      },
    }),
    [language],
  );
  return <LanguageContext value={value}>{children}</LanguageContext>;
}
