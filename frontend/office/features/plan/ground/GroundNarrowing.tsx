// Which of what is drawn is meant: said as in the ledger, the visits and the register.
import { useQuery } from '@tanstack/react-query';
import { api, ask } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { Word } from '../../../ui/Sentence';
import { SHAPES, stateWords } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { FINDINGS } from '../../interviews/findings';
import { NarrowingSentence } from '../registers/NarrowingSentence';
import { EVERYTHING, useKinds, type Narrowing } from '../registers/registers';
import { called, STANDINGS, useList, useOutcomes } from '../visits/visits';
import type { Of } from './ground';

interface Props {
  of: Of;
  named: number;
  /** What is left out, as JSON; "" for nothing. */
  narrow: string;
  /** How many that leaves; undefined until it is known. */
  meant: number | undefined;
  onChange: (narrow: string) => void;
}

type Said = Record<string, unknown>;
const ANY = 'any';

/** What stands in the address, as far as it can be read. */
function read(narrow: string): Said {
  try {
    const found: unknown = JSON.parse(narrow === '' ? '{}' : narrow);
    return typeof found === 'object' && found !== null && !Array.isArray(found) ? (found as Said) : {};
  } catch {
    return {};
  }
}

const text = (value: unknown): string => (typeof value === 'string' || typeof value === 'number' ? String(value) : '');

export function GroundNarrowing({ of, named, narrow, meant, onChange }: Props) {
  const said = read(narrow);
  const set = (name: string, value: unknown) => {
    const rest = Object.fromEntries(Object.entries(said).filter(([other]) => other !== name));
    const after = value === ANY ? rest : { ...rest, [name]: value };
    onChange(Object.keys(after).length === 0 ? '' : JSON.stringify(after));
  };
  if (of === 'units') return <OfUnits named={named} said={said} meant={meant} onChange={onChange} />;
  return of === 'interviews' ? (
    <OfInterviews said={said} set={set} />
  ) : (
    <OfVisits named={named} said={said} set={set} />
  );
}

interface PartProps {
  said: Said;
  set: (name: string, value: unknown) => void;
}

function OfInterviews({ said, set }: PartProps) {
  const study = useStudy();
  const may = useMay();
  const ledger = useQuery({
    enabled: may('interview.read'),
    queryKey: ['study', study.id, 'ledger', 'enumerators'],
    queryFn: () =>
      ask(
        api.GET('/api/studies/{study_id}/interviews', {
          params: { path: { study_id: study.id }, query: { limit: 1 } },
        }),
      ),
  });
  return (
    <>
      {' '}
      {t('ground.from')}{' '}
      <Word
        label={t('common.enumerator')}
        value={text(said.enumerator) || ANY}
        options={[
          { value: ANY, label: t('interviews.anyone') },
          ...(ledger.data?.enumerators ?? []).map((name) => ({ value: name, label: name })),
        ]}
        onChange={(value) => {
          set('enumerator', value);
        }}
      />{' '}
      {t('interviews.thatAre')}{' '}
      <Word
        label={t('interviews.state')}
        value={text(said.state) || ANY}
        options={[
          { value: ANY, label: t('interviews.anyState') },
          ...Object.keys(SHAPES).map((state) => ({ value: state, label: stateWords(state) })),
        ]}
        onChange={(value) => {
          set('state', value);
        }}
      />{' '}
      {t('interviews.and')}{' '}
      <Word
        label={t('common.findings')}
        value={text(said.findings) || ANY}
        options={FINDINGS}
        onChange={(value) => {
          set('findings', value);
        }}
      />
    </>
  );
}

function OfVisits({ named, said, set }: PartProps & { named: number }) {
  const study = useStudy();
  const list = useList(named);
  const outcomes = useOutcomes(study.id).data?.outcomes ?? [];
  return (
    <>
      {', '}
      <Word
        label={t('visits.standing')}
        value={text(said.standing) || ANY}
        options={[
          { value: ANY, label: t('visits.allVisits') },
          ...Object.entries(STANDINGS).map(([value, label]) => ({ value, label })),
        ]}
        onChange={(value) => {
          set('standing', value);
        }}
      />{' '}
      <Word
        label={t('visits.who')}
        value={text(said.person_id) || ANY}
        options={[
          { value: ANY, label: t('visits.anybody') },
          ...(list.data?.people ?? []).map((one) => ({ value: String(one.person_id), label: one.name })),
        ]}
        onChange={(value) => {
          set('person_id', value === ANY ? ANY : Number(value));
        }}
      />{' '}
      <Word
        label={t('visits.outcome')}
        value={text(said.outcome) || ANY}
        options={[
          { value: ANY, label: t('visits.anyOutcome') },
          ...outcomes.map((one) => ({ value: one.code, label: called(outcomes, one.code) })),
        ]}
        onChange={(value) => {
          set('outcome', value);
        }}
      />
    </>
  );
}

interface UnitsProps extends Pick<Props, 'named' | 'meant' | 'onChange'> {
  said: Said;
}

function OfUnits({ named, said, meant, onChange }: UnitsProps) {
  const study = useStudy();
  const kinds = useKinds(study.id);
  if (kinds.data === undefined) return null;
  const narrowing: Narrowing = { ...EVERYTHING, ...(said as Partial<Narrowing>), kind: named };
  return (
    <NarrowingSentence
      kinds={kinds.data}
      narrowing={narrowing}
      meant={meant}
      chosen={null}
      below=""
      ofOneKind
      onChange={(wanted) => {
        const { conditions, faulty, closed } = wanted;
        const isAll = conditions.length === 0 && !faulty && !closed;
        onChange(isAll ? '' : JSON.stringify({ conditions, faulty, closed }));
      }}
    />
  );
}
