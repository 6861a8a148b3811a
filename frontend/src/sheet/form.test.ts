import { expect, test } from 'vitest';
import type { RowView } from '../api/schema';
import { formOf, linesOf } from './form';

test('a row of eight fits the narrowest phone, its pick-up too', () => {
  for (const leads of [0, 0.5, 1]) {
    const form = formOf(9, 360 - 32, leads);
    expect(form.gutter + 8 * form.unit).toBeLessThanOrEqual(360 - 32);
  }
});

test('where there is room, all forms have the same columns', () => {
  const forms = [6, 12, 16].map((rows) => formOf(rows, 760, 0));
  expect(new Set(forms.map((f) => `${f.gutter} ${f.unit}`)).size).toBe(1);
  expect(forms.map((f) => f.pitch)).toEqual(forms.map((f) => f.pitch).toSorted((a, b) => b - a));
});

test('twelve counts take a line of eight and one of four, the pick-up on the first', () => {
  const cells = [-0.5, 0, 7, 7.5, 8, 11].map((offset) => ({ offset, label: `${offset}` }));
  const lines = linesOf({ counts: 12, cells } as RowView);
  expect(lines.map((l) => l.counts)).toEqual([8, 4]);
  expect(lines.map((l) => l.cells.map((c) => c.label))).toEqual([
    ['-0.5', '0', '7', '7.5'],
    ['8', '11'],
  ]);
});
