/** What is read off the clip: the chosen row as the instructor dances it, what can be taken, what it does otherwise. */
import type { RoutineView, SheetFindingView } from '../api/schema';
import type { Chosen } from '../sheet/choosing';
import { many } from '../ui/format';
import type { Proposed } from './proposed';

type Props = {
  proposed: Proposed;
  against: readonly SheetFindingView[];
  row: number | undefined;
  busy: boolean;
  onTake: (rows: readonly number[]) => void;
  onChoose: (chosen: Chosen) => void;
  onMend: (sheet: RoutineView['sheet']) => void;
};

export function ClipPanel({ proposed, against, row, busy, onTake, onChoose, onMend }: Props) {
  if (proposed.waiting) return <p className="text-soft">{proposed.waiting}</p>;
  const here = row === undefined ? undefined : proposed.of(row);
  const alike = proposed.rows.filter((r) => r.like && r.new);
  return (
    <>
      {here ? (
        <div className="flex flex-col gap-1">
          <p className="text-soft">Row {here.row.number}, as the instructor dances it</p>
          <p>
            <b className="text-teach">{here.row.line}</b>
            <span className="text-soft">, {here.said}</span>
          </p>
          <ul className="flex flex-wrap gap-x-3 gap-y-0.5 text-sm">
            {here.row.cells
              .filter((c) => c.mark.cue || here.unsure.includes(c.label))
              .map((c) => (
                <li key={c.label}>
                  <span className="text-soft">{c.label} </span>
                  <span className="text-teach">
                    {here.unsure.includes(c.label) ? 'unsure: look' : c.mark.cue}
                  </span>
                </li>
              ))}
          </ul>
          {here.takes && (
            <button
              type="button"
              className="act self-start"
              disabled={busy}
              onClick={() => onTake([here.row.number])}
            >
              {here.new ? 'take the rows up to here' : 'take these words'}
              <kbd>Y</kbd>
            </button>
          )}
        </div>
      ) : (
        <p className="text-soft">Choose a row to see how the instructor dances it.</p>
      )}
      {proposed.open.length > 0 && (
        <button type="button" className="act self-start" disabled={busy} onClick={() => onTake([])}>
          take all that is sure: {many(proposed.open.length, 'row')}
          <kbd>Shift Y</kbd>
        </button>
      )}
      {alike.length > 0 && (
        <div className="flex flex-col gap-0.5 text-sm">
          <p className="text-soft">Danced again</p>
          {alike.map((r) => (
            <p key={r.row.number}>
              row {r.row.number}: {r.like}
            </p>
          ))}
        </div>
      )}
      <Against {...{ against, onChoose, onMend }} />
      <p className="text-sm text-soft">
        Read off the movement: teachers slip too, and so does this. What you typed stays.
      </p>
    </>
  );
}

/** What is written and what the clip does; who is right is left open. */
function Against({ against, onChoose, onMend }: Pick<Props, 'against' | 'onChoose' | 'onMend'>) {
  if (!against.length) return null;
  return (
    <div className="flex flex-col gap-1 text-sm">
      <p className="text-soft">Written, and not what the clip does</p>
      {against.map((f) => (
        <p key={`${f.row} ${f.label} ${f.about}`} className="flex flex-wrap gap-x-3">
          <button
            type="button"
            className="cursor-pointer text-left hover:underline"
            onClick={() => onChoose({ phrase: f.row, label: f.label ?? '1' })}
          >
            row {f.row}: {f.text}
          </button>
          {f.mend && (
            <button type="button" className="act" onClick={() => f.mend && onMend(f.mend.sheet)}>
              {f.mend.says}
            </button>
          )}
        </p>
      ))}
    </div>
  );
}
