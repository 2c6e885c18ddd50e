// Adding a unit to the register: which kind, and its key where it has one of its own.
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { inLanguage } from '../../shared/interview/languages';
import { fits } from '../../shared/interview/mask';
import { startChange } from '../store/unitChanges';
import type { CarriedKind, UnitHere } from '../store/units';
import { TROUBLES, troubleOf } from '../store/troubles';
import { useTexts } from '../texts/texts';

interface Props {
  kinds: CarriedKind[];
  above: UnitHere | null;
  /** The question of an interview that it answers, where it was found while that was asked. */
  then?: { interview: string; path: string };
}

export function MakeUnit({ kinds, above, then }: Props) {
  const { t, language } = useTexts();
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <button
        type="button"
        className="wide-button secondary"
        onClick={() => {
          setOpen(true);
        }}
      >
        {kinds.length === 1
          ? t('addOne', { kind: inLanguage(kinds[0]?.title ?? {}, language) })
          : above === null
            ? t('addUnit')
            : t('addUnder')}
      </button>
    );
  return (
    <Making
      kinds={kinds}
      above={above}
      then={then}
      onClose={() => {
        setOpen(false);
      }}
    />
  );
}

function Making({ kinds, above, then, onClose }: Props & { onClose: () => void }) {
  const { t, language } = useTexts();
  const navigate = useNavigate();
  const [kind, setKind] = useState<CarriedKind | undefined>(kinds.length === 1 ? kinds[0] : undefined);
  const [key, setKey] = useState('');
  const [problem, setProblem] = useState('');
  const mask = kind?.settings.key_mask ?? '';
  const typed = key.trim();
  const isWrong = typed !== '' && mask !== '' && !fits(mask, typed);
  const make = async () => {
    if (kind === undefined) return;
    try {
      const uuid = await startChange(kind, { above: above?.unit ?? '', key: typed });
      const back =
        then === undefined ? '' : `?${new URLSearchParams({ then: then.interview, at: then.path }).toString()}`;
      void navigate(`/interviews/${uuid}${back}`, { replace: then !== undefined });
    } catch (error) {
      console.error(error);
      setProblem(t(TROUBLES[troubleOf(error)]));
    }
  };
  return (
    <form
      className="chooser"
      role="dialog"
      aria-label={t('addUnit')}
      onSubmit={(event) => {
        event.preventDefault();
        void make();
      }}
    >
      {kinds.length > 1 && (
        <div className="outcome-choices" role="radiogroup" aria-label={t('addUnit')}>
          {kinds.map((one) => (
            <button
              key={one.id}
              type="button"
              role="radio"
              aria-checked={one === kind}
              onClick={() => {
                setKind(one);
              }}
            >
              {one.settings.glyph} {inLanguage(one.title, language)}
            </button>
          ))}
        </div>
      )}
      {kind !== undefined && (
        <label>
          {kind.settings.key_named === '' ? t('unitKey') : kind.settings.key_named}
          <input
            className="typed mono"
            autoComplete="off"
            maxLength={64}
            required={mask !== ''}
            placeholder={mask === '' ? t('keyByItself') : mask}
            value={key}
            onChange={(event) => {
              setKey(event.target.value);
            }}
          />
        </label>
      )}
      {isWrong && <p className="note should">{t('keyLooksLike', { mask })}</p>}
      {problem !== '' && (
        <p className="note must" role="alert">
          {problem}
        </p>
      )}
      <div className="action-row">
        <button
          type="submit"
          className="wide-button"
          disabled={kind === undefined || isWrong || (mask !== '' && typed === '')}
        >
          {t('addIt')}
        </button>
        <button type="button" className="wide-button secondary" onClick={onClose}>
          {t('close')}
        </button>
      </div>
    </form>
  );
}
