// Whose phones carry a branch of the register: said in words, and changed.
import { Alert, Button, Checkbox, Popover, Select } from 'antd';
import { useState } from 'react';
import type { Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { acts, useRegisterChange, useShares } from './registers';

type Shares = Schemas['SharesOut'];

interface Props {
  /** The uppermost unit of the branch, 0 for the whole register. */
  unitId: number;
  /** What it lies under, the outermost first. */
  way: number[];
}

/** A line that tells whose phones carry a branch, and lets that be changed. */
export function Carried({ unitId, way }: Props) {
  const study = useStudy();
  const may = useMay();
  const shares = useShares(study.id);
  const [open, setOpen] = useState(false);
  if (shares.data === undefined) return null;
  const own = namesOf(shares.data, unitId);
  const inherited = unitId === 0 ? [] : [0, ...way].flatMap((above) => namesOf(shares.data, above));
  const said = [...new Set([...own, ...inherited])];
  return (
    <p className="carried-by">
      {said.length === 0
        ? unitId === 0
          ? t('register.nobodyCarriesAll')
          : t('register.nobodyCarries')
        : t(unitId === 0 ? 'register.allCarriedBy' : 'register.carriedBy', { who: said.join(', ') })}{' '}
      {may('register.write') && (
        <Popover
          open={open}
          onOpenChange={setOpen}
          trigger="click"
          placement="bottom"
          content={
            <Form
              key={String(open)}
              shares={shares.data}
              unitId={unitId}
              onDone={() => {
                setOpen(false);
              }}
            />
          }
        >
          <button type="button" className="plain-link">
            {t('register.changeCarried')}
          </button>
        </Popover>
      )}
    </p>
  );
}

/** Whose phones carry just this branch, by name. */
function namesOf({ shares, teams, people }: Shares, unitId: number): string[] {
  const called = (all: { id: number; name: string }[], id: number) => all.find((one) => one.id === id)?.name;
  return shares
    .filter((share) => share.unit_id === unitId)
    .map((share) => called(teams, share.team_id) ?? called(people, share.person_id) ?? t('register.allPhones'));
}

function Form({ shares, unitId, onDone }: { shares: Shares; unitId: number; onDone: () => void }) {
  const study = useStudy();
  const here = shares.shares.filter((share) => share.unit_id === unitId);
  const [all, setAll] = useState(here.some((share) => share.team_id === 0 && share.person_id === 0));
  const [named, setNamed] = useState(
    here
      .filter((share) => share.team_id !== 0 || share.person_id !== 0)
      .map((share) => (share.team_id === 0 ? `p${String(share.person_id)}` : `t${String(share.team_id)}`)),
  );
  const share = useRegisterChange(study.id, acts.share(study.id));
  const numbers = (letter: string) => named.filter((one) => one.startsWith(letter)).map((one) => Number(one.slice(1)));
  return (
    <div className="carried-form">
      <Checkbox
        checked={all}
        onChange={(event) => {
          setAll(event.target.checked);
        }}
      >
        {t('register.onAllPhones')}
      </Checkbox>
      {!all && (
        <Select
          mode="multiple"
          aria-label={t('register.whosePhones')}
          placeholder={t('register.whosePhones')}
          value={named}
          onChange={setNamed}
          showSearch={{ optionFilterProp: 'label' }}
          style={{ width: '100%' }}
          options={[
            {
              label: t('register.teams'),
              options: shares.teams.map((one) => ({ value: `t${String(one.id)}`, label: one.name })),
            },
            {
              label: t('register.people'),
              options: shares.people.map((one) => ({ value: `p${String(one.id)}`, label: one.name })),
            },
          ]}
        />
      )}
      <p className="muted small">{t('register.carriedMeans')}</p>
      {share.error && <Alert type="error" showIcon title={messageOf(share.error)} />}
      <Button
        type="primary"
        loading={share.isPending}
        onClick={() => {
          share.mutate(
            { unit_id: unitId, all, teams: all ? [] : numbers('t'), people: all ? [] : numbers('p') },
            { onSuccess: onDone },
          );
        }}
      >
        {t('register.keep')}
      </Button>
    </div>
  );
}
