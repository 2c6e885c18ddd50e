// Lists that hang together, edited as the tree that they mean: an island holds its wards, a ward its streets.
import { useVirtualizer } from '@tanstack/react-virtual';
import { Dropdown } from 'antd';
import { useEffect, useMemo, useRef, useState } from 'react';
import { directionOf } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import type { Script } from '../script/model';
import type { ScriptEditor } from '../script/useScript';
import { codeNamed } from '../sheet/answers';
import { CodeField } from './CodeTable';
import {
  addBeside,
  addUnder,
  isLost,
  listsUnder,
  moveBeside,
  moveUnder,
  removeBranch,
  setCode,
  shownNodes,
  treeOf,
  type Hanging,
  type TreeNode,
} from './tree';
import type { Lists } from './useLists';

interface Props {
  root: string;
  script: Script;
  hanging: Hanging[];
  wanted: string;
  readOnly: boolean;
  lists: Lists;
  onEdit: ScriptEditor['edit'];
}

const ROW_PX = 30;
/** So many codes are unfolded at first; a larger tree begins folded. */
const MOST_UNFOLDED = 60;
const MOST_OFFERED = 200;

export function CodeTree({ root, script, hanging, wanted, readOnly, lists, onEdit }: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const language = script.languages[0] ?? 'en';
  const nodes = useMemo(() => treeOf(script, hanging, root), [script, hanging, root]);
  const [folded, setFolded] = useState<ReadonlySet<string>>(
    () => new Set(nodes.length > MOST_UNFOLDED ? nodes.filter((n) => n.below > 0).map((n) => n.path) : []),
  );
  const shown = useMemo(() => shownNodes(nodes, folded, wanted, language), [nodes, folded, wanted, language]);
  const order = listsUnder(hanging, root);
  const [focus, setFocus] = useState<{ list: string; index: number } | null>(null);
  const rows = useVirtualizer({
    count: shown.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
  });
  useEffect(() => {
    if (!focus) return;
    const at = shown.findIndex((n) => n.list === focus.list && n.index === focus.index);
    if (at < 0) return;
    rows.scrollToIndex(at, { align: 'auto' });
    const frame = requestAnimationFrame(() => {
      const field = scroller.current?.querySelector<HTMLElement>(
        `[data-node="${focus.list}#${String(focus.index)}"] .tree-label`,
      );
      if (!field) return;
      field.focus();
      setFocus(null);
    });
    return () => {
      cancelAnimationFrame(frame);
    };
  });
  const fold = (path: string, close: boolean) => {
    const next = new Set(folded);
    if (close) next.add(path);
    else next.delete(path);
    setFolded(next);
  };
  const count = (name: string) => script.code_lists.find((l) => l.name === name)?.codes.length ?? 0;
  const under = (node: TreeNode, list: string) => {
    fold(node.path, false);
    onEdit((now) => addUnder(now, hanging, node, list));
    setFocus({ list, index: count(list) });
  };
  const beside = (node: TreeNode) => {
    onEdit((now) => addBeside(complete(now, node, language), hanging, node));
    setFocus({ list: node.list, index: node.index + 1 });
  };
  const goTo = (node: TreeNode | undefined) => {
    if (node) setFocus({ list: node.list, index: node.index });
  };
  const keys = (node: TreeNode) => (event: React.KeyboardEvent<HTMLInputElement>) => {
    const at = shown.indexOf(node);
    const [held] = node.holds;
    if (event.key === 'Enter' && event.ctrlKey && held !== undefined) under(node, held);
    else if (event.key === 'Enter') beside(node);
    else if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
      const by = event.key === 'ArrowUp' ? -1 : 1;
      onEdit((now) => moveBeside(now, nodes, node, by));
    } else if (event.key === 'ArrowDown') goTo(shown[at + 1]);
    else if (event.key === 'ArrowUp') goTo(shown[at - 1]);
    else if (event.key === 'Backspace' && event.currentTarget.value === '' && node.below === 0) {
      onEdit((now) => removeBranch(now, nodes, node));
      goTo(shown[at - 1]);
    } else return;
    event.preventDefault();
  };
  return (
    <div className="code-tree">
      <div ref={scroller} className="code-scroll" role="tree" aria-label={order.join(' → ')}>
        <div style={{ height: rows.getTotalSize(), position: 'relative' }}>
          {rows.getVirtualItems().map((item) => {
            const node = shown[item.index];
            if (!node) return null;
            const closed = folded.has(node.path) && wanted.trim() === '';
            return (
              <div
                key={item.key}
                role="treeitem"
                aria-level={node.depth + 1}
                aria-selected={false}
                aria-expanded={node.below > 0 ? !closed : undefined}
                data-node={`${node.list}#${String(node.index)}`}
                className={isLost(node) ? 'tree-row lost' : 'tree-row'}
                style={{
                  paddingInlineStart: 4 + 22 * node.depth,
                  transform: `translateY(${String(item.start)}px)`,
                }}
              >
                <button
                  type="button"
                  className="fold"
                  aria-label={closed ? t('lists.unfold') : t('lists.fold')}
                  disabled={node.below === 0}
                  onClick={() => {
                    fold(node.path, !closed);
                  }}
                >
                  {node.below === 0 ? '·' : closed ? '▸' : '▾'}
                </button>
                <input
                  className="tree-label"
                  aria-label={`${node.list} ${node.code.code}`}
                  readOnly={readOnly}
                  dir={directionOf(language)}
                  value={node.code.label[language] ?? ''}
                  placeholder={node.list}
                  onKeyDown={keys(node)}
                  onBlur={() => {
                    if (node.code.code === '') onEdit((now) => complete(now, node, language));
                  }}
                  onChange={(event) => {
                    const label = { ...node.code.label, [language]: event.target.value };
                    onEdit((now) => setCode(now, node, { label }), `tree.${node.list}.${String(node.index)}`);
                  }}
                />
                <CodeField
                  code={node.code.code}
                  label={`${t('questionnaire.code')} ${node.code.code}`}
                  readOnly={readOnly}
                  onNamed={(to) => {
                    if (node.code.code === '') onEdit((now) => setCode(now, node, { code: to }));
                    else void lists.recode(node.list, node.code.code, to);
                  }}
                />
                <span className="tree-list mono small">{node.list}</span>
                <span className="muted small tree-below">
                  {isLost(node) ? t('lists.belongsNowhere') : node.below > 0 ? node.below.toLocaleString('en') : ''}
                </span>
                {readOnly ? (
                  <span />
                ) : (
                  <NodeMenu
                    node={node}
                    script={script}
                    hanging={hanging}
                    language={language}
                    onUnder={(list) => {
                      under(node, list);
                    }}
                    onMove={(to) => {
                      onEdit((now) => moveUnder(now, hanging, node, to));
                    }}
                    onRemove={() => {
                      onEdit((now) => removeBranch(now, nodes, node));
                    }}
                  />
                )}
              </div>
            );
          })}
        </div>
        {nodes.length === 0 && <p className="muted">{t('lists.treeEmpty', { name: root })}</p>}
        {nodes.length > 0 && shown.length === 0 && <p className="muted">{t('lists.nothingFound', { wanted })}</p>}
      </div>
      <p className="muted small">{t('lists.treeKeys')}</p>
    </div>
  );
}

