/** A line under everybody's feet: solid under the one who is followed, dotted under the others. */
import { useFeet } from '../api/queries';
import type { ClipView } from '../api/schema';
import type { Player } from './player';
import { useSeen } from './usePlayer';

/** Seconds beyond which what was seen tells nothing of the frame shown. */
const NEAR_S = 0.3;

export function Feet({ clip, player, turned }: { clip: ClipView; player: Player; turned: boolean }) {
  const feet = useFeet(clip.id, clip.measured).data;
  const look = useSeen(player, (p) => (feet ? nearest(feet.seconds, p.seconds) : -1));
  const lines = feet?.people[look] ?? [];
  return (
    <svg
      viewBox={`0 0 ${clip.width} ${clip.height}`}
      className={`pointer-events-none absolute inset-0 h-full w-full ${turned ? '-scale-x-100' : ''}`}
      aria-hidden
    >
      {lines.map((l) => (
        <line
          key={l.x1}
          x1={l.x1 * clip.width}
          x2={l.x2 * clip.width}
          y1={l.y * clip.height}
          y2={l.y * clip.height}
          className={l.followed ? 'stroke-teach' : 'stroke-paper'}
          strokeWidth={clip.height / (l.followed ? 70 : 110)}
          strokeDasharray={l.followed ? undefined : `${clip.height / 110} ${clip.height / 80}`}
        />
      ))}
    </svg>
  );
}

function nearest(seconds: readonly number[], now: number): number {
  const after = seconds.findIndex((s) => s >= now);
  const right = after < 0 ? seconds.length - 1 : after;
  const away = (k: number) => Math.abs((seconds[k] ?? Number.POSITIVE_INFINITY) - now);
  const best = away(right - 1) < away(right) ? right - 1 : right;
  return away(best) <= NEAR_S ? best : -1;
}
