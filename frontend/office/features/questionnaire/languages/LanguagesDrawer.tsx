// All texts of a questionnaire in its languages, side by side: what is missing, what has changed since, out and back.
import { useQuery } from '@tanstack/react-query';
import { App, Button, Dropdown, Input, Segmented } from 'antd';
import { useDeferredValue, useMemo, useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import { directionOf, languageName } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import { WritingDrawer } from '../../../ui/WritingDrawer';
import { messageOf } from '../../../ui/states';
import type { ScriptEditor } from '../script/useScript';
import { AddLanguage } from './AddLanguage';
import { BringBack } from './BringBack';
import { TextsTable } from './TextsTable';
import { sourceOf, stateOf, textsOf, withSourceLabels, withText, withoutLanguage, type State } from './texts';
import '../lists/lists.css';
import './languages.css';

interface Props {
  questionnaireId: number;
  editor: ScriptEditor;
  readOnly: boolean;
  onClose: () => void;
  onGo: (partId: string) => void;
}

type Wish = 'all' | Exclude<State, 'done'>;
const WISHES: Wish[] = ['all', 'missing', 'outdated', 'values'];
const WISH_WORDS = {
  all: 'languages.all',
  missing: 'languages.missing',
  outdated: 'languages.outdated',
  values: 'languages.values',
} as const;
const MOST_SIDE_BY_SIDE = 3;

export function LanguagesDrawer({ questionnaireId, editor, readOnly, onClose, onGo }: Props) {
  const { script, outdated, edit } = editor;
  const { message, modal } = App.useApp();
  const first = script.languages[0] ?? 'en';
  const others = script.languages.slice(1);
  const [hidden, setHidden] = useState<string[]>(() => others.slice(MOST_SIDE_BY_SIDE));
  const [wish, setWish] = useState<Wish>('all');
  const [wanted, setWanted] = useState('');
  const [over, setOver] = useState<{ what: 'add' } | { what: 'back'; language: string } | null>(null);
  const words = useQuery({
    queryKey: ['phone words'],
    queryFn: () => ask(api.GET('/api/phone-words')),
    staleTime: Infinity,
  });
  const texts = useMemo(() => textsOf(script, words.data ?? []), [script, words.data]);
  const states = useMemo(
    () =>
      new Map(
        others.map((tag) => [tag, texts.map((text) => stateOf(text, sourceOf(script, text.key), tag, outdated))]),
      ),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `others` follows from the script
    [texts, outdated, script],
  );
  const shownTags = others.filter((tag) => !hidden.includes(tag));
  const sought = useDeferredValue(wanted.trim().toLowerCase());
  const shown = useMemo(
    () =>
      texts.flatMap((text, i) => {
        const fits = wish === 'all' || shownTags.some((tag) => states.get(tag)?.[i] === wish);
        const said = `${text.place} ${text.field} ${Object.values(text.texts).join(' ')}`.toLowerCase();
        return fits && said.includes(sought) ? [i] : [];
      }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `shownTags` follows from what is hidden
    [texts, states, wish, sought, hidden],
  );
  const count = (tag: string, state: State): number => states.get(tag)?.filter((s) => s === state).length ?? 0;
  const confirm = async (keys: string[], language: string) => {
    try {
      const left = await ask(
        api.POST('/api/questionnaires/{questionnaire_id}/translation/confirmed', {
          params: { path: { questionnaire_id: questionnaireId } },
          body: { language, keys },
        }),
      );
      editor.confirmed(left.outdated);
    } catch (error) {
      message.error({ content: messageOf(error), duration: 8 });
    }
  };
  const makeFirst = (tag: string) => {
    edit((now) => ({ ...now, languages: [tag, ...now.languages.filter((other) => other !== tag)] }));
  };
  const remove = (tag: string) => {
    modal.confirm({
      title: t('languages.removeTitle', { language: languageName(tag) }),
      content: t('languages.removeWhat'),
      okText: t('languages.remove'),
      onOk: () => {
        edit((now) => withoutLanguage(now, tag));
      },
    });
  };
  return (
    <WritingDrawer size={1180} title={t('languages.title')} onClose={onClose}>
      <div className="translations">
        <div className="row translation-bar">
          {others.map((tag) => (
            <Progress
              key={tag}
              tag={tag}
              total={texts.length}
              missing={count(tag, 'missing')}
              outdated={count(tag, 'outdated')}
              values={count(tag, 'values')}
              shown={shownTags.includes(tag)}
              onToggle={() => {
                setHidden(hidden.includes(tag) ? hidden.filter((h) => h !== tag) : [...hidden, tag]);
              }}
              menu={[
                {
                  key: 'out',
                  label: (
                    <a
                      href={`/api/questionnaires/${String(questionnaireId)}/translation?language=${encodeURIComponent(tag)}`}
                      download
                    >
                      {t('languages.takeOut')}
                    </a>
                  ),
                },
                ...(readOnly
                  ? []
                  : [
                      {
                        key: 'back',
                        label: t('languages.bringBackOpen'),
                        onClick: () => {
                          setOver({ what: 'back', language: tag });
                        },
                      },
                      {
                        key: 'labels',
                        label: t('languages.copyLabels'),
                        onClick: () => {
                          edit((now) => withSourceLabels(now, tag));
                        },
                      },
                      {
                        key: 'first',
                        label: t('languages.makeFirst'),
                        onClick: () => {
                          makeFirst(tag);
                        },
                      },
                      {
                        key: 'remove',
                        danger: true,
                        label: t('languages.remove'),
                        onClick: () => {
                          remove(tag);
                        },
                      },
                    ]),
              ]}
            />
          ))}
          {!readOnly && (
            <Button
              onClick={() => {
                setOver({ what: 'add' });
              }}
            >
              {t('questionnaire.addLanguage2')}
            </Button>
          )}
        </div>
        {others.length === 0 ? (
          <p className="muted">{t('languages.onlyOne', { language: languageName(first) })}</p>
        ) : (
          <>
            <div className="row translation-tools">
              <Segmented<Wish>
                size="small"
                value={wish}
                onChange={setWish}
                options={WISHES.map((value) => ({ value, label: t(WISH_WORDS[value]) }))}
              />
              <Input
                allowClear
                size="small"
                style={{ maxWidth: 260 }}
                placeholder={t('languages.find')}
                aria-label={t('languages.find')}
                value={wanted}
                onChange={(event) => {
                  setWanted(event.target.value);
                }}
              />
              <span className="muted small">{t('languages.shown', { count: shown.length })}</span>
            </div>
            <TextsTable
              script={script}
              texts={texts}
              shown={shown}
              tags={shownTags}
              states={states}
              outdated={outdated}
              readOnly={readOnly}
              onText={(key, tag, said) => {
                edit((now) => withText(now, key, tag, said), `text.${key}.${tag}`);
              }}
              onConfirm={(key, tag) => void confirm([key], tag)}
              onGo={(id) => {
                onClose();
                onGo(id);
              }}
            />
          </>
        )}
      </div>
      {over?.what === 'add' && (
        <AddLanguage
          script={script}
          onClose={() => {
            setOver(null);
          }}
          onAdd={(tag) => {
            edit((now) => ({ ...now, languages: [...now.languages, tag] }));
            setOver(null);
          }}
        />
      )}
      {over?.what === 'back' && (
        <BringBack
          questionnaireId={questionnaireId}
          language={over.language}
          waiting={editor.save !== 'saved'}
          onClose={() => {
            setOver(null);
          }}
          onTake={(taken) => {
            edit(taken);
            setOver(null);
          }}
        />
      )}
    </WritingDrawer>
  );
}

interface ProgressProps {
  tag: string;
  total: number;
  missing: number;
  outdated: number;
  values: number;
  shown: boolean;
  onToggle: () => void;
  menu: NonNullable<React.ComponentProps<typeof Dropdown>['menu']>['items'];
}

/** One language: how much of it there is, and what is done with it. */
function Progress({ tag, total, missing, outdated, values, shown, onToggle, menu }: ProgressProps) {
  const done = total - missing;
  const share = total === 0 ? 0 : done / total;
  return (
    <div className={shown ? 'translation-language on' : 'translation-language'}>
      <button type="button" aria-pressed={shown} onClick={onToggle}>
        <b dir={directionOf(tag)}>{languageName(tag)}</b>
        <span className="muted small">
          {done.toLocaleString('en')} / {total.toLocaleString('en')}
        </span>
        {outdated > 0 && <span className="doubt small">{t('languages.outdatedCount', { count: outdated })}</span>}
        {values > 0 && <span className="bad small">{t('languages.valuesCount', { count: values })}</span>}
        <i style={{ width: `${String(100 * share)}%` }} />
      </button>
      <Dropdown trigger={['click']} menu={{ items: menu ?? [] }}>
        <button type="button" className="plain-link" aria-label={t('languages.acts', { language: languageName(tag) })}>
          ⋯
        </button>
      </Dropdown>
    </div>
  );
}
