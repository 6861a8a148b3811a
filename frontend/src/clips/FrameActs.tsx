import type { Player } from './player';
import { useSeen } from './usePlayer';

/** A frame back, a frame on, play. */
export function FrameActs({ player, fps }: { player: Player; fps: number }) {
  const playing = useSeen(player, (p) => p.playing);
  return (
    <div className="flex flex-wrap gap-4">
      <button type="button" className="act" aria-label="a frame back" onClick={() => player.frame(-1, fps)}>
        ‹ frame
      </button>
      <button type="button" className="act" aria-label="a frame on" onClick={() => player.frame(1, fps)}>
        frame ›
      </button>
      <button type="button" className="act" onClick={() => player.toggle()}>
        {playing ? 'stop' : 'play'}
        <kbd>Space</kbd>
      </button>
    </div>
  );
}
