import { Button } from 'antd';
import { useState } from 'react';
import { t } from '../../texts/texts';
import { Loaded } from '../../ui/states';
import { useMay } from '../../ui/study';
import { usePeople } from '../people/people';
import { useMaps } from './maps/useMaps';
import { ProfileDialog } from './ProfileDialog';
import { profileWords } from './profileWords';
import { useProfiles, type Profile } from './phones';

/** What the phones of each team obey, a card for each profile. */
export function Profiles({ studyId }: { studyId: number }) {
  const may = useMay();
  const profiles = useProfiles(studyId);
  const people = usePeople(studyId);
  const sheets = useMaps(studyId);
  const maps = new Map((sheets.data ?? []).map((sheet) => [sheet.id, sheet.name]));
  const [open, setOpen] = useState<Profile | 'new' | null>(null);
  const nameOf = (team: number) => people.data?.teams.find((one) => one.id === team)?.name ?? '';
  return (
    <>
      <div className="page-head section-head">
        <h2>{t('field.profiles')}</h2>
        <span className="muted small">{t('field.profilesWhat')}</span>
        <span className="grow" />
        {may('field.manage') && (
          <Button
            onClick={() => {
              setOpen('new');
            }}
          >
            {t('field.newProfile')}
          </Button>
        )}
      </div>
      <Loaded query={profiles}>
        {(found) => (
          <div className="cards">
            {found.map((profile) => (
              <article key={profile.id} className="sheet pad">
                <div className="row">
                  <h3 className="grow">{profile.name}</h3>
                  {may('field.manage') && (
                    <Button
                      size="small"
                      type="text"
                      aria-label={t('field.changeWhich', { name: profile.name })}
                      onClick={() => {
                        setOpen(profile);
                      }}
                    >
                      {t('field.change')}
                    </Button>
                  )}
                </div>
                <p className="muted small">
                  {profile.teams.length > 0
                    ? profile.teams.map(nameOf).join(' · ')
                    : profile.is_ordinary
                      ? t('field.forAllOthers')
                      : t('field.forNoTeam')}
                </p>
                {profileWords(profile.settings, maps).map((line) => (
                  <p key={line} className="profile-line">
                    {line}
                  </p>
                ))}
              </article>
            ))}
          </div>
        )}
      </Loaded>
      {open !== null && (
        <ProfileDialog
          studyId={studyId}
          profile={open === 'new' ? null : open}
          teams={people.data?.teams ?? []}
          onClose={() => {
            setOpen(null);
          }}
        />
      )}
    </>
  );
}
