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

interface Asked {
  label: string;
  field: 'share' | 'other' | 'margin' | 'deviation' | 'power' | 'confidence' | 'response' | 'design_effect' | 'groups';
  share: boolean;
}

const ABOUT: Asked = { label: t('samples.shareAbout'), field: 'share', share: true };
const ALWAYS: Asked[] = [
  { label: t('samples.confidence'), field: 'confidence', share: true },
  { label: t('samples.response'), field: 'response', share: true },
  { label: t('samples.designEffect'), field: 'design_effect', share: false },
  { label: t('samples.groups'), field: 'groups', share: false },
];
/** What each kind of figure depends on. */
const FIGURES: Record<Wanted['of'], Asked[]> = {
  share: [ABOUT, { label: t('samples.within'), field: 'margin', share: true }, ...ALWAYS],
  mean: [
    { label: t('samples.withinUnits'), field: 'margin', share: false },
    { label: t('samples.deviation'), field: 'deviation', share: false },
    ...ALWAYS,
  ],
  difference: [
    ABOUT,
    { label: t('samples.otherShare'), field: 'other', share: true },
    { label: t('samples.power'), field: 'power', share: true },
    ...ALWAYS,
  ],
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
        {FIGURES[wanted.of].map(({ label, field, share }) => (
          <Figure
            key={field}
            label={label}
            share={share}
            value={wanted[field]}
            onChange={(value) => {
              set({ [field]: value });
            }}
          />
        ))}
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

interface FigureProps {
  label: string;
  value: number;
  /** Written in percent. */
  share?: boolean;
  onChange: (value: number) => void;
}

function Figure({ label, value, share = false, onChange }: FigureProps) {
  return (
    <div>
      <dt>{label}</dt>
      <dd>
        <InputNumber
          aria-label={label}
          min={0}
          max={share ? 100 : undefined}
          suffix={share ? '%' : undefined}
          value={share ? Math.round(1000 * value) / 10 : value}
          onChange={(typed) => {
            if (typed != null) onChange(share ? typed / 100 : typed);
          }}
        />
      </dd>
    </div>
  );
}
