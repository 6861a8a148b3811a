/** The chosen row as it is typed, by counts or by step names: it is read while the keys fall; Enter keeps it. */
import { useRef } from 'react';
import type { LineReading, MisfitView, PhraseForm, Problem, UnknownStep } from '../api/schema';

/** `steps`: the line of step names that is typed in the place of counts. */
export type Draft = Pick<PhraseForm, 'name' | 'counts' | 'line'> & { steps: string | null };
type Props = {
  row: number;
  last: number;
  draft: Draft;
  typed: boolean;
  reading: LineReading | undefined;
  unknown: readonly UnknownStep[];
  misfits: readonly MisfitView[];
  /** How many counts the steps take, where they are typed. */
  counted: number | null;
  refused: Problem | null;
  onDraft: (draft: Draft) => void;
  onKeep: () => void;
  onDrop: () => void;
  onMove: (by: -1 | 1) => void;
  onRepeat: () => void;
  onRemove: () => void;
  /** The chosen count becomes a 1, where it can. */
  onRenumber?: (() => void) | undefined;
};

export function RowEditor({
  row,
  last,
  draft,
  typed,
  reading,
  unknown,
  misfits,
  counted,
  refused,
  onDraft,
  onKeep,
  onDrop,
  ...acts
}: Props) {
  const line = useRef<HTMLInputElement>(null);
  const named = draft.steps !== null;
  const text = draft.steps ?? draft.line;
  const type = (now: string) => onDraft(named ? { ...draft, steps: now } : { ...draft, line: now });
  const problem = reading?.problem ?? refused;
  const [strange] = unknown;
  const [misfit] = misfits;
  const odd = strange ?? misfit;
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
            className="pointer-events-none absolute inset-0 overflow-hidden whitespace-pre border border-transparent px-[7px] py-[3px] font-[650] text-transparent"
            aria-hidden
          >
            {problem && <Place text={text} problem={problem} />}
            {!problem && odd && <Place text={text} problem={odd} />}
          </div>
          <input
            ref={line}
            data-line
            aria-label={named ? `steps of row ${row}` : `line of row ${row}`}
            placeholder={named ? 'walk R L, shuffle R, rock L recover, coaster L' : undefined}
            aria-invalid={!!problem}
            className="relative w-full bg-transparent font-[650]"
            spellCheck={false}
            autoComplete="off"
            value={text}
            onChange={(e) => type(e.target.value)}
          />
        </div>
        <button type="submit" className="act" disabled={!typed || !!reading?.problem || counted === 0}>
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
            disabled={named}
            type="number"
            min={1}
            max={64}
            value={counted ?? draft.counts}
            onChange={(e) =>
              onDraft({ ...draft, counts: Math.max(1, Math.min(64, Number(e.target.value) || 1)) })
            }
          />
        </label>
        <button
          type="button"
          className="act text-[13px]"
          onClick={() => {
            onDraft({ ...draft, steps: named ? null : '' });
            line.current?.focus();
          }}
        >
          {named ? 'type counts' : 'type step names'}
        </button>
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
      ) : strange ? (
        <p className="mt-auto flex flex-wrap items-baseline gap-x-2 text-[12.5px] leading-4">
          <span>
            No step we know is called “{strange.name}”: it is kept as a cue
            {strange.near.length > 0 && ', or meant is'}
          </span>
          {strange.near.map((name) => (
            <button
              key={name}
              type="button"
              className="act"
              onClick={() => {
                type(text.slice(0, strange.start) + name + text.slice(strange.end));
                line.current?.focus();
              }}
            >
              {name}
            </button>
          ))}
        </p>
      ) : misfit ? (
        <p className="mt-auto text-[12.5px] leading-4">{misfit.told}.</p>
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
          {acts.onRenumber && (
            <button type="button" className="act" onClick={acts.onRenumber}>
              a 1 is here
            </button>
          )}
        </div>
      )}
    </form>
  );
}

/** Back from typing to the keys of the screen. */
const leave = () => (document.activeElement as HTMLElement | null)?.blur();

/** The typed line with the place of its error marked, under the letters themselves. */
function Place({ text, problem }: { text: string; problem: Pick<Problem, 'start' | 'end'> }) {
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
