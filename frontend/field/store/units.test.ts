import { beforeEach, expect, test, vi } from 'vitest';
import type { Schemas } from '../../shared/api/client';
import { freshPhone, keepsInterview } from '../../testing/phone';
import { asTree, madeUnder } from '../pages/useUnits';
import { db, type AboutUnit, type Interview } from './db';
import { letGo } from './keeping';
import { listInterviews } from './kept';
import { forgetOldReleases } from './releases';
import { resealAll } from './resealing';
import * as server from './server';
import { dropChange, startChange } from './unitChanges';
import { forgetUnits, hiddenPaths, holdUnits, listUnits, unitsFrame, type CarriedKind, type UnitHere } from './units';
import { choosePin } from './vault';

vi.mock('./server', () => ({ fetchUnits: vi.fn(), fetchRelease: vi.fn(), isUnreachable: vi.fn() }));

const HASH = 'a'.repeat(64);
const SETTINGS: Schemas['KindSettings'] = {
  under: [],
  stands_alone: true,
  key_named: '',
  key_mask: '',
  label: 'w-name',
  glyph: '⚒',
  carried: [],
  on_phones: 'change',
  sensitive_on_phones: false,
  coarse_km: 0,
  own: false,
};

const kind = (id: number, settings: Partial<Schemas['KindSettings']> = {}): CarriedKind => ({
  id,
  name: `kind${String(id)}`,
  title: { en: 'Workshop' },
  settings: { ...SETTINGS, ...settings },
  release: 'r1',
  hash: HASH,
  hidden: ['w-phone'],
});

const unit = (name: string, more: Partial<Schemas['CarriedUnit']> = {}): Schemas['CarriedUnit'] => ({
  unit: name,
  kind: 1,
  above: '',
  key: name.toUpperCase(),
  label: `Shop ${name}`,
  place: null,
  answers: { 'w-name': `Shop ${name}`, 'w-roof': 'tin' },
  derived: {},
  faults: 0,
  filled: 2,
  asked: 3,
  own: false,
  ...more,
});

const told = (mark: string, more: Partial<Schemas['CarriedUnits']> = {}): Schemas['CarriedUnits'] => ({
  mark,
  kinds: [kind(1), kind(2, { under: [1], stands_alone: false })],
  pieces: [],
  gone: [],
  waiting: [],
  ...more,
});

const piece = (name: string, mark: string, ...units: Schemas['CarriedUnit'][]) => ({ name, mark, units });

function office(answer: Schemas['CarriedUnits']) {
  vi.mocked(server.fetchUnits).mockResolvedValueOnce(answer);
}

const compiled = {
  format: 'skavo-release-3',
  title: { en: 'Workshop' },
  languages: ['en'],
  parts: [
    { id: 'w-name', variable: 'name' },
    { id: 'w-roof', variable: 'roof' },
    { id: 'w-phone', variable: 'phone' },
  ],
};

const byName = async (name: string): Promise<UnitHere | undefined> =>
  (await listUnits()).find((one) => one.unit === name);

const changed = (uuid: string, about: Partial<AboutUnit>, more: Partial<Interview> = {}) =>
  keepsInterview(uuid, {
    unit: 1,
    state: 'packed',
    release: HASH,
    hash: uuid,
    about: { identity: 'a1', kind: 1, made: false, above: '', key: '', before: {}, closed: '', ...about },
    ...more,
  });

beforeEach(async () => {
  vi.resetAllMocks();
  forgetUnits();
  await freshPhone();
  vi.mocked(server.fetchRelease).mockResolvedValue({
    number: 1,
    questionnaire_id: 7,
    identity: 'r1',
    hash: HASH,
    compiled,
  });
  office(
    told('m1', {
      pieces: [piece('a1', 'x', unit('a1'), unit('a2', { above: 'a1', kind: 2 })), piece('b0', 'y', unit('b0'))],
    }),
  );
  await holdUnits('t', 'm1');
});

test('what is held is not fetched again; only pieces that differ are', async () => {
  await holdUnits('t', 'm1');
  expect(server.fetchUnits).toHaveBeenCalledTimes(1);
  office(told('m2', { pieces: [piece('a1', 'z', unit('a1', { label: 'Old shop' }))], gone: ['b0'] }));
  await holdUnits('t', 'm2');
  expect(vi.mocked(server.fetchUnits).mock.lastCall).toEqual(['t', { a1: 'x', b0: 'y' }]);
  expect((await listUnits()).map((one) => one.label)).toEqual(['Old shop']);
  await holdUnits('t', '');
  expect([await listUnits(), await unitsFrame()]).toEqual([[], undefined]);
  expect(server.fetchUnits).toHaveBeenCalledTimes(2);
});

