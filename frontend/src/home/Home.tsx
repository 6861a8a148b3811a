import { useCallback, useState } from 'react';
import { useNavigate } from 'react-router';
import { useForgetRoutine, useHome } from '../api/queries';
import type { RoutineCard, Uploaded } from '../api/schema';
import { useUpload } from '../api/useUpload';
import { Ask } from '../ui/Ask';
import { chooseFile, DropPlace } from '../ui/DropPlace';
import { useKeys } from '../ui/keys';
import { Page } from '../ui/Page';
import { Trouble, Waiting } from '../ui/Said';
import { Sending } from '../ui/Sending';
import { FirstSteps } from './FirstSteps';
import { Strip } from './Strip';

/** All routines, and what to do next with each. */
export function Home() {
  const home = useHome();
  const go = useNavigate();
  const forget = useForgetRoutine();
  const [leaving, setLeaving] = useState<RoutineCard | null>(null);
  const opened = useCallback((made: Uploaded) => go(`/routines/${made.routine}/${made.screen}`), [go]);
  const upload = useUpload(opened);
  useKeys({ n: chooseFile });
  const routines = home.data?.routines ?? [];
  const first = routines.find((r) => r.danced) ?? routines[0];
  return (
    <Page
      title="Juxtakine"
      context={home.data && !routines.length ? 'nothing here yet' : undefined}
      sentence={
        first ? (
          <>
            <b>{first.title}:</b> {first.said}.
          </>
        ) : home.data ? (
          <>
            <b>Begin with the instructor’s clip:</b> three steps, in this order.
          </>
        ) : (
          ''
        )
      }
      aside={
        routines.length ? `${routines.length} ${routines.length === 1 ? 'routine' : 'routines'}` : undefined
      }
      left={
        <>
          <p className="pb-1 text-[22px] leading-[1.3]">
            Juxtakine lays your dancing beside your instructor’s, <b>count by count</b>, and says which counts
            to drill.
          </p>
          <DropPlace
            title={
              routines.length
                ? 'Begin a new one: drop the instructor’s clip here'
                : 'Drop the instructor’s clip here'
            }
            note="the routine danced through, the whole body in shot; a whole tutorial will do"
            act="Choose the clip"
            main={!routines.length}
            onFile={(file) => upload.begin('/api/routines', file)}
          />
          <Sending upload={upload} />
          <p className="text-sm text-soft">
            {routines.length
              ? home.data?.stored
              : 'Clips stay on this machine; there is no account. To look round first, start it with make demo: it brings an example.'}{' '}
            Ask people before you film them, and before you keep their clip.
          </p>
        </>
      }
    >
      {home.error && <Trouble>{home.error.message}</Trouble>}
      {home.isPending && <Waiting>Looking them up.</Waiting>}
      {home.data && !routines.length && <FirstSteps />}
      {routines.length > 0 && (
        <p className="pb-4 text-[13px] text-soft bench:pl-[104px]">
          a cell is a row of the sheet; tallies: what it needs
        </p>
      )}
      {routines.map((r) => (
        <Strip key={r.id} card={r} main={r === first} onForget={() => setLeaving(r)} />
      ))}
      {leaving && (
        <Ask
          title={`Delete ${leaving.title}?`}
          act="Delete it for good"
          onAct={() => {
            forget.mutate(leaving.id);
            setLeaving(null);
          }}
          onClose={() => setLeaving(null)}
        >
          <p>Its clips, its sheet, its takes and all that was measured go. This can’t be undone.</p>
        </Ask>
      )}
    </Page>
  );
}
