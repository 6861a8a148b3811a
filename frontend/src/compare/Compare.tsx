/** Compare: how a take was danced, count by count, beside both clips at the chosen count. */
import { useCallback, useEffect, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useClipActs, useJob } from '../api/queries';
import type { ClipView, JobView, RoutineView, Uploaded } from '../api/schema';
import { useUpload } from '../api/useUpload';
import { secondsOf } from '../clips/line';
import type { Player } from '../clips/player';
import { usePlayer } from '../clips/usePlayer';
import { type Chosen, find, type Place } from '../sheet/choosing';
import { Scale } from '../sheet/marks';
import { Sheet } from '../sheet/Sheet';
import { useChosen, useSheetKeys } from '../sheet/useChosen';
import { useSounding } from '../sheet/useSounding';
import { Ask } from '../ui/Ask';
import { Choices } from '../ui/Choices';
import { chooseFile, DropPlace } from '../ui/DropPlace';
import { useKeys } from '../ui/keys';
import { Page, type Tab } from '../ui/Page';
import { Progress } from '../ui/Progress';
import { Trouble } from '../ui/Said';
import { Sending } from '../ui/Sending';
import { ByHand } from './ByHand';
import { Evidence } from './Evidence';
import { resultLayer, waitingLayer } from './layer';
import { Pair, PlayAct, SoundOf, Tempo } from './Pair';
import { TakeMenu } from './TakeMenu';
import { firstToSee, useTake } from './useTake';

type Props = { routine: RoutineView; tabs: readonly Tab[] };

export function Compare({ routine, tabs }: Props) {
  const player = usePlayer();
  const { take, result, measured, lines, setTake, error } = useTake(routine);
  const [inAddress, setChosen] = useChosen();
  const [placing, setPlacing] = useState(false);
  const acts = useClipActs(routine.id);
  const job = useJob(routine.id, take);
  const go = useNavigate();
  const added = useCallback((made: Uploaded) => go(`/routines/${made.routine}/compare`), [go]);
  const upload = useUpload(added);
  const rows = routine.rows;
  const chosen = find(rows, inAddress) ? inAddress : measured && firstToSee(rows, measured.outcome);
  const place = find(rows, chosen);
  const now = useSounding(player, rows, lines?.lead);
  const at = place?.cell.at;
  const choose = useCallback(
    (next: Chosen) => {
      // at once, and not only when the page has been drawn anew
      const cell = find(rows, next)?.cell;
      if (cell && lines) player.seek(secondsOf(lines.lead, cell.at));
      setChosen(next);
    },
    [rows, lines, player, setChosen],
  );
  // the clips stand at the chosen count, also when it came with the address
  useEffect(() => {
    player.lock(lines);
    if (lines && at !== undefined) player.seek(secondsOf(lines.lead, at));
  }, [player, lines, at]);
  const add = (file: File) => upload.begin(`/api/routines/${routine.id}/takes`, file);
  const drilled = measured?.outcome.drills.some((d) => d.phrase === place?.row.number) ?? false;
  const redrill = () =>
    place && drilled
      ? go(
          `/routines/${routine.id}/redrill?take=${take?.number}&row=${place.row.number}&count=${encodeURIComponent(place.cell.label)}`,
        )
      : false;
  useSheetKeys(rows, chosen, choose);
  useKeys({ n: chooseFile, r: redrill });
  const live = job && (job.state === 'queued' || job.state === 'running') ? job : null;
  const layer = measured ? resultLayer(measured) : waitingLayer(() => (live ? '' : 'not measured'));
  return (
    <Page
      title={routine.title}
      tabs={tabs}
      card={!!measured && !placing}
      context={take && <TakeMenu takes={routine.takes} take={take} onTake={setTake} />}
      left={
        take ? (
          <>
            {placing ? (
              <ByHand
                take={take}
                onPlace={(first) => {
                  acts.place.mutate({ clip: take.id, at: first });
                  setPlacing(false);
                }}
                onClose={() => setPlacing(false)}
              />
            ) : (
              <Looking
                {...{ routine, take, player, place, redrill, drilled, lines }}
                words={measured?.outcome.counts.find((c) => c.at === at)}
              />
            )}
            {(error || acts.place.error) && <Trouble>{(error ?? acts.place.error)?.message}</Trouble>}
            {!measured && result && (
              <NotYet
                {...{ live, take, job }}
                waiting={result.waiting}
                acts={acts}
                onPlace={() => setPlacing(true)}
              />
            )}
            <Sending upload={upload} />
            <More
              {...{ take, acts }}
              measured={!!measured}
              onAdd={add}
              onPlace={() => setPlacing(true)}
              onGone={() => go(`/routines/${routine.id}/compare`)}
            />
          </>
        ) : (
          <>
            <DropPlace
              title="Drop your take here"
              note="the routine danced through, the whole body in shot, with the music if you can"
              act="Choose your take"
              onFile={add}
            />
            <Sending upload={upload} />
            <Care />
          </>
        )
      }
      sentence={
        measured ? (
          <>
            <b>{measured.outcome.strong}</b> {measured.outcome.rest}
          </>
        ) : (
          <Meanwhile {...{ routine, take, live }} />
        )
      }
      aside={
        measured && (
          <>
            {measured.outcome.common_time}{' '}
            <button type="button" className="act mx-0 phone:hidden" onClick={() => setPlacing(true)}>
              by hand
            </button>
          </>
        )
      }
    >
      {rows.length ? (
        <>
          <Sheet {...{ rows, layer, chosen, now }} heading={measured ? 'to redrill' : ''} onChoose={choose} />
          {measured?.count_ms && <Scale countMs={measured.count_ms} />}
        </>
      ) : (
        <Trouble>
          The sheet has no rows yet.{' '}
          <Link className="act" to="../count" relative="path">
            Type them in Count
          </Link>
        </Trouble>
      )}
    </Page>
  );
}

