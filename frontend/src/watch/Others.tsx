/** The instructor's clips of this routine: the first, on which it is counted, and those beside it. */
import { type ReactNode, useCallback, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { useClipActs } from '../api/queries';
import type { ClipView, OtherView, RoutineView, Uploaded } from '../api/schema';
import { useUpload } from '../api/useUpload';
import { Replacing } from '../clips/Replacing';
import { Ask } from '../ui/Ask';
import { chooseFile, DropAct } from '../ui/DropPlace';
import { time } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Trouble } from '../ui/Said';
import { Sending } from '../ui/Sending';

type Props = {
  routine: RoutineView;
  /** Which one is looked at. */
  clip: ClipView;
  acts: ReturnType<typeof useClipActs>;
  onPlace: () => void;
};

export function Others({ routine, clip, acts, onPlace }: Props) {
  const go = useNavigate();
  const added = useCallback(
    (made: Uploaded) => go(`/routines/${made.routine}/watch?clip=${made.clip}`),
    [go],
  );
  const upload = useUpload(added);
  const [leaving, setLeaving] = useState<OtherView | null>(null);
  useKeys({ n: chooseFile });
  const { reference, others } = routine;
  if (!reference) return null;
  return (
    <section aria-label="the instructor’s clips" className="flex flex-col gap-2 border-t border-hair pt-2.5">
      {others.length > 0 && (
        <ol>
          <Row shown={reference} looked={clip}>
            {reference.assembled ? 'put together: ' : 'the first: '}the sheet is counted on it
          </Row>
          {others.map((o) => (
            <Row key={o.clip.id} shown={o.clip} looked={clip}>
              {o.said ?? <span className="text-soft">{o.waiting ?? 'its counts are being looked for'}</span>}
              {o.clip.id === clip.id && (
                <span className="flex flex-wrap gap-x-4 text-sm">
                  <button type="button" className="act" onClick={onPlace}>
                    count 1 by hand
                  </button>
                  <button type="button" className="act text-soft" onClick={() => setLeaving(o)}>
                    delete it
                  </button>
                </span>
              )}
            </Row>
          ))}
        </ol>
      )}
      <Replacing routine={routine} />
      <div>
        <DropAct
          text="Another clip: slow, from the back, the feet"
          short="Another clip"
          onFile={(file) => upload.begin(`/api/routines/${routine.id}/references`, file)}
        />
      </div>
      <Sending upload={upload} />
      {(acts.remove.error || acts.place.error) && (
        <Trouble>{(acts.remove.error ?? acts.place.error)?.message}</Trouble>
      )}
      {leaving && (
        <Ask
          title="Delete this clip of the instructor?"
          act="Delete it for good"
          onAct={() =>
            acts.remove.mutate(leaving.clip.id, {
              onSuccess: () => go(`/routines/${routine.id}/watch`),
              onSettled: () => setLeaving(null),
            })
          }
          onClose={() => setLeaving(null)}
        >
          <p>What was measured of it goes; takes that were beside it are compared with another one.</p>
        </Ask>
      )}
    </section>
  );
}

type RowProps = { shown: ClipView; looked: ClipView; children: ReactNode };

function Row({ shown, looked, children }: RowProps) {
  const here = shown.id === looked.id;
  const { from_s, to_s } = shown.run ?? { from_s: 0, to_s: shown.duration_s };
  return (
    <li className={`flex items-center gap-3 py-1 ${here ? 'bg-wash' : ''}`}>
      {shown.playable ? (
        <img
          src={`/api/clips/${shown.id}/picture?at=${((from_s + to_s) / 2).toFixed(2)}&tall=80`}
          alt=""
          className="size-10 shrink-0 rounded-[2px] object-cover"
        />
      ) : (
        <span className="size-10 shrink-0 bg-hair" />
      )}
      <span className="min-w-0 flex-1">
        <span className="block truncate text-sm text-soft">
          {shown.name}, {time(from_s, 0)} to {time(to_s, 0)}
        </span>
        {children}
      </span>
      {here ? (
        <span className="text-sm text-soft">shown</span>
      ) : (
        <Link className="act" to={`?clip=${shown.id}`}>
          look at it
        </Link>
      )}
    </li>
  );
}
