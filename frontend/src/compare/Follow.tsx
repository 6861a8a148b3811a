/** Several people in the student's own take: which of them it is, clicked in the picture. */
import { useState } from 'react';
import type { useClipActs } from '../api/queries';
import type { ClipView } from '../api/schema';
import { Aim } from '../clips/Aim';
import { Alone } from '../clips/Alone';
import { Feet } from '../clips/Feet';
import { usePlayer } from '../clips/usePlayer';
import { Whose } from '../clips/Whose';

type Props = { take: ClipView; acts: ReturnType<typeof useClipActs>; onClose: () => void };

export function Follow({ take, acts, onClose }: Props) {
  const player = usePlayer();
  const [picking, setPicking] = useState(false);
  const pick = (place: { x: number; y: number }) => {
    setPicking(false);
    acts.follow.mutate({ clip: take.id, click: { ...place, at_s: player.seconds } });
  };
  return (
    <section aria-label="Which one is you" className="flex flex-col gap-3">
      <Alone
        {...{ player, onClose }}
        clip={take}
        whose="me"
        label={`you, take ${take.number}`}
        onPick={picking ? pick : null}
      >
        <Feet clip={take} player={player} turned={false} />
        {picking && <Aim clip={take} turned={false} onPick={pick} />}
      </Alone>
      <Whose clip={take} {...{ player, picking }} onPicking={setPicking} follow={acts.follow} />
      <button type="button" className="act self-start" onClick={onClose}>
        Back to the sheet<kbd>Esc</kbd>
      </button>
    </section>
  );
}
