/** The marks of one count. Shape and place carry the meaning, colour only supports it. */
import { useId } from 'react';
import type { CountForm } from '../api/schema';
import type { Box } from './Sheet';

type Props = { count: CountForm; sure: boolean; heldWell: boolean; box: Box; countMs: number };

/** How a count was danced: the thin line is the count, the thick mark the student, the sill what of the body held. */
export function Marks({ count, sure, heldWell, box, countMs }: Props) {
  const { timing, position } = count;
  const free = timing.verdict === 'free' && position.verdict === 'free';
  const unseen = timing.verdict === 'not-seen' && position.verdict === 'not-seen';
  if (unseen) return <Hatched x={1} y={1} width={box.width - 2} height={box.height - 3} />;
  if (free) return <Free box={box} />;
  return (
    <>
      {count.hold ? (
        <Hold box={box} early={timing.verdict === 'ahead'} />
      ) : (
        <Timing {...{ timing, sure, box, countMs }} />
      )}
      <Sill {...{ position, heldWell, box }} />
      {box.tall && !count.hold && <Ticks box={box} countMs={countMs} />}
    </>
  );
}

const top = (box: Box) => (box.tall ? 17 : 4);
const foot = (box: Box) => box.height - (box.tall ? 14 : 10);

function Timing({
  timing,
  sure,
  box,
  countMs,
}: {
  timing: CountForm['timing'];
  sure: boolean;
  box: Box;
  countMs: number;
}) {
  const middle = box.width / 2;
  const [y1, y2] = [top(box), foot(box)];
  const count = <line x1={middle} x2={middle} {...{ y1, y2 }} className="stroke-teach" strokeWidth={1.3} />;
  if (timing.error_counts === null) return count;
  const shift = timing.error_counts * box.unit;
  const limit = middle - 3;
  const beyond = Math.abs(shift) > limit;
  const x = middle + Math.max(-limit, Math.min(limit, shift));
  const width = timing.verdict === 'on' ? 2.8 : 4.4;
  const whisker = Math.max(2, ((timing.se_ms ?? 0) / countMs) * box.unit * 2);
  return (
    <g strokeLinecap="round">
      {count}
      {beyond ? (
        <g className="stroke-me">
          <line x1={x} x2={x} {...{ y1, y2 }} strokeWidth={2.2} />
          <line
            x1={x - Math.sign(shift) * 4}
            x2={x - Math.sign(shift) * 4}
            y1={y1 + 3}
            y2={y2 - 3}
            strokeWidth={1.6}
          />
        </g>
      ) : (
        <g className="stroke-me">
          {box.tall && (
            <line x1={x - whisker} x2={x + whisker} y1={(y1 + y2) / 2} y2={(y1 + y2) / 2} strokeWidth={1.1} />
          )}
          <line
            x1={x}
            x2={x}
            {...{ y1, y2 }}
            strokeWidth={width}
            strokeDasharray={sure ? undefined : '2 5'}
          />
        </g>
      )}
    </g>
  );
}

type SillProps = { position: CountForm['position']; heldWell: boolean; box: Box };

function Sill({ position, heldWell, box }: SillProps) {
  const y = box.height - (box.tall ? 7 : 5.5);
  const full = box.width - 8;
  if (position.verdict === 'free') return null;
  if (position.held === null) return <Hatched x={4} y={y - 3} width={full} height={6} />;
  return (
    <g>
      <line x1={4} x2={4 + full} y1={y} y2={y} className="stroke-hair" strokeWidth={2.6} />
      <line
        x1={4}
        x2={4 + full * position.held}
        y1={y}
        y2={y}
        className={heldWell ? 'stroke-sill' : 'stroke-me'}
        strokeWidth={heldWell ? 2.6 : 5}
      />
    </g>
  );
}

/** Thin over thick; left early, the thick one stops short and a mark stands after it. */
function Hold({ box, early }: { box: Box; early: boolean }) {
  const middle = box.width / 2;
  const half = Math.min(10, middle - 3);
  const y = (top(box) + foot(box)) / 2;
  return (
    <g strokeLinecap="round">
      <line
        x1={middle - half}
        x2={middle + half}
        y1={y - 3.5}
        y2={y - 3.5}
        className="stroke-teach"
        strokeWidth={1.3}
      />
      <line
        x1={middle - half}
        x2={middle + (early ? 1 : half)}
        y1={y + 2}
        y2={y + 2}
        className="stroke-me"
        strokeWidth={3}
      />
      {early && (
        <line
          x1={middle + half}
          x2={middle + half}
          y1={top(box)}
          y2={foot(box)}
          className="stroke-me"
          strokeWidth={2.8}
        />
      )}
    </g>
  );
}

export const Free = ({ box }: { box: Box }) => (
  <rect
    x={5}
    y={5 + (box.tall ? 12 : 0)}
    width={Math.max(4, box.width - 10)}
    height={Math.max(4, box.height - 11 - (box.tall ? 12 : 0))}
    className="fill-none stroke-soft"
    strokeWidth={1.5}
    strokeDasharray=".1 4.5"
    strokeLinecap="round"
  />
);

export function Hatched({ x, y, width, height }: { x: number; y: number; width: number; height: number }) {
  const id = useId();
  return (
    <>
      <pattern id={id} width={6} height={6} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <line x1={0} x2={0} y1={0} y2={6} className="stroke-edge" strokeWidth={1.6} />
      </pattern>
      <rect {...{ x, y, width, height }} fill={`url(#${id})`} />
    </>
  );
}

/** Each 100 ms to either side. */
function Ticks({ box, countMs }: { box: Box; countMs: number }) {
  const marks = [-200, -100, 0, 100, 200].map((ms) => ({ ms, x: box.width / 2 + (ms / countMs) * box.unit }));
  return marks
    .filter(({ x }) => x > 1 && x < box.width - 1)
    .map(({ ms, x }) => (
      <line
        key={ms}
        x1={x}
        x2={x}
        y1={box.height - 12}
        y2={box.height - (ms ? 9.5 : 8.5)}
        className="stroke-edge"
      />
    ));
}

/** The scale, told once under the sheet. */
export function Scale({ countMs }: { countMs: number }) {
  const box: Box = { width: 112, height: 26, unit: 112, tall: false };
  const timing = {
    verdict: 'behind',
    error_ms: 100,
    error_counts: 100 / countMs,
    se_ms: null,
    start_ms: null,
    why: null,
  } as const;
  return (
    <div className="flex flex-wrap items-center gap-2 pt-2 text-[13px] text-soft">
      <span className="bench:w-24 bench:text-right">ahead</span>
      <svg width={113} height={27} aria-hidden className="border border-hair bg-paper">
        <Timing timing={timing} sure box={{ ...box, height: 24 }} countMs={countMs} />
        {[-2, -1, 0, 1, 2].map((k) => (
          <line
            key={k}
            x1={56 + k * 112 * (100 / countMs)}
            x2={56 + k * 112 * (100 / countMs)}
            y1={21}
            y2={25}
            className="stroke-edge"
          />
        ))}
      </svg>
      <span>behind; a cell is one count, {countMs} ms; a tick 100 ms; the mark here, 100 ms behind</span>
    </div>
  );
}
