/** Compare: how a take was danced, count by count, beside both clips at the chosen count. */
import { useCallback, useEffect, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { isLive, useClipActs, useJob } from '../api/queries';
import type { RoutineView, Uploaded } from '../api/schema';
import { useUpload } from '../api/useUpload';
import { ByHand } from '../clips/ByHand';
import { secondsOf } from '../clips/line';
import { Remark } from '../clips/Remark';
import { usePlayer } from '../clips/usePlayer';
import { type Chosen, find } from '../sheet/choosing';
import { Scale } from '../sheet/marks';
import { Sheet } from '../sheet/Sheet';
import { useChosen, useSheetKeys } from '../sheet/useChosen';
import { useSounding } from '../sheet/useSounding';
import { TakeMenu } from '../takes/TakeMenu';
import { firstToSee, useTake } from '../takes/useTake';
import { chooseFile, DropPlace } from '../ui/DropPlace';
import { useKeys } from '../ui/keys';
import { Page, type Tab } from '../ui/Page';
import { Trouble } from '../ui/Said';
import { Sending } from '../ui/Sending';
import { Beside } from './Beside';
import { Follow } from './Follow';
import { afterIn, Looking, type Shown } from './Looking';
import { resultLayer, waitingLayer } from './layer';
import { More } from './More';
import { Meanwhile, NotYet } from './NotYet';

type Props = { routine: RoutineView; tabs: readonly Tab[] };

export function Compare({ routine, tabs }: Props) {
  const player = usePlayer();
  const { take, result, measured, lines, setTake, error } = useTake(routine);
  const [inAddress, setChosen] = useChosen();
  const [placing, setPlacing] = useState(false);
  const [following, setFollowing] = useState(false);
  const [shown, setShown] = useState<Shown>('judged');
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
  const words = measured?.outcome.counts;
  const stand = useCallback(
    (count: number) => {
      const moment = words?.find((c) => c.at === count)?.moment;
      if (lines) player.seek(secondsOf(lines.lead, count), afterIn(shown, moment));
    },
    [words, lines, player, shown],
  );
  const choose = useCallback(
    (next: Chosen) => {
      // at once, and not only when the page has been drawn anew
      const cell = find(rows, next)?.cell;
      if (cell) stand(cell.at);
      setChosen(next);
    },
    [rows, stand, setChosen],
  );
  // the clips stand at the chosen count, also when it came with the address
  useEffect(() => {
    player.lock(lines);
    if (at !== undefined) stand(at);
  }, [player, lines, at, stand]);
  const add = (file: File) => upload.begin(`/api/routines/${routine.id}/takes`, file);
  const drilled = measured?.outcome.drills.some((d) => d.phrase === place?.row.number) ?? false;
  const redrill = () =>
    place && drilled
      ? go(
          `/routines/${routine.id}/redrill?take=${take?.number}&row=${place.row.number}&count=${encodeURIComponent(place.cell.label)}`,
        )
      : false;
  useSheetKeys(rows, chosen, choose);
  useKeys({ n: chooseFile, r: redrill, f: () => !following && take && setFollowing(true) });
  const live = job && isLive(job) ? job : null;
  const layer = measured ? resultLayer(measured) : waitingLayer(() => (live ? '' : 'not measured'));
  return (
    <Page
      title={routine.title}
      tabs={tabs}
      card={!!measured && !placing && !following}
      context={take && <TakeMenu takes={routine.takes} take={take} onTake={setTake} />}
      left={
        take ? (
          <>
            {following ? (
              <Follow {...{ take, acts }} onClose={() => setFollowing(false)} />
            ) : placing ? (
              <ByHand
                clip={take}
                whose="me"
                label={`you, take ${take.number}`}
                onPlace={(first) => {
                  acts.place.mutate({ clip: take.id, at: first });
                  setPlacing(false);
                }}
                onClose={() => setPlacing(false)}
              />
            ) : (
              <Looking
                {...{ take, player, place, redrill, drilled, lines, shown }}
                onShown={setShown}
                reference={result?.reference ?? routine.reference}
                outcome={result?.outcome ?? null}
                words={words?.find((c) => c.at === at)}
              />
            )}
            {(error || acts.place.error) && <Trouble>{(error ?? acts.place.error)?.message}</Trouble>}
            <Remark clip={take} />
            {!measured && result && (
              <NotYet
                {...{ live, take, job }}
                waiting={result.waiting}
                acts={acts}
                onPlace={() => setPlacing(true)}
              />
            )}
            {result && !placing && <Beside {...{ routine, result, acts }} />}
            <Sending upload={upload} />
            <More
              {...{ routine, take, acts }}
              measured={!!measured}
              onAdd={add}
              onPlace={() => setPlacing(true)}
              onFollow={() => setFollowing(true)}
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

const Care = () => (
  <p className="text-sm text-soft">
    Warm up before you film, and stop with pain or dizziness; what hurts belongs to a health professional. The
    clip stays on this machine.
  </p>
);
