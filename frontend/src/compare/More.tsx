import { useState } from 'react';
import type { useClipActs } from '../api/queries';
import type { ClipView, RoutineView } from '../api/schema';
import { Ask } from '../ui/Ask';
import { DropAct } from '../ui/DropPlace';
import { Tick } from '../ui/Tick';

type MoreProps = {
  routine: RoutineView;
  take: ClipView;
  acts: ReturnType<typeof useClipActs>;
  measured: boolean;
  onAdd: (file: File) => void;
  onPlace: () => void;
  onFollow: () => void;
  onGone: () => void;
};

/** Another take, count 1 by hand, how closely to look, and the take's deletion. */
export function More({ routine, take, acts, measured, onAdd, onPlace, onFollow, onGone }: MoreProps) {
  const [leaving, setLeaving] = useState(false);
  return (
    <div className="mt-auto flex flex-wrap items-baseline gap-x-6 gap-y-2 border-t border-hair pt-2.5 text-sm phone:border-0 phone:pt-0">
      <DropAct text="Another take: drop it here, or choose" short="Another take" onFile={onAdd} />
      {measured && (
        <button type="button" className="act hidden phone:inline-block" onClick={onPlace}>
          by hand
        </button>
      )}
      <button type="button" className="act" onClick={onFollow}>
        several people in it?<kbd>F</kbd>
      </button>
      <Tick
        checked={take.small}
        busy={acts.small.isPending}
        onTick={(small) => acts.small.mutate({ clip: take.id, small })}
      >
        marked small on purpose: timing alone
      </Tick>
      <MeasuredBy {...{ routine, acts }} />
      <button type="button" className="act text-soft" onClick={() => setLeaving(true)}>
        Delete take {take.number}
      </button>
      {leaving && (
        <Ask
          title={`Delete take ${take.number}?`}
          act="Delete it for good"
          onAct={() => acts.remove.mutate(take.id, { onSuccess: onGone, onSettled: () => setLeaving(false) })}
          onClose={() => setLeaving(false)}
        >
          <p>The clip, what was measured of it and its result go. This can’t be undone.</p>
        </Ask>
      )}
    </div>
  );
}

const WAYS = { heavy: 'carefully', full: 'quickly' };
const OTHER = { heavy: 'full', full: 'heavy' } as const;

/** How closely the routine's clips are looked at, and how to change that. */
function MeasuredBy({ routine, acts }: Pick<MoreProps, 'routine' | 'acts'>) {
  const [asking, setAsking] = useState(false);
  const other = OTHER[routine.network];
  const clips = (routine.reference ? 1 : 0) + routine.others.length + routine.takes.length;
  return (
    <>
      <button type="button" className="act" onClick={() => setAsking(true)}>
        measured {WAYS[routine.network]}
      </button>
      {asking && (
        <Ask
          title={`Measure ${WAYS[other]}?`}
          act={`Measure all ${clips} clips anew`}
          onAct={() => acts.network.mutate(other, { onSettled: () => setAsking(false) })}
          onClose={() => setAsking(false)}
        >
          <p>
            Looked at carefully, your body is grossly mistaken a third less often, above all its arms, and
            left is hardly ever taken for right. Looked at quickly, a clip takes little more than half the
            time.
          </p>
          <p className="pt-3">
            Clips that are compared are always measured by the same one, so all of this routine are measured
            anew. What was measured before goes; your sheet, its counts and your clips stay.
          </p>
        </Ask>
      )}
    </>
  );
}
