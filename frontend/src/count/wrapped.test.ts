import { expect, test } from 'vitest';
import { wrapped } from './wrapped';

test('what fits stands on one line at full size', () => {
  expect(wrapped('side R', 56, 2)).toEqual({ lines: ['side R'], size: 12 });
});

test('more words than fit go on a second line, none is lost', () => {
  expect(wrapped('R arm down', 56, 2).lines).toEqual(['R arm', 'down']);
});

test('a word that is too long for a narrow cell is smaller, not cut', () => {
  const told = wrapped('cross', 28, 2);
  expect(told.lines).toEqual(['cross']);
  expect(told.size).toBeLessThan(12);
});

test('what can never fit ends with a dot', () => {
  const [line] = wrapped('extraordinarily', 28, 1).lines;
  expect(line?.endsWith('.')).toBe(true);
  expect('extraordinarily'.startsWith(line?.slice(0, -1) ?? '?')).toBe(true);
});
