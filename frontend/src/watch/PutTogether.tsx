/** A reference put together row by row, where no clip holds the whole run: each row is shown where it is danced. */
import { useEffect, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useEdits } from '../api/edits';
import { useWave } from '../api/queries';
import type { ClipView, PieceView, RoutineView } from '../api/schema';
import { Clip } from '../clips/Clip';
import { FrameActs } from '../clips/FrameActs';
import { usePlayer, usePlayKeys } from '../clips/usePlayer';
import { type Layer, Sheet } from '../sheet/Sheet';
import { useChosen, useSheetKeys } from '../sheet/useChosen';
import { Choices } from '../ui/Choices';
import { many, time } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Page, type Tab } from '../ui/Page';
import { Trouble } from '../ui/Said';
import { FoldedWave } from './FoldedWave';
import { Now, Playing } from './Playing';

export const piecesOf = (routine: number, clip: number) => `/routines/${routine}/watch?pieces&clip=${clip}`;

const TURNED = [
  { value: false, text: 'like the others' },
  { value: true, text: 'to be turned over' },
] as const;

type Props = { routine: RoutineView; tabs: readonly Tab[]; clip: ClipView };

export function PutTogether({ routine, tabs, clip }: Props) {
  const player = usePlayer();
  const wave = useWave(clip.id, clip.playable);
  const edits = useEdits(routine.id);
  const go = useNavigate();
  const [chosen, setChosen] = useChosen();
  const [begun, setBegun] = useState<{ row: number; first_s: number } | null>(null);
  const [turned, setTurned] = useState(false);
  const { rows, pieces, missing } = routine;
  const row = chosen?.phrase ?? missing[0] ?? 1;
  const piece = pieces.find((p) => p.row === row);
  const here = piece?.clip === clip.id ? piece : null;
  const first_s = begun?.row === row ? begun.first_s : (here?.first_s ?? null);
  useEffect(() => {
    if (here) player.seek(here.first_s);
  }, [player, here]);
  // the row after it goes on where this one ends
  const next = (next_s: number) => {
    setBegun({ row: row + 1, first_s: next_s });
    const [first] = rows[row]?.cells ?? [];
    if (first) setChosen({ phrase: row + 1, label: first.label });
  };
  const begins = () => setBegun({ row, first_s: player.seconds });
  const ends = () => {
    const next_s = player.seconds;
    if (first_s === null) return;
    const said = { clip: clip.id, first_s, next_s, flipped: piece?.flipped ?? false };
    edits.piece.mutate({ row, piece: said }, { onSuccess: () => next(next_s) });
  };
  const leave = `/routines/${routine.id}/watch`;
  const assemble = () =>
    missing.length === 0 && edits.assemble.mutate(undefined, { onSuccess: () => go(leave) });
  useSheetKeys(rows, chosen, setChosen);
  usePlayKeys(player, clip.fps);
  useKeys({
    b: begins,
    e: ends,
    p: () => go(leave),
    Escape: () => go(leave),
    Enter: assemble,
  });
  const error = edits.piece.error ?? edits.assemble.error;
  const shown = here ? { from_s: here.first_s, to_s: here.next_s } : { from_s: 0, to_s: clip.duration_s };
  return (
    <Page
      title={routine.title}
      tabs={tabs}
      context={`a clip of ${time(clip.duration_s, 0)}`}
      left={
        <>
          <Clip
            {...{ player, clip, turned }}
            side="lead"
            whose="teach"
            label="instructor"
            className="h-[230px] w-full"
          />
          <div className="flex flex-wrap items-baseline gap-x-5 gap-y-2">
            <FrameActs player={player} fps={clip.fps} />
            <Now player={player} />
          </div>
          <Playing {...{ player, clip, turned }} music={false} onTurn={setTurned} />
          <section aria-label="this row" className="flex flex-col gap-2.5 border-t border-hair pt-2.5">
            <p>
              <b>{rows[row - 1]?.name || `row ${row}`}:</b>{' '}
              {begun?.row === row || !piece
                ? first_s === null
                  ? 'stop at its 1.'
                  : `its 1 is at ${time(first_s, 1)}; stop at the 1 after it.`
                : piece.said}
              {piece && !here && (
                <Link className="act" to={`${piecesOf(routine.id, piece.clip)}&row=${row}&count=1`}>
                  in another clip
                </Link>
              )}
            </p>
            <div className="flex flex-wrap gap-x-5 gap-y-2">
              <button type="button" className="act" onClick={begins}>
                its 1 is here<kbd>B</kbd>
              </button>
              <button type="button" className="act" disabled={first_s === null} onClick={ends}>
                the next 1 is here<kbd>E</kbd>
              </button>
              {piece && (
                <button
                  type="button"
                  className="act text-soft"
                  onClick={() => edits.piece.mutate({ row, piece: null })}
                >
                  take it out
                </button>
              )}
            </div>
            {piece && (
              <Choices
                label="its picture is"
                value={piece.flipped}
                options={TURNED}
                onChange={(flipped) => edits.piece.mutate({ row, piece: { ...piece, flipped } })}
              />
            )}
            {error && <Trouble>{error.message}</Trouble>}
          </section>
          <FoldedWave
            wave={wave.data}
            duration={clip.duration_s}
            long={clip.long}
            run={shown}
            lost={[]}
            player={player}
            onSeek={(s) => player.seek(s)}
            onRun={null}
          />
          <Sources {...{ routine, clip }} />
          <Link className="act self-start" to={leave}>
            Leave it<kbd>Esc</kbd>
          </Link>
        </>
      }
      sentence={
        missing.length ? (
          <>
            <b>Show each row where it is danced:</b> {many(missing.length, 'row')} still to show.
          </>
        ) : (
          <>
            <b>Every row is shown.</b> They become one clip, at the tempo of the fastest.
          </>
        )
      }
      aside={
        <button
          type="button"
          className="main"
          disabled={missing.length > 0 || edits.assemble.isPending}
          onClick={assemble}
        >
          Put it together<kbd>Enter</kbd>
        </button>
      }
    >
      <Sheet
        {...{ rows, chosen }}
        layer={piecesLayer(pieces)}
        now={null}
        heading="danced at"
        onChoose={setChosen}
      />
    </Page>
  );
}

/** Rows may come from several clips. */
function Sources({ routine, clip }: { routine: RoutineView; clip: ClipView }) {
  const go = useNavigate();
  const clips = [
    ...(routine.reference ? [routine.reference] : []),
    ...routine.others.map((o) => o.clip),
  ].filter((c) => !c.assembled);
  if (clips.length < 2) return null;
  return (
    <Choices
      label="in the clip"
      value={clip.id}
      options={clips.map((c) => ({ value: c.id, text: c.name }))}
      onChange={(id) => go(piecesOf(routine.id, id))}
    />
  );
}

/** The sheet while it is put together: where each row is danced. */
function piecesLayer(pieces: readonly PieceView[]): Layer {
  const byRow = new Map(pieces.map((p) => [p.row, p]));
  return {
    draw: () => null,
    say: (row) => (byRow.has(row.number) ? 'shown' : 'still to show'),
    words: (row) => (
      <span className={byRow.has(row.number) ? '' : 'text-soft'}>
        {byRow.get(row.number)?.said ?? 'still to show'}
      </span>
    ),
  };
}
