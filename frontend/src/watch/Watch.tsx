/** Watch: the instructor's clip seen like a dancer would, and the run in it. */
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { useClipActs, useEdits, useJob, useShown, useWave } from '../api/queries';
import type { ClipView, RoutineView, RowView, Span } from '../api/schema';
import { Clip } from '../clips/Clip';
import { ClipWork } from '../clips/ClipWork';
import { FrameActs } from '../clips/FrameActs';
import { type Line, secondsOf } from '../clips/line';
import type { Player } from '../clips/player';
import { usePlayer, useSeen } from '../clips/usePlayer';
import { find } from '../sheet/choosing';
import { Sheet } from '../sheet/Sheet';
import { useChosen, useSheetKeys } from '../sheet/useChosen';
import { useSounding } from '../sheet/useSounding';
import { Choices } from '../ui/Choices';
import { many, time } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Page, type Tab } from '../ui/Page';
import { Trouble } from '../ui/Said';
import { FoldedWave } from './FoldedWave';
import { readLayer } from './layer';
import { Stretches } from './Stretches';
import { Whose } from './Whose';
import { WhoseLeft } from './WhoseLeft';

const PERCENTS = [25, 50, 75, 100].map((value) => ({ value, text: `${value} %` }));
/** Seconds that a run or a loop lasts at least. */
const LEAST_S = 0.5;
const ON_OFF = [
  { value: true, text: 'on' },
  { value: false, text: 'off' },
] as const;

const TURNED = [
  { value: false, text: 'as filmed' },
  { value: true, text: 'as in a mirror' },
] as const;

type Props = { routine: RoutineView; tabs: readonly Tab[] };

