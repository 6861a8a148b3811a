/** Rows being typed: kept in the browser over a reload until they are kept in the sheet. */
import { useRef } from 'react';
import type { useEdits } from '../api/edits';
import { useRead, useReading, useReadSteps, useStepsRead } from '../api/queries';
import type { CellView, Foot, PhraseForm, RoutineView, RowView, SheetForm } from '../api/schema';
import type { Chosen } from '../sheet/choosing';
import { useDraft } from './drafts';
import { changed, EIGHT, marksOn, onPhrases } from './edits';
import type { Draft } from './RowEditor';

/** `then`: what is chosen once it is kept. */
export type Save = (
  edit: (sheet: SheetForm) => SheetForm,
  then?: (now: RoutineView) => Chosen,
  kept?: () => void,
) => void;

/** Edits come faster than they are kept: each begins from the one before, not from what the server last said, and
 *  never from what was on the screen when it was asked for (a line is read first, and meanwhile others are kept). */
export function useSaving(
  routine: RoutineView,
  edits: ReturnType<typeof useEdits>,
  choose: (next: Chosen) => void,
): Save {
  const latest = useRef<SheetForm | null>(null);
  return (edit, then, kept) => {
    const sheet = edit(latest.current ?? edits.kept() ?? routine.sheet);
    latest.current = sheet;
    edits.sheet
      .mutateAsync(sheet)
      .then((now) => {
        kept?.();
        if (then) choose(then(now));
      })
      .catch(() => {}) // it is shown from the mutation's own state
      .finally(() => {
        if (latest.current === sheet) latest.current = null;
      });
  };
}

/** The row that is open as it is being typed, by counts or by step names; kept in the browser until it is kept in the
 *  sheet. */
export function useTyping(
  routine: RoutineView,
  open: RowView | undefined,
  edits: ReturnType<typeof useEdits>,
) {
  const [stored, store] = useDraft(`juxtakine row ${routine.id} ${open?.id ?? ''}`);
  const phrase = open && routine.sheet.phrases?.[open.written - 1];
  const plain: Draft | undefined = phrase && { ...phrase, steps: null };
  const draft: Draft | undefined = plain && (stored ? { ...plain, ...JSON.parse(stored) } : plain);
  const asked: PhraseForm = { ...EIGHT, ...phrase, ...row(draft), marks: phrase?.marks ?? [] };
  const steps = {
    text: draft?.steps ?? '',
    weight: open ? weightBefore(routine.rows, open) : null,
    style: routine.sheet.style ?? null,
    own: routine.sheet.steps ?? [],
  };
  const byLine = useReading({ ...asked, marks: [] }).data;
  const bySteps = useStepsRead(steps).data;
  const read = useRead();
  const readSteps = useReadSteps();
  const typed = stored !== null;
  const named = typed && draft?.steps != null;
  const change = (next: Draft) => {
    edits.sheet.reset();
    store(JSON.stringify({ name: next.name, counts: next.counts, line: next.line, steps: next.steps }));
  };
  const keep = async (save: Save) => {
    if (!open || !draft || !phrase) return;
    const made = named ? await filledBy(draft) : await byCounts(draft);
    if (made)
      save(
        onPhrases((p) => changed(p, open.written, made)),
        undefined,
        () => store(null),
      );
  };
  const byCounts = async (now: Draft) => {
    const exact = await read({ ...asked, marks: [] });
    return exact.problem ? null : { ...row(now), marks: marksOn(phrase?.marks ?? [], exact.cells) };
  };
  const filledBy = async (now: Draft) => {
    const exact = await readSteps(steps);
    return (
      exact.phrase && {
        ...row(now),
        counts: exact.phrase.counts,
        line: exact.phrase.line,
        marks: exact.phrase.marks,
      }
    );
  };
  const reading = typed && !named ? byLine : undefined;
  const cells = !typed
    ? null
    : named
      ? (bySteps?.cells ?? null)
      : byLine?.problem
        ? null
        : (byLine?.cells ?? null);
  return {
    draft,
    typed,
    reading,
    unknown: named ? (bySteps?.unknown ?? []) : [],
    misfits: named ? (bySteps?.misfits ?? []) : [],
    counted: named ? (bySteps?.phrase?.counts ?? 0) : null,
    change,
    keep,
    drop: () => store(null),
    cells: cells?.length ? cells : null,
  };
}

const row = (draft: Draft | undefined) =>
  draft && { name: draft.name, counts: draft.counts, line: draft.line };

/** On which foot the row before ends. */
function weightBefore(rows: readonly RowView[], open: RowView): Foot | null {
  return rows[open.number - 2]?.cells.at(-1)?.weight ?? null;
}

/** Rows with the one that is being typed as it would be; before it is kept, its cues are those that were there. */
export function withDraft(rows: RowView[], open: RowView | undefined, cells: CellView[] | null): RowView[] {
  if (!cells || !open) return rows;
  const before = new Map(open.cells.map((c) => [c.label, c]));
  const drawn = cells.map((c) => {
    const mark = before.get(c.label)?.mark;
    // it was read by itself, from 0 on
    const there = { ...c, at: c.at + open.start };
    return mark && !c.mark.cue ? { ...there, mark, free: before.get(c.label)?.free ?? false } : there;
  });
  return rows.map((r) => (r === open ? { ...r, cells: drawn } : r));
}
