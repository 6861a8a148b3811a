/** Both people at the chosen count, what it shows, and how they are played. */
import { type ReactNode, useEffect, useState } from 'react';
import type { ClipView, CountWords, MomentForm, Outcome } from '../api/schema';
import { secondsOf } from '../clips/line';
import type { Player } from '../clips/player';
import { useSeen } from '../clips/usePlayer';
import type { Place } from '../sheet/choosing';
import { Pair, PlayAct, SoundOf, Tempo } from '../takes/Pair';
import type { useTake } from '../takes/useTake';
import { Choices } from '../ui/Choices';
import { useKeys } from '../ui/keys';
import { Evidence } from './Evidence';

type Lines = NonNullable<ReturnType<typeof useTake>['lines']>;
type LookingProps = {
  reference: ClipView | null;
  take: ClipView;
  outcome: Outcome | null;
  player: Player;
  place: Place | null;
  lines: Lines | null;
  words: CountWords | undefined;
  shown: Shown;
  onShown: (shown: Shown) => void;
  redrill: () => unknown;
  drilled: boolean;
};

export function Looking({
  reference,
  take,
  outcome,
  player,
  place,
  words,
  lines,
  shown,
  onShown,
  redrill,
  drilled,
}: LookingProps) {
  const moment = words?.moment;
  const judged = useSeen(player, (p) => !p.playing && !!moment && p.after === moment.after_s);
  const stands = useSeen(player, (p) => !p.playing && !!place && !!lines && at(p, lines, place));
  return (
    <div className="flex flex-col gap-[11px] phone:grid phone:grid-cols-[150px_minmax(0,1fr)] phone:gap-x-3 phone:gap-y-2">
      <Pair
        {...{ reference, take, outcome, player }}
        marks={stands && judged ? words?.marks : null}
        moment={judged ? moment?.words : ''}
        className="h-[286px] phone:h-[104px]"
      />
      <div className="phone:max-h-[136px] phone:overflow-auto">
        {place && (
          <div className="flex items-baseline gap-3 whitespace-nowrap bench:pb-[11px]">
            <b className="text-[44px] leading-none phone:text-[30px]">{place.cell.label}</b>
            <span className="truncate text-soft">{place.row.name || `row ${place.row.number}`}</span>
            {judged && moment?.words && (
              <span className="ml-auto hidden text-sm text-soft phone:inline">{moment.words}</span>
            )}
            <span className="ml-auto phone:hidden">{lines && <PlayAct player={player} />}</span>
          </div>
        )}
        <div className="phone:hidden">
          {lines && (
            <Transport {...{ player, place, lines }}>
              {moment?.words && <Moment {...{ moment, shown, onShown }} />}
            </Transport>
          )}
        </div>
        <div className="bench:mt-3 bench:border-t bench:border-hair bench:pt-2.5">
          {lines && <Evidence words={words} />}
        </div>
      </div>
      {lines && (
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

/** Seconds of the clip within which it stands at a count: less than a frame. */
const THERE_S = 0.005;

const at = (player: Player, lines: Lines, place: Place) =>
  Math.abs(player.seconds - secondsOf(lines.lead, place.cell.at)) < THERE_S;

/** Where the student is shown: where the count is, or at the moment at which a part that is off was judged. */
export type Shown = 'count' | 'judged';

/** Seconds after the count at which the student is shown; which of the two is only asked where one sees it. */
export const afterIn = (shown: Shown, moment: MomentForm | undefined) =>
  !moment || (shown === 'count' && moment.words) ? 0 : moment.after_s;

type MomentProps = { moment: MomentForm; shown: Shown; onShown: (shown: Shown) => void };

function Moment({ moment, shown, onShown }: MomentProps) {
  useKeys({ a: () => onShown(shown === 'count' ? 'judged' : 'count') });
  const options = [
    { value: 'count', text: 'at the count' },
    { value: 'judged', text: `${moment.words}, where it is judged` },
  ] as const;
  return <Choices label="you" value={shown} options={options} onChange={onShown} />;
}

type Span = 'none' | 'count' | 'row';
const SPANS = [
  { value: 'none', text: 'nothing' },
  { value: 'count', text: 'this count' },
  { value: 'row', text: 'this row' },
] as const;

type TransportProps = { player: Player; place: Place | null; lines: Lines; children: ReactNode };

function Transport({ player, place, lines, children }: TransportProps) {
  const [span, setSpan] = useState<Span>('none');
  useKeys({ l: () => setSpan(span === 'row' ? 'none' : 'row') });
  const [from, to] = place ? ends(place, span) : [];
  useEffect(() => {
    const loop = from !== undefined && to !== undefined;
    player.setLoop(loop ? { from: secondsOf(lines.lead, from), to: secondsOf(lines.lead, to) } : null);
    return () => player.setLoop(null);
  }, [player, lines, from, to]);
  return (
    <div className="flex flex-wrap gap-x-5 gap-y-2">
      <Tempo player={player} />
      <Choices label="loop" value={span} options={SPANS} onChange={setSpan} />
      <SoundOf player={player} />
      {children}
    </div>
  );
}

/** Counts of the routine between which it loops. */
function ends({ row, cell }: Place, span: Span): [number, number] | [] {
  if (span === 'none') return [];
  return span === 'row' ? [row.start, row.start + row.counts] : [cell.at, cell.at + cell.width];
}
