import { useQuery } from '@tanstack/react-query';
import { Drawer, Input } from 'antd';
import { useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import { Empty, Loaded } from '../../../ui/states';
import { t } from '../../../texts/texts';

/** Every form of the rule language with an example and what it gives. */
export function RuleHelp({ onClose }: { onClose: () => void }) {
  const [wanted, setWanted] = useState('');
  const help = useQuery({
    queryKey: ['rule-help'],
    queryFn: () => ask(api.GET('/api/rule-help')),
    staleTime: Infinity,
  });
  return (
    <Drawer open size={620} title={t('questionnaire.ruleLanguage')} onClose={onClose}>
      <Input
        type="search"
        autoFocus
        placeholder={t('questionnaire.searchBetweenSumDate')}
        aria-label={t('questionnaire.searchRuleLanguage')}
        value={wanted}
        onChange={(event) => {
          setWanted(event.target.value);
        }}
      />
      <Loaded query={help}>
        {(topics) => {
          const word = wanted.trim().toLowerCase();
          const found = topics
            .map((topic) => ({
              ...topic,
              examples: topic.title.toLowerCase().includes(word)
                ? topic.examples
                : topic.examples.filter((e) => `${e.rule} ${e.words}`.toLowerCase().includes(word)),
            }))
            .filter((topic) => topic.examples.length > 0);
          if (found.length === 0) return <Empty title={t('questionnaire.nothingName')} />;
          return (
            <>
              {found.map((topic) => (
                <section key={topic.title} className="help-topic">
                  <h3>{topic.title}</h3>
                  <p className="muted">{topic.text}</p>
                  <table className="plain-table">
                    <tbody>
                      {topic.examples.map((e) => (
                        <tr key={e.rule}>
                          <td>
                            <code>{e.rule}</code>
                          </td>
                          <td className="gives">{e.gives}</td>
                          <td className="muted">{e.words}</td>
                        </tr>
                      ))}
                    </tbody>
                  </table>
                </section>
              ))}
            </>
          );
        }}
      </Loaded>
    </Drawer>
  );
}
