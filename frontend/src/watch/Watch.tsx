/** Watch: the instructor's clip seen like a dancer would, and the run in it. */
import { useEffect, useMemo, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { useEdits } from '../api/edits';
import { useClipActs, useShown, useWave } from '../api/queries';
import type { ClipView, OtherView, RoutineView, RowView, Span } from '../api/schema';
import { Aim } from '../clips/Aim';
import { ByHand } from '../clips/ByHand';
import { Clip } from '../clips/Clip';
import { ClipWork } from '../clips/ClipWork';
import { Feet } from '../clips/Feet';
import { FrameActs } from '../clips/FrameActs';
import { type Line, secondsOf } from '../clips/line';
import { Remark } from '../clips/Remark';
import { usePlayer, usePlayKeys } from '../clips/usePlayer';
import { Whose } from '../clips/Whose';
import { find } from '../sheet/choosing';
import { Sheet } from '../sheet/Sheet';
import { useChosen, useSheetKeys } from '../sheet/useChosen';
import { useSounding } from '../sheet/useSounding';
import { many, time } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Page, type Tab } from '../ui/Page';
import { Trouble } from '../ui/Said';
import { FoldedWave } from './FoldedWave';
import { readLayer } from './layer';
import { Others } from './Others';
import { Music, Now, Playing, useMusic, usePlayed } from './Playing';
import { PutTogether, piecesOf } from './PutTogether';
import { RunSaid } from './RunSaid';
import { Stretches } from './Stretches';
import { WhoseLeft } from './WhoseLeft';

/** Seconds that a run or a loop lasts at least. */
const LEAST_S = 0.5;
type Props = { routine: RoutineView; tabs: readonly Tab[] };

export function Watch({ routine, tabs }: Props) {
  const [params] = useSearchParams();
  const other = routine.others.find((o) => o.clip.id === Number(params.get('clip'))) ?? null;
  const clip = other?.clip ?? routine.reference;
  if (clip && params.has('pieces')) return <PutTogether key={clip.id} {...{ routine, tabs, clip }} />;
  if (clip) return <Watching key={clip.id} {...{ routine, tabs, clip, other }} />;
  return (
    <Page
      title={routine.title}
      tabs={tabs}
      left={
        <Link className="act self-start" to="../count" relative="path">
          To Count
        </Link>
      }
      sentence={<b>There is no instructor’s clip yet.</b>}
    >
      <Trouble>Drop it in Count.</Trouble>
    </Page>
  );
}

type WatchingProps = Props & { clip: ClipView; other: OtherView | null };

