/** Lines over a picture, each in the ink of whose it is. */
import type { CSSProperties } from 'react';
import type { LineForm } from '../api/schema';

export type Drawn = LineForm & { whose: 'teach' | 'me' };

export function Lines({ drawn, lies }: { drawn: readonly Drawn[]; lies: CSSProperties }) {
  if (!drawn.length) return null;
  return (
    <svg
      viewBox="0 0 1 1"
      preserveAspectRatio="none"
      style={lies}
      className="pointer-events-none absolute max-w-none"
      aria-hidden
    >
      {drawn.flatMap(({ whose, ...ends }) =>
        (['paper', whose] as const).map((ink) => (
          <line
            key={`${whose} ${ends.x1} ${ends.y1} ${ink}`}
            {...ends}
            className={ink === 'paper' ? 'stroke-paper' : ink === 'teach' ? 'stroke-teach' : 'stroke-me'}
            strokeWidth={ink === 'paper' ? 7 : 4}
            strokeLinecap="round"
            vectorEffect="non-scaling-stroke"
          />
        )),
      )}
    </svg>
  );
}
