import L from 'leaflet';
import { expect, it } from 'vitest';
import { clusterOf, clustersOf, nearestMark, placedIn, type Look, type Mark } from './marks';

const mark = (id: number, x: number, y: number): Mark => ({
  id,
  latitude: y,
  longitude: x,
  label: `Unit ${String(id)}`,
});
const placed = (...marks: Mark[]) => placedIn(marks, ({ longitude, latitude }) => L.point(longitude, latitude));

it('means the nearest mark within reach, and none beyond', () => {
  const squares = placed(mark(1, 100, 100), mark(2, 106, 100));
  expect(nearestMark(squares, 104, 100)?.id).toBe(2);
  expect(nearestMark(squares, 101, 103)?.id).toBe(1);
  expect(nearestMark(squares, 100, 112)).toBeUndefined();
});

it('finds a mark across the edge of the squares that it is sought in', () => {
  expect(nearestMark(placed(mark(1, 63, 63)), 66, 66)?.id).toBe(1);
  expect(nearestMark(placed(mark(1, -1, -1)), 2, 2)?.id).toBe(1);
});

it('finds one of thousands', () => {
  const many = Array.from({ length: 20_000 }, (_, at) => mark(at, (at % 200) * 20, Math.floor(at / 200) * 20));
  expect(nearestMark(placed(...many), 2001, 1001)?.id).toBe(50 * 200 + 100);
});

it('gathers many into one that says how many look how, and where they lie', () => {
  const done: Look = { shape: 'disc', colour: '#000' };
  const open: Look = { shape: 'ring', colour: '#fff' };
  const many = [...Array(8).keys()].map((at) => ({ ...mark(at, at, 2 * at), look: at < 6 ? open : done }));
  const cluster = clusterOf([...placed(...many).values()].flat());
  expect(cluster.count).toBe(8);
  expect(cluster.looks).toEqual([
    [open, 6],
    [done, 2],
  ]);
  expect([cluster.at.x, cluster.at.y]).toEqual([3.5, 7]);
  expect(cluster.bounds.toBBoxString()).toBe('0,0,7,14');
});

it('makes one of clusters that would cover each other, also of a row of them', () => {
  const at = (x: number) => [...placed(...[...Array(8).keys()].map((id) => mark(id, x, 0))).values()].flat();
  expect(clustersOf([at(0), at(200)]).map((cluster) => cluster.count)).toEqual([8, 8]);
  expect(clustersOf([at(0), at(20), at(36), at(200)]).map((cluster) => cluster.count)).toEqual([24, 8]);
  expect(clustersOf([])).toEqual([]);
});
