/** Count: the sheet typed and checked, what is done on each count, and the counts laid over the instructor's clip. */
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { useEdits } from '../api/edits';
import { useProposal } from '../api/queries';
import type { PhraseForm, RoutineView } from '../api/schema';
import { secondsOf } from '../clips/line';
import { usePlayer, usePlayKeys } from '../clips/usePlayer';
import { find } from '../sheet/choosing';
import { useForm } from '../sheet/form';
import { Sheet } from '../sheet/Sheet';
import { useChosen, useSheetKeys } from '../sheet/useChosen';
import { useSounding } from '../sheet/useSounding';
import { many } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Page, type Tab } from '../ui/Page';
import { Trouble } from '../ui/Said';
import { BeatPanel } from './BeatPanel';
import { Findings, Order, WhatNext } from './Checked';
import { ClipPanel } from './ClipPanel';
import { CountPanel } from './CountPanel';
import { added, EIGHT, eightAfter, markedThere, moved, removed } from './edits';
import { type Face, writtenLayer } from './layer';
import { OrderPanel } from './OrderPanel';
import { OutPanel } from './OutPanel';
import { Panel, SUBJECTS, type Subject } from './Panel';
import { proposedFrom, withFresh } from './proposed';
import { Reference } from './Reference';
import { RowEditor } from './RowEditor';
import { RowPanel } from './RowPanel';
import { useSchool } from './schools';
import { Taking } from './Taking';
import { useSaving, useTyping, withDraft } from './typing';
import { useGrid } from './useGrid';

type Props = { routine: RoutineView; tabs: readonly Tab[] };

