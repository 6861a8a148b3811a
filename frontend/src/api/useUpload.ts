import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useRef, useState } from 'react';
import type { Uploaded } from './schema';
import { type Sending, send } from './upload';

/** `file`: the clip on its way, `share` of which is there; `error`: why the last one that was refused was. */
type State = { file: string | null; share: number; error: string | null };
export type Upload = State & { begin: (to: string, file: File) => void; stop: () => void };

const NOTHING: State = { file: null, share: 0, error: null };

/** Clips being sent, one after the other; leaving the page would break them off, so the browser asks first. */
export function useUpload(done?: (made: Uploaded) => void): Upload {
  const queries = useQueryClient();
  const [state, setState] = useState(NOTHING);
  const waiting = useRef(0);
  const last = useRef(Promise.resolve());
  const sending = useRef<Sending | null>(null);
  const begin = useCallback(
    (to: string, file: File) => {
      const ask = (event: BeforeUnloadEvent) => event.preventDefault();
      window.addEventListener('beforeunload', ask);
      // what is said of one clip stays while those chosen before its answer came are sent
      if (waiting.current++ === 0) setState(NOTHING);
      last.current = last.current
        .then(() => {
          setState(({ error }) => ({ file: file.name, share: 0, error }));
          sending.current = send(to, file, (share) => setState((now) => ({ ...now, share })));
          return sending.current.answer;
        })
        .then(
          (made) => {
            queries.invalidateQueries();
            setState(({ error }) => ({ ...NOTHING, error }));
            done?.(made);
          },
          (refused: Error) => setState({ ...NOTHING, error: refused.message }),
        )
        .finally(() => {
          waiting.current--;
          window.removeEventListener('beforeunload', ask);
        });
    },
    [done, queries],
  );
  return { ...state, begin, stop: () => sending.current?.stop() };
}
