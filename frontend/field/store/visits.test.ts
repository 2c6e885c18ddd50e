import { beforeEach, expect, test, vi } from 'vitest';
import { Problem, unreachable, type Schemas } from '../../shared/api/client';
import { anInterview, freshPhone } from '../../testing/phone';
import { dayOf, inZone } from './day';
import { db } from './db';
import { addInterview } from './kept';
import { resealAll } from './resealing';
import * as server from './server';
import { choosePin, enterWithoutPin } from './vault';
import { attemptsWait, holdVisits, keepAttempt, listVisits, outcomeAfter, tellAttempts } from './visits';

vi.mock('./server', () => ({ fetchVisits: vi.fn(), tellAttempt: vi.fn(), isUnreachable: vi.fn() }));

const outcome = (code: string, counts_as: Schemas['Outcome']['counts_as'], more: object = {}): Schemas['Outcome'] => ({
  code,
  label: { en: code },
  counts_as,
  ends: false,
  passes_on: false,
  names_moment: false,
  ...more,
});

const carried = (visit: string, more: Partial<Schemas['CarriedVisit']> = {}): Schemas['CarriedVisit'] => ({
  visit,
  list_id: 1,
  key: visit,
  label: `Shop ${visit}`,
  area: 'Hill',
  place: [10, 20],
  remark: '',
  attempts: [],
  known: { unit: null, units: {}, earlier: {} },
  ...more,
});

function office(...visits: Schemas['CarriedVisit'][]) {
  vi.mocked(server.fetchVisits).mockResolvedValue({
    time_zone: 'Etc/GMT+8',
    outcomes: [
      outcome('partly', 'partial'),
      outcome('done', 'interview', { ends: true }),
      outcome('locked', 'non-contact'),
    ],
    lists: [
      {
        id: 1,
        name: 'Round',
        questionnaire_id: 1,
        due: '',
        rules: { most: 3, hours_apart: 4, other_parts_of_day: true },
      },
    ],
    visits,
  });
}

const attempt = (visit: string, more: object = {}) => ({
  visit,
  outcome: 'locked',
  at: '2027-03-16T18:00:00Z',
  appointment: null,
  remark: '',
  interview: '',
  latitude: null,
  longitude: null,
  accuracy: null,
  ...more,
});

const stops = (error: unknown) => error instanceof Problem && error.code === 'unreachable';
const words = (error: unknown) => (error instanceof Error ? error.message : '');

beforeEach(async () => {
  vi.resetAllMocks();
  await freshPhone({ clockAheadSeconds: 90 });
});

test('visits are fetched once for each state that the office has, and go when it has none', async () => {
  office(carried('a'), carried('b'));
  await holdVisits('t', 'one');
  await holdVisits('t', 'one');
  expect(server.fetchVisits).toHaveBeenCalledTimes(1);
  expect((await listVisits()).map((visit) => visit.label)).toEqual(['Shop a', 'Shop b']);
  office(carried('b'));
  await holdVisits('t', 'two');
  expect((await listVisits()).map((visit) => visit.visit)).toEqual(['b']);
  await holdVisits('t', '');
  expect(await listVisits()).toEqual([]);
  expect((await db.device.get('me'))?.visits).toBeUndefined();
});

test('nothing of a visit stands open on the phone', async () => {
  office(carried('a', { label: 'Quiet Bell', remark: 'Ask for the widow' }));
  await holdVisits('t', 'one');
  await keepAttempt(attempt('a', { remark: 'He drank' }));
  const kept = JSON.stringify([await db.visits.toArray(), await db.attempts.toArray()]);
  for (const secret of ['Quiet', 'widow', 'drank', 'locked']) expect(kept).not.toContain(secret);
});

test('an attempt is told once, stands among the others, and goes when the office tells it back', async () => {
  office(carried('a', { attempts: [told('x', '2027-03-17T08:00:00Z')] }));
  await holdVisits('t', 'one');
  await keepAttempt(attempt('a', { remark: 'Shut' }));
  expect(await attemptsWait()).toBe(true);
  const [visit] = await listVisits();
  expect(visit?.attempts.map((one) => [one.outcome, one.waits])).toEqual([
    ['locked', true],
    ['done', false],
  ]);
  await tellAttempts('t', stops, words);
  await tellAttempts('t', stops, words);
  expect(server.tellAttempt).toHaveBeenCalledTimes(1);
  const [, identity, sent] = vi.mocked(server.tellAttempt).mock.calls[0] ?? [];
  expect(sent).toMatchObject({ visit: 'a', remark: 'Shut', clock_ahead_seconds: 90 });
  expect(await attemptsWait()).toBe(false);
  expect((await listVisits())[0]?.attempts.map((one) => one.waits)).toEqual([false, false]);
  office(carried('a', { attempts: [told(identity ?? '', '2027-03-16T18:00:00Z')] }));
  await holdVisits('t', 'two');
  expect((await listVisits())[0]?.attempts).toHaveLength(1);
  expect(await db.attempts.count()).toBe(0);
});

