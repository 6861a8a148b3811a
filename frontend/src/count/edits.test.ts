import { expect, test } from 'vitest';
import type { PhraseForm } from '../api/schema';
import { added, EIGHT, freed, moved, removed } from './edits';

const named = (name: string): PhraseForm => ({ ...EIGHT, name });
const names = (phrases: PhraseForm[]) => phrases.map((p) => p.name).join('');
const abc = [named('a'), named('b'), named('c')];

test('rows are added, moved and removed where it was asked', () => {
  expect(names(added(abc, 1, named('x')))).toBe('axbc');
  expect(names(moved(abc, 3, -1))).toBe('acb');
  expect(names(moved(abc, 1, 1))).toBe('bac');
  expect(names(removed(abc, 2))).toBe('ac');
  expect(names(abc)).toBe('abc');
});

test('a count is freed and scored again, and keeps its cue', () => {
  const cued = [{ ...EIGHT, marks: [{ label: '3', cue: 'lift', score: 'both' as const, parts: [] }] }];
  const free = freed(cued, 1, '3');
  expect(free[0]?.marks).toEqual([{ label: '3', cue: 'lift', score: 'free', parts: [] }]);
  expect(freed(free, 1, '3')).toEqual(cued);
  expect(freed(freed([EIGHT], 1, '5'), 1, '5')[0]?.marks).toEqual([]);
});
