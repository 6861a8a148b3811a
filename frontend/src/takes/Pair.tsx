/** Instructor and student side by side, locked by count, and how they are played. */
import { useState } from 'react';
import type { ClipView, FrameForm, LineForm, MarksForm, Outcome } from '../api/schema';
import { Clip } from '../clips/Clip';
import { WHOLE } from '../clips/framing';
import type { Drawn } from '../clips/Lines';
import type { Player } from '../clips/player';
import { usePlayKeys, useSeen } from '../clips/usePlayer';
import { Choices } from '../ui/Choices';
import { useKeys } from '../ui/keys';

type Props = {
  reference: ClipView | null;
  take: ClipView;
  /** Where the dancers are in their pictures. */
  outcome: Outcome | null;
  /** What is off, while the clips stand where it is seen. */
  marks?: MarksForm | null;
  /** How long after the count the student is shown, where that is asked for. */
  moment?: string | undefined;
  player: Player;
  className: string;
};

/** Until it is known where they are: the picture's whole height, about its middle. */
const MIDDLE: FrameForm = { left: 0.5, top: 0, right: 0.5, bottom: 1 };

export function Pair({ reference, take, outcome, marks, moment, player, className }: Props) {
  const [whole, setWhole] = useState(false);
  const fps = reference?.fps ?? 30;
  usePlayKeys(player, fps);
  useKeys({ v: () => setWhole(!whole) });
  return (
    <div className="grid grid-cols-2 gap-2">
      {reference && (
        <Clip
          {...{ player, className }}
          part={whole ? WHOLE : (outcome?.reference_frame ?? MIDDLE)}
          lines={inked('teach', marks?.reference)}
          clip={reference}
          side="lead"
          whose="teach"
          label="instructor"
        />
      )}
      <Clip
        {...{ player, className }}
        part={whole ? WHOLE : (outcome?.take_frame ?? MIDDLE)}
        lines={[...inked('teach', marks?.meant), ...inked('me', marks?.own)]}
        clip={take}
        side="follow"
        whose="me"
        label={moment ? `you, ${moment}` : `you, take ${take.number}`}
      />
    </div>
  );
}

const inked = (whose: Drawn['whose'], lines: readonly LineForm[] = []): Drawn[] =>
  lines.map((line) => ({ ...line, whose }));

const PERCENTS = [50, 75, 100].map((value) => ({ value, text: `${value} %` }));
const SOUNDS = [
  { value: 'lead', text: 'instructor’s' },
  { value: 'follow', text: 'yours' },
  { value: 'none', text: 'none' },
] as const;

export function Tempo({ player }: { player: Player }) {
  const percent = useSeen(player, (p) => p.percent);
  return <Choices label="at" value={percent} options={PERCENTS} onChange={(v) => player.setPercent(v)} />;
}

export function SoundOf({ player }: { player: Player }) {
  const sound = useSeen(player, (p) => p.sound);
  return <Choices label="sound" value={sound} options={SOUNDS} onChange={(v) => player.setSound(v)} />;
}

export function PlayAct({ player, main = false }: { player: Player; main?: boolean }) {
  const playing = useSeen(player, (p) => p.playing);
  return (
    <button type="button" className={main ? 'main' : 'act'} onClick={() => player.toggle()}>
      {playing ? 'Stop' : 'Play'}
      <kbd>Space</kbd>
    </button>
  );
}
