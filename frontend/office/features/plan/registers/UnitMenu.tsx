// What is done to a unit as a whole: moved, merged, split, closed.
import { App, Button, Checkbox, Dropdown, Form, Input, Modal } from 'antd';
import { useState } from 'react';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import {
  acts,
  EVERYTHING,
  useBranches,
  useRegisterChange,
  useRoot,
  type Narrowing,
  type Unit,
  type UnitKind,
} from './registers';

interface Props {
  unit: Unit;
  kind: UnitKind;
  kinds: ReadonlyMap<number, UnitKind>;
  onChoose: (unitId: number) => void;
}

type Asked = 'move' | 'merge' | 'split' | 'close' | null;

export function UnitMenu({ unit, kind, kinds, onChoose }: Props) {
  const { message } = App.useApp();
  const [asked, setAsked] = useState<Asked>(null);
  const failed = (error: unknown) => {
    void message.error(messageOf(error), 8);
  };
  const close = useRegisterChange(unit.study_id, acts.close);
  const done = () => {
    setAsked(null);
  };
  if (unit.on != null) return null;
  if (unit.closed_at != null)
    return (
      <Button
        loading={close.isPending}
        onClick={() => {
          close.mutate({ id: unit.id, why: '' }, { onError: failed });
        }}
      >
        {t('register.openAgain')}
      </Button>
    );
  return (
    <>
      <Dropdown
        trigger={['click']}
        menu={{
          items: [
            { key: 'move', label: t('register.move') },
            { key: 'merge', label: t('register.merge') },
            { key: 'split', label: t('register.split') },
            { key: 'close', label: t('register.close'), danger: true },
          ],
          onClick: ({ key }) => {
            setAsked(key as Asked);
          },
        }}
      >
        <Button aria-label={t('register.otherActs')}>⋯</Button>
      </Dropdown>
      {asked === 'move' && <MoveDialog {...{ unit, kind, kinds, onChoose, done, failed }} />}
      {asked === 'merge' && <MergeDialog {...{ unit, kind, kinds, onChoose, done, failed }} />}
      {asked === 'split' && <SplitDialog {...{ unit, kind, kinds, onChoose, done, failed }} />}
      {asked === 'close' && (
        <CloseDialog
          unit={unit}
          kinds={kinds}
          onCancel={done}
          onClose={(why) => {
            close.mutate({ id: unit.id, why }, { onError: failed });
            done();
          }}
        />
      )}
    </>
  );
}

interface DialogProps extends Props {
  done: () => void;
  failed: (error: unknown) => void;
}

function MoveDialog({ unit, kind, kinds, done, failed }: DialogProps) {
  const move = useRegisterChange(unit.study_id, acts.move);
  const [target, setTarget] = useState<number | null>(null);
  return (
    <Modal
      open
      title={t('register.moveTitle', { unit: unit.label })}
      okText={t('register.moveHere')}
      okButtonProps={{ disabled: target === null }}
      confirmLoading={move.isPending}
      onCancel={done}
      onOk={() => {
        if (target !== null) move.mutate({ id: unit.id, above: target }, { onSuccess: done, onError: failed });
      }}
    >
      <p className="muted">{t('register.moveMeans')}</p>
      <UnitPicker
        studyId={unit.study_id}
        kinds={kinds}
        of={kind.settings.under}
        but={[unit.id, unit.way.at(-1)?.id ?? 0]}
        value={target}
        onChange={setTarget}
      />
      {kind.settings.stands_alone && unit.way.length > 0 && (
        <Checkbox
          checked={target === 0}
          onChange={(event) => {
            setTarget(event.target.checked ? 0 : null);
          }}
        >
          {t('register.moveOut')}
        </Checkbox>
      )}
    </Modal>
  );
}

function MergeDialog({ unit, kind, kinds, onChoose, done, failed }: DialogProps) {
  const merge = useRegisterChange(unit.study_id, acts.merge);
  const [into, setInto] = useState<number | null>(null);
  return (
    <Modal
      open
      title={t('register.mergeTitle', { unit: unit.label })}
      okText={t('register.mergeThem')}
      okButtonProps={{ disabled: into === null }}
      confirmLoading={merge.isPending}
      onCancel={done}
      onOk={() => {
        if (into === null) return;
        const chosen = (found: Unit) => {
          done();
          onChoose(found.id);
        };
        merge.mutate({ id: unit.id, into }, { onSuccess: chosen, onError: failed });
      }}
    >
      <p className="muted">{t('register.mergeMeans', { unit: unit.label })}</p>
      <UnitPicker
        studyId={unit.study_id}
        kinds={kinds}
        of={[kind.id]}
        but={[unit.id]}
        value={into}
        onChange={setInto}
      />
    </Modal>
  );
}

