// All releases of a questionnaire: what was new, who has what, held against the draft, taken back, withdrawn.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { App, Button, Drawer, Input, Modal } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { useMoments } from '../../../ui/moments';
import { Empty, Loaded, messageOf } from '../../../ui/states';
import { useMay } from '../../../ui/study';
import type { Script } from '../script/model';
import { ComparisonDrawer } from './Comparison';
import './releases.css';

type Release = Schemas['ReleaseOut'];

interface Props {
  questionnaireId: number;
  readOnly: boolean;
  onClose: () => void;
  /** The script of a release becomes the draft; one edit, that can be undone. */
  onTakeBack: (script: Script) => void;
  onChanged: () => void;
  onGo: (id: string, field: string) => void;
}

export function ReleasesDrawer({ questionnaireId, readOnly, onClose, onTakeBack, onChanged, onGo }: Props) {
  const may = useMay();
  const queries = useQueryClient();
  const { message } = App.useApp();
  const { dayAndTime } = useMoments();
  const [compared, setCompared] = useState<number | null>(null);
  const [withdrawn, setWithdrawn] = useState<Release | null>(null);
  const path = { questionnaire_id: questionnaireId };
  const releases = useQuery({
    queryKey: ['releases', questionnaireId],
    queryFn: () => ask(api.GET('/api/questionnaires/{questionnaire_id}/releases', { params: { path } })),
  });
  const failed = (error: unknown) => {
    message.error({ content: messageOf(error), duration: 8 });
  };
  const withdraw = async (release: Release, why: string) => {
    try {
      await ask(
        api.POST('/api/questionnaires/{questionnaire_id}/releases/{number}/withdrawal', {
          params: { path: { ...path, number: release.number } },
          body: { why },
        }),
      );
      await queries.invalidateQueries({ queryKey: ['releases', questionnaireId] });
      onChanged();
    } catch (error) {
      failed(error);
    }
  };
  const takeBack = async (release: Release) => {
    try {
      const script = await ask(
        api.GET('/api/questionnaires/{questionnaire_id}/releases/{number}/script', {
          params: { path: { ...path, number: release.number } },
        }),
      );
      onTakeBack(script);
    } catch (error) {
      failed(error);
    }
  };
  return (
    <Drawer open size={760} title={t('releases.title')} onClose={onClose}>
      <Loaded query={releases}>
        {(list) =>
          list.length === 0 ? (
            <Empty title={t('questionnaire.notReleasedYet')}>{t('questionnaire.releaseNeverChangesInterviews')}</Empty>
          ) : (
            list.map((release) => (
              <section key={release.number} className={release.withdrawn ? 'release withdrawn' : 'release'}>
                <h3>
                  {t('questionnaire.release', { number: release.number })}{' '}
                  <span className="muted small">
                    {dayAndTime(release.created_at)}
                    {release.created_by === '' ? '' : `, ${release.created_by}`}
                  </span>
                </h3>
                {release.remark !== '' && <p>{release.remark}</p>}
                <p className="small muted">
                  {t('questionnaire.questions', { count: release.questions })} ·{' '}
                  {t('flow.interviews', { count: release.interviews })} · <code>{release.hash.slice(0, 12)}</code>
                </p>
                {release.withdrawn && (
                  <p className="rule-note small">
                    {t('releases.withdrawn', {
                      by: release.withdrawn.by,
                      at: dayAndTime(release.withdrawn.at),
                      why: release.withdrawn.why,
                    })}
                  </p>
                )}
                <div className="row">
                  <Button
                    size="small"
                    onClick={() => {
                      setCompared(release.number);
                    }}
                  >
                    {t('releases.compare')}
                  </Button>
                  {!readOnly && (
                    <Button size="small" onClick={() => void takeBack(release)}>
                      {t('releases.takeBack')}
                    </Button>
                  )}
                  {may('release.make') &&
                    (release.withdrawn ? (
                      <Button size="small" onClick={() => void withdraw(release, '')}>
                        {t('releases.giveOut')}
                      </Button>
                    ) : (
                      <Button
                        size="small"
                        danger
                        type="text"
                        onClick={() => {
                          setWithdrawn(release);
                        }}
                      >
                        {t('releases.withdrawOpen')}
                      </Button>
                    ))}
                </div>
              </section>
            ))
          )
        }
      </Loaded>
      {withdrawn && (
        <Withdrawal
          release={withdrawn}
          onClose={() => {
            setWithdrawn(null);
          }}
          onWithdraw={(why) => {
            setWithdrawn(null);
            void withdraw(withdrawn, why);
          }}
        />
      )}
      {compared !== null && (
        <ComparisonDrawer
          questionnaireId={questionnaireId}
          release={compared}
          onClose={() => {
            setCompared(null);
          }}
          onGo={onGo}
        />
      )}
    </Drawer>
  );
}

function Withdrawal({
  release,
  onClose,
  onWithdraw,
}: {
  release: Release;
  onClose: () => void;
  onWithdraw: (why: string) => void;
}) {
  const [why, setWhy] = useState('');
  return (
    <Modal
      open
      title={t('releases.withdrawTitle', { number: release.number })}
      okText={t('releases.withdraw')}
      okButtonProps={{ danger: true, disabled: why.trim() === '' }}
      onCancel={onClose}
      onOk={() => {
        onWithdraw(why);
      }}
    >
      <p className="muted">{t('releases.withdrawWhat')}</p>
      <Input
        autoFocus
        maxLength={1000}
        aria-label={t('releases.why')}
        placeholder={t('releases.why')}
        value={why}
        onChange={(event) => {
          setWhy(event.target.value);
        }}
        onPressEnter={() => {
          if (why.trim() !== '') onWithdraw(why);
        }}
      />
    </Modal>
  );
}
