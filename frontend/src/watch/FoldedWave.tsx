/** The whole clip's sound, folded; what goes on in it, named under it; and the run, framed, with an end to drag on each side. */
import { type KeyboardEvent, type PointerEvent, useId, useMemo, useRef, useState } from 'react';
import type { LongClipView, Span, StretchView, Wave } from '../api/schema';
import type { Player } from '../clips/player';
import { useSeen } from '../clips/usePlayer';
import { Hatched } from '../sheet/marks';
import { time } from '../ui/format';
import { lineOf, linesIn, longest, moment, pieces, placed, WIDTH } from './folding';

const PITCH = 42;
const MIDDLE = 11;
const LOUDEST = 10;
const STEP_S = 0.5;

type Props = {
  wave: Wave | undefined;
  duration: number;
  long: LongClipView | null;
  run: Span;
  /** Where nobody is followed. */
  lost: readonly Span[];
  player: Player;
  onSeek: (seconds: number) => void;
  /** Null where its ends are only shown. */
  onRun: ((run: Span) => void) | null;
};

export function FoldedWave({ wave, duration, long, run, lost, player, onSeek, onRun }: Props) {
  const box = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<Span | null>(null);
  const clip = useId();
  const shown = held ?? run;
  const lines = Array.from({ length: linesIn(duration) }, (_, k) => k);
  const outlines = useMemo(
    () => Array.from({ length: linesIn(duration) }, (_, k) => wave && outlineOf(wave, k, duration)),
    [wave, duration],
  );
  const at = (event: PointerEvent) => {
    const { left, top, width, height } = box.current?.getBoundingClientRect() ?? new DOMRect(0, 0, 1, 1);
    const y = ((event.clientY - top) / height) * lines.length;
    return moment(Math.floor(y), ((event.clientX - left) / width) * WIDTH, duration);
  };
  const whole = shown.from_s <= 0 && shown.to_s >= duration;
  return (
    <div>
      <div className="flex justify-between text-[13px] font-semibold text-soft">
        <span>The whole clip, {time(duration, 0)}</span>
        {lines.length > 1 && <span>two minutes a line</span>}
      </div>
      <svg
        ref={box}
        viewBox={`0 0 ${WIDTH} ${lines.length * PITCH}`}
        className="w-full touch-none overflow-visible select-none"
        role="application"
        aria-label="the clip’s sound, its stretches and the run"
        onPointerDown={(e) => onSeek(at(e))}
      >
        <clipPath id={clip}>
          {pieces(shown, duration).map((p) => (
            <rect key={p.line} x={p.x1} width={p.x2 - p.x1} y={p.line * PITCH} height={PITCH - 18} />
          ))}
        </clipPath>
        {lines.map((line) => {
          const outline = outlines[line];
          return (
            <g key={line}>
              <g transform={`translate(0 ${line * PITCH})`}>
                <path d={outline} className="fill-edge/60" />
                <line x1={0} x2={WIDTH} y1={MIDDLE} y2={MIDDLE} className="stroke-edge/60" />
              </g>
              <g clipPath={`url(#${clip})`}>
                <path d={outline} transform={`translate(0 ${line * PITCH})`} className="fill-teach" />
              </g>
            </g>
          );
        })}
        {lost
          .flatMap((l) => pieces(l, duration))
          .map((p) => (
            <Hatched
              key={`${p.line} ${p.x1}`}
              x={p.x1}
              y={p.line * PITCH}
              width={Math.max(2, p.x2 - p.x1)}
              height={2 * MIDDLE}
            />
          ))}
        {long?.stretches.map((s) => (
          <Stretch key={s.from_s} stretch={s} duration={duration} />
        ))}
        {!whole &&
          pieces(shown, duration).map((p) => (
            <path
              key={p.line}
              d={`M${p.x1} ${p.line * PITCH}H${p.x2}M${p.x1} ${p.line * PITCH + 23}H${p.x2}`}
              className="stroke-ink"
              strokeWidth={2}
            />
          ))}
        <Cursor player={player} duration={duration} />
        {onRun && (
          <>
            <End
              name="where the run begins"
              seconds={shown.from_s}
              {...{ duration, at }}
              onHold={(s) => setHeld({ ...shown, from_s: Math.min(s, shown.to_s - STEP_S) })}
              onDrop={() => {
                if (held) onRun(held);
                setHeld(null);
              }}
              onStep={(by) =>
                onRun({ ...run, from_s: Math.min(Math.max(0, run.from_s + by), run.to_s - STEP_S) })
              }
            />
            <End
              name="where the run ends"
              seconds={shown.to_s}
              {...{ duration, at }}
              onHold={(s) => setHeld({ ...shown, to_s: Math.max(s, shown.from_s + STEP_S) })}
              onDrop={() => {
                if (held) onRun(held);
                setHeld(null);
              }}
              onStep={(by) =>
                onRun({ ...run, to_s: Math.max(Math.min(duration, run.to_s + by), run.from_s + STEP_S) })
              }
            />
          </>
        )}
      </svg>
    </div>
  );
}

