// The fields of a kind of unit, written as questionnaires are.
import { Link, useParams } from 'react-router';
import { t } from '../../../texts/texts';
import { Loaded, NotFound } from '../../../ui/states';
import { useStudy } from '../../../ui/study';
import { Draft } from '../../questionnaire/ScriptPage';
import { useKinds } from './registers';
import './registers.css';

export default function FieldsPage() {
  const study = useStudy();
  const id = Number(useParams().questionnaireId);
  const kinds = useKinds(study.id);
  return (
    <Loaded query={kinds}>
      {(found) => {
        const kind = found.find((one) => one.questionnaire_id === id);
        if (kind === undefined) return <NotFound />;
        return (
          <>
            <p className="fields-crumb">
              <Link to={`/studies/${String(study.id)}/plan/registers`}>{t('plan.registers')}</Link> ›{' '}
              {t('register.fieldsOf', { kind: kind.title })} <span className="muted">{t('register.fieldsMean')}</span>
            </p>
            <Draft key={id} id={id} />
          </>
        );
      }}
    </Loaded>
  );
}
