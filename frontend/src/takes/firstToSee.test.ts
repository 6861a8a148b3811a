import { expect, test } from 'vitest';
import type { Outcome, RowView } from '../api/schema';
import { firstToSee } from './useTake';

const row = (number: number, start: number) =>
  ({
    number,
    start,
    cells: [0, 1, 1.5, 2].map((offset) => ({ at: start + offset, label: `${offset}` })),
  }) as RowView;
const rows = [row(1, 0), row(2, 4)];
const outcome = (redrill: number[], from: number[][]) =>
  ({
    comparison: { redrill, phrases: from.map((f) => ({ findings: f.map((at) => ({ from: at })) })) },
  }) as Outcome;

test('one looks first at the first finding of the worst row', () => {
  expect(firstToSee(rows, outcome([2, 1], [[1], [5.5, 6]]))).toEqual({ phrase: 2, label: '1.5' });
});

test('a clean take opens at its first count', () => {
  expect(firstToSee(rows, outcome([], [[], []]))).toEqual({ phrase: 1, label: '0' });
  expect(firstToSee([], outcome([], []))).toBeNull();
});
