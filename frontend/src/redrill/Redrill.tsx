/** Redrill: the rows to drill, worst first, each looped with its run-in, instructor beside take. */
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { DrillForm, RoutineView, RowView, RunIn } from '../api/schema';
import { secondsOf } from '../clips/line';
import type { Player } from '../clips/player';
import { usePlayer } from '../clips/usePlayer';
import { type Chosen, find } from '../sheet/choosing';
import { Sheet } from '../sheet/Sheet';
import { useChosen, useSheetKeys } from '../sheet/useChosen';
import { useSounding } from '../sheet/useSounding';
import { Pair, PlayAct, SoundOf, Tempo } from '../takes/Pair';
import { TakeMenu } from '../takes/TakeMenu';
import { type Measured, useTake } from '../takes/useTake';
import { Choices } from '../ui/Choices';
import { many } from '../ui/format';
import { Page, type Tab } from '../ui/Page';
import { Trouble, Waiting } from '../ui/Said';
import { drillLayer } from './layer';

const RUN_INS = [
  { value: 'two', text: '2 counts' },
  { value: 'eight', text: 'the row before' },
  { value: 'top', text: 'from the top' },
] as const;
const CLICKS = [
  { value: true, text: 'counted' },
  { value: false, text: 'none' },
] as const;

type Props = { routine: RoutineView; tabs: readonly Tab[] };

export function Redrill({ routine, tabs }: Props) {
  const { take, result, measured, lines, setTake } = useTake(routine);
  const frame = {
    title: routine.title,
    tabs,
    context: take && <TakeMenu takes={routine.takes} take={take} onTake={setTake} />,
  };
  const toCompare = (
    <Link className="act" to="../compare" relative="path">
      To Compare
    </Link>
  );
  if (measured?.outcome.drills.length && lines && take)
    return <Drills key={take.id} {...{ routine, measured, lines, frame }} />;
  if (take && !result)
    return (
      <Page {...frame} left={null} sentence="">
        <Waiting>The drills are being looked up.</Waiting>
      </Page>
    );
  return (
    <Page
      {...frame}
      left={toCompare}
      sentence={<b>{measured ? 'Nothing to redrill in this take.' : 'Nothing to redrill yet.'}</b>}
    >
      {measured ? (
        <p>
          {measured.outcome.strong} {measured.outcome.rest}
        </p>
      ) : (
        <Trouble>{result?.waiting ?? 'A take says what to redrill: drop one in Compare.'}</Trouble>
      )}
    </Page>
  );
}

type DrillsProps = {
  routine: RoutineView;
  measured: Measured;
  lines: NonNullable<ReturnType<typeof useTake>['lines']>;
  frame: Pick<Parameters<typeof Page>[0], 'title' | 'tabs' | 'context'>;
};

function Drills({ routine, measured, lines, frame }: DrillsProps) {
  const player = usePlayer();
  const [inAddress, setChosen] = useChosen();
  const [runIn, setRunIn] = useState<RunIn>('two');
  const [clicks, setClicks] = useState(true);
  const { rows } = routine;
  const { drills } = measured.outcome;
  const drill = drills.find((d) => d.phrase === inAddress?.phrase) ?? drills[0];
  const chosen = find(rows, inAddress) ? inAddress : drill ? startOf(rows, drill) : null;
  const now = useSounding(player, rows, lines.lead);
  const sounds = find(rows, now);
  useLooping(player, routine, lines, drill, runIn, clicks);
  useSheetKeys(rows, chosen, setChosen);
  const layer = drillLayer(measured.outcome, runIn, drill);
  return (
    <Page
      {...frame}
      sentence={
        <>
          <b>{many(drills.length, 'drill')}, worst first.</b> Begin with{' '}
          {drills[0]?.name || `row ${drills[0]?.phrase}`}.
        </>
      }
      aside={`from take ${measured.take.number}`}
      left={
        <>
          <Pair {...measured} player={player} className="h-[236px]" />
          <div className="flex items-baseline gap-3">
            <b className="text-[44px] leading-none">{(sounds ?? find(rows, chosen))?.cell.label}</b>
            <span className="truncate text-soft">{(sounds ?? find(rows, chosen))?.row.name}</span>
            <span className="ml-auto">
              <PlayAct player={player} main />
            </span>
          </div>
          <Tempo player={player} />
          <Choices label="run-in" value={runIn} options={RUN_INS} onChange={setRunIn} />
          <div className="flex flex-wrap gap-x-5 gap-y-2">
            <Choices label="clicks" value={clicks} options={CLICKS} onChange={setClicks} />
            <SoundOf player={player} />
          </div>
          <ol className="border-t border-hair">
            {drills.map((d, i) => (
              <li key={d.phrase}>
                <button
                  type="button"
                  aria-pressed={d === drill}
                  onClick={() => setChosen(startOf(rows, d) ?? { phrase: d.phrase, label: '1' })}
                  className={`grid w-full cursor-pointer grid-cols-[36px_1fr] border-b border-hair px-2 py-1.5 text-left hover:bg-wash ${d === drill ? 'bg-wash' : ''}`}
                >
                  <b className="text-lg">{i + 1}</b>
                  <span>
                    <b>{d.name || `row ${d.phrase}`}</b> <span className="text-sm text-soft">{d.reason}</span>
                  </span>
                </button>
              </li>
            ))}
          </ol>
          <p className="text-sm text-soft">
            Rest between loops, and warm up first. Stop with pain or dizziness; what your teacher says comes
            before this list.
          </p>
        </>
      }
    >
      <Sheet {...{ rows, layer, chosen, now }} heading="order, kind" onChoose={setChosen} />
      <p className="pt-3 text-[13px] text-soft bench:pl-[104px]">
        dotted: run-in; thick with posts: drilled, over and over
      </p>
    </Page>
  );
}

/** The count at which the drilled part begins. */
function startOf(rows: readonly RowView[], drill: DrillForm): Chosen | null {
  const row = rows[drill.phrase - 1];
  const cell = row?.cells.find((c) => c.at >= (drill.loops.two?.start ?? 0)) ?? row?.cells[0];
  return cell ? { phrase: drill.phrase, label: cell.label } : null;
}

function useLooping(
  player: Player,
  routine: RoutineView,
  lines: DrillsProps['lines'],
  drill: DrillForm | undefined,
  runIn: RunIn,
  clicks: boolean,
) {
  useEffect(() => player.lock(lines), [player, lines]);
  useEffect(() => {
    const loop = drill?.loops[runIn];
    if (!loop) return;
    const from = Math.max(0, secondsOf(lines.lead, loop.run_in));
    player.setLoop({ from, to: secondsOf(lines.lead, loop.end) });
    player.seek(from);
  }, [player, lines, drill, runIn]);
  useEffect(() => {
    const ones = new Set(routine.rows.map((r) => r.start));
    player.beats = clicks ? lines.lead.map((p) => ({ seconds: p.seconds, first: ones.has(p.at) })) : [];
  }, [player, routine, lines, clicks]);
}
