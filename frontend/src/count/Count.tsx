/** Count: the sheet's lines typed and checked, and the counts laid over the instructor's clip. */
import { useEffect, useMemo } from 'react';
import { Link } from 'react-router';
import { useEdits } from '../api/queries';
import type { PhraseForm, RoutineView } from '../api/schema';
import { secondsOf } from '../clips/line';
import { usePlayer } from '../clips/usePlayer';
import { find } from '../sheet/choosing';
import { Sheet } from '../sheet/Sheet';
import { useChosen, useSheetKeys } from '../sheet/useChosen';
import { useSounding } from '../sheet/useSounding';
import { many } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Page, type Tab } from '../ui/Page';
import { Trouble } from '../ui/Said';
import { added, EIGHT, freed, moved, removed } from './edits';
import { writtenLayer } from './layer';
import { Reference } from './Reference';
import { RowEditor } from './RowEditor';
import { useSaving, useTyping, withDraft } from './typing';

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
  const fps = routine.reference?.fps ?? 30;
  const save = useSaving(routine, edits, setChosen);
  const add = (after: number, phrase: PhraseForm) => {
    save((phrases) => added(phrases, after, phrase), { phrase: after + 1, label: '1' });
    setTimeout(focusLine, 150);
  };
  const free = () => (chosen && open ? save((p) => freed(p, chosen.phrase, chosen.label)) : false);
  useSheetKeys(rows, chosen, setChosen);
  useKeys({
    ' ': () => player.toggle(),
    'Shift+ArrowLeft': () => player.frame(-1, fps),
    'Shift+ArrowRight': () => player.frame(1, fps),
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
  const layer = writtenLayer(editor);
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

const focusLine = () => document.querySelector<HTMLInputElement>('input[data-line]')?.select();

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
