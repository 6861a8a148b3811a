/** Under an open row that is only proposed: its line, how sure it is, and the key that takes it. */
import type { ProposedRowView } from '../api/schema';

type Props = { read: ProposedRowView; busy: boolean; onTake: (rows: readonly number[]) => void };

export function Taking({ read, busy, onTake }: Props) {
  return (
    <div className="flex h-full flex-col justify-center gap-2 px-3 py-2 text-sm">
      <p>
        Read off the clip: <b className="text-teach">{read.row.line}</b>, {read.said}
        {read.like && `; ${read.like}`}
        {read.unsure.length > 0 && `. Look at ${read.unsure.join(', ')} yourself.`}
      </p>
      <button
        type="button"
        className="act self-start"
        disabled={busy}
        onClick={() => onTake([read.row.number])}
      >
        take the rows up to here
        <kbd>Y</kbd>
      </button>
    </div>
  );
}
