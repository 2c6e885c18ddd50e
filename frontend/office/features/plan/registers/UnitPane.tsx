// One unit: its fields with where each value is from, what is carried up to it, what became of it.
import { App, Button, Dropdown, Input, Tooltip } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { locale, t } from '../../../texts/texts';
import { useMoments } from '../../../ui/moments';
import { messageOf } from '../../../ui/states';
import { useMay } from '../../../ui/study';
import { Carried } from './Carried';
import { FieldEdit, isTaken } from './FieldEdit';
import { acts, KEY, useRegisterChange, type Field, type FieldLine, type Unit, type UnitKind } from './registers';
import { howWords, toldOf, whence } from './told';
import { UnitMenu } from './UnitMenu';

interface Props {
  unit: Unit;
  kinds: ReadonlyMap<number, UnitKind>;
  onChoose: (unitId: number) => void;
  onDay: (day: string) => void;
}

const number = new Intl.NumberFormat(locale);

export function UnitPane({ unit, kinds, onChoose, onDay }: Props) {
  const may = useMay();
  const { message } = App.useApp();
  const kind = kinds.get(unit.kind_id);
  const [edited, setEdited] = useState('');
  const change = useRegisterChange(unit.study_id, acts.change);
  const make = useRegisterChange(unit.study_id, acts.make(unit.study_id));
  const mayWrite = may('register.write') && unit.on == null && unit.closed_at == null;
  const keep = (changes: Record<string, unknown[]>) => {
    change.mutate(
      { id: unit.id, changes },
      {
        onSuccess: () => {
          const back = Object.fromEntries(Object.entries(changes).map(([field, pair]) => [field, [...pair].reverse()]));
          const key = `unit-${String(unit.id)}`;
          void message.success({
            key,
            content: (
              <>
                {t('common.kept')}{' '}
                <button
                  type="button"
                  className="plain-link"
                  onClick={() => {
                    message.destroy(key);
                    change.mutate({ id: unit.id, changes: back });
                  }}
                >
                  {t('register.undo')}
                </button>
              </>
            ),
          });
        },
        onError: (error) => {
          void message.error(messageOf(error), 8);
        },
      },
    );
    setEdited('');
  };
  const under = [...kinds.values()].filter((one) => one.settings.under.includes(unit.kind_id));
  const add = (kindId: number) => {
    make.mutate(
      { kind_id: kindId, above: unit.id, key: '', answers: {} },
      {
        onSuccess: (made) => {
          onChoose(made.id);
        },
        onError: (error) => {
          void message.error(messageOf(error), 8);
        },
      },
    );
  };
  const near =
    unit.latitude != null && unit.longitude != null
      ? { latitude: unit.latitude, longitude: unit.longitude }
      : undefined;
  const fields = new Map(kind?.fields.map((field) => [field.part_id, field]));
  return (
    <div className="unit-pane">
      <div className="unit-head">
        <h2>{unit.label}</h2>
        {unit.label !== unit.key && <code>{unit.key}</code>}
        <span className="grow" />
        {mayWrite && under.length > 0 && (
          <Dropdown
            menu={{
              items: under.map((one) => ({ key: String(one.id), label: `${one.settings.glyph} ${one.title}` })),
              onClick: ({ key }) => {
                add(Number(key));
              },
            }}
          >
            <Button loading={make.isPending}>{t('register.addUnder')}</Button>
          </Dropdown>
        )}
        {may('register.write') && kind !== undefined && (
          <UnitMenu unit={unit} kind={kind} kinds={kinds} onChoose={onChoose} />
        )}
      </div>
      <p className="muted unit-where">
        {kind?.title}
        {unit.way.length > 0 && (
          <>
            {' '}
            {t('register.in')}{' '}
            {unit.way.map((step, at) => (
              <span key={step.id}>
                {at > 0 && ' › '}
                <button
                  type="button"
                  className="plain-link"
                  onClick={() => {
                    onChoose(step.id);
                  }}
                >
                  {step.label}
                </button>
              </span>
            ))}
          </>
        )}
        {' · '}
        {t('register.fieldsFilled', { filled: unit.filled, asked: unit.asked })}
        {unit.below.map((below) => (
          <span key={below.kind_id}>
            {' · '}
            {number.format(below.units)} {kinds.get(below.kind_id)?.settings.glyph}
          </span>
        ))}
        {unit.owner !== '' && ` · ${t('register.ownedBy', { owner: unit.owner })}`}
      </p>
      {kind?.settings.on_phones !== 'no' && unit.on == null && (
        <Carried unitId={unit.id} way={unit.way.map((step) => step.id)} />
      )}
      {unit.on != null && (
        <p className="unit-then" role="status">
          {t('register.asOn', { day: unit.on })}{' '}
          <button
            type="button"
            className="plain-link"
            onClick={() => {
              onDay('');
            }}
          >
            {t('register.toToday')}
          </button>
        </p>
      )}
      {unit.closed_at != null && (
        <p className="unit-then" role="status">
          {t('register.isClosed', { why: unit.closed_why })}
        </p>
      )}
      <table className="unit-fields">
        <tbody>
          <tr>
            <th scope="row">{kind?.settings.key_named === '' ? t('register.key') : kind?.settings.key_named}</th>
            <td>
              {edited === KEY ? (
                <KeyEdit
                  value={unit.key}
                  mask={kind?.settings.key_mask ?? ''}
                  onKeep={(key) => {
                    keep({ [KEY]: [unit.key, key] });
                  }}
                  onLeave={() => {
                    setEdited('');
                  }}
                />
              ) : (
                <Shown
                  label={t('register.changeField', { field: t('register.key') })}
                  mayChange={mayWrite}
                  onChange={() => {
                    setEdited(KEY);
                  }}
                >
                  <code>{unit.key}</code>
                </Shown>
              )}
            </td>
            <td />
          </tr>
          {unit.fields.filter(hasPlace).map((line) => (
            <FieldRow
              key={line.part_id}
              unitId={unit.id}
              near={near}
              line={line}
              field={fields.get(line.part_id)}
              faults={unit.faults.filter((fault) => fault.part_id === line.part_id)}
              mayChange={mayWrite}
              isEdited={edited === line.part_id}
              onEdit={(on) => {
                setEdited(on ? line.part_id : '');
              }}
              onKeep={(value) => {
                keep({ [line.part_id]: [line.value ?? null, value ?? null] });
              }}
            />
          ))}
          {unit.carried.map((line) => (
            <tr key={`${String(line.of)}-${line.field}-${line.how}`} className="carried">
              <th scope="row">
                {line.field}, {howWords(line.type, line.how)}
              </th>
              <td>{line.shown}</td>
              <td className="muted small">{t('register.fromBelow', { kind: kinds.get(line.of)?.title ?? '' })}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <History unit={unit} onDay={onDay} />
    </div>
  );
}

/** A derived value of nothing is left out, as is what does not apply. */
const hasPlace = (line: FieldLine): boolean => line.asked && (!line.derived || line.shown !== '');

interface ShownProps {
  label: string;
  mayChange: boolean;
  onChange: () => void;
  children: React.ReactNode;
}

function Shown({ label, mayChange, onChange, children }: ShownProps) {
  if (!mayChange) return <>{children}</>;
  return (
    <button type="button" className="field-shown" aria-label={label} onClick={onChange}>
      {children}
    </button>
  );
}

/** The hash of the file that a field holds, "" for none. */
const fileOf = (value: unknown): string =>
  typeof value === 'object' && value !== null && 'file' in value && typeof value.file === 'string' ? value.file : '';

interface RowProps {
  unitId: number;
  near: { latitude: number; longitude: number } | undefined;
  line: FieldLine;
  field: Field | undefined;
  faults: Unit['faults'];
  mayChange: boolean;
  isEdited: boolean;
  onEdit: (on: boolean) => void;
  onKeep: (value: unknown) => void;
}

function FieldRow({ unitId, near, line, field, faults, mayChange, isEdited, onEdit, onKeep }: RowProps) {
  const { dayAndTime } = useMoments();
  const open = mayChange && field !== undefined && !line.derived && !line.hidden && !isTaken(field);
  const file = fileOf(line.value);
  const shown =
    line.shown === '' ? (
      <span className="nothing">{t('register.nothing')}</span>
    ) : file === '' ? (
      <b>{line.shown}</b>
    ) : (
      <a href={`/api/units/${String(unitId)}/files/${file}`} target="_blank" rel="noreferrer">
        {line.kind === 'photo' ? (
          <img className="unit-photo" src={`/api/units/${String(unitId)}/files/${file}/preview`} alt={line.wording} />
        ) : (
          line.shown
        )}
      </a>
    );
  return (
    <tr>
      <th scope="row">{line.wording}</th>
      <td>
        {isEdited && field !== undefined ? (
          <FieldEdit
            field={field}
            line={line}
            near={near}
            onKeep={onKeep}
            onLeave={() => {
              onEdit(false);
            }}
          />
        ) : (
          <Shown
            label={t('register.changeField', { field: line.wording })}
            mayChange={open}
            onChange={() => {
              onEdit(true);
            }}
          >
            {shown}
          </Shown>
        )}
        {faults.map((fault) => (
          <span key={fault.text} className={`fault ${fault.strength === 'must' ? 'bad' : 'doubt'}`}>
            ▲ {fault.text}
          </span>
        ))}
      </td>
      <td className="muted small">
        {line.derived ? (
          t('register.derived')
        ) : line.since != null ? (
          <Tooltip title={dayAndTime(line.since.at)}>
            <span>{line.since.told === '' ? line.since.by : line.since.told}</span>
          </Tooltip>
        ) : null}
      </td>
    </tr>
  );
}

interface KeyProps {
  value: string;
  mask: string;
  onKeep: (key: string) => void;
  onLeave: () => void;
}

function KeyEdit({ value, mask, onKeep, onLeave }: KeyProps) {
  const [key, setKey] = useState(value);
  return (
    // Escape leaves the field, wherever in it the caret is.
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions
    <form
      className="field-edit"
      onSubmit={(event) => {
        event.preventDefault();
        onKeep(key);
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') onLeave();
        event.stopPropagation();
      }}
    >
      <Input
        autoFocus
        className="mono"
        aria-label={t('register.key')}
        placeholder={mask}
        value={key}
        onChange={(event) => {
          setKey(event.target.value);
        }}
      />
      <Button size="small" type="primary" htmlType="submit">
        {t('register.keep')}
      </Button>
      <Button size="small" type="text" onClick={onLeave}>
        {t('register.leave')}
      </Button>
    </form>
  );
}

function History({ unit, onDay }: { unit: Unit; onDay: (day: string) => void }) {
  const { dayAndTime } = useMoments();
  const today = new Date().toISOString().slice(0, 10);
  return (
    <section className="unit-history">
      <About unit={unit} />
      <div className="row">
        <h3>{t('register.whatBecame')}</h3>
        <span className="grow" />
        <label className="row muted small on-day">
          {t('register.onDay')}
          <Input
            type="date"
            size="small"
            max={today}
            value={unit.on ?? ''}
            onChange={(event) => {
              onDay(event.target.value);
            }}
          />
        </label>
      </div>
      <ol>
        {unit.history.map((event) => (
          <li key={event.id}>
            <b>{dayAndTime(event.at)}</b> {toldOf(event)}{' '}
            {event.what === 'made' && event.changes.length > 3
              ? t('register.withFields', { count: event.changes.length })
              : event.changes.map((change, at) => (
                  <span key={change.part_id}>
                    {at > 0 && ', '}
                    {change.part_id === KEY ? t('register.key') : change.wording}{' '}
                    {change.before !== '' && (
                      <>
                        <s>{change.before}</s> →{' '}
                      </>
                    )}
                    <b>{change.after === '' ? t('register.nothing') : change.after}</b>
                  </span>
                ))}{' '}
            <span className="muted small">{whence(event, dayAndTime)}</span>
          </li>
        ))}
      </ol>
      {unit.more_history > 0 && (
        <p className="muted small">{t('register.moreHistory', { count: unit.more_history })}</p>
      )}
    </section>
  );
}

/** Who went there, and what was asked. */
function About({ unit }: { unit: Unit }) {
  const { dayOf } = useMoments();
  const study = `/studies/${String(unit.study_id)}`;
  if (unit.visits.length + unit.interviews.length === 0) return null;
  return (
    <>
      <h3>{t('register.visitsAndInterviews')}</h3>
      <ul className="unit-about">
        {unit.visits.map((visit) => (
          <li key={visit.id}>
            <Link to={`${study}/plan/visits?list=${String(visit.list_id)}&visit=${String(visit.id)}`}>
              {t('register.visitLine', {
                list: visit.list,
                outcome: visit.outcome === '' ? t('visits.notYet') : visit.outcome_label,
              })}
            </Link>{' '}
            <span className="muted small">
              {[visit.person, visit.last_at === null ? '' : dayOf(visit.last_at)]
                .filter((piece) => piece !== '')
                .join(' · ')}
            </span>
          </li>
        ))}
        {unit.interviews.map((interview) => (
          <li key={interview.id}>
            <Link to={`${study}/interviews/${String(interview.id)}`}>
              {t('register.interviewLine', { key: interview.key })}
            </Link>{' '}
            <span className="muted small">
              {interview.enumerator}
              {interview.started_at !== null && ` · ${dayOf(interview.started_at)}`}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
