import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Button, Input, Modal, Table } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useStudy } from '../../ui/StudyFrame';
import { useMoments } from '../../ui/moments';
import { Empty, Loaded } from '../../ui/states';
import { useMay } from '../session/session';
import './field.css';

type Device = Schemas['DeviceOut'];
const SILENT_AFTER_MS = 3 * 24 * 3_600_000;
const silent = (device: Device) =>
  device.cut_off_at == null &&
  device.last_heard != null &&
  Date.now() - new Date(device.last_heard).getTime() > SILENT_AFTER_MS;
const carried = (device: Device, what: string): number =>
  typeof device.carries[what] === 'number' ? device.carries[what] : 0;

/** Devices of the study, pairing new ones, cutting off lost ones; the releases they fetch. */
export default function Field() {
  const study = useStudy();
  const may = useMay();
  const [pairing, setPairing] = useState(false);
  const devices = useQuery({
    queryKey: ['study', study.id, 'devices'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/devices', { params: { path: { study_id: study.id } } })),
    refetchInterval: 10_000,
  });
  const released = study.questionnaires.some((q) => q.releases > 0);
  const pair = may('field.manage') && (
    <Button
      type="primary"
      onClick={() => {
        setPairing(true);
      }}
    >
      Pair a phone …
    </Button>
  );
  return (
    <div className="page">
      <div className="page-head">
        <h1>Field</h1>
        <span className="muted">{devices.data?.length ?? 0} devices</span>
        <span className="grow" />
        {pair}
      </div>
      {!released && (
        <Alert
          type="warning"
          showIcon
          title="Nothing is released yet: a paired phone has no questionnaire to ask."
          action={<Link to={`/studies/${String(study.id)}/questionnaire`}>Release one</Link>}
          style={{ marginBottom: 12 }}
        />
      )}
      <Loaded query={devices}>
        {(found) =>
          found.length === 0 ? (
            <div className="sheet">
              <Empty title="No phone is paired yet." action={pair || undefined}>
                A phone opens the field page, scans one code, and has everything it needs for weeks without a network.
              </Empty>
            </div>
          ) : (
            <Devices devices={found} studyId={study.id} />
          )
        }
      </Loaded>
      {study.questionnaires[0] && <Releases questionnaireId={study.questionnaires[0].id} />}
      {pairing && (
        <PairDialog
          studyId={study.id}
          known={[...new Set(devices.data?.map((d) => d.enumerator) ?? [])]}
          onClose={() => {
            setPairing(false);
          }}
        />
      )}
    </div>
  );
}

function Devices({ devices, studyId }: { devices: Device[]; studyId: number }) {
  const { ago } = useMoments();
  const may = useMay();
  const queries = useQueryClient();
  const { modal } = App.useApp();
  const cutOff = useMutation({
    mutationFn: (id: number) =>
      ask(api.POST('/api/devices/{device_id}/cut-off', { params: { path: { device_id: id } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['study', studyId, 'devices'] }),
  });
  const askFirst = (device: Device) => {
    if (device.cut_off_at != null) cutOff.mutate(device.id);
    else {
      modal.confirm({
        title: `Cut off ${device.name}?`,
        content: `It may neither fetch nor send any more. ${String(carried(device, 'in_hand') + carried(device, 'packed'))} interviews that it last said it carries stay on it until it is given back. What it handed in stays here.`,
        okText: 'Cut it off',
        okButtonProps: { danger: true },
        onOk: () => cutOff.mutateAsync(device.id),
      });
    }
  };
  return (
    <div className="sheet">
      <Table<Device>
        size="small"
        rowKey="id"
        pagination={devices.length > 100 ? { pageSize: 100 } : false}
        dataSource={devices}
        rowClassName={(d) => (d.cut_off_at != null ? 'quiet-row' : '')}
        columns={[
          { title: 'Device', dataIndex: 'name', sorter: (a, b) => a.name.localeCompare(b.name) },
          { title: 'Enumerator', dataIndex: 'enumerator', sorter: (a, b) => a.enumerator.localeCompare(b.enumerator) },
          {
            title: 'Last heard of',
            render: (_, d) =>
              d.cut_off_at != null ? (
                'cut off'
              ) : d.last_heard == null ? (
                'never'
              ) : (
                <span className={silent(d) ? 'odd' : ''}>{ago(d.last_heard)}</span>
              ),
            sorter: (a, b) => (a.last_heard ?? '').localeCompare(b.last_heard ?? ''),
          },
          { title: '◐ in hand', align: 'right', render: (_, d) => carried(d, 'in_hand') },
          { title: '■ packed', align: 'right', render: (_, d) => carried(d, 'packed') },
          { title: '▲ handed in', dataIndex: 'handed_in', align: 'right', sorter: (a, b) => a.handed_in - b.handed_in },
          { title: 'Paired', render: (_, d) => ago(d.paired_at) },
          {
            title: '',
            align: 'right',
            render: (_, d) =>
              may('field.manage') && (
                <Button
                  size="small"
                  type="text"
                  onClick={() => {
                    askFirst(d);
                  }}
                >
                  {d.cut_off_at != null ? 'Give back' : 'Cut off'}
                </Button>
              ),
          },
        ]}
      />
    </div>
  );
}

function Releases({ questionnaireId }: { questionnaireId: number }) {
  const { ago } = useMoments();
  const releases = useQuery({
    queryKey: ['releases', questionnaireId],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/releases', {
          params: { path: { questionnaire_id: questionnaireId } },
        }),
      ),
  });
  if (!releases.data || releases.data.length === 0) return null;
  return (
    <>
      <h2 className="section-head">Releases</h2>
      <div className="sheet">
        <Table<Schemas['ReleaseOut']>
          size="small"
          rowKey="id"
          pagination={false}
          dataSource={releases.data}
          columns={[
            { title: 'Release', dataIndex: 'number', width: 80 },
            {
              title: 'What is new',
              dataIndex: 'remark',
              render: (text: string) => text || <span className="muted">nothing said</span>,
            },
            { title: 'Questions', dataIndex: 'questions', align: 'right', width: 100 },
            { title: 'Interviews', dataIndex: 'interviews', align: 'right', width: 100 },
            { title: 'Made', render: (_, r) => `${ago(r.created_at)} by ${r.created_by}`, width: 260 },
            {
              title: 'Content',
              dataIndex: 'hash',
              width: 150,
              render: (hash: string) => <code title={hash}>{hash.slice(0, 12)}</code>,
            },
          ]}
        />
      </div>
    </>
  );
}

