/** Edits of a sheet: each gives a new one and leaves the old one alone. Rows are numbered from 1, as they are written. */
import type { CellView, MarkForm, PhraseForm, RowView, SheetForm } from '../api/schema';

export const EIGHT: PhraseForm = {
  name: '',
  counts: 8,
  line: '1 2 3 4 5 6 7 8',
  swing: 0.5,
  marks: [],
  section: '',
  id: '',
};
const BARE: Omit<MarkForm, 'label'> = {
  cue: '',
  score: 'both',
  parts: [],
  sounds: '',
  lyrics: '',
  layers: {},
  foot: null,
  weight: null,
  turn: 0,
  either: false,
};

type Phrases = readonly PhraseForm[];

export const onPhrases =
  (edit: (phrases: Phrases) => PhraseForm[]) =>
  (sheet: SheetForm): SheetForm => ({ ...sheet, phrases: edit(sheet.phrases ?? []) });

export const changed = (phrases: Phrases, row: number, change: Partial<PhraseForm>): PhraseForm[] =>
  phrases.map((p, i) => (i === row - 1 ? { ...p, ...change } : p));

const numbers = (sheet: SheetForm) => (sheet.phrases ?? []).map((_, i) => i + 1);

/** The rows in another order, by the numbers that they had, with new ones; what is said of a row's single times goes
 *  with it. */
function ordered(sheet: SheetForm, rows: readonly (number | PhraseForm)[]): SheetForm {
  const phrases = rows.flatMap((r) => (typeof r === 'number' ? (sheet.phrases?.[r - 1] ?? []) : r));
  const overrides = (sheet.overrides ?? [])
    .map((o) => ({ ...o, row: rows.indexOf(o.row) + 1 }))
    .filter((o) => o.row > 0);
  return { ...sheet, phrases, overrides };
}

/** A new row of eight after this one; it swings as that one does. */
export const eightAfter = (sheet: SheetForm, row: number): PhraseForm => ({
  ...EIGHT,
  swing: sheet.phrases?.[row - 1]?.swing ?? EIGHT.swing,
});

export const added = (sheet: SheetForm, after: number, phrase: PhraseForm): SheetForm =>
  ordered(sheet, [...numbers(sheet).slice(0, after), phrase, ...numbers(sheet).slice(after)]);

export const removed = (sheet: SheetForm, row: number): SheetForm =>
  ordered(sheet, numbers(sheet).toSpliced(row - 1, 1));

/** The row goes up (-1) or down (1) by one place. */
export const moved = (sheet: SheetForm, row: number, by: -1 | 1): SheetForm =>
  ordered(
    sheet,
    numbers(sheet)
      .toSpliced(row - 1, 1)
      .toSpliced(row - 1 + by, 0, row),
  );

/** What is written on a line's counts, without the counts that it has no more. */
export const marksOn = (marks: readonly MarkForm[], cells: readonly CellView[]): MarkForm[] =>
  marks.filter((m) => cells.some((c) => c.label === m.label));

/** What is changed of a mark: it begins from what is written by then, as edits come faster than they are kept. */
export type Change = Partial<MarkForm> | ((now: MarkForm) => Partial<MarkForm>);

const changedMark = (now: MarkForm, change: Change): MarkForm => ({
  ...now,
  ...(typeof change === 'function' ? change(now) : change),
});

/** One count of a row is marked otherwise; of which nothing is said any more has no mark. */
export function marked(phrases: Phrases, row: number, label: string, change: Change): PhraseForm[] {
  return changed(phrases, row, { marks: withMark(phrases[row - 1]?.marks ?? [], label, change) });
}

function withMark(marks: readonly MarkForm[], label: string, change: Change): MarkForm[] {
  const place = marks.findIndex((m) => m.label === label);
  const now = changedMark({ ...BARE, ...marks[place], label }, change);
  const kept = saysNothing(now) ? [] : [now];
  return place < 0 ? [...marks, ...kept] : marks.toSpliced(place, 1, ...kept);
}

const saysNothing = ({ label: _, ...said }: MarkForm) =>
  Object.entries(BARE).every(([key, bare]) => {
    const value = said[key as keyof typeof said];
    return JSON.stringify(value ?? null) === JSON.stringify(bare);
  });

/** A count of a row as it is danced: where the row is danced again, that time alone. */
export function markedThere(sheet: SheetForm, row: RowView, cell: CellView, change: Change): SheetForm {
  if (!row.again) return onPhrases((p) => marked(p, row.written, cell.label, change))(sheet);
  const there = overrideOf(sheet, row, cell.label);
  const mark = changedMark(there?.mark ?? cell.mark, change);
  const rest = (sheet.overrides ?? []).filter((o) => o !== there);
  return { ...sheet, overrides: [...rest, { repetition: row.repetition, row: row.written, mark }] };
}

/** Whether both are scored in the same way. */
const alike = (a: MarkForm, b: MarkForm) =>
  a.score === b.score && a.either === b.either && String(a.parts) === String(b.parts);

/** The counts of the row from this one on that are scored as it is, without one between. */
export function scoredAlike(row: RowView, cell: CellView): CellView[] {
  const on = row.cells.slice(row.cells.indexOf(cell));
  const end = on.findIndex((c) => !alike(c.mark, cell.mark));
  return end < 0 ? on : on.slice(0, end);
}

/** The counts after this one are scored as it is, up to that one; those after it no more. */
export function scoredThrough(sheet: SheetForm, row: RowView, cell: CellView, last: string): SheetForm {
  // as it is by now: what was just changed of it may not be answered yet
  const written = sheet.phrases?.[row.written - 1]?.marks?.find((m) => m.label === cell.label);
  const meant = row.again ? overrideOf(sheet, row, cell.label)?.mark : written;
  const { score, parts, either } = meant ?? cell.mark;
  const [, ...before] = scoredAlike(row, cell);
  const on = row.cells.slice(row.cells.indexOf(cell) + 1);
  const now = on.slice(0, on.findIndex((c) => c.label === last) + 1);
  const after = before.filter((c) => !now.includes(c));
  const plain: Change = { score: 'both', parts: [], either: false };
  const changes: [CellView, Change][] = [
    ...now.map((c): [CellView, Change] => [c, { score, parts, either }]),
    ...after.map((c): [CellView, Change] => [c, plain]),
  ];
  return changes.reduce((s, [c, change]) => markedThere(s, row, c, change), sheet);
}

/** What this time of a row that is danced again says otherwise on a count. */
export const overrideOf = (sheet: SheetForm, row: RowView, label: string) =>
  sheet.overrides?.find(
    (o) => o.repetition === row.repetition && o.row === row.written && o.mark.label === label,
  );

export const asWritten = (sheet: SheetForm, row: RowView, label: string): SheetForm => ({
  ...sheet,
  overrides: (sheet.overrides ?? []).filter((o) => o !== overrideOf(sheet, row, label)),
});

/** One word for each count of a row, as they are said one after the other. */
export function said(
  phrases: Phrases,
  row: RowView,
  school: 'cue' | 'sounds' | 'lyrics',
  words: readonly string[],
): PhraseForm[] {
  return row.cells.reduce<PhraseForm[]>(
    (now, cell, i) => marked(now, row.written, cell.label, { [school]: words[i] ?? '' }),
    [...phrases],
  );
}
