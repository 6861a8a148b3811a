import { expect, test } from 'vitest';
import { due } from './clicks';

const beats = [0, 0.5, 1, 1.5].map((seconds, i) => ({ seconds, first: i % 4 === 0 }));

test('each beat is due in one stretch only, however the stretches meet', () => {
  const edges = [0, 0.2, 0.5, 0.9, 1.5, 2];
  const heard = edges.slice(1).flatMap((to, i) => due(beats, edges[i] as number, to));
  expect(heard).toEqual(beats);
});
