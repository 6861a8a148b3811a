/** What Compare lays over the sheet: timing, position, and what each row needs. */
import type { Outcome, TakeResult } from '../api/schema';
import { Marks } from '../sheet/marks';
import type { Layer } from '../sheet/Sheet';
import { Numbers, NumbersLegend } from '../takes/numbers';
import { Tally } from '../ui/Tally';

export function resultLayer(result: TakeResult & { outcome: Outcome }): Layer {
  const { outcome } = result;
  const counts = new Map(outcome.comparison.counts.map((c) => [c.at, c]));
  const told = new Map(outcome.counts.map((c) => [c.at, c]));
  const countMs = result.count_ms ?? 500;
  return {
    draw: (_, cell, box) => {
      const count = counts.get(cell.at);
      const words = told.get(cell.at);
      return count && words ? (
        <Marks {...{ count, box, countMs }} sure={words.timing_sure} heldWell={words.held_well} />
      ) : null;
    },
    say: (_, cell) =>
      told
        .get(cell.at)
        ?.remarks.map((r) => r.text)
        .join(', ') ?? 'not measured',
    words: (row, open) => <RowEnd outcome={outcome} row={row.number} open={open} />,
    drawer: (_, line, form) => <Numbers outcome={outcome} line={line} unit={form.unit} />,
    legend: () => <NumbersLegend />,
    notch: (row, cell) => {
      const phrase = outcome.comparison.phrases[row.number - 1];
      return outcome.comparison.redrill.includes(row.number) && phrase?.findings[0]?.from === cell.at;
    },
  };
}

function RowEnd({ outcome, row, open }: { outcome: Outcome; row: number; open: boolean }) {
  const words = outcome.rows[row - 1];
  if (!words) return null;
  const bad = words.tallies > 0;
  return (
    <>
      {bad ? (
        <Tally n={words.tallies} />
      ) : (
        <span
          className={words.state === 'unclear' ? 'w-[42px] shrink-0 text-soft' : 'shrink-0 bench:w-[42px]'}
        />
      )}
      <span className="relative min-w-0">
        <span className={`block truncate ${bad ? 'font-[620]' : 'text-soft'}`}>{words.kind}</span>
        {open && (
          <span className="absolute left-0 top-5 hidden w-[146px] text-[13.5px] leading-[17px] text-soft bench:block">
            {words.lines.map((l) => (
              <span key={l} className="block">
                {l}
              </span>
            ))}
          </span>
        )}
      </span>
    </>
  );
}

/** Before anything is measured: the counts alone. */
export const waitingLayer = (said: (row: number) => string): Layer => ({
  draw: (_, cell, box) =>
    cell.hold ? null : (
      <line
        x1={box.width / 2}
        x2={box.width / 2}
        y1={box.tall ? 17 : 5}
        y2={box.height - 10}
        className="stroke-hair"
        strokeWidth={1.3}
      />
    ),
  say: () => 'not measured yet',
  words: (row) => <span className="text-soft">{said(row.number)}</span>,
  pale: () => true,
});
