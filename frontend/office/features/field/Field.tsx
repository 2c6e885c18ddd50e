import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Button, Modal, Select, Table } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useMay, useStudy } from '../../ui/study';
import { usePeople } from '../people/people';
import { useMoments } from '../../ui/moments';
import { Empty, Loaded } from '../../ui/states';
import './field.css';
import { t } from '../../texts/texts';
import { Words } from '../../texts/Words';

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
      {t('field.pairPhone')}
    </Button>
  );
  return (
    <div className="page">
      <div className="page-head">
        <h1>{t('common.field')}</h1>
        <span className="muted">{t('field.devices', { count: devices.data?.length ?? 0 })}</span>
        <span className="grow" />
        {pair}
      </div>
      {!released && (
        <Alert
          type="warning"
          showIcon
          title={t('field.nothingReleasedYetPaired')}
          action={<Link to={`/studies/${String(study.id)}/questionnaire`}>{t('field.releaseOne')}</Link>}
          style={{ marginBottom: 12 }}
        />
      )}
      <Loaded query={devices}>
        {(found) =>
          found.length === 0 ? (
            <div className="sheet">
              <Empty title={t('field.noPhonePairedYet')} action={pair || undefined}>
                {t('field.phoneOpensFieldPage')}
              </Empty>
            </div>
          ) : (
            <Devices devices={found} studyId={study.id} />
          )
        }
      </Loaded>
      {study.questionnaires.map((questionnaire) => (
        <Releases
          key={questionnaire.id}
          questionnaireId={questionnaire.id}
          title={study.questionnaires.length > 1 ? questionnaire.title : ''}
        />
      ))}
      {pairing && (
        <PairDialog
          studyId={study.id}
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
    mutationFn: (device: Device) => {
      const params = { path: { device_id: device.id } };
      return ask(
        device.cut_off_at == null
          ? api.POST('/api/devices/{device_id}/cut-off', { params })
          : api.DELETE('/api/devices/{device_id}/cut-off', { params }),
      );
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ['study', studyId, 'devices'] }),
  });
  const askFirst = (device: Device) => {
    if (device.cut_off_at != null) cutOff.mutate(device);
    else {
      modal.confirm({
        title: t('field.cutOff', { name: device.name }),
        content: t('field.mayNeitherFetchNor', { carried: carried(device, 'in_hand') + carried(device, 'packed') }),
        okText: t('field.cutOff2'),
        okButtonProps: { danger: true },
        onOk: () => cutOff.mutateAsync(device),
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
          { title: t('common.device'), dataIndex: 'name', sorter: (a, b) => a.name.localeCompare(b.name) },
          {
            title: t('common.enumerator'),
            dataIndex: 'enumerator',
            sorter: (a, b) => a.enumerator.localeCompare(b.enumerator),
          },
          {
            title: t('field.lastHeard'),
            render: (_, d) =>
              d.cut_off_at != null ? (
                t('field.cutOff3')
              ) : d.last_heard == null ? (
                t('field.never')
              ) : (
                <span className={silent(d) ? 'odd' : ''}>{ago(d.last_heard)}</span>
              ),
            sorter: (a, b) => (a.last_heard ?? '').localeCompare(b.last_heard ?? ''),
          },
          { title: t('field.hand'), align: 'right', render: (_, d) => carried(d, 'in_hand') },
          { title: t('field.packed'), align: 'right', render: (_, d) => carried(d, 'packed') },
          {
            title: t('field.handed'),
            dataIndex: 'handed_in',
            align: 'right',
            sorter: (a, b) => a.handed_in - b.handed_in,
          },
          { title: t('field.paired'), render: (_, d) => ago(d.paired_at) },
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
                  {d.cut_off_at != null ? t('field.giveBack') : t('field.cutOff4')}
                </Button>
              ),
          },
        ]}
      />
    </div>
  );
}

function Releases({ questionnaireId, title }: { questionnaireId: number; title: string }) {
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
      <h2 className="section-head">
        {title === '' ? t('field.releases') : t('field.releasesOf', { questionnaire: title })}
      </h2>
      <div className="sheet">
        <Table<Schemas['ReleaseOut']>
          size="small"
          rowKey="id"
          pagination={false}
          dataSource={releases.data}
          columns={[
            { title: t('common.release'), dataIndex: 'number', width: 80 },
            {
              title: t('field.whatNew'),
              dataIndex: 'remark',
              render: (text: string) => text || <span className="muted">{t('field.nothingSaid')}</span>,
            },
            { title: t('field.questions'), dataIndex: 'questions', align: 'right', width: 100 },
            { title: t('common.interviews'), dataIndex: 'interviews', align: 'right', width: 100 },
            {
              title: t('common.made'),
              render: (_, r) => t('common.madeBy', { when: ago(r.created_at), who: r.created_by }),
              width: 260,
            },
            {
              title: t('field.content'),
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

function PairDialog({ studyId, onClose }: { studyId: number; onClose: () => void }) {
  const { timeOf } = useMoments();
  const may = useMay();
  const people = usePeople(studyId);
  const [member, setMember] = useState<number | null>(null);
  const enumerators = (people.data?.people ?? []).filter((p) => p.left_at == null && p.roles.includes('enumerator'));
  const carrier = enumerators.find((p) => p.id === member)?.name ?? '';
  const make = useMutation({
    mutationFn: (id: number) =>
      ask(
        api.POST('/api/studies/{study_id}/pairing-codes', {
          params: { path: { study_id: studyId } },
          body: { member_id: id },
        }),
      ),
  });
  const code = make.data;
  return (
    <Modal open title={t('field.pairPhone2')} footer={null} onCancel={onClose}>
      {code ? (
        <div className="pairing">
          <svg viewBox={`0 0 ${String(code.size)} ${String(code.size)}`} role="img" aria-label={t('field.codePicture')}>
            <path d={code.qr} />
          </svg>
          <div>
            <p>
              <Words
                k="field.scanOrType"
                values={{ address: code.address.split('#')[0] ?? '' }}
                parts={{ code: <code className="wrap" /> }}
              />
            </p>
            <p className="big-code mono">{code.code}</p>
            <p className="muted">
              {t('field.worksOnceUntil', { enumerator: carrier, expires_at: timeOf(code.expires_at) })}
            </p>
            <Button
              onClick={() => {
                make.reset();
                setMember(null);
              }}
            >
              {t('field.anotherPhone')}
            </Button>
          </div>
        </div>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (!make.isPending && member !== null) make.mutate(member);
          }}
        >
          <label className="detail-label" htmlFor="enumerator">
            {t('field.whoWillCarry')}
          </label>
          <div className="row">
            <Select<number>
              id="enumerator"
              className="grow"
              autoFocus
              showSearch={{ optionFilterProp: 'label' }}
              value={member}
              loading={people.isPending}
              placeholder={t('field.nameEnumerator')}
              options={enumerators.map((p) => ({
                value: p.id,
                label: p.team === '' ? p.name : `${p.name} · ${p.team}`,
              }))}
              notFoundContent={t('field.noEnumerator')}
              onChange={setMember}
            />
            <Button type="primary" htmlType="submit" disabled={member === null} loading={make.isPending}>
              {t('field.showCode')}
            </Button>
          </div>
          {may('people.manage') && (
            <p className="muted small">
              <Words
                k="field.notInList"
                parts={{ a: <Link to={`/studies/${String(studyId)}/people?add=enumerator`} /> }}
              />
            </p>
          )}
          {make.error && <Alert type="error" showIcon title={make.error.message} />}
        </form>
      )}
    </Modal>
  );
}
