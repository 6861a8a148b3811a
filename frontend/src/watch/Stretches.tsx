/** What a long clip holds, a line for each stretch: a click goes there, and takes it for the run if it is danced. */
import type { ClipView, Span, StretchView } from '../api/schema';
import { time } from '../ui/format';

const NAMES: Record<StretchView['kind'], string> = {
  run: 'danced through, with music',
  counted: 'danced to spoken counts',
  slow: 'danced slowly',
  talk: 'talk',
  other: 'somebody stands there',
  empty: 'nobody there',
};
const DANCED = ['run', 'counted', 'slow'];

type Props = { clip: ClipView; run: Span; onRun: (run: Span) => void; onSeek: (seconds: number) => void };

export function Stretches({ clip, run, onRun, onSeek }: Props) {
  if (!clip.long) return null;
  return (
    <ol className="mt-3 border-t border-hair bench:ml-[25px]" aria-label="what the clip holds">
      {clip.long.stretches.map((s) => {
        const danced = DANCED.includes(s.kind);
        const chosen = danced && s.from_s < run.to_s && run.from_s < s.to_s;
        return (
          <li key={s.from_s}>
            <button
              type="button"
              aria-pressed={chosen}
              onClick={() => (danced ? onRun({ from_s: s.from_s, to_s: s.to_s }) : onSeek(s.from_s))}
              className={`grid w-full cursor-pointer grid-cols-[52px_1fr_64px_72px] items-baseline gap-x-3 border-b border-hair px-2 py-[7px] text-left hover:bg-wash ${chosen ? 'bg-wash' : ''}`}
            >
              <span className="text-soft">{time(s.from_s, 0)}</span>
              <span className={danced ? 'font-[620]' : 'text-soft'}>{NAMES[s.kind]}</span>
              <span className="text-right text-soft">{time(s.to_s - s.from_s, 0)}</span>
              <span className="text-right text-sm text-soft">{Math.round(100 * s.certainty)}% sure</span>
            </button>
          </li>
        );
      })}
    </ol>
  );
}
