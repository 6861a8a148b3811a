/** Rows being typed: kept in the browser over a reload until they are kept in the sheet. */
import { useRef } from 'react';
import { type useEdits, useRead, useReading } from '../api/queries';
import type { CellView, PhraseForm, RoutineView, RowView } from '../api/schema';
import type { Chosen } from '../sheet/choosing';
import { useDraft } from './drafts';
import { changed, EIGHT, marksOn } from './edits';
import type { Draft } from './RowEditor';

type Save = (
  edit: (phrases: readonly PhraseForm[]) => PhraseForm[],
  then?: Chosen,
  kept?: () => void,
) => void;

/** Edits come faster than they are kept: each begins from the one before, not from what the server last said. */
export function useSaving(
  routine: RoutineView,
  edits: ReturnType<typeof useEdits>,
  choose: (next: Chosen) => void,
): Save {
  const latest = useRef<PhraseForm[] | null>(null);
  const said = routine.sheet.phrases ?? [];
  return (edit, then, kept) => {
    const phrases = edit(latest.current ?? said);
    latest.current = phrases;
    edits.sheet
      .mutateAsync({ ...routine.sheet, phrases })
      .then(() => {
        kept?.();
        if (then) choose(then);
      })
      .catch(() => {}) // it is shown from the mutation's own state
      .finally(() => {
        if (latest.current === phrases) latest.current = null;
      });
  };
}

/** The row that is open as it is being typed; kept in the browser until it is kept in the sheet. */
export function useTyping(
  routine: RoutineView,
  open: RowView | undefined,
  edits: ReturnType<typeof useEdits>,
) {
  const [stored, store] = useDraft(`juxtakine row ${routine.id} ${open?.number ?? 0}`);
  const phrase = open && routine.sheet.phrases?.[open.number - 1];
  const draft: Draft | undefined = stored ? JSON.parse(stored) : phrase;
  const asked: PhraseForm = { ...EIGHT, ...phrase, ...draft, marks: [] };
  const reading = useReading(asked).data;
  const read = useRead();
  const typed = stored !== null;
  const change = (next: Draft) => {
    edits.sheet.reset();
    store(JSON.stringify({ name: next.name, counts: next.counts, line: next.line }));
  };
  const keep = async (save: Save) => {
    if (!open || !draft || !phrase) return;
    const exact = await read(asked);
    if (exact.problem) return;
    const marks = marksOn(phrase.marks ?? [], exact.cells);
    save(
      (phrases) => changed(phrases, open.number, { ...draft, marks }),
      undefined,
      () => store(null),
    );
  };
  const cells = typed && reading && !reading.problem ? reading.cells : null;
  return { draft, typed, reading: typed ? reading : undefined, change, keep, drop: () => store(null), cells };
}

/** Rows with the one that is being typed as it would be. */
export function withDraft(rows: RowView[], open: RowView | undefined, cells: CellView[] | null): RowView[] {
  return cells && open ? rows.map((r) => (r === open ? { ...r, cells } : r)) : rows;
}
