// What a line may ask for, to be found by typing: a kind, a code list, a unit, or codes written out on the spot.
import { t } from '../../../texts/texts';
import { filterFor, freeListName } from '../lists/newLists';
import { STANDARD_UNITS, emptyCode, newCodeList, type Code, type Kind, type Part, type Script } from '../script/model';

export interface Choice {
  key: string;
  glyph: string;
  words: string;
  detail: string;
  /** The script with that answer on the line. */
  take: (script: Script, partId: string) => Script;
}

const put = (script: Script, partId: string, change: Partial<Part>): Script => ({
  ...script,
  parts: script.parts.map((part) => (part.id === partId ? { ...part, ...change } : part)),
});

/** The choices that hold every word typed, those that begin with it first. */
export function choicesFor(typed: string, script: Script, kinds: Kind[]): Choice[] {
  const words = plain(typed).split(/\s+/).filter(Boolean);
  const labels = labelsIn(typed);
  if (labels.length > 1) return NEW_LISTS_FOR.map((kind) => listOf(labels, kinds, kind));
  const found = [...ofKinds(kinds), ...ofLists(script, kinds), ...ofUnits(script, kinds)].filter((choice) =>
    words.every((word) => plain(`${choice.words} ${choice.detail}`).includes(word)),
  );
  const first = words[0] ?? '';
  const rank = (choice: Choice) => (first !== '' && plain(choice.words).startsWith(first) ? 0 : 1);
  return found
    .map((choice, i) => ({ choice, i }))
    .sort((a, b) => rank(a.choice) - rank(b.choice) || a.i - b.i)
    .map((x) => x.choice);
}

const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

/** The labels of codes written out, a semicolon between them. */
const labelsIn = (typed: string): string[] =>
  typed.includes(';')
    ? typed
        .split(';')
        .map((label) => label.trim())
        .filter(Boolean)
    : [];

const ofKinds = (kinds: Kind[]): Choice[] =>
  kinds.map((kind) => ({
    key: kind.name,
    glyph: kind.glyph,
    words: kind.name,
    detail: '',
    take: (script, partId) => put(script, partId, { kind: kind.name }),
  }));

const ofLists = (script: Script, kinds: Kind[]): Choice[] =>
  script.code_lists.flatMap((list) =>
    ['single answer', 'multiple answer'].map((kind) => ({
      key: `${kind} ${list.name}`,
      glyph: glyphOf(kinds, kind),
      words: t('questionnaire.kindFrom', { kind, name: list.name }),
      detail: t('questionnaire.codesCount', { count: list.codes.length }),
      take: (now: Script, partId: string) => withList(now, partId, kind, list.name),
    })),
  );

/** A list that hangs under that of an earlier question comes with the filter that says so. */
function withList(script: Script, partId: string, kind: string, name: string): Script {
  const before = script.parts.find((part) => part.id === partId);
  const keeps = before?.code_list === name && before.code_filter !== '';
  return put(script, partId, {
    kind,
    code_list: name,
    code_filter: keeps ? before.code_filter : filterFor(script, partId, name),
  });
}

const ofUnits = (script: Script, kinds: Kind[]): Choice[] =>
  [...script.unit_lists.map((list) => list.name), ...STANDARD_UNITS].map((unit) => ({
    key: `quantity ${unit}`,
    glyph: glyphOf(kinds, 'quantity'),
    words: t('questionnaire.quantityIn', { unit }),
    detail: '',
    take: (now, partId) => put(now, partId, { kind: 'quantity', unit }),
  }));

const glyphOf = (kinds: Kind[], name: string): string => kinds.find((kind) => kind.name === name)?.glyph ?? '';

const NEW_LISTS_FOR = ['single answer', 'multiple answer', 'ranking', 'grid'];

function listOf(labels: string[], kinds: Kind[], kind: string): Choice {
  return {
    key: `new ${kind}`,
    glyph: glyphOf(kinds, kind),
    words: t('questionnaire.newListOf', { kind, labels: labels.map((one) => written(one).label).join(' · ') }),
    detail: t('questionnaire.codesCount', { count: labels.length }),
    take: (script, partId) => {
      const part = script.parts.find((p) => p.id === partId);
      const name = freeListName(script, part?.variable ?? '');
      const codes = codesOf(labels, script.languages[0] ?? 'en', kind === 'multiple answer');
      return {
        ...put(script, partId, { kind, code_list: name }),
        code_lists: [...script.code_lists, newCodeList(name, codes)],
      };
    },
  };
}

const OTHER = /^(other|another|something else|autre|otr[oa]|outr[oa])(?![\p{L}])/iu;
const NONE = /^(none|nothing|nobody|no one|aucun|rien|personne|ningun|nada|nadie|nenhum|ninguem)(?![\p{L}])/iu;
const CODED = /^(?<code>[a-z0-9_]+)\s*=\s*(?<label>.+)$/i;

/** One of them as it was written: a label, or a code and what it means. */
function written(one: string): { code: string; label: string } {
  const { code = '', label = one } = CODED.exec(one)?.groups ?? {};
  return { code, label };
}

/** A code made of a label, its first letters and digits; `fallback` where they have no place in codes. */
export function codeNamed(label: string, taken: ReadonlySet<string>, fallback: string): string {
  const base =
    plain(label)
      .replace(/[^a-z0-9]+/g, '_')
      .replace(/^_+|_+$/g, '')
      .slice(0, 24) || fallback;
  let code = base;
  for (let n = 2; taken.has(code); n += 1) code = `${base}_${String(n)}`;
  return code;
}

/** Codes made of labels, none twice; one that begins with “other” asks which, and “none” of `several` goes alone. */
export function codesOf(labels: string[], language: string, several = false): Code[] {
  const taken = new Set<string>();
  return labels.map((one, i) => {
    const { code: wanted, label } = written(one);
    const code = codeNamed(wanted || label, taken, String(i + 1));
    taken.add(code);
    return {
      ...emptyCode(),
      code,
      label: { [language]: label },
      specify: OTHER.test(label),
      exclusive: several && NONE.test(plain(label)),
    };
  });
}
