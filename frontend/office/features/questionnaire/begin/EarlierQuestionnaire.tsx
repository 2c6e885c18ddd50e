import { useQuery } from '@tanstack/react-query';
import { Button, Select } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { languageName } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import { Empty, Loaded } from '../../../ui/states';
import type { Kind } from '../script/model';
import { LinesGlance, questionsOf } from './LinesGlance';

interface Props {
  /** The questionnaire that is begun: no source for itself. */
  own: number;
  kinds: Kind[];
  onTake: (script: Schemas['Script']) => Promise<unknown>;
}

/** Any questionnaire of any study that whoever asks may read. */
export function EarlierQuestionnaire({ own, kinds, onTake }: Props) {
  const [chosen, setChosen] = useState<number | null>(null);
  const studies = useQuery({ queryKey: ['studies'], queryFn: () => ask(api.GET('/api/studies')) });
  const draft = useQuery({
    queryKey: ['earlier', chosen],
    queryFn: () =>
      ask(api.GET('/api/questionnaires/{questionnaire_id}', { params: { path: { questionnaire_id: chosen ?? 0 } } })),
    enabled: chosen !== null,
  });
  return (
    <Loaded query={studies}>
      {(all) => {
        const groups = all
          .filter((study) => study.permissions.includes('script.read'))
          .map((study) => ({
            label: study.title,
            title: study.title,
            options: study.questionnaires
              .filter((q) => q.id !== own)
              .map((q) => ({
                value: q.id,
                label:
                  q.releases === 0
                    ? `${q.title} · ${t('questionnaire.notReleasedYet')}`
                    : `${q.title} · ${t('questionnaire.releasesCount', { count: q.releases })}`,
              })),
          }))
          .filter((group) => group.options.length > 0);
        if (groups.length === 0)
          return <Empty title={t('questionnaire.noEarlier')}>{t('questionnaire.noEarlierWhy')}</Empty>;
        return (
          <div className="begin-way">
            <Select
              showSearch={{ optionFilterProp: 'label' }}
              aria-label={t('questionnaire.earlierChoose')}
              placeholder={t('questionnaire.earlierChoose')}
              style={{ width: 420 }}
              options={groups}
              value={chosen}
              onChange={(value: number) => {
                setChosen(value);
              }}
            />
            {chosen !== null && (
              <Loaded query={draft}>
                {(data) => (
                  <>
                    <p className="muted">
                      {t('questionnaire.questions', { count: questionsOf(data.script.parts, kinds) })} ·{' '}
                      {t('questionnaire.listsCount', { count: data.script.code_lists.length })} ·{' '}
                      {data.script.languages.map(languageName).join(', ')}
                    </p>
                    <LinesGlance script={data.script} kinds={kinds} most={12} />
                    <Button
                      type="primary"
                      disabled={data.script.parts.length === 0}
                      onClick={() => void onTake(data.script)}
                    >
                      {t('questionnaire.earlierTake')}
                    </Button>
                  </>
                )}
              </Loaded>
            )}
          </div>
        );
      }}
    </Loaded>
  );
}
