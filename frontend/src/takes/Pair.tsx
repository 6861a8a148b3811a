/** Instructor and student side by side, locked by count, and how they are played. */
import { useState } from 'react';
import type { ClipView } from '../api/schema';
import { Clip } from '../clips/Clip';
import type { Player } from '../clips/player';
import { useSeen } from '../clips/usePlayer';
import { Choices } from '../ui/Choices';
import { useKeys } from '../ui/keys';

type Props = { reference: ClipView | null; take: ClipView; player: Player; className: string };

export function Pair({ reference, take, player, className }: Props) {
  const [whole, setWhole] = useState(false);
  const fps = reference?.fps ?? 30;
  useKeys({
    ' ': () => player.toggle(),
    v: () => setWhole(!whole),
    'Shift+ArrowLeft': () => player.frame(-1, fps),
    'Shift+ArrowRight': () => player.frame(1, fps),
  });
  return (
    <div className="grid grid-cols-2 gap-2">
      {reference && (
        <Clip
          {...{ player, whole, className }}
          clip={reference}
          side="lead"
          whose="teach"
          label="instructor"
        />
      )}
      <Clip
        {...{ player, whole, className }}
        clip={take}
        side="follow"
        whose="me"
        label={`you, take ${take.number}`}
      />
    </div>
  );
}

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