function SplitDialog({ unit, kind, onChoose, done, failed }: DialogProps) {
  const split = useRegisterChange(unit.study_id, acts.split);
  const [key, setKey] = useState('');
  const [below, setBelow] = useState<number[]>([]);
  const branches = useBranches(unit.study_id, EVERYTHING, new Map([[unit.id, 1000]]));
  const lines = branches.get(unit.id)?.lines ?? [];
  return (
    <Modal
      open
      title={t('register.splitTitle', { unit: unit.label })}
      okText={t('register.splitIt')}
      confirmLoading={split.isPending}
      onCancel={done}
      onOk={() => {
        const chosen = (made: Unit) => {
          done();
          onChoose(made.id);
        };
        split.mutate({ id: unit.id, key, below }, { onSuccess: chosen, onError: failed });
      }}
    >
      <p className="muted">{t('register.splitMeans')}</p>
      <Form layout="vertical">
        <Form.Item
          label={kind.settings.key_named === '' ? t('register.key') : kind.settings.key_named}
          extra={kind.settings.key_mask === '' ? t('register.keyByItself') : kind.settings.key_mask}
        >
          <Input
            className="mono"
            value={key}
            onChange={(event) => {
              setKey(event.target.value);
            }}
          />
        </Form.Item>
        {lines.length > 0 && (
          <Form.Item label={t('register.whatGoes')}>
            <Checkbox.Group
              className="stacked"
              value={below}
              options={lines.map((line) => ({ value: line.id, label: `${line.label} ${line.key}` }))}
              onChange={setBelow}
            />
          </Form.Item>
        )}
      </Form>
    </Modal>
  );
}

interface CloseProps {
  unit: Unit;
  kinds: ReadonlyMap<number, UnitKind>;
  onClose: (why: string) => void;
  onCancel: () => void;
}

function CloseDialog({ unit, kinds, onClose, onCancel }: CloseProps) {
  const [why, setWhy] = useState('');
  const below = unit.below.map((one) => `${String(one.units)} ${kinds.get(one.kind_id)?.title ?? ''}`).join(', ');
  return (
    <Modal
      open
      title={t('register.closeTitle', { unit: unit.label })}
      okText={t('register.closeIt')}
      okButtonProps={{ disabled: why.trim() === '', danger: true }}
      onCancel={onCancel}
      onOk={() => {
        onClose(why);
      }}
    >
      <p className="muted">{below === '' ? t('register.closeMeans') : t('register.closeBranchMeans', { below })}</p>
      <Input
        aria-label={t('register.why')}
        placeholder={t('register.whyExample')}
        value={why}
        onChange={(event) => {
          setWhy(event.target.value);
        }}
        onPressEnter={() => {
          if (why.trim() !== '') onClose(why);
        }}
      />
    </Modal>
  );
}

interface PickerProps {
  studyId: number;
  kinds: ReadonlyMap<number, UnitKind>;
  /** Units of these kinds are offered. */
  of: number[];
  but: number[];
  value: number | null;
  onChange: (unitId: number | null) => void;
}

/** A unit found by its name or key. */
function UnitPicker({ studyId, kinds, of, but, value, onChange }: PickerProps) {
  const [words, setWords] = useState('');
  const only = of.length === 1 ? (of[0] ?? 0) : 0;
  const narrowing: Narrowing = { ...EVERYTHING, kind: only, words };
  const root = useRoot(studyId, narrowing, 200);
  const found = (root.data?.lines ?? []).filter(
    (line) => line.meant && of.includes(line.kind_id) && !but.includes(line.id),
  );
  return (
    <div className="unit-picker">
      <Input.Search
        autoFocus
        aria-label={t('register.findUnit')}
        placeholder={t('register.findUnit')}
        value={words}
        onChange={(event) => {
          setWords(event.target.value);
          onChange(null);
        }}
      />
      <ul className="found" role="listbox" aria-label={t('register.findUnit')}>
        {found.slice(0, 50).map((line) => (
          <li key={line.id} role="option" aria-selected={line.id === value}>
            <button
              type="button"
              className="plain-link"
              onClick={() => {
                onChange(line.id);
              }}
            >
              {kinds.get(line.kind_id)?.settings.glyph} {line.label} <code>{line.key}</code>
            </button>
          </li>
        ))}
      </ul>
      {root.data !== undefined && !root.data.deep && <p className="muted small">{t('register.narrowWords')}</p>}
      {root.data !== undefined && found.length === 0 && <p className="muted">{t('register.nothingFound')}</p>}
    </div>
  );
}
