/** The four ways in which people say a dance; which one is shown is the student's own taste, kept in the browser. */
import type { CellView } from '../api/schema';
import { useDraft } from './drafts';

export const SCHOOLS = ['counts', 'steps', 'sounds', 'lyrics'] as const;
export type School = (typeof SCHOOLS)[number];

export const FIELD = { steps: 'cue', sounds: 'sounds', lyrics: 'lyrics' } as const;

/** What a cell says in a school; nothing where its own sign says it. */
export const saidIn = (cell: CellView, school: School) =>
  school === 'counts' ? '' : cell.mark[FIELD[school]];

export function useSchool(): [School, (school: School) => void] {
  const [kept, keep] = useDraft('juxtakine school');
  return [SCHOOLS.find((s) => s === kept) ?? 'steps', keep];
}
