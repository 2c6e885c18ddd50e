// One code list: what it is and where it is from, who uses it, and its codes as a table or, with those it hangs
// together with, as a tree.
import { App, Button, Dropdown, Input, Modal, Segmented } from 'antd';
import { useState } from 'react';
import { t } from '../../../texts/texts';
import { newCodeList, usersOf, type Code, type CodeList } from '../script/model';
import type { ScriptEditor } from '../script/useScript';
import { CodeTable } from './CodeTable';
import { CodeTree } from './CodeTree';
import type { Source } from './FromTable';
import { withListNamed, freeListName } from './newLists';
import { hangUnder, listsUnder, rootOf } from './tree';
import type { Lists } from './useLists';

interface Props {
  studyId: number;
  list: CodeList;
  editor: ScriptEditor;
  lists: Lists;
  readOnly: boolean;
  onNamed: (name: string) => void;
  onGo: (partId: string) => void;
  onMerge: () => void;
  onUpdate: (source: Source) => void;
}

const MOST_USERS = 6;
const NAME = /^[a-z][a-z0-9_]*$/;

export function CodeListPane({ studyId, list, editor, lists, readOnly, onNamed, onGo, onMerge, onUpdate }: Props) {
  const { script, hanging, edit } = editor;
  const { message } = App.useApp();
  const [adding, setAdding] = useState(false);
  const { name } = list;
  const root = rootOf(hanging, name);
  const together = listsUnder(hanging, root);
  const [wish, setView] = useState<'table' | 'tree' | null>(null);
  const view = together.length > 1 ? (wish ?? 'tree') : 'table';
  const [wanted, setWanted] = useState('');
  const used = usersOf(script, name);
  const own = editor.findings.filter((f) => f.code_list === name);
  const others = script.code_lists.filter((l) => l.name !== name);
  const change = (changed: Partial<CodeList>, what: string) => {
    edit(
      (now) => ({ ...now, code_lists: now.code_lists.map((l) => (l.name === name ? { ...l, ...changed } : l)) }),
      `list.${name}.${what}`,
    );
  };
  const rename = (to: string) => {
    if (to === '' || to === name) return;
    const problem = script.code_lists.some((l) => l.name === to)
      ? t('lists.nameTaken', { name: to })
      : NAME.test(to)
        ? ''
        : t('lists.noName', { name: to });
    if (problem !== '') {
      message.error({ content: problem, duration: 8 });
      return;
    }
    edit(withListNamed(script, name, to), 'list.name');
    onNamed(to);
  };
  const sorted = (by: (code: Code) => string) =>
    [...list.codes].sort((a, b) => by(a).localeCompare(by(b), script.languages[0], { numeric: true }));
  const addAttribute = (attribute: string) => {
    const held = (c: Code) => ({ ...c, attributes: { ...c.attributes, [attribute]: c.attributes[attribute] ?? '' } });
    change({ codes: list.codes.map(held) }, 'attribute');
    setAdding(false);
  };
  const remove = () => {
    const next = script.code_lists.find((l) => l.name !== name)?.name ?? '';
    edit((now) => ({ ...now, code_lists: now.code_lists.filter((l) => l.name !== name) }));
    onNamed(next);
  };
  return (
    <section className="lists-pane" aria-label={name}>
      <div className="row">
        <Input
          key={name}
          aria-label={t('common.name')}
          className="mono lists-name"
          disabled={readOnly}
          defaultValue={name}
          onBlur={(event) => {
            rename(event.target.value.trim());
            event.target.value = name;
          }}
          onPressEnter={(event) => {
            event.currentTarget.blur();
          }}
        />
        <Input
          aria-label={t('lists.source')}
          placeholder={t('lists.sourcePlaceholder')}
          prefix={<span className="muted small">{t('lists.source')}</span>}
          disabled={readOnly}
          value={list.source}
          maxLength={500}
          onChange={(event) => {
            change({ source: event.target.value }, 'source');
          }}
        />
        {!readOnly && (
          <Dropdown
            trigger={['click']}
            menu={{
              items: [
                {
                  key: 'attribute',
                  label: t('lists.addAttributeOpen'),
                  disabled: list.codes.length === 0,
                  onClick: () => {
                    setAdding(true);
                  },
                },
                {
                  key: 'hang',
                  label: t('lists.hangUnder'),
                  disabled: others.length === 0 || hanging.some((h) => h.code_list === name),
                  children: others
                    .filter((l) => rootOf(hanging, l.name) !== name)
                    .map((l) => ({
                      key: `hang ${l.name}`,
                      label: <code>{l.name}</code>,
                      onClick: () => {
                        edit((now) => hangUnder(now, name, l.name));
                        setView('tree');
                      },
                    })),
                },
                {
                  key: 'below',
                  label: t('lists.newBelow'),
                  onClick: () => {
                    const made = freeListName(script, `${name}_part`);
                    edit((now) =>
                      hangUnder({ ...now, code_lists: [...now.code_lists, newCodeList(made)] }, made, name),
                    );
                    setView('tree');
                  },
                },
                { type: 'divider' },
                {
                  key: 'label',
                  label: t('lists.sortByLabel'),
                  onClick: () => {
                    change({ codes: sorted((c) => c.label[script.languages[0] ?? 'en'] ?? '') }, 'sort');
                  },
                },
                {
                  key: 'code',
                  label: t('lists.sortByCode'),
                  onClick: () => {
                    change({ codes: sorted((c) => c.code) }, 'sort');
                  },
                },
                { type: 'divider' },
                { key: 'merge', label: t('lists.mergeOpen'), disabled: others.length === 0, onClick: onMerge },
                {
                  key: 'update',
                  label: t('lists.updateOpen'),
                  onClick: () => {
                    onUpdate('update');
                  },
                },
                {
                  key: 'remove',
                  danger: true,
                  label: used.length > 0 ? t('lists.removeUsed') : t('lists.remove'),
                  disabled: used.length > 0,
                  onClick: remove,
                },
              ],
            }}
          >
            <Button aria-label={t('questionnaire.more2')}>⋯</Button>
          </Dropdown>
        )}
      </div>
      <p className="lists-used small muted">
        {used.length === 0 ? (
          t('questionnaire.notUsedYet')
        ) : (
          <>
            {t('lists.usedBy')}{' '}
            {used.slice(0, MOST_USERS).map((part) => (
              <button
                key={part.id}
                type="button"
                className="plain-link mono"
                onClick={() => {
                  onGo(part.id);
                }}
              >
                {part.variable === '' ? '…' : part.variable}
              </button>
            ))}
            {used.length > MOST_USERS && t('questionnaire.more', { more: used.length - MOST_USERS })}
          </>
        )}
        {list.table && (
          <>
            {' · '}
            {t('lists.fromTable', { name: list.table.name })}{' '}
            {!readOnly && (
              <button
                type="button"
                className="plain-link"
                onClick={() => {
                  onUpdate('update');
                }}
              >
                {t('lists.bringUpToDate')}
              </button>
            )}
          </>
        )}
      </p>
      {own.slice(0, 5).map((f, i) => (
        <p key={i} className="rule-note">
          {f.message} <b>{f.mend}</b>
        </p>
      ))}
      <div className="row lists-tools">
        {together.length > 1 && (
          <Segmented
            size="small"
            value={view}
            onChange={setView}
            options={[
              { value: 'tree', label: t('lists.asTree') },
              { value: 'table', label: t('lists.asTable') },
            ]}
          />
        )}
        <Input
          allowClear
          size="small"
          style={{ maxWidth: 260 }}
          placeholder={t('lists.findCode')}
          aria-label={t('lists.findCode')}
          value={wanted}
          onChange={(event) => {
            setWanted(event.target.value);
          }}
        />
        <span className="muted small">
          {view === 'tree' ? together.join(' → ') : t('questionnaire.codesCount', { count: list.codes.length })}
        </span>
      </div>
      {view === 'tree' ? (
        <CodeTree
          root={root}
          script={script}
          hanging={hanging}
          wanted={wanted}
          readOnly={readOnly}
          lists={lists}
          onEdit={edit}
        />
      ) : (
        <CodeTable
          studyId={studyId}
          list={list}
          script={script}
          wanted={wanted}
          readOnly={readOnly}
          lists={lists}
          onChange={(changed, what) => {
            // A list that comes to hang under another while it is written stays the table that it is written in.
            setView('table');
            change(changed, what);
          }}
        />
      )}
      {adding && (
        <AttributeDialog
          onAdd={addAttribute}
          onClose={() => {
            setAdding(false);
          }}
        />
      )}
    </section>
  );
}

function AttributeDialog({ onAdd, onClose }: { onAdd: (attribute: string) => void; onClose: () => void }) {
  const [typed, setTyped] = useState('');
  const wrong = typed !== '' && !NAME.test(typed);
  return (
    <Modal
      open
      title={t('lists.addAttribute')}
      okText={t('questionnaire.add')}
      okButtonProps={{ disabled: typed === '' || wrong }}
      onCancel={onClose}
      onOk={() => {
        onAdd(typed);
      }}
    >
      <p className="muted">{t('lists.attributeWhat')}</p>
      <Input
        autoFocus
        className="mono"
        status={wrong ? 'error' : ''}
        aria-label={t('questionnaire.attribute')}
        placeholder={t('questionnaire.attribute')}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value.trim());
        }}
        onPressEnter={() => {
          if (NAME.test(typed)) onAdd(typed);
        }}
      />
      {wrong && <p className="rule-note">{t('lists.noName', { name: typed })}</p>}
    </Modal>
  );
}