const told = (identity: string, at: string): Schemas['CarriedAttempt'] => ({
  identity,
  at,
  outcome: 'done',
  appointment: null,
  remark: '',
  by: 'Mira Tole',
  own: false,
});

test('an attempt that the office refuses stays with why, and stops no other; without a network all wait', async () => {
  await keepAttempt(attempt('a'));
  await keepAttempt(attempt('b'));
  vi.mocked(server.tellAttempt).mockRejectedValueOnce(unreachable());
  await expect(tellAttempts('t', stops, words)).rejects.toThrow();
  expect(await db.attempts.where('sent').equals(0).count()).toBe(2);
  vi.mocked(server.tellAttempt).mockRejectedValueOnce(new Problem('wrong', 'That cannot be.', 422));
  await tellAttempts('t', stops, words);
  const rows = await db.attempts.toArray();
  expect(rows.map((row) => row.sent).sort()).toEqual([0, 1]);
  expect(rows.find((row) => row.sent === 0)?.problem).toBe('That cannot be.');
});

test('what was fetched meanwhile does not take an attempt away that was made meanwhile', async () => {
  office(carried('a'));
  await holdVisits('t', 'one');
  office(carried('a', { remark: 'Back door' }));
  const fetching = holdVisits('t', 'two');
  await keepAttempt(attempt('a'));
  await fetching;
  expect((await listVisits())[0]?.attempts).toHaveLength(1);
});

test('with a new PIN visits, attempts and what interviews know of their visit are sealed anew', async () => {
  office(carried('a'));
  await holdVisits('t', 'one');
  await keepAttempt(attempt('a'));
  const visited = { visit: 'a', known: { unit: 'u', units: { u: { label: 'Quiet Bell' } }, earlier: {} } };
  await addInterview(anInterview(crypto.randomUUID(), { visited }));
  const before = (await db.visits.toArray())[0]?.sealed[0];
  await choosePin('204817');
  await resealAll();
  expect((await db.visits.toArray())[0]?.sealed[0]).not.toBe(before);
  expect((await db.attempts.toArray())[0]?.sealed[0]).not.toBe(before);
  expect((await listVisits())[0]?.attempts).toHaveLength(1);
  expect(await enterWithoutPin()).toBe(false);
});

test('the outcome that follows from an interview is of its class', async () => {
  office();
  await holdVisits('t', 'one');
  const frame = (await db.device.get('me'))?.visits;
  expect([outcomeAfter(frame, ''), outcomeAfter(frame, 'Had to go'), outcomeAfter(undefined, '')]).toEqual([
    'done',
    'partly',
    '',
  ]);
});

test('moments are told by the study’s clock, wherever the phone is', async () => {
  expect(inZone('Etc/GMT+8', '2027-03-16T06:30:00Z')).toBe('2027-03-15T22:30:00-08:00');
  expect(inZone('Asia/Kathmandu', '2027-03-16T06:30:00Z')).toBe('2027-03-16T12:15:00+05:45');
  expect(inZone('UTC', '2027-03-16T00:00:00Z')).toBe('2027-03-16T00:00:00+00:00');
  office(carried('a', { attempts: [told('x', '2027-03-17T08:00:00Z')] }));
  await holdVisits('t', 'one');
  const frame = (await db.device.get('me'))?.visits;
  if (frame === undefined) throw new Error('no visits');
  const day = dayOf(frame, await listVisits(), null, new Date('2027-03-17T09:00:00Z'));
  expect(day.now).toBe('2027-03-17T01:00:00-08:00');
  expect(day.visits[0]?.attempts[0]).toMatchObject({ at: '2027-03-17T00:00:00-08:00', own: false });
  expect(day.lists['1']?.ending).toEqual(['done']);
});
