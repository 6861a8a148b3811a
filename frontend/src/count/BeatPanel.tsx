/** Where the counts lie in the clip: by its beat, tapped along, or by hand; anchors anywhere, straight lines between. */
import { useState } from 'react';
import type { useEdits } from '../api/edits';
import { useBeats } from '../api/queries';
import type { BeatsView, GridChange, RoutineView } from '../api/schema';
import type { Player } from '../clips/player';
import { useSeen } from '../clips/usePlayer';
import type { Place } from '../sheet/choosing';
import { Choices } from '../ui/Choices';
import { time } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Trouble } from '../ui/Said';
import type { Save } from './typing';

const PACES = [
  { value: 0, text: 'as found' },
  { value: 1, text: 'half as fast' },
  { value: 2, text: 'twice as fast' },
];

type Props = {
  routine: RoutineView;
  save: Save;
  player: Player;
  edits: ReturnType<typeof useEdits>;
  chosen: Place | null;
  first: number | null;
  onFirst: (seconds: number) => void;
  onPlace: (change: GridChange) => void;
};

export function BeatPanel({ routine, save, player, edits, chosen, first, onFirst, onPlace }: Props) {
  const heard = useBeats(routine.id, routine.reference).data;
  const [pace, setPace] = useState(0);
  const found = heard?.paces[pace];
  const failed = edits.grid.error ?? edits.anchor.error ?? edits.beats.error ?? edits.taps.error;
  return (
    <>
      {failed && <Trouble>{failed.message} The grid before it is kept.</Trouble>}
      {heard?.waiting && <p className="text-sm text-soft">{heard.waiting}</p>}
      {!heard && routine.reference?.playable && (
        <p role="status" className="text-sm text-soft">
          The beat is being looked for.
        </p>
      )}
      {found && (
        <>
          <p className="text-sm">
            <b>The beat:</b> {found.said}
          </p>
          <Choices label="counted" value={pace} options={PACES} onChange={setPace} />
          <Ones {...{ found, pace, player, edits, first }} />
        </>
      )}
      <Tapping {...{ player, edits }} />
      <ByHand {...{ routine, save, player, edits, chosen, first, onFirst, onPlace }} />
    </>
  );
}

type OnesProps = {
  found: BeatsView;
  pace: number;
  player: Player;
  edits: ReturnType<typeof useEdits>;
  first: number | null;
};

const SAME_S = 0.06;

/** Where the first 1 may be, likeliest first. */
function Ones({ found, pace, player, edits, first }: OnesProps) {
  return (
    <ul aria-label="where the first 1 may be" className="flex flex-col gap-1 text-sm">
      {found.ones.map((one, i) => {
        const taken = first !== null && Math.abs(first - one.seconds) < SAME_S;
        return (
          <li key={one.seconds} className="flex items-baseline gap-2">
            <span className={`min-w-0 flex-1 ${i ? 'text-soft' : ''}`}>
              <button type="button" className="act" onClick={() => player.seek(one.seconds)}>
                <b>1 at {time(one.seconds, 1)}</b>
              </button>{' '}
              {Math.round(100 * one.certainty)} % sure{one.said && `: ${one.said}`}
            </span>
            {taken ? (
              <b>taken</b>
            ) : (
              <button
                type="button"
                className="act"
                onClick={() => edits.beats.mutate({ pace, first_s: one.seconds })}
              >
                take this
              </button>
            )}
          </li>
        );
      })}
    </ul>
  );
}

/** One tap a count while the clip plays; a line through them places the counts. */
function Tapping({ player, edits }: { player: Player; edits: ReturnType<typeof useEdits> }) {
  const [taps, setTaps] = useState<readonly number[] | null>(null);
  const tap = () => {
    if (!taps) {
      setTaps([]);
      if (!player.playing) player.toggle();
    } else setTaps([...taps, player.exactly]);
  };
  const use = () => {
    if (!taps || taps.length < 2) return false;
    if (player.playing) player.toggle();
    edits.taps.mutate({ seconds: [...taps], first: 0 });
    setTaps(null);
  };
  useKeys({ t: tap, Enter: () => (taps ? use() : false) });
  return (
    <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1 border-t border-hair pt-2 text-sm">
      <button type="button" className={taps ? 'main' : 'act'} onClick={tap}>
        {taps ? 'tap' : 'tap along'}
        <kbd>T</kbd>
      </button>
      {taps ? (
        <>
          <span role="status">
            {taps.length
              ? `${taps.length} counts tapped`
              : 'The clip plays: tap each count, from the first 1 on'}
          </span>
          <button type="button" className="act" disabled={taps.length < 2} onClick={use}>
            use them<kbd>Enter</kbd>
          </button>
          <button type="button" className="act" onClick={() => setTaps(null)}>
            forget them
          </button>
        </>
      ) : (
        <span className="text-soft">
          {edits.taps.data?.said ?? 'from the first 1 on, a tap for each count while the clip plays'}
        </span>
      )}
    </div>
  );
}

