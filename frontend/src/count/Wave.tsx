/** The clip's sound on one line, the rows over it, and the grid's posts to drag by their feet. */
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import type { Wave as Peaks, RowView } from '../api/schema';
import { time } from '../ui/format';

const WIDTH = 411;
const MIDDLE = 44;

export type Post = { name: string; seconds: number; move: (seconds: number) => void };
type Props = {
  peaks: Peaks | undefined;
  duration: number;
  rows: readonly RowView[];
  row: number | undefined;
  now: number;
  posts: readonly Post[];
  onSeek: (seconds: number) => void;
};

export function Wave({ peaks, duration, rows, row, now, posts, onSeek }: Props) {
  const line = useRef<SVGSVGElement>(null);
  const x = (seconds: number) => (seconds / duration) * WIDTH;
  const at = (event: PointerEvent) => {
    const box = line.current?.getBoundingClientRect();
    if (!box) return 0;
    return Math.max(0, Math.min(1, (event.clientX - box.left) / box.width)) * duration;
  };
  const placed = rows.filter((r) => r.begins_s !== null && r.begins_s <= duration);
  const end = placed.find((r) => r.number === (row ?? 0) + 1)?.begins_s ?? duration;
  const begin = placed.find((r) => r.number === row)?.begins_s;
  return (
    <div>
      <div className="flex justify-between text-[13px] font-semibold text-soft">
        <span>Sound of the clip: drag a post by its foot</span>
        <span>
          {time(0, 0)} to {time(duration, 0)}
        </span>
      </div>
      <svg
        ref={line}
        viewBox={`0 0 ${WIDTH} 126`}
        className="w-full touch-none overflow-visible select-none"
        role="application"
        aria-label="the clip’s sound and the grid’s posts"
        onPointerDown={(e) => onSeek(at(e))}
      >
        {begin != null && end != null && (
          <rect x={x(begin)} y={16} width={x(end) - x(begin)} height={58} className="fill-wash" />
        )}
        {peaks && <path d={outline(peaks.peaks)} className="fill-teach/50" />}
        {!peaks?.peaks.some((p) => p > 0) && (
          <line x1={0} x2={WIDTH} y1={MIDDLE} y2={MIDDLE} className="stroke-edge" />
        )}
        {placed.map((r) => (
          <g key={r.number}>
            <line x1={x(r.begins_s ?? 0)} x2={x(r.begins_s ?? 0)} y1={16} y2={74} className="stroke-edge" />
            <text
              x={x(r.begins_s ?? 0) + 3}
              y={12}
              fontSize={12.5}
              className={r.number === row ? 'fill-ink font-bold' : 'fill-soft'}
            >
              {r.number}
            </text>
          </g>
        ))}
        <line
          x1={x(now)}
          x2={x(now)}
          y1={14}
          y2={78}
          className="stroke-ink"
          strokeWidth={1.2}
          strokeDasharray="3 2.5"
        />
        {posts.map((p) => (
          <Foot key={p.name} post={p} x={x} at={at} frame={1 / 30} />
        ))}
      </svg>
    </div>
  );
}

/** The loudest of each pixel, mirrored at the middle. */
function outline(peaks: readonly number[]): string {
  const step = peaks.length / WIDTH;
  const tops = Array.from({ length: WIDTH }, (_, i) =>
    Math.max(
      0.01,
      ...peaks.slice(Math.floor(i * step), Math.max(Math.floor(i * step) + 1, Math.floor((i + 1) * step))),
    ),
  );
  const up = tops.map((v, i) => `${i} ${(MIDDLE - v * 26).toFixed(1)}`);
  const down = tops.map((v, i) => `${i} ${(MIDDLE + v * 26).toFixed(1)}`).toReversed();
  return `M${up.join('L')}L${down.join('L')}Z`;
}

type FootProps = {
  post: Post;
  x: (seconds: number) => number;
  at: (e: PointerEvent) => number;
  frame: number;
};

function Foot({ post, x, at, frame }: FootProps) {
  const [held, setHeld] = useState<number | null>(null);
  const seconds = held ?? post.seconds;
  const nudge = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -frame, ArrowRight: frame }[event.key];
    if (!by) return;
    event.preventDefault();
    post.move(post.seconds + by);
  };
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={post.name}
      aria-valuenow={Math.round(seconds * 100) / 100}
      aria-valuetext={time(seconds)}
      className="cursor-ew-resize"
      onKeyDown={nudge}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        setHeld(post.seconds);
      }}
      onPointerMove={(e) => held !== null && setHeld(at(e))}
      onPointerUp={(e) => {
        if (held !== null && Math.abs(at(e) - post.seconds) > frame / 4) post.move(at(e));
        setHeld(null);
      }}
      onPointerCancel={() => setHeld(null)}
    >
      <rect x={x(seconds) - 14} y={72} width={28} height={36} fill="transparent" />
      <line x1={x(seconds)} x2={x(seconds)} y1={18} y2={86} className="stroke-ink" strokeWidth={2.4} />
      <path
        d={`M${x(seconds) - 8} 102v-5a8 8 0 0 1 16 0v5z`}
        className={`stroke-ink ${held === null ? 'fill-paper' : 'fill-ink'}`}
        strokeWidth={1.4}
      />
      <text
        x={Math.max(22, Math.min(WIDTH - 26, x(seconds)))}
        y={119}
        fontSize={13}
        fontWeight={650}
        textAnchor="middle"
        className="fill-ink"
      >
        {post.name}
      </text>
    </g>
  );
}
