import { Alert, Button, Input, Modal } from 'antd';
import { useState } from 'react';
import { api, type Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { usePeopleChange } from './people';

type Team = Schemas['TeamOut'];

/** The teams of a study: new ones, other names, away with one that nobody needs. */
export function TeamsDialog({ studyId, teams, onClose }: { studyId: number; teams: Team[]; onClose: () => void }) {
  const [name, setName] = useState('');
  const at = (team: Team) => ({ path: { study_id: studyId, team_id: team.id } });
  const make = usePeopleChange(studyId, (wanted: string) =>
    api.POST('/api/studies/{study_id}/teams', { params: { path: { study_id: studyId } }, body: { name: wanted } }),
  );
  const rename = usePeopleChange(studyId, ({ team, wanted }: { team: Team; wanted: string }) =>
    api.PUT('/api/studies/{study_id}/teams/{team_id}', { params: at(team), body: { name: wanted } }),
  );
  const remove = usePeopleChange(studyId, (team: Team) =>
    api.DELETE('/api/studies/{study_id}/teams/{team_id}', { params: at(team) }),
  );
  const error = make.error ?? rename.error ?? remove.error;
  return (
    <Modal open title={t('people.teamsTitle')} footer={null} onCancel={onClose}>
      {teams.length === 0 && <p className="muted">{t('people.noTeams')}</p>}
      {teams.map((team) => (
        <div key={team.id} className="team-line">
          <Input
            defaultValue={team.name}
            aria-label={t('people.teamName')}
            maxLength={128}
            onBlur={(event) => {
              const wanted = event.target.value.trim();
              if (wanted !== '' && wanted !== team.name) rename.mutate({ team, wanted });
            }}
            onPressEnter={(event) => {
              event.currentTarget.blur();
            }}
          />
          <span className="muted small">{t('people.working', { count: team.members })}</span>
          <Button
            type="text"
            aria-label={t('people.removeTeam', { name: team.name })}
            title={t('people.removeTeam', { name: team.name })}
            onClick={() => {
              remove.mutate(team);
            }}
          >
            ×
          </Button>
        </div>
      ))}
      <form
        className="team-line"
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() !== '' && !make.isPending)
            make.mutate(name.trim(), {
              onSuccess: () => {
                setName('');
              },
            });
        }}
      >
        <Input
          autoFocus
          value={name}
          placeholder={t('people.newTeam')}
          aria-label={t('people.newTeam')}
          maxLength={128}
          onChange={(event) => {
            setName(event.target.value);
          }}
        />
        <Button htmlType="submit" disabled={name.trim() === ''} loading={make.isPending}>
          {t('people.add')}
        </Button>
      </form>
      {error && <Alert type="error" showIcon title={error.message} />}
    </Modal>
  );
}
