// One visit: whom, who goes, every attempt, and what whoever goes there should know.
import { App, Button, Input, Popconfirm, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../../../../shared/api/client';
import { locale, t } from '../../../texts/texts';
import { clockAt, momentAt, useMoments } from '../../../ui/moments';
import { messageOf } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { OutcomeMark } from '../../../../shared/map/OutcomeMark';
import { acts, called, lookOf, STANDINGS, useVisitAct, type Outcome, type Visit } from './visits';

const metres = new Intl.NumberFormat(locale, { style: 'unit', unit: 'meter', maximumFractionDigits: 0 });
/** Nearer than this it was at the door, as far as phones can tell. */
const AT_THE_DOOR_METRES = 100;

interface Props {
  visit: Visit;
  outcomes: Outcome[];
}

export function VisitPane({ visit, outcomes }: Props) {
  const study = useStudy();
  const may = useMay();
  const { message } = App.useApp();
  const { dayAndTime } = useMoments();
  const byCode = new Map(outcomes.map((one) => [one.code, one]));
  const [entering, setEntering] = useState(false);
  const takeBack = useVisitAct(study.id, acts.takeBack);
  const failed = (error: unknown) => {
    void message.error(messageOf(error), 8);
  };
  return (
    <div className="visit-pane">
      <div className="unit-head">
        <h2>{visit.label}</h2>
        {visit.label !== visit.key && <code>{visit.key}</code>}
        <span className="grow" />
        {may('field.manage') && (
          <Button
            size="small"
            onClick={() => {
              setEntering(!entering);
            }}
          >
            {t('visits.enterAttempt')}
          </Button>
        )}
      </div>
      <p className="muted">
        {visit.area} · {visit.person === '' ? t('visits.givenToNobody') : t('visits.goes', { name: visit.person })} ·{' '}
        {STANDINGS[visit.standing]}
        {visit.reserve && ` · ${t('visits.reserve')}`}
        {visit.unit_id !== null && (
          <>
            {' · '}
            <Link to={`/studies/${String(study.id)}/plan/registers?unit=${String(visit.unit_id)}`}>
              {t('visits.inRegister')}
            </Link>
          </>
        )}
      </p>
      {visit.appointment !== null && (
        <p className="visit-agreed">{t('visits.agreed', { at: dayAndTime(visit.appointment) })}</p>
      )}
      <Remark key={visit.id} visit={visit} />
      {entering && (
        <EnterAttempt
          key={visit.id}
          visit={visit}
          outcomes={outcomes}
          onDone={() => {
            setEntering(false);
          }}
        />
      )}
      {visit.attempts.length === 0 && !entering && <p className="muted">{t('visits.noAttempt')}</p>}
      <ol className="attempts">
        {visit.attempts.map((attempt) => (
          <li key={attempt.id} className={attempt.taken_back == null ? '' : 'taken-back'}>
            <OutcomeMark look={lookOf(byCode.get(attempt.outcome))} />
            <div>
              <b>{called(outcomes, attempt.outcome)}</b>{' '}
              <span className="muted">
                {dayAndTime(attempt.at)} · {attempt.by}
                {!attempt.from_phone && ` · ${t('visits.atTheDesk')}`}
              </span>
              {attempt.appointment !== null && <p>{t('visits.agreed', { at: dayAndTime(attempt.appointment) })}</p>}
              {attempt.remark !== '' && <p>“{attempt.remark}”</p>}
              <p className="muted small">
                {attempt.interview_id !== null && (
                  <Link to={`/studies/${String(study.id)}/interviews/${String(attempt.interview_id)}`}>
                    {t('visits.interview', { number: attempt.interview })}
                  </Link>
                )}{' '}
                {attempt.metres_off !== null && (
                  <span className={attempt.metres_off > AT_THE_DOOR_METRES ? 'bad' : ''}>
                    {attempt.metres_off > AT_THE_DOOR_METRES
                      ? t('visits.farFrom', { metres: metres.format(attempt.metres_off) })
                      : t('visits.atTheDoor', { metres: metres.format(attempt.metres_off) })}
                  </span>
                )}
                {attempt.taken_back != null && t('visits.takenBack', backWords(attempt.taken_back))}
              </p>
            </div>
            {attempt.taken_back == null && may('field.manage') && (
              <Popconfirm
                title={t('visits.takeBackSure')}
                description={t('visits.takeBackMeans')}
                okText={t('visits.takeBack')}
                onConfirm={() => {
                  takeBack.mutate({ id: attempt.id, why: '' }, { onError: failed });
                }}
              >
                <Button size="small" type="text">
                  {t('visits.takeBack')}
                </Button>
              </Popconfirm>
            )}
          </li>
        ))}
      </ol>
    </div>
  );
}

const backWords = ({ by, why }: Schemas['TakenBackBy']) => ({ by, why: why === '' ? '' : `: ${why}` });

function Remark({ visit }: { visit: Visit }) {
  const study = useStudy();
  const may = useMay();
  const { message } = App.useApp();
  const [remark, setRemark] = useState(visit.remark);
  const keep = useVisitAct(study.id, acts.remark);
  if (!may('field.manage')) return visit.remark === '' ? null : <p>{visit.remark}</p>;
  return (
    <Input.TextArea
      autoSize
      aria-label={t('visits.remark')}
      placeholder={t('visits.remark')}
      maxLength={2000}
      value={remark}
      onChange={(event) => {
        setRemark(event.target.value);
      }}
      onBlur={() => {
        if (remark !== visit.remark)
          keep.mutate(
            { id: visit.id, remark },
            {
              onSuccess: () => void message.success(t('common.kept')),
              onError: (error) => void message.error(messageOf(error), 8),
            },
          );
      }}
    />
  );
}

function EnterAttempt({ visit, outcomes, onDone }: Props & { onDone: () => void }) {
  const study = useStudy();
  const zone = study.time_zone;
  const { message } = App.useApp();
  const [outcome, setOutcome] = useState<string | null>(null);
  const [at, setAt] = useState(() => clockAt(zone, new Date().toISOString()));
  const [when, setWhen] = useState('');
  const [remark, setRemark] = useState('');
  const enter = useVisitAct(study.id, acts.attempt);
  const agrees = outcomes.find((one) => one.code === outcome)?.names_moment === true;
  return (
    <form
      className="enter-attempt"
      onSubmit={(event) => {
        event.preventDefault();
        enter.mutate(
          {
            id: visit.id,
            body: {
              outcome: outcome ?? '',
              at: momentAt(zone, at),
              appointment: agrees && when !== '' ? momentAt(zone, when) : null,
              remark,
              person_id: null,
            },
          },
          { onSuccess: onDone, onError: (error) => void message.error(messageOf(error), 8) },
        );
      }}
    >
      <Select
        aria-label={t('visits.howItEnded')}
        placeholder={t('visits.howItEnded')}
        value={outcome}
        onChange={setOutcome}
        options={outcomes.map((one) => ({ value: one.code, label: called(outcomes, one.code) }))}
      />
      <label>
        {t('visits.when')}{' '}
        <input
          type="datetime-local"
          value={at}
          required
          onChange={(event) => {
            setAt(event.target.value);
          }}
        />
      </label>
      {agrees && (
        <label>
          {t('visits.agreedFor')}{' '}
          <input
            type="datetime-local"
            value={when}
            required
            onChange={(event) => {
              setWhen(event.target.value);
            }}
          />
        </label>
      )}
      <Input
        aria-label={t('visits.whatHappened')}
        placeholder={t('visits.whatHappened')}
        maxLength={2000}
        value={remark}
        onChange={(event) => {
          setRemark(event.target.value);
        }}
      />
      <div className="row">
        <Button type="primary" htmlType="submit" disabled={outcome === null} loading={enter.isPending}>
          {t('visits.enter')}
        </Button>
        <Button type="text" onClick={onDone}>
          {t('common.cancel')}
        </Button>
      </div>
    </form>
  );
}
