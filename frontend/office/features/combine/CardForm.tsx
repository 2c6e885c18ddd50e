// Where a table is from, for whom and on what terms, and whether what is joined from it may be handed over.
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Alert, Input, Radio } from 'antd';
import { useRef, useState } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { messageOf } from '../../ui/states';
import { useMay } from '../../ui/study';
import { t } from '../../texts/texts';
import type { Outside } from './outside';

type Card = Schemas['Card'];
type Told = Exclude<keyof Card, 'handed_over'>;

const CARD: [Told, string, string][] = [
  ['collected_by', t('combine.whoCollected'), ''],
  ['collected_for', t('combine.forWhom'), ''],
  ['collected_when', t('combine.when'), ''],
  ['purpose', t('common.why'), ''],
  ['how', t('combine.how'), t('combine.howExample')],
  ['population', t('combine.population'), t('combine.populationExample')],
  ['definitions', t('combine.definitions'), t('combine.definitionsExample')],
  ['terms', t('combine.whatTerms'), ''],
  ['trust', t('combine.howFarTrusted'), t('combine.trustExample')],
];

export function CardForm({ table, id }: { table: Outside; id: number }) {
  const mayWrite = useMay()('combine.write');
  const queries = useQueryClient();
  const [card, setCard] = useState(table.card);
  // Fields are kept one after the other, each on top of what the one before made.
  const version = useRef(table.version);
  const save = useMutation({
    mutationFn: (kept: Card) =>
      ask(
        api.PUT('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/card', {
          params: { path: { questionnaire_id: id, outside_id: table.id } },
          body: { ...kept, version: version.current },
        }),
      ),
    scope: { id: `card ${String(table.id)}` },
    onSuccess: (kept) => {
      version.current = kept.version;
      return queries.invalidateQueries({ queryKey: ['data', id, 'outside'] });
    },
  });
  return (
    <div className="source-card">
      {save.error && <Alert type="error" showIcon title={messageOf(save.error)} />}
      <div className="card-form">
        {CARD.map(([field, label, example]) => (
          <label key={field}>
            {label}
            <Input.TextArea
              autoSize={{ minRows: 1, maxRows: 6 }}
              disabled={!mayWrite}
              placeholder={example}
              value={card[field]}
              onChange={(event) => {
                setCard({ ...card, [field]: event.target.value });
              }}
              onBlur={() => {
                if (card[field] !== table.card[field]) save.mutate(card);
              }}
            />
          </label>
        ))}
      </div>
      <fieldset className="handed-over">
        <legend>{t('combine.handedOver')}</legend>
        <Radio.Group
          disabled={!mayWrite}
          value={card.handed_over}
          options={[
            { value: 'yes', label: t('combine.handedOverYes') },
            { value: 'no', label: t('combine.handedOverNo') },
          ]}
          onChange={(event) => {
            const kept: Card = { ...card, handed_over: event.target.value === 'no' ? 'no' : 'yes' };
            setCard(kept);
            save.mutate(kept);
          }}
        />
      </fieldset>
    </div>
  );
}
