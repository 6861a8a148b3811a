import { expect, test } from 'vitest';
import { placed } from './framing';

const pane = { width: 200, height: 280 };
const landscape = { width: 1280, height: 720 };
const part = (left: number, top: number, right: number, bottom: number) => ({ left, top, right, bottom });

/** Where a share of the picture lies in the pane. */
const at = (lies: ReturnType<typeof placed>, x: number, y: number) => [
  lies.left + x * lies.width,
  lies.top + y * lies.height,
];

test('who stands small at the side of a wide picture stands in the middle of the pane, as high as it is', () => {
  const lies = placed(pane, landscape, part(0.6, 0.4, 0.8, 0.9));
  expect(at(lies, 0.7, 0.4)).toEqual([expect.closeTo(100), expect.closeTo(0)]);
  expect(at(lies, 0.7, 0.9)).toEqual([expect.closeTo(100), expect.closeTo(280)]);
  expect(lies.width / lies.height).toBeCloseTo(1280 / 720);
});

test('at the edge of the picture nothing is shown beyond it', () => {
  const lies = placed(pane, landscape, part(0.9, 0.1, 1, 0.9));
  expect(lies.left + lies.width).toBeCloseTo(200);
});

test('wherever the part is, all of it is seen', () => {
  for (const asked of [
    part(0.1, 0.2, 0.8, 0.9),
    part(0, 0, 1, 1),
    part(0.5, 0, 0.6, 1),
    part(0, 0.9, 0.05, 1),
  ]) {
    const lies = placed(pane, landscape, asked);
    for (const [x, y] of [at(lies, asked.left, asked.top), at(lies, asked.right, asked.bottom)]) {
      expect(x).toBeGreaterThan(-1e-9);
      expect(x).toBeLessThan(200 + 1e-9);
      expect(y).toBeGreaterThan(-1e-9);
      expect(y).toBeLessThan(280 + 1e-9);
    }
  }
});

test('who is very far away is not drawn out of a handful of pixels', () => {
  const lies = placed(pane, landscape, part(0.5, 0.5, 0.51, 0.52));
  expect(lies.width).toBe(2560);
});
