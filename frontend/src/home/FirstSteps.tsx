const STEPS: readonly [string, string][] = [
  ['The instructor’s clip', 'dropped at the left; measured while you go on'],
  ['The counts', 'where 1 is, then a line for each phrase: 1 2 3 & 4 - 6 7 8'],
  [
    'Your take',
    'any camera, the whole body in shot; it is measured, and the sheet says which rows to redrill',
  ],
];

/** The empty sheet: its first three rows are the three steps. */
export const FirstSteps = () => (
  <ol>
    {STEPS.map(([name, does], i) => (
      <li
        key={name}
        className="grid grid-cols-[40px_1fr] items-center gap-x-4 gap-y-1 pb-8 bench:grid-cols-[88px_448px_1fr]"
      >
        <b className={`text-[40px] leading-none bench:pl-4 ${i ? 'text-soft' : ''}`}>{i + 1}</b>
        <svg viewBox="0 0 448 60" className="hidden border border-hair bg-paper bench:block" aria-hidden>
          {Array.from({ length: 8 }, (_, k) => k * 56).map((x, k) => (
            <g key={x}>
              {k > 0 && <line x1={x} x2={x} y1={0} y2={60} className="stroke-hair" />}
              {i === 1 && (
                <text
                  x={x + 28}
                  y={40}
                  textAnchor="middle"
                  fontSize={24}
                  fontWeight={650}
                  className="fill-ink"
                >
                  {k === 4 ? '-' : k + 1}
                </text>
              )}
              {i !== 1 && (
                <line x1={x + 28} x2={x + 28} y1={8} y2={48} className="stroke-teach" strokeWidth={1.4} />
              )}
              {i === 2 && (
                <line
                  x1={x + 28 + Math.max(0, k - 2) * 3}
                  x2={x + 28 + Math.max(0, k - 2) * 3}
                  y1={8}
                  y2={48}
                  className="stroke-me"
                  strokeWidth={k > 3 ? 4.4 : 2.8}
                  strokeLinecap="round"
                />
              )}
            </g>
          ))}
        </svg>
        <p className="text-sm">
          <b>{name}</b>
          <br />
          <span className="text-soft">{does}</span>
        </p>
      </li>
    ))}
    <li className="text-[13px] text-soft bench:pl-[104px]">
      thin: the instructor; thick: you. Here you fall behind from 4, so the drill starts there.
    </li>
  </ol>
);
