/** A clip that is to take the first one’s place, and those that had it: the first stays until the new one is whole. */
import { useState } from 'react';
import { useClipActs, useJob } from '../api/queries';
import type { ClipView, RoutineView } from '../api/schema';
import { Ask } from '../ui/Ask';
import { Progress } from '../ui/Progress';
import { Trouble } from '../ui/Said';

export function Replacing({ routine }: { routine: RoutineView }) {
  const acts = useClipActs(routine.id);
  const [leaving, setLeaving] = useState<ClipView | null>(null);
  return (
    <>
      {routine.coming && <Coming routine={routine} clip={routine.coming} acts={acts} />}
      {routine.former.map((clip) => (
        <p key={clip.id} className="flex flex-wrap items-baseline gap-x-3 text-sm text-soft">
          <span className="min-w-0 truncate">{clip.name} was here before; undo brings it back.</span>
          <button type="button" className="act" onClick={() => setLeaving(clip)}>
            delete it for good
          </button>
        </p>
      ))}
      {acts.remove.error && <Trouble>{acts.remove.error.message}</Trouble>}
      {leaving && (
        <Ask
          title={`Delete ${leaving.name}?`}
          act="Delete it for good"
          onAct={() => {
            acts.remove.mutate(leaving.id);
            setLeaving(null);
          }}
          onClose={() => setLeaving(null)}
        >
          <p>Its file and what was measured of it go. Undo can’t bring it back any more.</p>
        </Ask>
      )}
    </>
  );
}

type ComingProps = { routine: RoutineView; clip: ClipView; acts: ReturnType<typeof useClipActs> };

function Coming({ routine, clip, acts }: ComingProps) {
  const job = useJob(routine.id, clip);
  if (job?.state === 'failed' || job?.state === 'cancelled')
    return (
      <Trouble>
        <p>
          <b>{clip.name}:</b> {job.error ?? 'This was stopped.'} The clip that was here stays.
        </p>
        <p className="flex gap-5 pt-1">
          <button type="button" className="act" onClick={() => acts.measure.mutate(clip.id)}>
            Try it again
          </button>
          <button type="button" className="act" onClick={() => acts.remove.mutate(clip.id)}>
            Leave it out
          </button>
        </p>
      </Trouble>
    );
  if (!job) return null;
  return (
    <div className="flex flex-col gap-1">
      <p className="text-sm">
        <b>{clip.name}</b> takes the place of the clip that is here as soon as it is ready.
      </p>
      <Progress
        job={job}
        onCancel={() => acts.cancel.mutate(clip.id)}
        note="You may go to another page: it goes on. Cancel stops it, and the clip that is here stays."
      />
    </div>
  );
}
