/** Several people in the student's own take: which of them it is, clicked in the picture. */
import { useState } from 'react';
import type { useClipActs } from '../api/queries';
import type { ClipView } from '../api/schema';
import { Clip } from '../clips/Clip';
import { Feet } from '../clips/Feet';
import { FrameActs } from '../clips/FrameActs';
import { usePlayer, useSeen } from '../clips/usePlayer';
import { Whose } from '../clips/Whose';
import { time } from '../ui/format';
import { useKeys } from '../ui/keys';

type Props = { take: ClipView; acts: ReturnType<typeof useClipActs>; onClose: () => void };

export function Follow({ take, acts, onClose }: Props) {
  const player = usePlayer();
  const [picking, setPicking] = useState(false);
  const seconds = useSeen(player, (p) => Math.round(p.seconds * 100) / 100);
  useKeys({
    ' ': () => player.toggle(),
    'Shift+ArrowLeft': () => player.frame(-1, take.fps),
    'Shift+ArrowRight': () => player.frame(1, take.fps),
    Escape: onClose,
  });
  const pick = (place: { x: number; y: number }) => {
    setPicking(false);
    acts.follow.mutate({ clip: take.id, click: { ...place, at_s: player.seconds } });
  };
  return (
    <section aria-label="Which one is you" className="flex flex-col gap-3">
      <Clip
        {...{ player }}
        clip={take}
        side="lead"
        whose="me"
        label={`you, take ${take.number}`}
        whole
        onPick={picking ? pick : null}
        className="h-[260px]"
      >
        <Feet clip={take} player={player} turned={false} />
      </Clip>
      <input
        type="range"
        aria-label="place in the take"
        className="w-full accent-ink"
        min={0}
        max={take.duration_s}
        step={0.01}
        value={seconds}
        onChange={(e) => player.seek(Number(e.target.value))}
      />
      <div className="flex flex-wrap items-baseline gap-4">
        <b className="text-[28px] leading-none">{time(seconds)}</b>
        <FrameActs player={player} fps={take.fps} />
      </div>
      <Whose clip={take} {...{ player, picking }} onPicking={setPicking} follow={acts.follow} />
      <button type="button" className="act self-start" onClick={onClose}>
        Back to the sheet<kbd>Esc</kbd>
      </button>
    </section>
  );
}
