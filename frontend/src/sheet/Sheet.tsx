/**
 * The sheet: a row for each phrase, a cell for each count, narrower cells for the subdivisions it uses. It stands on
 * every screen in the same place, order and size; each screen lays its own layer over it.
 */
import { Fragment, type ReactNode, useEffect, useRef, useState } from 'react';
import type { CellView, RowView } from '../api/schema';
import type { Chosen } from './choosing';
import { type Form, LINE, linesOf, type RowLine, useForm } from './form';

/** Where a cell's own drawing goes, in pixels; `unit` is the width of one count. */
export type Box = { width: number; height: number; unit: number; tall: boolean };

export type Layer = {
  draw: (row: RowView, cell: CellView, box: Box) => ReactNode;
  say: (row: RowView, cell: CellView) => string;
  words: (row: RowView, open: boolean) => ReactNode;
  drawer?: (row: RowView, line: RowLine, form: Form) => ReactNode;
  /** Where there is no room beside: under the open row's cells instead. */
  drawerOnPhone?: boolean;
  /** What stands beside the drawer, under the row's name. */
  legend?: (row: RowView) => ReactNode;
  notch?: (row: RowView, cell: CellView) => boolean;
  /** A row without paper: not counted, not measured. */
  pale?: (row: RowView) => boolean;
};

type Props = {
  rows: readonly RowView[];
  layer: Layer;
  chosen: Chosen | null;
  now: Chosen | null;
  heading: string;
  onChoose: (chosen: Chosen) => void;
};

export function Sheet({ rows, layer, chosen, now, heading, onChoose }: Props) {
  const form = useForm(rows);
  const sheet = useRef<HTMLDivElement>(null);
  // the focus goes with the choice, and the choice stays in sight
  // biome-ignore lint/correctness/useExhaustiveDependencies: it follows the choice
  useEffect(() => {
    const cell = sheet.current?.querySelector<HTMLElement>('[aria-pressed=true]');
    if (document.activeElement?.hasAttribute('data-cell')) cell?.focus({ preventScroll: true });
    cell?.scrollIntoView({ block: 'nearest' });
  }, [chosen?.phrase, chosen?.label]);
  const [folded, setFolded] = useState<ReadonlySet<number>>(new Set());
  const fold = (number: number) =>
    setFolded((now) => new Set(now.has(number) ? [...now].filter((n) => n !== number) : [...now, number]));
  const headed = sectionsOf(rows);
  return (
    <div ref={sheet} style={{ maxWidth: form.phone ? undefined : 760 }}>
      {!form.phone && <Head form={form} heading={heading} />}
      {rows.map((row) => (
        <Row
          key={row.number}
          folded={folded.has(headed.get(row.number) ?? 0) && chosen?.phrase !== row.number}
          onFold={() => fold(row.number)}
          {...{ row, form, layer, chosen, now, onChoose }}
          reachable={!chosen && row.number === 1}
        />
      ))}
    </div>
  );
}

/** Of each row the one whose heading it stands under. */
function sectionsOf(rows: readonly RowView[]): Map<number, number> {
  let under = 0;
  return new Map(
    rows.map((row) => {
      if (row.heading) under = row.number;
      return [row.number, under];
    }),
  );
}

function Head({ form, heading }: { form: Form; heading: string }) {
  return (
    <div
      className="sticky top-0 z-[5] mb-1.5 h-[18px] bg-ground text-[13px] leading-[18px] text-soft"
      aria-hidden
    >
      {Array.from({ length: LINE }, (_, k) => k + 1).map((n) => (
        <span
          key={n}
          className="absolute text-center"
          style={{ left: form.gutter + (n - 1) * form.unit, width: form.unit }}
        >
          {n}
        </span>
      ))}
      <span className="absolute" style={{ left: form.gutter + LINE * form.unit + 16 }}>
        {heading}
      </span>
    </div>
  );
}

type RowProps = Omit<Props, 'rows' | 'heading'> & {
  row: RowView;
  form: Form;
  reachable: boolean;
  folded: boolean;
  onFold: () => void;
};

