/** Count: the sheet's lines typed and checked, and the counts laid over the instructor's clip. */
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { useClipActs, useEdits, useJob, useRead, useReading, useWave } from '../api/queries';
import type { CellView, ClipView, PhraseForm, RoutineView, RowView } from '../api/schema';
import { useUpload } from '../api/useUpload';
import { Clip } from '../clips/Clip';
import { secondsOf } from '../clips/line';
import type { Player } from '../clips/player';
import { usePlayer, useSeen } from '../clips/usePlayer';
import { type Chosen, find } from '../sheet/choosing';
import { Free } from '../sheet/marks';
import { type Box, type Layer, Sheet } from '../sheet/Sheet';
import { useChosen, useSheetKeys } from '../sheet/useChosen';
import { useSounding } from '../sheet/useSounding';
import { Ask } from '../ui/Ask';
import { chooseFile, DropPlace } from '../ui/DropPlace';
import { many, time } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Page, type Tab } from '../ui/Page';
import { Progress } from '../ui/Progress';
import { Trouble } from '../ui/Said';
import { Sending } from '../ui/Sending';
import { useDraft } from './drafts';
import { added, changed, EIGHT, freed, marksOn, moved, removed } from './edits';
import { GridPanel } from './GridPanel';
import { type Draft, RowEditor } from './RowEditor';

type Props = { routine: RoutineView; tabs: readonly Tab[] };

export function Count({ routine, tabs }: Props) {
  const player = usePlayer();
  const edits = useEdits(routine.id);
  const [chosen, setChosen] = useChosen();
  const open = chosen ? routine.rows[chosen.phrase - 1] : undefined;
  const typing = useTyping(routine, open, edits);
  const rows = useMemo(() => withDraft(routine.rows, open, typing.cells), [routine.rows, open, typing.cells]);
  const line = useMemo(() => routine.grid?.counts_s.map((seconds, at) => ({ at, seconds })), [routine.grid]);
  const now = useSounding(player, rows, line);
  const at = find(rows, chosen)?.cell.at;
  // the clip stands at the chosen count, also when it came with the address
  useEffect(() => {
    if (line && at !== undefined) player.seek(secondsOf(line, at));
  }, [player, line, at]);
  const save = useSaving(routine, edits, setChosen);
  const add = (after: number, phrase: PhraseForm) => {
    save((phrases) => added(phrases, after, phrase), { phrase: after + 1, label: '1' });
    setTimeout(focusLine, 150);
  };
  const free = () => (chosen && open ? save((p) => freed(p, chosen.phrase, chosen.label)) : false);
  useSheetKeys(rows, chosen, setChosen);
  useKeys({
    ' ': () => player.toggle(),
    'Shift+ArrowLeft': () => player.seek(player.seconds - 1 / (routine.reference?.fps ?? 30)),
    'Shift+ArrowRight': () => player.seek(player.seconds + 1 / (routine.reference?.fps ?? 30)),
    z: () => routine.can_undo && edits.step.mutate('undo'),
    'Shift+z': () => routine.can_redo && edits.step.mutate('redo'),
    a: () => add(open?.number ?? rows.length, EIGHT),
    e: focusLine,
    f: free,
  });
  const editor = open && typing.draft && (
    <RowEditor
      row={open.number}
      last={rows.length}
      draft={typing.draft}
      typed={typing.typed}
      reading={typing.reading}
      refused={edits.sheet.error?.problem ?? null}
      onDraft={typing.change}
      onKeep={() => typing.keep(save)}
      onDrop={typing.drop}
      onMove={(by) =>
        save((p) => moved(p, open.number, by), { phrase: open.number + by, label: chosen?.label ?? '1' })
      }
      onRepeat={() => add(open.number, routine.sheet.phrases?.[open.number - 1] ?? EIGHT)}
      onRemove={() => save((p) => removed(p, open.number))}
    />
  );
  const layer: Layer = {
    draw: (_, cell, box) => <Written cell={cell} box={box} />,
    say: (_, cell) => (cell.free ? 'free' : cell.hold ? 'a hold' : cell.cue || 'scored'),
    words: (row) => <RowLineWords row={row} />,
    drawer: () => editor,
    drawerOnPhone: true,
    legend: () => <p className="pl-[25px] pt-2 leading-4">& between two counts, - for a hold</p>,
    ands: true,
  };
  return (
    <Page
      title={routine.title}
      tabs={tabs}
      context={rows.length ? `${many(rows.length, 'row')}, ${many(routine.total, 'count')}` : 'just begun'}
      left={<Reference {...{ routine, player, edits }} row={open?.number} />}
      sentence={<WhatNext routine={routine} typing={typing} />}
      aside={<span data-saved>{edits.sheet.isPending ? 'being kept' : rows.length ? 'kept' : ''}</span>}
    >
      {edits.sheet.error && !open && <Trouble>{edits.sheet.error.message}</Trouble>}
      <Sheet {...{ rows, layer, chosen, now }} heading="from, as typed" onChoose={setChosen} />
      <div className="flex flex-wrap items-baseline gap-x-6 gap-y-2 pt-3 bench:pl-[104px]">
        <button
          type="button"
          className={rows.length ? 'act' : 'main'}
          onClick={() => add(open?.number ?? rows.length, EIGHT)}
        >
          {rows.length ? 'Add a row' : 'Type the first row'}
          <kbd>A</kbd>
        </button>
        <button type="button" className="act" disabled={!open} onClick={free}>
          {chosen && find(rows, chosen)?.cell.free ? 'score this count again' : 'leave this count free'}
          <kbd>F</kbd>
        </button>
        <button
          type="button"
          className="act"
          disabled={!routine.can_undo}
          onClick={() => edits.step.mutate('undo')}
        >
          Undo<kbd>Z</kbd>
        </button>
        <button
          type="button"
          className="act"
          disabled={!routine.can_redo}
          onClick={() => edits.step.mutate('redo')}
        >
          Redo<kbd>Shift Z</kbd>
        </button>
      </div>
      <p className="pt-3 text-[13px] text-soft bench:pl-[104px]">
        1 2 3 & 4 - 6 7 8: a row may begin anywhere (& 1, or 3 &) and have 4, 6, 12 or 16 counts; e and a
        divide a count further.
      </p>
    </Page>
  );
}

