import { App, Button, Dropdown, Input, type MenuProps } from 'antd';
import { Fragment, useState } from 'react';
import { api, ask } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { useMoments } from '../../ui/moments';
import { useMay } from '../../ui/study';
import { LetIn } from './LetIn';
import { doubtWords, isPressing, useFieldChange, type Phone } from './phones';

interface Props {
  studyId: number;
  phones: Phone[];
  /** Pair a phone that takes the place of one that was lost. */
  onReplace: (lost: Phone) => void;
}

type Order = 'cut off' | 'give back' | 'wipe' | 'keep';

/** The phones of a study by team: what each carries, when it was last heard of, and what is amiss. */
export function Phones({ studyId, phones, onReplace }: Props) {
  const [wanted, setWanted] = useState('');
  const found = phones.filter((phone) =>
    `${phone.name} ${phone.enumerator} ${phone.team}`.toLowerCase().includes(wanted.trim().toLowerCase()),
  );
  const teams = [...new Set(found.map((phone) => phone.team))];
  return (
    <div className="sheet">
      <table className="listing">
        <thead>
          <tr>
            <th>{t('common.enumerator')}</th>
            <th>{t('field.phone')}</th>
            <th className="figure">{t('common.release')}</th>
            <th>{t('field.lastHeard')}</th>
            <th className="figure">{t('field.hand')}</th>
            <th className="figure">{t('field.packed')}</th>
            <th className="figure">{t('field.handed')}</th>
            <th>{t('field.storage')}</th>
            <th className="amiss">
              {phones.length > MANY && (
                <Input
                  size="small"
                  allowClear
                  placeholder={t('field.findPhone')}
                  aria-label={t('field.findPhone')}
                  value={wanted}
                  onChange={(event) => {
                    setWanted(event.target.value);
                  }}
                />
              )}
            </th>
            <th />
          </tr>
        </thead>
        <tbody>
          {teams.map((team) => (
            <Fragment key={team}>
              {(teams.length > 1 || team !== '') && (
                <tr className="team">
                  <th colSpan={10} scope="rowgroup">
                    {team === '' ? t('field.withoutTeam') : team}
                  </th>
                </tr>
              )}
              {found
                .filter((phone) => phone.team === team)
                .map((phone) => (
                  <PhoneLine key={phone.id} studyId={studyId} phone={phone} onReplace={onReplace} />
                ))}
            </Fragment>
          ))}
        </tbody>
      </table>
      {found.length === 0 && <p className="pad muted">{t('field.noPhoneFound', { wanted })}</p>}
    </div>
  );
}

const MANY = 15;

