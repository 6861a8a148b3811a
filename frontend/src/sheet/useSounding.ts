import type { RowView } from '../api/schema';
import { atOf, type Line } from '../clips/line';
import type { Player } from '../clips/player';
import { useSeen } from '../clips/usePlayer';
import { type Chosen, sounding } from './choosing';

/** The count that sounds while the clips play. */
export function useSounding(player: Player, rows: readonly RowView[], line: Line | undefined): Chosen | null {
  const key = useSeen(player, (p) => {
    const heard = p.playing && line ? sounding(rows, atOf(line, p.seconds)) : null;
    return heard && `${heard.phrase}|${heard.label}`;
  });
  const [phrase, label] = key?.split('|') ?? [];
  return phrase && label ? { phrase: Number(phrase), label } : null;
}
