import type { Finding, Script } from '../script/model';
import { t } from '../../../texts/texts';

/** All that is wrong with the script, errors first; each leads to its place. */
export function FindingsPane({
  findings,
  script,
  onGo,
  onOpenList,
  onOpenUnits,
}: {
  findings: Finding[];
  script: Script;
  onGo: (id: string, field: string) => void;
  onOpenList: (name: string) => void;
  onOpenUnits: (name: string) => void;
}) {
  const sorted = [...findings.filter((f) => f.severity === 'error'), ...findings.filter((f) => f.severity !== 'error')];
  if (sorted.length === 0)
    return (
      <div className="pane-body">
        <p>
          <b>{t('questionnaire.nothingWrong')}</b>
        </p>
        <p className="muted">{t('questionnaire.errorsDoubtsListedHere')}</p>
      </div>
    );
  return (
    <div className="pane-body findings">
      {sorted.map((f, i) => {
        const part = f.line == null ? undefined : script.parts[f.line];
        return (
          <button
            key={i}
            type="button"
            onClick={() => {
              if (f.unit_list !== '') onOpenUnits(f.unit_list);
              else if (f.code_list !== '') onOpenList(f.code_list);
              else if (part) onGo(part.id, f.field);
            }}
          >
            <span className={f.severity === 'error' ? 'finding-kind error' : 'finding-kind'}>
              {f.severity === 'error' ? t('questionnaire.error') : t('questionnaire.doubt')}
            </span>
            <span>
              <code>
                {part
                  ? part.variable || part.kind
                  : [f.code_list || f.unit_list, f.item].filter((name) => name !== '').join(' · ')}
              </code>{' '}
              <span className="muted small">{f.field.replace(/_/g, ' ')}</span>
              <br />
              {f.message} <b>{f.mend}</b>
            </span>
          </button>
        );
      })}
    </div>
  );
}
