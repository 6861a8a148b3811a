/** What Count lays over the sheet: each count's cue or sign, holds, what is free, and the open row's line to type in. */
import type { ReactNode } from 'react';
import type { CellView, RowView } from '../api/schema';
import { Free } from '../sheet/marks';
import type { Box, Layer } from '../sheet/Sheet';
import { time } from '../ui/format';

/** Pixels that a letter of a cue takes. */
const LETTER = 6;

export const writtenLayer = (editor: ReactNode): Layer => ({
  draw: (_, cell, box) => <Written cell={cell} box={box} />,
  say: (_, cell) => (cell.free ? 'free' : cell.hold ? 'a hold' : cell.cue || 'scored'),
  words: (row) => <RowLineWords row={row} />,
  drawer: () => editor,
  drawerOnPhone: true,
  legend: () => <p className="pl-[25px] pt-2 leading-4">& between two counts, - for a hold</p>,
  ands: true,
});

/** The cue, on two lines where it is too long for one, else the count's own sign. */
function Written({ cell, box }: { cell: CellView; box: Box }) {
  const middle = box.width / 2;
  const y = box.tall ? box.height - 18 : box.height / 2 + 5;
  const long = box.tall && cell.cue.length * LETTER > box.width;
  const lines = cell.cue ? (long ? cell.cue.split(' ') : [cell.cue]) : [cell.sign];
  return (
    <>
      {cell.free && <Free box={box} />}
      {cell.hold && (
        <line
          x1={middle - 8}
          x2={middle + 8}
          y1={y - 5}
          y2={y - 5}
          className="stroke-ink"
          strokeWidth={2.6}
        />
      )}
      {!cell.hold && (cell.cue || box.tall || Number.isInteger(cell.offset)) && (
        <text
          textAnchor="middle"
          fontSize={cell.cue ? 12 : 14}
          fontWeight={cell.cue ? 450 : 600}
          className="fill-ink"
        >
          {lines.map((text, i) => (
            <tspan key={text} x={middle} y={y + (i - (lines.length - 1) / 2) * 13}>
              {text}
            </tspan>
          ))}
        </text>
      )}
    </>
  );
}

function RowLineWords({ row }: { row: RowView }) {
  return (
    <span className="truncate">
      {row.begins_s !== null && <span className="pr-2.5 text-soft">{time(row.begins_s, 1)}</span>}
      {row.line}
    </span>
  );
}