export function Count({ routine, tabs }: Props) {
  const player = usePlayer();
  const edits = useEdits(routine.id);
  const [chosen, setChosen] = useChosen();
  const [subject, setSubject] = useState<Subject>('beat');
  const [face, setFace] = useState<Face>('line');
  const [school, setSchool] = useSchool();
  const open = chosen ? routine.rows[chosen.phrase - 1] : undefined;
  const typing = useTyping(routine, open, edits);
  const proposal = useProposal(routine.id).data;
  const proposed = useMemo(() => proposedFrom(proposal), [proposal]);
  const against = proposal?.against ?? [];
  const rows = useMemo(
    () => withFresh(withDraft(routine.rows, open, typing.cells), proposed),
    [routine.rows, open, typing.cells, proposed],
  );
  const line = useMemo(() => {
    const [own, read] = [routine.grid?.counts_s, proposal?.counts_s ?? []];
    return own && (read.length > own.length ? read : own).map((seconds, at) => ({ at, seconds }));
  }, [routine.grid, proposal]);
  const now = useSounding(player, rows, line);
  const place = find(rows, chosen);
  const at = place?.cell.at;
  // the clip stands at the chosen count, also when it came with the address
  useEffect(() => {
    if (line && at !== undefined) player.seek(secondsOf(line, at));
  }, [player, line, at]);
  const fps = routine.reference?.fps ?? 30;
  const save = useSaving(routine, edits, setChosen);
  const begun = useRef<number | null>(null);
  const add = (after: number, phrase: PhraseForm) => {
    begun.current = after + 1;
    setFace('line');
    save(
      (s) => added(s, after, phrase),
      (now) => ({ phrase: firstOf(now, after + 1), label: '1' }),
    );
  };
  const addEight = () => {
    const after = open?.written ?? routine.sheet.phrases?.length ?? 0;
    add(after, eightAfter(routine.sheet, after));
  };
  // a row that was added is typed as soon as it opens
  useLayoutEffect(() => {
    if (open && begun.current === open.written) {
      begun.current = null;
      focusLine();
    }
  }, [open]);
  const free = () =>
    place ? save((s) => markedThere(s, place.row, place.cell, freed(place.cell.free))) : false;
  const { first, moveFirst, posts, onPlace } = useGrid(routine, edits, open);
  const take = (numbers: readonly number[]) => edits.propose.mutate(numbers);
  const takeAll = () => proposed.open.length > 0 && take([]);
  useSheetKeys(rows, chosen, setChosen);
  usePlayKeys(player, fps);
  useKeys({
    z: () => routine.can_undo && edits.step.mutate('undo'),
    'Shift+z': () => routine.can_redo && edits.step.mutate('redo'),
    a: () => addEight(),
    e: () => {
      setFace('line');
      setTimeout(focusLine);
    },
    f: free,
    l: () => (open ? setFace(face === 'line' ? 'layers' : 'line') : false),
    y: () => {
      const here = chosen && proposed.of(chosen.phrase);
      return here ? here.takes && take([here.row.number]) : takeAll();
    },
    'Shift+y': () => takeAll(),
    s: () => setSubject(SUBJECTS[(SUBJECTS.indexOf(subject) + 1) % SUBJECTS.length] ?? 'beat'),
  });
  const editor = open && typing.draft && (
    <RowEditor
      row={open.number}
      last={rows.length}
      draft={typing.draft}
      typed={typing.typed}
      reading={typing.reading}
      unknown={typing.unknown}
      misfits={typing.misfits}
      counted={typing.counted}
      refused={edits.sheet.error?.problem?.phrase ? edits.sheet.error.problem : null}
      onDraft={typing.change}
      onKeep={() => typing.keep(save)}
      onDrop={typing.drop}
      onMove={(by) =>
        save(
          (s) => moved(s, open.written, by),
          (now) => ({ phrase: firstOf(now, open.written + by), label: chosen?.label ?? '1' }),
        )
      }
      onRepeat={() => add(open.written, routine.sheet.phrases?.[open.written - 1] ?? EIGHT)}
      onRemove={() => save((s) => removed(s, open.written))}
      onRenumber={
        place && Number.isInteger(place.cell.at) && place.cell.offset > 0 && !routine.sheet.order
          ? () => edits.renumber.mutate({ at: place.cell.at })
          : undefined
      }
    />
  );
  const layer = writtenLayer({
    school,
    findings: [...routine.findings, ...against],
    proposed,
    taking: (read) => <Taking read={read} busy={edits.propose.isPending} onTake={take} />,
    editor: open?.again ? (
      <Again
        row={open.again}
        onGo={() => setChosen({ phrase: firstOf(routine, open.written), label: '1' })}
      />
    ) : (
      editor
    ),
    face,
    onFace: setFace,
    onMend: (finding) => finding.mend && edits.sheet.mutate(finding.mend.sheet),
  });
  const panel = (
    <Panel
      subject={subject}
      onSubject={setSubject}
      panels={{
        beat: (
          <BeatPanel
            {...{ routine, save, player, edits, first, onPlace }}
            chosen={place}
            onFirst={moveFirst}
          />
        ),
        clip: (
          <ClipPanel
            {...{ proposed, against }}
            row={chosen?.phrase}
            busy={edits.propose.isPending}
            onTake={take}
            onChoose={setChosen}
            onMend={(sheet) => edits.sheet.mutate(sheet)}
          />
        ),
        count: <CountPanel place={place} sheet={routine.sheet} save={save} busy={edits.sheet.isPending} />,
        row: <RowPanel {...{ routine, school, save }} row={open} onSchool={setSchool} />,
        order: <OrderPanel {...{ routine, edits, save }} />,
        out: <OutPanel {...{ routine, edits }} />,
      }}
    />
  );
  // on a phone the sheet comes before all that can be said of it
  const { phone } = useForm(rows);
  const failed =
    edits.propose.error ?? edits.renumber.error ?? (open || subject === 'order' ? null : edits.sheet.error);
  return (
    <Page
      title={routine.title}
      tabs={tabs}
      context={
        routine.rows.length
          ? `${many(routine.rows.length, 'row')}, ${many(routine.total, 'count')}`
          : 'just begun'
      }
      left={<Reference {...{ routine, player, posts }} row={open} panel={phone ? null : panel} />}
      sentence={<WhatNext {...{ routine, typing, proposed }} />}
      aside={
        <span data-saved>
          {edits.sheet.isPending || edits.propose.isPending
            ? 'being kept'
            : routine.rows.length
              ? `kept${routine.grid ? `, ${routine.grid.said}` : ''}`
              : ''}
        </span>
      }
    >
      {failed && <Trouble>{failed.message}</Trouble>}
      <Findings routine={routine} onMend={(sheet) => edits.sheet.mutate(sheet)} />
      <Sheet {...{ rows, layer, chosen, now }} heading={HEADINGS[school]} onChoose={setChosen} />
      <div className="flex flex-wrap items-baseline gap-x-6 gap-y-2 pt-3 bench:pl-[104px]">
        {proposed.fresh.length > 0 && (
          <button
            type="button"
            className={routine.rows.length ? 'act' : 'main'}
            disabled={edits.propose.isPending}
            onClick={takeAll}
          >
            Take all that is sure<kbd>Shift Y</kbd>
          </button>
        )}
        <button type="button" className={rows.length ? 'act' : 'main'} onClick={() => addEight()}>
          {routine.rows.length ? 'Add a row' : 'Type the first row'}
          <kbd>A</kbd>
        </button>
        <button type="button" className="act" disabled={!open} onClick={free}>
          {place?.cell.free ? 'score this count again' : 'leave this count free'}
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
      {routine.rows.some((r) => r.heading) && <Order routine={routine} />}
      <p className="pt-3 text-[13px] text-soft bench:pl-[104px]">
        1 2 3 & 4 - 6 7 8: a row may begin anywhere (& 1, or 3 &) and have 4, 6, 12 or 16 counts; e and a
        divide a count further, ~ is a move that goes on.
        {!routine.rows.length && ' A sheet that is written down already can be pasted whole: out and in.'}
      </p>
      {phone && <div className="pt-4">{panel}</div>}
    </Page>
  );
}

const HEADINGS = {
  counts: 'from, as typed',
  steps: 'from, as typed',
  sounds: 'from, in sounds',
  lyrics: 'from, in lyrics',
} as const;

const freed = (isFree: boolean) => ({ score: isFree ? ('both' as const) : ('free' as const), parts: [] });

/** The row as danced that a written one comes first in. */
const firstOf = (routine: RoutineView, written: number) =>
  routine.rows.find((r) => r.written === written)?.number ?? written;

/** A row that is danced again is written elsewhere. */
function Again({ row, onGo }: { row: string; onGo: () => void }) {
  return (
    <div className="flex h-full flex-col justify-center gap-2 px-3 text-sm">
      <p>
        This is {row}. Its counts can be marked otherwise for this time alone, in <b>this count</b>.
      </p>
      <button type="button" className="act self-start" onClick={onGo}>
        go to where it is written
      </button>
    </div>
  );
}

const focusLine = () => document.querySelector<HTMLInputElement>('input[data-line]')?.select();
