import { expect, test } from 'vitest';
import { many, time } from './format';

test('times are minutes and seconds, with as many digits as asked for', () => {
  expect(time(67.125)).toBe('1:07.13');
  expect(time(7.04, 1)).toBe('0:07.0');
  expect(time(125, 0)).toBe('2:05');
});

test('one of a thing has no s', () => {
  expect([many(1, 'row'), many(2, 'row'), many(0, 'row')]).toEqual(['1 row', '2 rows', '0 rows']);
});
