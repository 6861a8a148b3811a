/** The chosen row as it is typed: its line is read while the keys fall; Enter keeps it. */
import { useRef } from 'react';
import type { LineReading, PhraseForm, Problem } from '../api/schema';

export type Draft = Pick<PhraseForm, 'name' | 'counts' | 'line'>;
type Props = {
  row: number;
  last: number;
  draft: Draft;
  typed: boolean;
  reading: LineReading | undefined;
  refused: Problem | null;
  onDraft: (draft: Draft) => void;
  onKeep: () => void;
  onDrop: () => void;
  onMove: (by: -1 | 1) => void;
  onRepeat: () => void;
  onRemove: () => void;
};

export function RowEditor({
  row,
  last,
  draft,
  typed,
  reading,
  refused,
  onDraft,
  onKeep,
  onDrop,
  ...acts
}: Props) {
  const line = useRef<HTMLInputElement>(null);
  const problem = reading?.problem ?? refused;
  const mended = reading?.problem && reading.mended;
  const mend = () => {
    if (mended) onDraft({ ...draft, line: mended });
    line.current?.focus();
  };
  return (
    <form
      className="flex h-full flex-col gap-1 px-2 py-1.5 text-sm"
      onSubmit={(e) => {
        e.preventDefault();
        leave(); // which keeps it
      }}
      onBlur={(e) => {
        if (typed && !e.currentTarget.contains(e.relatedTarget)) onKeep();
      }}
      onKeyDown={(e) => {
        if (e.key === 'Escape') {
          onDrop();
          setTimeout(leave);
        }
        if (e.key === 'Tab' && !e.shiftKey && mended && e.target === line.current) {
          e.preventDefault();
          mend();
        }
      }}
    >
      <div className="flex items-baseline gap-2">
        <div className="relative min-w-0 flex-1 text-base">
          <div
            className="pointer-events-none absolute inset-0 overflow-hidden whitespace-pre border border-transparent px-[7px] py-[3px] text-transparent"
            aria-hidden
          >
            {problem && <Place text={draft.line} problem={problem} />}
          </div>
          <input
            ref={line}
            data-line
            aria-label={`line of row ${row}`}
            aria-invalid={!!problem}
            className="relative w-full bg-transparent font-[650]"
            spellCheck={false}
            autoComplete="off"
            value={draft.line}
            onChange={(e) => onDraft({ ...draft, line: e.target.value })}
          />
        </div>
        <button type="submit" className="act" disabled={!typed || !!reading?.problem}>
          Keep<kbd>Enter</kbd>
        </button>
      </div>
      <div className="flex flex-wrap items-baseline gap-x-3">
        <label>
          <span className="text-soft">name </span>
          <input
            className="w-32 py-0"
            value={draft.name}
            onChange={(e) => onDraft({ ...draft, name: e.target.value })}
          />
        </label>
        <label>
          <span className="text-soft">counts </span>
          <input
            className="w-14 py-0"
            type="number"
            min={1}
            max={64}
            value={draft.counts}
            onChange={(e) =>
              onDraft({ ...draft, counts: Math.max(1, Math.min(64, Number(e.target.value) || 1)) })
            }
          />
        </label>
      </div>
      {problem ? (
        <p role="alert" className="mt-auto flex flex-wrap items-baseline gap-x-3">
          <b>{problem.sentence}</b>
          {mended && (
            <button type="button" className="main px-2 py-0" onClick={mend}>
              Write {mended}
              <kbd>Tab</kbd>
            </button>
          )}
        </p>
      ) : (
        <div className="mt-auto flex flex-wrap items-baseline gap-x-4 text-[13px]">
          <button type="button" className="act" disabled={row === 1} onClick={() => acts.onMove(-1)}>
            up
          </button>
          <button type="button" className="act" disabled={row === last} onClick={() => acts.onMove(1)}>
            down
          </button>
          <button type="button" className="act" onClick={acts.onRepeat}>
            repeat this row
          </button>
          <button type="button" className="act" onClick={acts.onRemove}>
            remove
          </button>
        </div>
      )}
    </form>
  );
}

/** Back from typing to the keys of the screen. */
const leave = () => (document.activeElement as HTMLElement | null)?.blur();

/** The typed line with the place of its error marked, under the letters themselves. */
function Place({ text, problem }: { text: string; problem: Problem }) {
  const end = Math.max(problem.end, problem.start + 1);
  return (
    <>
      {text.slice(0, problem.start)}
      <mark className="border-b-[3px] border-ink bg-wash text-transparent">
        {text.slice(problem.start, end) || ' '}
      </mark>
    </>
  );
}
