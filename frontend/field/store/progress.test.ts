import { expect, it } from 'vitest';
import { onSending, sendingNow, tellSending } from './progress';

it('tells how much of an interview’s files has arrived, until it is sent', () => {
  let told = 0;
  const stop = onSending(() => {
    told += 1;
  });
  const one = tellSending('u1', [
    { hash: 'a', bytes: 100 },
    { hash: 'b', bytes: 300 },
  ]);
  const other = tellSending('u2', []);
  one.arrived('b', 200);
  one.arrived('a', 100);
  one.arrived('b', 300);
  expect(sendingNow()).toEqual({ u1: { files: 2, bytes: 400, sent: 400 }, u2: { files: 0, bytes: 0, sent: 0 } });
  one.ended();
  expect(sendingNow()).toEqual({ u2: { files: 0, bytes: 0, sent: 0 } });
  other.ended();
  expect(told).toBe(7);
  stop();
});
