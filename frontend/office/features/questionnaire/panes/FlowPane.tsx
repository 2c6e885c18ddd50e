import { namesIn, ruleTexts, type Part, type Script } from '../script/model';
import { rulesOf } from '../script/sentences';
import { t } from '../../../texts/texts';

/** What the active line depends on, and what depends on it. */
export function FlowPane({
  script,
  part,
  onGo,
  onWhole,
}: {
  script: Script;
  part: Part | undefined;
  onGo: (id: string) => void;
  onWhole: () => void;
}) {
  const whole = (
    <p>
      <button type="button" className="plain-link" onClick={onWhole}>
        {t('flow.whole')}
      </button>
    </p>
  );
  if (!part)
    return (
      <div className="pane-body">
        <p className="muted">{t('questionnaire.chooseLineSeeWhat')}</p>
        {whole}
      </div>
    );
  const byName = new Map(script.parts.filter((p) => p.variable !== '').map((p) => [p.variable, p]));
  const mine = new Set(ruleTexts(part).flatMap(namesIn));
  const before = [...mine].map((n) => byName.get(n)).filter((p): p is Part => p !== undefined && p.id !== part.id);
  const after = script.parts.filter(
    (p) => p.id !== part.id && part.variable !== '' && ruleTexts(p).flatMap(namesIn).includes(part.variable),
  );
  const shown = script.parts.filter(
    (p) =>
      p.id !== part.id &&
      part.variable !== '' &&
      Object.values(p.wording).some((w) => w.includes(`{${part.variable}}`)),
  );
  return (
    <div className="pane-body">
      <Leads
        title={t('questionnaire.depends')}
        parts={before}
        name=""
        onGo={onGo}
        none={t('questionnaire.nothingAskedWheneverIts')}
      />
      <p className="flow-self">
        <code>{part.variable === '' ? part.kind : part.variable}</code>
      </p>
      <Leads
        title={t('questionnaire.decidesAbout')}
        parts={after}
        name={part.variable}
        onGo={onGo}
        none={t('questionnaire.nothing')}
      />
      {shown.length > 0 && <Leads title={t('questionnaire.readOut')} parts={shown} name="" onGo={onGo} none="" />}
      {whole}
    </div>
  );
}

function Leads({
  title,
  parts,
  name,
  none,
  onGo,
}: {
  title: string;
  parts: Part[];
  name: string;
  none: string;
  onGo: (id: string) => void;
}) {
  return (
    <section className="leads">
      <h3>{title}</h3>
      {parts.map((p) => (
        <button
          key={p.id}
          type="button"
          onClick={() => {
            onGo(p.id);
          }}
        >
          <code>{p.variable === '' ? p.kind : p.variable}</code>
          {name !== '' &&
            rulesOf(p)
              .filter((r) => namesIn(r.text).includes(name))
              .map((r) => (
                <span key={r.field} className="small muted">
                  {r.word} <code>{r.text}</code>
                </span>
              ))}
        </button>
      ))}
      {parts.length === 0 && <p className="muted small">{none}</p>}
    </section>
  );
}
