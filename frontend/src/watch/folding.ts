/** A clip's time folded like the sheet: lines of two minutes, or one line where it is hardly longer. Seconds, pixels. */
import type { Span } from '../api/schema';

export const LINE_S = 120;
export const WIDTH = 411;

export type Piece = { line: number; x1: number; x2: number };

/** Seconds of one line. */
export const lineOf = (duration: number) => (duration <= 1.25 * LINE_S ? duration : LINE_S);

export const linesIn = (duration: number) => Math.max(1, Math.ceil(duration / lineOf(duration) - 1e-6));

/** Where a moment stands. */
export function placed(seconds: number, duration: number): { line: number; x: number } {
  const lasts = lineOf(duration);
  const line = Math.min(linesIn(duration) - 1, Math.max(0, Math.floor(seconds / lasts)));
  return { line, x: ((seconds - line * lasts) / lasts) * WIDTH };
}

/** The moment that stands there. */
export function moment(line: number, x: number, duration: number): number {
  const at =
    (Math.max(0, Math.min(linesIn(duration) - 1, line)) + Math.max(0, Math.min(1, x / WIDTH))) *
    lineOf(duration);
  return Math.max(0, Math.min(duration, at));
}

/** A span, cut where a line ends. */
export function pieces({ from_s, to_s }: Span, duration: number): Piece[] {
  const first = placed(from_s, duration).line;
  const last = placed(Math.max(from_s, to_s - 1e-6), duration).line;
  return Array.from({ length: last - first + 1 }, (_, k) => {
    const line = first + k;
    const edge = (at: number) => ((at - line * lineOf(duration)) / lineOf(duration)) * WIDTH;
    return { line, x1: Math.max(0, edge(from_s)), x2: Math.min(WIDTH, edge(to_s)) };
  });
}

/** The longest piece carries the name. */
export const longest = (all: readonly Piece[]) =>
  all.reduce((best, p) => (p.x2 - p.x1 > best.x2 - best.x1 ? p : best));
