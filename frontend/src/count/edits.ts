/** Edits of a sheet's phrases: each gives new phrases and leaves the old ones alone. Rows are numbered from 1. */
import type { CellView, MarkForm, PhraseForm } from '../api/schema';

export const EIGHT: PhraseForm = { name: '', counts: 8, line: '1 2 3 4 5 6 7 8', swing: 0.5, marks: [] };

type Phrases = readonly PhraseForm[];

export const changed = (phrases: Phrases, row: number, change: Partial<PhraseForm>): PhraseForm[] =>
  phrases.map((p, i) => (i === row - 1 ? { ...p, ...change } : p));

export const added = (phrases: Phrases, after: number, phrase: PhraseForm): PhraseForm[] =>
  phrases.toSpliced(after, 0, phrase);

export const removed = (phrases: Phrases, row: number): PhraseForm[] => phrases.toSpliced(row - 1, 1);

/** The row goes up (-1) or down (1) by one place. */
export function moved(phrases: Phrases, row: number, by: -1 | 1): PhraseForm[] {
  const phrase = phrases[row - 1];
  return phrase ? added(removed(phrases, row), row - 1 + by, phrase) : [...phrases];
}

/** What is written on a line's counts, without the counts that it has no more. */
export const marksOn = (marks: readonly MarkForm[], cells: readonly CellView[]): MarkForm[] =>
  marks.filter((m) => cells.some((c) => c.label === m.label));

/** The count is left free, or scored again. */
export function freed(phrases: Phrases, row: number, label: string): PhraseForm[] {
  const marks = phrases[row - 1]?.marks ?? [];
  const old = marks.find((m) => m.label === label) ?? { label, cue: '', score: 'both', parts: [] };
  const score = old.score === 'free' ? 'both' : 'free';
  const now: MarkForm = { ...old, score, parts: [] };
  const rest = marks.filter((m) => m.label !== label);
  return changed(phrases, row, { marks: score === 'both' && !now.cue ? rest : [...rest, now] });
}
