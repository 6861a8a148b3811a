import { expect, test } from 'vitest';
import type { ProposalView, ProposedRowView, RowView } from '../api/schema';
import { proposedFrom, withFresh } from './proposed';

const row = (number: number) => ({ number, cells: [] }) as unknown as RowView;
const read = (number: number, more: Partial<ProposedRowView> = {}): ProposedRowView => ({
  row: row(number),
  said: '97% sure',
  unsure: [],
  new: false,
  takes: false,
  like: null,
  ...more,
});
const view = (rows: ProposedRowView[]): ProposalView => ({ waiting: null, counts_s: [], rows, against: [] });

test('new rows stand under those that are written, and only they', () => {
  const proposed = proposedFrom(
    view([read(1), read(2, { takes: true }), read(3, { new: true, takes: true })]),
  );
  expect(withFresh([row(1), row(2)], proposed).map((r) => r.number)).toEqual([1, 2, 3]);
  expect(proposed.open.map((r) => r.row.number)).toEqual([2, 3]);
});

test('a row that was just written is not drawn twice while the answer is on its way', () => {
  const proposed = proposedFrom(view([read(1), read(2, { new: true, takes: true })]));
  expect(withFresh([row(1), row(2)], proposed).map((r) => r.number)).toEqual([1, 2]);
});

test('before there is an answer nothing is proposed', () => {
  expect(withFresh([row(1)], proposedFrom(undefined))).toHaveLength(1);
});
