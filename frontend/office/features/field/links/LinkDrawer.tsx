import { Alert, App, Button, Drawer } from 'antd';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { api, ask } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { useMoments } from '../../../ui/moments';
import { useMay } from '../../../ui/study';
import { useFieldChange } from '../phones';
import { Addressees } from './Addressees';
import { LinkDialog } from './LinkDialog';
import { ENTRIES, ENTRY_MEANS, STANDINGS, type Link } from './links';

/** One link: how to give it out, how many have answered, and to whom it was sent. */
export function LinkDrawer({ studyId, link, onClose }: { studyId: number; link: Link; onClose: () => void }) {
  const may = useMay();
  const { dayAndTime, ago } = useMoments();
  const [changing, setChanging] = useState(false);
  const path = { link_id: link.id };
  const close = useFieldChange(studyId, (closed: boolean) =>
    ask(
      closed
        ? api.POST('/api/links/{link_id}/closing', { params: { path } })
        : api.DELETE('/api/links/{link_id}/closing', { params: { path } }),
    ),
  );
  const answers = `/studies/${String(studyId)}/interviews?link=${String(link.id)}`;
  return (
    <Drawer
      open
      size={link.entry === 'personal' ? 900 : 560}
      title={link.title}
      onClose={onClose}
      extra={
        may('field.manage') && (
          <div className="row">
            <Button
              onClick={() => {
                setChanging(true);
              }}
            >
              {t('links.change')}
            </Button>
            <Button
              loading={close.isPending}
              onClick={() => {
                close.mutate(link.standing !== 'closed');
              }}
            >
              {link.standing === 'closed' ? t('links.openAgain') : t('links.close')}
            </Button>
          </div>
        )
      }
    >
      {close.error && <Alert type="error" showIcon title={close.error.message} />}
      {link.standing !== 'open' && (
        <Alert type="warning" showIcon title={STANDINGS[link.standing]} description={standingMeans(link)} />
      )}
      <dl className="link-facts">
        <dt>{t('links.asks')}</dt>
        <dd>{link.questionnaire}</dd>
        <dt>{t('links.entry')}</dt>
        <dd>
          {ENTRIES[link.entry]} <span className="muted">· {ENTRY_MEANS[link.entry]}</span>
        </dd>
        <dt>{t('links.closesAt')}</dt>
        <dd>{link.closes_at == null ? t('links.noEnd') : dayAndTime(link.closes_at)}</dd>
        <dt>{t('links.answeredCount')}</dt>
        <dd>
          <RouterLink to={answers}>{t('links.answersCount', { count: link.answered })}</RouterLink>
          <span className="muted">
            {' · '}
            {link.most != null && `${t('links.ofMost', { most: link.most })} · `}
            {t('links.begunOf', { count: link.begun })}
            {link.newest_at != null && ` · ${t('links.newestAt', { ago: ago(link.newest_at) })}`}
          </span>
        </dd>
      </dl>
      {link.address !== '' && <Address link={link} />}
      {link.entry === 'personal' && may('field.manage') && <Addressees studyId={studyId} link={link} />}
      {changing && (
        <LinkDialog
          studyId={studyId}
          link={link}
          onClose={() => {
            setChanging(false);
          }}
        />
      )}
    </Drawer>
  );
}

function standingMeans(link: Link): string {
  switch (link.standing) {
    case 'not released':
      return t('links.notReleasedMeans');
    case 'full':
      return t('links.fullMeans');
    default:
      return t('links.closedMeans');
  }
}

function Address({ link }: { link: Link }) {
  const { message } = App.useApp();
  return (
    <div className="pairing">
      <svg viewBox={`0 0 ${String(link.size)} ${String(link.size)}`} role="img" aria-label={t('links.picture')}>
        <path d={link.qr} />
      </svg>
      <div>
        <p>
          <code className="wrap">{link.address}</code>
        </p>
        <p className="row">
          <Button
            onClick={() => {
              void navigator.clipboard.writeText(link.address).then(() => message.success(t('links.copied')));
            }}
          >
            {t('links.copy')}
          </Button>
          <Button href={link.address} target="_blank" rel="noreferrer">
            {t('links.tryIt')}
          </Button>
        </p>
        <p className="muted small">{t('links.pictureMeans')}</p>
      </div>
    </div>
  );
}