export function Watch({ routine, tabs }: Props) {
  const clip = routine.reference;
  if (clip) return <Watching key={clip.id} {...{ routine, tabs, clip }} />;
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

function Watching({ routine, tabs, clip }: Props & { clip: ClipView }) {
  const player = usePlayer();
  const acts = useClipActs(routine.id);
  const wave = useWave(clip.id, clip.playable);
  const whole = { from_s: 0, to_s: clip.duration_s };
  const [chosen, setChosen] = useState<Span | null>(null);
  const kept = clip.run ?? (clip.awaits_run ? null : whole);
  const run = chosen ?? kept ?? clip.long?.proposed ?? whole;
  const changed = !kept || run.from_s !== kept.from_s || run.to_s !== kept.to_s;
  const take = () => changed && acts.run.mutate({ clip: clip.id, run }, { onSuccess: () => setChosen(null) });
  const { rows } = routine;
  const shown = useShown(routine.id);
  const [chosenCount, setChosenCount] = useChosen();
  const line = useMemo(() => routine.grid?.counts_s.map((seconds, at) => ({ at, seconds })), [routine.grid]);
  const sounding = useSounding(player, rows, line);
  const at = find(rows, chosenCount)?.cell.at;
  useEffect(() => {
    if (line && at !== undefined) player.seek(secondsOf(line, at));
  }, [player, line, at]);
  useSheetKeys(rows, chosenCount, setChosenCount);
  const reading = shown.data?.reading ?? null;
  const edits = useEdits(routine.id);
  const layer = readLayer(reading, clip, rows.length <= 6);
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
  useKeys({
    ' ': () => player.toggle(),
    'Shift+ArrowLeft': () => player.frame(-1, clip.fps),
    'Shift+ArrowRight': () => player.frame(1, clip.fps),
    b: begins,
    e: ends,
    Enter: take,
    x: () => setTurned(!turned),
    w: () => (reading?.to_write.length ? edits.sheet.mutate(reading.written) : false),
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
        <>
          <Clip
            {...{ player, clip }}
            side="lead"
            whose="teach"
            label="instructor"
            whole
            turned={turned}
            onPick={picking ? pick : null}
            numeral={find(rows, sounding ?? chosenCount)?.cell.sign}
            className="h-[230px] w-full"
          />
          <div className="flex flex-wrap items-baseline gap-x-5 gap-y-2">
            <FrameActs player={player} fps={clip.fps} />
            <Now player={player} />
          </div>
          <Playing {...{ player, turned }} onTurn={setTurned} />
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
          </div>
          {rows.length > 0 && !clip.awaits_run && (
            <WhoseLeft routine={routine.id} clip={clip} told={reading?.sides} />
          )}
        </>
      }
      sentence={<RunSaid {...{ routine, clip, run, changed }} />}
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
          <Link className="main" to="../count" relative="path">
            Count it
          </Link>
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
          {reading && reading.to_write.length > 0 && (
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
          {shown.data?.waiting && <p className="pt-3 text-soft bench:pl-[104px]">{shown.data.waiting}</p>}
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
  if (!row || row.begins_s === null || !line) return null;
  return { from_s: row.begins_s, to_s: secondsOf(line, row.start + row.counts) };
}

/** Playing begins there and goes round in it; stopped, the clip may be looked at anywhere. */
function usePlayed(player: Player, { from_s, to_s }: Span) {
  useEffect(() => {
    player.setLoop({ from: from_s, to: to_s });
    if (!player.playing && (player.seconds < from_s || player.seconds > to_s)) player.seek(from_s);
  }, [player, from_s, to_s]);
}

function Now({ player }: { player: Player }) {
  const seconds = useSeen(player, (p) => Math.round(p.seconds * 10) / 10);
  return <b className="ml-auto">{time(seconds, 1)}</b>;
}

type PlayingProps = { player: Player; turned: boolean; onTurn: (turned: boolean) => void };

function Playing({ player, turned, onTurn }: PlayingProps) {
  const percent = useSeen(player, (p) => p.percent);
  const sound = useSeen(player, (p) => p.sound === 'lead');
  return (
    <div className="flex flex-wrap gap-x-6 gap-y-2">
      <Choices label="at" value={percent} options={PERCENTS} onChange={(v) => player.setPercent(v)} />
      <Choices label="picture" value={turned} options={TURNED} onChange={onTurn} />
      <Choices
        label="sound"
        value={sound}
        options={ON_OFF}
        onChange={(v) => player.setSound(v ? 'lead' : 'none')}
      />
    </div>
  );
}

type SaidProps = { routine: RoutineView; clip: ClipView; run: Span; changed: boolean };

function RunSaid({ routine, clip, run, changed }: SaidProps): ReactNode {
  const job = useJob(routine.id, clip);
  const looking = job?.step === 'glance' && (job.state === 'queued' || job.state === 'running');
  const ends = `${time(run.from_s, 0)} to ${time(run.to_s, 0)}`;
  if (!clip.playable) return <b>The clip is being made ready to play.</b>;
  if (looking && !clip.run) return <b>The run is being looked for.</b>;
  if (clip.awaits_run && clip.long?.proposed && same(run, clip.long.proposed))
    return (
      <>
        <b>The run is found:</b> {ends}, {clip.long.said}.
      </>
    );
  if (clip.awaits_run && clip.long && !clip.long.proposed && !changed) return <b>{clip.long.said}</b>;
  if (clip.awaits_run && !clip.long?.proposed && run.to_s - run.from_s >= clip.duration_s)
    return <b>{clip.long?.said ?? 'Drag the ends to the run: the routine danced through once, at tempo.'}</b>;
  if (changed)
    return (
      <>
        <b>{ends}:</b> only this is measured, once you take it.
      </>
    );
  return clip.run ? (
    <>
      <b>The run:</b> {ends}.
    </>
  ) : (
    <>
      <b>The whole clip is the run.</b> Drag its ends where there is more in it.
    </>
  );
}

const same = (a: Span, b: Span) => a.from_s === b.from_s && a.to_s === b.to_s;
