import { expect, test } from 'vitest';
import { atOf, type Line, secondsOf } from './line';

const line: Line = [
  { at: 0, seconds: 2 },
  { at: 4, seconds: 4 },
  { at: 8, seconds: 8 },
];

test('a line is straight between its points and goes on beyond them', () => {
  expect(secondsOf(line, 2)).toBe(3);
  expect(secondsOf(line, 6)).toBe(6);
  expect(secondsOf(line, -2)).toBe(1);
  expect(secondsOf(line, 10)).toBe(10);
});

test('counts and seconds are each other’s inverse, at the points as well', () => {
  for (const at of [-3, 0, 1.5, 4, 7.25, 8, 11]) expect(atOf(line, secondsOf(line, at))).toBeCloseTo(at, 9);
});
