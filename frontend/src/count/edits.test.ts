import { expect, test } from 'vitest';
import type { PhraseForm } from '../api/schema';
import { added, EIGHT, marked, moved, removed } from './edits';

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
