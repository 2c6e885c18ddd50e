// What holds for a list of visits, and how attempts end in the study: beside the visits, in a drawer.
import { Alert, App, Button, Checkbox, Drawer, Input, Select } from 'antd';
import { useState } from 'react';
import { locale, t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { OutcomeMark } from '../../../../shared/map/OutcomeMark';
import { RulesForm } from './RulesForm';
import {
  acts,
  called,
  CLASSES,
  lookOf,
  useOutcomes,
  useVisitAct,
  type Class,
  type Outcome,
  type VisitList,
} from './visits';

interface Props {
  list: VisitList;
  open: boolean;
  onClose: () => void;
  onRemoved: () => void;
}

export function ListSettings({ list, open, onClose, onRemoved }: Props) {
  return (
    <Drawer title={t('visits.settings')} open={open} onClose={onClose} size={560} destroyOnHidden>
      <OfList key={list.version} list={list} onRemoved={onRemoved} />
      <Outcomes />
    </Drawer>
  );
}

function OfList({ list, onRemoved }: { list: VisitList; onRemoved: () => void }) {
  const study = useStudy();
  const may = useMay();
  const { modal, message } = App.useApp();
  const [name, setName] = useState(list.name);
  const [rules, setRules] = useState(list.rules);
  const [due, setDue] = useState(list.due);
  const change = useVisitAct(study.id, acts.change);
  const remove = useVisitAct(study.id, acts.remove);
  const put = (closed: boolean) => {
    change.mutate(
      { id: list.id, body: { name, rules, due, closed, version: list.version } },
      { onSuccess: () => void message.success(t('common.kept')) },
    );
  };
  return (
    <fieldset className="list-settings" disabled={!may('study.write')}>
      <h3>{list.name}</h3>
      <Input
        aria-label={t('visits.calledAs')}
        maxLength={64}
        value={name}
        onChange={(event) => {
          setName(event.target.value);
        }}
      />
      <RulesForm rules={rules} due={due} onRules={setRules} onDue={setDue} />
      {change.error && <Alert type="error" showIcon title={messageOf(change.error)} />}
      {may('study.write') && (
        <div className="row">
          <Button
            type="primary"
            loading={change.isPending}
            onClick={() => {
              put(list.closed);
            }}
          >
            {t('visits.keep')}
          </Button>
          <Button
            onClick={() => {
              put(!list.closed);
            }}
          >
            {list.closed ? t('visits.openAgain') : t('visits.close')}
          </Button>
          <Button
            type="text"
            danger
            onClick={() => {
              modal.confirm({
                title: t('visits.remove', { name: list.name }),
                content: t('visits.removeMeans'),
                okText: t('common.remove'),
                onOk: () =>
                  remove
                    .mutateAsync(list.id)
                    .then(onRemoved)
                    .catch((error: unknown) => void message.error(messageOf(error), 8)),
              });
            }}
          >
            {t('common.remove')}
          </Button>
        </div>
      )}
    </fieldset>
  );
}

const CODE = /^[a-z][a-z0-9_]*$/;
const CLASS_CHOICES = Object.entries(CLASSES).map(([value, label]) => ({ value: value as Class, label }));

/** The outcomes of the study: what each is called, its class, and what follows. */
function Outcomes() {
  const study = useStudy();
  const may = useMay();
  const told = useOutcomes(study.id);
  const [draft, setDraft] = useState<Outcome[] | null>(null);
  const [code, setCode] = useState('');
  const change = useVisitAct(study.id, acts.outcomes(study.id));
  const outcomes = draft ?? told.data?.outcomes ?? [];
  const used = new Set(told.data?.used);
  const set = (at: number, part: Partial<Outcome>) => {
    setDraft(outcomes.map((one, place) => (place === at ? { ...one, ...part } : one)));
  };
  const name = code.trim();
  return (
    <fieldset className="list-settings" disabled={!may('study.write')}>
      <h3>{t('visits.outcomes')}</h3>
      <p className="muted small">{t('visits.outcomesMean')}</p>
      <table className="listing outcomes">
        <thead>
          <tr>
            <th>{t('visits.outcome')}</th>
            <th>{t('visits.countsAs')}</th>
            <th>{t('visits.then')}</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {outcomes.map((one, at) => (
            <tr key={one.code}>
              <td>
                <div className="row">
                  <OutcomeMark look={lookOf(one)} />
                  <Input
                    size="small"
                    aria-label={t('visits.labelOf', { code: one.code })}
                    value={one.label[locale] ?? called(outcomes, one.code)}
                    maxLength={60}
                    onChange={(event) => {
                      set(at, { label: { ...one.label, [locale]: event.target.value } });
                    }}
                  />
                </div>
                <code className="small muted">{one.code}</code>
              </td>
              <td>
                <Select
                  size="small"
                  aria-label={t('visits.countsAs')}
                  value={one.counts_as}
                  options={CLASS_CHOICES}
                  popupMatchSelectWidth={false}
                  onChange={(counts_as) => {
                    set(at, { counts_as });
                  }}
                />
              </td>
              <td className="small">
                <Checkbox
                  checked={one.ends}
                  onChange={(event) => {
                    set(at, { ends: event.target.checked });
                  }}
                >
                  {t('visits.ends')}
                </Checkbox>
                <Checkbox
                  checked={one.passes_on}
                  onChange={(event) => {
                    set(at, { passes_on: event.target.checked });
                  }}
                >
                  {t('visits.passesOn')}
                </Checkbox>
                <Checkbox
                  checked={one.names_moment}
                  onChange={(event) => {
                    set(at, { names_moment: event.target.checked });
                  }}
                >
                  {t('visits.namesMoment')}
                </Checkbox>
              </td>
              <td>
                <Button
                  size="small"
                  type="text"
                  disabled={used.has(one.code)}
                  title={used.has(one.code) ? t('visits.isUsed') : ''}
                  aria-label={t('visits.removeOutcome', { code: one.code })}
                  onClick={() => {
                    setDraft(outcomes.filter((_, place) => place !== at));
                  }}
                >
                  ✕
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {may('study.write') && (
        <>
          <div className="row">
            <Input
              size="small"
              className="mono"
              aria-label={t('visits.newCode')}
              placeholder={t('visits.newCode')}
              maxLength={32}
              value={code}
              onChange={(event) => {
                setCode(event.target.value);
              }}
            />
            <Button
              size="small"
              disabled={!CODE.test(name) || outcomes.some((one) => one.code === name)}
              onClick={() => {
                const label = name.replaceAll('_', ' ');
                const added: Outcome = {
                  code: name,
                  label: { [locale]: label.charAt(0).toUpperCase() + label.slice(1) },
                  counts_as: 'other',
                  ends: false,
                  passes_on: false,
                  names_moment: false,
                };
                setDraft([...outcomes, added]);
                setCode('');
              }}
            >
              {t('visits.addOutcome')}
            </Button>
          </div>
          {change.error && <Alert type="error" showIcon title={messageOf(change.error)} />}
          {draft !== null && (
            <div className="row">
              <Button
                type="primary"
                loading={change.isPending}
                onClick={() => {
                  change.mutate(
                    { outcomes, version: told.data?.version ?? 0 },
                    {
                      onSuccess: () => {
                        setDraft(null);
                      },
                    },
                  );
                }}
              >
                {t('visits.keepOutcomes')}
              </Button>
              <Button
                type="text"
                onClick={() => {
                  setDraft(null);
                }}
              >
                {t('common.cancel')}
              </Button>
            </div>
          )}
        </>
      )}
    </fieldset>
  );
}