/** A code that was left empty is made of its label. */
function complete(script: Script, node: TreeNode, language: string): Script {
  const codes = script.code_lists.find((l) => l.name === node.list)?.codes ?? [];
  const code = codes[node.index];
  const label = code?.label[language] ?? '';
  if (!code || code.code !== '' || label.trim() === '') return script;
  const named = codeNamed(label, new Set(codes.map((c) => c.code)), String(node.index + 1));
  return setCode(script, node, { code: named });
}

function NodeMenu({
  node,
  script,
  hanging,
  language,
  onUnder,
  onMove,
  onRemove,
}: {
  node: TreeNode;
  script: Script;
  hanging: Hanging[];
  language: string;
  onUnder: (list: string) => void;
  onMove: (under: string) => void;
  onRemove: () => void;
}) {
  const link = hanging.find((h) => h.code_list === node.list);
  const above = script.code_lists.find((l) => l.name === link?.under)?.codes ?? [];
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        style: { maxHeight: 420, overflowY: 'auto' },
        items: [
          ...node.holds.map((list) => ({
            key: `under ${list}`,
            label: t('lists.addUnder', { list }),
            onClick: () => {
              onUnder(list);
            },
          })),
          ...(link
            ? [
                {
                  key: 'move',
                  label: t('lists.moveUnder'),
                  children: above.slice(0, MOST_OFFERED).map((code) => ({
                    key: `move ${code.code}`,
                    label: code.label[language] ?? code.code,
                    disabled: node.code.attributes[link.attribute] === code.code,
                    onClick: () => {
                      onMove(code.code);
                    },
                  })),
                },
              ]
            : []),
          {
            key: 'remove',
            danger: true,
            label: node.below > 0 ? t('lists.removeBranch', { count: node.below }) : t('lists.removeCode'),
            onClick: onRemove,
          },
        ],
      }}
    >
      <button type="button" className="plain-link" aria-label={t('lists.actsFor', { code: node.code.code })}>
        ⋯
      </button>
    </Dropdown>
  );
}
