// How far a list has come: rates by the published formulas, by group, and attempts by day with what is to be expected.
import { Segmented } from 'antd';
import { Fragment, useState } from 'react';
import { locale, t } from '../../../texts/texts';
import { Loaded } from '../../../ui/states';
import type { Schemas } from '../../../../shared/api/client';
import { OutcomeMark } from '../../../../shared/map/OutcomeMark';
import { called, lookOf, useRates, type By, type Outcome, type VisitList } from './visits';

const number = new Intl.NumberFormat(locale);
const percent = new Intl.NumberFormat(locale, { style: 'percent', minimumFractionDigits: 1, maximumFractionDigits: 1 });
const day = new Intl.DateTimeFormat(locale, { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' });

const BYS = [
  { value: 'area', label: t('visits.ratesByArea') },
  { value: 'team', label: t('visits.ratesByTeam') },
  { value: 'person', label: t('visits.ratesByPerson') },
] as const;

const HEADS = { area: t('visits.area'), team: t('visits.team'), person: t('visits.who') };

type Line = Schemas['RatesLine'];
const share = (value: number | null | undefined) => (value == null ? '–' : percent.format(value));

/** Which of the numbered rates stand first: those that most reports give. */
const FIRST = [
  { words: t('visits.response'), formula: 'RR3', of: (line: Line) => line.response[2] },
  { words: t('visits.cooperation'), formula: 'COOP1', of: (line: Line) => line.cooperation[0] },
  { words: t('visits.refusal'), formula: 'REF2', of: (line: Line) => line.refusal[1] },
  { words: t('visits.contact'), formula: 'CON2', of: (line: Line) => line.contact[1] },
];

export function Rates({ list, outcomes }: { list: VisitList; outcomes: Outcome[] }) {
  const [by, setBy] = useState<Exclude<By, 'list'>>('area');
  const rates = useRates(list.id, by);
  return (
    <Loaded query={rates}>
      {(found) => (
        <div className="rates">
          <section className="sheet pad">
            <div className="rate-figures">
              {FIRST.map(({ words, formula, of }) => (
                <div key={formula}>
                  <b>{share(of(found.whole))}</b>
                  <span>
                    {words} <span className="muted small">{formula}</span>
                  </span>
                </div>
              ))}
              <div className="rate-forecast">
                <b>{number.format(list.total - list.forecast.left)}</b>
                <span>{t('visits.ofDone', { total: number.format(list.total) })}</span>
              </div>
            </div>
            <p>{forecastWords(list)}</p>
            <p className="muted small">
              {t('visits.ratesMean', { e: found.eligible_share === null ? '–' : percent.format(found.eligible_share) })}
            </p>
            <details>
              <summary>{t('visits.allRates')}</summary>
              <AllRates line={found.whole} />
            </details>
          </section>
          <section>
            <div className="row section-head">
              <h2>{t('visits.groups')}</h2>
              <Segmented size="small" options={[...BYS]} value={by} onChange={setBy} />
            </div>
            <div className="sheet wide-table">
              <table className="listing">
                <thead>
                  <tr>
                    <th>{HEADS[by]}</th>
                    {COUNTS.map(({ words }) => (
                      <th key={words} className="figure">
                        {words}
                      </th>
                    ))}
                    {FIRST.map(({ words, formula }) => (
                      <th key={formula} className="figure" title={formula}>
                        {words}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {[...found.lines, found.whole].map((line, at) => (
                    <tr key={line.name} className={at === found.lines.length ? 'altogether' : ''}>
                      <th scope="row">
                        {at === found.lines.length
                          ? t('visits.altogether')
                          : line.name === ''
                            ? t('visits.nobody')
                            : line.name}
                      </th>
                      {COUNTS.map(({ words, of }) => (
                        <td key={words} className="figure">
                          {number.format(of(line))}
                        </td>
                      ))}
                      {FIRST.map(({ formula, of }) => (
                        <td key={formula} className="figure">
                          {share(of(line))}
                        </td>
                      ))}
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          </section>
          <Days days={found.days} outcomes={outcomes} />
        </div>
      )}
    </Loaded>
  );
}

const COUNTS: { words: string; of: (line: Line) => number }[] = [
  { words: t('visits.visits'), of: (line) => line.visits },
  { words: t('visits.classInterview'), of: (line) => line.interview },
  { words: t('visits.classPartial'), of: (line) => line.partial },
  { words: t('visits.classRefusal'), of: (line) => line.refusals },
  { words: t('visits.classNonContact'), of: (line) => line.non_contact },
  { words: t('visits.classOther'), of: (line) => line.other },
  { words: t('visits.classUnknown'), of: (line) => line.unknown },
  { words: t('visits.classNotEligible'), of: (line) => line.not_eligible },
  { words: t('visits.notYet'), of: (line) => line.unseen },
];

function forecastWords(list: VisitList): string {
  const { left, a_day: aDay, on } = list.forecast;
  if (list.closed) return t('visits.closedWith', { count: left });
  if (left === 0) return t('visits.allDone');
  if (on === null) return t('visits.noPace', { left: number.format(left) });
  const said = t('visits.pace', { left: number.format(left), aDay: number.format(aDay), on: day.format(new Date(on)) });
  if (list.due === '') return said;
  const late = Math.round((Date.parse(on) - Date.parse(list.due)) / 86_400_000);
  return late > 0 ? `${said} ${t('visits.late', { count: late })}` : `${said} ${t('visits.inTime')}`;
}

function AllRates({ line }: { line: Line }) {
  const rows: [string, string, (number | null)[]][] = [
    ['RR', t('visits.response'), line.response],
    ['COOP', t('visits.cooperation'), line.cooperation],
    ['REF', t('visits.refusal'), line.refusal],
    ['CON', t('visits.contact'), line.contact],
  ];
  return (
    <dl className="all-rates">
      {rows.map(([code, words, values]) => (
        <Fragment key={code}>
          <dt>{words}</dt>
          <dd>
            {values.map((value, at) => (
              <span key={at}>
                <span className="muted small">
                  {code}
                  {at + 1}
                </span>{' '}
                {share(value)}
              </span>
            ))}
          </dd>
        </Fragment>
      ))}
    </dl>
  );
}

/** Attempts by day, each outcome with its mark; a bar is as long as the day had attempts. */
function Days({ days, outcomes }: { days: Schemas['DayOfAttempts'][]; outcomes: Outcome[] }) {
  if (days.length === 0) return null;
  const sums = days.map((one) => Object.values(one.outcomes).reduce((sum, count) => sum + count, 0));
  const most = Math.max(...sums);
  return (
    <section>
      <h2>{t('visits.days')}</h2>
      <ol className="sheet pad days">
        {days.map((one, at) => (
          <li key={one.day}>
            <span className="days-day">{day.format(new Date(one.day))}</span>
            <span className="days-bar" aria-hidden>
              {outcomes
                .filter((outcome) => one.outcomes[outcome.code] !== undefined)
                .map((outcome) => (
                  <i
                    key={outcome.code}
                    style={{
                      width: `${String((100 * (one.outcomes[outcome.code] ?? 0)) / most)}%`,
                      background: lookOf(outcome).colour,
                    }}
                  />
                ))}
            </span>
            <span className="days-words small">
              <b>{number.format(sums[at] ?? 0)}</b>{' '}
              {outcomes
                .filter((outcome) => one.outcomes[outcome.code] !== undefined)
                .map((outcome) => (
                  <span key={outcome.code}>
                    <OutcomeMark look={lookOf(outcome)} /> {called(outcomes, outcome.code)} {one.outcomes[outcome.code]}
                  </span>
                ))}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