type LookingProps = {
  routine: RoutineView;
  take: ClipView;
  player: Player;
  place: Place | null;
  lines: unknown;
  words: Parameters<typeof Evidence>[0]['words'];
  redrill: () => unknown;
  drilled: boolean;
};

function Looking({ routine, take, player, place, words, lines, redrill, drilled }: LookingProps) {
  return (
    <div className="flex flex-col gap-[11px] phone:grid phone:grid-cols-[150px_minmax(0,1fr)] phone:gap-x-3 phone:gap-y-2">
      <Pair {...{ routine, take, player }} className="h-[286px] phone:h-[104px]" />
      <div className="phone:max-h-[104px] phone:overflow-auto">
        {place && (
          <div className="flex items-baseline gap-3 whitespace-nowrap bench:pb-[11px]">
            <b className="text-[44px] leading-none phone:text-[30px]">{place.cell.label}</b>
            <span className="truncate text-soft">{place.row.name || `row ${place.row.number}`}</span>
            <span className="ml-auto phone:hidden">{!!lines && <PlayAct player={player} />}</span>
          </div>
        )}
        <div className="phone:hidden">
          {!!lines && <Transport player={player} place={place} lines={lines as Lines} />}
        </div>
        <div className="bench:mt-3 bench:border-t bench:border-hair bench:pt-2.5">
          {!!lines && <Evidence words={words} />}
        </div>
      </div>
      {!!lines && (
        <div className="col-span-2 flex flex-wrap items-baseline gap-5">
          {drilled ? (
            <button type="button" className="main" onClick={redrill}>
              Redrill from here<kbd>R</kbd>
            </button>
          ) : (
            <span className="text-soft">this row needs no drill</span>
          )}
          <span className="hidden phone:block">
            <PlayAct player={player} />
          </span>
        </div>
      )}
    </div>
  );
}

type Lines = NonNullable<ReturnType<typeof useTake>['lines']>;
type Span = 'none' | 'count' | 'row';
const SPANS = [
  { value: 'none', text: 'nothing' },
  { value: 'count', text: 'this count' },
  { value: 'row', text: 'this row' },
] as const;

function Transport({ player, place, lines }: { player: Player; place: Place | null; lines: Lines }) {
  const [span, setSpan] = useState<Span>('none');
  useKeys({ l: () => setSpan(span === 'row' ? 'none' : 'row') });
  const at = place?.cell.at;
  useEffect(() => {
    const ends = span === 'none' || !place ? null : span === 'count' ? countEnds(place) : rowEnds(place);
    player.setLoop(ends && { from: secondsOf(lines.lead, ends[0]), to: secondsOf(lines.lead, ends[1]) });
    return () => player.setLoop(null);
  }, [player, lines, span, place]);
  return (
    <div className="flex flex-wrap gap-x-5 gap-y-2" data-at={at}>
      <Tempo player={player} />
      <Choices label="loop" value={span} options={SPANS} onChange={setSpan} />
      <SoundOf player={player} />
    </div>
  );
}

