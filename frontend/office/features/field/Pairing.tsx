import { Alert, Button, Modal, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, ask } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { Words } from '../../texts/Words';
import { useMoments } from '../../ui/moments';
import { useMay } from '../../ui/study';
import { usePeople } from '../people/people';
import { useFieldChange, type Code, type Phone } from './phones';

interface Props {
  studyId: number;
  /** The lost phone whose place the new one takes; null for one more. */
  replaces: Phone | null;
  onClose: () => void;
}

const LASTS = [30, 24 * 60, 7 * 24 * 60] as const;
const lastsWords = (minutes: number): string =>
  minutes < 60
    ? t('field.minutesLong', { n: minutes })
    : minutes < 2 * 24 * 60
      ? t('field.hoursLong', { n: minutes / 60 })
      : t('field.daysLong', { n: minutes / 1440 });

/** Pairing codes for one phone, or a sheet of them for a whole team. */
export function Pairing({ studyId, replaces, onClose }: Props) {
  const may = useMay();
  const people = usePeople(studyId);
  const enumerators = (people.data?.people ?? []).filter((p) => p.left_at == null && p.roles.includes('enumerator'));
  const [chosen, setChosen] = useState<number[] | null>(null);
  const [wantedMinutes, setMinutes] = useState<number | null>(null);
  const [listed, setListed] = useState(false);
  const carriesLost = enumerators.filter((p) => p.name === replaces?.enumerator).map((p) => p.id);
  const members = chosen ?? carriesLost;
  // A printed sheet is handed round; a code on the screen is scanned at once.
  const minutes = wantedMinutes ?? (members.length > 1 ? LASTS[1] : LASTS[0]);
  const make = useFieldChange(studyId, (ids: number[]) =>
    ask(
      api.POST('/api/studies/{study_id}/pairing-codes', {
        params: { path: { study_id: studyId } },
        body: { member_ids: ids, minutes, replaces_id: replaces?.id ?? null },
      }),
    ),
  );
  const codes = make.data;
  return (
    <Modal
      open
      title={replaces === null ? t('field.pairPhone2') : t('field.pairInstead', { name: replaces.name })}
      footer={null}
      width={codes !== undefined && codes.length > 1 ? 860 : 560}
      onCancel={onClose}
    >
      {codes ? (
        <Codes
          codes={codes}
          onMore={() => {
            make.reset();
            setChosen([]);
          }}
        />
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (!make.isPending && members.length > 0) make.mutate(members);
          }}
        >
          {replaces !== null && <p>{t('field.insteadWhat', { name: replaces.name })}</p>}
          <label className="detail-label" htmlFor="enumerator">
            {t('field.whoWillCarry')}
          </label>
          <div className="row">
            <Select<number[]>
              id="enumerator"
              className="grow"
              mode="multiple"
              open={listed}
              onOpenChange={setListed}
              onSelect={() => {
                // What is chosen is mostly all: the list gives way to the button below it.
                setListed(false);
              }}
              maxCount={replaces === null ? undefined : 1}
              autoFocus
              showSearch={{ optionFilterProp: 'label' }}
              value={members}
              loading={people.isPending}
              placeholder={t('field.nameEnumerator')}
              options={enumerators.map((p) => ({
                value: p.id,
                label: p.team === '' ? p.name : `${p.name} · ${p.team}`,
              }))}
              notFoundContent={t('field.noEnumerator')}
              onChange={setChosen}
            />
          </div>
          {replaces === null && (people.data?.teams.length ?? 0) > 0 && (
            <p className="row wrap-row">
              <span className="muted small">{t('field.wholeTeam')}</span>
              {people.data?.teams.map((team) => (
                <Button
                  key={team.id}
                  size="small"
                  onClick={() => {
                    setChosen(enumerators.filter((p) => p.team_id === team.id).map((p) => p.id));
                  }}
                >
                  {team.name}
                </Button>
              ))}
            </p>
          )}
          <label className="detail-label" htmlFor="lasts">
            {t('field.codeLasts')}
          </label>
          <div className="row">
            <Select<number>
              id="lasts"
              className="grow"
              value={minutes}
              options={LASTS.map((value) => ({ value, label: lastsWords(value) }))}
              onChange={setMinutes}
            />
            <Button type="primary" htmlType="submit" disabled={members.length === 0} loading={make.isPending}>
              {members.length > 1 ? t('field.showCodes', { count: members.length }) : t('field.showCode')}
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

/** Codes as they are scanned from the screen, or from a printed sheet that is cut apart. */
function Codes({ codes, onMore }: { codes: Code[]; onMore: () => void }) {
  return (
    <>
      {codes.length > 1 && <p className="muted no-print">{t('field.printAndCut')}</p>}
      <div className={codes.length > 1 ? 'codes-sheet' : ''}>
        {codes.map((code) => (
          <OneCode key={code.code} code={code} />
        ))}
      </div>
      <div className="row no-print">
        {codes.length > 1 && (
          <Button
            type="primary"
            onClick={() => {
              window.print();
            }}
          >
            {t('field.print')}
          </Button>
        )}
        <Button onClick={onMore}>{t('field.anotherPhone')}</Button>
      </div>
    </>
  );
}

function OneCode({ code }: { code: Code }) {
  const { dayAndTime } = useMoments();
  return (
    <div className="pairing">
      <svg viewBox={`0 0 ${String(code.size)} ${String(code.size)}`} role="img" aria-label={t('field.codePicture')}>
        <path d={code.qr} />
      </svg>
      <div>
        <p>
          <b>{code.enumerator}</b>
        </p>
        <p className="small">
          <Words
            k="field.scanOrType"
            values={{ address: code.address.split('#')[0] ?? '' }}
            parts={{ code: <code className="wrap" /> }}
          />
        </p>
        <p className="big-code mono">{code.code}</p>
        <p className="muted small">{t('field.worksOnceUntil', { until: dayAndTime(code.expires_at) })}</p>
      </div>
    </div>
  );
}
