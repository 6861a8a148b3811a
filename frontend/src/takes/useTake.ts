/** The take that the address names, else the newest, with its result and both clips' counts. */
import { useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { useResult } from '../api/queries';
import type { Outcome, RoutineView, RowView, TakeResult } from '../api/schema';
import type { Line } from '../clips/line';
import type { Chosen } from '../sheet/choosing';

export type Measured = TakeResult & { outcome: Outcome };

export function useTake(routine: RoutineView) {
  const [params, setParams] = useSearchParams();
  const asked = Number(params.get('take'));
  const take = routine.takes.find((t) => t.number === asked) ?? routine.takes.at(-1);
  const query = useResult(take?.id);
  const result = query.data;
  const measured = result?.outcome ? (result as Measured) : null;
  const lines = useMemo(
    () =>
      measured?.clock.length
        ? {
            lead: measured.clock.map((c) => ({ at: c.at, seconds: c.reference_s })) as Line,
            follow: measured.clock.map((c) => ({ at: c.at, seconds: c.take_s })) as Line,
          }
        : null,
    [measured],
  );
  const setTake = (number: number) =>
    setParams((before) => {
      before.set('take', String(number));
      return before;
    });
  return { take, result, measured, lines, setTake, error: query.error };
}

/** Where one looks first: the first finding of the row to redrill first, else the first count. */
export function firstToSee(rows: readonly RowView[], outcome: Outcome | undefined): Chosen | null {
  const worst = rows[(outcome?.comparison.redrill[0] ?? 1) - 1];
  const from = worst && outcome?.comparison.phrases[worst.number - 1]?.findings[0]?.from;
  const cell = worst?.cells.find((c) => c.at === from) ?? worst?.cells[0];
  return worst && cell ? { phrase: worst.number, label: cell.label } : null;
}
