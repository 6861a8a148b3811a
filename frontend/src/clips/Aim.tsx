/** Somebody in the picture chosen by keyboard: a mark that the arrows move, and Enter. */
import { type KeyboardEvent, useEffect, useRef, useState } from 'react';
import type { ClipView } from '../api/schema';

type Place = { x: number; y: number };
type Props = { clip: ClipView; turned: boolean; onPick: (place: Place) => void };

const STEP = 0.02;
const FAR = 5;

export function Aim({ clip, turned, onPick }: Props) {
  const mark = useRef<SVGGElement>(null);
  const [at, setAt] = useState<Place>({ x: 0.5, y: 0.45 });
  useEffect(() => mark.current?.focus(), []);
  const press = (event: KeyboardEvent) => {
    if (event.key === 'Enter') onPick(at);
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (!way) return;
    event.preventDefault();
    const step = STEP * (event.shiftKey ? FAR : 1);
    const [right = 0, down = 0] = way;
    const inside = (v: number) => Math.min(1, Math.max(0, v));
    setAt({ x: inside(at.x + (turned ? -1 : 1) * right * step), y: inside(at.y + down * step) });
  };
  const size = clip.height / 14;
  return (
    <svg
      viewBox={`0 0 ${clip.width} ${clip.height}`}
      className={`pointer-events-none absolute inset-0 h-full w-full ${turned ? '-scale-x-100' : ''}`}
    >
      <title>the body to follow</title>
      <g
        ref={mark}
        role="slider"
        tabIndex={0}
        aria-label="the body to follow"
        aria-valuenow={Math.round(100 * at.x)}
        aria-valuetext={`${Math.round(100 * at.x)} % across, ${Math.round(100 * at.y)} % down`}
        transform={`translate(${at.x * clip.width} ${at.y * clip.height})`}
        className="stroke-paper outline-none"
        strokeWidth={clip.height / 110}
        onKeyDown={press}
      >
        <path
          d={`M${-size} 0H${size}M0 ${-size}V${size}`}
          className="stroke-ink"
          strokeWidth={clip.height / 60}
        />
        <path d={`M${-size} 0H${size}M0 ${-size}V${size}`} />
      </g>
    </svg>
  );
}
