// What keys, pointer and clipboard do in the script sheet. The acts stay the same from one drawing to the next, so that
// an edit draws only the line that it changes.
import {
  useEffect,
  useState,
  type ClipboardEvent,
  type Dispatch,
  type KeyboardEvent,
  type MouseEvent,
  type SetStateAction,
} from 'react';
import {
  addAbove,
  addBelow,
  changeLines,
  endOf,
  holdsParts,
  indentLines,
  moveLines,
  removeLines,
  withInside,
  type Part,
  type Script,
} from '../script/model';
import type { ScriptEditor } from '../script/useScript';
import type { Writing } from '../script/useWriting';
import { t } from '../../../texts/texts';
import { cellsIn, copiedLines, copyLines, fragmentOf } from './clipboard';
import { drawnTo, only, toggled, type Chosen } from './selection';

export type Column = string;
export const LINE: Column = 'line';

interface Held {
  script: Script;
  /** The lines that are seen, folded ones left out, and the columns that are shown. */
  seen: Part[];
  columns: Column[];
  folded: ReadonlySet<string>;
  activeId: string | null;
  readOnly: boolean;
  editor: ScriptEditor;
  writing: Writing;
  onActivate: (id: string) => void;
  onFold: (ids: string[], shut: boolean) => void;
  onAnswer: (id: string, typed: string) => void;
  onRules: (id: string) => void;
  onPane: () => void;
  onFind: (replacing: boolean) => void;
  onPasteCells: (rows: string[][]) => void;
}

/** Where the caret goes once the sheet is drawn again. */
export interface Focus {
  id: string;
  column: Column;
}

export type SheetActs = ReturnType<typeof makeActs>;

export function useSheet(held: Held) {
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const [wanted, setWanted] = useState<Focus | null>(null);
  const [sheet] = useState(() => makeSheet({ ...held, chosen: null }, setChosen, setWanted));
  useEffect(() => {
    sheet.hold({ ...held, chosen });
  });
  return { chosen, wanted, acts: sheet.acts };
}

/** The acts with what they work on, which every drawing brings up to date. */
function makeSheet(
  first: Held & WithChosen,
  choose: (chosen: Chosen | null) => void,
  want: Dispatch<SetStateAction<Focus | null>>,
) {
  let held = first;
  return {
    acts: makeActs(() => held, choose, want),
    hold: (next: Held & WithChosen) => {
      held = next;
    },
  };
}

interface WithChosen {
  chosen: Chosen | null;
}

const isBlank = (part: Part): boolean =>
  part.variable === '' && Object.values(part.wording).every((text) => text === '') && !holdsParts(part);