function ByHand({ routine, save, player, edits, chosen, first, onFirst, onPlace }: Props) {
  const [number, setNumber] = useState('9');
  const [typed, setTyped] = useState<string | null>(null);
  const posts = routine.grid?.posts ?? [];
  const here = () => onFirst(player.seconds);
  const there = () =>
    first !== null && onPlace({ first_s: first, count: Number(number), count_s: player.seconds });
  const anchor = () =>
    chosen && routine.grid ? edits.anchor.mutate({ at: chosen.cell.at, seconds: player.seconds }) : false;
  const tempo = () => {
    if (first !== null && typed) onPlace({ first_s: first, bpm: Number(typed) });
    setTyped(null);
  };
  const one = () => {
    if (!chosen) return false;
    const { at } = chosen.cell;
    save((s) => ({ ...s, ones: heard ? (s.ones ?? []).filter((o) => o !== at) : [...(s.ones ?? []), at] }));
  };
  const heard = !!chosen && (routine.sheet.ones ?? []).includes(chosen.cell.at);
  useKeys({ h: here, g: there, b: anchor, m: one });
  return (
    <div className="grid grid-cols-[1fr_auto] items-baseline gap-x-3 gap-y-2 border-t border-hair pt-2 text-sm">
      <First seconds={first} player={player} />
      <button type="button" className="act" onClick={here}>
        1 is here<kbd>H</kbd>
      </button>
      <label className="flex items-baseline gap-2">
        <b>Count</b>
        <input
          className="w-14 py-0.5 text-center"
          inputMode="numeric"
          value={number}
          onChange={(e) => setNumber(e.target.value)}
          aria-label="a later count"
        />
        <span className="text-soft">is at the frame shown</span>
      </label>
      <button
        type="button"
        className="act"
        disabled={first === null || !(Number(number) >= 2)}
        onClick={there}
      >
        this is count {number || '…'}
        <kbd>G</kbd>
      </button>
      <label className="flex items-baseline gap-2">
        <b>Tempo</b>
        <input
          className="w-20 py-0.5 text-center"
          inputMode="decimal"
          aria-label="counts a minute"
          value={typed ?? routine.grid?.bpm ?? ''}
          onChange={(e) => setTyped(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && tempo()}
        />
        <span className="text-soft">counts a minute</span>
      </label>
      <button type="button" className="act" disabled={first === null || !typed} onClick={tempo}>
        use this tempo
      </button>
      <span>
        {chosen ? (
          <>
            <b>{chosen.cell.label}</b>
            <span className="text-soft">
              {' '}
              of {chosen.row.name || `row ${chosen.row.number}`} is at the frame shown
            </span>
          </>
        ) : (
          <span className="text-soft">a count that is chosen can be put on the frame shown</span>
        )}
      </span>
      <button type="button" className="act" disabled={!chosen || !routine.grid} onClick={anchor}>
        it is here<kbd>B</kbd>
      </button>
      <span className="text-soft">
        {heard
          ? 'a 1 of the music’s own eights is heard there'
          : 'the music’s own eights may begin elsewhere than the sheet’s'}
      </span>
      <button type="button" className="act" disabled={!chosen} onClick={one}>
        {heard ? 'no 1 of the music' : 'a 1 of the music'}
        <kbd>M</kbd>
      </button>
      {posts.length > 2 && (
        <div className="col-span-2 flex flex-wrap gap-x-3 gap-y-1">
          <span className="text-soft">Anchored, straight between:</span>
          {posts.map((p) => (
            <button
              key={p.at}
              type="button"
              className="act"
              aria-label={`loosen ${p.label}`}
              title="loosen it"
              onClick={() => edits.anchor.mutate({ at: p.at, seconds: null })}
            >
              {p.label} ×
            </button>
          ))}
        </div>
      )}
    </div>
  );
}

function First({ seconds, player }: { seconds: number | null; player: Player }) {
  const now = useSeen(player, (p) => Math.round(p.seconds * 50) / 50);
  if (seconds === null) return <span>Stop at the frame of the first 1</span>;
  return (
    <span>
      <b>Count 1</b> is at {time(seconds)}
      <span className="text-soft"> (shown: {time(now)})</span>
    </span>
  );
}
