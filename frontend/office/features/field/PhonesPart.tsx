import { Alert, Button } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { t } from '../../texts/texts';
import { Empty, Loaded } from '../../ui/states';
import { useMay, useStudy } from '../../ui/study';
import { OpenCodes } from './OpenCodes';
import { Pairing } from './Pairing';
import { Phones } from './Phones';
import { Profiles } from './Profiles';
import { ReadBundle } from './ReadBundle';
import { usePhones, type Phone } from './phones';

/** Who is out there with which phone, what it carries, what it obeys. */
export default function PhonesPart() {
  const study = useStudy();
  const may = useMay();
  const [pairing, setPairing] = useState<{ replaces: Phone | null } | null>(null);
  const phones = usePhones(study.id);
  const released = study.questionnaires.some((q) => q.releases > 0);
  const pair = may('field.manage') && (
    <Button
      type="primary"
      onClick={() => {
        setPairing({ replaces: null });
      }}
    >
      {t('field.pairPhone')}
    </Button>
  );
  return (
    <>
      <div className="page-head">
        {phones.data && phones.data.length > 0 && <Summary phones={phones.data} />}
        <span className="grow" />
        {may('interview.review') && <ReadBundle studyId={study.id} />}
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
      {may('field.manage') && <OpenCodes studyId={study.id} />}
      <Loaded query={phones}>
        {(found) =>
          found.length === 0 ? (
            <div className="sheet">
              <Empty title={t('field.noPhonePairedYet')} action={pair || undefined}>
                {t('field.phoneOpensFieldPage')}
              </Empty>
            </div>
          ) : (
            <Phones
              studyId={study.id}
              phones={found}
              onReplace={(lost) => {
                setPairing({ replaces: lost });
              }}
            />
          )
        }
      </Loaded>
      <Profiles studyId={study.id} />
      {pairing && (
        <Pairing
          studyId={study.id}
          replaces={pairing.replaces}
          onClose={() => {
            setPairing(null);
          }}
        />
      )}
    </>
  );
}

/** How many are out there, and what they still carry. */
function Summary({ phones }: { phones: Phone[] }) {
  const used = phones.filter((phone) => phone.cut_off_at === null && phone.wiped_at === null);
  const teams = new Set(used.map((phone) => phone.team).filter((team) => team !== '')).size;
  const people = new Set(used.map((phone) => phone.enumerator)).size;
  const out = used.reduce((sum, phone) => sum + phone.in_hand + phone.packed, 0);
  return (
    <span className="muted">
      {t('field.summary', { teams, people, phones: used.length })}
      {out > 0 && ` · ${t('field.stillOut', { count: out })}`}
    </span>
  );
}
