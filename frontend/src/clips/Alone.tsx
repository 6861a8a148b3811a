/** One clip alone, with a place to drag and its frames: where something is shown in it by hand. */
import type { ReactNode } from 'react';
import type { ClipView } from '../api/schema';
import { time } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Clip } from './Clip';
import { FrameActs } from './FrameActs';
import type { Player } from './player';
import { usePlayKeys, useSeen } from './usePlayer';

type Props = {
  player: Player;
  clip: ClipView;
  whose: 'teach' | 'me';
  label: string;
  onPick?: Parameters<typeof Clip>[0]['onPick'];
  onClose: () => void;
  /** What is drawn over the picture. */
  children?: ReactNode;
};

export function Alone({ player, clip, onClose, ...shown }: Props) {
  const seconds = useSeen(player, (p) => Math.round(p.seconds * 100) / 100);
  usePlayKeys(player, clip.fps);
  useKeys({ Escape: onClose });
  return (
    <>
      <Clip {...{ player, clip }} {...shown} side="lead" className="h-[260px]" />
      <input
        type="range"
        aria-label="place in the clip"
        className="w-full accent-ink"
        min={0}
        max={clip.duration_s}
        step={0.01}
        value={seconds}
        onChange={(e) => player.seek(Number(e.target.value))}
      />
      <div className="flex flex-wrap items-baseline gap-4">
        <b className="text-[28px] leading-none">{time(seconds)}</b>
        <FrameActs player={player} fps={clip.fps} />
      </div>
    </>
  );
}
