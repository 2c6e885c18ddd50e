import { useQuery } from '@tanstack/react-query';
import { explain } from '../details/RuleWords';
import { t } from '../../../texts/texts';

/** Why a rule came out as it did with the preview's answers, part by part. */
export function Why({
  questionnaireId,
  partId,
  text,
  answers,
}: {
  questionnaireId: number;
  partId: string;
  text: string;
  answers: Record<string, unknown>;
}) {
  const explained = useQuery({
    queryKey: ['why', questionnaireId, partId, text, JSON.stringify(answers)],
    queryFn: () => explain(questionnaireId, { part_id: partId, text, answers }),
    retry: false,
    placeholderData: (before) => before,
  });
  const steps = explained.data?.steps ?? [];
  if (steps.length === 0) return null;
  return (
    <ul className="why" aria-label={t('common.why')}>
      {steps.map((step, i) => (
        <li key={i} style={{ paddingInlineStart: `${String(14 * step.depth)}px` }}>
          <span className={`outcome ${step.outcome}`}>{step.outcome}</span> <code>{step.text}</code>
          {step.because !== '' && <span className="muted"> {step.because}</span>}
        </li>
      ))}
    </ul>
  );
}
