import { describe, expect, it } from 'vitest';
import { linesIn, moment, pieces, placed, WIDTH } from './folding';

describe('a clip folded into lines', () => {
  it('stands on one line while it is short', () => {
    expect(linesIn(140)).toBe(1);
    expect(placed(70, 140)).toEqual({ line: 0, x: WIDTH / 2 });
  });
  it('cuts a span where a line ends', () => {
    const cut = pieces({ from_s: 100, to_s: 270 }, 600);
    expect(cut.map((p) => p.line)).toEqual([0, 1, 2]);
    expect(cut[0]?.x2).toBe(WIDTH);
    expect(cut[1]).toEqual({ line: 1, x1: 0, x2: WIDTH });
  });
  it('ends on the line that it fills', () => {
    expect(pieces({ from_s: 0, to_s: 120 }, 600)).toEqual([{ line: 0, x1: 0, x2: WIDTH }]);
    expect(linesIn(240)).toBe(2);
  });
  it('finds the moment that it has drawn', () => {
    for (const seconds of [0, 59.5, 121, 300, 599]) {
      const { line, x } = placed(seconds, 600);
      expect(moment(line, x, 600)).toBeCloseTo(seconds, 6);
    }
  });
  it('never leaves the clip', () => {
    expect(moment(9, WIDTH, 550)).toBe(550);
    expect(moment(-1, -20, 550)).toBe(0);
  });
});
