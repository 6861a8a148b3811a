/** Which count is chosen, and where the keys lead from it. */
import type { CellView, RowView } from '../api/schema';

/** A phrase, numbered from 1, and a count's label in it: "3 &". */
export type Chosen = { phrase: number; label: string };
export type Way = 'left' | 'right' | 'up' | 'down';
export type Place = { row: RowView; cell: CellView };

export function find(rows: readonly RowView[], chosen: Chosen | null): Place | null {
  const row = chosen && rows[chosen.phrase - 1];
  const cell = row?.cells.find((c) => c.label === chosen?.label);
  return row && cell ? { row, cell } : null;
}

/** One cell or one row further; null where there is none. */
export function step(rows: readonly RowView[], chosen: Chosen, way: Way): Chosen | null {
  if (way === 'up' || way === 'down') return vertical(rows, chosen, way === 'up' ? -1 : 1);
  const all = rows.flatMap((row) => row.cells.map((cell) => ({ phrase: row.number, label: cell.label })));
  const here = all.findIndex((c) => c.phrase === chosen.phrase && c.label === chosen.label);
  return all[here + (way === 'left' ? -1 : 1)] ?? null;
}

/** The count under or over this one; where that row has none there, the last one before. */
function vertical(rows: readonly RowView[], chosen: Chosen, by: number): Chosen | null {
  const row = rows[chosen.phrase - 1 + by];
  if (!row?.cells.length) return null;
  const offset = find(rows, chosen)?.cell.offset ?? 0;
  const cell = row.cells.findLast((c) => c.offset <= offset) ?? row.cells[0];
  return cell ? { phrase: row.number, label: cell.label } : null;
}

/** The count of that number in the chosen phrase. */
export function numbered(rows: readonly RowView[], chosen: Chosen, digit: string): Chosen | null {
  const next = { phrase: chosen.phrase, label: digit };
  return find(rows, next) && next;
}

/** The last cell that has begun at this count of the routine. */
export function sounding(rows: readonly RowView[], at: number): Chosen | null {
  const row = rows.findLast((r) => r.cells.some((c) => c.at <= at));
  const cell = row?.cells.findLast((c) => c.at <= at);
  return row && cell && at < row.start + row.counts ? { phrase: row.number, label: cell.label } : null;
}