function PairDialog({ studyId, known, onClose }: { studyId: number; known: string[]; onClose: () => void }) {
  const { timeOf } = useMoments();
  const [enumerator, setEnumerator] = useState('');
  const make = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/studies/{study_id}/pairing-codes', {
          params: { path: { study_id: studyId } },
          body: { enumerator },
        }),
      ),
  });
  const code = make.data;
  return (
    <Modal open title="Pair a phone" footer={null} onCancel={onClose}>
      {code ? (
        <div className="pairing">
          <svg viewBox={`0 0 ${String(code.size)} ${String(code.size)}`} role="img" aria-label="The code as a picture">
            <path d={code.qr} />
          </svg>
          <div>
            <p>
              Scan it with the phone’s camera, or open <code className="wrap">{code.address.split('#')[0]}</code> on the
              phone and type
            </p>
            <p className="big-code mono">{code.code}</p>
            <p className="muted">
              For {enumerator}. It works once, until {timeOf(code.expires_at)}.
            </p>
            <Button
              onClick={() => {
                make.reset();
                setEnumerator('');
              }}
            >
              Another phone
            </Button>
          </div>
        </div>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (!make.isPending && enumerator.trim() !== '') make.mutate();
          }}
        >
          <label className="detail-label" htmlFor="enumerator">
            Who will carry it?
          </label>
          <div className="row">
            <Input
              id="enumerator"
              autoFocus
              list="enumerators"
              value={enumerator}
              placeholder="Name of the enumerator"
              onChange={(event) => {
                setEnumerator(event.target.value);
              }}
            />
            <datalist id="enumerators">
              {known.map((name) => (
                <option key={name} value={name} />
              ))}
            </datalist>
            <Button type="primary" htmlType="submit" loading={make.isPending} disabled={enumerator.trim() === ''}>
              Show a code
            </Button>
          </div>
          {make.error && <Alert type="error" showIcon title={make.error.message} style={{ marginTop: 12 }} />}
        </form>
      )}
    </Modal>
  );
}