/** Pixels that a letter of a cue takes. */
const LETTER = 6;

const focusLine = () => document.querySelector<HTMLInputElement>('input[data-line]')?.select();

type Save = (
  edit: (phrases: readonly PhraseForm[]) => PhraseForm[],
  then?: Chosen,
  kept?: () => void,
) => void;

/** Edits come faster than they are kept: each begins from the one before, not from what the server last said. */
function useSaving(
  routine: RoutineView,
  edits: ReturnType<typeof useEdits>,
  choose: (next: Chosen) => void,
): Save {
  const latest = useRef<PhraseForm[] | null>(null);
  const said = routine.sheet.phrases ?? [];
  return (edit, then, kept) => {
    const phrases = edit(latest.current ?? said);
    latest.current = phrases;
    edits.sheet
      .mutateAsync({ ...routine.sheet, phrases })
      .then(() => {
        kept?.();
        if (then) choose(then);
      })
      .catch(() => {}) // it is shown from the mutation's own state
      .finally(() => {
        if (latest.current === phrases) latest.current = null;
      });
  };
}

/** The row that is open as it is being typed; kept in the browser until it is kept in the sheet. */
function useTyping(routine: RoutineView, open: RowView | undefined, edits: ReturnType<typeof useEdits>) {
  const [stored, store] = useDraft(`juxtakine row ${routine.id} ${open?.number ?? 0}`);
  const phrase = open && routine.sheet.phrases?.[open.number - 1];
  const draft: Draft | undefined = stored ? JSON.parse(stored) : phrase;
  const asked: PhraseForm = { ...EIGHT, ...phrase, ...draft, marks: [] };
  const reading = useReading(asked).data;
  const read = useRead();
  const typed = stored !== null;
  const change = (next: Draft) => {
    edits.sheet.reset();
    store(JSON.stringify({ name: next.name, counts: next.counts, line: next.line }));
  };
  const keep = async (save: Save) => {
    if (!open || !draft || !phrase) return;
    const exact = await read(asked);
    if (exact.problem) return;
    const marks = marksOn(phrase.marks ?? [], exact.cells);
    save(
      (phrases) => changed(phrases, open.number, { ...draft, marks }),
      undefined,
      () => store(null),
    );
  };
  const cells = typed && reading && !reading.problem ? reading.cells : null;
  return { draft, typed, reading: typed ? reading : undefined, change, keep, drop: () => store(null), cells };
}

/** Rows with the one that is being typed as it would be. */
function withDraft(rows: RowView[], open: RowView | undefined, cells: CellView[] | null): RowView[] {
  return cells && open ? rows.map((r) => (r === open ? { ...r, cells } : r)) : rows;
}

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

