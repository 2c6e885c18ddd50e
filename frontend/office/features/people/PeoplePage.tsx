import { Alert, App, Button, Dropdown, Input, Table } from 'antd';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, type Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { useMoments } from '../../ui/moments';
import { roleWords } from '../../ui/roles';
import { Loaded, messageOf } from '../../ui/states';
import { useMay, useStudy } from '../../ui/study';
import { HandOverDialog } from './HandOverDialog';
import { InviteDialog } from './InviteDialog';
import { PeopleFileDialog } from './PeopleFileDialog';
import { PersonDialog } from './PersonDialog';
import { TeamsDialog } from './TeamsDialog';
import { usePeople, usePeopleChange, type Person } from './people';
import './people.css';

type Open =
  | { dialog: 'person'; person: Person | null }
  | { dialog: 'invite' | 'handOver'; person: Person }
  | { dialog: 'teams' | 'file' };

const WAY_IN: Record<string, string> = {
  none: t('people.doesNotSignIn'),
  invited: t('people.invited'),
  'invitation ended': t('people.invitationEnded'),
  'signs in': t('people.signsIn'),
};

/** Who works in the study: roles, teams, phones, the way in. */
export default function PeoplePage() {
  const study = useStudy();
  const may = useMay();
  const people = usePeople(study.id);
  const [params, setParams] = useSearchParams();
  const [asked, setAsked] = useState<Open | null>(null);
  const [words, setWords] = useState('');
  const open: Open | null = asked ?? (params.get('add') === null ? null : { dialog: 'person', person: null });
  const close = () => {
    setAsked(null);
    setParams({}, { replace: true });
  };
  const manages = may('people.manage');
  return (
    <div className="page">
      <div className="page-head">
        <h1>{t('people.people')}</h1>
        <span className="muted">
          {people.data && t('people.working', { count: people.data.people.filter((p) => p.left_at == null).length })}
        </span>
        <span className="grow" />
        <Input.Search
          allowClear
          className="people-find"
          placeholder={t('people.find')}
          aria-label={t('people.find')}
          value={words}
          onChange={(event) => {
            setWords(event.target.value);
          }}
        />
        {manages && (
          <>
            <Button
              onClick={() => {
                setAsked({ dialog: 'teams' });
              }}
            >
              {t('people.teams')}
            </Button>
            <Button
              onClick={() => {
                setAsked({ dialog: 'file' });
              }}
            >
              {t('people.bringInFile')}
            </Button>
            <Button
              type="primary"
              onClick={() => {
                setAsked({ dialog: 'person', person: null });
              }}
            >
              {t('people.addPerson')}
            </Button>
          </>
        )}
      </div>
      <Loaded query={people}>
        {(data) => (
          <>
            <PeopleTable
              people={data.people.filter((p) =>
                `${p.name} ${p.login ?? ''} ${p.team} ${p.roles.map(roleWords).join(' ')}`
                  .toLowerCase()
                  .includes(words.trim().toLowerCase()),
              )}
              teams={data.teams}
              studyId={study.id}
              manages={manages}
              onOpen={setAsked}
            />
            {open?.dialog === 'person' && (
              <PersonDialog studyId={study.id} person={open.person} teams={data.teams} onClose={close} />
            )}
            {open?.dialog === 'teams' && <TeamsDialog studyId={study.id} teams={data.teams} onClose={close} />}
            {open?.dialog === 'handOver' && (
              <HandOverDialog studyId={study.id} person={open.person} people={data.people} onClose={close} />
            )}
          </>
        )}
      </Loaded>
      {open?.dialog === 'invite' && <InviteDialog studyId={study.id} person={open.person} onClose={close} />}
      {open?.dialog === 'file' && <PeopleFileDialog studyId={study.id} onClose={close} />}
    </div>
  );
}

const namesOf = (teams: Schemas['TeamOut'][], ids: number[]) =>
  teams
    .filter((team) => ids.includes(team.id))
    .map((team) => team.name)
    .join(', ');

interface TableProps {
  people: Person[];
  teams: Schemas['TeamOut'][];
  studyId: number;
  manages: boolean;
  onOpen: (open: Open) => void;
}

