import { Button, Input } from 'antd';
import { directionOf, languageName } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import { RuleField } from './RuleField';
import { RuleWords } from './RuleWords';
import type { Finding, Part, Script } from '../script/model';

interface Props {
  questionnaireId: number;
  part: Part;
  field: 'must_hold' | 'should_hold';
  label: string;
  languages: string[];
  script: Script;
  own: Finding[];
  readOnly: boolean;
  saved: boolean;
  onChange: (what: string, part: Part) => void;
}

/** The hard or the soft checks of a line, each with its rule and its message in every language. */
export function CheckFields({
  questionnaireId,
  part,
  field,
  label,
  languages,
  script,
  own,
  readOnly,
  saved,
  onChange,
}: Props) {
  const checks = part[field];
  const put = (what: string, next: Part['must_hold']) => {
    onChange(`${field}.${what}`, { ...part, [field]: next });
  };
  return (
    <div className="detail">
      <span className="detail-label">{label}</span>
      {checks.map((check, i) => {
        const replace = (what: string, changed: Partial<typeof check>) => {
          put(
            what,
            checks.map((c, j) => (j === i ? { ...c, ...changed } : c)),
          );
        };
        return (
          <div key={i} className="check-box" data-field={`${field}.${String(i)}.rule`}>
            <RuleField
              key={`${part.id}.${field}.${String(i)}`}
              label={label}
              value={check.rule}
              script={script}
              part={part}
              questionnaireId={questionnaireId}
              picks
              findings={own.filter((f) => f.field === `${field}.${String(i)}.rule`)}
              placeholder={t('questionnaire.between07', { variable: part.variable || t('questionnaire.anAnswer') })}
              readOnly={readOnly}
              onChange={(rule) => {
                replace(`${String(i)}.rule`, { rule });
              }}
            />
            <RuleWords
              questionnaireId={questionnaireId}
              partId={part.id}
              text={check.rule}
              saved={saved}
              faulty={own.some((f) => f.field === `${field}.${String(i)}.rule`)}
              onTidy={
                readOnly
                  ? undefined
                  : (rule) => {
                      replace(`${String(i)}.rule`, { rule });
                    }
              }
            />
            {languages.map((tag) => (
              <Input
                key={tag}
                size="small"
                aria-label={t('questionnaire.message', { label, tag: languageName(tag) })}
                disabled={readOnly}
                dir={directionOf(tag)}
                placeholder={t('questionnaire.whatSayVariableShows', { tag: languageName(tag) })}
                value={check.message[tag] ?? ''}
                status={own.some((f) => f.field === `${field}.${String(i)}.message.${tag}`) ? 'error' : ''}
                onChange={(event) => {
                  replace(`${String(i)}.${tag}`, { message: { ...check.message, [tag]: event.target.value } });
                }}
              />
            ))}
            {own
              .filter((f) => f.field.startsWith(`${field}.${String(i)}.message`))
              .map((f) => (
                <p key={f.code} className="rule-note">
                  {f.message} <b>{f.mend}</b>
                </p>
              ))}
            {!readOnly && (
              <Button
                size="small"
                type="text"
                onClick={() => {
                  put(
                    'remove',
                    checks.filter((_, j) => j !== i),
                  );
                }}
              >
                {t('questionnaire.removeThisCheck')}
              </Button>
            )}
          </div>
        );
      })}
      {!readOnly && (
        <Button
          size="small"
          onClick={() => {
            put('add', [...checks, { rule: '', message: {} }]);
          }}
        >
          {field === 'must_hold' ? t('questionnaire.addHardCheck') : t('questionnaire.addSoftCheck')}
        </Button>
      )}
    </div>
  );
}
