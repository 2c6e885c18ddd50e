// Told where an address names a data set that is not there any more.
import { Alert } from 'antd';
import { t } from '../texts/texts';
import { useChosenSet } from './dataSets';

export function GoneSet() {
  const { chosen, isGone } = useChosenSet();
  return isGone && chosen ? (
    <Alert type="warning" showIcon title={t('sets.gone', { title: chosen.title })} style={{ marginBottom: 12 }} />
  ) : null;
}