function PeopleTable({ people, teams, studyId, manages, onOpen }: TableProps) {
  const { ago } = useMoments();
  const { modal } = App.useApp();
  const at = (person: Person) => ({ path: { study_id: studyId, member_id: person.id } });
  const leave = usePeopleChange(studyId, (person: Person) =>
    api.POST('/api/studies/{study_id}/people/{member_id}/departure', { params: at(person) }),
  );
  const takeIn = usePeopleChange(studyId, (person: Person) =>
    api.DELETE('/api/studies/{study_id}/people/{member_id}/departure', { params: at(person) }),
  );
  const askToLeave = (person: Person) => {
    modal.confirm({
      title: t('people.leaves', { name: person.name }),
      content: t('people.leavesMeans', { devices: person.devices, count: person.to_correct }),
      okText: t('people.endMembership'),
      okButtonProps: { danger: true },
      onOk: () => leave.mutateAsync(person).catch(() => undefined),
    });
  };
  const menuOf = (person: Person) =>
    person.left_at != null
      ? [
          {
            key: 'again',
            label: t('people.takeInAgain'),
            onClick: () => {
              takeIn.mutate(person);
            },
          },
        ]
      : [
          {
            key: 'change',
            label: t('people.change'),
            onClick: () => {
              onOpen({ dialog: 'person', person });
            },
          },
          {
            key: 'invite',
            label: person.way_in === 'signs in' ? t('people.newPassphrase') : t('people.invite'),
            disabled: person.login == null,
            onClick: () => {
              onOpen({ dialog: 'invite', person });
            },
          },
          {
            key: 'hand-over',
            label: t('people.handOver'),
            disabled: person.to_correct === 0,
            onClick: () => {
              onOpen({ dialog: 'handOver', person });
            },
          },
          { type: 'divider' as const },
          {
            key: 'leave',
            label: t('people.endMembershipOpen'),
            danger: true,
            onClick: () => {
              askToLeave(person);
            },
          },
        ];
  const error = leave.error ?? takeIn.error;
  return (
    <>
      {error && <Alert type="error" showIcon title={messageOf(error)} style={{ marginBottom: 12 }} />}
      <div className="sheet">
        <Table<Person>
          size="small"
          rowKey="id"
          dataSource={people}
          pagination={people.length > 100 ? { pageSize: 100, showSizeChanger: false } : false}
          rowClassName={(p) => (p.left_at != null ? 'quiet-row' : '')}
          locale={{ emptyText: t('people.nobody') }}
          columns={[
            {
              title: t('common.name'),
              sorter: (a, b) => a.name.localeCompare(b.name),
              render: (_, p) => (
                <>
                  <b>{p.name}</b> <span className="muted small">{p.is_me ? t('people.you') : p.login}</span>
                </>
              ),
            },
            {
              title: t('people.roles'),
              render: (_, p) => (
                <>
                  {p.roles.map(roleWords).join(', ')}
                  {p.supervises.length > 0 && (
                    <div className="muted small">{t('people.of', { teams: namesOf(teams, p.supervises) })}</div>
                  )}
                </>
              ),
            },
            {
              title: t('people.team'),
              dataIndex: 'team',
              sorter: (a, b) => a.team.localeCompare(b.team),
            },
            {
              title: t('people.wayIn'),
              render: (_, p) =>
                p.left_at != null ? (
                  t('people.hasLeft', { when: ago(p.left_at) })
                ) : (
                  <span className={p.way_in === 'invitation ended' ? 'doubt' : p.way_in === 'none' ? 'muted' : ''}>
                    {WAY_IN[p.way_in] ?? p.way_in}
                  </span>
                ),
            },
            { title: t('people.phones'), dataIndex: 'devices', align: 'right', width: 80 },
            { title: t('common.interviews'), dataIndex: 'interviews', align: 'right', width: 96 },
            { title: t('people.toCorrect'), dataIndex: 'to_correct', align: 'right', width: 90 },
            {
              title: t('people.lastSeen'),
              width: 150,
              render: (_, p) => <span className="muted">{p.last_seen == null ? '–' : ago(p.last_seen)}</span>,
              sorter: (a, b) => (a.last_seen ?? '').localeCompare(b.last_seen ?? ''),
            },
            ...(manages
              ? [
                  {
                    title: '',
                    width: 56,
                    align: 'right' as const,
                    render: (_: unknown, p: Person) => (
                      <Dropdown trigger={['click']} menu={{ items: menuOf(p) }}>
                        <Button size="small" type="text" aria-label={t('people.actionsFor', { name: p.name })}>
                          ⋯
                        </Button>
                      </Dropdown>
                    ),
                  },
                ]
              : []),
          ]}
        />
      </div>
    </>
  );
}