function PhoneLine({ studyId, phone, onReplace }: { studyId: number; phone: Phone; onReplace: Props['onReplace'] }) {
  const { ago } = useMoments();
  const may = useMay();
  const { modal } = App.useApp();
  const [lettingIn, setLettingIn] = useState(false);
  const order = useFieldChange(studyId, (what: Order) => give(phone.id, what));
  const carries = phone.in_hand + phone.packed;
  const askFirst = (what: Order, title: string, content: string, okText: string) => {
    const onOk = () => order.mutateAsync(what);
    void modal.confirm({ title, content, okText, okButtonProps: { danger: true }, onOk });
  };
  const items: MenuProps['items'] = [
    {
      key: 'replace',
      label: t('field.newPhoneInstead'),
      onClick: () => {
        onReplace(phone);
      },
    },
    phone.cut_off_at === null
      ? {
          key: 'cut off',
          label: t('field.cutOff4'),
          onClick: () => {
            askFirst(
              'cut off',
              t('field.cutOff', { name: phone.name }),
              t('field.mayNeitherFetchNor', { carried: carries }),
              t('field.cutOff2'),
            );
          },
        }
      : {
          key: 'give back',
          label: t('field.giveBack'),
          disabled: phone.wiped_at !== null,
          onClick: () => {
            order.mutate('give back');
          },
        },
    phone.wipe_at === null
      ? {
          key: 'wipe',
          danger: true,
          label: t('field.wipe'),
          onClick: () => {
            askFirst(
              'wipe',
              t('field.wipeWhich', { name: phone.name }),
              t('field.wipeWhat', { carried: carries }),
              t('field.wipeIt'),
            );
          },
        }
      : {
          key: 'keep',
          label: t('field.takeBackWipe'),
          disabled: phone.wiped_at !== null,
          onClick: () => {
            order.mutate('keep');
          },
        },
  ];
  const lockedOut = phone.doubts.find((doubt) => doubt.kind === 'locked out');
  return (
    <tr className={phone.cut_off_at === null ? '' : 'quiet-row'}>
      <td>{phone.enumerator}</td>
      <td className="mono">{phone.name}</td>
      <td className="figure">{phone.release ?? '–'}</td>
      <td>{phone.last_heard === null ? t('field.never') : ago(phone.last_heard)}</td>
      <td className="figure">{phone.in_hand}</td>
      <td className="figure">{phone.packed}</td>
      <td className="figure">{phone.handed_in}</td>
      <td>
        <Storage share={phone.storage} />
      </td>
      <td className="amiss">
        <Standing phone={phone} />
        {lockedOut && may('field.manage') && (
          <Button
            size="small"
            onClick={() => {
              setLettingIn(true);
            }}
          >
            {t('field.letIn')}
          </Button>
        )}
        {order.error && <span className="bad">{order.error.message}</span>}
        {lettingIn && lockedOut && (
          <LetIn
            studyId={studyId}
            phone={phone}
            onClose={() => {
              setLettingIn(false);
            }}
          />
        )}
      </td>
      <td className="figure">
        {may('field.manage') && (
          <Dropdown menu={{ items }} trigger={['click']} placement="bottomRight">
            <Button size="small" type="text" aria-label={t('field.ordersFor', { name: phone.name })}>
              ⋯
            </Button>
          </Dropdown>
        )}
      </td>
    </tr>
  );
}

function give(id: number, what: Order) {
  const params = { path: { device_id: id } };
  switch (what) {
    case 'cut off':
      return ask(api.POST('/api/devices/{device_id}/cut-off', { params }));
    case 'give back':
      return ask(api.DELETE('/api/devices/{device_id}/cut-off', { params }));
    case 'wipe':
      return ask(api.POST('/api/devices/{device_id}/wipe', { params }));
    case 'keep':
      return ask(api.DELETE('/api/devices/{device_id}/wipe', { params }));
  }
}

/** That a phone is out of use, or what is amiss with it: the most pressing first, the rest as a hint. */
function Standing({ phone }: { phone: Phone }) {
  const { ago } = useMoments();
  if (phone.wiped_at !== null) return <span>{t('field.wiped', { when: ago(phone.wiped_at) })}</span>;
  if (phone.cut_off_at !== null) return <span>{t('field.cutOffSince', { when: ago(phone.cut_off_at) })}</span>;
  const [first, ...others] = phone.doubts;
  if (!first)
    return phone.replaces === '' ? null : (
      <span className="muted">{t('field.replaces', { replaces: phone.replaces })}</span>
    );
  return (
    <span className={isPressing(first) ? 'bad' : 'odd'} title={others.map(doubtWords).join('\n')}>
      {doubtWords(first)}
      {others.length > 0 && ` · +${String(others.length)}`}
    </span>
  );
}

const NEARLY_FULL = 0.9;

function Storage({ share }: { share: number | null }) {
  if (share === null) return <span className="muted">–</span>;
  const percent = Math.round(100 * share);
  return (
    <span
      className={share >= NEARLY_FULL ? 'storage full' : 'storage'}
      role="img"
      aria-label={t('field.storageUsed', { percent })}
      title={t('field.storageUsed', { percent })}
    >
      <span style={{ width: `${String(Math.max(percent, 3))}%` }} />
    </span>
  );
}
