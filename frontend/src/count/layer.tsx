/** What Count lays over the sheet: each count's cue or sign, holds, weight, facing, what is free, and in the open row its
 *  line to type in or its layers. */
import type { ReactNode } from 'react';
import type { CellView, ProposedRowView, RowView, SheetFindingView } from '../api/schema';
import type { Form, RowLine } from '../sheet/form';
import { Free } from '../sheet/marks';
import type { Box, Layer } from '../sheet/Sheet';
import { time } from '../ui/format';
import type { Proposed } from './proposed';
import { type School, saidIn } from './schools';
import { wrapped } from './wrapped';

type Props = {
  school: School;
  findings: readonly SheetFindingView[];
  editor: ReactNode;
  face: Face;
  onFace: (face: Face) => void;
  onMend: (finding: SheetFindingView) => void;
  proposed: Proposed;
  /** What stands under an open row that is only proposed. */
  taking: (row: ProposedRowView) => ReactNode;
};
export type Face = 'line' | 'layers';

export const writtenLayer = ({
  school,
  findings,
  editor,
  face,
  onFace,
  onMend,
  proposed,
  taking,
}: Props): Layer => ({
  draw: (row, cell, box) => <Written cell={cell} box={box} school={school} read={freshOf(proposed, row)} />,
  say: (row, cell) => (freshOf(proposed, row) ? `proposed, ${spoken(cell, school)}` : spoken(cell, school)),
  words: (row, open) => {
    const read = freshOf(proposed, row);
    if (read) return <ReadWords read={read} />;
    return (
      <RowWords
        row={row}
        open={open}
        findings={findings.filter((f) => f.row === row.number)}
        onMend={onMend}
      />
    );
  },
  drawer: (row, line, form) => {
    const read = freshOf(proposed, row);
    if (face !== 'line') return <Layers line={line} form={form} />;
    return read ? taking(read) : editor;
  },
  drawerOnPhone: true,
  legend: () => <Legend face={face} onFace={onFace} />,
  pale: (row) => freshOf(proposed, row) !== undefined,
  notch: (row, cell) => findings.some((f) => f.row === row.number && f.label === cell.label),
});

/** The row as it is read off the clip, where nobody has written it. */
const freshOf = (proposed: Proposed, row: RowView) => {
  const read = proposed.of(row.number);
  return read?.new && read.row === row ? read : undefined;
};

/** How sure a proposed row is, and what it seems to repeat. */
function ReadWords({ read }: { read: ProposedRowView }) {
  return (
    <span className="truncate text-teach">
      {read.said}
      {read.like && `, ${read.like}`}
    </span>
  );
}

const spoken = (cell: CellView, school: School) =>
  [
    cell.free ? 'free' : cell.hold ? 'a hold' : saidIn(cell, school) || 'scored',
    cell.weight && `weight ${cell.weight}`,
    cell.turned,
  ]
    .filter(Boolean)
    .join(', ');

/** What is said there, in a tall cell on two lines where it is too long for one; without words the count's own sign. */
function Written({
  cell,
  box,
  school,
  read,
}: {
  cell: CellView;
  box: Box;
  school: School;
  read: ProposedRowView | undefined;
}) {
  const text = read?.unsure.includes(cell.label) ? '?' : saidIn(cell, school);
  const ink = read ? 'teach' : 'ink';
  const clock = cell.turned
    ? box.tall
      ? { x: box.width - 8, y: 9, r: 6 }
      : { x: box.width - 6, y: 6, r: 5 }
    : null;
  const room = box.width - (clock && !box.tall ? 12 : 0);
  const middle = room / 2;
  const y = box.tall ? box.height - 21 : box.height / 2 + (cell.weight ? 2 : 5);
  const { lines, size } = text ? wrapped(text, room - 3, box.tall ? 2 : 1) : { lines: [cell.sign], size: 14 };
  const below = y + 4 + (lines.length - 1) * 6;
  return (
    <>
      {cell.free && <Free box={box} />}
      {cell.hold ? (
        <line
          x1={middle - 8}
          x2={middle + 8}
          y1={y - 5}
          y2={y - 5}
          className={ink === 'teach' ? 'stroke-teach' : 'stroke-ink'}
          strokeDasharray={read ? '3 2' : undefined}
          strokeWidth={2.6}
        />
      ) : (
        <text
          textAnchor="middle"
          fontSize={size}
          fontWeight={text ? 450 : 600}
          className={ink === 'teach' ? 'fill-teach' : 'fill-ink'}
        >
          {lines.map((word, i) => (
            <tspan key={word} x={middle} y={y + (i - (lines.length - 1) / 2) * 12}>
              {word}
            </tspan>
          ))}
        </text>
      )}
      {read && !cell.hold && (
        <line
          x1={4}
          x2={room - 4}
          y1={below}
          y2={below}
          className="stroke-teach"
          strokeDasharray="1.5 2.5"
          strokeWidth={1.3}
        />
      )}
      {cell.weight && !read && <Weight weight={cell.weight} box={box} />}
      {clock && <Clock facing={cell.facing} {...clock} strong />}
    </>
  );
}

