import { expect, test } from 'vitest';
import type { CellView, MarkForm, PhraseForm, RowView, SheetForm } from '../api/schema';
import {
  added,
  asWritten,
  EIGHT,
  marked,
  markedThere,
  marksOn,
  moved,
  overrideOf,
  removed,
  said,
  scoredAlike,
  scoredThrough,
} from './edits';

const named = (name: string): PhraseForm => ({ ...EIGHT, name });
const names = (sheet: SheetForm) => sheet.phrases?.map((p) => p.name).join('');
const mark = (label: string): MarkForm => ({
  ...{ label, cue: '', score: 'both', parts: [], sounds: '', lyrics: '', layers: {}, turn: 0, either: false },
});
const abc = {
  phrases: [named('a'), named('b'), named('c')],
  overrides: [{ repetition: 2, row: 3, mark: mark('1') }],
} as SheetForm;

test('rows are added, moved and removed where it was asked', () => {
  expect(names(added(abc, 1, named('x')))).toBe('axbc');
  expect(names(moved(abc, 3, -1))).toBe('acb');
  expect(names(moved(abc, 1, 1))).toBe('bac');
  expect(names(removed(abc, 2))).toBe('ac');
  expect(names(abc)).toBe('abc');
});

test('what a single time of a row says goes with the row', () => {
  const row = (sheet: SheetForm) => sheet.overrides?.map((o) => o.row);
  expect(row(added(abc, 1, named('x')))).toEqual([4]);
  expect(row(moved(abc, 3, -1))).toEqual([2]);
  expect(row(moved(abc, 1, 1))).toEqual([3]);
  expect(row(removed(abc, 1))).toEqual([2]);
  expect(row(removed(abc, 3))).toEqual([]);
});

/** A row of an eight as it is shown, with what its sheet says of its counts. */
const shown = (sheet: SheetForm) => {
  const cells = ['1', '2', '3', '4', '5', '6', '7', '8'].map((label) => ({
    label,
    mark: sheet.phrases?.[0]?.marks?.find((m) => m.label === label) ?? mark(label),
  }));
  return { written: 1, again: null, cells } as unknown as RowView & { cells: CellView[] };
};
const scored = (sheet: SheetForm) =>
  shown(sheet)
    .cells.map((c) => (c.mark.score === 'timing' ? 't' : '-'))
    .join('');

test('a count’s scoring goes on through a later one, and back', () => {
  const sheet = {
    phrases: [{ ...EIGHT, marks: marked([EIGHT], 1, '3', { score: 'timing' })[0]?.marks }],
  } as SheetForm;
  const through = (s: SheetForm, last: string) => {
    const row = shown(s);
    return row.cells[2] ? scoredThrough(s, row, row.cells[2], last) : s;
  };
  const on = through(sheet, '6');
  expect(scored(on)).toBe('--tttt--');
  const row = shown(on);
  expect(row.cells[2] && scoredAlike(row, row.cells[2]).map((c) => c.label)).toEqual(['3', '4', '5', '6']);
  expect(scored(through(on, '4'))).toBe('--tt----');
  expect(scored(through(on, '3'))).toBe('--t-----');
});

test('a count is freed and scored again, and keeps its cue', () => {
  const cued = marked([EIGHT], 1, '3', { cue: 'lift' });
  const free = marked(cued, 1, '3', { score: 'free' });
  expect(free[0]?.marks).toMatchObject([{ label: '3', cue: 'lift', score: 'free' }]);
  expect(marked(free, 1, '3', { score: 'both' })).toEqual(cued);
});

test('a count of which nothing is said any more has no mark', () => {
  const once = marked([EIGHT], 1, '5', { foot: 'left', layers: { arms: { cue: 'up', quality: 'sharp' } } });
  expect(once[0]?.marks).toHaveLength(1);
  expect(marked(once, 1, '5', { foot: null, layers: {} })[0]?.marks).toEqual([]);
});

/** The row as it is danced a second time, on its own side. */
const again = (sheet: SheetForm) => ({ ...shown(sheet), again: 'row 1', repetition: 2 }) as RowView;

test('where a row is danced again, that time alone is marked, and can be as written again', () => {
  const sheet = { phrases: [{ ...EIGHT, marks: [{ ...mark('3'), cue: 'lift' }] }] } as SheetForm;
  const [, , third] = again(sheet).cells;
  if (!third) throw new Error('an eight has a third count');
  const otherwise = markedThere(sheet, again(sheet), third, { cue: 'hold' });
  expect(otherwise.phrases).toEqual(sheet.phrases);
  expect(otherwise.overrides).toMatchObject([{ repetition: 2, row: 1, mark: { label: '3', cue: 'hold' } }]);
  const twice = markedThere(otherwise, again(sheet), third, { foot: 'left' });
  expect(twice.overrides).toMatchObject([{ mark: { cue: 'hold', foot: 'left' } }]);
  expect(overrideOf(twice, shown(sheet), '3')).toBeUndefined();
  expect(asWritten(twice, again(sheet), '3').overrides).toEqual([]);
});

test('edits that come fast each begin from the one before', () => {
  const sheet = { phrases: [EIGHT] } as SheetForm;
  const row = shown(sheet);
  const [one] = row.cells;
  if (!one) throw new Error('an eight has a first count');
  const layer = (name: 'feet' | 'arms') => (now: MarkForm) => ({
    layers: { ...now.layers, [name]: { cue: name, quality: null } },
  });
  const both = markedThere(markedThere(sheet, row, one, layer('feet')), row, one, layer('arms'));
  expect(Object.keys(both.phrases?.[0]?.marks?.[0]?.layers ?? {})).toEqual(['feet', 'arms']);
});

test('a row’s words stand on its counts one after the other, and missing ones take theirs away', () => {
  const row = shown({ phrases: [EIGHT] } as SheetForm);
  const words = (phrases: PhraseForm[]) => phrases[0]?.marks?.map((m) => `${m.label} ${m.sounds}`);
  const some = said([EIGHT], row, 'sounds', ['ka', '', 'dum']);
  expect(words(some)).toEqual(['1 ka', '3 dum']);
  expect(words(said(some, row, 'sounds', ['ta']))).toEqual(['1 ta']);
});

test('marks go with the counts that a line has no more', () => {
  const marks = [mark('1'), mark('3 &'), mark('8')];
  const cells = shown({ phrases: [EIGHT] } as SheetForm).cells;
  expect(marksOn(marks, cells).map((m) => m.label)).toEqual(['1', '8']);
});
