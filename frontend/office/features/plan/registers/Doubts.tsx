// Changes from phones that wait: two people have made different things of the same field, or something does not fit.
import { Alert, Button, Drawer, Radio } from 'antd';
import { useState } from 'react';
import { t } from '../../../texts/texts';
import { useMoments } from '../../../ui/moments';
import { Empty, Loaded, messageOf } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { acts, useDoubts, useRegisterChange, type Doubt } from './registers';

interface Props {
  open: boolean;
  onClose: () => void;
  onChoose: (unitId: number) => void;
}

export function DoubtsDrawer({ open, onClose, onChoose }: Props) {
  const study = useStudy();
  const doubts = useDoubts(study.id);
  return (
    <Drawer open={open} onClose={onClose} size={760} title={t('register.doubts')}>
      <Loaded query={doubts}>
        {(found) =>
          found.total === 0 ? (
            <Empty title={t('register.noDoubts')}>{t('register.noDoubtsMean')}</Empty>
          ) : (
            <>
              <p className="muted">{t('register.doubtsMean')}</p>
              {found.lines.map((doubt) => (
                <DoubtCard key={doubt.id} doubt={doubt} onChoose={onChoose} />
              ))}
              {found.total > found.lines.length && (
                <p className="muted">{t('register.moreDoubts', { count: found.total - found.lines.length })}</p>
              )}
            </>
          )
        }
      </Loaded>
    </Drawer>
  );
}

function DoubtCard({ doubt, onChoose }: { doubt: Doubt; onChoose: (unitId: number) => void }) {
  const study = useStudy();
  const may = useMay();
  const { dayAndTime } = useMoments();
  const decide = useRegisterChange(study.id, acts.decide);
  const [chosen, setChosen] = useState<Record<string, 'here' | 'phone'>>({});
  const { unit_id: unitId, lines, told } = doubt;
  const decided = lines.every((line) => line.wrong || chosen[line.part_id] !== undefined);
  const take = lines.filter((line) => chosen[line.part_id] === 'phone').map((line) => line.part_id);
  // What has not come in at all comes in whole, or is set aside.
  const isOutside = told.length > 0 || (unitId == null && lines.length === 0) || isKeptOut(doubt);
  return (
    <section className="unit-doubt">
      <h3>
        {unitId == null ? (
          doubt.label === '' ? (
            t('register.newOne', { kind: doubt.kind })
          ) : (
            doubt.label
          )
        ) : (
          <button
            type="button"
            className="plain-link"
            onClick={() => {
              onChoose(unitId);
            }}
          >
            {doubt.label}
          </button>
        )}{' '}
        <span className="muted small">
          {[doubt.kind, doubt.under].filter((piece) => piece !== '').join(' · ')}
          {' · '}
          {t('register.changedBy', { who: doubt.by, when: dayAndTime(doubt.made_at) })}
        </span>
      </h3>
      <p>{doubt.words}</p>
      {lines.length > 0 && (
        <table className="listing doubt-fields">
          <thead>
            <tr>
              <th>{t('register.field')}</th>
              <th>{t('register.wasSeen')}</th>
              <th>{t('register.isHere')}</th>
              <th>{t('register.fromPhone')}</th>
            </tr>
          </thead>
          <tbody>
            {lines.map((line) => (
              <tr key={line.part_id}>
                <th scope="row">{line.wording}</th>
                <td className="muted">{line.before === '' ? '—' : line.before}</td>
                <td>
                  <Radio
                    disabled={!may('register.write')}
                    checked={chosen[line.part_id] === 'here' || line.wrong}
                    onChange={() => {
                      setChosen({ ...chosen, [line.part_id]: 'here' });
                    }}
                  >
                    {line.present === '' ? '—' : line.present}
                  </Radio>
                  {line.present_at != null && (
                    <span className="muted small doubt-who">
                      {line.present_by}, {dayAndTime(line.present_at)}
                    </span>
                  )}
                </td>
                <td>
                  <Radio
                    disabled={line.wrong || !may('register.write')}
                    checked={chosen[line.part_id] === 'phone'}
                    onChange={() => {
                      setChosen({ ...chosen, [line.part_id]: 'phone' });
                    }}
                  >
                    {line.wanted === '' ? '—' : line.wanted}
                  </Radio>
                  <span className="muted small doubt-who">{doubt.by}</span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {told.length > 0 && (
        <ul className="doubt-told">
          {told.map((line) => (
            <li key={line.part_id}>
              {line.wording}: {line.before !== '' && <s>{line.before}</s>} <b>{line.after === '' ? '—' : line.after}</b>
            </li>
          ))}
        </ul>
      )}
      {decide.error && <Alert type="error" showIcon title={messageOf(decide.error)} style={{ marginBottom: 8 }} />}
      {may('register.write') && (
        <div className="row">
          <Button
            type="primary"
            disabled={!isOutside && !decided}
            loading={decide.isPending}
            onClick={() => {
              decide.mutate({ id: doubt.id, take, set_aside: false });
            }}
          >
            {isOutside ? t('register.letIn') : lines.length === 0 ? t('register.leaveSo') : t('register.decideSo')}
          </Button>
          {isOutside && (
            <Button
              onClick={() => {
                decide.mutate({ id: doubt.id, take: [], set_aside: true });
              }}
            >
              {t('register.setAside')}
            </Button>
          )}
        </div>
      )}
    </section>
  );
}

/** Nothing of it is in the register, although its unit may be. */
const isKeptOut = (doubt: Doubt): boolean => doubt.why === 'not_carried' || doubt.why === 'not_on_phones';
