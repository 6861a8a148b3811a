/** The chosen count lives in the address bar, so that it survives a reload and can be sent on. */
import { useCallback, useMemo } from 'react';
import { useSearchParams } from 'react-router';
import type { RowView } from '../api/schema';
import { useKeys } from '../ui/keys';
import { type Chosen, numbered, step, type Way } from './choosing';

export function useChosen(): [Chosen | null, (chosen: Chosen) => void] {
  const [params, setParams] = useSearchParams();
  const chosen = useMemo(() => inAddress(params), [params]);
  const choose = useCallback(
    (next: Chosen) =>
      setParams(
        (before) => {
          before.set('row', String(next.phrase));
          before.set('count', next.label);
          return before;
        },
        { replace: true },
      ),
    [setParams],
  );
  return [chosen, choose];
}

function inAddress(params: URLSearchParams): Chosen | null {
  const phrase = Number(params.get('row'));
  const label = params.get('count');
  return phrase && label ? { phrase, label } : null;
}

const WAYS: Record<string, Way> = {
  ArrowLeft: 'left',
  ArrowRight: 'right',
  ArrowUp: 'up',
  ArrowDown: 'down',
};

/** Digits and arrows lead over the sheet from the chosen count, or to its first one. */
export function useSheetKeys(
  rows: readonly RowView[],
  chosen: Chosen | null,
  choose: (next: Chosen) => void,
) {
  const first = rows.find((r) => r.cells[0]);
  const start = first?.cells[0] ? { phrase: first.number, label: first.cells[0].label } : null;
  // keys may come faster than the page is drawn: each goes on from where the one before led
  const here = () => inAddress(new URLSearchParams(window.location.search)) ?? chosen;
  const go = (next: Chosen | null) => (next ? choose(next) : false);
  const ways = Object.entries(WAYS).map(([key, way]) => {
    const lead = (from: Chosen | null) => (from ? step(rows, from, way) : start);
    return [key, () => go(lead(here()))];
  });
  const digits = [...'123456789'].map((digit) => {
    const lead = (from: Chosen | null) => from && numbered(rows, from, digit);
    return [digit, () => go(lead(here() ?? start))];
  });
  useKeys(Object.fromEntries([...ways, ...digits]));
}