function Watching({ routine, tabs, clip, other }: WatchingProps) {
  const player = usePlayer();
  const acts = useClipActs(routine.id);
  const edits = useEdits(routine.id);
  const wave = useWave(clip.id, clip.playable);
  const whole = { from_s: 0, to_s: clip.duration_s };
  const [chosen, setChosen] = useState<Span | null>(null);
  const kept = clip.run ?? (clip.awaits_run ? null : whole);
  const run = chosen ?? kept ?? clip.long?.proposed ?? whole;
  const changed = !kept || run.from_s !== kept.from_s || run.to_s !== kept.to_s;
  const take = () => changed && acts.run.mutate({ clip: clip.id, run }, { onSuccess: () => setChosen(null) });
  const { rows } = routine;
  const shown = useShown(routine.id, clip.id);
  const [placing, setPlacing] = useState(false);
  const [chosenCount, setChosenCount] = useChosen();
  const counts = other ? other.counts_s : routine.grid?.counts_s;
  const line = useMemo(() => counts?.map((seconds, at) => ({ at, seconds })), [counts]);
  const lines = useMusic(routine, clip, line);
  useEffect(() => player.lock(lines), [player, lines]);
  const sounding = useSounding(player, rows, line);
  const at = find(rows, chosenCount)?.cell.at;
  useEffect(() => {
    if (line && at !== undefined) player.seek(secondsOf(line, at));
  }, [player, line, at]);
  useSheetKeys(rows, chosenCount, setChosenCount);
  const reading = shown.data?.reading ?? null;
  const waiting = other?.waiting ?? shown.data?.waiting;
  const layer = readLayer(reading, clip, line, rows.length <= 6);
  const [loop, setLoop] = useState<Span | null>(null);
  const [turned, setTurned] = useState(false);
  const [picking, setPicking] = useState(false);
  const pick = (place: { x: number; y: number }) => {
    setPicking(false);
    acts.follow.mutate({ clip: clip.id, click: { ...place, at_s: player.seconds } });
  };
  usePlayed(player, loop ?? run);
  const rowLoop = loopOf(rows, chosenCount?.phrase, line);
  const loopFrom = () =>
    setLoop({ from_s: player.seconds, to_s: Math.max(loop?.to_s ?? run.to_s, player.seconds + LEAST_S) });
  const loopTo = () =>
    setLoop({ from_s: Math.min(loop?.from_s ?? run.from_s, player.seconds - LEAST_S), to_s: player.seconds });
  const begins = () => setChosen({ ...run, from_s: Math.min(player.seconds, run.to_s - LEAST_S) });
  const ends = () => setChosen({ ...run, to_s: Math.max(player.seconds, run.from_s + LEAST_S) });
  const go = useNavigate();
  const beside = () =>
    changed &&
    acts.stretch.mutate(
      { clip: clip.id, run },
      { onSuccess: (made) => go(`/routines/${made.routine}/watch?clip=${made.clip}`) },
    );
  const canWrite = !other && !!reading?.to_write.length;
  usePlayKeys(player, clip.fps);
  useKeys({
    a: beside,
    b: begins,
    e: ends,
    Enter: take,
    p: () => (rows.length ? go(piecesOf(routine.id, clip.id)) : false),
    x: () => setTurned(!turned),
    w: () => (canWrite && reading ? edits.sheet.mutate(reading.written) : false),
    z: () => routine.can_undo && edits.step.mutate('undo'),
    l: () => (loop ? setLoop(null) : rowLoop && setLoop(rowLoop)),
    '[': loopFrom,
    ']': loopTo,
  });
  return (
    <Page
      title={routine.title}
      tabs={tabs}
      context={`a clip of ${time(clip.duration_s, 0)}`}
      left={
        placing ? (
          <ByHand
            {...{ clip }}
            whose="teach"
            label="instructor"
            onPlace={(at) => {
              acts.place.mutate({ clip: clip.id, at });
              setPlacing(false);
            }}
            onClose={() => setPlacing(false)}
          />
        ) : (
          <>
            <Clip
              {...{ player, clip }}
              side="lead"
              whose="teach"
              label="instructor"
              turned={turned}
              onPick={picking ? pick : null}
              numeral={find(rows, sounding ?? chosenCount)?.cell.sign}
              className="h-[230px] w-full"
            >
              <Feet {...{ clip, player, turned }} />
              {picking && <Aim {...{ clip, turned }} onPick={pick} />}
            </Clip>
            <div className="flex flex-wrap items-baseline gap-x-5 gap-y-2">
              <FrameActs player={player} fps={clip.fps} />
              <Now player={player} />
            </div>
            <Playing {...{ player, clip, turned }} music={lines !== null} onTurn={setTurned} />
            {lines && <Music player={player} clip={routine.music} />}
            {line && rows.length > 0 && (
              <div className="flex flex-wrap items-baseline gap-x-4 gap-y-2 text-sm">
                <span className="text-soft">goes round</span>
                <button type="button" className="act" disabled={!rowLoop} onClick={() => setLoop(rowLoop)}>
                  this row<kbd>L</kbd>
                </button>
                <button type="button" className="act" onClick={loopFrom}>
                  from here<kbd>[</kbd>
                </button>
                <button type="button" className="act" onClick={loopTo}>
                  to here<kbd>]</kbd>
                </button>
                <button type="button" className="act" disabled={!loop} onClick={() => setLoop(null)}>
                  the whole run
                </button>
              </div>
            )}
            {!clip.awaits_run && (
              <Whose {...{ clip, player, picking }} onPicking={setPicking} follow={acts.follow} />
            )}
            <Remark clip={clip} />
            <ClipWork routine={routine.id} clip={clip} />
            <FoldedWave
              wave={wave.data}
              duration={clip.duration_s}
              long={clip.long}
              run={run}
              lost={clip.measured ? (clip.followed?.lost ?? []) : []}
              player={player}
              onSeek={(s) => player.seek(s)}
              onRun={setChosen}
            />
            {acts.run.error && <Trouble>{acts.run.error.message}</Trouble>}
            <div className="flex flex-wrap items-baseline gap-x-5 gap-y-2">
              <span>
                <b>
                  {time(run.from_s, 1)} to {time(run.to_s, 1)}
                </b>{' '}
                <span className="text-soft">{time(run.to_s - run.from_s, 0)} long</span>
              </span>
              <button type="button" className="act" onClick={begins}>
                begins here<kbd>B</kbd>
              </button>
              <button type="button" className="act" onClick={ends}>
                ends here<kbd>E</kbd>
              </button>
              {rows.length > 0 && (
                <Link className="act" to={piecesOf(routine.id, clip.id)}>
                  no whole run? row by row<kbd>P</kbd>
                </Link>
              )}
              {changed && !clip.awaits_run && (
                <button type="button" className="act" onClick={beside}>
                  keep it beside the first<kbd>A</kbd>
                </button>
              )}
            </div>
            {acts.stretch.error && <Trouble>{acts.stretch.error.message}</Trouble>}
            {rows.length > 0 && !clip.awaits_run && (
              <WhoseLeft routine={routine.id} clip={clip} told={reading?.sides} />
            )}
            <Others {...{ routine, clip, acts }} onPlace={() => setPlacing(true)} />
          </>
        )
      }
      sentence={<RunSaid {...{ routine, clip, other, run, changed }} />}
      aside={
        changed ? (
          <button
            type="button"
            className="main"
            disabled={acts.run.isPending || !clip.playable}
            onClick={take}
          >
            This is the run<kbd>Enter</kbd>
          </button>
        ) : (
          !other && (
            <Link className="main" to="../count" relative="path">
              Count it
            </Link>
          )
        )
      }
    >
      {rows.length > 0 && !clip.awaits_run ? (
        <>
          <Sheet
            {...{ rows, layer, chosen: chosenCount, now: sounding }}
            heading="repeats"
            onChoose={setChosenCount}
          />
          {reading && canWrite && (
            <p className="flex flex-wrap items-baseline gap-x-4 pt-3 bench:pl-[104px]">
              <span className="text-soft">
                {many(reading.to_write.length, 'row')} could be written as what it repeats: row{' '}
                {reading.to_write.join(', ')}.
              </span>
              <button type="button" className="act" onClick={() => edits.sheet.mutate(reading.written)}>
                Write it in<kbd>W</kbd>
              </button>
            </p>
          )}
          {reading?.unseen && <p className="pt-3 bench:pl-[104px]">{reading.unseen}</p>}
          {waiting && <p className="pt-3 text-soft bench:pl-[104px]">{waiting}</p>}
        </>
      ) : (
        <>
          <Stretches {...{ clip, run }} onRun={setChosen} onSeek={(s) => player.seek(s)} />
          {!clip.awaits_run && (
            <p className="pt-3 text-soft bench:pl-[25px]">
              Once its rows are typed and count 1 is placed in Count, a figure of each count stands here, with
              what repeats and what will be hard.
            </p>
          )}
        </>
      )}
    </Page>
  );
}

/** The row's stretch of the clip. */
function loopOf(rows: readonly RowView[], phrase: number | undefined, line: Line | undefined): Span | null {
  const row = rows[(phrase ?? 0) - 1];
  if (!row || !line) return null;
  return { from_s: secondsOf(line, row.start), to_s: secondsOf(line, row.start + row.counts) };
}
