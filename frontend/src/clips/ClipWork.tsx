import { isLive, useClipActs, useJob } from '../api/queries';
import type { ClipView } from '../api/schema';
import { Progress } from '../ui/Progress';
import { Trouble } from '../ui/Said';

/** The instructor's clip being measured, or what came in between. */
export function ClipWork({ routine, clip }: { routine: number; clip: ClipView }) {
  const acts = useClipActs(routine);
  const job = useJob(routine, clip);
  if (!job || clip.measured) return null;
  if (isLive(job)) return <Progress job={job} onCancel={() => acts.cancel.mutate(clip.id)} />;
  if (job.state === 'done') return null;
  return (
    <Trouble>
      {job.error ?? 'Measuring was stopped. The clip is kept.'}{' '}
      <button type="button" className="act" onClick={() => acts.measure.mutate(clip.id)}>
        Measure it
      </button>
    </Trouble>
  );
}
