/** Nothing tells where count 1 is in a clip, or the student knows better: it is shown by hand. */
import { useState } from 'react';
import type { ClipView, FirstCount } from '../api/schema';
import { useKeys } from '../ui/keys';
import { Alone } from './Alone';
import { usePlayer } from './usePlayer';

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
  const here = () => onPlace({ first_s: player.seconds, percent: Number(percent) || 100 });
  useKeys({ h: here });
  return (
    <section aria-label="Count 1 by hand" className="flex flex-col gap-3">
      <Alone {...{ player, clip, whose, label, onClose }} />
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
