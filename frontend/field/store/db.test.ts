import Dexie from 'dexie';
import { expect, it } from 'vitest';

it('brings forward what an earlier build kept: interviews in hand, packed ones and files', async () => {
  const former = new Dexie('skavo-field');
  former.version(1).stores({ device: 'id', releases: 'hash, newest', interviews: 'uuid, state, changedAt' });
  former.version(2).stores({ files: 'hash, interview' });
  await former.open();
  await former.table('interviews').bulkAdd([
    { uuid: 'u1', state: 'in hand', release: 'h', changedAt: '1', answers: { users: 3 } },
    { uuid: 'u2', state: 'packed', release: 'h', changedAt: '2', raw: '{}' },
  ]);
  await former.table('files').add({ hash: 'f'.repeat(64), interview: 'u2', content: new Blob(['a picture']) });
  former.close();

  const { db } = await import('./db');
  expect((await db.interviews.toArray()).map((row) => [row.uuid, row.state])).toEqual([
    ['u1', 'in hand'],
    ['u2', 'packed'],
  ]);
  expect(await db.attachments.toArray()).toMatchObject([
    { interview: 'u2', hash: 'f'.repeat(64), kind: 'file', confirmed: 0 },
  ]);
  const names = db.tables.map((table) => table.name);
  expect(names).not.toContain('files');
});
