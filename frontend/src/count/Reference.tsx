/** The instructor's clip in Count: what it is, its frames, its measuring, and its sound with the counts on it. */
import { type ReactNode, useRef, useState } from 'react';
import { Link } from 'react-router';
import { useBeats, useWave } from '../api/queries';
import type { ClipView, RoutineView, RowView } from '../api/schema';
import { useUpload } from '../api/useUpload';
import { Clip } from '../clips/Clip';
import { ClipWork } from '../clips/ClipWork';
import { FrameActs } from '../clips/FrameActs';
import type { Player } from '../clips/player';
import { Remark } from '../clips/Remark';
import { Replacing } from '../clips/Replacing';
import { useSeen } from '../clips/usePlayer';
import { Ask } from '../ui/Ask';
import { ClipInput, chooseFile, DropPlace } from '../ui/DropPlace';
import { time } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Trouble } from '../ui/Said';
import { Sending } from '../ui/Sending';
import { type Post, Wave } from './Wave';

type ReferenceProps = {
  routine: RoutineView;
  player: Player;
  row: RowView | undefined;
  posts: readonly Post[];
  panel: ReactNode;
};

export function Reference({ routine, player, row, posts, panel }: ReferenceProps) {
  const upload = useUpload();
  const [replacing, setReplacing] = useState(false);
  const replace = (file: File) => upload.begin(`/api/routines/${routine.id}/reference`, file);
  const clip = routine.reference;
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
        {routine.rows.length > 0 && panel}
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
          className="aspect-4/5 w-[184px] shrink-0"
        />
        <Facts clip={clip} player={player} onReplace={() => setReplacing(true)} />
      </div>
      <Sending upload={upload} />
      <Remark clip={clip} />
      <Replacing routine={routine} />
      <ClipWork routine={routine.id} clip={clip} />
      {clip.awaits_run && clip.job?.state === 'done' && (
        <Trouble>
          This clip holds more than the routine.{' '}
          <Link className="act" to="../watch" relative="path">
            Choose the run in Watch
          </Link>
        </Trouble>
      )}
      <Sound {...{ routine, player, row, posts, clip }} />
      {panel}
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
            The clip that is here stays until the new one is ready, and undo brings it back. The sheet and
            your takes stay; count 1 must be placed anew.
          </p>
        </Ask>
      )}
    </>
  );
}

type SoundProps = Omit<ReferenceProps, 'panel'> & { clip: ClipView };

/** Counts before and after a row that are seen with it. */
const AROUND = 1;

function Sound({ routine, player, row, posts, clip }: SoundProps) {
  const peaks = useWave(clip.id, clip.playable).data;
  const beats = useBeats(routine.id, clip).data?.paces[0]?.seconds ?? [];
  const now = useSeen(player, (p) => Math.round(p.seconds * 50) / 50);
  const counts = routine.grid?.counts_s;
  const begin = row && counts?.[Math.max(0, row.start - AROUND)];
  const end = row && counts?.[Math.min(counts.length - 1, row.start + row.counts + AROUND)];
  const zoomed = begin !== undefined && end !== undefined && end > begin;
  return (
    <Wave
      {...{ peaks, now, posts, beats }}
      from={zoomed ? begin : 0}
      to={zoomed ? end : clip.duration_s}
      rows={routine.rows}
      row={zoomed ? row : undefined}
      onSeek={(s) => player.seek(s)}
    />
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
