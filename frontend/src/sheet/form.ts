/** How large the sheet is drawn: by how many rows it has and how much room there is. Pixels. */
import { useSyncExternalStore } from 'react';
import type { CellView, RowView } from '../api/schema';

export type Form = {
  /** Names and words stand on a line above the cells, and there is no drawer. */
  phone: boolean;
  unit: number;
  gutter: number;
  height: number;
  pitch: number;
  openHeight: number;
  drawer: number;
  /** Every row is as tall as the open one. */
  tall: boolean;
};

const BESIDE = { phone: false, unit: 56, gutter: 104, openHeight: 56, drawer: 98, tall: false };
const ROOMY: Form = { ...BESIDE, height: 56, pitch: 78, tall: true };
const DENSE: Form = { ...BESIDE, height: 30, pitch: 34 };
const TIGHT: Form = { ...BESIDE, height: 24, pitch: 27, openHeight: 52, drawer: 86 };
export const WIDTH = 760;
export const LINE = 8;

/** `leads`: counts that stand before a row's first 1, a pick-up. */
export function formOf(rows: number, room: number, leads: number): Form {
  if (room < WIDTH) {
    const unit = Math.min(56, room / (LINE + leads));
    const height = room < 340 ? 30 : 26;
    const gutter = leads * unit;
    return {
      phone: true,
      unit,
      gutter,
      height,
      pitch: height + 19,
      openHeight: height,
      drawer: 0,
      tall: false,
    };
  }
  if (rows <= 6) return ROOMY;
  return rows <= 12 ? DENSE : TIGHT;
}

const watch = (changed: () => void) => {
  window.addEventListener('resize', changed);
  return () => window.removeEventListener('resize', changed);
};
/** Of the window; the sheet has its own column from 1240 on. */
const roomNow = () => (window.innerWidth >= 1240 ? WIDTH : document.documentElement.clientWidth - 32);

export function useForm(rows: readonly RowView[]): Form {
  const room = useSyncExternalStore(watch, roomNow);
  const leads = Math.max(0, ...rows.flatMap((r) => r.cells.map((c) => -c.offset)));
  return formOf(rows.length, room, leads);
}

export type RowLine = { cells: CellView[]; from: number; counts: number };

/** A phrase of 12 or 16 takes two lines of eight. */
export function linesOf(row: RowView): RowLine[] {
  const count = Math.max(1, Math.ceil(row.counts / LINE));
  return Array.from({ length: count }, (_, k) => ({
    from: k * LINE,
    counts: Math.min(LINE, row.counts - k * LINE),
    cells: row.cells.filter((c) => Math.max(0, Math.floor(c.offset / LINE)) === k),
  }));
}
