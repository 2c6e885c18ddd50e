import { Button, Drawer, Input } from 'antd';
import { Fragment } from 'react';
import { languageName } from '../../../../shared/interview/languages';
import type { Finding, Script, UnitList } from '../script/model';
import { t } from '../../../texts/texts';
import { Words } from '../../../texts/Words';

interface Props {
  name: string;
  script: Script;
  findings: Finding[];
  readOnly: boolean;
  onChange: (script: Script) => void;
  onNamed: (name: string) => void;
  onClose: () => void;
}

/** The units that a quantity may be answered in, and how much each of them is. */
export function UnitListDrawer({ name, script, findings, readOnly, onChange, onNamed, onClose }: Props) {
  const list = script.unit_lists.find((l) => l.name === name);
  if (!list) return null;
  const put = (changed: UnitList, before = name) => {
    onChange({
      ...script,
      unit_lists: script.unit_lists.map((l) => (l.name === before ? changed : l)),
      parts: script.parts.map((p) => (p.unit === before ? { ...p, unit: changed.name } : p)),
    });
  };
  const putUnit = (index: number, changed: Partial<UnitList['units'][number]>) => {
    put({ ...list, units: list.units.map((u, i) => (i === index ? { ...u, ...changed } : u)) });
  };
  const mine = findings.filter((f) => f.unit_list === list.name);
  const columns = script.languages.length + 3;
  const dimension = list.units[0]?.dimension ?? '';
  return (
    <Drawer open size={720} title={t('questionnaire.unitList')} onClose={onClose}>
      <div className="row order-line">
        <label>
          {t('common.name')}{' '}
          <Input
            className="mono"
            aria-label={t('questionnaire.nameUnitList')}
            disabled={readOnly}
            value={list.name}
            onChange={(event) => {
              put({ ...list, name: event.target.value });
              onNamed(event.target.value);
            }}
          />
        </label>
        <label>
          {t('questionnaire.measures')}{' '}
          <Input
            aria-label={t('questionnaire.dimension')}
            placeholder={t('questionnaire.massVolumeLengthArea')}
            disabled={readOnly}
            value={dimension}
            onChange={(event) => {
              put({ ...list, units: list.units.map((u) => ({ ...u, dimension: event.target.value })) });
            }}
          />
        </label>
      </div>
      <Notes findings={mine.filter((f) => !list.units.some((u) => u.unit === f.item))} />
      <table className="plain-table edit">
        <thead>
          <tr>
            <th>{t('questionnaire.unit')}</th>
            <th>{t('questionnaire.factor')}</th>
            {script.languages.map((tag) => (
              <th key={tag}>{languageName(tag)}</th>
            ))}
            <th />
          </tr>
        </thead>
        <tbody>
          {list.units.map((unit, i) => {
            const wrong = mine.filter((f) => f.item === unit.unit);
            const status = (field: string) => (wrong.some((f) => f.field === field) ? 'error' : '');
            return (
              <Fragment key={i}>
                <tr>
                  <td>
                    <Input
                      size="small"
                      className="mono"
                      status={status('unit')}
                      aria-label={t('questionnaire.unit2', { i: i + 1 })}
                      disabled={readOnly}
                      value={unit.unit}
                      onChange={(event) => {
                        putUnit(i, { unit: event.target.value });
                      }}
                    />
                  </td>
                  <td>
                    <Input
                      size="small"
                      className="mono"
                      status={status('factor')}
                      aria-label={t('questionnaire.factor2', { i: i + 1 })}
                      disabled={readOnly}
                      value={unit.factor}
                      onChange={(event) => {
                        putUnit(i, { factor: event.target.value });
                      }}
                    />
                  </td>
                  {script.languages.map((tag) => (
                    <td key={tag}>
                      <Input
                        size="small"
                        aria-label={t('questionnaire.label', { i: i + 1, tag: languageName(tag) })}
                        disabled={readOnly}
                        value={unit.label[tag] ?? ''}
                        onChange={(event) => {
                          putUnit(i, { label: { ...unit.label, [tag]: event.target.value } });
                        }}
                      />
                    </td>
                  ))}
                  <td>
                    <Button
                      size="small"
                      type="text"
                      aria-label={t('questionnaire.removeUnit', { i: i + 1 })}
                      disabled={readOnly}
                      onClick={() => {
                        put({ ...list, units: list.units.filter((_, j) => j !== i) });
                      }}
                    >
                      ×
                    </Button>
                  </td>
                </tr>
                {wrong.length > 0 && (
                  <tr className="note-row">
                    <td colSpan={columns}>
                      <Notes findings={wrong} />
                    </td>
                  </tr>
                )}
              </Fragment>
            );
          })}
        </tbody>
      </table>
      {!readOnly && (
        <Button
          size="small"
          onClick={() => {
            put({
              ...list,
              units: [...list.units, { unit: '', dimension, factor: list.units.length === 0 ? '1' : '', label: {} }],
            });
          }}
        >
          {t('questionnaire.addUnit')}
        </Button>
      )}
      <p className="muted small">
        <Words k="questionnaire.oneUnitHasFactor" parts={{ code: <code />, code2: <code /> }} />
      </p>
    </Drawer>
  );
}

function Notes({ findings }: { findings: Finding[] }) {
  return findings.map((f) => (
    <p key={f.code + f.message} className="rule-note" role="status">
      {f.message} <b>{f.mend}</b>
    </p>
  ));
}
