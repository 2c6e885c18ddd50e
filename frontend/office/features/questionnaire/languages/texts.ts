// Every text of a script that people read, under the keys of core/languages/texts.py: side by side, and set one by one.
import type { Schemas } from '../../../../shared/api/client';
import type { Script } from '../script/model';

export type PhoneWord = Schemas['PhoneWord'];
export type Outdated = Schemas['Saved']['outdated'];
type Texts = Record<string, string>;

export interface ScriptText {
  key: string;
  /** The line that it stands on; "" for texts of lists and of the phone. */
  partId: string;
  place: string;
  field: string;
  texts: Texts;
}

export type State = 'done' | 'missing' | 'outdated' | 'values';

const SPOKEN_BY_THE_PHONE = ['en', 'fr', 'ar'];
export const unspoken = (script: Script): string[] =>
  script.languages.filter((tag) => !SPOKEN_BY_THE_PHONE.includes(tag.split('-')[0] ?? ''));

const CHECKS = ['must_hold', 'should_hold'] as const;

/** The texts in the order in which somebody reads them; those that are empty in every language are left out. */
export function textsOf(script: Script, phoneWords: PhoneWord[]): ScriptText[] {
  const found: ScriptText[] = [{ key: 'title', partId: '', place: '', field: 'title', texts: script.title }];
  for (const part of script.parts) {
    const place = part.variable === '' ? part.kind : part.variable;
    const of = (field: string, shown: string, texts: Texts) => {
      found.push({ key: `part/${part.id}/${field}`, partId: part.id, place, field: shown, texts });
    };
    of('wording', 'wording', part.wording);
    of('instruction', 'instruction', part.instruction);
    for (const strength of CHECKS)
      part[strength].forEach((check, n) => {
        of(`${strength}.${String(n)}.message`, 'message', check.message);
      });
  }
  for (const list of script.code_lists)
    for (const code of list.codes)
      found.push({
        key: `code/${list.name}/${code.code}`,
        partId: '',
        place: list.name,
        field: code.code,
        texts: code.label,
      });
  for (const list of script.unit_lists)
    for (const unit of list.units)
      found.push({
        key: `unit/${list.name}/${unit.unit}`,
        partId: '',
        place: list.name,
        field: unit.unit,
        texts: unit.label,
      });
  const written = found.filter((text) => Object.values(text.texts).some((said) => said.trim() !== ''));
  const own = unspoken(script);
  if (own.length === 0) return written;
  return [
    ...written,
    ...phoneWords.map((word) => ({
      key: `phone/${word.key}`,
      partId: '',
      place: 'phone',
      field: word.key.split('.').at(-1) ?? '',
      texts: {
        ...word.texts,
        ...Object.fromEntries(own.map((tag) => [tag, script.phone_words[tag]?.[word.key] ?? ''])),
      },
    })),
  ];
}

/** The language that a text is translated from. */
export const sourceOf = (script: Script, key: string): string =>
  key.startsWith('phone/') ? 'en' : (script.languages[0] ?? 'en');

const valuesIn = (text: string): string[] =>
  [...text.matchAll(/\{([^{}]*)\}/g)].map((match) => (match[1] ?? '').trim().replace(/\s+/g, ' ')).sort();

/** How far a translation is: missing, made from an older source, or without one of its values. */
export function stateOf(text: ScriptText, source: string, tag: string, outdated: Outdated): State {
  const said = text.texts[tag] ?? '';
  const from = text.texts[source] ?? '';
  if (said.trim() === '') return from.trim() === '' ? 'done' : 'missing';
  if (from.trim() !== '' && valuesIn(said).join('|') !== valuesIn(from).join('|')) return 'values';
  return outdated[text.key]?.[tag] === undefined ? 'done' : 'outdated';
}

/** The script with one text in one language set. */
export function withText(script: Script, key: string, tag: string, said: string): Script {
  const [what, owner = '', ...rest] = key.split('/');
  const put = (texts: Texts): Texts => ({ ...texts, [tag]: said });
  const item = rest.join('/');
  switch (what) {
    case 'title':
      return { ...script, title: put(script.title) };
    case 'part':
      return { ...script, parts: script.parts.map((p) => (p.id === owner ? withPartText(p, item, put) : p)) };
    case 'code':
      return {
        ...script,
        code_lists: script.code_lists.map((list) =>
          list.name === owner
            ? { ...list, codes: list.codes.map((c) => (c.code === item ? { ...c, label: put(c.label) } : c)) }
            : list,
        ),
      };
    case 'unit':
      return {
        ...script,
        unit_lists: script.unit_lists.map((list) =>
          list.name === owner
            ? { ...list, units: list.units.map((u) => (u.unit === item ? { ...u, label: put(u.label) } : u)) }
            : list,
        ),
      };
    case 'phone': {
      const word = key.slice('phone/'.length);
      return {
        ...script,
        phone_words: { ...script.phone_words, [tag]: { ...script.phone_words[tag], [word]: said } },
      };
    }
    default:
      return script;
  }
}

function withPartText(part: Script['parts'][number], field: string, put: (texts: Texts) => Texts) {
  if (field === 'wording') return { ...part, wording: put(part.wording) };
  if (field === 'instruction') return { ...part, instruction: put(part.instruction) };
  const [strength, number] = field.split('.');
  if (strength !== 'must_hold' && strength !== 'should_hold') return part;
  return {
    ...part,
    [strength]: part[strength].map((check, n) =>
      n === Number(number) ? { ...check, message: put(check.message) } : check,
    ),
  };
}

/** The labels of codes that a language lacks taken over from the source: names that are the same in every language. */
export const withSourceLabels = (script: Script, tag: string): Script => ({
  ...script,
  code_lists: script.code_lists.map((list) => ({
    ...list,
    codes: list.codes.map((code) =>
      (code.label[tag] ?? '').trim() === ''
        ? { ...code, label: { ...code.label, [tag]: code.label[script.languages[0] ?? 'en'] ?? '' } }
        : code,
    ),
  })),
});

/** The script without a language; its texts in it go as well. */
export function withoutLanguage(script: Script, tag: string): Script {
  const less = (texts: Texts): Texts => Object.fromEntries(Object.entries(texts).filter(([t]) => t !== tag));
  const check = (c: Script['parts'][number]['must_hold'][number]) => ({ ...c, message: less(c.message) });
  return {
    ...script,
    languages: script.languages.filter((t) => t !== tag),
    title: less(script.title),
    parts: script.parts.map((p) => ({
      ...p,
      wording: less(p.wording),
      instruction: less(p.instruction),
      must_hold: p.must_hold.map(check),
      should_hold: p.should_hold.map(check),
    })),
    code_lists: script.code_lists.map((l) => ({
      ...l,
      codes: l.codes.map((c) => ({ ...c, label: less(c.label) })),
    })),
    unit_lists: script.unit_lists.map((l) => ({
      ...l,
      units: l.units.map((u) => ({ ...u, label: less(u.label) })),
    })),
    phone_words: Object.fromEntries(Object.entries(script.phone_words).filter(([t]) => t !== tag)),
  };
}
