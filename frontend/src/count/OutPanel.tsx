/** The sheet for other programs and on paper, and in again. */
import { useRef } from 'react';
import type { useEdits } from '../api/edits';
import type { OutForm, RoutineView } from '../api/schema';
import { Trouble } from '../ui/Said';
import { useDraft } from './drafts';

const SHEETS: readonly [OutForm, string, string][] = [
  ['pdf', 'to print, A4', 'large enough to read from the floor'],
  ['letter.pdf', 'to print, Letter', ''],
  ['json', 'JSON', 'everything; comes in again'],
  ['csv', 'CSV', 'for a spreadsheet; comes in again without order and easier ways'],
  ['md', 'Markdown', 'tables to read'],
];
const TIMES: readonly [OutForm, string, string][] = [
  ['vtt', 'subtitles', 'counts and cues over the clip in any player; their times come in again'],
  ['mid', 'MIDI', 'tempi, clicks and rows’ names; the tempi come in again'],
];

type Props = { routine: RoutineView; edits: ReturnType<typeof useEdits> };

export function OutPanel({ routine, edits }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const { takeIn } = edits;
  const ways = routine.grid ? [...SHEETS, ...TIMES] : SHEETS;
  return (
    <>
      {routine.rows.length ? (
        <ul className="grid grid-cols-[112px_1fr] items-baseline gap-x-2 gap-y-1.5 text-sm">
          {ways.map(([form, name, note]) => (
            <li key={form} className="contents">
              <a
                className="act justify-self-start"
                download
                href={`/api/routines/${routine.id}/sheet/${form}`}
              >
                {name}
              </a>
              <span className="text-soft">{note}</span>
            </li>
          ))}
        </ul>
      ) : (
        <p className="text-soft">There is no row yet to write out.</p>
      )}
      <div className="flex flex-wrap items-baseline gap-x-3 border-t border-hair pt-2.5 text-sm">
        <button type="button" className="act" onClick={() => input.current?.click()}>
          take a file in
        </button>
        <span className="text-soft">.json and .csv: the sheet; .vtt and .mid: where its counts lie</span>
        <input
          ref={input}
          type="file"
          accept=".json,.csv,.vtt,.mid,.midi"
          className="hidden"
          aria-label="a sheet to take in"
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = '';
            if (file) takeIn.mutate(file);
          }}
        />
      </div>
      {takeIn.isPending && <p role="status">Being read.</p>}
      {takeIn.error && <Trouble>{takeIn.error.message}</Trouble>}
      {takeIn.data && !takeIn.isPending && (
        <p role="status" className="text-sm">
          {takeIn.data.said} Undo takes it back.
        </p>
      )}
      <Paste {...{ routine, edits }} />
    </>
  );
}

/** A sheet as somebody wrote it down, pasted whole; it stays here until all of it can be read. */
function Paste({ routine, edits }: Props) {
  const [text, keep] = useDraft(`juxtakine pasted ${routine.id}`);
  const { paste } = edits;
  return (
    <form
      className="flex flex-col gap-1.5 border-t border-hair pt-2.5 text-sm"
      onSubmit={(e) => {
        e.preventDefault();
        if (text) paste.mutate(text, { onSuccess: () => keep(null) });
      }}
    >
      <textarea
        aria-label="a sheet as text"
        className="h-28 w-full rounded-[2px] border border-edge bg-paper px-2 py-1"
        placeholder={'# A\nQuay: 1 2 3 - 5 6 7 8\nRopes: walk R L, shuffle R, rock L recover, coaster L'}
        spellCheck={false}
        value={text ?? ''}
        onChange={(e) => keep(e.target.value || null)}
      />
      <span className="flex flex-wrap items-baseline gap-x-3">
        <button type="submit" className="act" disabled={!text || paste.isPending}>
          add these rows
        </button>
        <span className="text-soft">a line for each row, in counts or step names; # begins a section</span>
      </span>
      {paste.error && <Trouble>{paste.error.message}</Trouble>}
      {paste.data && !paste.isPending && !paste.error && (
        <p role="status">{paste.data.said} Undo takes it back.</p>
      )}
    </form>
  );
}
