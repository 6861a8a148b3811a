import { useCallback } from 'react';
import type { Player, Side } from './player';

type Props = {
  player: Player;
  side: Side;
  clip: { id: number; playable: boolean };
  label: string;
  whose: 'teach' | 'me';
  whole: boolean;
  className: string;
  /** As in a mirror. */
  turned?: boolean;
};

/** One clip with whose it is: the instructor's foot is solid, the student's broken. */
export function Clip({ player, side, clip, label, whose, whole, className, turned = false }: Props) {
  const attach = useCallback((video: HTMLVideoElement | null) => player.attach(side, video), [player, side]);
  return (
    <div className={`relative overflow-hidden rounded-[3px] bg-[#222] ${className}`}>
      {clip.playable ? (
        // biome-ignore lint/a11y/useMediaCaption: a dancer's practice clip has no words to caption
        <video
          key={clip.id}
          ref={attach}
          src={`/api/clips/${clip.id}/play`}
          className={`h-full w-full ${whole ? 'object-contain' : 'object-cover'} ${turned ? '-scale-x-100' : ''}`}
          aria-label={label}
          playsInline
          preload="auto"
        />
      ) : (
        <p className="absolute inset-x-3 top-1/3 text-sm text-ground">
          This clip is being made ready to play.
        </p>
      )}
      <span className="absolute left-[7px] top-1.5 max-w-[90%] truncate rounded-xs bg-[#15171bcc] px-[7px] pb-0.5 pt-px text-sm phone:left-1 phone:px-1 phone:text-[11.5px] font-semibold text-paper">
        {label}
      </span>
      <i className={`absolute inset-x-0 bottom-0 h-[5px] ${whose === 'teach' ? 'foot-teach' : 'foot-me'}`} />
    </div>
  );
}
