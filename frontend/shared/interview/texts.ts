// The words of the interview's own buttons, in the languages Skavo speaks.
import i18next from 'i18next';

const en = {
  yes: 'Yes',
  no: 'No',
  next: 'Next',
  back: 'Back',
  dont_know: 'Don’t know',
  refused: 'Refused',
  keepAnyway: 'It is so: keep it',
  reason: 'Why is it so?',
  keep: 'Keep',
  kept: 'Kept',
  finish: 'Finish',
  person: 'row {{row}} of {{rows}}',
  keptAt: 'kept {{time}}',
  noNetwork: 'no network',
  overview: 'All questions',
  gettingReady: 'Getting ready …',
  toMend: 'To mend',
  nothingToMend: 'Everything is answered and in order.',
  pack: 'Pack the interview',
  packed: 'Packed. It is sent as soon as there is a network.',
  packUnfinished: 'Cannot be finished',
  packUnfinishedWhy: 'Why could it not be finished?',
  language: 'Language',
  leave: 'Leave',
  open: 'open',
  notAnswered: 'not answered',
};
export type InterviewText = keyof typeof en;

const fr: Record<InterviewText, string> = {
  yes: 'Oui',
  no: 'Non',
  next: 'Suivant',
  back: 'Retour',
  dont_know: 'Ne sait pas',
  refused: 'Refus',
  keepAnyway: 'C’est bien ainsi : garder',
  reason: 'Pourquoi est-ce ainsi ?',
  keep: 'Garder',
  kept: 'Gardé',
  finish: 'Terminer',
  person: 'ligne {{row}} sur {{rows}}',
  keptAt: 'gardé {{time}}',
  noNetwork: 'pas de réseau',
  overview: 'Toutes les questions',
  gettingReady: 'Préparation …',
  toMend: 'À corriger',
  nothingToMend: 'Tout est répondu et en ordre.',
  pack: 'Emballer l’entretien',
  packed: 'Emballé. Il part dès qu’il y a du réseau.',
  packUnfinished: 'Ne peut pas être terminé',
  packUnfinishedWhy: 'Pourquoi n’a-t-il pas pu être terminé ?',
  language: 'Langue',
  leave: 'Quitter',
  open: 'ouvert',
  notAnswered: 'sans réponse',
};

const ar: Record<InterviewText, string> = {
  yes: 'نعم',
  no: 'لا',
  next: 'التالي',
  back: 'رجوع',
  dont_know: 'لا يعرف',
  refused: 'رفض',
  keepAnyway: 'هذا صحيح: احتفظ به',
  reason: 'لماذا هو كذلك؟',
  keep: 'احتفظ',
  kept: 'محفوظ',
  finish: 'إنهاء',
  person: 'سطر {{row}} من {{rows}}',
  keptAt: 'حفظ {{time}}',
  noNetwork: 'لا شبكة',
  overview: 'كل الأسئلة',
  gettingReady: 'يجري التحضير …',
  toMend: 'للتصحيح',
  nothingToMend: 'كل الإجابات كاملة وسليمة.',
  pack: 'حزم المقابلة',
  packed: 'تم الحزم. ترسل حين تتوفر الشبكة.',
  packUnfinished: 'لا يمكن إنهاؤها',
  packUnfinishedWhy: 'لماذا تعذر إنهاؤها؟',
  language: 'اللغة',
  leave: 'خروج',
  open: 'مفتوح',
  notAnswered: 'دون إجابة',
};

void i18next.init({
  lng: 'en',
  fallbackLng: 'en',
  resources: { en: { translation: en }, fr: { translation: fr }, ar: { translation: ar } },
  interpolation: { escapeValue: false },
});

/** The words in one language; English where Skavo does not speak it. */
export function textsIn(language: string) {
  const fixed = i18next.getFixedT(language);
  return (key: InterviewText, values: Record<string, string | number> = {}): string => fixed(key, values);
}
