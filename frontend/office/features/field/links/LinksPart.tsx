import { Button } from 'antd';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { t } from '../../../texts/texts';
import { useMoments } from '../../../ui/moments';
import { Empty, Loaded } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { LinkDialog } from './LinkDialog';
import { LinkDrawer } from './LinkDrawer';
import { ENTRIES, STANDINGS, useLinks, type Link } from './links';

/** Questionnaires answered in a browser: each link with how many began and answered. */
export default function LinksPart() {
  const { id: studyId } = useStudy();
  const may = useMay();
  const links = useLinks(studyId);
  const [making, setMaking] = useState(false);
  const [params, setParams] = useSearchParams();
  const open = (link: Link | null) => {
    setParams((now) => {
      const next = new URLSearchParams(now);
      if (link === null) next.delete('link');
      else next.set('link', String(link.id));
      return next;
    });
  };
  const make = may('field.manage') && (
    <Button
      type="primary"
      onClick={() => {
        setMaking(true);
      }}
    >
      {t('links.make')}
    </Button>
  );
  const shown = links.data?.find((link) => String(link.id) === params.get('link'));
  return (
    <>
      <div className="page-head">
        <span className="muted">{t('links.what')}</span>
        <span className="grow" />
        {links.data !== undefined && links.data.length > 0 && make}
      </div>
      <Loaded query={links}>
        {(found) =>
          found.length === 0 ? (
            <div className="sheet">
              <Empty title={t('links.none')} action={make || undefined}>
                {t('links.noneMeans')}
              </Empty>
            </div>
          ) : (
            <LinkTable links={found} onOpen={open} />
          )
        }
      </Loaded>
      {making && (
        <LinkDialog
          studyId={studyId}
          link={null}
          onMade={open}
          onClose={() => {
            setMaking(false);
          }}
        />
      )}
      {shown && (
        <LinkDrawer
          studyId={studyId}
          link={shown}
          onClose={() => {
            open(null);
          }}
        />
      )}
    </>
  );
}

function LinkTable({ links, onOpen }: { links: Link[]; onOpen: (link: Link) => void }) {
  const { ago, dayAndTime } = useMoments();
  return (
    <div className="sheet">
      <table className="listing">
        <thead>
          <tr>
            <th>{t('links.link')}</th>
            <th>{t('links.entry')}</th>
            <th>{t('links.standing')}</th>
            <th className="figure">{t('links.addressees')}</th>
            <th className="figure">{t('links.begunCount')}</th>
            <th className="figure">{t('links.answeredCount')}</th>
            <th>{t('links.newest')}</th>
            <th>{t('links.closes')}</th>
          </tr>
        </thead>
        <tbody>
          {links.map((link) => (
            <tr key={link.id}>
              <td>
                <button
                  type="button"
                  className="plain-link"
                  onClick={() => {
                    onOpen(link);
                  }}
                >
                  {link.title}
                </button>
                <span className="muted small"> {link.questionnaire}</span>
              </td>
              <td>{ENTRIES[link.entry]}</td>
              <td className={link.standing === 'open' ? '' : 'doubt'}>{STANDINGS[link.standing]}</td>
              <td className="figure">{link.entry === 'personal' ? link.addressees : ''}</td>
              <td className="figure">{link.begun}</td>
              <td className="figure">
                {link.most == null ? link.answered : `${String(link.answered)} / ${String(link.most)}`}
              </td>
              <td>{link.newest_at == null ? '–' : ago(link.newest_at)}</td>
              <td>{link.closes_at == null ? t('links.noEnd') : dayAndTime(link.closes_at)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
