// Lists that hang together, as one tree: islands with their wards, wards with their streets.
import type { Schemas } from '../../../../shared/api/client';
import { emptyCode, type Code, type Script } from '../script/model';

export type Hanging = Schemas['Hanging'];

/** A code in the tree. `index` is its place in its list; `path` tells it from a code of the same name elsewhere. */
export interface TreeNode {
  list: string;
  index: number;
  code: Code;
  depth: number;
  path: string;
  /** How many codes stand under it, on all levels. */
  below: number;
  /** The lists whose codes may stand right under it. */
  holds: string[];
}

/** The list that a list's tree begins with. */
export function rootOf(hanging: Hanging[], name: string): string {
  const link = hanging.find((h) => h.code_list === name);
  return link ? rootOf(hanging, link.under) : name;
}

/** The lists of a tree, each behind the one it hangs under. */
export function listsUnder(hanging: Hanging[], root: string): string[] {
  return [root, ...hanging.filter((h) => h.under === root).flatMap((h) => listsUnder(hanging, h.code_list))];
}

type Children = Map<string, { code: Code; index: number }[]>;

/** Every code of the tree from the top; codes that stand under none come last, on their own. */
export function treeOf(script: Pick<Script, 'code_lists'>, hanging: Hanging[], root: string): TreeNode[] {
  const lists = new Map(script.code_lists.map((list) => [list.name, list]));
  const children = new Map<string, Children>();
  const lost: TreeNode[] = [];
  for (const link of hanging) {
    const above = new Set(lists.get(link.under)?.codes.map((code) => code.code));
    const found: Children = new Map();
    lists.get(link.code_list)?.codes.forEach((code, index) => {
      const under = code.attributes[link.attribute] ?? '';
      if (above.has(under)) found.set(under, [...(found.get(under) ?? []), { code, index }]);
    });
    children.set(link.code_list, found);
  }
  const holdsOf = (name: string) => hanging.filter((h) => h.under === name).map((h) => h.code_list);
  const nodes: TreeNode[] = [];
  const walk = (list: string, code: Code, index: number, depth: number, above: string) => {
    const holds = holdsOf(list);
    const node = { list, index, code, depth, path: `${above}/${list}:${code.code}#${String(index)}`, below: 0, holds };
    nodes.push(node);
    const before = nodes.length;
    for (const held of holds)
      for (const child of children.get(held)?.get(code.code) ?? [])
        walk(held, child.code, child.index, depth + 1, node.path);
    node.below = nodes.length - before;
  };
  lists.get(root)?.codes.forEach((code, index) => {
    walk(root, code, index, 0, '');
  });
  const placed = new Set(nodes.map((node) => `${node.list}#${String(node.index)}`));
  for (const name of listsUnder(hanging, root).slice(1))
    lists.get(name)?.codes.forEach((code, index) => {
      if (!placed.has(`${name}#${String(index)}`))
        lost.push({ list: name, index, code, depth: 0, path: `?/${name}#${String(index)}`, below: 0, holds: [] });
    });
  return [...nodes, ...lost];
}

export const isLost = (node: TreeNode): boolean => node.path.startsWith('?');

/** What is in view: nothing inside a folded code; where something is looked for, what holds it and what leads there. */
export function shownNodes(
  nodes: TreeNode[],
  folded: ReadonlySet<string>,
  wanted: string,
  language: string,
): TreeNode[] {
  if (wanted.trim() !== '') {
    const found = nodes.map((node) => holds(node.code, wanted, language));
    return nodes.filter((node, i) => found.slice(i, i + node.below + 1).some(Boolean));
  }
  const shown: TreeNode[] = [];
  for (let i = 0; i < nodes.length; i += 1) {
    const node = nodes[i];
    if (!node) break;
    shown.push(node);
    if (folded.has(node.path)) i += node.below;
  }
  return shown;
}

const plain = (text: string): string => text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();

/** Whether a code or its label holds what is looked for, without accents. */
export const holds = (code: Code, wanted: string, language: string): boolean =>
  plain(`${code.code} ${code.label[language] ?? ''}`).includes(plain(wanted.trim()));

const inList = (script: Script, name: string, change: (codes: Code[]) => Code[]): Script => ({
  ...script,
  code_lists: script.code_lists.map((list) => (list.name === name ? { ...list, codes: change(list.codes) } : list)),
});

export const setCode = (script: Script, node: TreeNode, changed: Partial<Code>): Script =>
  inList(script, node.list, (codes) => codes.map((code, i) => (i === node.index ? { ...code, ...changed } : code)));

/** A new code right behind another one, under the same. */
export const addBeside = (script: Script, hanging: Hanging[], node: TreeNode): Script => {
  const attribute = hanging.find((h) => h.code_list === node.list)?.attribute;
  const attributes = attribute === undefined ? {} : { [attribute]: node.code.attributes[attribute] ?? '' };
  return inList(script, node.list, (codes) => [
    ...codes.slice(0, node.index + 1),
    { ...emptyCode(), attributes },
    ...codes.slice(node.index + 1),
  ]);
};

/** A new code of another list, under this one. */
export const addUnder = (script: Script, hanging: Hanging[], node: TreeNode, list: string): Script => {
  const attribute = hanging.find((h) => h.code_list === list)?.attribute ?? list;
  const added = { ...emptyCode(), attributes: { [attribute]: node.code.code } };
  return inList(script, list, (codes) => [...codes, added]);
};

/** Under another code of the list above. */
export const moveUnder = (script: Script, hanging: Hanging[], node: TreeNode, under: string): Script => {
  const attribute = hanging.find((h) => h.code_list === node.list)?.attribute;
  if (attribute === undefined) return script;
  return setCode(script, node, { attributes: { ...node.code.attributes, [attribute]: under } });
};

/** Up or down past the nearest code under the same one. */
export const moveBeside = (script: Script, nodes: TreeNode[], node: TreeNode, by: 1 | -1): Script => {
  const above = node.path.slice(0, node.path.lastIndexOf('/'));
  const beside = nodes.filter((n) => n.list === node.list && n.path.slice(0, n.path.lastIndexOf('/')) === above);
  const other = beside[beside.findIndex((n) => n.path === node.path) + by];
  if (!other) return script;
  return inList(script, node.list, (codes) =>
    codes.map((code, i) => (i === node.index ? other.code : i === other.index ? node.code : code)),
  );
};

/** Without a code and all that stands under it. */
export function removeBranch(script: Script, nodes: TreeNode[], node: TreeNode): Script {
  const at = nodes.findIndex((n) => n.path === node.path);
  const gone = new Map<string, Set<number>>();
  for (const n of nodes.slice(at, at + node.below + 1)) gone.set(n.list, (gone.get(n.list) ?? new Set()).add(n.index));
  return [...gone].reduce(
    (now, [list, places]) => inList(now, list, (codes) => codes.filter((_, i) => !places.has(i))),
    script,
  );
}

/** The list hung under another one: every code gets an attribute of that name, still empty. */
export const hangUnder = (script: Script, name: string, under: string): Script =>
  inList(script, name, (codes) =>
    (codes.length > 0 ? codes : [emptyCode()]).map((code) => ({
      ...code,
      attributes: { ...code.attributes, [under]: code.attributes[under] ?? '' },
    })),
  );
