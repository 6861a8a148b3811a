import { useEffect, useState, useSyncExternalStore } from 'react';
import { useKeys } from '../ui/keys';
import { Player } from './player';

/** A player that lives as long as its screen. */
export function usePlayer(): Player {
  const [player] = useState(() => new Player());
  useEffect(() => () => player.pause(), [player]);
  return player;
}

/** Something plain that is read off the player; the component draws again only when it has changed. */
export const useSeen = <T extends string | number | boolean | null>(
  player: Player,
  read: (p: Player) => T,
): T => useSyncExternalStore(player.subscribe, () => read(player));

/** The keys that every screen with a clip has. */
export function usePlayKeys(player: Player, fps: number) {
  useKeys({
    ' ': () => player.toggle(),
    'Shift+ArrowLeft': () => player.frame(-1, fps),
    'Shift+ArrowRight': () => player.frame(1, fps),
  });
}
