/** What the check says of the sheet as a whole: what to do next, what disagrees, the order to scale. */
import { Link } from 'react-router';
import type { RoutineView } from '../api/schema';
import { many } from '../ui/format';
import type { Proposed } from './proposed';

export function WhatNext({
  routine,
  typing,
  proposed,
}: {
  routine: RoutineView;
  typing: { reading?: { problem: unknown } | undefined };
  proposed: Proposed;
}) {
  if (typing.reading?.problem) return <b>This row can’t be read yet.</b>;
  if (!routine.rows.length && proposed.fresh.length)
    return (
      <>
        <b>Read off the clip: {many(proposed.fresh.length, 'row')}.</b> Look them through, take what is right.
      </>
    );
  if (!routine.rows.length)
    return (
      <>
        <b>Type the routine’s rows:</b> a line for each phrase, as you count it.
      </>
    );
  if (!routine.grid)
    return (
      <>
        <b>Place count 1</b> in the clip, and say the tempo or a later count.
      </>
    );
  if (routine.remark) return <b>{routine.remark}</b>;
  const off = [
    ...new Set(routine.findings.filter((f) => f.row > 0 && f.about !== 'unseen').map((f) => f.row)),
  ];
  if (off.length)
    return (
      <>
        <b>{many(off.length, 'thing')} to settle</b> before you learn it: {rowsSaid(off)}.
      </>
    );
  const take = routine.takes.length ? 'Compare' : 'drop your take in Compare';
  return (
    <>
      <b>The sheet is counted.</b> Next:{' '}
      <Link className="act" to="../compare" relative="path">
        {take}
      </Link>
    </>
  );
}

const rowsSaid = (rows: readonly number[]) => {
  const [last, ...before] = rows.toReversed();
  return before.length ? `rows ${before.toReversed().join(', ')} and ${last}` : `row ${last}`;
};

type FindingsProps = { routine: RoutineView; onMend: (sheet: RoutineView['sheet']) => void };

/** What disagrees in the sheet as a whole. */
export function Findings({ routine, onMend }: FindingsProps) {
  // that the sheet is longer than the clip is the sentence on top already
  const whole = routine.findings.filter((f) => f.row === 0 && !(routine.remark && f.about === 'length'));
  if (!whole.length) return null;
  return (
    <ul className="pb-1.5 text-sm bench:pl-[104px]">
      {whole.map((f) => (
        <li key={f.text}>
          {f.text}{' '}
          {f.mend && (
            <button type="button" className="act" onClick={() => f.mend && onMend(f.mend.sheet)}>
              {f.mend.says}
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}

/** The sections as they follow each other, true to length, over the music's own ones. */
export function Order({ routine }: { routine: RoutineView }) {
  const { rows, total, eights } = routine;
  const starts = rows.filter((r) => r.heading);
  const parts = starts.map((r, i) => ({ row: r, counts: (starts[i + 1]?.start ?? total) - r.start }));
  const share = (counts: number) => `${(100 * counts) / total}%`;
  return (
    <figure className="pt-3 bench:pl-[104px]" aria-label="the order, to scale">
      <div className="relative h-6 max-w-[656px]">
        {parts.map(({ row, counts }) => (
          <span
            key={row.number}
            className={`absolute top-0 h-5 truncate border border-edge bg-paper px-1 text-center text-[12px] leading-[18px] ${
              routine.findings.some((f) => f.row === row.number && f.about === 'music')
                ? 'border-b-[3px] border-b-ink'
                : ''
            }`}
            style={{ left: share(row.start), width: share(counts) }}
          >
            {row.heading}
          </span>
        ))}
      </div>
      <div className="relative h-2.5 max-w-[656px]" aria-hidden>
        {eights.map((at) => (
          <span key={at} className="absolute top-0 h-2 w-[2px] bg-teach" style={{ left: share(at) }} />
        ))}
      </div>
      <figcaption className="text-[12.5px] text-soft">
        the order{eights.length ? <span className="text-teach">, over the music’s own 1s</span> : null}
      </figcaption>
    </figure>
  );
}
