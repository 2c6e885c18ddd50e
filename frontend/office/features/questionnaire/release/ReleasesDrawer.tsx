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
  const [signing, setSigning] = useState<Release | null>(null);
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
  const sign = async (release: Release, remark: string) => {
    try {
      await ask(
        api.POST('/api/questionnaires/{questionnaire_id}/releases/{number}/signature', {
          params: { path: { ...path, number: release.number } },
          body: { remark },
        }),
      );
      await queries.invalidateQueries({ queryKey: ['releases', questionnaireId] });
      await queries.invalidateQueries({ queryKey: ['draft', questionnaireId] });
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
                  {release.practice && <b className="doubt">{t('releases.practice')} </b>}
                  {release.awaits && !release.withdrawn && <b className="doubt">{t('releases.awaits')} </b>}
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
                {release.signed && (
                  <p className="small muted">
                    {t('releases.signed', { by: release.signed.by, at: dayAndTime(release.signed.at) })}
                    {release.signed.remark === '' ? '' : `: ${release.signed.remark}`}
                  </p>
                )}
                <Holders holders={release.holders} />
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
                  {release.may_sign && !release.withdrawn && (
                    <Button
                      size="small"
                      type="primary"
                      onClick={() => {
                        setSigning(release);
                      }}
                    >
                      {t('releases.sign')}
                    </Button>
                  )}
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
        <WithWords
          title={t('releases.withdrawTitle', { number: withdrawn.number })}
          what={t('releases.withdrawWhat')}
          ask={t('releases.why')}
          okText={t('releases.withdraw')}
          danger
          onClose={() => {
            setWithdrawn(null);
          }}
          onOk={(why) => {
            setWithdrawn(null);
            void withdraw(withdrawn, why);
          }}
        />
      )}
      {signing && (
        <WithWords
          title={t('releases.signTitle', { number: signing.number })}
          what={t('releases.signWhat', { by: signing.created_by })}
          ask={t('releases.signRemark')}
          okText={t('releases.signOff')}
          onClose={() => {
            setSigning(null);
          }}
          onOk={(remark) => {
            setSigning(null);
            void sign(signing, remark);
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

const MOST_HOLDERS = 6;

/** Which phones hold a release, as they told when they were last heard. */
function Holders({ holders }: { holders: Release['holders'] }) {
  const { ago } = useMoments();
  const [all, setAll] = useState(false);
  if (holders.length === 0) return null;
  const begun = holders.reduce((sum, holder) => sum + holder.interviews, 0);
  return (
    <p className="small holders">
      {t('releases.held', { count: holders.length })}
      {begun > 0 && ` ${t('releases.heldWith', { count: begun })}`}{' '}
      {holders.slice(0, all ? holders.length : MOST_HOLDERS).map((holder, i) => (
        <span key={i} title={holder.last_heard == null ? '' : t('releases.heard', { at: ago(holder.last_heard) })}>
          {i > 0 && ' · '}
          {holder.enumerator}
          <span className="muted"> {holder.device}</span>
        </span>
      ))}
      {holders.length > MOST_HOLDERS && !all && ' · '}
      {holders.length > MOST_HOLDERS && !all && (
        <button
          type="button"
          className="plain-link"
          onClick={() => {
            setAll(true);
          }}
        >
          {t('rehearsal.andMore', { count: holders.length - MOST_HOLDERS })}
        </button>
      )}
    </p>
  );
}

/** Something that is done with words: why, or a remark; only what is dangerous cannot be done without. */
function WithWords({
  title,
  what,
  ask: asked,
  okText,
  danger = false,
  onClose,
  onOk,
}: {
  title: string;
  what: string;
  ask: string;
  okText: string;
  danger?: boolean;
  onClose: () => void;
  onOk: (words: string) => void;
}) {
  const [words, setWords] = useState('');
  const ready = !danger || words.trim() !== '';
  return (
    <Modal
      open
      title={title}
      okText={okText}
      okButtonProps={{ danger, disabled: !ready }}
      onCancel={onClose}
      onOk={() => {
        onOk(words);
      }}
    >
      <p className="muted">{what}</p>
      <Input
        autoFocus
        maxLength={1000}
        aria-label={asked}
        placeholder={asked}
        value={words}
        onChange={(event) => {
          setWords(event.target.value);
        }}
        onPressEnter={() => {
          if (ready) onOk(words);
        }}
      />
    </Modal>
  );
}