test('the fields of a kind stay on the phone as long as it is carried, and begin no interview', async () => {
  await forgetOldReleases(
    [
      {
        hash: 'b',
        identity: 'i',
        number: 1,
        questionnaire_id: 1,
        title: {},
        format: 'skavo-release-3',
        practice: false,
        exercises: '',
      },
    ],
    [],
  );
  expect((await db.releases.get(HASH))?.newest).toBe(0);
});

test('a change is seen at once, and until the office has told what came of it', async () => {
  await changed('c1', { before: { 'w-name': 'Shop a1' } }, { answers: { name: 'Tern', roof: 'tile' } });
  expect(await byName('a1')).toMatchObject({ label: 'Tern', answers: { 'w-roof': 'tile' }, waits: true });
  await letGo({ uuid: 'c1', hash: 'c1' }, 4);
  expect(await byName('a1')).toMatchObject({ label: 'Tern', waits: false });
  office(told('m2', { pieces: [piece('a1', 'z', unit('a1', { label: 'Tern & Sons' }))] }));
  await holdUnits('t', 'm2');
  expect((await byName('a1'))?.label).toBe('Tern & Sons');
  expect(await listInterviews()).toEqual([]);
});

test('what somebody has to decide says so, and what was made is not lost meanwhile', async () => {
  await changed('c1', {}, { state: 'handed in' });
  await changed(
    'c2',
    { identity: 'new', made: true, above: 'a1', kind: 2 },
    { state: 'handed in', answers: { name: 'Bench' } },
  );
  office(told('m2', { waiting: ['c1', 'c2'] }));
  await holdUnits('t', 'm2');
  expect(await byName('a1')).toMatchObject({ label: 'Shop a1', undecided: true });
  expect(await byName('new')).toMatchObject({ label: 'Bench', undecided: true, above: 'a1' });
  office(told('m3'));
  await holdUnits('t', 'm3');
  expect(await byName('new')).toBeUndefined();
});

test('what is gone is gone with all below it', async () => {
  await changed('c1', { closed: 'Burnt down' });
  expect((await listUnits()).map((one) => one.unit)).toEqual(['b0']);
});

test('a change begins with what is known, is gone on with, and can be dropped', async () => {
  const shop = await byName('a1');
  if (shop === undefined) throw new Error('It is there.');
  const uuid = await startChange(kind(1), shop, 'roof');
  const begun = await byName('a1');
  expect(begun?.inHand).toBe(uuid);
  // Whoever presses twice, or on a page that does not know of it yet, goes on with the same.
  expect(await startChange(kind(1), shop)).toBe(uuid);
  if (begun !== undefined) expect(await startChange(kind(1), begun)).toBe(uuid);
  const row = await db.interviews.get(uuid);
  expect(row).toMatchObject({ unit: 1, state: 'in hand', release: HASH });
  await dropChange(uuid);
  expect((await byName('a1'))?.inHand).toBe('');
  const [made, again] = await Promise.all([1, 2].map(() => startChange(kind(2), { above: 'a1', key: 'B-1' })));
  expect(again).toBe(made);
  expect(await db.interviews.count()).toBe(1);
  expect((await listUnits()).find((one) => one.inHand === made)).toMatchObject({ key: 'B-1', above: 'a1' });
});

test('an interview is never dropped as a change', async () => {
  await keepsInterview('i1');
  await dropChange('i1');
  expect(await db.interviews.count()).toBe(1);
});

test('units are sealed, and come along under a new PIN', async () => {
  const before = (await db.units.get('a1'))?.sealed[0] ?? 0;
  await choosePin('204817');
  await resealAll();
  const after = await db.units.get('a1');
  expect(after?.sealed[0] ?? 0).toBeGreaterThan(before);
  expect(new TextDecoder().decode(after?.sealed)).not.toContain('Shop');
  expect((await byName('a2'))?.label).toBe('Shop a2');
});

test('fields that stay at the office are known by their paths', async () => {
  expect([...(await hiddenPaths(1))]).toEqual(['phone']);
});

test('the tree is in the order of kinds and names, and what hangs nowhere stands outermost', async () => {
  const frame = await unitsFrame();
  if (frame === undefined) throw new Error('It is there.');
  const here = await listUnits();
  const lost = { ...here[0], unit: 'z', above: 'nowhere', label: 'Shop 10' } as UnitHere;
  const tree = asTree(frame, [{ ...lost, unit: 'y', label: 'Shop 9' }, lost, ...here].reverse());
  expect(tree.below.get('')?.map((one) => one.label)).toEqual(['Shop 9', 'Shop 10', 'Shop a1', 'Shop b0']);
  expect(tree.way(tree.byId.get('a2') as UnitHere).map((one) => one.unit)).toEqual(['a1']);
  expect(madeUnder(tree, tree.byId.get('a1') as UnitHere).map((one) => one.id)).toEqual([2]);
  expect(madeUnder(tree, null)).toEqual([]);
});
