/** Pencil tallies, the fifth across: as people tick off repetitions by hand. */
export function Tally({ n, height = 14 }: { n: number; height?: number }) {
  const strokes = Array.from({ length: Math.min(n, 4) }, (_, k) => 6 + k * 7);
  return (
    <svg role="img" aria-label={`need ${n} of 5`} width={42} height={height + 4} className="shrink-0">
      <g className="stroke-ink" strokeWidth={2.4} strokeLinecap="round">
        {strokes.map((x) => (
          <line key={x} x1={x} y1={height + 2} x2={x + 2} y2={2} />
        ))}
        {n >= 5 && <line x1={2} y1={height - 1} x2={33} y2={5} />}
      </g>
    </svg>
  );
}
