/** Counts and seconds of a play copy, as the server laid them: straight between its points and on beyond them. */
export type Point = { at: number; seconds: number };
export type Line = readonly Point[];

export const secondsOf = (line: Line, at: number) => along(line, at, 'at', 'seconds');
export const atOf = (line: Line, seconds: number) => along(line, seconds, 'seconds', 'at');

function along(line: Line, x: number, from: keyof Point, to: keyof Point): number {
  const after = line.findIndex((p) => p[from] > x);
  const right = after < 0 ? line.length - 1 : Math.max(after, 1);
  const [a, b] = [line[right - 1], line[right]];
  if (!a || !b) throw new RangeError('a line needs two points');
  return a[to] + ((x - a[from]) * (b[to] - a[to])) / (b[from] - a[from]);
}
