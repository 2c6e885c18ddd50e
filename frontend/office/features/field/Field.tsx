import { Navigate, useLocation } from 'react-router';
import { t } from '../../texts/texts';
import { Parts } from '../../ui/Parts';
import { useMay } from '../../ui/study';
import './field.css';

/** The ways in which answers come in; each a part of the field station. */
const PARTS = [
  { to: '', words: t('field.phones'), needs: 'field.read' },
  { to: 'maps', words: t('field.maps'), needs: 'field.read' },
  { to: 'links', words: t('field.links'), needs: 'field.read' },
  { to: 'practice', words: t('field.practice'), needs: 'interview.read' },
  { to: 'paper', words: t('field.paper'), needs: 'paper.key' },
];

/** The field station: phones out there, links answered in a browser, and papers. */
export default function Field() {
  const may = useMay();
  const { pathname } = useLocation();
  const first = PARTS.find((part) => may(part.needs));
  // A keyer has nothing to do with phones.
  if (/\/field\/?$/.test(pathname) && first !== undefined && first.to !== '') return <Navigate to={first.to} replace />;
  return <Parts title={t('common.field')} label={t('field.parts')} parts={PARTS} />;
}
