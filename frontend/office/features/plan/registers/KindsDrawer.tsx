// The kinds of unit of a study: how they hang together, what their key is, what is carried upward; new ones.
import { App, Alert, Button, Checkbox, Drawer, Form, Input, InputNumber, Radio, Select } from 'antd';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { locale, t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { Carried } from './Carried';
import { useRegisterChange, type UnitKind } from './registers';
import { howWords } from './told';

interface Props {
  kinds: UnitKind[];
  open: boolean;
  onClose: () => void;
}

const number = new Intl.NumberFormat(locale);

export function KindsDrawer({ kinds, open, onClose }: Props) {
  const may = useMay();
  const [chosen, setChosen] = useState<number | 'new' | null>(null);
  const kind = kinds.find((one) => one.id === chosen);
  return (
    <Drawer open={open} onClose={onClose} size={720} title={t('register.kinds')}>
      <p className="muted">{t('register.kindsMean')}</p>
      {kinds.some((one) => one.settings.on_phones !== 'no') && <Carried unitId={0} way={[]} />}
      <table className="listing">
        <thead>
          <tr>
            <th>{t('register.kind')}</th>
            <th>{t('register.hangsUnder')}</th>
            <th className="figure">{t('register.units')}</th>
            <th>{t('register.fields')}</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {kinds.map((one) => (
            <tr key={one.id}>
              <th scope="row">
                {one.settings.glyph} {one.title}
              </th>
              <td>{aboveWords(one, kinds)}</td>
              <td className="figure">{number.format(one.units)}</td>
              <td>
                <FieldsLink kind={one} />
              </td>
              <td>
                {may('script.write') && (
                  <button
                    type="button"
                    className="plain-link"
                    onClick={() => {
                      setChosen(chosen === one.id ? null : one.id);
                    }}
                  >
                    {chosen === one.id ? t('register.leave') : t('register.settings')}
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {kind !== undefined && (
        <KindForm
          key={`${String(kind.id)}-${String(kind.version)}`}
          kind={kind}
          kinds={kinds}
          onDone={() => {
            setChosen(null);
          }}
        />
      )}
      {may('script.write') &&
        (chosen === 'new' || kinds.length === 0 ? (
          <NewKind
            kinds={kinds}
            onMade={() => {
              setChosen(null);
            }}
          />
        ) : (
          <p>
            <Button
              onClick={() => {
                setChosen('new');
              }}
            >
              {t('register.newKind')}
            </Button>
          </p>
        ))}
    </Drawer>
  );
}

function aboveWords(kind: UnitKind, kinds: UnitKind[]): string {
  const above = kinds.filter((one) => kind.settings.under.includes(one.id)).map((one) => one.title);
  return [...above, ...(kind.settings.stands_alone ? [t('register.byItself')] : [])].join(', ');
}

/** The fields are the lines of a questionnaire: they are written where questionnaires are. */
function FieldsLink({ kind }: { kind: UnitKind }) {
  const study = useStudy();
  return (
    <Link to={`/studies/${String(study.id)}/plan/registers/fields/${String(kind.questionnaire_id)}`}>
      {kind.number == null ? t('register.noFields') : t('register.fieldCount', { count: kind.fields.length })}
    </Link>
  );
}

type Settings = Schemas['KindSettings'];

const ON_PHONES = [
  { value: 'no', label: t('register.phonesNo') },
  { value: 'read', label: t('register.phonesRead') },
  { value: 'change', label: t('register.phonesChange') },
];

interface FormProps {
  kind: UnitKind;
  kinds: UnitKind[];
  onDone: () => void;
}

function KindForm({ kind, kinds, onDone }: FormProps) {
  const study = useStudy();
  const { modal } = App.useApp();
  const path = { kind_id: kind.id };
  const save = useRegisterChange(study.id, (settings: Settings) =>
    ask(api.PUT('/api/unit-kinds/{kind_id}', { params: { path }, body: { settings, version: kind.version } })),
  );
  const remove = useRegisterChange(study.id, () => ask(api.DELETE('/api/unit-kinds/{kind_id}', { params: { path } })));
  const carries = kind.fields.flatMap((field) =>
    field.carries.map((how) => ({
      value: `${how} ${field.part_id}`,
      label: `${field.wording}, ${howWords(field.type, how)}`,
    })),
  );
  const problem = save.error ?? remove.error;
  return (
    <Form
      layout="vertical"
      className="kind-form"
      initialValues={{
        ...kind.settings,
        carried: kind.settings.carried.map((one) => `${one.how} ${one.part_id}`),
      }}
      onFinish={(written: Omit<Settings, 'carried'> & { carried: string[] }) => {
        save.mutate(
          {
            ...written,
            label: written.label,
            carried: written.carried.map((one) => {
              const [how = 'sum', ...rest] = one.split(' ');
              return { how: how as 'sum' | 'least' | 'most', part_id: rest.join(' ') };
            }),
          },
          { onSuccess: onDone },
        );
      }}
    >
      <div className="kind-columns">
        <Form.Item name="under" label={t('register.hangsUnder')}>
          <Select
            mode="multiple"
            options={kinds.map((one) => ({ value: one.id, label: `${one.settings.glyph} ${one.title}` }))}
          />
        </Form.Item>
        <Form.Item name="glyph" label={t('register.glyph')} rules={[{ required: true }]}>
          <Input maxLength={4} style={{ width: 64 }} />
        </Form.Item>
        <Form.Item name="key_named" label={t('register.keyNamed')}>
          <Input maxLength={40} placeholder={t('register.key')} />
        </Form.Item>
        <Form.Item name="key_mask" label={t('register.keyMask')} extra={t('register.keyMaskMeans')}>
          <Input className="mono" maxLength={200} placeholder="AA_999999" />
        </Form.Item>
        <Form.Item name="label" label={t('register.calledBy')}>
          <Select
            options={[
              { value: '', label: t('register.calledByKey') },
              ...kind.fields.map((field) => ({ value: field.part_id, label: field.wording })),
            ]}
          />
        </Form.Item>
        <Form.Item name="carried" label={t('register.carried')}>
          <Select mode="multiple" options={carries} />
        </Form.Item>
      </div>
      <Form.Item name="stands_alone" valuePropName="checked">
        <Checkbox>{t('register.mayStandAlone')}</Checkbox>
      </Form.Item>
      <Form.Item name="coarse_km" label={t('register.coarse')} extra={t('register.coarseMeans')}>
        <InputNumber min={0} max={1000} suffix="km" style={{ width: 120 }} />
      </Form.Item>
      <Form.Item name="on_phones" label={t('register.onPhones')} extra={t('register.onPhonesMeans')}>
        <Radio.Group options={ON_PHONES} />
      </Form.Item>
      <Form.Item noStyle dependencies={['on_phones']}>
        {({ getFieldValue }) => (
          <>
            <Form.Item name="sensitive_on_phones" valuePropName="checked" hidden={getFieldValue('on_phones') === 'no'}>
              <Checkbox>{t('register.sensitiveOnPhones')}</Checkbox>
            </Form.Item>
            <Form.Item name="own" valuePropName="checked" hidden={getFieldValue('on_phones') !== 'change'}>
              <Checkbox>{t('register.ownUnits')}</Checkbox>
            </Form.Item>
          </>
        )}
      </Form.Item>
      {problem && <Alert type="error" showIcon title={messageOf(problem)} style={{ marginBottom: 12 }} />}
      <div className="row">
        <Button type="primary" htmlType="submit" loading={save.isPending}>
          {t('register.keep')}
        </Button>
        {kind.units + kind.closed === 0 && (
          <Button
            danger
            onClick={() => {
              modal.confirm({
                title: t('register.removeKind', { kind: kind.title }),
                content: t('register.removeKindMeans'),
                okText: t('register.removeIt'),
                onOk: () => remove.mutateAsync(undefined).then(onDone),
              });
            }}
          >
            {t('register.removeIt')}
          </Button>
        )}
      </div>
    </Form>
  );
}

function NewKind({ kinds, onMade }: { kinds: UnitKind[]; onMade: () => void }) {
  const study = useStudy();
  const ready = useQuery({
    queryKey: ['ready-unit-kinds'],
    queryFn: () => ask(api.GET('/api/ready-unit-kinds')),
    staleTime: Infinity,
  });
  const [form] = Form.useForm<Schemas['KindIn']>();
  const make = useRegisterChange(study.id, (body: Schemas['KindIn']) =>
    ask(api.POST('/api/studies/{study_id}/unit-kinds', { params: { path: { study_id: study.id } }, body })),
  );
  const languages = study.questionnaires[0]?.languages ?? ['en'];
  const chosen = Form.useWatch('ready', form);
  return (
    <section className="kind-form">
      <h2>{kinds.length === 0 ? t('register.firstKind') : t('register.newKind')}</h2>
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={{ title: '', ready: '', under: [] }}
        onFinish={(body) => {
          make.mutate({ ...body, languages }, { onSuccess: onMade });
        }}
      >
        <Form.Item name="ready" label={t('register.beginWith')}>
          <ReadyKinds
            ready={ready.data ?? []}
            onTaken={(title) => {
              form.setFieldsValue({ title });
            }}
          />
        </Form.Item>
        <Form.Item
          name="title"
          label={t('register.called')}
          rules={[{ required: true, whitespace: true, message: t('register.kindNeedsName') }]}
        >
          <Input maxLength={200} placeholder={t('register.calledExample')} />
        </Form.Item>
        {kinds.length > 0 && (
          <Form.Item name="under" label={t('register.hangsUnder')} extra={t('register.hangsUnderMeans')}>
            <Select
              mode="multiple"
              options={kinds.map((one) => ({ value: one.id, label: `${one.settings.glyph} ${one.title}` }))}
            />
          </Form.Item>
        )}
        {make.error && <Alert type="error" showIcon title={messageOf(make.error)} style={{ marginBottom: 12 }} />}
        <Button type="primary" htmlType="submit" loading={make.isPending}>
          {chosen === '' ? t('register.makeEmpty') : t('register.makeKind')}
        </Button>
      </Form>
    </section>
  );
}

interface ReadyProps {
  ready: Schemas['ReadyKindOut'][];
  value?: string;
  onChange?: (name: string) => void;
  onTaken: (title: string) => void;
}

function ReadyKinds({ ready, value = '', onChange, onTaken }: ReadyProps) {
  return (
    <div className="ready-kinds" role="radiogroup" aria-label={t('register.beginWith')}>
      {ready.map((one) => (
        <button
          key={one.name}
          type="button"
          role="radio"
          aria-checked={value === one.name}
          className="choice-card"
          title={one.fields.join(' · ')}
          onClick={() => {
            onChange?.(value === one.name ? '' : one.name);
            if (value !== one.name) onTaken(one.title);
          }}
        >
          <b>
            {one.glyph} {one.title}
          </b>
          <span className="muted small">{one.measures}</span>
        </button>
      ))}
    </div>
  );
}
