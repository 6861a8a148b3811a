/** Where the counts lie in the clip: count 1 at a frame, and the tempo or a later count. */
import { useState } from 'react';
import type { useEdits } from '../api/queries';
import type { GridChange, RoutineView } from '../api/schema';
import type { Player } from '../clips/player';
import { useSeen } from '../clips/usePlayer';
import { time } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Trouble } from '../ui/Said';
import { useDraft } from './drafts';
import { type Post, Wave } from './Wave';

type Props = {
  routine: RoutineView;
  player: Player;
  peaks: Parameters<typeof Wave>[0]['peaks'];
  edits: ReturnType<typeof useEdits>;
  row: number | undefined;
};

export function GridPanel({ routine, player, peaks, edits, row }: Props) {
  const now = useSeen(player, (p) => Math.round(p.seconds * 50) / 50);
  const [pending, setPending] = useDraft(`juxtakine first ${routine.id}`);
  const [typed, setTyped] = useState<string | null>(null);
  const [number, setNumber] = useState('9');
  const posts = routine.grid?.posts ?? [];
  const first = posts[0]?.seconds ?? (pending === null ? null : Number(pending));
  // a tempo that was typed is kept as count 2, and has no post to drag
  const later = posts.find((p) => p.count > 2);
  const place = (change: GridChange) =>
    edits.grid.mutate(change, {
      onSuccess: () => {
        setPending(null);
        setTyped(null);
      },
    });
  const moveFirst = (first_s: number) => {
    if (later) place({ first_s, count: later.count, count_s: later.seconds });
    else if (routine.grid) place({ first_s, bpm: routine.grid.bpm });
    else setPending(String(first_s));
  };
  const moveLater = (count: number, count_s: number) =>
    first !== null && place({ first_s: first, count, count_s });
  const here = () => moveFirst(player.seconds);
  const there = () => moveLater(Number(number), player.seconds);
  useKeys({ h: here, g: there });
  const drawn: Post[] = [];
  if (first !== null) drawn.push({ name: 'count 1', seconds: first, move: moveFirst });
  if (later)
    drawn.push({
      name: `count ${later.count}`,
      seconds: later.seconds,
      move: (s) => moveLater(later.count, s),
    });
  const duration = routine.reference?.duration_s ?? 1;
  return (
    <>
      <Wave
        {...{ peaks, duration, now, row }}
        rows={routine.rows}
        posts={drawn}
        onSeek={(s) => player.seek(s)}
      />
      {edits.grid.error && <Trouble>{edits.grid.error.message} The grid before it is kept.</Trouble>}
      <div className="grid grid-cols-[1fr_auto] items-baseline gap-y-2.5">
        <span>
          {first === null ? (
            'Stop at the frame of the first 1'
          ) : (
            <>
              <b>Count 1</b> is at {time(first)}
            </>
          )}
        </span>
        <button type="button" className="act" onClick={here}>
          1 is here<kbd>H</kbd>
        </button>
        <label className="flex items-baseline gap-2">
          <b>Count</b>
          <input
            className="w-14 text-center"
            inputMode="numeric"
            value={number}
            onChange={(e) => setNumber(e.target.value)}
            aria-label="a later count"
          />
          <span className="text-soft">is at the frame shown</span>
        </label>
        <button
          type="button"
          className="act"
          disabled={first === null || !(Number(number) >= 2)}
          onClick={there}
        >
          this is count {number || '…'}
          <kbd>G</kbd>
        </button>
        <label className="flex items-baseline gap-2">
          <b>Tempo</b>
          <input
            className="w-20 text-center"
            inputMode="decimal"
            aria-label="counts a minute"
            value={typed ?? routine.grid?.bpm ?? ''}
            onChange={(e) => setTyped(e.target.value)}
            onKeyDown={(e) =>
              e.key === 'Enter' &&
              first !== null &&
              place({ first_s: first, bpm: Number(e.currentTarget.value) })
            }
          />
          <span className="text-soft">counts a minute</span>
        </label>
        <button
          type="button"
          className="act"
          disabled={first === null || !typed}
          onClick={() => first !== null && place({ first_s: first, bpm: Number(typed) })}
        >
          use this tempo
        </button>
      </div>
      <p className="text-sm text-soft">
        {later
          ? 'The tempo comes from the two posts. The further they stand apart, the better it is known.'
          : 'Say the tempo, or go to a later count, the last 1 say, and tell which it is: that is the surer way.'}
      </p>
    </>
  );
}