function WhatNext({
  routine,
  typing,
}: {
  routine: RoutineView;
  typing: { reading?: { problem: unknown } | undefined };
}) {
  if (typing.reading?.problem) return <b>This row can’t be read yet.</b>;
  if (!routine.rows.length)
    return (
      <>
        <b>Type the routine’s rows:</b> a line for each phrase, as you count it.
      </>
    );
  if (!routine.grid)
    return (
      <>
        <b>Place count 1</b> in the clip, and say the tempo or a later count.
      </>
    );
  if (routine.remark) return <b>{routine.remark}</b>;
  const take = routine.takes.length ? 'Compare' : 'drop your take in Compare';
  return (
    <>
      <b>The sheet is counted.</b> Next:{' '}
      <Link className="act" to="../compare" relative="path">
        {take}
      </Link>
    </>
  );
}

type ReferenceProps = {
  routine: RoutineView;
  player: Player;
  edits: ReturnType<typeof useEdits>;
  row: number | undefined;
};

function Reference({ routine, player, edits, row }: ReferenceProps) {
  const again = useCallback(() => {}, []);
  const upload = useUpload(again);
  const [replacing, setReplacing] = useState(false);
  const replace = (file: File) => upload.begin(`/api/routines/${routine.id}/reference`, file);
  const clip = routine.reference;
  const wave = useWave(clip?.id, clip?.playable ?? false);
  const input = useRef<HTMLInputElement>(null);
  useKeys({ n: () => (clip ? setReplacing(true) : chooseFile()) });
  if (!clip)
    return (
      <>
        <DropPlace
          title="Drop the instructor’s clip here"
          note="the routine danced through once, the whole body in shot"
          act="Choose the clip"
          onFile={replace}
        />
        <Sending upload={upload} />
      </>
    );
  return (
    <>
      <div className="flex gap-4">
        <Clip
          {...{ player, clip }}
          side="lead"
          whose="teach"
          label="instructor"
          whole
          className="aspect-4/5 w-[184px] shrink-0"
        />
        <Facts clip={clip} player={player} onReplace={() => setReplacing(true)} />
      </div>
      <Sending upload={upload} />
      <ClipWork routine={routine.id} clip={clip} />
      <GridPanel {...{ routine, player, edits, row }} peaks={wave.data} />
      <input
        ref={input}
        type="file"
        accept="video/*,.mkv,.avi"
        className="hidden"
        aria-label="another clip"
        onChange={(e) => e.target.files?.[0] && replace(e.target.files[0])}
      />
      {replacing && (
        <Ask
          title="Another clip of the instructor?"
          act="Choose it"
          onAct={() => {
            setReplacing(false);
            input.current?.click();
          }}
          onClose={() => setReplacing(false)}
        >
          <p>
            The clip that is here goes, with its measurements. The sheet and your takes stay; count 1 must be
            placed anew.
          </p>
        </Ask>
      )}
    </>
  );
}

function Facts({ clip, player, onReplace }: { clip: ClipView; player: Player; onReplace: () => void }) {
  const seconds = useSeen(player, (p) => Math.round(p.seconds * 100) / 100);
  const playing = useSeen(player, (p) => p.playing);
  return (
    <div className="flex min-w-0 flex-col gap-1.5">
      <b className="truncate">{clip.name}</b>
      <span className="text-soft">
        {time(clip.duration_s, 0)} long, {clip.has_sound ? 'with sound' : 'no sound'}
      </span>
      <span className="text-soft">{clip.fps} frames a second</span>
      <button type="button" className="act self-start" onClick={onReplace}>
        another clip<kbd>N</kbd>
      </button>
      <b className="mt-auto text-[28px] leading-none">{time(seconds)}</b>
      <div className="flex flex-wrap gap-4">
        <button
          type="button"
          className="act"
          onClick={() => player.seek(player.seconds - 1 / clip.fps)}
          aria-label="a frame back"
        >
          ‹ frame
        </button>
        <button
          type="button"
          className="act"
          onClick={() => player.seek(player.seconds + 1 / clip.fps)}
          aria-label="a frame on"
        >
          frame ›
        </button>
        <button type="button" className="act" onClick={() => player.toggle()}>
          {playing ? 'stop' : 'play'}
          <kbd>Space</kbd>
        </button>
      </div>
    </div>
  );
}

/** The instructor's clip being measured, or what came in between. */
function ClipWork({ routine, clip }: { routine: number; clip: ClipView }) {
  const acts = useClipActs(routine);
  const job = useJob(routine, clip);
  if (!job || clip.measured) return null;
  if (job.state === 'queued' || job.state === 'running')
    return <Progress job={job} onCancel={() => acts.cancel.mutate(clip.id)} />;
  return (
    <Trouble>
      {job.error ?? 'Measuring was stopped. The clip is kept.'}{' '}
      <button type="button" className="act" onClick={() => acts.measure.mutate(clip.id)}>
        Measure it
      </button>
    </Trouble>
  );
}
