/** The clip's sound on one line: the whole with its rows, or the chosen row with a foot on each of its counts. */
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import type { Wave as Peaks, RowView } from '../api/schema';
import { time } from '../ui/format';

const WIDTH = 411;
const MIDDLE = 44;
/** Pixels within which a foot that is let go stands on the beat. */
const SNAP = 5;

export type Post = {
  name: string;
  /** What it is called when it is read aloud. */
  label: string;
  seconds: number;
  /** Whether somebody put it there: others lie on the line between. */
  anchored: boolean;
  move: (seconds: number) => void;
};
type Props = {
  peaks: Peaks | undefined;
  from: number;
  to: number;
  rows: readonly RowView[];
  row: RowView | undefined;
  now: number;
  posts: readonly Post[];
  /** Seconds of the beats that were heard. */
  beats: readonly number[];
  onSeek: (seconds: number) => void;
};

export function Wave({ peaks, from, to, rows, row, now, posts, beats, onSeek }: Props) {
  const line = useRef<SVGSVGElement>(null);
  const x = (seconds: number) => ((seconds - from) / (to - from)) * WIDTH;
  const at = (event: PointerEvent) => {
    const box = line.current?.getBoundingClientRect();
    if (!box) return from;
    return from + Math.max(0, Math.min(1, (event.clientX - box.left) / box.width)) * (to - from);
  };
  const snapped = (seconds: number) => beats.find((b) => Math.abs(x(b) - x(seconds)) < SNAP) ?? seconds;
  const placed = rows.filter((r) => r.begins_s !== null && r.begins_s >= from && r.begins_s <= to);
  return (
    <div>
      <div className="flex justify-between text-[13px] font-semibold text-soft">
        <span>
          {row ? `Sound of ${row.name || `row ${row.number}`}` : 'Sound of the clip'}: drag a count by its
          foot
        </span>
        <span>
          {time(from, row ? 1 : 0)} to {time(to, row ? 1 : 0)}
        </span>
      </div>
      <svg
        ref={line}
        viewBox={`0 0 ${WIDTH} 122`}
        className="w-full touch-none overflow-visible select-none"
        role="application"
        aria-label="the clip’s sound and where its counts lie"
        onPointerDown={(e) => onSeek(at(e))}
      >
        {peaks && <path d={outline(peaks, from, to)} className="fill-teach/50" />}
        {!peaks?.peaks.some((p) => p > 0) && (
          <line x1={0} x2={WIDTH} y1={MIDDLE} y2={MIDDLE} className="stroke-edge" />
        )}
        {row &&
          beats
            .filter((b) => b >= from && b <= to)
            .map((b) => (
              <line key={b} x1={x(b)} x2={x(b)} y1={70} y2={76} className="stroke-teach" strokeWidth={1.4} />
            ))}
        {!row &&
          placed.map((r) => (
            <g key={r.number}>
              <line x1={x(r.begins_s ?? 0)} x2={x(r.begins_s ?? 0)} y1={16} y2={74} className="stroke-edge" />
              <text x={x(r.begins_s ?? 0) + 3} y={12} fontSize={12.5} className="fill-soft">
                {r.number}
              </text>
            </g>
          ))}
        {now >= from && now <= to && (
          <line
            x1={x(now)}
            x2={x(now)}
            y1={14}
            y2={78}
            className="stroke-ink"
            strokeWidth={1.2}
            strokeDasharray="3 2.5"
          />
        )}
        {posts.map((p) => (
          <Foot key={p.label} post={p} x={x} at={at} snapped={snapped} frame={1 / 30} />
        ))}
      </svg>
    </div>
  );
}

/** The loudest of each pixel, mirrored at the middle. */
function outline({ peaks, per_second }: Peaks, from: number, to: number): string {
  const step = ((to - from) * per_second) / WIDTH;
  const first = from * per_second;
  const tops = Array.from({ length: WIDTH }, (_, i) => {
    const begin = Math.floor(first + i * step);
    return Math.max(0.01, ...peaks.slice(begin, Math.max(begin + 1, Math.floor(first + (i + 1) * step))));
  });
  const up = tops.map((v, i) => `${i} ${(MIDDLE - v * 26).toFixed(1)}`);
  const down = tops.map((v, i) => `${i} ${(MIDDLE + v * 26).toFixed(1)}`).toReversed();
  return `M${up.join('L')}L${down.join('L')}Z`;
}

type FootProps = {
  post: Post;
  x: (seconds: number) => number;
  at: (e: PointerEvent) => number;
  snapped: (seconds: number) => number;
  frame: number;
};

function Foot({ post, x, at, snapped, frame }: FootProps) {
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
      aria-label={post.label}
      aria-valuenow={Math.round(seconds * 100) / 100}
      aria-valuetext={time(seconds)}
      className="cursor-ew-resize"
      onKeyDown={nudge}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        setHeld(post.seconds);
      }}
      onPointerMove={(e) => held !== null && setHeld(snapped(at(e)))}
      onPointerUp={(e) => {
        if (held !== null && Math.abs(at(e) - post.seconds) > frame / 4) post.move(snapped(at(e)));
        setHeld(null);
      }}
      onPointerCancel={() => setHeld(null)}
    >
      <rect x={x(seconds) - 14} y={72} width={28} height={36} fill="transparent" />
      <line
        x1={x(seconds)}
        x2={x(seconds)}
        y1={18}
        y2={86}
        className="stroke-ink"
        strokeWidth={post.anchored ? 2.4 : 1.1}
      />
      <path
        d={`M${x(seconds) - 8} 102v-5a8 8 0 0 1 16 0v5z`}
        className={`stroke-ink ${held === null ? 'fill-paper' : 'fill-ink'}`}
        strokeWidth={1.4}
      />
      <text
        x={Math.max(post.name.length * 3.4, Math.min(WIDTH - post.name.length * 3.4, x(seconds)))}
        y={117}
        fontSize={13}
        fontWeight={post.anchored ? 650 : 450}
        textAnchor="middle"
        className="fill-ink"
      >
        {post.name}
      </text>
    </g>
  );
}