const LINES: Record<StretchView['kind'], { width: number; dash?: string }> = {
  run: { width: 3 },
  counted: { width: 3, dash: '9 4' },
  slow: { width: 3, dash: '3 5' },
  talk: { width: 1.2 },
  other: { width: 1.2 },
  empty: { width: 0 },
};

/** Danced is thick: whole to music, dashed when counted, dotted when slow; the rest is a hairline. */
function Stretch({ stretch, duration }: { stretch: StretchView; duration: number }) {
  const cut = pieces(stretch, duration);
  const named = longest(cut);
  const { width, dash } = LINES[stretch.kind];
  const thick = width > 2;
  const room = named.x2 - named.x1;
  return (
    <g>
      {cut.map((p) => (
        <line
          key={p.line}
          x1={p.x1 + 1}
          x2={Math.max(p.x1 + 1, p.x2 - 1)}
          y1={p.line * PITCH + 27}
          y2={p.line * PITCH + 27}
          className={thick ? 'stroke-ink' : 'stroke-hair'}
          strokeWidth={width}
          strokeDasharray={dash}
        />
      ))}
      {room > stretch.said.length * 5.4 && (
        <text
          x={named.x1 + 2}
          y={named.line * PITCH + 39.5}
          fontSize={12}
          className={thick ? 'fill-ink font-semibold' : 'fill-soft'}
        >
          {stretch.said}
        </text>
      )}
    </g>
  );
}

/** Where the clip stands; it alone is drawn again while the clip plays. */
function Cursor({ player, duration }: { player: Player; duration: number }) {
  const seconds = useSeen(player, (p) => Math.round(p.seconds * 20) / 20);
  const { line, x } = placed(seconds, duration);
  return (
    <line
      x1={x}
      x2={x}
      y1={line * PITCH - 2}
      y2={line * PITCH + 25}
      className="stroke-ink"
      strokeWidth={1.2}
      strokeDasharray="3 2.5"
    />
  );
}

/** The loudest of each pixel of a line, mirrored at the middle. */
function outlineOf(wave: Wave, line: number, duration: number): string {
  const first = line * lineOf(duration) * wave.per_second;
  const step = (lineOf(duration) * wave.per_second) / WIDTH;
  const tops = Array.from({ length: WIDTH }, (_, x) => {
    const from = Math.floor(first + x * step);
    return Math.max(0, ...wave.peaks.slice(from, Math.max(from + 1, Math.floor(first + (x + 1) * step))));
  });
  const up = tops.map((v, x) => `${x} ${(MIDDLE - v * LOUDEST).toFixed(1)}`);
  const down = tops.map((v, x) => `${x} ${(MIDDLE + v * LOUDEST).toFixed(1)}`).toReversed();
  return `M${up.join('L')}L${down.join('L')}Z`;
}

type EndProps = {
  name: string;
  seconds: number;
  duration: number;
  at: (event: PointerEvent) => number;
  onHold: (seconds: number) => void;
  onDrop: () => void;
  onStep: (by: number) => void;
};

function End({ name, seconds, duration, at, onHold, onDrop, onStep }: EndProps) {
  const [held, setHeld] = useState(false);
  const { line, x } = placed(seconds, duration);
  const step = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -STEP_S, ArrowRight: STEP_S, ArrowUp: -10, ArrowDown: 10 }[event.key];
    if (!by) return;
    event.preventDefault();
    onStep(by);
  };
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuemin={0}
      aria-valuemax={Math.round(duration)}
      aria-valuenow={Math.round(seconds * 10) / 10}
      aria-valuetext={time(seconds, 1)}
      className="cursor-ew-resize"
      onKeyDown={step}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        setHeld(true);
      }}
      onPointerMove={(e) => held && onHold(at(e))}
      onPointerUp={() => {
        setHeld(false);
        onDrop();
      }}
      onPointerCancel={() => {
        setHeld(false);
        onDrop();
      }}
    >
      <rect x={x - 12} y={line * PITCH - 6} width={24} height={36} fill="transparent" />
      <line
        x1={x}
        x2={x}
        y1={line * PITCH - 1}
        y2={line * PITCH + 24}
        className="stroke-ink"
        strokeWidth={2.4}
      />
      <rect
        x={x - 4}
        y={line * PITCH + 5}
        width={8}
        height={13}
        rx={2}
        className={`stroke-ink ${held ? 'fill-ink' : 'fill-paper'}`}
        strokeWidth={1.6}
      />
    </g>
  );
}
