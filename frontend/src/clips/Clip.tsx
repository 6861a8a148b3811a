import { type ReactNode, useCallback, useState } from 'react';
import type { FrameForm } from '../api/schema';
import { placed, type Size, WHOLE } from './framing';
import { type Drawn, Lines } from './Lines';
import type { Player, Side } from './player';

type Props = {
  player: Player;
  side: Side;
  clip: { id: number; playable: boolean };
  label: string;
  whose: 'teach' | 'me';
  /** What of the picture is to be seen; all of it where nothing is said. */
  part?: FrameForm;
  className: string;
  /** As in a mirror. */
  turned?: boolean;
  /** The count that is shown, large over the picture. */
  numeral?: string | undefined;
  /** Somebody in the picture is being chosen: where it is clicked, as shares of the picture. */
  onPick?: ((place: { x: number; y: number }) => void) | null;
  /** Lines over the picture, which stay where they are in it. */
  lines?: readonly Drawn[];
  /** What is drawn over the pane. */
  children?: ReactNode;
};

/** One clip with whose it is: the instructor's foot is solid, the student's broken. */
export function Clip({
  player,
  side,
  clip,
  label,
  whose,
  part = WHOLE,
  className,
  turned = false,
  onPick = null,
  numeral,
  lines = [],
  children,
}: Props) {
  const attach = useCallback((video: HTMLVideoElement | null) => player.attach(side, video), [player, side]);
  const [pane, setPane] = useState<Size | null>(null);
  const [picture, setPicture] = useState<Size | null>(null);
  const measure = useCallback((box: HTMLDivElement) => {
    const observer = new ResizeObserver(([seen]) => seen && setPane(seen.contentRect));
    observer.observe(box);
    return () => observer.disconnect();
  }, []);
  const lies = pane && picture ? placed(pane, picture, part) : { width: '100%', height: '100%' };
  return (
    <div ref={measure} className={`relative overflow-hidden rounded-[3px] bg-[#222] ${className}`}>
      {clip.playable ? (
        // biome-ignore lint/a11y/useMediaCaption: a dancer's practice clip has no words to caption
        <video
          key={clip.id}
          ref={attach}
          src={`/api/clips/${clip.id}/play`}
          className={`absolute max-w-none ${turned ? '-scale-x-100' : ''} ${onPick ? 'cursor-crosshair' : ''}`}
          style={lies}
          aria-label={label}
          playsInline
          preload="auto"
          onLoadedMetadata={({ currentTarget: { videoWidth: width, videoHeight: height } }) =>
            setPicture({ width, height })
          }
          onClick={(e) => onPick?.(placeIn(e.currentTarget, e.clientX, e.clientY, turned))}
        />
      ) : (
        <p className="absolute inset-x-3 top-1/3 text-sm text-ground">
          This clip is being made ready to play.
        </p>
      )}
      {picture && <Lines drawn={lines} lies={lies} />}
      {clip.playable && children}
      <span className="absolute left-[7px] top-1.5 max-w-[90%] truncate rounded-xs bg-[#15171bcc] px-[7px] pb-0.5 pt-px text-sm phone:left-1 phone:px-1 phone:text-[11.5px] font-semibold text-paper">
        {label}
      </span>
      {numeral && (
        <b className="pointer-events-none absolute right-2.5 top-0.5 text-[56px] leading-none text-paper [text-shadow:0_0_5px_#15171b]">
          {numeral}
        </b>
      )}
      <i className={`absolute inset-x-0 bottom-0 h-[5px] ${whose === 'teach' ? 'foot-teach' : 'foot-me'}`} />
    </div>
  );
}

/** The box of the video is its picture. */
function placeIn(video: HTMLVideoElement, clientX: number, clientY: number, turned: boolean) {
  const box = video.getBoundingClientRect();
  const x = (clientX - box.left) / box.width;
  return { x: turned ? 1 - x : x, y: (clientY - box.top) / box.height };
}
