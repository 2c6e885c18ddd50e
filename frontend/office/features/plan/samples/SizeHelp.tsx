// How large a sample has to be, and what one of a given size can tell.
import { useQuery } from '@tanstack/react-query';
import { InputNumber, Segmented } from 'antd';
import { useDeferredValue, useState } from 'react';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { locale, t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';

type Wanted = Required<Schemas['SizeIn']>;

const number = new Intl.NumberFormat(locale);
const points = new Intl.NumberFormat(locale, { maximumFractionDigits: 1 });
const BEGIN: Wanted = {
  of: 'share',
  margin: 0.05,
  share: 0.5,
  other: 0.4,
  deviation: 10,
  power: 0.8,
  confidence: 0.95,
  population: null,
  design_effect: 1,
  response: 0.9,
  groups: 1,
  answers: null,
};

interface Props {
  /** How many there are in the frame. */
  frame: number | null;
  size: number;
  onTake: (size: number) => void;
}

export function SizeHelp({ frame, size, onTake }: Props) {
  const [wanted, setWanted] = useState(BEGIN);
  const asked = useDeferredValue({
    ...wanted,
    population: frame,
    answers: wanted.of === 'share' && size > 1 ? Math.max(2, Math.floor(size * wanted.response)) : null,
  });
  const found = useQuery({
    queryKey: ['sample-size', asked],
    queryFn: () => ask(api.POST('/api/sample-sizes', { body: asked })),
    retry: false,
  });
  const set = (change: Partial<Wanted>) => {
    setWanted({ ...wanted, ...change });
  };
  return (
    <aside className="sheet pad size-help">
      <h2>{t('samples.howMany')}</h2>
      <Segmented<Wanted['of']>
        block
        value={wanted.of}
        options={[
          { value: 'share', label: t('samples.share') },
          { value: 'mean', label: t('samples.mean') },
          { value: 'difference', label: t('samples.difference') },
        ]}
        onChange={(of: Wanted['of']) => {
          set({ of, margin: of === 'mean' ? 1 : 0.05 });
        }}
      />
      <dl>
        {wanted.of !== 'mean' && (
          <Percent
            label={t('samples.shareAbout')}
            value={wanted.share}
            onChange={(share) => {
              set({ share });
            }}
          />
        )}
        {wanted.of === 'difference' && (
          <Percent
            label={t('samples.otherShare')}
            value={wanted.other}
            onChange={(other) => {
              set({ other });
            }}
          />
        )}
        {wanted.of === 'share' && (
          <Percent
            label={t('samples.within')}
            value={wanted.margin}
            onChange={(margin) => {
              set({ margin });
            }}
          />
        )}
        {wanted.of === 'mean' && (
          <>
            <Amount
              label={t('samples.withinUnits')}
              value={wanted.margin}
              onChange={(margin) => {
                set({ margin });
              }}
            />
            <Amount
              label={t('samples.deviation')}
              value={wanted.deviation}
              onChange={(d) => {
                set({ deviation: d });
              }}
            />
          </>
        )}
        {wanted.of === 'difference' && (
          <Percent
            label={t('samples.power')}
            value={wanted.power}
            onChange={(power) => {
              set({ power });
            }}
          />
        )}
        <Percent
          label={t('samples.confidence')}
          value={wanted.confidence}
          onChange={(c) => {
            set({ confidence: c });
          }}
        />
        <Percent
          label={t('samples.response')}
          value={wanted.response}
          onChange={(response) => {
            set({ response });
          }}
        />
        <Amount
          label={t('samples.designEffect')}
          value={wanted.design_effect}
          onChange={(d) => {
            set({ design_effect: d });
          }}
        />
        <Amount
          label={t('samples.groups')}
          value={wanted.groups}
          onChange={(groups) => {
            set({ groups });
          }}
        />
      </dl>
      {found.error && <p className="bad">{messageOf(found.error)}</p>}
      {found.data !== undefined && (
        <>
          <p className="size-found" role="status">
            <b>{number.format(found.data.drawn)}</b> {t('samples.toDraw')}
            <span className="muted">
              {' '}
              {t('samples.forAnswers', { answers: number.format(found.data.answers) })}
            </span>{' '}
            <button
              type="button"
              className="plain-link"
              onClick={() => {
                onTake(found.data.drawn);
              }}
            >
              {t('samples.take')}
            </button>
          </p>
          {found.data.tells != null && (
            <p className="muted">
              {t('samples.tells', {
                answers: number.format(asked.answers ?? 0),
                margin: points.format(100 * found.data.tells),
              })}
            </p>
          )}
        </>
      )}
      <p className="muted small">{t('samples.source')}</p>
    </aside>
  );
}

interface FieldProps {
  label: string;
  value: number;
  onChange: (value: number) => void;
}

function Percent({ label, value, onChange }: FieldProps) {
  return (
    <div>
      <dt>{label}</dt>
      <dd>
        <InputNumber
          aria-label={label}
          min={0}
          max={100}
          suffix="%"
          value={Math.round(1000 * value) / 10}
          onChange={(typed) => {
            if (typed != null) onChange(typed / 100);
          }}
        />
      </dd>
    </div>
  );
}

function Amount({ label, value, onChange }: FieldProps) {
  return (
    <div>
      <dt>{label}</dt>
      <dd>
        <InputNumber
          aria-label={label}
          min={0}
          value={value}
          onChange={(typed) => {
            if (typed != null) onChange(typed);
          }}
        />
      </dd>
    </div>
  );
}