const countEnds = ({ cell }: Place) => [cell.at, cell.at + cell.width] as const;
const rowEnds = ({ row }: Place) => [row.start, row.start + row.counts] as const;

type NotYetProps = {
  live: JobView | null;
  job: JobView | null;
  take: ClipView;
  waiting: string | null;
  acts: ReturnType<typeof useClipActs>;
  onPlace: () => void;
};

/** Why the sheet is empty yet, and what can be done. */
function NotYet({ live, job, take, waiting, acts, onPlace }: NotYetProps) {
  if (live) return <Progress job={live} onCancel={() => acts.cancel.mutate(take.id)} />;
  const compared = job?.step === 'compare';
  return (
    <Trouble>
      <p>
        {job?.state === 'cancelled' ? 'Measuring was stopped. The clip is kept.' : (job?.error ?? waiting)}
      </p>
      <p className="flex flex-wrap gap-5 pt-2">
        {!take.measured && (
          <button type="button" className="act" onClick={() => acts.measure.mutate(take.id)}>
            Measure it
          </button>
        )}
        {compared && job.state === 'failed' && (
          <button type="button" className="act" onClick={onPlace}>
            Show count 1 by hand
          </button>
        )}
      </p>
    </Trouble>
  );
}

function Meanwhile({
  routine,
  take,
  live,
}: {
  routine: RoutineView;
  take: ClipView | undefined;
  live: JobView | null;
}) {
  if (!routine.grid || !routine.rows.length)
    return (
      <>
        <b>Count first:</b> the sheet and count 1 are what a take is laid against.{' '}
        <Link className="act" to="../count" relative="path">
          To Count
        </Link>
      </>
    );
  if (!take)
    return (
      <>
        <b>Drop your take:</b> it is measured at once, and the sheet says what to redrill.
      </>
    );
  return live ? (
    <>
      <b>Take {take.number} is being measured:</b> the sheet fills when it is done.
    </>
  ) : (
    <b>Take {take.number} has no result.</b>
  );
}

type MoreProps = {
  take: ClipView;
  acts: ReturnType<typeof useClipActs>;
  measured: boolean;
  onAdd: (file: File) => void;
  onPlace: () => void;
  onGone: () => void;
};

/** Another take, count 1 by hand, and the take's deletion. */
function More({ take, acts, measured, onAdd, onPlace, onGone }: MoreProps) {
  const [leaving, setLeaving] = useState(false);
  return (
    <div className="mt-auto flex flex-wrap items-baseline gap-x-6 gap-y-2 border-t border-hair pt-2.5 text-sm phone:border-0 phone:pt-0">
      <TakeDrop onFile={onAdd} />
      {measured && (
        <button type="button" className="act hidden phone:inline-block" onClick={onPlace}>
          by hand
        </button>
      )}
      <button type="button" className="act text-soft" onClick={() => setLeaving(true)}>
        Delete take {take.number}
      </button>
      {leaving && (
        <Ask
          title={`Delete take ${take.number}?`}
          act="Delete it for good"
          onAct={() => acts.remove.mutate(take.id, { onSuccess: onGone, onSettled: () => setLeaving(false) })}
          onClose={() => setLeaving(false)}
        >
          <p>The clip, what was measured of it and its result go. This can’t be undone.</p>
        </Ask>
      )}
    </div>
  );
}

function TakeDrop({ onFile }: { onFile: (file: File) => void }) {
  const [over, setOver] = useState(false);
  return (
    <label
      className={`act ${over ? 'bg-wash' : ''} has-focus-visible:outline-[2.5px]`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        if (e.dataTransfer.files[0]) onFile(e.dataTransfer.files[0]);
      }}
    >
      <span className="phone:hidden">Another take: drop it here, or choose</span>
      <span className="hidden phone:inline">Another take</span>
      <kbd>N</kbd>
      <input
        type="file"
        accept="video/*,.mkv,.avi"
        data-file
        className="sr-only"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = '';
          if (file) onFile(file);
        }}
      />
    </label>
  );
}

const Care = () => (
  <p className="text-sm text-soft">
    Warm up before you film, and stop with pain or dizziness; what hurts belongs to a health professional. The
    clip stays on this machine.
  </p>
);
