import { useQuery } from '@tanstack/react-query';
import { Drawer } from 'antd';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { Empty, Loaded } from '../../../ui/states';
import { t } from '../../../texts/texts';

type Change = Schemas['Change'];

const EFFECTS: Record<Change['effect'], { mark: string; words: string; tone: string }> = {
  breaks: { mark: '×', words: t('questionnaire.breaks'), tone: 'breaks' },
  narrower: { mark: '▽', words: t('questionnaire.narrower'), tone: 'narrower' },
  wider: { mark: '△', words: t('questionnaire.wider'), tone: 'wider' },
  none: { mark: '·', words: t('questionnaire.noEffect'), tone: 'none' },
};
const ORDER: Change['effect'][] = ['breaks', 'narrower', 'wider', 'none'];

/** The draft held against its newest release: what changed, and what that means for data already collected. */
export function ComparisonDrawer({
  questionnaireId,
  release = 0,
  onClose,
  onGo,
}: {
  questionnaireId: number;
  /** The number of a release; 0 is the newest. */
  release?: number;
  onClose: () => void;
  onGo: (id: string, field: string) => void;
}) {
  const compared = useQuery({
    queryKey: ['comparison', questionnaireId, release],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/comparison', {
          params: { path: { questionnaire_id: questionnaireId }, query: { release } },
        }),
      ),
    gcTime: 0,
    staleTime: 0,
  });
  return (
    <Drawer open size={680} title={t('questionnaire.whatChangedSinceLast')} onClose={onClose}>
      <Loaded query={compared}>
        {(data) => (
          <>
            <p className="muted">{t('questionnaire.heldAgainst', { release: data.release, count: data.interviews })}</p>
            <ChangeList comparison={data.comparison} onGo={onGo} />
          </>
        )}
      </Loaded>
    </Drawer>
  );
}

export function ChangeList({
  comparison,
  onGo,
}: {
  comparison: Schemas['Comparison'];
  onGo?: (id: string, field: string) => void;
}) {
  if (comparison.changes.length === 0) return <Empty title={t('questionnaire.nothingChanged')} />;
  const renamed = comparison.mapping.filter((m) => m.before !== m.after || m.conversion !== 'as it is');
  return (
    <>
      {ORDER.map((effect) => {
        const changes = comparison.changes.filter((c) => c.effect === effect);
        return changes.length === 0 ? null : (
          <section key={effect} className="changes">
            <h3>
              <span className={`effect ${EFFECTS[effect].tone}`}>
                {EFFECTS[effect].mark} {EFFECTS[effect].words}
              </span>{' '}
              <span className="muted small">{changes.length}</span>
            </h3>
            {changes.map((c, i) => (
              <ChangeLine key={i} change={c} onGo={onGo} />
            ))}
          </section>
        );
      })}
      {renamed.length > 0 && (
        <section className="changes">
          <h3>{t('questionnaire.intoOneDataSet')}</h3>
          <table className="plain-table">
            <tbody>
              {renamed.map((m) => (
                <tr key={m.part_id}>
                  <td>
                    <code>{m.before}</code>
                  </td>
                  <td>
                    → <code>{m.after}</code>
                  </td>
                  <td className="muted small">{m.conversion}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </>
  );
}

function ChangeLine({ change, onGo }: { change: Change; onGo: ((id: string, field: string) => void) | undefined }) {
  const name = <code>{change.variable}</code>;
  return (
    <div className="change">
      <span>
        {onGo && change.part_id !== '' && change.what !== 'removed' ? (
          <button
            type="button"
            className="plain-link"
            onClick={() => {
              onGo(change.part_id, change.field);
            }}
          >
            {name}
          </button>
        ) : (
          name
        )}{' '}
        <span className="muted small">
          {change.what}
          {change.field !== '' && ` · ${change.field.replace(/_/g, ' ')}`}
        </span>
      </span>
      {(change.before !== '' || change.after !== '') && (
        <span className="before-after">
          {change.before !== '' && <del>{change.before}</del>} {change.after !== '' && <ins>{change.after}</ins>}
        </span>
      )}
      {change.words !== '' && <span className="muted small">{change.words}</span>}
    </div>
  );
}
