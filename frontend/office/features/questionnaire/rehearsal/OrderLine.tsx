import { Button, Input, InputNumber, Popover } from 'antd';
import { useState } from 'react';
import { t } from '../../../texts/texts';
import type { useOrders, useRehearsed, Wanted } from './useRehearsed';

const MOST_INTERVIEWS = 5000;

/** How many interviews are made up, from which seed, as if on which day; and the proof. */
export function OrderLine({
  orders,
  known,
  blocked,
}: {
  orders: ReturnType<typeof useOrders>;
  known: ReturnType<typeof useRehearsed>;
  blocked: boolean;
}) {
  const [wanted, setWanted] = useState<Wanted>({ interviews: 200, seed: 1, day: '' });
  return (
    <div className="row order-line">
      <Button
        type="primary"
        disabled={blocked || orders.rehearse.isPending || known.rehearsal.work.underWay}
        onClick={() => {
          orders.rehearse.mutate(wanted);
        }}
      >
        {t('questionnaire.rehearse')}
      </Button>
      <InputNumber
        aria-label={t('common.interviews')}
        min={1}
        max={MOST_INTERVIEWS}
        value={wanted.interviews}
        onChange={(n) => {
          setWanted({ ...wanted, interviews: n ?? 200 });
        }}
      />
      <Popover
        trigger="click"
        placement="bottomRight"
        content={
          <div className="order-more">
            <label>
              {t('questionnaire.seed')}
              <InputNumber
                value={wanted.seed}
                onChange={(n) => {
                  setWanted({ ...wanted, seed: n ?? 1 });
                }}
              />
              <span className="muted small">{t('questionnaire.sameSeedMakesSame')}</span>
            </label>
            <label>
              {t('questionnaire.if')}
              <Input
                type="date"
                value={wanted.day}
                onChange={(event) => {
                  setWanted({ ...wanted, day: event.target.value });
                }}
              />
              <span className="muted small">{t('questionnaire.todayIfLeftEmpty')}</span>
            </label>
          </div>
        }
      >
        <Button type="text" aria-label={t('rehearsal.more')} title={t('rehearsal.more')}>
          …
        </Button>
      </Popover>
      <span className="grow" />
      <Button
        disabled={blocked || orders.prove.isPending || known.proof.work.underWay}
        onClick={() => {
          orders.prove.mutate();
        }}
      >
        {t('questionnaire.prove')}
      </Button>
    </div>
  );
}
