import { expect, test } from 'vitest';
import type { CellView, RowView } from '../api/schema';
import { find, numbered, sounding, step } from './choosing';

const cell = (start: number, label: string, offset: number): CellView => ({
  at: start + offset,
  label,
  sign: label.split(' ').at(-1) ?? '',
  offset,
  width: 1,
  hold: false,
  goes_on: false,
  free: false,
  mark: {
    label,
    cue: '',
    score: 'both',
    parts: [],
    sounds: '',
    lyrics: '',
    layers: {},
    turn: 0,
    either: false,
  },
  weight: null,
  facing: 12,
  turned: null,
  scored: 'all',
});
const row = (number: number, start: number, counts: number, labels: [string, number][]): RowView => ({
  id: `${number}`,
  number,
  name: '',
  counts,
  line: '',
  start,
  begins_s: null,
  written: number,
  repetition: 1,
  again: null,
  heading: null,
  checkpoint: null,
  cells: labels.map(([label, offset]) => cell(start, label, offset)),
});
const rows = [
  row(1, 0, 4, [
    ['1', 0],
    ['2', 1],
    ['2 &', 1.5],
    ['3', 2],
    ['4', 3],
  ]),
  row(2, 4, 2, [
    ['1', 0],
    ['2', 1],
  ]),
];

test('left and right go through subdivisions and on into the next row', () => {
  expect(step(rows, { phrase: 1, label: '2' }, 'right')).toEqual({ phrase: 1, label: '2 &' });
  expect(step(rows, { phrase: 1, label: '4' }, 'right')).toEqual({ phrase: 2, label: '1' });
  expect(step(rows, { phrase: 1, label: '1' }, 'left')).toBeNull();
});

test('up and down keep the count, or take the last one before it', () => {
  expect(step(rows, { phrase: 1, label: '2 &' }, 'down')).toEqual({ phrase: 2, label: '2' });
  expect(step(rows, { phrase: 2, label: '2' }, 'up')).toEqual({ phrase: 1, label: '2' });
  expect(step(rows, { phrase: 2, label: '2' }, 'down')).toBeNull();
});

test('a digit chooses in its own row, and only what is there', () => {
  expect(numbered(rows, { phrase: 1, label: '2' }, '4')).toEqual({ phrase: 1, label: '4' });
  expect(numbered(rows, { phrase: 2, label: '2' }, '4')).toBeNull();
});

test('the count that sounds is the last one begun, and none after the end', () => {
  expect(sounding(rows, 1.7)).toEqual({ phrase: 1, label: '2 &' });
  expect(sounding(rows, 4.2)).toEqual({ phrase: 2, label: '1' });
  expect(sounding(rows, -0.1)).toBeNull();
  expect(sounding(rows, 6)).toBeNull();
});

test('a count that the address names and the sheet lacks is not found', () => {
  expect(find(rows, { phrase: 7, label: '1' })).toBeNull();
  expect(find(rows, { phrase: 2, label: '9' })).toBeNull();
});
