import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App, Button, Checkbox } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { languageName } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import { Loaded, messageOf } from '../../../ui/states';
import type { Kind } from '../script/model';
import { LinesGlance, questionsOf } from './LinesGlance';

type Entry = Schemas['ModuleOut'];

interface Props {
  studyId: number;
  kinds: Kind[];
  language: string;
  /** Modules that lines of this questionnaire were taken from. */
  taken: string[];
  onTake: (names: string[]) => Promise<void>;
  onUpdate: (name: string) => void;
}

/** The shelf: what there is, what it asks, where it comes from; several are taken at once. */
export function ModuleShelf({ studyId, kinds, language, taken, onTake, onUpdate }: Props) {
  const shelf = useQuery({
    queryKey: ['modules', studyId],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/modules', { params: { path: { study_id: studyId } } })),
  });
  const [ticked, setTicked] = useState<string[]>([]);
  const [shown, setShown] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  return (
    <Loaded query={shelf}>
      {(entries) => {
        const entry = entries.find((e) => e.module.name === shown) ?? entries[0];
        const chosen = entries.filter((e) => ticked.includes(e.module.name));
        const questions = chosen.reduce((sum, e) => sum + questionsOf(e.module.fragment.parts, kinds), 0);
        return (
          <div className="shelf">
            <div className="shelf-list">
              {entries.map((e) => {
                const { name } = e.module;
                return (
                  <div key={name} className={e === entry ? 'shelf-entry shown' : 'shelf-entry'}>
                    <Checkbox
                      aria-label={t('questionnaire.tickModule', { title: textIn(e.module.title, language) })}
                      checked={ticked.includes(name)}
                      onChange={() => {
                        setShown(name);
                        setTicked(ticked.includes(name) ? ticked.filter((n) => n !== name) : [...ticked, name]);
                      }}
                    />
                    <button
                      type="button"
                      onClick={() => {
                        setShown(name);
                      }}
                    >
                      <b>{textIn(e.module.title, language)}</b>
                      <span className="muted small">
                        {t('questionnaire.questions', { count: questionsOf(e.module.fragment.parts, kinds) })}
                        {e.id === null ? '' : ` · ${t('questionnaire.moduleOwn')}`}
                        {taken.includes(name) ? ` · ${t('questionnaire.moduleTaken')}` : ''}
                      </span>
                    </button>
                  </div>
                );
              })}
            </div>
            {entry && (
              <Shown
                entry={entry}
                studyId={studyId}
                kinds={kinds}
                language={language}
                isTaken={taken.includes(entry.module.name)}
                onUpdate={onUpdate}
              />
            )}
            <div className="shelf-foot">
              <Button
                type="primary"
                loading={busy}
                disabled={chosen.length === 0}
                onClick={() => {
                  setBusy(true);
                  // In the order of the shelf, which is the usual one of asking.
                  void onTake(chosen.map((e) => e.module.name)).finally(() => {
                    setBusy(false);
                    setTicked([]);
                  });
                }}
              >
                {chosen.length === 0
                  ? t('questionnaire.takeNoModule')
                  : t('questionnaire.takeModules', {
                      modules: t('questionnaire.modules', { count: chosen.length }),
                      questions: t('questionnaire.questions', { count: questions }),
                    })}
              </Button>
            </div>
          </div>
        );
      }}
    </Loaded>
  );
}

const textIn = (texts: Record<string, string>, language: string): string =>
  texts[language] ?? Object.values(texts)[0] ?? '';

interface ShownProps {
  entry: Entry;
  studyId: number;
  kinds: Kind[];
  language: string;
  isTaken: boolean;
  onUpdate: (name: string) => void;
}

/** One module: what it measures, where it comes from, its lines. */
function Shown({ entry, studyId, kinds, language, isTaken, onUpdate }: ShownProps) {
  const { modal, message } = App.useApp();
  const queries = useQueryClient();
  const { module } = entry;
  const { fragment } = module;
  const remove = useMutation({
    mutationFn: (id: number) => ask(api.DELETE('/api/modules/{module_id}', { params: { path: { module_id: id } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['modules', studyId] }),
    onError: (error) => message.error(messageOf(error)),
  });
  return (
    <div className="shelf-shown">
      <p>{textIn(module.measures, language)}</p>
      <dl className="facts small">
        {module.source !== '' && (
          <>
            <dt>{t('questionnaire.moduleSource')}</dt>
            <dd>{module.source}</dd>
          </>
        )}
        {module.tested !== '' && (
          <>
            <dt>{t('questionnaire.moduleTested')}</dt>
            <dd>{module.tested}</dd>
          </>
        )}
        <dt>{t('questionnaire.moduleLanguages')}</dt>
        <dd>{fragment.languages.map(languageName).join(' · ')}</dd>
      </dl>
      {entry.findings > 0 && (
        <p className="rule-note">{t('questionnaire.moduleFindings', { count: entry.findings })}</p>
      )}
      <LinesGlance script={fragment} kinds={kinds} most={14} />
      <div className="row">
        {isTaken && (
          <Button
            size="small"
            onClick={() => {
              onUpdate(module.name);
            }}
          >
            {t('questionnaire.moduleUpdate')}
          </Button>
        )}
        {entry.id !== null && (
          <Button
            size="small"
            danger
            onClick={() => {
              modal.confirm({
                title: t('questionnaire.moduleRemove', { title: textIn(module.title, language) }),
                content: t('questionnaire.moduleRemoveStays'),
                okText: t('questionnaire.removeLines'),
                okButtonProps: { danger: true },
                onOk: () => remove.mutateAsync(entry.id ?? 0),
              });
            }}
          >
            {t('questionnaire.removeLines')}
          </Button>
        )}
      </div>
    </div>
  );
}
