// The columns taken over with the variables that they become.
import { Input } from 'antd';
import { t } from '../../texts/texts';
import { wrongIn } from './taken';

export function TakenNames({
  called,
  onChange,
}: {
  called: Record<string, string>;
  onChange: (called: Record<string, string>) => void;
}) {
  const wrong = wrongIn(called);
  const columns = Object.keys(called);
  if (columns.length === 0) return null;
  return (
    <>
      <div className="taken-names">
        <span>{t('combine.called')}</span>
        {columns.map((column) => (
          <label key={column}>
            <span className="clip" title={column}>
              {column}
            </span>
            <Input
              aria-label={t('combine.calledIs', { column })}
              className="mono"
              value={called[column]}
              maxLength={32}
              status={wrong.includes(column) ? 'error' : undefined}
              onChange={(event) => {
                onChange({ ...called, [column]: event.target.value });
              }}
            />
          </label>
        ))}
      </div>
      {wrong.length > 0 && <p className="bad">{t('combine.calledWrong')}</p>}
    </>
  );
}
