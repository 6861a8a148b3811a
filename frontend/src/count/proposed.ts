/** What is read off the clip, beside the sheet: its new rows under those that are written, and what there is to take. */
import type { ProposalView, ProposedRowView, RowView } from '../api/schema';

export type Proposed = {
  rows: readonly ProposedRowView[];
  waiting: string | null;
  /** Rows of which something can be taken. */
  open: readonly ProposedRowView[];
  fresh: readonly ProposedRowView[];
  of: (row: number) => ProposedRowView | undefined;
};

export function proposedFrom(view: ProposalView | undefined): Proposed {
  const rows = view?.rows ?? [];
  return {
    rows,
    waiting: view ? view.waiting : 'It is being read off the clip.',
    open: rows.filter((r) => r.takes),
    fresh: rows.filter((r) => r.new),
    of: (row) => rows.find((r) => r.row.number === row),
  };
}

/** The rows as written, then those that are only proposed. */
export const withFresh = (rows: readonly RowView[], proposed: Proposed): readonly RowView[] => [
  ...rows,
  ...proposed.fresh.map((r) => r.row).filter((r) => r.number > rows.length),
];
