// Code lists and unit lists under a name that is free, and called otherwise with all that uses them.
import type { Script } from '../script/model';
import { freeListName } from '../sheet/answers';

interface Made {
  script: Script;
  name: string;
}

const variableOf = (script: Script, partId: string): string =>
  script.parts.find((part) => part.id === partId)?.variable ?? '';

export function withNewList(script: Script, partId: string): Made {
  const name = freeListName(script, variableOf(script, partId));
  const parts = script.parts.map((part) => (part.id === partId ? { ...part, code_list: name } : part));
  return { name, script: { ...script, parts, code_lists: [...script.code_lists, { name, codes: [] }] } };
}

export function withNewUnits(script: Script, partId: string): Made {
  const base = `${variableOf(script, partId) || 'quantity'}_unit`;
  let name = base;
  for (let n = 2; script.unit_lists.some((list) => list.name === name); n += 1) name = `${base}_${String(n)}`;
  const made = { name, units: [{ unit: 'kg', dimension: 'mass', factor: '1', label: {} }] };
  const parts = script.parts.map((part) => (part.id === partId ? { ...part, unit: name } : part));
  return { name, script: { ...script, parts, unit_lists: [...script.unit_lists, made] } };
}

/** A code list called otherwise, with the lines that take their codes from it and the filters that name it. */
export function withListNamed(script: Script, name: string, to: string): Script {
  const named = new RegExp(`\\b${name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}\\.`, 'g');
  return {
    ...script,
    code_lists: script.code_lists.map((list) => (list.name === name ? { ...list, name: to } : list)),
    parts: script.parts.map((part) =>
      part.code_list === name
        ? { ...part, code_list: to, code_filter: part.code_filter.replace(named, `${to}.`) }
        : part,
    ),
  };
}