/** The half of the bar under the count on which the weight is; both have a gap. */
function Weight({ weight, box }: { weight: NonNullable<CellView['weight']>; box: Box }) {
  const y = box.height - (box.tall ? 6 : 4);
  const middle = box.width / 2;
  return (
    <g strokeWidth={3} className="stroke-ink">
      {weight !== 'right' && <line x1={4} x2={middle - 1.5} y1={y} y2={y} />}
      {weight !== 'left' && <line x1={middle + 1.5} x2={box.width - 4} y1={y} y2={y} />}
    </g>
  );
}

/** The wall that is faced, seen from above: up is the front. */
export function Clock({
  facing,
  x,
  y,
  r,
  strong,
}: {
  facing: number;
  x: number;
  y: number;
  r: number;
  strong: boolean;
}) {
  return (
    <g className={strong ? 'stroke-ink' : 'stroke-edge'} strokeWidth={strong ? 1.6 : 1}>
      <circle
        cx={x}
        cy={y}
        r={r}
        className={strong ? 'fill-paper' : 'fill-none stroke-hair'}
        strokeWidth={1}
      />
      <line x1={x} y1={y} x2={x} y2={y - r + 1} transform={`rotate(${facing * 30} ${x} ${y})`} />
    </g>
  );
}

const ROWS = ['feet', 'body', 'arms', 'head'] as const;

/** What each layer does on each count, with the wall that is faced and what is scored. */
function Layers({ line, form }: { line: RowLine; form: Form }) {
  const pitch = form.drawer / 6;
  const baseline = (i: number) => pitch * i + pitch / 2 + 4;
  return (
    <svg width="100%" height={form.drawer} aria-hidden className="overflow-visible">
      {line.cells.map((cell) => {
        const x = (cell.offset - line.from + cell.width / 2) * form.unit;
        const fits = Math.floor((cell.width * form.unit) / 5.6);
        return (
          <g key={cell.label} textAnchor="middle" fontSize={11.5} className="fill-ink">
            {ROWS.map((layer, i) => {
              const done = cell.mark.layers[layer];
              return (
                done && (
                  <text key={layer} x={x} y={baseline(i)} fontWeight={done.quality === 'sharp' ? 700 : 450}>
                    {(done.cue || done.quality || '').slice(0, fits)}
                  </text>
                )
              );
            })}
            <Clock facing={cell.facing} x={x} y={pitch * 4.5} r={6} strong={!!cell.turned} />
            <text
              x={x}
              y={baseline(5)}
              className={cell.scored === 'all' ? 'fill-soft' : 'fill-ink'}
              fontWeight={cell.scored === 'all' ? 450 : 650}
            >
              {cell.scored.slice(0, fits)}
            </text>
          </g>
        );
      })}
      {[1, 2, 3, 4, 5].map((i) => (
        <line key={i} x1={0} x2="100%" y1={pitch * i} y2={pitch * i} className="stroke-hair" />
      ))}
    </svg>
  );
}

function Legend({ face, onFace }: { face: Face; onFace: (face: Face) => void }) {
  return (
    <div className="flex flex-col items-end gap-0.5 pr-1.5 pt-1 text-[12px] leading-[15px]">
      <button
        type="button"
        className="act text-[12.5px]"
        onClick={() => onFace(face === 'line' ? 'layers' : 'line')}
      >
        {face === 'line' ? 'see layers' : 'type line'}
        <kbd>L</kbd>
      </button>
      {face === 'line' ? (
        <p className="pl-4 text-right">& between two counts, - for a hold</p>
      ) : (
        <p className="text-right">feet, body, arms, head, facing, scored</p>
      )}
    </div>
  );
}

type WordsProps = {
  row: RowView;
  open: boolean;
  findings: readonly SheetFindingView[];
  onMend: (finding: SheetFindingView) => void;
};

/** What disagrees there; else what the row repeats; else when it begins and how it ends. */
function RowWords({ row, open, findings, onMend }: WordsProps) {
  const [first] = findings;
  if (first)
    return (
      <div className="flex w-full min-w-0 flex-col items-start gap-0.5 phone:flex-row phone:gap-3">
        <b className={open ? 'phone:truncate' : 'w-full truncate'} title={first.text}>
          {first.text}
        </b>
        {open && first.mend && (
          <button type="button" className="act" onClick={() => onMend(first)}>
            {first.mend.says}
          </button>
        )}
        {open &&
          findings.slice(1).map((f) => (
            <span key={f.text} className="phone:hidden">
              {f.text}
            </span>
          ))}
      </div>
    );
  return (
    <span className={open ? 'phone:truncate' : 'truncate'}>
      {row.begins_s !== null && <span className="pr-2.5 text-soft">{time(row.begins_s, 1)}</span>}
      {row.again ?? (open ? '' : row.line)}
      {open && row.checkpoint && <span className="block phone:hidden">{row.checkpoint}</span>}
    </span>
  );
}
