/** What Redrill lays over the sheet: each drill's loop with its run-in, and its place in the order. */
import type { DrillForm, Outcome, RunIn } from '../api/schema';
import type { Layer } from '../sheet/Sheet';
import { Numbers, NumbersLegend } from '../takes/numbers';

export function drillLayer(outcome: Outcome, runIn: RunIn, chosen: DrillForm | undefined): Layer {
  const order = new Map(outcome.drills.map((d, i) => [d.phrase, i + 1]));
  return {
    draw: (row, cell, box) => {
      // the chosen drill's run-in may begin in the rows before
      const drill = outcome.drills.find((d) => d.phrase === row.number) ?? chosen;
      const loop = drill?.loops[runIn];
      if (!loop || cell.at < loop.run_in || cell.at >= loop.end) return null;
      const drilled = cell.at >= loop.start;
      const y = box.height - 6;
      return (
        <>
          <text
            x={box.width / 2}
            y={box.tall ? box.height - 18 : box.height - 11}
            textAnchor="middle"
            fontSize={box.height < 28 ? 12 : 14}
            className={drilled ? 'fill-ink font-bold' : 'fill-soft'}
          >
            {cell.hold ? '-' : cell.sign}
          </text>
          <line
            x1={drilled && cell.at === loop.start ? 3 : 0}
            x2={cell.at + cell.width >= loop.end ? box.width - 3 : box.width}
            y1={y}
            y2={y}
            className="stroke-ink"
            strokeWidth={drilled ? 4 : 2}
            strokeDasharray={drilled ? undefined : '2 4'}
          />
          {drilled && cell.at === loop.start && (
            <line x1={3} x2={3} y1={y + 2} y2={y - 7} className="stroke-ink" strokeWidth={2} />
          )}
          {cell.at + cell.width >= loop.end && (
            <line
              x1={box.width - 3}
              x2={box.width - 3}
              y1={y + 2}
              y2={y - 7}
              className="stroke-ink"
              strokeWidth={2}
            />
          )}
        </>
      );
    },
    say: (row) => (order.has(row.number) ? `drill ${order.get(row.number)}` : 'no drill'),
    words: (row) => {
      const told = outcome.rows[row.number - 1];
      const place = order.get(row.number);
      return (
        <>
          <b className="w-[42px] shrink-0 text-lg leading-[18px] phone:w-auto">{place}</b>
          <span className={`truncate ${place ? 'font-[620]' : 'text-soft'}`}>{told?.kind}</span>
        </>
      );
    },
    drawer: (_, line, form) => <Numbers outcome={outcome} line={line} unit={form.unit} />,
    legend: () => <NumbersLegend />,
    pale: (row) => !order.has(row.number),
  };
}
