/** The open row's figures under its cells: what the marks stand for. */
import type { Outcome } from '../api/schema';
import type { RowLine } from '../sheet/form';

type Props = { outcome: Outcome; line: RowLine; unit: number };

const signed = (ms: number) => `${ms > 0 ? '+' : ''}${Math.round(ms)}`;

export function Numbers({ outcome, line, unit }: Props) {
  return line.cells.map((cell) => {
    const count = outcome.comparison.counts.find((c) => c.at === cell.at);
    if (!count) return null;
    const { error_ms, se_ms, start_ms } = count.timing;
    const worst = outcome.counts.find((c) => c.at === cell.at)?.worst;
    const narrow = cell.width < 0.75;
    const text = narrow ? 'text-[11.5px]' : 'text-[12.5px]';
    return (
      <div
        key={cell.label}
        className={`absolute inset-y-0 text-center leading-[15px] ${text} ${cell.offset > line.from && Number.isInteger(cell.offset) ? 'border-l border-hair/55' : ''}`}
        style={{ left: (cell.offset - line.from) * unit, width: cell.width * unit }}
      >
        <p className={`pt-1 ${count.timing.verdict === 'on' ? 'text-soft' : 'font-[650]'}`}>
          {error_ms === null ? '' : signed(error_ms)}
        </p>
        <p className="text-soft">{se_ms === null ? '' : `±${Math.round(se_ms)}`}</p>
        <p className="text-soft">{start_ms === null ? '' : signed(start_ms)}</p>
        <p className={worst ? 'font-[650]' : 'text-soft'}>
          {count.position.held === null ? '' : Math.round(count.position.held * 100)}
        </p>
        <p className="px-px text-[11.5px] leading-[13px] text-me">{narrow ? '' : worst}</p>
      </div>
    );
  });
}

export const NumbersLegend = () => (
  <p className="flex flex-col pt-1 pr-1 text-right leading-[15px]">
    <span>ms, + behind</span>
    <span>give or take</span>
    <span>at its start</span>
    <span>held, %</span>
    <span className="leading-[13px]">off first</span>
  </p>
);
