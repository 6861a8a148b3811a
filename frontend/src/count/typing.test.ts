import { expect, test } from 'vitest';
import type { CellView, MarkForm, RowView } from '../api/schema';
import { withDraft } from './typing';

const mark = (label: string, cue = ''): MarkForm => ({
  ...{ label, cue, score: 'both', parts: [], sounds: '', lyrics: '', layers: {}, turn: 0, either: false },
});
const cell = (label: string, at: number, cue = ''): CellView =>
  ({ label, at, offset: at, width: 1, free: false, mark: mark(label, cue) }) as CellView;
const row = (number: number, start: number, cells: CellView[]): RowView =>
  ({ number, start, counts: 4, cells: cells.map((c) => ({ ...c, at: c.at + start })) }) as RowView;

const first = row(1, 0, [cell('1', 0), cell('2', 1)]);
const second = row(2, 4, [cell('1', 0, 'lift'), cell('2', 1, 'drop')]);
const rows = [first, second];

test('while nothing is typed, or it can’t be read, the rows stay as they are', () => {
  expect(withDraft(rows, second, null)).toBe(rows);
  expect(withDraft(rows, undefined, [cell('1', 0)])).toBe(rows);
});

test('a row that is typed is drawn at its place, with the cues that were there', () => {
  const typed = [cell('1', 0), cell('1 &', 0.5), cell('2', 1)];
  const [unchanged, drawn] = withDraft(rows, second, typed);
  expect(unchanged).toBe(first);
  expect(drawn?.cells.map((c) => [c.label, c.at, c.mark.cue])).toEqual([
    ['1', 4, 'lift'],
    ['1 &', 4.5, ''],
    ['2', 5, 'drop'],
  ]);
});

test('cues that step names fill stand before those that were there', () => {
  const [, drawn] = withDraft(rows, second, [cell('1', 0, 'side R'), cell('2', 1)]);
  expect(drawn?.cells.map((c) => c.mark.cue)).toEqual(['side R', 'drop']);
});

test('a free count stays free while its row is typed', () => {
  const free = row(2, 4, [{ ...cell('1', 0), free: true }]);
  const [, drawn] = withDraft([first, free], free, [cell('1', 0), cell('2', 1)]);
  expect(drawn?.cells.map((c) => c.free)).toEqual([true, false]);
});
