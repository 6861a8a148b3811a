/** The instructor's clip in Count: what it is, its frames, its measuring, and where the counts lie in it. */
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { type useEdits, useWave } from '../api/queries';
import type { ClipView, RoutineView } from '../api/schema';
import { useUpload } from '../api/useUpload';
import { Clip } from '../clips/Clip';
import { ClipWork } from '../clips/ClipWork';
import { FrameActs } from '../clips/FrameActs';
import type { Player } from '../clips/player';
import { useSeen } from '../clips/usePlayer';
import { Ask } from '../ui/Ask';
import { ClipInput, chooseFile, DropPlace } from '../ui/DropPlace';
import { time } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Trouble } from '../ui/Said';
import { Sending } from '../ui/Sending';
import { GridPanel } from './GridPanel';

type ReferenceProps = {
  routine: RoutineView;
  player: Player;
  edits: ReturnType<typeof useEdits>;
  row: number | undefined;
};

export function Reference({ routine, player, edits, row }: ReferenceProps) {
  const upload = useUpload();
  const [replacing, setReplacing] = useState(false);
  const replace = (file: File) => upload.begin(`/api/routines/${routine.id}/reference`, file);
  const clip = routine.reference;
  const wave = useWave(clip?.id, clip?.playable ?? false);
  const input = useRef<HTMLInputElement>(null);
  useKeys({ n: () => (clip ? setReplacing(true) : chooseFile()) });
  if (!clip)
    return (
      <>
        <DropPlace
          title="Drop the instructor’s clip here"
          note="the routine danced through, the whole body in shot; a whole tutorial will do"
          act="Choose the clip"
          onFile={replace}
        />
        <Sending upload={upload} />
      </>
    );
  return (
    <>
      <div className="flex gap-4">
        <Clip
          {...{ player, clip }}
          side="lead"
          whose="teach"
          label="instructor"
          whole
          className="aspect-4/5 w-[184px] shrink-0"
        />
        <Facts clip={clip} player={player} onReplace={() => setReplacing(true)} />
      </div>
      <Sending upload={upload} />
      <ClipWork routine={routine.id} clip={clip} />
      {clip.awaits_run && clip.job?.state === 'done' && (
        <Trouble>
          This clip holds more than the routine.{' '}
          <Link className="act" to="../watch" relative="path">
            Choose the run in Watch
          </Link>
        </Trouble>
      )}
      <GridPanel {...{ routine, player, edits, row }} peaks={wave.data} />
      <ClipInput ref={input} label="another clip" onFile={replace} />
      {replacing && (
        <Ask
          title="Another clip of the instructor?"
          act="Choose it"
          onAct={() => {
            setReplacing(false);
            input.current?.click();
          }}
          onClose={() => setReplacing(false)}
        >
          <p>
            The clip that is here goes, with its measurements. The sheet and your takes stay; count 1 must be
            placed anew.
          </p>
        </Ask>
      )}
    </>
  );
}

function Facts({ clip, player, onReplace }: { clip: ClipView; player: Player; onReplace: () => void }) {
  const seconds = useSeen(player, (p) => Math.round(p.seconds * 100) / 100);
  return (
    <div className="flex min-w-0 flex-col gap-1.5">
      <b className="truncate">{clip.name}</b>
      <span className="text-soft">
        {time(clip.duration_s, 0)} long, {clip.has_sound ? 'with sound' : 'no sound'}
      </span>
      <span className="text-soft">{clip.fps} frames a second</span>
      <button type="button" className="act self-start" onClick={onReplace}>
        another clip<kbd>N</kbd>
      </button>
      <b className="mt-auto text-[28px] leading-none">{time(seconds)}</b>
      <FrameActs player={player} fps={clip.fps} />
    </div>
  );
}
