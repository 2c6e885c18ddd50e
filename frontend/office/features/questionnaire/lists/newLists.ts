// Code lists and unit lists under a name that is free, and called otherwise with all that uses them.
import { newCodeList, type Script } from '../script/model';

interface Made {
  script: Script;
  name: string;
}

const variableOf = (script: Script, partId: string): string =>
  script.parts.find((part) => part.id === partId)?.variable ?? '';

export function withNewList(script: Script, partId: string): Made {
  const name = freeListName(script, variableOf(script, partId));
  const parts = script.parts.map((part) => (part.id === partId ? { ...part, code_list: name } : part));
  return { name, script: { ...script, parts, code_lists: [...script.code_lists, newCodeList(name)] } };
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

/** The filter of a question whose list hangs under that of an earlier one; "" where it hangs under none asked. */
export function filterFor(script: Script, partId: string, list: string): string {
  const at = script.parts.findIndex((part) => part.id === partId);
  const codes = script.code_lists.find((l) => l.name === list)?.codes ?? [];
  const attributes = new Set(codes.flatMap((code) => Object.keys(code.attributes)));
  const asked = script.parts
    .slice(0, Math.max(at, 0))
    .reverse()
    .find((part) => part.kind === 'single answer' && part.variable !== '' && attributes.has(part.code_list));
  return asked ? `${list}.${asked.code_list} is ${asked.variable}` : '';
}

export function freeListName(script: Script, variable: string): string {
  const base = variable === '' ? 'list' : variable;
  let free = base;
  for (let n = 2; script.code_lists.some((list) => list.name === free); n += 1) free = `${base}_${String(n)}`;
  return free;
}