function makeActs(
  now: () => Held & WithChosen,
  choose: (chosen: Chosen | null) => void,
  focus: Dispatch<SetStateAction<Focus | null>>,
) {
  const setParts = (change: (parts: Part[]) => Part[], what = '') => {
    now().editor.edit((script) => {
      const parts = change(script.parts);
      return parts === script.parts ? script : { ...script, parts };
    }, what);
  };
  const indexOf = (id: string) => now().script.parts.findIndex((part) => part.id === id);
  /** The lines an act is about: those chosen, else the one at hand. */
  const meant = (id: string): ReadonlySet<string> => now().chosen?.ids ?? new Set([id]);
  const activate = (id: string) => {
    if (id !== now().activeId) now().onActivate(id);
  };
  const goTo = (id: string, column: Column) => {
    activate(id);
    focus({ id, column });
  };
  const wording = () => now().columns.find((column) => column.startsWith('wording.')) ?? 'variable';

  const add = (id: string, above: boolean) => {
    const { script, folded } = now();
    const at = indexOf(id);
    const made = above ? addAbove(script.parts, at) : addBelow(script.parts, at, folded.has(id));
    choose(null);
    setParts((parts) => {
      const here = parts.findIndex((part) => part.id === id);
      const place = made.parts.indexOf(made.added) - at + here;
      return [...parts.slice(0, place), made.added, ...parts.slice(place)];
    });
    goTo(made.added.id, wording());
  };
  const remove = (ids: ReadonlySet<string>) => {
    const { script, seen, writing } = now();
    const gone = withInside(script.parts, ids);
    if (gone.length === 0) return;
    const hidden = new Set(gone.map((part) => part.id));
    const first = seen.findIndex((part) => hidden.has(part.id));
    const left = seen.filter((part) => !hidden.has(part.id));
    const neighbour = left[Math.min(first, left.length - 1)];
    setParts((parts) => removeLines(parts, ids));
    choose(null);
    if (neighbour) goTo(neighbour.id, wording());
    if (gone.length > 1) writing.told(t('questionnaire.linesRemoved', { count: gone.length }));
  };
  const step = (id: string, by: 1 | -1): Part | undefined => {
    const { seen } = now();
    return seen[seen.findIndex((part) => part.id === id) + by];
  };
  const putIn = async (fragment: Parameters<Writing['putIn']>[0]) => {
    const { script, activeId, chosen, folded, writing } = now();
    const last =
      chosen === null ? activeId : ([...script.parts].reverse().find((p) => chosen.ids.has(p.id))?.id ?? null);
    const at = last === null ? script.parts.length - 1 : indexOf(last);
    const part = script.parts[at];
    const inside = part !== undefined && holdsParts(part) && !folded.has(part.id);
    const level = part === undefined ? 1 : inside ? part.level + 1 : part.level;
    const added = await writing.putIn(fragment, inside ? at + 1 : part ? endOf(script.parts, at) : 0, level);
    const [first] = added;
    if (first === undefined) return;
    if (part && isBlank(part)) setParts((parts) => removeLines(parts, new Set([part.id])));
    choose(added.length > 1 ? { anchor: first, head: first, ids: new Set(added) } : null);
    goTo(first, added.length > 1 ? LINE : wording());
  };

  /** Keys that mean the same in a cell and on a line. */
  const pressAnywhere = (event: KeyboardEvent, id: string, column: Column): boolean => {
    const { readOnly, onFold, onPane, onAnswer, onFind, script } = now();
    const command = event.ctrlKey || event.metaKey;
    const key = event.key;
    if (command && key === '.') onPane();
    else if (command && event.shiftKey && (key === '[' || key === '{')) onFold([id], true);
    else if (command && event.shiftKey && (key === ']' || key === '}')) onFold([id], false);
    else if (command && key.toLowerCase() === 'f') onFind(false);
    else if (command && key.toLowerCase() === 'h') onFind(true);
    else if (readOnly) return false;
    else if (command && key === ']') setParts((parts) => indentLines(parts, meant(id), 1));
    else if (command && key === '[') setParts((parts) => indentLines(parts, meant(id), -1));
    else if (event.altKey && (key === 'ArrowUp' || key === 'ArrowDown'))
      setParts((parts) => moveLines(parts, meant(id), key === 'ArrowUp' ? -1 : 1));
    else if (command && key === '/') onAnswer(id, '');
    else if (command && key === 'Enter') {
      if (column.startsWith('wording.')) void now().writing.propose(id);
      add(id, event.shiftKey);
    } else if (command && key === 'Backspace') remove(meant(id));
    else if (command && key.toLowerCase() === 'd') void duplicate(meant(id));
    else return false;
    event.preventDefault();
    if (script.parts.some((part) => part.id === id) && (command ? key === ']' || key === '[' : event.altKey))
      focus({ id, column });
    return true;
  };
  const duplicate = async (ids: ReadonlySet<string>) => {
    const { script, writing } = now();
    const parts = withInside(script.parts, ids);
    const last = parts.at(-1);
    if (!last) return;
    const level = Math.min(...parts.map((part) => part.level));
    const added = await writing.putIn(fragmentOf(script, ids), indexOf(last.id) + 1, level);
    if (added[0] !== undefined) {
      choose(added.length > 1 ? { anchor: added[0], head: added[0], ids: new Set(added) } : null);
      goTo(added[0], added.length > 1 ? LINE : wording());
    }
  };

  const pressInCell = (event: KeyboardEvent, id: string, column: Column) => {
    const { columns, seen, readOnly, script } = now();
    if (event.nativeEvent.isComposing || pressAnywhere(event, id, column)) return;
    const part = script.parts[indexOf(id)];
    if (!part) return;
    if (column.startsWith('wording.') && (event.key === 'Enter' || event.key === 'Tab')) void now().writing.propose(id);
    const target = event.target;
    const field = target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement ? target : null;
    const typed = field?.value ?? '';
    switch (event.key) {
      case 'Tab': {
        const at = columns.indexOf(column) + (event.shiftKey ? -1 : 1);
        const next = columns[at];
        const neighbour = next === undefined ? step(id, event.shiftKey ? -1 : 1) : part;
        const landing = next ?? (event.shiftKey ? columns.at(-1) : columns[0]);
        // Out of the sheet before its first cell and behind its last.
        if (!neighbour || landing === undefined) return;
        goTo(neighbour.id, landing);
        break;
      }
      case 'Enter':
        if (readOnly) return;
        if (column === 'answer' || column === 'rules') {
          if (column === 'answer') now().onAnswer(id, '');
          else now().onRules(id);
        } else if (!event.shiftKey && isBlank(part) && part.level > 1)
          setParts((parts) => indentLines(parts, new Set([id]), -1));
        else add(id, event.shiftKey);
        break;
      case 'Escape':
        choose(only(id));
        goTo(id, LINE);
        break;
      case 'ArrowUp':
      case 'ArrowDown': {
        const up = event.key === 'ArrowUp';
        if (event.shiftKey || event.ctrlKey || event.metaKey) return;
        // In a wording of several rows the arrows go through it first.
        const atEnd = field === null || field.selectionStart === (up ? 0 : typed.length);
        if (field instanceof HTMLTextAreaElement && field.scrollHeight > 44 && !atEnd) return;
        const neighbour = step(id, up ? -1 : 1);
        if (!neighbour) return;
        goTo(neighbour.id, column);
        break;
      }
      case '/':
        if (typed !== '' || readOnly) return;
        now().onAnswer(id, '');
        break;
      default:
        if (readOnly || field !== null || event.ctrlKey || event.metaKey || event.altKey || event.key.length !== 1)
          return;
        if (event.key === ' ') return;
        if (column === 'answer') now().onAnswer(id, event.key);
        else now().onRules(id);
    }
    if (seen.length > 0) event.preventDefault();
  };

  const pressOnLine = (event: KeyboardEvent, id: string) => {
    const { chosen, seen, readOnly } = now();
    if (pressAnywhere(event, id, LINE)) return;
    const command = event.ctrlKey || event.metaKey;
    if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      const neighbour = step(id, event.key === 'ArrowUp' ? -1 : 1);
      if (neighbour) {
        choose(event.shiftKey ? drawnTo(chosen ?? only(id), neighbour.id, seen) : only(neighbour.id));
        goTo(neighbour.id, LINE);
      }
    } else if (event.key === 'Home' || event.key === 'End') {
      const end = event.key === 'Home' ? seen[0] : seen.at(-1);
      if (end) {
        choose(event.shiftKey ? drawnTo(chosen ?? only(id), end.id, seen) : only(end.id));
        goTo(end.id, LINE);
      }
    } else if (command && event.key.toLowerCase() === 'a' && seen[0]) {
      choose({ anchor: seen[0].id, head: id, ids: new Set(seen.map((part) => part.id)) });
    } else if (event.key === 'Enter' || event.key === 'F2') {
      choose(null);
      goTo(id, wording());
    } else if (event.key === 'Escape') choose(null);
    else if ((event.key === 'Delete' || event.key === 'Backspace') && !readOnly) remove(meant(id));
    else if (event.key === '/' && !readOnly) now().onAnswer(id, '');
    else return;
    event.preventDefault();
  };

  const takesLines = (event: ClipboardEvent): boolean => {
    const target = event.target;
    if (!(target instanceof HTMLInputElement) && !(target instanceof HTMLTextAreaElement)) return true;
    return target.selectionStart === target.selectionEnd;
  };
  const copy = (event: ClipboardEvent): ReadonlySet<string> | null => {
    const { script, chosen, activeId } = now();
    const ids = chosen?.ids ?? (activeId === null ? null : new Set([activeId]));
    if (ids === null || !takesLines(event)) return null;
    event.preventDefault();
    copyLines(event.clipboardData, fragmentOf(script, ids));
    return ids;
  };

  return {
    activate,
    goTo,
    putIn,
    remove,
    choose,
    duplicate,
    change: (id: string, what: string, change: (before: Part) => Part) => {
      setParts((parts) => changeLines(parts, new Set([id]), change), `${id}.${what}`);
    },
    changeMany: (ids: ReadonlySet<string>, change: (before: Part) => Part) => {
      setParts((parts) => changeLines(parts, ids, change));
    },
    setParts,
    press: (event: KeyboardEvent, id: string, column: Column) => {
      if (column === LINE) pressOnLine(event, id);
      else pressInCell(event, id, column);
    },
    /** The caret is where it was wanted. */
    reached: (focused: Focus) => {
      focus((wanted) => (wanted === focused ? null : wanted));
    },
    /** Into a cell: lines that were chosen are let go. */
    enter: (id: string) => {
      if (now().chosen !== null) choose(null);
      activate(id);
    },
    pick: (event: MouseEvent, id: string) => {
      const { chosen, seen, activeId } = now();
      if (event.shiftKey) choose(drawnTo(chosen ?? only(activeId ?? id), id, seen));
      else if (event.ctrlKey || event.metaKey) choose(toggled(chosen, id));
      else choose(only(id));
      goTo(id, LINE);
    },
    fold: (id: string) => {
      now().onFold([id], !now().folded.has(id));
    },
    openAnswer: (id: string, typed: string) => {
      now().onAnswer(id, typed);
    },
    openRules: (id: string) => {
      now().onRules(id);
    },
    rename: (id: string, variable: string) => {
      const before = now().script.parts[indexOf(id)]?.variable ?? '';
      if (variable === before) return;
      if (before === '' || variable === '')
        setParts((parts) => changeLines(parts, new Set([id]), (p) => ({ ...p, variable })));
      else void now().writing.rename({ [id]: variable });
    },
    worded: (id: string) => {
      if (!now().readOnly) void now().writing.propose(id);
    },
    copy: (event: ClipboardEvent) => {
      copy(event);
    },
    cut: (event: ClipboardEvent) => {
      if (now().readOnly) return;
      const ids = copy(event);
      if (ids !== null) remove(ids);
    },
    paste: (event: ClipboardEvent) => {
      if (now().readOnly) return;
      const lines = copiedLines(event.clipboardData);
      const text = event.clipboardData.getData('text/plain');
      if (lines === null && !/[\t\n]/.test(text.trim())) return;
      event.preventDefault();
      if (lines !== null) void putIn(lines);
      else now().onPasteCells(cellsIn(text));
    },
  };
}
