/** A take without a result: why, how far it is, what can be done. */
import { Link } from 'react-router';
import type { useClipActs } from '../api/queries';
import type { ClipView, JobView, RoutineView } from '../api/schema';
import { Progress } from '../ui/Progress';
import { Trouble } from '../ui/Said';

type NotYetProps = {
  live: JobView | null;
  job: JobView | null;
  take: ClipView;
  waiting: string | null;
  acts: ReturnType<typeof useClipActs>;
  onPlace: () => void;
};

/** Why the sheet is empty yet, and what can be done. */
export function NotYet({ live, job, take, waiting, acts, onPlace }: NotYetProps) {
  if (live) return <Progress job={live} onCancel={() => acts.cancel.mutate(take.id)} />;
  const compared = job?.step === 'compare';
  return (
    <Trouble>
      <p>
        {job?.state === 'cancelled' ? 'Measuring was stopped. The clip is kept.' : (job?.error ?? waiting)}
      </p>
      <p className="flex flex-wrap gap-5 pt-2">
        {!take.measured && (
          <button type="button" className="act" onClick={() => acts.measure.mutate(take.id)}>
            Measure it
          </button>
        )}
        {compared && job.state === 'failed' && (
          <button type="button" className="act" onClick={onPlace}>
            Show count 1 by hand
          </button>
        )}
      </p>
    </Trouble>
  );
}

/** The same in the one sentence over the sheet. */
export function Meanwhile({
  routine,
  take,
  live,
}: {
  routine: RoutineView;
  take: ClipView | undefined;
  live: JobView | null;
}) {
  if (!routine.grid || !routine.rows.length)
    return (
      <>
        <b>Count first:</b> the sheet and count 1 are what a take is laid against.{' '}
        <Link className="act" to="../count" relative="path">
          To Count
        </Link>
      </>
    );
  if (!take)
    return (
      <>
        <b>Drop your take:</b> it is measured at once, and the sheet says what to redrill.
      </>
    );
  return live ? (
    <>
      <b>Take {take.number} is being measured:</b> the sheet fills when it is done.
    </>
  ) : (
    <b>Take {take.number} has no result.</b>
  );
}