function Row({ row, form, layer, chosen, now, reachable, folded, onFold, onChoose }: RowProps) {
  const open = chosen?.phrase === row.number;
  const tall = !form.phone && (form.tall || open);
  const height = open ? form.openHeight : form.height;
  const lines = linesOf(row);
  const shown = lines.find((l) => l.cells.some((c) => c.label === chosen?.label)) ?? lines[0];
  const drawer = open && !form.phone && layer.drawer && shown ? layer.drawer(row, shown, form) : null;
  const gap = form.pitch - form.height;
  const pale = layer.pale?.(row) ?? false;
  const name = row.name || 'no name';
  const words = layer.words(row, open);
  return (
    <>
      {row.heading && (
        <button
          type="button"
          data-heading
          aria-expanded={!folded}
          className="block max-w-full cursor-pointer truncate pb-0.5 text-[13px] leading-4 text-soft hover:text-ink hover:underline"
          onClick={onFold}
        >
          {row.heading}
          {folded && ' …'}
        </button>
      )}
      {/* biome-ignore lint/a11y/useSemanticElements: a fieldset can't be laid out like this */}
      <div
        role="group"
        aria-label={`row ${row.number}, ${name}`}
        data-row={row.number}
        className="relative"
        hidden={folded}
        style={{ marginTop: open && !form.phone ? 5 : 0, marginBottom: form.phone ? 0 : gap }}
      >
        {form.phone ? (
          <div className="flex h-[19px] items-center gap-2 text-[13.5px] leading-[19px]">
            <b className="truncate">
              {row.number} {name}
            </b>
            <div className="ml-auto flex min-w-0 items-center gap-2">{words}</div>
          </div>
        ) : (
          <div
            className="absolute left-0 flex text-sm"
            style={{ top: tall ? 8 : height / 2 - 9, width: form.gutter, lineHeight: '18px' }}
          >
            <span className="w-[17px] shrink-0 text-right text-soft">{row.number}</span>
            <span
              className={`truncate pl-2 ${open ? 'font-bold' : 'font-semibold'} ${row.name && !pale ? '' : 'text-soft'}`}
            >
              {name}
            </span>
          </div>
        )}
        {lines.map((line) => (
          <Fragment key={line.from}>
            <div
              className={`relative border ${pale ? '' : 'bg-paper'} ${open ? 'border-edge' : 'border-hair'}`}
              style={{
                marginLeft: form.gutter,
                marginTop: line.from ? 4 : 0,
                width: line.counts * form.unit + 1,
                height,
              }}
            >
              {line.cells.map((cell, i) => (
                <Cell
                  key={cell.label}
                  {...{ row, cell, form, layer, height, tall, onChoose }}
                  left={(cell.offset - line.from) * form.unit}
                  chosen={open && chosen.label === cell.label}
                  sounds={now?.phrase === row.number && now.label === cell.label}
                  reachable={(open && chosen.label === cell.label) || (reachable && i === 0)}
                />
              ))}
            </div>
            {drawer && line === shown && (
              <div
                className="relative border border-t-0 border-edge bg-paper"
                style={{ marginLeft: form.gutter, width: LINE * form.unit + 1, height: form.drawer }}
              >
                {drawer}
              </div>
            )}
          </Fragment>
        ))}
        {open && form.phone && layer.drawerOnPhone && shown && (
          <div className="border border-t-0 border-edge bg-paper">{layer.drawer?.(row, shown, form)}</div>
        )}
        {open && !form.phone && layer.legend && (
          <div
            className="absolute left-0 text-[13px] text-soft"
            style={{ top: height, width: form.gutter - 6 }}
          >
            {layer.legend(row)}
          </div>
        )}
        {!form.phone && (
          <div
            className="absolute right-0 flex items-start text-sm leading-[18px]"
            style={{ left: form.gutter + LINE * form.unit + 16, top: tall ? 8 : height / 2 - 9 }}
          >
            {words}
          </div>
        )}
      </div>
    </>
  );
}

type CellProps = {
  row: RowView;
  cell: CellView;
  form: Form;
  layer: Layer;
  height: number;
  tall: boolean;
  left: number;
  chosen: boolean;
  sounds: boolean;
  reachable: boolean;
  onChoose: (chosen: Chosen) => void;
};

function Cell({
  row,
  cell,
  form,
  layer,
  height,
  tall,
  left,
  chosen,
  sounds,
  reachable,
  onChoose,
}: CellProps) {
  const width = cell.width * form.unit;
  const whole = Number.isInteger(cell.offset);
  const edge = whole ? 'border-solid' : 'border-dotted border-edge';
  const ring = chosen
    ? 'z-[2] outline-[2.4px] outline-ink focus-visible:outline-[2.4px]'
    : 'hover:z-[1] hover:outline-[1.4px] hover:outline-dashed';
  return (
    <button
      type="button"
      data-cell
      tabIndex={reachable ? 0 : -1}
      aria-pressed={chosen}
      aria-label={`${row.name || `row ${row.number}`}, ${cell.label}: ${layer.say(row, cell)}`}
      className={`absolute top-0 cursor-pointer outline-offset-0 ${ring} ${sounds ? 'bg-wash' : ''} ${left ? `border-l border-hair ${edge}` : ''} ${left < 0 ? 'border-y' : ''} ${chosen ? 'focus-visible:shadow-[0_0_0_5px_var(--ground),0_0_0_7.5px_var(--ink)]' : ''}`}
      style={{ left, width, height: height - 1 }}
      onClick={() => onChoose({ phrase: row.number, label: cell.label })}
    >
      {layer.notch?.(row, cell) && <Notch inside={form.phone} />}
      {tall && <span className="absolute left-1 top-0 text-[12.5px] leading-4 text-soft">{cell.sign}</span>}
      <svg width={width} height={height} className="absolute left-0 top-0 overflow-visible" aria-hidden>
        {layer.draw(row, cell, { width, height, unit: form.unit, tall })}
      </svg>
    </button>
  );
}

/** Here it starts to go wrong. */
const Notch = ({ inside }: { inside: boolean }) => (
  <svg
    width={12}
    height={9}
    className={`absolute z-[3] ${inside ? '-left-[5px] top-0 scale-75' : '-left-[6px] -top-[7px]'}`}
    aria-hidden
  >
    <path d="M0 0h12l-6 9z" className="fill-ink" />
  </svg>
);
