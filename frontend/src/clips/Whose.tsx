/** Whose body is followed: clicked in the picture, mended by another click, asked for where nobody can say. */
import type { UseMutationResult } from '@tanstack/react-query';
import { useState } from 'react';
import type { Refusal } from '../api/client';
import type { ClipView, FollowClick, QuestionView } from '../api/schema';
import { many, time } from '../ui/format';
import { useKeys } from '../ui/keys';
import { Trouble } from '../ui/Said';
import type { Player } from './player';

type Props = {
  clip: ClipView;
  player: Player;
  picking: boolean;
  onPicking: (picking: boolean) => void;
  follow: UseMutationResult<unknown, Refusal, { clip: number; click: FollowClick | null }>;
};

export function Whose({ clip, player, picking, onPicking, follow }: Props) {
  const pick = () => {
    player.pause();
    onPicking(!picking);
  };
  useKeys({ f: pick });
  const { followed } = clip;
  // nobody of those shown: it stays open there, and the next meeting is asked about
  const [denied, setDenied] = useState<readonly string[]>([]);
  const question = followed?.questions.find((q) => !denied.includes(named(q)));
  return (
    <section aria-label="who is followed" className="flex flex-col gap-2 border-t border-hair pt-2.5">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <p className="min-w-0">
          {picking ? (
            <>
              <b>Click the middle of the body</b> to follow, where nobody else is near it; or move the mark
              with the arrows, and press Enter.
            </>
          ) : followed ? (
            <>
              <b>
                {followed.clicks > 0
                  ? 'The one you clicked is followed'
                  : 'Several are in shot. The one with the line under the feet is followed'}
              </b>
              {clip.measured && `, in ${Math.round(100 * followed.share)}% of the run`}
              {followed.clicks === 0 && (
                <span className="text-soft">. Should that be somebody else, click yours.</span>
              )}
            </>
          ) : (
            <>
              <b>The one with the line under the feet is followed.</b>{' '}
              <span className="text-soft">With several in shot, click yours.</span>
            </>
          )}
        </p>
        <span className="ml-auto flex gap-4">
          <button type="button" className="act" onClick={pick} aria-pressed={picking}>
            {picking ? 'leave it' : followed?.clicks ? 'click again' : 'follow one'}
            <kbd>F</kbd>
          </button>
          {followed && followed.clicks > 0 && !picking && (
            <button
              type="button"
              className="act"
              onClick={() => follow.mutate({ clip: clip.id, click: null })}
            >
              {followed.clicks > 1 ? 'take the last click back' : 'take the click back'}
            </button>
          )}
        </span>
      </div>
      {followed && clip.measured && followed.lost.length > 0 && (
        <p className="text-sm text-soft">
          Not followed {many(followed.lost.length, 'time')}:{' '}
          {followed.lost.slice(0, MOST).map((l, i) => (
            <span key={l.from_s}>
              {i > 0 && ', '}
              <button type="button" className="act" onClick={() => player.seek(l.to_s)}>
                {time(l.from_s, 1)} to {time(l.to_s, 1)}
              </button>
            </span>
          ))}
          {followed.lost.length > MOST && ' and more'}. A click there mends it.
        </p>
      )}
      {question && clip.measured && (
        <Asked
          clip={clip}
          question={question}
          onSay={(one) => follow.mutate({ clip: clip.id, click: one })}
          onNone={() => setDenied([...denied, named(question)])}
        />
      )}
      {follow.error && <Trouble>{follow.error.message}</Trouble>}
    </section>
  );
}

const named = (question: QuestionView) => `${question.at_s} ${question.before}`;
const MOST = 3;
const NUMBERS: Record<number, string> = { 2: 'two', 3: 'three', 4: 'four', 5: 'five', 6: 'six' };
/** Pixels of a picture that asks. */
const TALL = 132;
const WIDE = 96;

type AskedProps = {
  clip: ClipView;
  question: QuestionView;
  onSay: (one: FollowClick) => void;
  onNone: () => void;
};

/** Two met, and their looks do not tell who came out of it as whom: this one or that one? */
function Asked({ clip, question, onSay, onNone }: AskedProps) {
  const shown = (TALL * clip.width) / clip.height;
  const { people, before } = question;
  const alone = people.length === 1;
  const which = before ? 'Which one was yours before?' : 'Which one goes on?';
  return (
    <div>
      <p>
        <b>
          At {time(question.at_s, 1)}{' '}
          {alone
            ? before
              ? 'somebody was lost.'
              : 'somebody is there again.'
            : `${NUMBERS[people.length]} were near each other.`}
        </b>{' '}
        {alone ? 'Is this the one?' : which}
      </p>
      <div className="flex flex-wrap gap-3 pt-1.5">
        {people.map((one, i) => (
          <button
            key={`${one.x} ${one.y}`}
            type="button"
            className="group cursor-pointer text-left"
            onClick={() => onSay(one)}
          >
            <span
              className="relative block overflow-hidden rounded-[2px] border-2 border-hair group-hover:border-ink"
              style={{ width: WIDE, height: TALL }}
            >
              <img
                src={`/api/clips/${clip.id}/picture?at=${one.at_s.toFixed(3)}&tall=${2 * TALL}`}
                alt=""
                className="absolute top-0 h-full max-w-none"
                style={{ width: shown, left: WIDE / 2 - one.x * shown }}
              />
            </span>
            <span className="act">{alone ? 'yes, this one' : i ? 'that one' : 'this one'}</span>
          </button>
        ))}
        <button type="button" className="act self-end" onClick={onNone}>
          {alone ? 'no' : 'none of them'}
        </button>
      </div>
    </div>
  );
}
