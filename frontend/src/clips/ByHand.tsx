/** Nothing tells where count 1 is in a clip, or the student knows better: it is shown by hand. */
import { useState } from 'react';
import type { ClipView, FirstCount } from '../api/schema';
import { time } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Clip } from './Clip';
import { FrameActs } from './FrameActs';
import { usePlayer, useSeen } from './usePlayer';

type Props = {
  clip: ClipView;
  whose: 'teach' | 'me';
  label: string;
  onPlace: (at: FirstCount | null) => void;
  onClose: () => void;
};

export function ByHand({ clip, whose, label, onPlace, onClose }: Props) {
  const player = usePlayer();
  const [percent, setPercent] = useState('100');
  const seconds = useSeen(player, (p) => Math.round(p.seconds * 100) / 100);
  const here = () => onPlace({ first_s: player.seconds, percent: Number(percent) || 100 });
  useKeys({
    ' ': () => player.toggle(),
    h: here,
    'Shift+ArrowLeft': () => player.frame(-1, clip.fps),
    'Shift+ArrowRight': () => player.frame(1, clip.fps),
    Escape: onClose,
  });
  return (
    <section aria-label="Count 1 by hand" className="flex flex-col gap-3">
      <Clip {...{ player, clip, whose, label }} side="lead" whole className="h-[260px]" />
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
      <label className="flex items-baseline gap-2">
        danced at
        <input
          className="w-16 text-center"
          inputMode="numeric"
          value={percent}
          onChange={(e) => setPercent(e.target.value)}
        />
        <span className="text-soft">% of the instructor’s tempo</span>
      </label>
      <div className="flex flex-wrap items-baseline gap-6">
        <button type="button" className="main" onClick={here}>
          Count 1 is here<kbd>H</kbd>
        </button>
        {clip.first_s !== null && (
          <button type="button" className="act" onClick={() => onPlace(null)}>
            Find it again
          </button>
        )}
        <button type="button" className="act" onClick={onClose}>
          Leave it<kbd>Esc</kbd>
        </button>
      </div>
      {whose === 'me' && (
        <p className="text-sm text-soft">
          By hand, nobody can tell a constant lag from a late start: the whole take’s lag is taken out.
        </p>
      )}
    </section>
  );
}
