// The code lists of a questionnaire: which there are and how they hang together, and the one in hand.
import { Button, Dropdown, Input } from 'antd';
import { useState } from 'react';
import { t } from '../../../texts/texts';
import { WritingDrawer } from '../../../ui/WritingDrawer';
import { newCodeList, usersOf, type CodeList, type Finding, type Script } from '../script/model';
import type { ScriptEditor } from '../script/useScript';
import { CodeListPane } from './CodeListPane';
import { FromTable, type Source } from './FromTable';
import { MergeLists } from './MergeLists';
import { ReadyLists } from './ReadyLists';
import { freeListName } from './newLists';
import type { Hanging } from './tree';
import { useLists } from './useLists';
import './lists.css';

interface Props {
  questionnaireId: number;
  studyId: number;
  name: string;
  editor: ScriptEditor;
  readOnly: boolean;
  onClose: () => void;
  onNamed: (name: string) => void;
  onGo: (id: string) => void;
}

type Over = { what: 'ready' } | { what: 'merge' } | { what: 'table'; source: Source };

export function ListsDrawer({ questionnaireId, studyId, name, editor, readOnly, onClose, onNamed, onGo }: Props) {
  const { script, findings, hanging, edit } = editor;
  const lists = useLists(questionnaireId, editor);
  const [over, setOver] = useState<Over | null>(null);
  const list = script.code_lists.find((l) => l.name === name) ?? script.code_lists[0];
  const add = (made: CodeList[]) => {
    edit((now) => ({ ...now, code_lists: [...now.code_lists, ...made] }));
    const first = made[0];
    if (first) onNamed(first.name);
  };
  const done = () => {
    setOver(null);
  };
  return (
    <WritingDrawer size={1180} title={t('lists.title')} onClose={onClose} className="lists-drawer">
      <div className="lists">
        <ListRail
          script={script}
          hanging={hanging}
          findings={findings}
          chosen={list?.name ?? ''}
          onChoose={onNamed}
          foot={
            !readOnly && (
              <Dropdown
                trigger={['click']}
                menu={{
                  items: [
                    {
                      key: 'new',
                      label: t('lists.empty'),
                      onClick: () => {
                        add([newCodeList(freeListName(script, ''))]);
                      },
                    },
                    {
                      key: 'ready',
                      label: t('lists.readyOpen'),
                      onClick: () => {
                        setOver({ what: 'ready' });
                      },
                    },
                    {
                      key: 'file',
                      label: t('lists.fromFileOpen'),
                      onClick: () => {
                        setOver({ what: 'table', source: 'file' });
                      },
                    },
                    {
                      key: 'outside',
                      label: t('lists.fromOutsideOpen'),
                      onClick: () => {
                        setOver({ what: 'table', source: 'outside' });
                      },
                    },
                  ],
                }}
              >
                <Button block>{t('lists.add')}</Button>
              </Dropdown>
            )
          }
        />
        {list ? (
          <CodeListPane
            key={list.name}
            studyId={studyId}
            list={list}
            editor={editor}
            lists={lists}
            readOnly={readOnly}
            onNamed={onNamed}
            onGo={(id) => {
              onClose();
              onGo(id);
            }}
            onMerge={() => {
              setOver({ what: 'merge' });
            }}
            onUpdate={(source) => {
              setOver({ what: 'table', source });
            }}
          />
        ) : (
          <p className="muted">{t('lists.none')}</p>
        )}
      </div>
      {over?.what === 'ready' && (
        <ReadyLists
          lists={lists}
          script={script}
          onClose={done}
          onTake={(made) => {
            add(made);
            done();
          }}
        />
      )}
      {over?.what === 'merge' && list && (
        <MergeLists
          list={list}
          lists={lists}
          script={script}
          onClose={done}
          onMerged={(merged) => {
            edit(merged);
            done();
          }}
        />
      )}
      {over?.what === 'table' && (
        <FromTable
          source={over.source}
          present={over.source === 'update' ? (list ?? null) : null}
          lists={lists}
          script={script}
          onClose={done}
          onTake={(made) => {
            if (over.source === 'update')
              edit((now) => ({
                ...now,
                code_lists: now.code_lists.map((l) => made.find((m) => m.name === l.name) ?? l),
              }));
            else add(made);
            done();
          }}
        />
      )}
    </WritingDrawer>
  );
}

function ListRail({
  script,
  hanging,
  findings,
  chosen,
  onChoose,
  foot,
}: {
  script: Script;
  hanging: Hanging[];
  findings: Finding[];
  chosen: string;
  onChoose: (name: string) => void;
  foot: React.ReactNode;
}) {
  const [wanted, setWanted] = useState('');
  const wrong = new Set(findings.flatMap((f) => (f.code_list === '' || f.severity === 'hint' ? [] : [f.code_list])));
  return (
    <nav className="lists-rail" aria-label={t('lists.title')}>
      <Input
        allowClear
        size="small"
        placeholder={t('lists.findList')}
        aria-label={t('lists.findList')}
        value={wanted}
        onChange={(event) => {
          setWanted(event.target.value);
        }}
      />
      <ul>
        {inOrder(script, hanging)
          .filter(({ list }) => `${list.name} ${list.source}`.toLowerCase().includes(wanted.toLowerCase()))
          .map(({ list, depth }) => {
            const used = usersOf(script, list.name).length;
            return (
              <li key={list.name}>
                <button
                  type="button"
                  className={list.name === chosen ? 'on' : ''}
                  aria-current={list.name === chosen}
                  style={{ paddingInlineStart: 8 + 14 * depth }}
                  onClick={() => {
                    onChoose(list.name);
                  }}
                >
                  <span className="mono">
                    {depth > 0 && <span className="faint">└ </span>}
                    {list.name}
                  </span>
                  {wrong.has(list.name) && <b className="doubt"> !</b>}
                  <span className="muted small">
                    {list.codes.length.toLocaleString('en')}
                    {used === 0 ? ` · ${t('lists.unused')}` : ''}
                  </span>
                </button>
              </li>
            );
          })}
      </ul>
      {foot}
    </nav>
  );
}

/** The lists as they hang, each behind the one it hangs under. */
function inOrder(script: Script, hanging: Hanging[]): { list: CodeList; depth: number }[] {
  const under = (name: string | null, depth: number): { list: CodeList; depth: number }[] =>
    script.code_lists
      .filter((list) => (hanging.find((h) => h.code_list === list.name)?.under ?? null) === name)
      .flatMap((list) => [{ list, depth }, ...under(list.name, depth + 1)]);
  return under(null, 0);
}
