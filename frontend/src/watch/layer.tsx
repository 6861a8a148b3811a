/** What Watch lays over the sheet: a small figure on each count, what repeats, what will be hard, and her pictures. */
import type { CellView, FigureForm, Reading, RowView } from '../api/schema';
import { type Line, secondsOf } from '../clips/line';
import { Hatched } from '../sheet/marks';
import type { Box, Layer } from '../sheet/Sheet';
import { time } from '../ui/format';

/** How much of a cell's height the dancer's own height takes, and of a drawer's picture. */
const TALL = 0.74;
const PICTURE_TALL = 98;
/** Share of the figure's height that the head's radius is. */
const HEAD = 0.065;
/** What the open row has room for beside it. */
const OPEN_LINES = 5;

export function readLayer(
  reading: Reading | null,
  clip: PictureProps['clip'],
  line: Line | undefined,
  roomy: boolean,
): Layer {
  const figures = new Map(reading?.figures.map((f) => [f.at, f]));
  return {
    draw: (_, cell, box) => <Drawn figure={figures.get(cell.at)} {...{ cell, box }} />,
    say: (_, cell) =>
      !reading ? 'not measured yet' : figures.get(cell.at)?.lines.length ? 'seen' : 'not seen',
    words: (row, open) => <Words {...{ row, reading }} {...{ open, roomy }} />,
    drawer: (_, part, form) => (
      <div className="relative h-full overflow-hidden">
        {part.cells.map((cell) => (
          <Picture
            key={cell.label}
            clip={clip}
            figure={figures.get(cell.at)}
            left={(cell.offset - part.from) * form.unit}
            width={cell.width * form.unit}
          />
        ))}
      </div>
    ),
    legend: (row) => (
      <p className="pl-[25px] pt-2 leading-4">
        {line && <>from {time(secondsOf(line, row.start), 1)}, </>}the picture of each count
      </p>
    ),
  };
}

function Drawn({ figure, cell, box }: { figure: FigureForm | undefined; cell: CellView; box: Box }) {
  const { width, height } = box;
  if (!figure)
    return (
      <text x={width / 2} y={height / 2 + 5} textAnchor="middle" fontSize={13} className="fill-soft">
        {cell.hold ? '-' : cell.sign}
      </text>
    );
  if (!figure.lines.length) return <Hatched x={1} y={1} width={width - 2} height={height - 3} />;
  const scale = (height - (box.tall ? 10 : 6)) * TALL;
  const x = (share: number) => width / 2 + share * scale;
  const y = (share: number) => height - 5 - share * scale;
  return (
    <g className="stroke-teach" strokeWidth={box.tall ? 1.7 : 1.3} strokeLinecap="round">
      {figure.lines.map((l) => (
        <line key={`${l.x1} ${l.y1} ${l.x2} ${l.y2}`} x1={x(l.x1)} y1={y(l.y1)} x2={x(l.x2)} y2={y(l.y2)} />
      ))}
      {figure.head && (
        <circle
          cx={x(figure.head.x)}
          cy={y(figure.head.y)}
          r={Math.max(1.8, scale * HEAD)}
          className="fill-teach"
          strokeWidth={0}
        />
      )}
    </g>
  );
}

type WordsProps = { row: RowView; reading: Reading | null; open: boolean; roomy: boolean };

function Words({ row, reading, open, roomy }: WordsProps) {
  const told = reading?.rows[row.number - 1];
  if (!told) return null;
  return (
    <div className="min-w-0">
      <div className={`truncate ${told.kind === 'new' ? 'text-soft' : 'font-[620]'}`}>
        {told.kind}
        {told.hardest === 1 && <b className="text-ink"> · the hardest row</b>}
      </div>
      {told.lines.slice(0, open ? OPEN_LINES : roomy ? 1 : 0).map((line) => (
        <div key={line} className={`phone:hidden ${open ? '' : 'truncate text-soft'}`}>
          {line}
        </div>
      ))}
    </div>
  );
}

type PictureProps = {
  clip: { id: number; width: number; height: number };
  figure: FigureForm | undefined;
  left: number;
  width: number;
};

/** The clip's picture at a count, with the dancer in its middle. */
function Picture({ clip, figure, left, width }: PictureProps) {
  if (!figure) return null;
  const shown = (PICTURE_TALL * clip.width) / clip.height;
  const middle = (figure.middle ?? 0.5) * shown;
  return (
    <div className="absolute top-0 h-full overflow-hidden border-r border-paper" style={{ left, width }}>
      <img
        src={`/api/clips/${clip.id}/picture?at=${figure.seconds.toFixed(3)}&tall=${2 * PICTURE_TALL}`}
        alt=""
        loading="lazy"
        className="absolute top-0 h-full max-w-none"
        style={{ width: shown, left: width / 2 - middle }}
      />
    </div>
  );
}
