/** The one sentence over the sheet: which stretch of the clip is the run, and how that is known. */
import type { ReactNode } from 'react';
import { useJob } from '../api/queries';
import type { ClipView, OtherView, RoutineView, Span } from '../api/schema';
import { time } from '../ui/format';

type SaidProps = {
  routine: RoutineView;
  clip: ClipView;
  other: OtherView | null;
  run: Span;
  changed: boolean;
};

export function RunSaid({ routine, clip, other, run, changed }: SaidProps): ReactNode {
  const job = useJob(routine.id, clip);
  const looking = job?.step === 'glance' && (job.state === 'queued' || job.state === 'running');
  const ends = `${time(run.from_s, 0)} to ${time(run.to_s, 0)}`;
  if (looking && !clip.run) return <b>The run is being looked for.</b>;
  if (clip.awaits_run && clip.long?.proposed && same(run, clip.long.proposed))
    return (
      <>
        <b>The run is found:</b> {ends}, {clip.long.said}.
      </>
    );
  if (!clip.playable) return <b>The clip is being made ready to play.</b>;
  if (clip.awaits_run && clip.long && !clip.long.proposed && !changed) return <b>{clip.long.said}</b>;
  if (clip.awaits_run && !clip.long?.proposed && run.to_s - run.from_s >= clip.duration_s)
    return <b>{clip.long?.said ?? 'Drag the ends to the run: the routine danced through once, at tempo.'}</b>;
  if (changed)
    return (
      <>
        <b>{ends}:</b> only this is measured, once you take it.
      </>
    );
  if (other?.said)
    return (
      <>
        <b>{other.said}:</b> {other.sure}.
      </>
    );
  if (clip.assembled)
    return (
      <>
        <b>Put together row by row,</b> at the tempo of the fastest.
      </>
    );
  return clip.run ? (
    <>
      <b>The run:</b> {ends}.
    </>
  ) : (
    <>
      <b>The whole clip is the run.</b> Drag its ends where there is more in it.
    </>
  );
}

const same = (a: Span, b: Span) => a.from_s === b.from_s && a.to_s === b.to_s;
