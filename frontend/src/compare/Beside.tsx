/** Which of the instructor's clips the take is beside: the one seen from the nearest angle, or the one chosen. */
import type { useClipActs } from '../api/queries';
import type { RoutineView, TakeResult } from '../api/schema';
import { Choices } from '../ui/Choices';
import { Trouble } from '../ui/Said';

/** No clip has this number. */
const NEAREST = 0;

type Props = { routine: RoutineView; result: TakeResult; acts: ReturnType<typeof useClipActs> };

export function Beside({ routine, result, acts }: Props) {
  const usable = routine.others.filter((o) => o.usable);
  if (!usable.length || !routine.reference) return null;
  const clips = [
    { value: routine.reference.id, text: 'the first clip' },
    ...usable.map(({ clip, said }) => ({ value: clip.id, text: said ?? clip.name })),
  ];
  const nearest = clips.find((c) => c.value === result.reference?.id);
  const found = result.against === null && result.outcome && nearest ? `: ${nearest.text}` : '';
  return (
    <div className="border-t border-hair pt-2.5">
      <Choices
        label="beside"
        value={result.against ?? NEAREST}
        options={[{ value: NEAREST, text: `the nearest angle${found}` }, ...clips]}
        onChange={(v) => acts.against.mutate({ clip: result.take.id, reference: v === NEAREST ? null : v })}
      />
      {acts.against.error && <Trouble>{acts.against.error.message}</Trouble>}
    </div>
  );
}
