/** Whether the instructor's left is the student's: what the clip tells, what was said of it, and one key to flip it. */
import { useClipActs } from '../api/queries';
import type { ClipView, SidesForm } from '../api/schema';
import { Choices } from '../ui/Choices';
import { useKeys } from '../ui/keys';
import { Trouble } from '../ui/Said';

const FLIPPED = [
  { value: 'plain', text: 'as it was' },
  { value: 'flipped', text: 'flipped by the camera' },
] as const;

type Props = { routine: number; clip: ClipView; told: SidesForm | undefined };

export function WhoseLeft({ routine, clip, told }: Props) {
  const acts = useClipActs(routine);
  const { flipped } = clip;
  const mirrored = clip.mirrored ?? told?.mirrored ?? null;
  const say = (now: boolean | null) => acts.sides.mutate({ clip: clip.id, said: { flipped, mirrored: now } });
  const flip = () => say(!mirrored);
  useKeys({ m: flip });
  return (
    <section aria-label="whose left is left" className="flex flex-col gap-2 border-t border-hair pt-2.5">
      <div className="flex items-baseline gap-4">
        <p className="min-w-0">
          <b>{mirrored === null ? 'Mirrored or not?' : mirrored ? 'Mirrored' : 'Not mirrored'}</b>
          {clip.mirrored !== null
            ? `, as you said: the instructor’s ${mirrored ? 'right is your left' : 'left is yours'}.`
            : told?.mirrored != null
              ? `, ${Math.round(100 * told.certainty)}% sure: ${told.why}.`
              : ` ${told?.why ?? ''}`}
        </p>
        {mirrored === null ? (
          <span className="ml-auto flex gap-3">
            <button type="button" className="act" onClick={() => say(false)}>
              not mirrored
            </button>
            <button type="button" className="act" onClick={() => say(true)}>
              mirrored<kbd>M</kbd>
            </button>
          </span>
        ) : (
          <button type="button" className="act ml-auto" onClick={flip}>
            flip<kbd>M</kbd>
          </button>
        )}
      </div>
      <Choices
        label="the picture is"
        value={flipped ? 'flipped' : 'plain'}
        options={FLIPPED}
        onChange={(v) =>
          acts.sides.mutate({ clip: clip.id, said: { flipped: v === 'flipped', mirrored: clip.mirrored } })
        }
      />
      {acts.sides.error && <Trouble>{acts.sides.error.message}</Trouble>}
    </section>
  );
}
