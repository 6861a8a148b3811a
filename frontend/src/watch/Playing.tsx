/** How one of the instructor's clips is played: where it goes round, how fast, turned over, and with which sound. */
import { useCallback, useEffect, useMemo } from 'react';
import type { ClipView, RoutineView, Span } from '../api/schema';
import type { Line } from '../clips/line';
import type { Player, Sound } from '../clips/player';
import { useSeen } from '../clips/usePlayer';
import { Choices } from '../ui/Choices';
import { time } from '../ui/format';

const PERCENTS = [25, 50, 75, 100].map((value) => ({ value, text: `${value} %` }));
const TURNED = [
  { value: false, text: 'as filmed' },
  { value: true, text: 'as in a mirror' },
] as const;

/** Playing begins there and goes round in it; stopped, the clip may be looked at anywhere. */
export function usePlayed(player: Player, { from_s, to_s }: Span) {
  useEffect(() => {
    player.setLoop({ from: from_s, to: to_s });
    if (!player.playing && (player.seconds < from_s || player.seconds > to_s)) player.seek(from_s);
  }, [player, from_s, to_s]);
}

export function Now({ player }: { player: Player }) {
  const seconds = useSeen(player, (p) => Math.round(p.seconds * 10) / 10);
  return <b className="ml-auto">{time(seconds, 1)}</b>;
}

type PlayingProps = {
  player: Player;
  clip: ClipView;
  /** Whether the routine's music comes from another clip. */
  music: boolean;
  turned: boolean;
  onTurn: (turned: boolean) => void;
};

export function Playing({ player, clip, music, turned, onTurn }: PlayingProps) {
  const percent = useSeen(player, (p) => p.percent);
  const sound = useSeen(player, (p) => p.sound);
  const sounds: { value: Sound; text: string }[] = [
    ...(clip.has_sound ? ([{ value: 'lead', text: music ? 'its own' : 'on' }] as const) : []),
    ...(music ? ([{ value: 'follow', text: 'the music' }] as const) : []),
    { value: 'none', text: 'off' },
  ];
  const silent = music && !clip.has_sound;
  useEffect(() => {
    if (silent) player.setSound('follow');
  }, [player, silent]);
  return (
    <div className="flex flex-wrap gap-x-6 gap-y-2">
      <Choices label="at" value={percent} options={PERCENTS} onChange={(v) => player.setPercent(v)} />
      <Choices label="picture" value={turned} options={TURNED} onChange={onTurn} />
      {sounds.length > 1 && (
        <Choices label="sound" value={sound} options={sounds} onChange={(v) => player.setSound(v)} />
      )}
    </div>
  );
}

/** The routine's music, kept at the same count as the clip that is seen. */
export function Music({ player, clip }: { player: Player; clip: number | null }) {
  const attach = useCallback((video: HTMLVideoElement | null) => player.attach('follow', video), [player]);
  return (
    // biome-ignore lint/a11y/useMediaCaption: music alone
    <video
      ref={attach}
      src={`/api/clips/${clip}/play`}
      className="hidden"
      preload="auto"
      aria-label="the music"
    />
  );
}

/** The counts in the clip that is seen and in the one with the music, where these are two. */
export function useMusic(routine: RoutineView, clip: ClipView, line: Line | undefined) {
  const { music } = routine;
  const counts =
    music === routine.reference?.id
      ? routine.grid?.counts_s
      : routine.others.find((o) => o.clip.id === music)?.counts_s;
  return useMemo(
    () =>
      line && counts && music !== clip.id
        ? { lead: line, follow: counts.map((seconds, at) => ({ at, seconds })) }
        : null,
    [line, counts, music, clip.id],
  );
}
